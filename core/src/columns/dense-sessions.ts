import { errorPlace, PLACE_PROP } from '../events/error-text.ts'
import type { Line } from '../events/line.ts'
import { EFFECTS } from '../events/line.ts'
import { SESSION_CLASSES } from '../events/traffic.ts'
import { pagePath } from '../events/page-path.ts'
import type { SessionRow } from '../events/session-row.ts'
import type { DenseBlock, DenseCounts } from './dense-block.ts'
import { denseBlock } from './dense-block.ts'
import type { Dictionaries } from './dictionaries.ts'
import { KIND_CODE, TRAIT_BIT } from './event-codes.ts'

/**
 * Sessions as dense columns, in the order given.
 *
 * @param rows  each with at least one line, lines ascending in time
 * @throws RangeError where a session has no lines or they are out of order
 */
export function buildDenseBlock(rows: readonly SessionRow[], dictionaries: Dictionaries): DenseBlock {
  const counts: DenseCounts = { sessions: rows.length, events: 0, props: 0 }
  for (const row of rows) {
    counts.events += row.lines.length
    for (const line of row.lines) counts.props += propsOf(line).length
  }
  const block = denseBlock(counts)
  const { sessions, events } = block
  let event = 0
  let prop = 0
  rows.forEach((row, s) => {
    const [first] = row.lines
    if (!first) throw new RangeError(`session ${row.id} has no lines`)
    writeSession(sessions, s, row, dictionaries)
    sessions.firstEvent[s] = event
    /** the latest page, of all and by tab: a line without address belongs to that of its tab */
    let latest = 0
    const latestIn = new Map<string, number>()
    let beforeMs = first.t
    for (const line of row.lines) {
      if (line.t < beforeMs) throw new RangeError(`lines of session ${row.id} are not in order of time`)
      beforeMs = line.t
      let page = line.tab === undefined ? latest : (latestIn.get(line.tab) ?? latest)
      if (line.url !== undefined) {
        page = latest = dictionaries.page.code(pagePath(line.url))
        if (line.tab !== undefined) latestIn.set(line.tab, page)
      }
      events.firstProp[event] = prop
      for (const [key, value] of propsOf(line)) {
        block.props.key[prop] = dictionaries.propKey.code(key)
        block.props.text[prop] = typeof value === 'string' ? dictionaries.propText.code(value) : 0
        block.props.number[prop++] = typeof value === 'string' ? NaN : Number(value)
      }
      writeEvent(events, event++, line, first.t, page, dictionaries)
    }
  })
  sessions.firstEvent[rows.length] = event
  events.firstProp[event] = prop
  return block
}

type Props = [string, string | number | boolean][]
const NO_PROPS: Props = []

/**
 * A line's free properties, and what is asked for like one: how many results a search page found, and where an error came
 * about.
 */
function propsOf(line: Line): Props {
  const place = line.kind === 'error' ? errorPlace(line) : ''
  if (!line.props && line.results === undefined && !place) return NO_PROPS
  const props: Props = Object.entries(line.props ?? {})
  if (line.results !== undefined) props.push(['results', line.results])
  if (place) props.push([PLACE_PROP, place])
  return props
}

function writeSession(
  sessions: DenseBlock['sessions'],
  s: number,
  row: SessionRow,
  dictionaries: Dictionaries,
): void {
  sessions.id[s] = row.id
  sessions.visitor[s] = dictionaries.visitor.code(row.visitor)
  sessions.returning[s] = row.returning ? 1 : 0
  sessions.startMs[s] = row.lines[0]!.t
  sessions.endMs[s] = row.lines[row.lines.length - 1]!.t
  const kind = row.traffic ?? row.device.class
  sessions.device[s] = kind ? SESSION_CLASSES.indexOf(kind) + 1 : 0
  sessions.browser[s] = dictionaries.browser.code(row.device.browser)
  sessions.os[s] = dictionaries.os.code(row.device.os)
  sessions.country[s] = dictionaries.country.code(row.country)
  sessions.channel[s] = dictionaries.channel.code(row.channel)
  sessions.source[s] = dictionaries.source.code(row.source)
  sessions.campaign[s] = dictionaries.campaign.code(row.campaign)
  sessions.width[s] = row.device.width ?? 0
  sessions.height[s] = row.device.height ?? 0
}

function writeEvent(
  events: DenseBlock['events'],
  i: number,
  line: Line,
  startMs: number,
  page: number,
  dictionaries: Dictionaries,
): void {
  events.kind[i] = KIND_CODE[line.kind]
  events.atMs[i] = line.t - startMs
  events.page[i] = page
  events.target[i] = dictionaries.target.code(line.target?.selector)
  events.text[i] = dictionaries.text.code(
    line.target?.text ?? line.variant ?? line.text ?? line.label ?? line.title,
  )
  events.name[i] = dictionaries.name.code(
    line.name ?? line.path ?? line.message ?? line.experiment ?? line.question,
  )
  events.x[i] = line.x ?? NaN
  events.y[i] = line.y ?? NaN
  events.rx[i] = line.rx ?? NaN
  events.ry[i] = line.ry ?? NaN
  events.effect[i] = line.effect ? EFFECTS.indexOf(line.effect) + 1 : 0
  events.w[i] = line.kind === 'click' ? (line.target?.w ?? NaN) : NaN
  events.h[i] = line.kind === 'click' ? (line.target?.h ?? NaN) : NaN
  events.number[i] =
    line.status ??
    line.depth ??
    line.length ??
    line.score ??
    (line.kind === 'action' || line.kind === 'request' ? NaN : (line.ms ?? NaN))
  events.detail[i] = line.top ?? line.corrections ?? NaN
  events.traits[i] = traitsOf(line)
  events.currency[i] = dictionaries.currency.code(line.value === undefined ? undefined : line.currency)
  const isAmount = line.kind === 'request' || line.kind === 'input'
  events.amount[i] = line.load ?? line.value ?? (isAmount ? (line.ms ?? NaN) : NaN)
}

const FIELD_TAGS = new Set(['input', 'textarea', 'select', 'option', 'label'])

function traitsOf({ kind, target, ok, name, props, loaded, navigation }: Line): number {
  let traits = 0
  if (target?.interactive) traits |= TRAIT_BIT.interactive
  if (target?.tag !== undefined && FIELD_TAGS.has(target.tag)) traits |= TRAIT_BIT.field
  if (kind === 'submit' && ok === false) traits |= TRAIT_BIT.refused
  if (kind === 'leave' && loaded === false) traits |= TRAIT_BIT.unloaded
  if (kind === 'page' && navigation === 'navigate') traits |= TRAIT_BIT.navigated
  if (kind === 'gesture' && name === 'zoom' && Number(props?.['by'] ?? 2) > 1) traits |= TRAIT_BIT.enlarged
  return traits
}
