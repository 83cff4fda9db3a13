import {
  closeSync,
  existsSync,
  mkdtempSync,
  openSync,
  readFileSync,
  rmSync,
  statSync,
  writeSync,
} from 'node:fs'
import { join } from 'node:path'
import type { Line } from '@dust-trail/core'

/** Lines that are held in memory; more go to disk. */
const IN_MEMORY = 50_000
/** About how much text each part on disk gets: what is read back at once. */
const PART_BYTES = 8 * 2 ** 20
const MOST_PARTS = 256
/** Files may be compressed: about how much larger what comes out of them is. */
const INFLATED = 4
const BUFFER_LENGTH = 64 * 1024
/** Lines given back at once, where one part has more: those of one visitor may then come in several pieces. */
const MOST_LINES = 200_000

/**
 * Holds lines until all have come and gives them back visitor by visitor: all lines of one visitor lie in one part. Parts
 * are files of a folder that is taken away at the end.
 */
export class LineStore {
  #lines: Line[] = []
  #folder: string | undefined
  #parts: { file: string; handle: number; buffer: string }[] = []
  readonly #count: number

  /**
   * @param folder  where files may be written
   * @param bytes   about how large the whole is
   */
  constructor(
    private readonly folder: string,
    bytes: number,
  ) {
    this.#count = Math.min(MOST_PARTS, Math.max(4, Math.ceil((bytes * INFLATED) / PART_BYTES)))
  }

  /** @param text  the line as JSON, where that is known */
  add(line: Line, text?: string): void {
    if (this.#folder === undefined) {
      this.#lines.push(line)
      if (this.#lines.length > IN_MEMORY) this.#toDisk()
      return
    }
    this.#write(line, text ?? JSON.stringify(line))
  }

  /** All lines, part by part, each line's text where it is known, and which share of all has then been given. */
  *pieces(): Generator<{ lines: Line[]; texts: ReadonlyMap<Line, string>; share: number }> {
    if (this.#folder === undefined) {
      yield { lines: this.#lines, texts: new Map(), share: 1 }
      return
    }
    for (const [k, part] of this.#parts.entries()) {
      writeSync(part.handle, part.buffer)
      closeSync(part.handle)
      part.handle = -1
      if (statSync(part.file).size === 0) continue
      const lines = readFileSync(part.file, 'utf8').split('\n')
      lines.pop()
      for (let from = 0; from < lines.length; from += MOST_LINES) {
        const texts = new Map<Line, string>()
        for (const text of lines.slice(from, from + MOST_LINES)) texts.set(JSON.parse(text) as Line, text)
        yield {
          ...{ lines: [...texts.keys()], texts },
          share: (k + Math.min(1, (from + MOST_LINES) / lines.length)) / this.#parts.length,
        }
      }
      rmSync(part.file)
    }
  }

  close(): void {
    for (const { handle } of this.#parts) if (handle >= 0) closeSync(handle)
    if (this.#folder !== undefined && existsSync(this.#folder)) rmSync(this.#folder, { recursive: true })
  }

  #toDisk(): void {
    const folder = mkdtempSync(join(this.folder, 'lines-'))
    this.#folder = folder
    this.#parts = Array.from({ length: this.#count }, (_, k) => {
      const file = join(folder, String(k))
      return { file, handle: openSync(file, 'w'), buffer: '' }
    })
    for (const line of this.#lines) this.#write(line, JSON.stringify(line))
    this.#lines = []
  }

  #write(line: Line, text: string): void {
    const part = this.#parts[hashOf(line.visitor) % this.#count]!
    part.buffer += `${text}\n`
    if (part.buffer.length < BUFFER_LENGTH) return
    writeSync(part.handle, part.buffer)
    part.buffer = ''
  }
}

/** FNV-1a, 32 bits. */
function hashOf(text: string): number {
  let hash = 0x811c9dc5
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193)
  return hash >>> 0
}
