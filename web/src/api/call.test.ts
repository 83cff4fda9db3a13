import { getSession, listSites, makeSet } from '@dust-trail/api'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { call, CallError, table } from './call.ts'

afterEach(() => vi.unstubAllGlobals())

const answering = (answer: () => Response | Promise<Response>) => {
  const fetched = vi.fn<(address: string, init: RequestInit) => Promise<Response>>(async () => answer())
  vi.stubGlobal('fetch', fetched)
  return fetched
}
const failure = async (asked: Promise<unknown>) => {
  const error = await asked.then(
    () => undefined,
    (thrown: unknown) => thrown,
  )
  if (!(error instanceof CallError)) throw new Error(`no CallError: ${String(error)}`)
  return error
}

describe('call', () => {
  it('fills in the address, whatever is in it', async () => {
    const fetched = answering(() => Response.json([]))
    await call(listSites, {})
    expect(fetched.mock.lastCall![0]).toBe('/api/v1/sites')
    await failure(call(getSession, { site: 'a/b?c', id: 'ü 1' }))
    expect(fetched.mock.lastCall![0]).toBe('/api/v1/sites/a%2Fb%3Fc/sessions/%C3%BC%201')
  })
  it('says what the server said, and what to do', async () => {
    answering(() => Response.json({ detail: 'No such site.', hint: 'Look at the list.' }, { status: 404 }))
    const error = await failure(call(listSites, {}))
    expect([error.message, error.hint, error.status]).toEqual(['No such site.', 'Look at the list.', 404])
  })
  it('has words where the server has none', async () => {
    answering(() => new Response('<h1>Bad gateway</h1>', { status: 502 }))
    const error = await failure(call(listSites, {}))
    expect(error.message).toBe('The server answered 502.')
    expect(error.hint).not.toBe('')
  })
  it('never takes an answer of another form for one', async () => {
    answering(() => Response.json([{ key: 1 }]))
    expect((await failure(call(listSites, {}))).hint).toContain('Reload')
  })
  it('tells a server that is not there from a question that was given up', async () => {
    answering(() => Promise.reject(new TypeError('fetch failed')))
    const error = await failure(call(listSites, {}))
    expect([error.status, error.hint]).toEqual([0, expect.stringContaining('Nothing you entered is lost')])
    const given = new AbortController()
    given.abort()
    await expect(call(listSites, {}, undefined, given.signal)).rejects.toThrow('fetch failed')
  })
  it('asks for a table where one is wanted', async () => {
    const fetched = answering(() => new Response('a,b\r\n'))
    const lens = { from: '2026-06-01', to: '2026-06-01', devices: [] }
    const blob = await table(makeSet, { site: 'x' }, { lens, selection: { type: 'everyone' } })
    expect(await blob.text()).toBe('a,b\r\n')
    expect(new Headers(fetched.mock.lastCall![1].headers).get('accept')).toBe('text/csv')
  })
})
