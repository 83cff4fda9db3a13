import { createHash, randomBytes } from 'node:crypto'
import type { Said } from '@dust-trail/api'
import type { Sequelize } from 'sequelize'
import { QueryTypes } from 'sequelize'

type Box = Said['notes'][number]['box']

const hashOf = (token: string) => createHash('sha256').update(token).digest('hex')

/** What of a session a link shows. */
export interface Shown {
  siteId: number
  sessionId: string
  fromMs: number
  toMs: number | null
}

/** What people say of sessions, and the links by which they show them to somebody without an account. */
export class SaidOfSessions {
  constructor(private readonly sequelize: Sequelize) {}

  /** @param who  who asks: what they have watched */
  async of(siteId: number, sessionId: string, who: string, nowMs: number): Promise<Said> {
    const [notes, tags, watched, links] = await Promise.all([
      this.#select<
        Record<'id' | 'at_ms' | 'made_ms', number> & Record<'text' | 'who', string> & { box: Box | string }
      >(
        'SELECT id, at_ms, box, text, who, made_ms FROM session_notes WHERE site_id = ? AND session_id = ? ORDER BY at_ms, id',
        [siteId, sessionId],
      ),
      this.#select<{ tag: string }>(
        'SELECT tag FROM session_tags WHERE site_id = ? AND session_id = ? ORDER BY tag',
        [siteId, sessionId],
      ),
      this.#select(
        'SELECT 1 AS watched FROM session_watched WHERE site_id = ? AND session_id = ? AND who = ?',
        [...[siteId, sessionId, who]],
      ),
      this.#select<Record<'id' | 'from_ms' | 'until_ms', number> & { to_ms: number | null; who: string }>(
        'SELECT id, from_ms, to_ms, until_ms, who FROM session_links WHERE site_id = ? AND session_id = ? AND until_ms > ? ORDER BY id',
        [siteId, sessionId, nowMs],
      ),
    ])
    return {
      notes: notes.map(({ id, at_ms, box, text, who: by, made_ms }) => ({
        ...{ id, atMs: at_ms, text, who: by, madeMs: Number(made_ms) },
        box: typeof box === 'string' ? (JSON.parse(box) as Box) : box,
      })),
      tags: tags.map(({ tag }) => tag),
      watched: watched.length > 0,
      links: links.map(({ id, from_ms, to_ms, until_ms, who: by }) => ({
        ...{ id, fromMs: from_ms, toMs: to_ms, untilMs: Number(until_ms), who: by },
      })),
    }
  }

  /** By session what has been said on a site; a person's own of what was watched. */
  async list(siteId: number, who: string) {
    const [watched, tags, noted] = await Promise.all([
      this.#select<{ id: number }>(
        'SELECT session_id AS id FROM session_watched WHERE site_id = ? AND who = ?',
        [...[siteId, who]],
      ),
      this.#select<{ tag: string; id: number }>(
        'SELECT tag, session_id AS id FROM session_tags WHERE site_id = ? ORDER BY tag, session_id',
        [siteId],
      ),
      this.#select<{ id: number }>('SELECT DISTINCT session_id AS id FROM session_notes WHERE site_id = ?', [
        siteId,
      ]),
    ])
    const byTag = new Map<string, string[]>()
    for (const { tag, id } of tags) byTag.set(tag, [...(byTag.get(tag) ?? []), String(id)])
    return {
      watched: watched.map(({ id }) => String(id)),
      tags: [...byTag].map(([tag, sessions]) => ({ tag, sessions })),
      noted: noted.map(({ id }) => String(id)),
    }
  }

  async note(
    siteId: number,
    sessionId: string,
    { atMs, box, text, who, nowMs }: { atMs: number; box: Box; text: string; who: string; nowMs: number },
  ): Promise<void> {
    await this.sequelize.query(
      'INSERT INTO session_notes (site_id, session_id, at_ms, box, text, who, made_ms) VALUES (?, ?, ?, ?, ?, ?, ?)',
      { replacements: [siteId, sessionId, Math.round(atMs), box && JSON.stringify(box), text, who, nowMs] },
    )
  }

  /** @returns false where there is no such note or link of the session */
  async remove(
    from: 'session_notes' | 'session_links',
    siteId: number,
    sessionId: string,
    id: number,
  ): Promise<boolean> {
    const affectedRows = await this.sequelize.query(
      `DELETE FROM ${from} WHERE site_id = ? AND session_id = ? AND id = ?`,
      { replacements: [siteId, sessionId, id], type: QueryTypes.BULKDELETE },
    )
    return affectedRows > 0
  }

  async tag(siteId: number, sessionId: string, tags: readonly string[]): Promise<void> {
    await this.sequelize.transaction(async (transaction) => {
      await this.sequelize.query('DELETE FROM session_tags WHERE session_id = ?', {
        ...{ replacements: [sessionId], transaction },
      })
      for (const tag of new Set(tags))
        await this.sequelize.query(
          'INSERT IGNORE INTO session_tags (site_id, session_id, tag) VALUES (?, ?, ?)',
          {
            ...{ replacements: [siteId, sessionId, tag], transaction },
          },
        )
    })
  }

  async watched(
    siteId: number,
    sessionId: string,
    who: string,
    isWatched: boolean,
    nowMs: number,
  ): Promise<void> {
    await this.sequelize.query(
      isWatched
        ? 'INSERT IGNORE INTO session_watched (site_id, session_id, who, at_ms) VALUES (?, ?, ?, ?)'
        : 'DELETE FROM session_watched WHERE site_id = ? AND session_id = ? AND who = ?',
      { replacements: [siteId, sessionId, who, ...(isWatched ? [nowMs] : [])] },
    )
  }

  /** @returns the token of a new link: it is kept nowhere */
  async link(
    { siteId, sessionId, fromMs, toMs }: Shown,
    { untilMs, who, nowMs }: { untilMs: number; who: string; nowMs: number },
  ): Promise<string> {
    const token = randomBytes(24).toString('base64url')
    await this.sequelize.query(
      `INSERT INTO session_links (site_id, session_id, hash, from_ms, to_ms, until_ms, who, made_ms)
       VALUES (?, ?, ?, ?, ?, ?, ?, ?)`,
      { replacements: [siteId, sessionId, hashOf(token), fromMs, toMs, untilMs, who, nowMs] },
    )
    return token
  }

  /** What a link shows; undefined where there is none, or its time is over. */
  async shown(token: string, nowMs: number): Promise<Shown | undefined> {
    const [row] = await this.#select<
      Record<'site_id' | 'session_id' | 'from_ms', number> & { to_ms: number | null }
    >('SELECT site_id, session_id, from_ms, to_ms FROM session_links WHERE hash = ? AND until_ms > ?', [
      hashOf(token),
      nowMs,
    ])
    return (
      row && {
        ...{ siteId: row.site_id, sessionId: String(row.session_id) },
        ...{ fromMs: row.from_ms, toMs: row.to_ms },
      }
    )
  }

  #select<Row extends object>(sql: string, replacements: unknown[]): Promise<Row[]> {
    return this.sequelize.query<Row>(sql, { replacements, type: QueryTypes.SELECT })
  }
}
