import type { Line } from '../events/line.ts'
import type { RecordItem, Snapshot } from './types.ts'

/** A line as it leaves the page: who the visitor is, the batch says once. */
export type SentLine = Omit<Line, 'visitor'>

/**
 * What the capture script sends at once: one numbered piece of one loaded document. Who receives it takes lines for
 * anything at first, since one that is wrong is put aside and the others count.
 */
export interface Batch<L = SentLine> {
  v: 1
  site: string
  visitor: string
  /** one loaded document; batches of a document are numbered from 0 */
  document: string
  n: number
  /** where it carries a recording: which piece of the document's recording, from 0; one that never comes is known by it */
  piece?: number | undefined
  tab: string
  /** when the document began, and when this was sent, milliseconds since 1970 by the visitor's clock */
  startMs: number
  sentMs: number
  lines: L[]
  items: RecordItem[]
  snapshot?: Snapshot | undefined
}
