import type { Role } from '@dust-trail/api'
import { QueryTypes } from 'sequelize'
import type { Sequelize } from 'sequelize'
import { hashOf, isPassword, newSecret, passwordHash } from './secrets.ts'

const DAY_MS = 86_400_000
/** How long one stays signed in without coming back. */
export const LOGIN_MS = 30 * DAY_MS
const INVITATION_MS = 7 * DAY_MS
const RESET_MS = 3_600_000

export interface Account {
  id: number
  email: string
  name: string
  passwordHash: string
  totpSecret: string | null
  totpOn: boolean
  totpUsed: number
  administrator: boolean
}

interface AccountRow {
  id: number
  email: string
  name: string
  password_hash: string
  totp_secret: string | null
  totp_on: number
  totp_used: number | bigint
  administrator: number
}

/** A link that came by mail. */
export interface MailLink {
  kind: 'invite' | 'reset'
  email: string
  siteId: number | null
  role: Role | null
}

/** Accounts and what belongs to them, in the database. */
export class People {
  #any: boolean | undefined

  constructor(private readonly sequelize: Sequelize) {}

  /** Whether there is an account at all. */
  async any(): Promise<boolean> {
    // Accounts come and are never all gone.
    if (!this.#any) this.#any = (await this.#rows('SELECT id FROM accounts LIMIT 1')).length > 0
    return this.#any
  }

  async byEmail(email: string): Promise<Account | undefined> {
    return this.#account('SELECT * FROM accounts WHERE email = ?', [email])
  }

  async byId(id: number): Promise<Account | undefined> {
    return this.#account('SELECT * FROM accounts WHERE id = ?', [id])
  }

  async create(
    {
      email,
      name,
      password,
      administrator,
    }: { email: string; name: string; password: string; administrator: boolean },
    nowMs: number,
  ): Promise<number> {
    const hash = await passwordHash(password)
    const [id] = await this.sequelize.query(
      'INSERT INTO accounts (email, name, password_hash, administrator, made_ms) VALUES (?, ?, ?, ?, ?)',
      { replacements: [email, name, hash, administrator ? 1 : 0, nowMs], type: QueryTypes.INSERT },
    )
    this.#any = true
    return Number(id)
  }

  /** Whether a password is that of an account; takes as long where there is no such account. */
  async isPassword(account: Account | undefined, password: string): Promise<boolean> {
    if (account) return isPassword(password, account.passwordHash)
    await passwordHash(password)
    return false
  }

  /** Sets a password, and signs the account out everywhere. */
  async setPassword(accountId: number, password: string): Promise<void> {
    await this.#write('UPDATE accounts SET password_hash = ? WHERE id = ?', [
      await passwordHash(password),
      accountId,
    ])
    await this.signOutEverywhere(accountId)
  }

  async setTotp(accountId: number, secret: string | null, on: boolean): Promise<void> {
    await this.#write('UPDATE accounts SET totp_secret = ?, totp_on = ? WHERE id = ?', [
      secret,
      on ? 1 : 0,
      accountId,
    ])
  }

  /** Notes the step of a code; false where it, or a later one, was used already. */
  async useTotpStep(accountId: number, step: number): Promise<boolean> {
    const [, changed] = await this.sequelize.query(
      'UPDATE accounts SET totp_used = ? WHERE id = ? AND totp_used < ?',
      { replacements: [step, accountId, step], type: QueryTypes.UPDATE },
    )
    return changed > 0
  }

  /** Signs an account in; what is given is kept by the browser alone. */
  async signIn(accountId: number, nowMs: number): Promise<string> {
    const secret = newSecret()
    await this.#write('DELETE FROM logins WHERE until_ms < ?', [nowMs])
    await this.#write('INSERT INTO logins (hash, account_id, until_ms) VALUES (?, ?, ?)', [
      hashOf(secret),
      accountId,
      nowMs + LOGIN_MS,
    ])
    await this.#write('UPDATE accounts SET seen_ms = ? WHERE id = ?', [nowMs, accountId])
    return secret
  }

  async signedIn(secret: string, nowMs: number): Promise<Account | undefined> {
    return this.#account(
      'SELECT accounts.* FROM logins JOIN accounts ON accounts.id = logins.account_id WHERE hash = ? AND until_ms > ?',
      [hashOf(secret), nowMs],
    )
  }

  async signOut(secret: string): Promise<void> {
    await this.#write('DELETE FROM logins WHERE hash = ?', [hashOf(secret)])
  }

  async signOutEverywhere(accountId: number): Promise<void> {
    await this.#write('DELETE FROM logins WHERE account_id = ?', [accountId])
  }

  /** Roles of an account by id of the site. */
  async rolesOf(accountId: number): Promise<Map<number, Role>> {
    const rows = await this.#rows<{ site_id: number; role: Role }>(
      'SELECT site_id, role FROM roles WHERE account_id = ?',
      [accountId],
    )
    return new Map(rows.map(({ site_id, role }) => [site_id, role]))
  }

  async setRole(accountId: number, siteId: number, role: Role): Promise<void> {
    await this.#write(
      'INSERT INTO roles (account_id, site_id, role) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE role = VALUES(role)',
      [accountId, siteId, role],
    )
  }

  /** Takes somebody off a site, with what they kept there for themselves alone. */
  async removeRole(accountId: number, siteId: number): Promise<void> {
    await this.#write('DELETE FROM roles WHERE account_id = ? AND site_id = ?', [accountId, siteId])
    await this.#write('DELETE FROM trails WHERE account_id = ? AND site_id = ?', [accountId, siteId])
  }

  async ofSite(siteId: number) {
    const rows = await this.#rows<AccountRow & { role: Role; seen_ms: number | bigint | null }>(
      'SELECT accounts.*, roles.role FROM roles JOIN accounts ON accounts.id = roles.account_id WHERE site_id = ? ORDER BY accounts.name, accounts.id',
      [siteId],
    )
    return rows.map(({ id, email, name, role, totp_on, seen_ms }) => ({
      ...{ id, email, name, role, secondFactor: totp_on === 1 },
      seenMs: seen_ms === null ? null : Number(seen_ms),
    }))
  }

  /** A link to be sent by mail: an invitation to a site, or to set a new password. */
  async newLink({ kind, email, siteId, role }: MailLink, nowMs: number): Promise<string> {
    const secret = newSecret()
    const untilMs = nowMs + (kind === 'invite' ? INVITATION_MS : RESET_MS)
    await this.#write(
      'DELETE FROM mail_links WHERE until_ms < ? OR (kind = ? AND email = ? AND site_id <=> ?)',
      [...[nowMs, kind, email, siteId]],
    )
    await this.#write(
      'INSERT INTO mail_links (hash, kind, email, site_id, role, until_ms) VALUES (?, ?, ?, ?, ?, ?)',
      [hashOf(secret), kind, email, siteId, role, untilMs],
    )
    return secret
  }

  /** What a link is for; it is good once. */
  async takeLink(secret: string, nowMs: number): Promise<MailLink | undefined> {
    const [row] = await this.#rows<{
      kind: MailLink['kind']
      email: string
      site_id: number | null
      role: Role | null
    }>('SELECT * FROM mail_links WHERE hash = ? AND until_ms > ?', [hashOf(secret), nowMs])
    const [, gone] = await this.sequelize.query('DELETE FROM mail_links WHERE hash = ?', {
      replacements: [hashOf(secret)],
      type: QueryTypes.UPDATE,
    })
    // Of two that take it at once one finds it gone.
    return row && gone > 0
      ? { kind: row.kind, email: row.email, siteId: row.site_id, role: row.role }
      : undefined
  }

  async invited(siteId: number, nowMs: number) {
    const rows = await this.#rows<{ email: string; role: Role; until_ms: number | bigint }>(
      "SELECT email, role, until_ms FROM mail_links WHERE site_id = ? AND kind = 'invite' AND until_ms > ? ORDER BY email",
      [siteId, nowMs],
    )
    return rows.map(({ email, role, until_ms }) => ({ email, role, untilMs: Number(until_ms) }))
  }

  async newToken(
    siteId: number,
    { name, role, days }: { name: string; role: Role; days: number },
    madeBy: string,
    nowMs: number,
  ): Promise<string> {
    const token = `dt_${newSecret()}`
    await this.#write(
      'INSERT INTO tokens (hash, site_id, role, name, made_by, made_ms, until_ms) VALUES (?, ?, ?, ?, ?, ?, ?)',
      [hashOf(token), siteId, role, name, madeBy, nowMs, nowMs + days * DAY_MS],
    )
    return token
  }

  async tokensOf(siteId: number) {
    const rows = await this.#rows<{
      id: number
      name: string
      role: Role
      made_by: string
      made_ms: number | bigint
      until_ms: number | bigint
      used_ms: number | bigint | null
    }>('SELECT * FROM tokens WHERE site_id = ? ORDER BY id DESC', [siteId])
    return rows.map((row) => ({
      ...{ id: row.id, name: row.name, role: row.role, madeBy: row.made_by, madeMs: Number(row.made_ms) },
      ...{ untilMs: Number(row.until_ms), usedMs: row.used_ms === null ? null : Number(row.used_ms) },
    }))
  }

  async deleteToken(siteId: number, id: number): Promise<boolean> {
    const [, gone] = await this.sequelize.query('DELETE FROM tokens WHERE site_id = ? AND id = ?', {
      replacements: [siteId, id],
      type: QueryTypes.UPDATE,
    })
    return gone > 0
  }

  async byToken(
    token: string,
    nowMs: number,
  ): Promise<{ name: string; siteId: number; role: Role } | undefined> {
    const [row] = await this.#rows<{ id: number; name: string; site_id: number; role: Role }>(
      'SELECT id, name, site_id, role FROM tokens WHERE hash = ? AND until_ms > ?',
      [hashOf(token), nowMs],
    )
    if (!row) return undefined
    // To the minute: a program may ask many times a second.
    await this.#write('UPDATE tokens SET used_ms = ? WHERE id = ? AND (used_ms IS NULL OR used_ms < ?)', [
      ...[nowMs, row.id, nowMs - 60_000],
    ])
    return { name: row.name, siteId: row.site_id, role: row.role }
  }

  async #account(sql: string, replacements: unknown[]): Promise<Account | undefined> {
    const [row] = await this.#rows<AccountRow>(sql, replacements)
    return (
      row && {
        ...{ id: row.id, email: row.email, name: row.name, passwordHash: row.password_hash },
        ...{ totpSecret: row.totp_secret, totpOn: row.totp_on === 1, totpUsed: Number(row.totp_used) },
        administrator: row.administrator === 1,
      }
    )
  }

  #rows<Row extends object>(sql: string, replacements: unknown[] = []): Promise<Row[]> {
    return this.sequelize.query<Row>(sql, { replacements, type: QueryTypes.SELECT })
  }

  async #write(sql: string, replacements: unknown[]): Promise<void> {
    await this.sequelize.query(sql, { replacements })
  }
}
