import type * as scrubber from '../../privacy/scrubber.ts'
import type * as shown from '../../privacy/shown.ts'

/** What of the first part decides what may leave: it knows what was typed, and what the site's owner has set. */
export type Privacy = Pick<
  typeof scrubber & typeof shown,
  | 'bullets'
  | 'clean'
  | 'cleanAddress'
  | 'cleanError'
  | 'cleanTitle'
  | 'decoded'
  | 'isData'
  | 'levelNow'
  | 'blockOf'
  | 'choiceOf'
  | 'isBlock'
  | 'isChoice'
  | 'isField'
  | 'isMask'
  | 'isMasked'
  | 'isShown'
  | 'isStructureOnly'
  | 'isTelling'
  | 'safeText'
>

/** The first part's own; there before anything is recorded. */
export const privacy = {} as Privacy
