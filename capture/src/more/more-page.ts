import type { describe } from '../describe.ts'
import type { lengthOf } from '../fields.ts'
import type { made } from '../made.ts'
import type { Page } from '../page.ts'
import type { Privacy } from './recording/privacy.ts'
import type { Sink } from './recording/recorder.ts'

/** What this part has of the first one: it knows nothing itself of what was typed and what may be seen. */
export interface MorePage extends Pick<Page, 'send' | 'causes'> {
  describe: typeof describe
  privacy: Privacy
  lengthOf: typeof lengthOf
  /** where the recording goes */
  sink: Sink
  /** drawings may leave the page */
  drawings: boolean
  /** where pictures and fonts are kept; undefined: nowhere */
  files: string | undefined
  made: typeof made
  /** asks for a file of the page */
  ask: typeof fetch
  /** the page has changed */
  changed: () => void
  /** it has begun anew in the same document */
  replaced: () => void
  /** a page in a frame of the same site is part of this one */
  pageIn: (page: Document) => void
  /** a shadow tree that tells nobody around it what happens inside */
  treeIn: (tree: ShadowRoot) => void
}
