import { fileTypeFromBuffer } from 'file-type'
import type { Sequelize } from 'sequelize'
import { QueryTypes } from 'sequelize'
import { sha256 } from './compression.ts'

/** One picture or font may have so many bytes, and one site so many in all. */
export const LARGEST_FILE = 1_000_000
export const FILE_BYTES_PER_SITE = 500 * 2 ** 20

/** What may be kept: what shows or writes, and can do nothing else where it is shown as a picture or used as a font. */
const TYPES = new Set([
  ...['image/png', 'image/apng', 'image/jpeg', 'image/gif', 'image/webp', 'image/avif', 'image/bmp'],
  ...['image/x-icon', 'image/vnd.microsoft.icon', 'font/woff', 'font/woff2', 'font/ttf', 'font/otf'],
])
const SVG =
  /^\uFEFF?\s*(?:<\?xml[^>]*\?>\s*)?(?:<!--[^]*?-->\s*)*(?:<!doctype svg[^>]*>\s*)?(?:<!--[^]*?-->\s*)*<svg[\s>]/i
/** How much of a text is looked at for what it is. */
const HEAD = 4000
const DAY_MS = 86_400_000

/** Of what kind a picture or font is, by its own bytes (what its sender says is not asked); undefined: it is neither. */
export async function fileType(bytes: Uint8Array): Promise<string | undefined> {
  const found = await fileTypeFromBuffer(bytes)
  if (found && TYPES.has(found.mime)) return found.mime
  if (found && found.mime !== 'application/xml') return undefined
  return SVG.test(Buffer.from(bytes.subarray(0, HEAD)).toString()) ? 'image/svg+xml' : undefined
}

export interface KeptFile {
  type: string
  body: Buffer
}

/** Why a file is not taken; undefined: it is kept now. */
export type Refusal = 'hash' | 'type' | 'size' | 'room' | undefined

/**
 * Pictures and fonts of recorded pages, once a site by what is in them. Which address stood for which file is in each recording,
 * since what one visitor's page says must not change what another's shows.
 */
export class KeptFiles {
  /** bytes by site, counted once; what is added since is added */
  readonly #sizes = new Map<number, Promise<number>>()

  constructor(
    private readonly sequelize: Sequelize,
    private readonly bytesPerSite = FILE_BYTES_PER_SITE,
  ) {}

  /** Of some hashes those of which nothing is kept. The others count as used today. */
  async lacking(siteId: number, hashes: readonly string[], nowMs: number): Promise<string[]> {
    if (!hashes.length) return []
    const rows = await this.sequelize.query<{ hash: string; used_ms: number }>(
      'SELECT hash, used_ms FROM kept_files WHERE site_id = ? AND hash IN (?)',
      { replacements: [siteId, [...hashes]], type: QueryTypes.SELECT },
    )
    const old = rows.filter(({ used_ms }) => Number(used_ms) < nowMs - DAY_MS).map(({ hash }) => hash)
    if (old.length)
      await this.sequelize.query('UPDATE kept_files SET used_ms = ? WHERE site_id = ? AND hash IN (?)', {
        replacements: [nowMs, siteId, old],
      })
    const known = new Set(rows.map(({ hash }) => hash))
    return [...new Set(hashes)].filter((hash) => !known.has(hash))
  }

  async keep(siteId: number, hash: string, bytes: Buffer, nowMs: number): Promise<Refusal> {
    if (!bytes.length || bytes.length > LARGEST_FILE) return 'size'
    if (sha256(bytes) !== hash) return 'hash'
    const type = await fileType(bytes)
    if (!type) return 'type'
    const size = await this.#sizeOf(siteId)
    if (size + bytes.length > this.bytesPerSite) return 'room'
    this.#sizes.set(siteId, Promise.resolve(size + bytes.length))
    await this.sequelize.query(
      'INSERT IGNORE INTO kept_files (site_id, hash, type, bytes, used_ms, body) VALUES (?, ?, ?, ?, ?, ?)',
      { replacements: [siteId, hash, type, bytes.length, nowMs, bytes] },
    )
    return undefined
  }

  async read(siteId: number, hash: string): Promise<KeptFile | undefined> {
    const [row] = await this.sequelize.query<KeptFile>(
      'SELECT type, body FROM kept_files WHERE site_id = ? AND hash = ?',
      { replacements: [siteId, hash], type: QueryTypes.SELECT },
    )
    // Damaged, it is no longer what the hash says.
    return row && sha256(row.body) === hash ? row : undefined
  }

  /** Some files as addresses that have them in them, as far as there is room. */
  async inline(siteId: number, hashes: Iterable<string>, mostBytes: number): Promise<Record<string, string>> {
    const found: Record<string, string> = {}
    let left = mostBytes
    for (const hash of new Set(hashes)) {
      const file = await this.read(siteId, hash)
      if (!file || file.body.length > left) continue
      left -= file.body.length
      found[hash] = `data:${file.type};base64,${file.body.toString('base64')}`
    }
    return found
  }

  /** Deletes what no recording since a time has used. */
  async deleteUnused(siteId: number, beforeMs: number): Promise<void> {
    await this.sequelize.query('DELETE FROM kept_files WHERE site_id = ? AND used_ms < ?', {
      replacements: [siteId, beforeMs],
    })
    this.#sizes.delete(siteId)
  }

  #sizeOf(siteId: number): Promise<number> {
    let size = this.#sizes.get(siteId)
    if (!size) {
      size = this.sequelize
        .query<{ n: number | null }>('SELECT SUM(bytes) AS n FROM kept_files WHERE site_id = ?', {
          replacements: [siteId],
          type: QueryTypes.SELECT,
        })
        .then(([row]) => Number(row?.n ?? 0))
      size.catch(() => this.#sizes.delete(siteId))
      this.#sizes.set(siteId, size)
    }
    return size
  }
}
