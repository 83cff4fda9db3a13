import { mkdirSync, writeFileSync } from 'node:fs'
import { build } from 'esbuild'
import { installPeers, PEERS } from '../peers.ts'

/** One script and one sheet of a page that is built with packages from the registry. */
export async function bundlePage(
  name: string,
  packages: readonly string[],
  entry: string,
): Promise<{ script: string; style: string }> {
  installPeers(packages)
  mkdirSync(PEERS, { recursive: true })
  const file = `${PEERS}/${name}.page.mjs`
  writeFileSync(file, entry)
  const { outputFiles } = await build({
    entryPoints: [file],
    ...{ bundle: true, minify: true, write: false, format: 'iife', target: 'es2022', outdir: PEERS },
    define: { 'process.env.NODE_ENV': '"production"', 'process.env': '{}' },
    loader: {
      '.woff2': 'empty',
      '.woff': 'empty',
      '.ttf': 'empty',
      '.eot': 'empty',
      '.otf': 'empty',
      '.svg': 'dataurl',
      '.png': 'dataurl',
      '.gif': 'dataurl',
    },
  })
  const of = (end: string) => outputFiles.find(({ path }) => path.endsWith(end))?.text ?? ''
  return { script: of('.js').replaceAll('</script', '<\\/script'), style: of('.css') }
}
