import type { Place } from '@dust-trail/core'
import { count, percent } from '../../ui/format.ts'
import { placeName } from '../../words/sentences.ts'
import { cut, escaped } from './steps-picture.ts'

/** A route with what is told of those who walked it; what is not known yet is left out. */
export interface PicturedLane {
  places: readonly Place[]
  sessions: number
  ended: number
  /** what became of them, in words */
  told: readonly string[]
}

const [LEFT, BAR, TOP, ROW, STOP, GAP, ASIDE] = [20, 130, 56, 40, 150, 22, 460]

/**
 * The common routes as a picture that stands alone: a line each, as thick as the share that walks it.
 *
 * @param back  they are read towards the focus
 */
export function lanesPicture(
  lanes: readonly PicturedLane[],
  { focus, back, entered }: { focus: string; back: boolean; entered: number },
): string {
  const stops = 1 + Math.max(0, ...lanes.map(({ places }) => places.length))
  const leftOf = (stop: number) => LEFT + BAR + 16 + stop * (STOP + GAP)
  const width = leftOf(stops) + ASIDE
  const height = TOP + Math.max(1, lanes.length) * ROW + 12
  const most = Math.max(1, ...lanes.map(({ sessions }) => sessions))
  const rows = lanes.map(({ places, sessions, ended, told }, k) => {
    const y = TOP + k * ROW
    const names = places.map(placeName)
    const way = back ? [...names.reverse(), focus] : [focus, ...names]
    const isFocus = (stop: number) => stop === (back ? way.length - 1 : 0)
    const line = `<path d="M${leftOf(0) + 8} ${y + 18}H${leftOf(way.length - 1) + 8}" stroke="#1F5C4D" stroke-opacity="0.35" stroke-width="${Math.max(1, (sessions / entered) * 24).toFixed(2)}"/>`
    const boxes = way.map(
      (name, stop) =>
        `<rect x="${leftOf(stop)}" y="${y + 6}" width="${STOP}" height="24" rx="4" fill="${isFocus(stop) ? '#FFFFFF' : '#DCE8E2'}" stroke="${isFocus(stop) ? '#B87A10' : 'none'}"/><text x="${leftOf(stop) + 7}" y="${y + 22}">${escaped(cut(name, 22))}</text>`,
    )
    const words = [`${percent(ended / sessions)} ${back ? 'began here' : 'ended here'}`, ...told]
    return [
      `<text x="${LEFT}" y="${y + 18}"><tspan font-weight="600">${percent(sessions / entered)}</tspan> ${count(sessions)}</text>`,
      `<rect x="${LEFT}" y="${y + 24}" width="${BAR}" height="5" fill="#D9DED6"/><rect x="${LEFT}" y="${y + 24}" width="${((sessions / most) * BAR).toFixed(1)}" height="5" fill="#1F5C4D"/>`,
      line,
      ...boxes,
      `<text x="${leftOf(way.length) + 4}" y="${y + 22}" fill="#55615A">${escaped(words.join(' · '))}</text>`,
    ].join('')
  })
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}" font-family="sans-serif" font-size="12" fill="#18211D"><rect width="100%" height="100%" fill="#F5F6F2"/><text x="${LEFT}" y="26" font-size="14" font-weight="600">${escaped(`Routes ${back ? 'to' : 'from'} ${focus}: ${count(entered)} entered`)}</text>${rows.join('')}</svg>`
}
