import type { IncomingMessage } from 'node:http'
import { buffer } from 'node:stream/consumers'
import { fileURLToPath } from 'node:url'
import { gunzipSync } from 'node:zlib'
import { build } from 'esbuild'

const ROOT = fileURLToPath(new URL('..', import.meta.url))

/** What a page loads, by address: the script, and the part of it that comes when the page stands. */
export async function captureScripts(): Promise<ReadonlyMap<string, string>> {
  const made = await Promise.all(
    (
      [
        ['/capture.js', 'capture/src/index.ts', 'iife'],
        ['/capture-more.js', 'capture/src/more/index.ts', 'esm'],
      ] as const
    ).map(async ([address, entry, format]) => {
      const { outputFiles } = await build({
        ...{ entryPoints: [entry], absWorkingDir: ROOT, bundle: true, minify: true, write: false },
        ...{ format, target: 'es2022' },
      })
      return [address, outputFiles[0]!.text] as const
    }),
  )
  return new Map(made)
}

/** What a page sent, as it came. */
export const bytesOf = (request: IncomingMessage): Promise<Buffer> => buffer(request)

/** What the script sent, unpacked where it was packed. */
export async function textOf(request: IncomingMessage): Promise<string> {
  const bytes = await buffer(request)
  return (bytes[0] === 0x1f && bytes[1] === 0x8b ? gunzipSync(bytes) : bytes).toString()
}
