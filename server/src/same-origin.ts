import type { RequestHandler } from 'express'
import { isIP } from 'node:net'
import { ProblemError } from './problem.ts'

const LOOPBACK = new Set(['localhost', '127.0.0.1', '::1'])

/** The name in a Host header, without port and brackets; undefined where it is none. */
function hostName(host: string | undefined): string | undefined {
  try {
    return host === undefined ? undefined : new URL(`http://${host}`).hostname.replace(/^\[|\]$/g, '')
  } catch {
    return undefined
  }
}

/**
 * Lets through only what was meant for this server. A page of another site can have a name of its own lead to this address
 * and then read everything (DNS rebinding): so a name must be known. Addresses in numbers cannot be claimed that way.
 *
 * @param publicUrl  under which people reach it, where that is not this computer alone
 */
export function knownHost(publicUrl?: string): RequestHandler {
  const own = publicUrl === undefined ? undefined : new URL(publicUrl).hostname.replace(/^\[|\]$/g, '')
  return ({ headers }, _response, next) => {
    const name = hostName(headers.host)
    if (name !== undefined && (LOOPBACK.has(name) || isIP(name) !== 0 || name === own)) next()
    else
      next(
        new ProblemError(
          421,
          'unknown-host',
          `This server is not called ${name ?? 'so'}.`,
          'Use its own address, or set PUBLIC_URL to the one under which people reach it.',
        ),
      )
  }
}

/**
 * Refuses what the pages of other sites ask for in the name of whoever looks at them: by Origin, and by Fetch Metadata where
 * the browser tells it. Programs send neither.
 *
 * @see W3C Fetch Metadata Request Headers; OWASP Cross-Site Request Forgery Prevention (both from memory)
 */
export function fromHere(publicUrl?: string): RequestHandler {
  const own = publicUrl === undefined ? undefined : new URL(publicUrl).host
  return ({ headers }, _response, next) => {
    const site = headers['sec-fetch-site']
    const isOther = site !== undefined && site !== 'same-origin' && site !== 'none'
    if (!isOther && (headers.origin === undefined || isOwn(headers.origin, headers.host, own))) next()
    else
      next(
        new ProblemError(
          403,
          'other-site',
          'This was asked for by a page of another site.',
          'Open Dust Trail itself; programs ask without an Origin header.',
        ),
      )
  }
}

function isOwn(origin: string, host: string | undefined, own: string | undefined): boolean {
  try {
    const asked = new URL(origin).host
    return asked === host || asked === own
  } catch {
    return false
  }
}
