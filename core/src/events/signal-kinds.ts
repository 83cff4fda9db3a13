import type { Kind } from './line.ts'

/** What is the same of every signal of a kind; signals/detect.ts says how each is found. */
interface SignalTraits {
  /** kind of the line with which it begins */
  begins: Kind
  /** points to a technical fault before a usability problem */
  technical: boolean
  /** what it means, for people */
  means: string
}

/** Kinds of friction. Their order is that of the codes in stored blocks: new ones come last. */
const TRAITS = {
  'rage click': {
    ...{ begins: 'click', technical: false },
    means: 'several clicks, close in time and place, that bring nothing new',
  },
  'dead click': {
    ...{ begins: 'click', technical: false },
    means: 'a click after which nothing happened that a person could see or hear',
  },
  'script error': {
    ...{ begins: 'error', technical: true },
    means: 'a script of the page failed',
  },
  'failed request': {
    ...{ begins: 'request', technical: true },
    means: 'the server did not answer a request, or with an error',
  },
  'not found': {
    begins: 'page',
    technical: true,
    means: 'a page that does not exist, or that the server failed to show',
  },
  'failing click': {
    ...{ begins: 'click', technical: true },
    means: 'a click in whose wake a script failed',
  },
  'near miss': {
    ...{ begins: 'click', technical: false },
    means: 'a click without effect, a few pixels beside a control that was used on the same view',
  },
  'failed submit': {
    ...{ begins: 'submit', technical: false },
    means: 'a form that was sent and not accepted',
  },
  'site signal': {
    ...{ begins: 'signal', technical: false },
    means: 'friction that the site itself reports, such as a rejected code',
  },
  'field trouble': {
    ...{ begins: 'input', technical: false },
    means: 'a field that was corrected again and again, or returned to',
  },
  'turned back': {
    ...{ begins: 'page', technical: false },
    means: 'a page that was left within seconds for the one before it',
  },
  racing: {
    ...{ begins: 'page', technical: false },
    means: 'one page after another, each looked at for a moment',
  },
  combing: {
    ...{ begins: 'scroll', technical: false },
    means: 'a page scrolled down and up again and again, without a click',
  },
  'pointer to the bar': {
    ...{ begins: 'out', technical: false },
    means: 'the pointer left the page towards the browser’s bar',
  },
  'tab hopping': {
    ...{ begins: 'hide', technical: false },
    means: 'the tab was left and come back to several times, as when comparing prices',
  },
  freeze: {
    ...{ begins: 'freeze', technical: true },
    means: 'the page did not answer for a while',
  },
  'slow page': {
    ...{ begins: 'page', technical: true },
    means: 'the largest content of the page took long to come',
  },
  zoom: {
    ...{ begins: 'gesture', technical: false },
    means: 'the page was enlarged to be read or hit',
  },
} as const satisfies Record<string, SignalTraits>

export type SignalKind = keyof typeof TRAITS
export const SIGNAL_KINDS = Object.keys(TRAITS) as [SignalKind, ...SignalKind[]]
export const signalTraits = (kind: SignalKind): SignalTraits => TRAITS[kind]

/** The kinds that point to a technical fault before a usability problem. */
export const TECHNICAL_KINDS: readonly SignalKind[] = SIGNAL_KINDS.filter((kind) => TRAITS[kind].technical)
