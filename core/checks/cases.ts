import { readFileSync } from 'node:fs'

/** One published or hand-worked case; the files in core/checks name the source of each. */
export interface Case<Inputs, Expected> {
  id: string
  kind: string
  source: string
  inputs: Inputs
  expected: Expected
  tolerance: { kind: 'exact' } | { kind: 'absolute'; value: number }
}

/** The cases of one kind. @throws where there is none: a test without cases would prove nothing */
export function casesOf<Inputs, Expected>(file: string, kind: string): Case<Inputs, Expected>[] {
  const path = new URL(`./${file}.json`, import.meta.url)
  const { cases } = JSON.parse(readFileSync(path, 'utf8')) as { cases: Case<Inputs, Expected>[] }
  const found = cases.filter((one) => one.kind === kind)
  if (!found.length) throw new Error(`core/checks/${file}.json has no case of kind ${kind}`)
  return found
}
