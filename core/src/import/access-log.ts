import { readAgent } from './user-agents.ts'
import type { LineRead } from './read-line.ts'
import { readLine } from './read-line.ts'

/** The fields of one line of a web server's log in the combined format; null where it has a dash. */
export interface LogEntry {
  host: string
  ident: string | null
  user: string | null
  epochSeconds: number
  request: string | null
  method: string | null
  path: string | null
  protocol: string | null
  status: number
  bytes: number | null
  referer: string | null
  userAgent: string | null
}

const QUOTED = String.raw`"((?:[^"\\]|\\.)*)"`
const COMBINED = new RegExp(
  String.raw`^(\S+) (\S+) (.+?) \[(\d{2})/(\w{3})/(\d{4}):(\d{2}):(\d{2}):(\d{2}) ([+-])(\d{2})(\d{2})\] ${QUOTED} (\d{3}) (\d+|-) ${QUOTED} ${QUOTED}\s*$`,
)
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']

/**
 * Reads one line of the NCSA combined log format.
 *
 * @returns undefined where the line has another form
 * @see Apache HTTP Server 2.4 documentation, "Log Files", Combined Log Format
 */
export function parseCombinedLog(text: string): LogEntry | undefined {
  const match = COMBINED.exec(text)
  if (!match) return undefined
  const [
    ,
    host,
    ident,
    user,
    day,
    monthName,
    year,
    hour,
    minute,
    second,
    sign,
    zoneHours,
    zoneMinutes,
    asked,
    status,
    bytes,
    referer,
    agent,
  ] = match as unknown as string[]
  const month = MONTHS.indexOf(monthName!)
  if (month === -1) return undefined
  const offset = (sign === '-' ? -1 : 1) * (Number(zoneHours) * 60 + Number(zoneMinutes)) * 60
  const local =
    Date.UTC(Number(year), month, Number(day), Number(hour), Number(minute), Number(second)) / 1000
  const request = dash(unescaped(asked!))
  const parts = request === null ? null : /^(\S+) (\S+)(?: (\S+))?$/.exec(request)
  return {
    host: host!,
    ident: dash(ident!),
    user: dash(user!),
    epochSeconds: local - offset,
    request,
    method: parts?.[1] ?? null,
    path: parts?.[2] ?? null,
    protocol: parts?.[3] ?? null,
    status: Number(status),
    bytes: bytes === '-' ? null : Number(bytes),
    referer: dash(unescaped(referer!)),
    userAgent: dash(unescaped(agent!)),
  }
}

/** Why a log entry is no page view of a visitor. */
export const LOG_SKIPS = ['a robot', 'an asset', 'not a page request', 'a redirect or empty answer'] as const
export type LogSkip = (typeof LOG_SKIPS)[number]

const ASSET =
  /\.(?:css|m?js|map|json|xml|txt|ico|png|jpe?g|gif|svg|webp|avif|woff2?|ttf|otf|eot|mp4|webm|mp3|pdf|zip|gz|webmanifest)$/i

/**
 * A log entry as a page view, or why it is none. Common practice, no source: robots by their user agent (the list of the
 * package isbot) or lack of one, assets
 * by their ending, and only GET requests answered with a page (200 to 299, or not found and server errors).
 * A visitor is an address together with its browser; neither is kept, only what the caller makes of both.
 *
 * @param visitorOf  a name for both from which neither can be found again, such as a keyed hash
 */
export function readLogEntry(
  entry: LogEntry,
  visitorOf: (who: string) => string,
): LineRead | { skip: LogSkip } {
  if (entry.userAgent === null || readAgent(entry.userAgent).isRobot) return { skip: 'a robot' }
  if (entry.method !== 'GET' || entry.path === null) return { skip: 'not a page request' }
  if (ASSET.test(entry.path.split(/[?#]/, 1)[0]!)) return { skip: 'an asset' }
  const answered = (entry.status >= 200 && entry.status < 300 && entry.status !== 204) || entry.status >= 400
  if (!answered) return { skip: 'a redirect or empty answer' }
  return readLine({
    visitor: `log-${visitorOf(`${entry.host} ${entry.userAgent}`)}`,
    t: entry.epochSeconds * 1000,
    kind: 'page',
    url: entry.path.slice(0, 2048),
    status: entry.status,
    device: readAgent(entry.userAgent).device,
    ...(entry.referer !== null && { referrer: entry.referer.slice(0, 2048) }),
  })
}

function dash(text: string): string | null {
  return text === '-' ? null : text
}

function unescaped(text: string): string {
  return text.replaceAll(/\\(.)/g, '$1')
}
