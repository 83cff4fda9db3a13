import { readFileSync } from 'node:fs'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { Batch, DocumentRecording } from '../../core/src/index.ts'
import { fileType } from '../../server/src/store/kept-files.ts'
import { bytesOf, textOf } from '../scripts.ts'
import type { Compare } from './compare.ts'

const TYPES: Record<string, string> = { js: 'text/javascript; charset=utf-8', css: 'text/css' }

/** What the pages load, and where what was recorded of them arrives. */
export async function serve(
  html: ReadonlyMap<string, string>,
  scripts: ReadonlyMap<string, string>,
  { picture }: Compare,
) {
  /** pictures and fonts by hash, as addresses that have them in them */
  const kept = new Map<string, string>()
  const batches = new Map<string, { batch: Batch; bytes: number }[]>()
  const font = readFileSync(
    'node_modules/@fontsource/jetbrains-mono/files/jetbrains-mono-latin-400-italic.woff2',
  )
  const files: Record<string, [type: string, body: string | Buffer]> = {
    '/a.css': ['text/css', '.linked{color:blue;font-size:30px;background:url(/photo.png)}'],
    '/b.css': ['text/css', '.linked{color:red;font-size:20px}'],
    '/large.css': [
      'text/css',
      `${'.filler{color:red}'.repeat(2400)}.linked{border:9px solid var(--c,gold);border-left-color:red;background:url(photo.png)}`,
    ],
    '/latin.css': [
      'text/css;charset=iso-8859-1',
      Buffer.from(
        `${'.filler{color:red}'.repeat(2400)}.linked{font-size:40px}.linked::after{content:"é ü"}`,
        'latin1',
      ),
    ],
    '/imports.css': ['text/css', '@import "a.css"; .linked{text-decoration:underline}'],
    '/vars.css': [
      'text/css',
      ':root{--p:20px}.vars{padding:var(--p);padding-left:60px;background:gold;border:var(--b,3px solid red);border-top-width:9px}',
    ],
    '/css/deep.css': ['text/css', '.deep{width:120px;height:60px;background:url(../photo.png)}'],
    '/frame.html': [
      'text/html',
      '<!doctype html><title>Frame</title><style>p{color:red;font-size:25px}</style><p>In a frame</p><button>B</button>',
    ],
    '/quirks.html': [
      'text/html',
      '<title>Frame</title><table style="font-size:30px"><tr><td>T</table><p style="width:100px;padding:10px;border:5px solid">Q',
    ],
    '/sprite.svg': [
      'image/svg+xml',
      '<svg xmlns="http://www.w3.org/2000/svg"><symbol id="star" viewBox="0 0 10 10"><path d="M5 0l2 4h3l-3 2 2 4-4-3-4 3 2-4-3-2h3z"/></symbol></svg>',
    ],
    '/photo.png': ['image/png', picture(64, 32)],
    '/photo2.png': ['image/png', picture(128, 64)],
    '/font.woff2': ['font/woff2', font],
  }
  const server = createServer((request, response) => {
    const url = new URL(request.url!, 'http://x')
    const send = (type: string, body: string | Buffer, status = 200) =>
      response
        .writeHead(status, {
          'content-type': type,
          'cache-control': 'max-age=600',
          'access-control-allow-origin': '*',
        })
        .end(body)
    if (url.pathname === '/collect') {
      void textOf(request).then((text) => {
        const batch = JSON.parse(text) as Batch
        batches.set(batch.visitor, [...(batches.get(batch.visitor) ?? []), { batch, bytes: text.length }])
        response.writeHead(204).end()
      })
    } else if (url.pathname === '/collect/files') {
      const hash = url.searchParams.get('hash')
      void bytesOf(request).then(async (bytes) => {
        if (hash) {
          kept.set(hash, `data:${await fileType(bytes)};base64,${bytes.toString('base64')}`)
          response.writeHead(204).end()
        } else {
          const { hashes } = JSON.parse(bytes.toString()) as { hashes: string[] }
          send('application/json', JSON.stringify({ lacking: hashes.filter((one) => !kept.has(one)) }))
        }
      })
    } else if (url.pathname === '/collect/settings')
      send(
        'application/json',
        '{"text":"chosen","consent":"free","share":1,"drawings":true,"pictures":"kept"}',
      )
    else if (scripts.has(url.pathname)) send('text/javascript', scripts.get(url.pathname)!)
    else if (files[url.pathname]) send(...files[url.pathname]!)
    else if (url.pathname === '/picture.svg' || url.pathname.endsWith('/picture.svg'))
      send(
        'image/svg+xml',
        `<svg xmlns="http://www.w3.org/2000/svg" width="200" height="100"><rect width="200" height="100" fill="${url.search ? 'teal' : 'gray'}"/></svg>`,
      )
    else if (html.has(url.pathname))
      send(TYPES[url.pathname.split('.').at(-1)!] ?? 'text/html; charset=utf-8', html.get(url.pathname)!)
    else send('text/plain', 'not here', 404)
  }).listen(0, '127.0.0.1')
  await new Promise((resolve) => server.once('listening', resolve))
  return {
    origin: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    /** The last document of a visitor that was recorded, put together, and what was sent of it. */
    recordingOf: (visitor: string): { recording: DocumentRecording; batches: Batch[] } | undefined => {
      const all = (batches.get(visitor) ?? []).map(({ batch }) => batch)
      const last = all.findLast(({ snapshot }) => snapshot)
      if (!last) return undefined
      const own = all.filter(({ document }) => document === last.document).sort((a, b) => a.n - b.n)
      return {
        batches: own,
        recording: {
          ...{ document: last.document, startMs: last.startMs, snapshot: last.snapshot! },
          items: own.flatMap(({ items }) => items.filter(({ k }) => k !== 'file')),
          files: Object.fromEntries(
            own.flatMap(({ items }) =>
              items.flatMap((item) => (item.k === 'file' ? [[item.url, item.hash]] : [])),
            ),
          ),
        },
      }
    },
    kept,
    close: () => server.close(),
  }
}
