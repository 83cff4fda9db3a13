/** npm run bench            lists the benchmarks
 *  npm run bench -- NAME    runs one [--json FILE] */
import { readdirSync } from 'node:fs'
import type { Report } from './report.ts'
import { publish } from './report.ts'

interface Benchmark {
  about: string
  run: () => Promise<Report>
}

const names = readdirSync('bench')
  .filter(
    (file) => file.endsWith('.ts') && !['main.ts', 'peers.ts', 'report.ts', 'scripts.ts'].includes(file),
  )
  .map((file) => file.replace('.ts', ''))
  .sort()
const load = (name: string) => import(`./${name}.ts`) as Promise<Benchmark>

const [name, ...options] = process.argv.slice(2)
const jsonAt = options.indexOf('--json')
if (name === undefined) {
  console.log('Benchmarks (npm run bench -- NAME [--json FILE]):\n')
  for (const each of names) console.log(`  ${each.padEnd(12)} ${(await load(each)).about}`)
} else if (!names.includes(name)) {
  console.error(`There is no benchmark "${name}". There are: ${names.join(', ')}.`)
  process.exitCode = 2
} else if (jsonAt !== -1 && !options[jsonAt + 1]) {
  console.error('--json needs the name of a file.')
  process.exitCode = 2
} else {
  const { run } = await load(name)
  publish(await run(), jsonAt === -1 ? undefined : options[jsonAt + 1])
}
