import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { dirname, join, relative } from 'node:path'
import type { IFlattenedRuleSet } from 'dependency-cruiser'
import { cruise } from 'dependency-cruiser'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
// @ts-expect-error a configuration without types
import config, { rulesFor } from '../.dependency-cruiser.mjs'

type Rules = IFlattenedRuleSet['forbidden']
interface Config {
  forbidden: Rules
  options: object
}

/** What the rules find wrong below some folders: "rule: from -> to"; and how many files were looked at. */
async function violations(folders: string[], forbidden: Rules) {
  const { options } = config as Config
  const { output } = await cruise(folders, { ...options, validate: true, ruleSet: { forbidden } })
  if (typeof output === 'string') throw new Error(output)
  return {
    files: output.modules.length,
    found: output.summary.violations.map(({ rule, from, to }) => `${rule.name}: ${from} -> ${to}`),
  }
}

describe('the rules for imports', () => {
  let root: string
  beforeAll(() => {
    root = relative('.', mkdtempSync(join('.', 'test-imports-')))
    const files = {
      'stats/rate.ts': "import type { Block } from '../columns/block.ts'\nexport type Rate = Block",
      'columns/block.ts': 'export type Block = number',
      'labels/a.ts': "import type { B } from './b.ts'\nexport type A = B | 1",
      'labels/b.ts': "import type { A } from './a.ts'\nexport type B = A | 2",
      'questions/one/one.ts': "import { two } from '../two/two.ts'\nexport const one = two",
      'questions/two/two.ts': "import type { Rate } from '../../stats/rate.ts'\nexport const two: Rate = 2",
    }
    for (const [file, text] of Object.entries(files)) {
      const path = join(root, 'core/src', file)
      mkdirSync(dirname(path), { recursive: true })
      writeFileSync(path, text)
    }
  })
  afterAll(() => rmSync(root, { recursive: true, force: true }))

  it('find made-up offenders, types included, and nothing else', async () => {
    const rules = (rulesFor as (root: string) => Rules)(`${root}/`)
    const at = (file: string) => `${root}/core/src/${file}`
    const { files, found } = await violations([root], rules)
    expect(files).toBe(6)
    expect(found.toSorted()).toEqual(
      [
        `no-circle: ${at('labels/a.ts')} -> ${at('labels/b.ts')}`,
        `no-import-upwards: ${at('stats/rate.ts')} -> ${at('columns/block.ts')}`,
        `no-question-imports-another: ${at('questions/one/one.ts')} -> ${at('questions/two/two.ts')}`,
      ].toSorted(),
    )
  })
  it('look at the whole of core', async () => {
    expect((await violations(['core/src'], (config as Config).forbidden)).files).toBeGreaterThan(100)
  })
})
