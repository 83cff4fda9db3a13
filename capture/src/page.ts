import type { Effect, SentLine } from '@dust-trail/core'
import type { Causes } from './causes.ts'

/** Calls back once with what came of a click or of sending a form; undefined: it cannot be told. */
export type Verdict = (effect: Effect | undefined) => void

/** What of a recording others tell. */
export interface Recording {
  begin: (startMs: number) => void
  stop: () => void
  page: (url: string, title: string) => void
  pointer: (x: number, y: number, over: EventTarget | null) => void
  click: (node: Element, x: number, y: number, touch: boolean) => void
  viewport: () => void
  input: (field: Element, length: number) => void
  visibility: (hidden: boolean) => void
  /** writes down what has been seen but not yet reported */
  flush: () => void
}

/** What comes of clicks, and how the page looked. */
export interface ClickEffects {
  recording: Recording | undefined
  after: (event: Event, verdict: Verdict) => void
  /** something happened that is known to be seen or heard */
  happened: (effect: 'change' | 'navigate') => void
  /** a request begins; gives back what tells that it has ended */
  request: (path: string) => () => void
}

/** The page that is being watched, for those who watch one thing each. */
export interface Page {
  /** sends a line, now unless it says when; gives back what will leave the page, which may be added to for a moment */
  send: (line: Omit<SentLine, 't'> & { t?: number }) => SentLine
  /** the visitor does something: begins anew where a session has ended meanwhile */
  awake: () => void
  effects: ClickEffects
  causes: Causes
}
