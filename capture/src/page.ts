import type { SentLine } from '@dust-trail/core'
import type { Causes } from './causes.ts'
import type { MoreSoon } from './more-soon.ts'
import type { Recorder } from './recorder.ts'

/** The page that is being watched, for those who watch one thing each. */
export interface Page {
  /** sends a line, now unless it says when; gives back what will leave the page, which may be added to for a moment */
  send: (line: Omit<SentLine, 't'> & { t?: number }) => SentLine
  /** the visitor does something: begins anew where a session has ended meanwhile */
  awake: () => void
  effects: MoreSoon
  causes: Causes
  recorder: Recorder
}
