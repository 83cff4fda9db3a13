import type { AnyQuestion } from '@dust-trail/core'
import type { Needs, Role } from '@dust-trail/api'
import { allNeeds, endpointFinder, mayAs } from '@dust-trail/api'
import { parseCookie } from 'cookie'
import type { Request, RequestHandler, Response } from 'express'
import type { Engines } from '../engine/engines.ts'
import { ProblemError } from '../problem.ts'
import { withoutVisitor } from '../request-log.ts'
import type { Audit } from './audit.ts'
import type { Account, People } from './people.ts'

export const LOGIN_COOKIE = 'dust_trail'

/** Who asks. */
export interface Asker {
  /** as the audit log names them */
  who: string
  account: Account | null
  /** by id of the site; null: owner of all, since there is no account yet and this is their computer */
  roles: ReadonlyMap<number, Role> | null
  /** what the browser keeps */
  login: string | null
}

const askers = new WeakMap<Request, Asker>()

/** Who asks this; undefined where nobody is signed in. */
export const askerOf = (request: Request): Asker | undefined => askers.get(request)

const LOOPBACK = new Set(['127.0.0.1', '::1', '::ffff:127.0.0.1'])

/** Finds out who asks: by token, by what the browser keeps, or since they sit at this computer and there is no account yet. */
export function knowAsker(people: People): RequestHandler {
  return async (request, _response, next) => {
    const asker = await whoAsks(people, request)
    if (asker) askers.set(request, asker)
    next()
  }
}

/** Who asks this, by what the request brings along. */
export async function whoAsks(people: People, request: Request): Promise<Asker | undefined> {
  const nowMs = Date.now()
  const token = /^Bearer (dt_[\w-]{20,100})$/.exec(request.headers.authorization ?? '')?.[1]
  if (token) {
    const found = await people.byToken(token, nowMs)
    return (
      found && {
        ...{ who: `token “${found.name}”`, account: null, login: null },
        roles: new Map([[found.siteId, found.role]]),
      }
    )
  }
  // A token that is no good is not somebody else.
  if (request.headers.authorization?.startsWith('Bearer ')) return undefined
  if (!(await people.any()))
    return isHere(request)
      ? { who: 'anybody on this computer', account: null, roles: null, login: null }
      : undefined
  const login = parseCookie(request.headers.cookie ?? '')[LOGIN_COOKIE]
  const account = login ? await people.signedIn(login, nowMs) : undefined
  if (!login || !account) return undefined
  return { who: account.email, account, roles: await people.rolesOf(account.id), login }
}

/** Whether a request comes from this computer, and not from elsewhere through a proxy on it. */
export function isHere({ socket, headers }: Request): boolean {
  const isForwarded = ['forwarded', 'x-forwarded-for', 'x-real-ip', 'via'].some(
    (name) => headers[name] !== undefined,
  )
  return !isForwarded && LOOPBACK.has(socket.remoteAddress ?? '')
}

/** The role of somebody on a site; undefined where they have none. */
export function roleOn({ roles }: Asker, siteId: number): Role | undefined {
  return roles === null ? 'owner' : roles.get(siteId)
}

/**
 * Lets through only who may do what is asked: every endpoint says what it needs, and what is none needs what is like it. What
 * was changed is noted. A site on which one has no role is not there.
 */
export function guard(engines: Engines, audit: Audit, questions?: readonly AnyQuestion[]): RequestHandler {
  const find = endpointFinder(allNeeds(questions))
  return (request, response, next) => {
    const { method, path } = request
    const endpoint = find(method, path)
    const asker = askerOf(request)
    const site = engines.get(decoded(/^\/sites\/([^/]+)/.exec(path)?.[1]))
    if (endpoint.needs !== 'nobody') allow(asker, endpoint.needs, site?.row.id, path)
    const changes = method !== 'GET' && method !== 'HEAD' && endpoint.needs !== 'reader'
    if (changes)
      response.once('finish', () => {
        if (response.statusCode >= 400) return
        audit.note({
          ...{
            siteId: site?.row.id ?? null,
            atMs: Date.now(),
            who: nameOf(response) ?? asker?.who ?? 'nobody',
          },
          ...{ what: endpoint.name, path: withoutVisitor(path), address: request.ip ?? '' },
        })
      })
    next()
  }
}

/** Who has come in with this very request. */
const nameOf = ({ locals }: Response): string | undefined => locals['entered'] as string | undefined

function allow(
  asker: Asker | undefined,
  needed: Exclude<Needs, 'nobody'>,
  siteId: number | undefined,
  path: string,
): void {
  if (!asker)
    throw new ProblemError(
      401,
      'sign-in',
      'Nobody is signed in.',
      'Sign in; programs send a token as “Authorization: Bearer …”.',
    )
  if (needed === 'signed in') return
  if (needed === 'administrator') {
    if (asker.roles === null || asker.account?.administrator) return
    throw new ProblemError(403, 'no-role', 'Only an administrator makes sites.', 'Ask one of yours.')
  }
  // Where nothing is at the address that is said further on.
  if (siteId === undefined && asker.roles === null) return
  const role = siteId === undefined ? undefined : roleOn(asker, siteId)
  // Whoever has no role on a site does not learn whether it is there.
  if (role === undefined)
    throw new ProblemError(
      404,
      'not-found',
      `There is no site at ${path.split('/').slice(0, 3).join('/')}.`,
      'Check the address.',
    )
  if (!mayAs(role, needed))
    throw new ProblemError(
      403,
      'no-role',
      `This takes the role ${needed}; yours on this site is ${role}.`,
      'An owner of the site gives roles, in Setup.',
    )
}

function decoded(text: string | undefined): string {
  try {
    return decodeURIComponent(text ?? '')
  } catch {
    return ''
  }
}
