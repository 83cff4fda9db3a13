/**
 * What may import what. Type imports count as well.
 *
 * In core each folder stands on those before it in this list and on nothing after it; no question imports another; nowhere
 * do files import one another in a circle. How workspaces may import each other: eslint.config.js.
 */
export const FLOORS = [
  'stats',
  'events',
  'columns',
  'labels',
  'signals',
  'select',
  'recording',
  'import',
  'questions',
]

const TESTS = String.raw`\.test\.tsx?$|/testing/|/test-[^/]*\.tsx?$`

/** @param root  below which core lies; another one for the test of these rules */
export function rulesFor(root) {
  return [
    {
      name: 'no-circle',
      comment: 'Files must not import one another in a circle: move what both need into a file of its own.',
      severity: 'error',
      from: {},
      to: { circular: true },
    },
    ...FLOORS.slice(0, -1).map((floor, i) => ({
      name: 'no-import-upwards',
      comment: `core/src/${floor} must not import from ${FLOORS.slice(i + 1).join(', ')}, which stand on it.`,
      severity: 'error',
      from: { path: `^${root}core/src/${floor}/`, pathNot: TESTS },
      to: { path: `^${root}core/src/(${FLOORS.slice(i + 1).join('|')})/` },
    })),
    {
      name: 'no-question-imports-another',
      comment: 'What two questions need belongs to a floor below them.',
      severity: 'error',
      from: { path: `^${root}core/src/questions/([^/]+)/`, pathNot: TESTS },
      to: {
        path: `^${root}core/src/questions/`,
        pathNot: [`^${root}core/src/questions/$1/`, `^${root}core/src/questions/question\\.ts$`],
      },
    },
  ]
}

export default {
  forbidden: rulesFor(''),
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)(dist|node_modules|test-results)/' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'types', 'default'] },
  },
}
