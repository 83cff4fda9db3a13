import { createHash } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import type { ReplayFile } from '@dust-trail/core'
import { clipped } from '@dust-trail/core'

const TECHNICAL = new Set(['error', 'request'])

/** Only what lies between two moments since the start, on a clock that begins with the first. */
export function cutOut(file: ReplayFile, fromMs: number, toMs: number | null): ReplayFile {
  const end = Math.min(toMs ?? Infinity, file.endMs - file.startMs)
  const isWithin = (atMs: number) => atMs >= fromMs && atMs <= end
  const moved = <T extends { atMs: number }>(one: T) => ({ ...one, atMs: one.atMs - fromMs })
  const isWhole = fromMs <= 0 && toMs === null
  return {
    ...file,
    startMs: file.startMs + fromMs,
    endMs: file.startMs + end,
    documents: isWhole ? file.documents : clipped(file.documents, file.startMs, fromMs, end),
    moments: file.moments.filter(({ atMs }) => isWithin(atMs)).map(moved),
    lines: file.lines.filter(({ t, kind }) => TECHNICAL.has(kind) && isWithin(t - file.startMs)),
    missing: file.missing.filter(
      ({ startMs, fromMs: from, toMs: to }) =>
        startMs + to >= file.startMs + fromMs && startMs + from <= file.startMs + end,
    ),
    // A sentence tells of the whole session.
    story: isWhole ? file.story : [],
  }
}

let made: { code: string; hash: string } | undefined
/** The player for such files, as the build made it, fit to stand in a page; with the hash by which a policy lets it run. */
function viewer(): { code: string; hash: string } {
  if (made) return made
  // Beside the server's program; of the sources where these are run as they are, in tests.
  const isBuilt = import.meta.url.endsWith('/dist/server.mjs')
  const file = new URL(isBuilt ? 'viewer.js' : '../../dist/viewer.js', import.meta.url)
  const code = readFileSync(fileURLToPath(file), 'utf8')
    .replaceAll('</script', '<\\/script')
    .replaceAll('<!--', '<\\!--')
  made = { code, hash: createHash('sha256').update(code).digest('base64') }
  return made
}

/**
 * The page that shows it: one file, whose only script is the player. Recorded pages stand in a frame of their own that runs
 * none.
 *
 * @returns the page, and the policy under which it may be shown
 */
export function replayPage(file: ReplayFile): { html: string; policy: string } {
  const { code, hash } = viewer()
  const pictures = [
    'data:',
    ...file.pictureOrigins.filter((origin) => /^https?:\/\/[\w.[\]:-]+$/.test(origin)),
  ]
  const policy = [
    "default-src 'none'",
    `script-src 'sha256-${hash}'`,
    "style-src 'unsafe-inline'",
    `img-src ${pictures.join(' ')}`,
    `font-src ${pictures.join(' ')}`,
    "base-uri 'none'",
    "form-action 'none'",
  ].join('; ')
  // Nothing in it can end the element it stands in.
  const data = JSON.stringify(file).replaceAll('<', '\\u003c')
  const title = file.title.replaceAll('&', '&amp;').replaceAll('<', '&lt;')
  const html = `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta http-equiv="Content-Security-Policy" content="${policy}">
<meta name="viewport" content="width=device-width">
<meta name="robots" content="noindex">
<meta name="referrer" content="no-referrer">
<title>${title}</title>
</head>
<body>
<script type="application/json" id="replay">${data}</script>
<script>${code}</script>
</body>
</html>
`
  return { html, policy }
}
