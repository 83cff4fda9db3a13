import type { Me, Role } from '@dust-trail/api'
import {
  askReset,
  beginSecondFactor,
  changePassword,
  createFirstAccount,
  createToken,
  deleteToken,
  getMe,
  invitePerson,
  listAudit,
  listPeople,
  listTokens,
  removePerson,
  setRole,
  setSecondFactor,
  signIn,
  signOut,
  takeMailLink,
} from '@dust-trail/api'
import { stringifySetCookie } from 'cookie'
import type { Request, Response } from 'express'
import { Router } from 'express'
import type { Engines } from '../engine/engines.ts'
import type { Audit } from '../people/audit.ts'
import type { Asker } from '../people/guard.ts'
import { askerOf, LOGIN_COOKIE } from '../people/guard.ts'
import type { Mail } from '../people/mail.ts'
import type { Account, People } from '../people/people.ts'
import { LOGIN_MS } from '../people/people.ts'
import { newTotpSecret, totpStep } from '../people/secrets.ts'
import { SlowDown } from '../people/slow-down.ts'
import { notFound, ProblemError } from '../problem.ts'
import { handle, idOf, siteOf } from './endpoint-handler.ts'

interface Parts {
  people: People
  audit: Audit
  mail: Mail
  engines: Engines
  /** under which people reach it, where that is not this computer alone */
  publicUrl: string | undefined
  collectUrl: string | undefined
}

