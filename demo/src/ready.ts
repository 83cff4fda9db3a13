import type {
  AskableQuestion,
  Block,
  Context,
  EventCondition,
  Goal,
  Lens,
  Names,
  Question,
  Selection,
  Step,
} from '@dust-trail/core'
import {
  answer,
  buildBlock,
  Dictionaries,
  goals,
  groupPages,
  groupTargets,
  lensSessions,
  pageGoal,
  price,
  rate,
  size,
  strain,
  verify,
  verifyWindows,
} from '@dust-trail/core'
import type { Connection } from 'mariadb'
import type { z } from 'zod'
import type { SiteRow } from '../../server/src/store/models.ts'
import type { SimulatedSession } from './simulator/visit.ts'

/* The work that lies on the table when the demo is opened: labels, segments, funnels, a case and fixes, as somebody would
   have left them after a week. All numbers in it are counted from the demo's own data. */

const DAY_MS = 86_400_000
const equal = (to: string) => ({ is: 'equal' as const, to })

/** What the observatory wants its visitors to do. */
export const DEMO_GOALS: Goal[] = [
  pageGoal('Booked'),
  { name: 'Instrument reserved', event: { action: 'instrument reserved' }, value: 'event' },
  { name: 'Member joined', event: { action: 'member joined' }, value: 'event' },
]

const ACTIONS: { name: string; rule: EventCondition; description: string; isSignal?: true }[] = [
  {
    name: 'Turned the month',
    rule: {
      kinds: ['click'],
      page: equal('Observing nights'),
      element: { is: 'containing', to: 'month-picker' },
    },
    description: 'Arrows above the list of nights.',
  },
  {
    name: 'Went on to booking',
    rule: {
      kinds: ['click'],
      page: equal('A night'),
      element: { is: 'ending with', to: 'aside.buy > a.button' },
    },
    description: 'The button beside a night.',
  },
  {
    name: 'Tried a promo code',
    rule: { kinds: ['click'], element: { is: 'ending with', to: 'button.apply' } },
    description: 'On the payment page.',
  },
  {
    name: 'Search without results',
    rule: { kinds: ['page'], prop: { key: 'results', number: { is: 'equal', to: 0 } } },
    description: 'A search page that found nothing.',
    isSignal: true,
  },
]

const SEGMENTS = [
  {
    name: 'Phones',
    note: 'Where most is lost.',
    condition: { type: 'text', of: 'device', test: equal('mobile') },
  },
  {
    name: 'Came by a paid campaign',
    note: 'What the advertising brings.',
    condition: { type: 'text', of: 'channel', test: { is: 'one of', to: ['Paid search', 'Paid social'] } },
  },
  {
    name: 'Had a hard time',
    note: 'Strain of 50 and more.',
    condition: { type: 'number', of: 'strain', test: { is: 'at least', to: 50 } },
  },
] as const

const HIRE: Step[] = ['Telescope hire', 'An instrument', 'Reserved'].map((page) => ({ type: 'page', page }))

/** Answers questions about the demo's sessions while they are being loaded. */
class Asked {
  readonly #block: Block
  readonly #names: Names

