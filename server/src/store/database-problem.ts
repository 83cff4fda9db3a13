import { ProblemError } from '../problem.ts'

const DISK_FULL = new Set([1021, 1114, 1026, 3, 28])
/** Connections that cannot be had, were lost or were ended by the database. */
const AWAY = new Set([
  1040, 1053, 1077, 1080, 1152, 1927, 2002, 2003, 2006, 2013, 45009, 45012, 45013, 45028, 45038,
])
const AWAY_NAMES = /^Sequelize(Connection|HostNot|AccessDenied|InvalidConnection)/
const AWAY_CODES = new Set(['ECONNREFUSED', 'ECONNRESET', 'EPIPE', 'ENOTFOUND', 'ETIMEDOUT'])

interface DatabaseError {
  name?: string
  errno?: number
  code?: string
  message?: string
  sqlMessage?: string
  parent?: DatabaseError
  cause?: DatabaseError
}

/** The problem that an error of the database is to whoever asked, where it is one that passes; else undefined. */
export function databaseProblem(error: unknown): ProblemError | undefined {
  for (
    let one = error as DatabaseError | undefined, depth = 0;
    one && depth < 5;
    one = one.parent ?? one.cause, depth++
  ) {
    const words = `${one.message ?? ''} ${one.sqlMessage ?? ''}`
    if (
      /Errcode: 28|No space left|disk is full|DISK_FULL/i.test(words) ||
      (one.errno === 1114 && one.code !== undefined) ||
      (one.errno !== undefined && DISK_FULL.has(one.errno) && /disk|space|full|writing/i.test(words))
    )
      return new ProblemError(
        503,
        'disk-full',
        'The disk of the database is full: nothing more can be stored.',
        'Make room on it; it goes on by itself then. Nothing that was acknowledged is lost.',
      )
    if (
      (one.errno !== undefined && AWAY.has(Math.abs(one.errno))) ||
      AWAY_NAMES.test(one.name ?? '') ||
      AWAY_CODES.has(one.code ?? '') ||
      /pool (timeout|is closed)|socket has unexpectedly been closed|connection.*(closed|lost)/i.test(words)
    )
      return new ProblemError(
        503,
        'database-away',
        'The database does not answer.',
        'It is being waited for; nothing that was acknowledged is lost. Try again in a moment.',
      )
  }
  return undefined
}
