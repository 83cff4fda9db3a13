import { z } from 'zod'
import { endpoint } from '../endpoint.ts'
import { done, LEAST_PASSWORD, named, nothing, ROLES } from './parts.ts'

/* Who may do what */

const roleSchema = z.enum(ROLES).describe('reader looks, editor changes, owner decides')

const email = z
  .string()
  .trim()
  .toLowerCase()
  .pipe(z.email({ error: 'must be an e-mail address' }).max(254))
const password = z
  .string()
  .min(LEAST_PASSWORD, { error: `A password has at least ${LEAST_PASSWORD} characters.` })
  .max(128, { error: 'A password has at most 128 characters.' })
/** what was typed to sign in: of any length, so that older ones stay good */
const typed = z.string().min(1, { error: 'Type the password.' }).max(128)
const code = z
  .string()
  .regex(/^\d{6}$/, { error: 'A code has six digits.' })
  .optional()
  .describe('of the second factor')

const meSchema = z.object({
  account: z
    .object({ email: z.string(), name: z.string(), secondFactor: z.boolean() })
    .nullable()
    .describe('null: nobody'),
  anybody: z.boolean().describe('there is no account yet'),
  administrator: z.boolean().describe('makes sites'),
  roles: z.record(z.string(), z.enum(ROLES)).describe('by key of the site'),
  collectUrl: z.string().nullable().describe('where the script sends to; null: here'),
})
export type Me = z.infer<typeof meSchema>

export const getMe = endpoint('GET', '/me', nothing, meSchema)
/** The first account: from then on everybody signs in. It owns every site. */
export const createFirstAccount = endpoint(
  'POST',
  '/first-account',
  z.object({ email, name: named, password }),
  meSchema,
)
export const signIn = endpoint('POST', '/sign-in', z.object({ email, password: typed, code }), meSchema)
export const signOut = endpoint(
  'POST',
  '/sign-out',
  z.object({ everywhere: z.boolean().default(false).describe('on every device') }),
  done,
)
/** Changes one's own password; signs out everywhere else. */
export const changePassword = endpoint('PUT', '/me/password', z.object({ old: typed, password }), done)
/** Sends a link to set a new password, where there is such an account. Says the same where there is none. */
export const askReset = endpoint('POST', '/password-resets', z.object({ email }), done)
/** Takes an invitation, or sets a new password, by the link that came by mail. */
export const takeMailLink = endpoint(
  'POST',
  '/mail-links',
  z.object({
    link: z.string().min(20).max(100).describe('what stands in the link'),
    name: named.optional().describe('of a new account'),
    password,
  }),
  meSchema,
)
export const beginSecondFactor = endpoint(
  'POST',
  '/me/second-factor',
  z.object({ password: typed }),
  z.object({
    secret: z.string(),
    uri: z.string().describe('otpauth address'),
  }),
)
export const setSecondFactor = endpoint(
  'PUT',
  '/me/second-factor',
  z.object({ on: z.boolean(), code: z.string().regex(/^\d{6}$/, { error: 'A code has six digits.' }) }),
  done,
)

const personSchema = z.object({
  id: z.number(),
  email: z.string(),
  name: z.string(),
  role: z.enum(ROLES),
  secondFactor: z.boolean(),
  seenMs: z.number().nullable().describe('signed in last'),
})
export type Person = z.infer<typeof personSchema>
export const listPeople = endpoint(
  'GET',
  '/sites/:site/people',
  nothing,
  z.object({
    people: z.array(personSchema),
    invited: z.array(z.object({ email: z.string(), role: z.enum(ROLES), untilMs: z.number() })),
  }),
)
/** Invites somebody by mail; who has an account already gets the role at once. */
export const invitePerson = endpoint(
  'POST',
  '/sites/:site/invitations',
  z.object({ email, role: roleSchema }),
  z.object({
    given: z.boolean().describe('the account was there'),
    link: z.string().nullable().describe('the one that is sent, for administrators'),
  }),
)
export const setRole = endpoint('PUT', '/sites/:site/people/:id', z.object({ role: roleSchema }), done)
export const removePerson = endpoint('DELETE', '/sites/:site/people/:id', nothing, done)

const tokenFields = {
  name: named,
  role: roleSchema,
  days: z.number().int().min(1).max(366).describe('how long it is good'),
}
const tokenSchema = z.object({
  id: z.number(),
  name: z.string(),
  role: z.enum(ROLES),
  madeBy: z.string(),
  madeMs: z.number(),
  untilMs: z.number(),
  usedMs: z.number().nullable(),
})
export type ApiToken = z.infer<typeof tokenSchema>
export const listTokens = endpoint('GET', '/sites/:site/tokens', nothing, z.array(tokenSchema))
export const createToken = endpoint(
  'POST',
  '/sites/:site/tokens',
  z.object(tokenFields),
  z.object({ token: z.string().describe('shown once') }),
)
export const deleteToken = endpoint('DELETE', '/sites/:site/tokens/:id', nothing, done)

const auditSchema = z.object({
  atMs: z.number(),
  who: z.string(),
  what: z.string(),
  path: z.string(),
  from: z.string().describe('address from which it came'),
})
export type AuditLine = z.infer<typeof auditSchema>
/** Who changed what, the newest first. */
export const listAudit = endpoint('GET', '/sites/:site/audit', nothing, z.array(auditSchema), (lines) =>
  lines.map(({ atMs, ...line }) => ({ at: new Date(atMs).toISOString(), ...line })),
)