  constructor(
    private readonly site: SiteRow,
    sessions: readonly SimulatedSession[],
  ) {
    const dictionaries = new Dictionaries()
    const rows = sessions.map(({ visitor, lines }, k) => ({
      ...{ id: k + 1, visitor, returning: false, lines },
      ...{ device: lines.find(({ device }) => device)?.device ?? {}, channel: 'Direct' as const },
    }))
    this.#block = buildBlock(rows, dictionaries)
    this.#names = {
      dictionaries,
      groups: groupPages(dictionaries.page, site.pageGroups),
      families: groupTargets(dictionaries.target),
      actions: new Map(ACTIONS.map(({ name, rule }) => [name, rule])),
    }
  }

  ask<Asked extends z.ZodObject, Answer extends z.ZodType, Found>(
    question: Question<Asked, Answer, Found>,
    lens: Lens,
    asked: z.input<Asked>,
  ): z.input<Answer> {
    const { timeZone, goal, goals: own } = this.site
    const context: Context = { names: this.#names, lens, timeZone, goal, goals: own }
    const sessions = lensSessions(this.#block, lens, timeZone, this.#names)
    const spec = { ...(question as AskableQuestion<Asked, Answer>).asked.parse(asked), ...context }
    return answer(question, [{ block: this.#block, sessions }], spec as never)
  }
}

/** Puts the work on the table. @param nowMs  the end of the demo's data */
export async function layOut(
  connection: Connection,
  site: SiteRow,
  sessions: readonly SimulatedSession[],
  nowMs: number,
): Promise<void> {
  const asked = new Asked(site, sessions)
  const dayAt = (back: number) => new Date(nowMs - back * DAY_MS).toISOString().slice(0, 10)
  const lens: Lens = { from: dayAt(28), to: dayAt(1), devices: [] }
  const insert = async (table: string, row: Record<string, unknown>) => {
    const columns = Object.keys(row)
    const made = await connection.query<{ insertId: number | bigint }>(
      `INSERT INTO ${table} (${columns.map((column) => `\`${column}\``).join(', ')}) VALUES (${columns.map(() => '?').join(', ')})`,
      Object.values(row).map((value) =>
        typeof value === 'object' && value !== null ? JSON.stringify(value) : value,
      ),
    )
    return Number(made.insertId)
  }
  const own = { site_id: site.id }

  for (const { name, rule, description, isSignal } of ACTIONS)
    await insert('actions', { ...own, name, rule, description, owner: 'Ada', is_signal: isSignal ? 1 : 0 })
  for (const { name, note, condition } of SEGMENTS)
    await insert('segments', {
      ...{ ...own, name, note, owner: 'Ada', parent_id: null },
      ...{ cut: { condition, clean: [] }, created_ms: nowMs - 6 * DAY_MS },
    })
  await insert('funnels', { ...own, name: 'From the instruments to a reservation', steps: HIRE })

  const trail = await insert('trails', { ...own, name: 'Why do so few book a night on a phone?' })
  const pinned = await insert('trails', { ...own, name: 'Pinned' })
  const phones: Lens = { ...lens, devices: ['mobile'] }
  const marks: {
    view: string
    sentence: string
    address: string
    lens: Lens
    selection: Selection
    heading?: string
    /** what stands on the first screen */
    pin?: object
  }[] = [
    {
      view: 'Dead clicks on “Drawing of the night sky”, Observing nights',
      sentence: 'They press the picture of a night, and nothing happens.',
      address: '/pages?page=Observing+nights&clicks=dead',
      heading: 'On the list of nights',
      ...{ lens, selection: DEAD_PICTURE },
    },
    {
      view: 'Dead clicks on the month, Observing nights',
      sentence: 'On phones the arrows are too small to hit.',
      address: '/pages?page=Observing+nights&clicks=dead&device=mobile',
      heading: 'On the list of nights',
      ...{ lens: phones, selection: TINY_ARROWS },
    },
    {
      view: 'Failed submit on Booking: details',
      sentence: 'The form is sent and refused, and nothing says why.',
      address: '/friction/forms',
      heading: 'At the details',
      ...{ lens, selection: REFUSED },
    },
    {
      ...{ view: 'Sessions that saw Booked', sentence: 'Who books, over the days', address: '/aim', lens },
      ...{ selection: { type: 'page', page: 'Booked' }, pin: { form: 'trend' } },
    },
    {
      ...{ view: 'All sessions in the lens', sentence: 'Where it hurts', address: '/friction', lens },
      selection: { type: 'everyone' },
      pin: {
        ...{ form: 'table', title: 'Hot spots', question: 'friction', asked: {}, rows: 5 },
        columns: [
          { of: 'kind', head: 'Signal', as: 'text' },
          { of: 'page', head: 'Page', as: 'text' },
          { of: 'text', head: 'Element', as: 'text' },
          { of: 'met.share', head: 'Met it', as: 'percent' },
          { of: 'met.hits', head: 'Sessions', as: 'count' },
        ],
      },
    },
  ]
  for (const [k, mark] of marks.entries()) {
    const { view, sentence, address, lens: through, selection, heading = '', pin } = mark
    await insert('marks', {
      ...{ trail_id: pin ? pinned : trail, position: k + 1, address, view, sentence, heading },
      ...(pin && { shows: pin }),
      ...{ question: { lens: through, selection }, then: asked.ask(size, through, { selection }) },
      created_ms: nowMs - 5 * DAY_MS + k * 60_000,
    })
  }

  const shipped = dayAt(22)
  const fixes: DemoFix[] = [
    {
      ...{ title: 'Make the picture of a night lead to it', status: 'ready', effort: 'hours', owner: 'Ada' },
      hypothesis: 'Visitors press the drawing in the list of nights, and nothing happens.',
      belief: 'They take the picture for the link, as it is everywhere else.',
      change: 'The picture becomes part of the link.',
      ...{ expectation: 'More go on from the list to a night.', selection: DEAD_PICTURE },
    },
    {
      ...{ title: 'Say what is wrong with the phone number', status: 'in work', effort: 'days', owner: 'Bo' },
      hypothesis: 'The details form is refused for some, and no message appears.',
      belief: 'Numbers with spaces are not taken, and people cannot know that.',
      change: 'Take spaces, and say what is missing beside the field.',
      ...{ expectation: 'Nearly all who send the form go on to payment.', selection: REFUSED },
    },
    {
      ...{ title: 'Larger arrows for the month', status: 'idea', effort: 'hours', owner: '' },
      hypothesis: 'On phones the month is pressed beside its arrows again and again.',
      belief: 'The arrows are smaller than a finger.',
      change: 'Arrows of 44 × 44 px.',
      ...{ expectation: 'Fewer dead clicks there, and more nights seen.', selection: TINY_ARROWS },
    },
    {
      ...{ title: 'Keep the weather box from failing', status: 'verified', effort: 'hours', owner: 'Bo' },
      hypothesis: 'A script of the weather box fails in one browser on the first page.',
      belief: 'It may keep people from going on, though the page looks whole.',
      change: 'The box is left out where its data do not come.',
      ...{ expectation: 'No errors on the first page.', selection: WEATHER, shipped },
    },
  ]
  for (const fix of fixes) await addFix(insert, asked, { ...own, lens, nowMs }, fix)
}

const DEAD_PICTURE: Selection = {
  ...{ type: 'signal', kind: 'dead click', page: 'Observing nights' },
  selector: 'body > main > ul.nights > li.night > div.night-picture:nth-of-type(1) > svg',
  text: 'Drawing of the night sky',
}
const TINY_ARROWS: Selection = {
  ...{ type: 'signal', kind: 'dead click', page: 'Observing nights' },
  ...{ selector: 'body > main > div.month-picker:nth-of-type(1)', text: 'Month' },
}
const REFUSED: Selection = {
  ...{ type: 'signal', kind: 'failed submit', page: 'Booking: details', selector: '#details' },
}
const WEATHER: Selection = {
  ...{ type: 'signal', kind: 'script error', page: 'Home', selector: '' },
}

interface DemoFix {
  title: string
  status: string
  effort: string
  owner: string
  hypothesis: string
  belief: string
  change: string
  expectation: string
  selection: Selection
  shipped?: string
}

async function addFix(
  insert: (table: string, row: Record<string, unknown>) => Promise<number>,
  asked: Asked,
  { site_id, lens, nowMs }: { site_id: number; lens: Lens; nowMs: number },
  { shipped, selection, ...fields }: DemoFix,
): Promise<void> {
  const createdMs = nowMs - (shipped ? 26 : 4) * DAY_MS
  const verified = shipped && verifiedOf(asked, lens, selection, shipped)
  const id = await insert('fixes', {
    ...{ site_id, ...fields, lens, selection, evidence: asked.ask(price, lens, { selection }) },
    ...{ session_id: null, links: [], mark_ids: [], position: 1, shipped_day: shipped ?? null },
    ...{ verified: verified ? { ...verified, atMs: nowMs - DAY_MS } : null },
    ...{ created_ms: createdMs, updated_ms: createdMs },
  })
  const note = (at_ms: number, kind: string, words: string) =>
    insert('fix_events', { fix_id: id, at_ms, kind, words })
  await note(createdMs, 'created', 'written down as idea')
  if (fields.status === 'idea') return
  await note(createdMs + DAY_MS, 'status', `idea → ${shipped ? 'shipped' : fields.status}`)
  if (!verified) return
  await note(nowMs - DAY_MS, 'status', 'shipped → verified')
  await note(nowMs - DAY_MS, 'comment', `Found: ${verified.verdict}. ${verified.reason}`)
}

/** What is found of a fix that was shipped, by the same rules as everywhere. */
function verifiedOf(asked: Asked, lens: Lens, selection: Selection, shipped: string) {
  const windows = verifyWindows(shipped, lens.to)
  if (!windows) return undefined
  const [before, after] = [windows.before, windows.after].map((window) => {
    const through = { ...lens, ...window }
    const { met, others } = asked.ask(price, through, { selection })
    const hard = asked.ask(strain, through, {})
    return {
      met: asked.ask(size, through, { selection }),
      converted: rate(met.hits + others.hits, met.base + others.base),
      strain: { n: hard.sessions, mean: hard.mean, deviation: hard.deviation, interval: hard.interval },
      goals: asked.ask(goals, through, {}).goals,
    }
  })
  const { verdict, reason } = verify(before!, after!)
  return { verdict, reason, met: after!.met }
}