/** Accounts, roles, tokens, and who did what. */
export function peopleRoutes({ people, audit, mail, engines, publicUrl, collectUrl }: Parts): Router {
  const router = Router()
  const slow = new SlowDown()
  const secure = publicUrl?.startsWith('https:') === true
  const here = (request: Request) => publicUrl ?? `http://${request.headers.host}`

  const meOf = (asker: Asker | undefined): Me => {
    const roles: [string, Role][] = engines.all().flatMap(({ row }): [string, Role][] => {
      const role = asker && (asker.roles === null ? 'owner' : asker.roles.get(row.id))
      return role ? [[row.key, role]] : []
    })
    const account = asker?.account
    return {
      account: account ? { email: account.email, name: account.name, secondFactor: account.totpOn } : null,
      anybody: asker?.roles === null,
      administrator: asker?.roles === null || account?.administrator === true,
      roles: Object.fromEntries(roles),
      collectUrl: collectUrl ?? null,
    }
  }
  const keep = (response: Response, login: string | null) =>
    response.append(
      'set-cookie',
      stringifySetCookie({
        ...{ name: LOGIN_COOKIE, value: login ?? '', httpOnly: true, sameSite: 'lax', secure, path: '/' },
        maxAge: login === null ? 0 : LOGIN_MS / 1000,
      }),
    )
  const enter = async (response: Response, account: Account, nowMs: number) => {
    const login = await people.signIn(account.id, nowMs)
    response.locals['entered'] = account.email
    keep(response, login)
    return meOf({ who: account.email, account, roles: await people.rolesOf(account.id), login })
  }
  const accountOf = (request: Request): Account => {
    const account = askerOf(request)?.account
    if (!account)
      throw new ProblemError(
        403,
        'no-account',
        'This is for somebody with an account.',
        'Sign in with yours.',
      )
    return account
  }
  const ownSlow = (request: Request, email: string) => [`address ${request.ip}`, `account ${email}`]
  const patience = (keys: string[], nowMs: number) => {
    const waitMs = slow.waitMs(keys, nowMs)
    if (waitMs > 0)
      throw new ProblemError(
        429,
        'slow-down',
        'There were too many tries.',
        `Try again in ${Math.ceil(waitMs / 1000)} seconds, or ask for a new password.`,
      )
  }
  /** Checks what was typed; tells nobody which part was wrong, nor whether there is such an account. */
  const check = async (
    request: Request,
    account: Account | undefined,
    email: string,
    password: string,
    nowMs: number,
  ) => {
    const keys = ownSlow(request, email)
    patience(keys, nowMs)
    // Counted before it is looked at: tries that come at once do not escape it.
    slow.failed(keys, nowMs)
    if (!(await people.isPassword(account, password)) || !account) {
      audit.note({
        ...{ siteId: null, atMs: nowMs, who: email, what: 'sign-in failed', path: '/sign-in' },
        address: request.ip ?? '',
      })
      throw new ProblemError(
        401,
        'wrong-password',
        'The address or the password is wrong.',
        'Try again, or ask for a new password.',
      )
    }
    return { account, keys }
  }
  const checkCode = async (account: Account, code: string | undefined, nowMs: number) => {
    const wrong = (detail: string) =>
      new ProblemError(401, 'code-needed', detail, 'Type the six digits that your application shows now.')
    if (code === undefined) throw wrong('A code of the second factor is needed.')
    const step = account.totpSecret ? totpStep(account.totpSecret, code, nowMs) : null
    // A code that was seen over a shoulder is no good any more.
    if (step === null || !(await people.useTotpStep(account.id, step)))
      throw wrong('The code is wrong, or was used already.')
  }

  handle(router, getMe, ({ request }) => meOf(askerOf(request)))
  handle(router, createFirstAccount, async ({ request, response, body, nowMs }) => {
    if (askerOf(request)?.roles !== null)
      throw new ProblemError(
        409,
        'not-first',
        'There is an account already.',
        'Sign in, or ask its owner for an invitation.',
      )
    const id = await people.create({ ...body, administrator: true }, nowMs)
    for (const { row } of engines.all()) await people.setRole(id, row.id, 'owner')
    return enter(response, (await people.byId(id))!, nowMs)
  })
  handle(router, signIn, async ({ request, response, body, nowMs }) => {
    const { account, keys } = await check(
      request,
      await people.byEmail(body.email),
      body.email,
      body.password,
      nowMs,
    )
    if (account.totpOn) await checkCode(account, body.code, nowMs)
    slow.succeeded(keys)
    return enter(response, account, nowMs)
  })
  handle(router, signOut, async ({ request, response, body }) => {
    const asker = askerOf(request)
    if (asker?.login) await people.signOut(asker.login)
    if (asker?.account && body.everywhere) await people.signOutEverywhere(asker.account.id)
    keep(response, null)
    return { done: true as const }
  })
  handle(router, changePassword, async ({ request, response, body, nowMs }) => {
    const own = accountOf(request)
    const { keys } = await check(request, own, own.email, body.old, nowMs)
    slow.succeeded(keys)
    await people.setPassword(own.id, body.password)
    keep(response, await people.signIn(own.id, nowMs))
    return { done: true as const }
  })
  handle(router, askReset, async ({ request, body, nowMs }) => {
    const keys = [`reset ${request.ip}`, `reset ${body.email}`]
    patience(keys, nowMs)
    slow.failed(keys, nowMs)
    const account = await people.byEmail(body.email)
    // The answer is the same, and as quick, where there is none.
    if (account)
      void people
        .newLink({ kind: 'reset', email: account.email, siteId: null, role: null }, nowMs)
        .then((link) =>
          mail.send(
            account.email,
            'Set a new password for Dust Trail',
            `Hello ${account.name},\n\nsomebody, probably you, asked for a new password. Set it here within an hour:\n\n${here(request)}/enter?link=${link}\n\nIf it was not you, nothing has changed.\n`,
          ),
        )
    return { done: true as const }
  })
  handle(router, takeMailLink, async ({ request, response, body, nowMs }) => {
    const keys = [`link ${request.ip}`]
    patience(keys, nowMs)
    const link = await people.takeLink(body.link, nowMs)
    if (!link) {
      slow.failed(keys, nowMs)
      throw new ProblemError(404, 'link-gone', 'This link is no good any more.', 'Ask for a new one.')
    }
    const known = await people.byEmail(link.email)
    if (!known && link.kind === 'reset') throw notFound('such account')
    if (known && link.kind === 'reset') await people.setPassword(known.id, body.password)
    const id =
      known?.id ??
      (await people.create(
        { email: link.email, name: body.name ?? link.email, password: body.password, administrator: false },
        nowMs,
      ))
    if (link.siteId !== null && link.role) await people.setRole(id, link.siteId, link.role)
    // An invitation may have passed through other hands: it gives a role, and never lets in as somebody who is there already.
    if (known && link.kind === 'invite')
      throw new ProblemError(
        409,
        'account-there',
        'There is an account with this address already; it has the role now.',
        'Sign in with its password.',
      )
    const account = (await people.byId(id))!
    // Who has a second factor shows it with the new password.
    if (account.totpOn)
      throw new ProblemError(
        401,
        'code-needed',
        'The password is set. A code is needed to sign in.',
        'Sign in with it.',
      )
    return enter(response, account, nowMs)
  })
  handle(router, beginSecondFactor, async ({ request, body, nowMs }) => {
    const own = accountOf(request)
    const { keys } = await check(request, own, own.email, body.password, nowMs)
    slow.succeeded(keys)
    if (own.totpOn)
      throw new ProblemError(
        409,
        'second-factor-on',
        'There is a second factor already.',
        'Switch it off first.',
      )
    const made = newTotpSecret(own.email)
    await people.setTotp(own.id, made.secret, false)
    return made
  })
  handle(router, setSecondFactor, async ({ request, body, nowMs }) => {
    const own = accountOf(request)
    const keys = ownSlow(request, own.email)
    patience(keys, nowMs)
    slow.failed(keys, nowMs)
    await checkCode(own, body.code, nowMs)
    slow.succeeded(keys)
    await people.setTotp(own.id, body.on ? own.totpSecret : null, body.on)
    return { done: true as const }
  })

  handle(router, listPeople, async ({ params, nowMs }) => {
    const { row } = siteOf(engines, params)
    return { people: await people.ofSite(row.id), invited: await people.invited(row.id, nowMs) }
  })
  handle(router, invitePerson, async ({ request, params, body, nowMs }) => {
    const { row } = siteOf(engines, params)
    const account = await people.byEmail(body.email)
    if (account) {
      await keepsOwner(people, row.id, account.id, body.role)
      await people.setRole(account.id, row.id, body.role)
      return { given: true, link: null }
    }
    if (!(await people.any()))
      throw new ProblemError(
        409,
        'no-account',
        'There is no account yet.',
        'Make the first one, for yourself; then invite others.',
      )
    const secret = await people.newLink(
      { kind: 'invite', email: body.email, siteId: row.id, role: body.role },
      nowMs,
    )
    const link = `${here(request)}/enter?link=${secret}`
    const who = askerOf(request)?.account?.name ?? 'Somebody'
    await mail.send(
      body.email,
      `You are invited to ${row.name} in Dust Trail`,
      `Hello,\n\n${who} invites you to look at ${row.name} as ${body.role}. Come in here within a week:\n\n${link}\n`,
    )
    // Whoever holds the link is taken for whom it was sent to: only who may do everything anyway is shown it.
    const asker = askerOf(request)
    return { given: false, link: asker?.account?.administrator ? link : null }
  })
  handle(router, setRole, async ({ params, body }) => {
    const { row } = siteOf(engines, params)
    const id = idOf(params, 'such person')
    if (!(await people.ofSite(row.id)).some((one) => one.id === id)) throw notFound('such person')
    await keepsOwner(people, row.id, id, body.role)
    await people.setRole(id, row.id, body.role)
    return { done: true as const }
  })
  handle(router, removePerson, async ({ params }) => {
    const { row } = siteOf(engines, params)
    const id = idOf(params, 'such person')
    if (!(await people.ofSite(row.id)).some((one) => one.id === id)) throw notFound('such person')
    await keepsOwner(people, row.id, id, undefined)
    await people.removeRole(id, row.id)
    return { done: true as const }
  })
  handle(router, listTokens, ({ params }) => people.tokensOf(siteOf(engines, params).row.id))
  handle(router, createToken, async ({ request, params, body, nowMs }) => {
    const { row } = siteOf(engines, params)
    return { token: await people.newToken(row.id, body, askerOf(request)?.who ?? '', nowMs) }
  })
  handle(router, deleteToken, async ({ params }) => {
    const { row } = siteOf(engines, params)
    if (!(await people.deleteToken(row.id, idOf(params, 'such token')))) throw notFound('such token')
    return { done: true as const }
  })
  handle(router, listAudit, ({ params }) => audit.ofSite(siteOf(engines, params).row.id))
  return router
}

/** @throws ProblemError 409 where a site would have no owner any more */
async function keepsOwner(
  people: People,
  siteId: number,
  accountId: number,
  role: Role | undefined,
): Promise<void> {
  if (role === 'owner') return
  const owners = (await people.ofSite(siteId)).filter((one) => one.role === 'owner')
  if (owners.length === 1 && owners[0]!.id === accountId)
    throw new ProblemError(
      409,
      'last-owner',
      'A site has an owner, and this is the last one.',
      'Make somebody else owner first.',
    )
}
