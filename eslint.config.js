import js from '@eslint/js'
import accessibility from 'eslint-plugin-jsx-a11y-x'
import hooks from 'eslint-plugin-react-hooks'
import globals from 'globals'
import tseslint from 'typescript-eslint'

/** What each workspace may import of the others. Imports run one way; nobody reaches the demo's truth. */
const MAY_IMPORT = {
  core: [],
  api: ['core'],
  capture: ['core'],
  replay: ['core'],
  server: ['core', 'api'],
  web: ['core', 'api', 'replay'],
  demo: ['core', 'capture', 'server'],
}
const ALL = ['core', 'api', 'capture', 'replay', 'server', 'web', 'demo', 'e2e', 'bench']

const importRules = Object.entries(MAY_IMPORT).map(([workspace, allowed]) => ({
  files: [`${workspace}/src/**/*.{ts,tsx}`],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: ALL.filter((other) => other !== workspace && !allowed.includes(other)).map((other) => ({
          group: [`@dust-trail/${other}`, `@dust-trail/${other}/*`, `**/${other}/src/**`],
          message: `${workspace} must not import from ${other}: see eslint.config.js.`,
        })),
      },
    ],
  },
}))

export default tseslint.config(
  {
    ignores: [
      '**/dist/**',
      '**/node_modules/**',
      '.data/**',
      'test-results/**',
      'playwright-report/**',
      '**/*.d.ts',
    ],
  },
  js.configs.recommended,
  {
    files: ['**/*.{ts,tsx}'],
    extends: [tseslint.configs.recommendedTypeChecked],
    languageOptions: { parserOptions: { project: './tsconfig.json', tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/no-misused-promises': [
        'error',
        { checksVoidReturn: { attributes: false, arguments: false } },
      ],
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/unbound-method': 'off',
    },
  },
  {
    files: ['web/src/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
  { files: ['web/src/**/*.tsx'], ...accessibility.configs.recommended },
  // A longer component holds several ideas.
  {
    files: ['web/src/**/*.tsx'],
    ignores: ['**/*.test.tsx'],
    rules: { 'max-lines-per-function': ['error', 200] },
  },
  {
    files: ['web/src/**/*.tsx'],
    rules: {
      // A dialog or menu that opens puts the focus where one types next.
      'jsx-a11y-x/no-autofocus': 'off',
      // What scrolls must be reached by keyboard, whatever it is.
      'jsx-a11y-x/no-noninteractive-tabindex': 'off',
    },
  },
  { files: ['**/*.{js,mjs}'], languageOptions: { globals: { ...globals.node, ...globals.browser } } },
  {
    files: ['core/src/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-globals': [
        'error',
        'window',
        'document',
        'process',
        'fetch',
        'localStorage',
        'setTimeout',
      ],
      'no-restricted-properties': [
        'error',
        { object: 'Math', property: 'random', message: 'core is deterministic: pass randomness in.' },
        { object: 'Date', property: 'now', message: 'core has no clock: pass the time in.' },
      ],
    },
  },
  ...importRules,
)
