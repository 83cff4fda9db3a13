import { z } from 'zod'
import type { Kind } from '../../events/line.ts'
import type { SignalKind } from '../../events/signal-kinds.ts'
import { signalTraits, TECHNICAL_KINDS } from '../../events/signal-kinds.ts'
import type { StrainWeights } from '../../labels/strain-weights.ts'
import { STRAIN_BANDS } from '../../signals/strain.ts'
import type { SessionSummary } from './summary.ts'
import { article, burden, troubleWords } from './trouble-words.ts'

export const TONES = ['smooth', 'mixed', 'troubled'] as const
/** What to look at after a session: the place in the product that answers what it raises. */
export const NEXT_PLACES = ['errors', 'forms', 'heat map', 'page'] as const

/** A session told in sentences, each with the moment it speaks of. */
export const storySchema = z.object({
  tone: z.enum(TONES),
  sentences: z.array(z.object({ text: z.string(), atMs: z.number().nullable() })),
  next: z
    .object({ text: z.string(), place: z.enum(NEXT_PLACES), page: z.string() })
    .nullable()
    .describe('what it suggests to look at next'),
})
export type SessionStory = z.infer<typeof storySchema>

/** What happened in a session, in order. */
export interface StoryMoment {
  atMs: number
  kind: Kind | SignalKind
  signal: boolean
  page: string
  label: string
}

export interface StoryOf {
  summary: Pick<SessionSummary, 'durationMs' | 'device' | 'channel' | 'pages' | 'returning'>
  moments: readonly StoryMoment[]
  /** from 0 to 100 */
  strain: number
  /** how hard each kind of signal is */
  weights: StrainWeights
  /** the main goal, and when it was reached, milliseconds since the start; NaN: not */
  goal: { name: string; atMs: number } | null
}

/** Trouble so shortly before the end is told together with it. */
const BEFORE_END_MS = 30_000
/** Kinds of trouble that are told one by one; of others it is told how many there are. */
const MOST_TROUBLES = 3
const HARD = STRAIN_BANDS.find(([name]) => name === 'hard')![1]

/**
 * Tells a session by rules: what it came for, what was done, what was met, how it ended. Its tone is `smooth` where nothing
 * was met, `troubled` where strain is at least that of the band “hard” or it ended right after trouble without the goal, else
 * `mixed`.
 *
 * Definitions of our own, no source.
 */
export function storyOf({ summary, moments, strain, weights, goal }: StoryOf): SessionStory {
  const troubles = troublesOf(moments, weights)
  const last = troubles.reduce<Trouble | undefined>(
    (latest, one) => (!latest || one.lastMs > latest.lastMs ? one : latest),
    undefined,
  )
  const reached = goal !== null && !Number.isNaN(goal.atMs)
  const endedIn = last && !reached && summary.durationMs - last.lastMs <= BEFORE_END_MS ? last : undefined
  const tone = !troubles.length ? 'smooth' : strain >= HARD || endedIn ? 'troubled' : 'mixed'
  const sentences = [cameFor(summary, moments), ...did(summary, moments)]
  for (const trouble of troubles.slice(0, MOST_TROUBLES))
    sentences.push({ text: `Met ${troubleWords(trouble)} on ${trouble.page}.`, atMs: trouble.firstMs })
  const others = troubles.slice(MOST_TROUBLES)
  if (others.length) {
    const times = others.reduce((sum, one) => sum + one.times, 0)
    sentences.push({ text: `${counted(times, 'signal')} besides.`, atMs: others[0]!.firstMs })
  }
  const exit = moments.findLast(({ kind, signal }) => kind === 'page' && !signal)?.page ?? 'an unknown page'
  sentences.push(ended(summary, exit, goal, endedIn))
  return { tone, sentences, next: nextOf(troubles, endedIn, goal, exit) }
}

interface Trouble {
  kind: SignalKind
  page: string
  label: string
  times: number
  firstMs: number
  lastMs: number
}

/** What was met, alike as one, the hardest first; ties by time. */
function troublesOf(moments: readonly StoryMoment[], weights: StrainWeights): Trouble[] {
  const found = new Map<string, Trouble>()
  for (const { atMs, kind, signal, page, label } of moments) {
    if (!signal) continue
    // How often a signal's click came is another matter than how often the signal did.
    const words = label.replace(/ · \d+ (?:clicks|times)$/, '')
    const key = `${kind}\n${page}\n${words}`
    const own = found.get(key)
    if (own) {
      own.times++
      own.lastMs = atMs
    } else
      found.set(key, {
        kind: kind as SignalKind,
        ...{ page, label: words, times: 1, firstMs: atMs, lastMs: atMs },
      })
  }
  return [...found.values()].sort((a, b) => burden(b, weights) - burden(a, weights) || a.firstMs - b.firstMs)
}

