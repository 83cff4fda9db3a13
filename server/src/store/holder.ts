import type { Connection } from 'mariadb'
import type { Sequelize } from 'sequelize'
import { QueryTypes } from 'sequelize'

/**
 * The one server that works on a database: it collects, packs, imports and deletes. Who holds the lock holds it by a
 * connection of its own; when the process or its connection ends, the database lets the next one in.
 */
export class DatabaseHolder {
  #connection: Connection | undefined
  #timer: NodeJS.Timeout | undefined
  #stopped = false

  constructor(
    private readonly sequelize: Sequelize,
    private readonly lost: () => void,
    private readonly askEveryMs = 2000,
  ) {}

  /**
   * Takes the lock, once the one before has let go.
   *
   * @param patienceMs  how long to wait
   * @returns false where another server holds it
   */
  async take(patienceMs: number): Promise<boolean> {
    const manager = this.sequelize.connectionManager
    const connection = (await manager.getConnection({ type: 'write' })) as unknown as Connection
    const [row] = await connection.query<{ got: number | bigint | null }[]>(
      "SELECT GET_LOCK(CONCAT('dust-trail ', LEFT(DATABASE(), 50)), ?) AS got",
      [patienceMs / 1000],
    )
    if (Number(row?.got) !== 1) {
      manager.releaseConnection(connection)
      return false
    }
    this.#connection = connection
    this.#watch()
    return true
  }

  /** Lets go. */
  async stop(): Promise<void> {
    this.#stopped = true
    clearTimeout(this.#timer)
    const connection = this.#connection
    this.#connection = undefined
    if (!connection) return
    await connection.query('DO RELEASE_ALL_LOCKS()').catch(() => undefined)
    this.sequelize.connectionManager.releaseConnection(connection)
  }

  /** Asks whether the connection still stands: where it does not, the lock is free, and is taken again. */
  #watch(): void {
    this.#timer = setTimeout(() => void this.#look(), this.askEveryMs).unref()
  }

  async #look(): Promise<void> {
    const connection = this.#connection
    if (this.#stopped) return
    const stands = await connection?.query('SELECT 1').then(
      () => true,
      () => false,
    )
    if (this.#stopped) return
    if (stands) {
      this.#watch()
      return
    }
    if (connection) {
      this.#connection = undefined
      await connection.end().catch(() => undefined)
      this.sequelize.connectionManager.releaseConnection(connection)
    }
    try {
      if (!(await this.take(0))) this.lost()
    } catch {
      // The database is away: as soon as it is back, somebody takes the lock.
      this.#watch()
    }
  }
}

/** What a database must be set to so that what it acknowledged is still there after a crash. */
const DURABLE: Readonly<Record<string, string>> = {
  innodb_flush_log_at_trx_commit: '1',
  innodb_doublewrite: '1',
}

/** Settings of the database under which something acknowledged could be lost; empty where there are none. */
export async function undurable(sequelize: Sequelize): Promise<string[]> {
  const names = Object.keys(DURABLE)
  const [row] = await sequelize.query<Record<string, number | string>>(
    `SELECT ${names.map((name) => `@@GLOBAL.${name} AS ${name}`).join(', ')}`,
    { type: QueryTypes.SELECT },
  )
  return names
    .filter((name) => String(row![name]) !== DURABLE[name])
    .map((name) => `${name} is ${row![name]} and must be ${DURABLE[name]}`)
}
