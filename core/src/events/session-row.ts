import type { Channel } from './channel.ts'
import type { Device, Line } from './line.ts'
import type { TrafficClass } from './traffic.ts'

/** One session as it comes from storage: who, on what, and its lines in order of time. */
export interface SessionRow {
  /** a whole number above 0 */
  id: number
  visitor: string
  returning: boolean
  device: Device
  /** what it is where it is no person's */
  traffic?: TrafficClass | undefined
  country?: string | undefined
  channel: Channel
  source?: string | undefined
  campaign?: string | undefined
  lines: readonly Line[]
}