type Sentence = SessionStory['sentences'][number]

function cameFor(
  { channel, device, returning }: StoryOf['summary'],
  moments: readonly StoryMoment[],
): Sentence {
  const first = moments.find(({ kind }) => kind === 'page')
  const way = channel.toLowerCase()
  const from = way === 'direct' ? 'Came directly' : way ? `Came by ${way}` : 'Came'
  const on = device
    ? `, on a ${{ desktop: 'desktop', mobile: 'phone', tablet: 'tablet', robot: 'robot', implausible: 'machine' }[device]}`
    : ''
  const known = returning ? ', known from before' : ', for the first time'
  return { text: `${from} to ${first?.page ?? 'the site'}${on}${known}.`, atMs: first?.atMs ?? 0 }
}

function did({ durationMs, pages }: StoryOf['summary'], moments: readonly StoryMoment[]): Sentence[] {
  const views = moments.filter(({ kind, signal }) => kind === 'page' && !signal)
  const spent = new Map<string, { forMs: number; atMs: number }>()
  views.forEach(({ page, atMs }, k) => {
    const forMs = (views[k + 1]?.atMs ?? durationMs) - atMs
    const own = spent.get(page)
    if (own) own.forMs += forMs
    else spent.set(page, { forMs, atMs })
  })
  const sentences: Sentence[] = []
  if (pages > 1) {
    const [longest, { forMs, atMs } = { forMs: 0, atMs: 0 }] =
      [...spent].sort((a, b) => b[1].forMs - a[1].forMs)[0] ?? []
    const most = longest === undefined ? '' : `, longest ${longest} (${lengthWords(forMs)})`
    sentences.push({
      text: `Viewed ${counted(pages, 'page')} in ${lengthWords(durationMs)}${most}.`,
      atMs,
    })
  } else
    sentences.push({ text: `Viewed one page for ${lengthWords(durationMs)}.`, atMs: views[0]?.atMs ?? 0 })
  const fields = moments.filter(({ kind, signal }) => kind === 'input' && !signal)
  const sent = moments.filter(({ kind, signal }) => kind === 'submit' && !signal)
  if (fields.length || sent.length) {
    const filled = fields.length ? `filled in ${counted(fields.length, 'field')}` : ''
    const forms = sent.length ? `sent ${sent.length === 1 ? 'a form' : `a form ${sent.length} times`}` : ''
    const words = [filled, forms].filter(Boolean).join(' and ')
    sentences.push({
      text: `${words[0]!.toUpperCase()}${words.slice(1)}.`,
      atMs: (fields[0] ?? sent[0])!.atMs,
    })
  }
  return sentences
}

function ended(
  { durationMs }: StoryOf['summary'],
  exit: string,
  goal: StoryOf['goal'],
  endedIn?: Trouble,
): Sentence {
  if (goal && !Number.isNaN(goal.atMs)) {
    return { text: `Reached ${goal.name} after ${lengthWords(goal.atMs)}.`, atMs: goal.atMs }
  }
  const without = goal ? ` without ${goal.name}` : ''
  const after = endedIn
    ? `, ${lengthWords(durationMs - endedIn.lastMs)} after ${article(endedIn.kind)} ${endedIn.kind}`
    : ''
  return { text: `Left at ${exit}${without}${after}.`, atMs: durationMs }
}

function nextOf(
  troubles: readonly Trouble[],
  endedIn: Trouble | undefined,
  goal: StoryOf['goal'],
  exit: string,
): SessionStory['next'] {
  const trouble = endedIn ?? troubles[0]
  if (!trouble)
    return goal && Number.isNaN(goal.atMs)
      ? { text: `Where others left from ${exit}`, place: 'page', page: exit }
      : null
  const { kind, page } = trouble
  if (kind === 'script error' || kind === 'failed request' || kind === 'failing click')
    return { text: `How many met this fault, among the errors of ${page}`, place: 'errors', page }
  if (kind === 'failed submit' || kind === 'field trouble')
    return { text: `Where the form on ${page} is given up`, place: 'forms', page }
  if (TECHNICAL_KINDS.includes(kind) || signalTraits(kind).begins !== 'click')
    return { text: `How ${page} does for everybody`, place: 'page', page }
  return { text: `Who else clicked there, on the heat map of ${page}`, place: 'heat map', page }
}

const counted = (n: number, word: string) => `${n === 1 ? 'one' : n} ${word}${n === 1 ? '' : 's'}`

/** A length of time: under two minutes in seconds, else in minutes, from two hours on in hours. */
function lengthWords(ms: number): string {
  const s = Math.round(ms / 1000)
  if (s < 120) return `${s} s`
  const min = Math.round(s / 60)
  return min < 120 ? `${min} min` : `${Math.floor(min / 60)} h ${min % 60} min`
}
