import type { PathStepsAnswer } from '@dust-trail/core'
import { percent } from '../../ui/format.ts'
import { saveFile } from '../../ui/save-file.ts'
import { placeName } from '../../words/sentences.ts'

const [COLUMN, GAP, ROW, TOP, SHOWN] = [200, 48, 34, 56, 12]

/** The steps of paths with the links between them as a picture that stands alone. */
export function stepsPicture(
  { sessions: entered, steps }: PathStepsAnswer,
  { focus, back }: { focus: string; back: boolean },
): string {
  const width = steps.length * (COLUMN + GAP) + GAP
  const rows = Math.max(1, ...steps.map(({ places }) => Math.min(SHOWN, places.length)))
  const height = TOP + rows * ROW + 16
  const leftOf = (step: number) => GAP + (back ? steps.length - 1 - step : step) * (COLUMN + GAP)
  const middle = (place: number) => TOP + place * ROW + ROW / 2
  const links = steps.flatMap(({ links: own }, k) =>
    k === 0
      ? []
      : own
          .filter(({ from, to }) => from! < SHOWN && to < SHOWN)
          .map(({ from, to, sessions }) => {
            const [x1, x2] = back ? [leftOf(k) + COLUMN, leftOf(k - 1)] : [leftOf(k - 1) + COLUMN, leftOf(k)]
            const [y1, y2] = back ? [middle(to), middle(from!)] : [middle(from!), middle(to)]
            const bend = (x2 - x1) / 2
            return `<path d="M${x1} ${y1} C${x1 + bend} ${y1} ${x2 - bend} ${y2} ${x2} ${y2}" stroke-width="${Math.max(0.5, (sessions / entered) * 24).toFixed(2)}"/>`
          }),
  )
  const places = steps.flatMap(({ places: own, sessions }, k) => [
    `<text x="${leftOf(k)}" y="${TOP - 8}" class="soft">${k + 1}${back ? ' before' : '. step'} · ${percent(sessions / entered)} of all</text>`,
    ...own.slice(0, SHOWN).map((place, i) => {
      const y = TOP + i * ROW
      return [
        `<rect x="${leftOf(k)}" y="${y + 4}" width="${COLUMN}" height="${ROW - 8}" rx="3" fill="#FFFFFF" stroke="#D9DED6"/>`,
        `<rect x="${leftOf(k)}" y="${y + ROW - 8}" width="${((place.sessions / sessions) * COLUMN).toFixed(1)}" height="3" fill="#1F5C4D"/>`,
        `<text x="${leftOf(k) + 6}" y="${y + 20}">${escaped(cut(placeName(place), 22))}</text>`,
        `<text x="${leftOf(k) + COLUMN - 6}" y="${y + 20}" text-anchor="end">${percent(place.sessions / entered)}</text>`,
      ].join('')
    }),
  ])
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}" font-family="sans-serif" font-size="12" fill="#18211D"><style>.soft{fill:#55615A}</style><rect width="100%" height="100%" fill="#F5F6F2"/><text x="${GAP}" y="24" font-size="14" font-weight="600">${escaped(`${back ? 'To' : 'From'} ${focus}: ${entered} entered`)}</text><g fill="none" stroke="#1F5C4D" stroke-opacity="0.35">${links.join('')}</g>${places.join('')}</svg>`
}

export function cut(text: string, most: number): string {
  return text.length > most ? `${text.slice(0, most - 1)}…` : text
}

export function escaped(text: string): string {
  return text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('"', '&quot;')
}

export function saveSvg(svg: string, name = 'paths'): void {
  saveFile(new Blob([svg], { type: 'image/svg+xml' }), `${name}.svg`)
}

/** The picture as pixels, twice as fine as it is large. */
export async function savePng(svg: string, name = 'paths'): Promise<void> {
  const image = new Image()
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`
  await image.decode()
  const canvas = document.createElement('canvas')
  canvas.width = image.width * 2
  canvas.height = image.height * 2
  const context = canvas.getContext('2d')!
  context.scale(2, 2)
  context.drawImage(image, 0, 0)
  const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/png'))
  if (blob) saveFile(blob, `${name}.png`)
}
