import type { ClippedRecording } from './clip.ts'
import type { MissingPart } from './types.ts'

/** A session as it is given to somebody without an account: what a page that replays by itself has in it. */
export interface ReplayFile {
  title: string
  timeZone: string
  startMs: number
  endMs: number
  documents: readonly ClippedRecording[]
  /** what happened, milliseconds since the start */
  moments: readonly { atMs: number; kind: string; signal: boolean; page: string; label: string }[]
  missing: readonly MissingPart[]
  /** failures and requests, as lines of the open format */
  lines: readonly ({ t: number; kind: string } & Record<string, unknown>)[]
  /** what happened in sentences */
  story: readonly { text: string; atMs: number | null }[]
  /** pictures and fonts: their hash, and an address that has them in it */
  files: Readonly<Record<string, string>>
  /** where pictures may be fetched from; none: the file is complete in itself */
  pictureOrigins: readonly string[]
}
