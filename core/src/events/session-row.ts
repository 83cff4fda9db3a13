import type { Channel } from './channel.ts'
import type { Device, Line } from './line.ts'

/** One session as it comes from storage: who, on what, and its lines in order of time. */
export interface SessionRow {
  /** a whole number above 0 */
  id: number
  visitor: string
  returning: boolean
  device: Device
  country?: string | undefined
  channel: Channel
  source?: string | undefined
  campaign?: string | undefined
  lines: readonly Line[]
}
