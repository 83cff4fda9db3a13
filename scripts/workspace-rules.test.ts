import { ESLint } from 'eslint'
import tseslint from 'typescript-eslint'
import { describe, expect, it } from 'vitest'

/** The rule that holds the workspaces apart must really refuse; else it could be lost without anybody noticing. */
describe('import rules', () => {
  // Without types: with CI set, the typed parser reads the file on disk instead of the text it is given.
  const eslint = new ESLint({ overrideConfig: tseslint.configs.disableTypeChecked })
  const faults = async (file: string, code: string) => {
    const [result] = await eslint.lintText(code, { filePath: file })
    return result!.messages
      .filter(({ ruleId }) => ruleId === 'no-restricted-imports')
      .map(({ message }) => message)
  }
  it.each([
    ['server/src/main.ts', "import '../../demo/src/truth.ts'"],
    ['web/src/main.tsx', "import '../../demo/src/simulator/behaviour.ts'"],
    ['web/src/main.tsx', "import '../../server/src/app.ts'"],
    ['core/src/index.ts', "import '@dust-trail/api'"],
    ['capture/src/index.ts', "import '@dust-trail/replay'"],
    ['replay/src/index.ts', "import '../../server/src/app.ts'"],
  ])('%s may not say %s', async (file, code) => {
    expect(await faults(file, code)).toHaveLength(1)
  })
  it('lets through what runs the right way', async () => {
    expect(await faults('server/src/main.ts', "import '@dust-trail/core'")).toEqual([])
    expect(await faults('web/src/main.tsx', "import '@dust-trail/replay'")).toEqual([])
  })
}, 60_000)
