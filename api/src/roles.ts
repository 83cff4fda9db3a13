import type { AnyQuestion } from '@dust-trail/core'
import { registry } from '@dust-trail/core'
import type { Endpoint } from './endpoint.ts'
import * as endpoints from './endpoints.ts'
import type { Role } from './endpoints/parts.ts'
import { endpointOf } from './question-endpoint.ts'

/** What an endpoint needs: a role on its site; `signed in`: nothing but that; `nobody`: it is there for those who are not. */
export type Needs = Role | 'signed in' | 'nobody' | 'administrator'

/** Where it is not what follows from the method: to look takes a reader, to change an editor. */
const NEEDS: Partial<Record<keyof typeof endpoints, Needs>> = {
  ...{
    getMe: 'nobody',
    createFirstAccount: 'nobody',
    signIn: 'nobody',
    askReset: 'nobody',
    takeMailLink: 'nobody',
  },
  ...{
    signOut: 'signed in',
    changePassword: 'signed in',
    beginSecondFactor: 'signed in',
    setSecondFactor: 'signed in',
  },
  ...{ listSites: 'signed in', createSite: 'administrator' },
  // Asked with a body, and nothing is changed.
  ...{
    previewRetention: 'reader',
    listFixes: 'reader',
    getFix: 'reader',
    makeSet: 'reader',
    askSizes: 'reader',
    drawMark: 'reader',
    verifyFix: 'editor',
    setWatched: 'reader',
    findSessions: 'reader',
  },
  ...{ listPeople: 'reader', invitePerson: 'owner', setRole: 'owner', removePerson: 'owner' },
  ...{ listTokens: 'owner', createToken: 'owner', deleteToken: 'owner', listAudit: 'owner' },
  ...{ deleteSite: 'owner', findVisitors: 'owner', lookAtPage: 'owner' },
  ...{ deleteVisitor: 'owner', updateSite: 'owner', setCapture: 'owner' },
}

interface Known {
  name: string
  method: string
  pattern: RegExp
  needs: Needs
}

function isEndpoint(value: unknown): value is Endpoint {
  return typeof value === 'object' && value !== null && 'method' in value && 'path' in value
}

/** Every endpoint with what it needs, questions too. */
export function allNeeds(
  questions: readonly AnyQuestion[] = registry.questions,
): (Known & { path: string })[] {
  const own = Object.entries(endpoints).flatMap(([name, one]) =>
    isEndpoint(one)
      ? [
          {
            ...{ name, method: one.method, path: one.path },
            needs:
              NEEDS[name as keyof typeof endpoints] ??
              (one.method === 'GET' ? ('reader' as const) : ('editor' as const)),
          },
        ]
      : [],
  )
  const asked = questions.map((question) => {
    const { method, path } = endpointOf(question)
    return { name: question.name, method, path, needs: 'reader' as const }
  })
  return [...own, ...asked].map((one) => ({
    ...one,
    pattern: new RegExp(`^${one.path.replaceAll(/:\w+/g, '[^/]+')}/?$`),
  }))
}

/**
 * Finds the endpoint of a request, by its name and what it needs. What none is known for needs as much as what is like it: a
 * reader to look, an editor for all else.
 */
export function endpointFinder(
  known: readonly Known[],
): (method: string, path: string) => Pick<Known, 'name' | 'needs'> {
  return (method, path) =>
    known.find((one) => one.method === method && one.pattern.test(path)) ?? {
      name: method,
      needs: method === 'GET' || method === 'HEAD' ? 'reader' : 'editor',
    }
}
