import type {
  AnyQuestion,
  Condition,
  Lens,
  Line,
  PageGroupRule,
  Selection,
  SessionRow,
} from '@dust-trail/core'
import {
  buildDenseBlock,
  closeUp,
  decodeColumns,
  withSignals,
  Dictionaries,
  encodeBlock,
  funnel,
  funnelOptionsSchema,
  pathOptionsSchema,
  paths,
  pathSteps,
  patterns,
  registry,
  sequences,
  sessionIds,
  size,
} from '@dust-trail/core'
import { once } from 'node:events'
import type { Worker } from 'node:worker_threads'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { SET_MS, SetHandles } from './set-handles.ts'
import { ENGINE_LIMITS, SiteEngine } from './site-engine.ts'
import type { Threads } from './threads.ts'
import { startThreads } from './threads.ts'

/** A stored block in memory that threads share. */
const decoded = (bytes: Uint8Array, dictionaries: Dictionaries) =>
  withSignals(decodeColumns(bytes, dictionaries, shared), undefined, shared)

const shared = (bytes: number) => new SharedArrayBuffer(bytes)
const NOW = Date.UTC(2026, 5, 1, 12)
const lens = { from: '2026-05-01', to: '2026-06-30', devices: [] }
const steps = ['/a', '/b'].map((page) => ({ type: 'page' as const, page }))

const row = (id: number, pages: readonly string[]): SessionRow => ({
  id,
  visitor: `v${id}`,
  returning: false,
  device: { class: 'desktop' },
  channel: 'Direct',
  lines: pages.map((url, i): Line => ({ visitor: `v${id}`, t: NOW + i * 1000, kind: 'page', url })),
})
const RULES: never[] = []
const source = (key: string) => ({
  key,
  rules: () => RULES,
  timeZone: () => 'UTC',
})
const engine = (threads?: Threads) => new SiteEngine(source(`site-${made++}`), threads)
let made = 0
const ask = (site: SiteEngine) => site.ask(funnel, lens, { steps })

const visits = fc.array(fc.constantFrom('/a', '/b', '/c'), { minLength: 1, maxLength: 4 })
const change = fc.record({ id: fc.nat(5), paths: visits, gone: fc.boolean() })

/** Rows as they are stored, and what reads them. */
function stored(blocks: SessionRow[][]) {
  const dictionaries = new Dictionaries()
  const bytes = blocks.map((rows) => encodeBlock(buildDenseBlock(rows, dictionaries), dictionaries))
  const read = (id: number) => Promise.resolve(bytes[id])
  return { bytes, read }
}

describe('SiteEngine', () => {
  it('takes in what changes while stored blocks are still being read', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.array(visits, { minLength: 1, maxLength: 4 }), { minLength: 1, maxLength: 4 }),
        fc.array(fc.tuple(fc.nat(4), change), { maxLength: 6 }),
        async (blocks, changes) => {
          let id = 0
          const rows = blocks.map((block) => block.map((own) => row(id++, own)))
          const { bytes } = stored(rows)
          const live = engine()
          const now = new Map(rows.flat().map((one) => [one.id, one]))
          live.beginLoading()
          for (let k = 0; k <= rows.length; k++) {
            for (const [when, { id: changed, paths: own, gone }] of changes) {
              if (when !== k) continue
              if (gone) now.delete(changed)
              else now.set(changed, row(changed, own))
              live.replace(gone ? [] : [row(changed, own)], gone ? [changed] : [], NOW)
            }
            if (bytes[k]) live.addPacked(decoded(bytes[k]!, live.dictionaries), [], { stored: k })
          }
          live.endLoading()
          const fresh = engine()
          fresh.addBlock([...now.values()])
          expect(await ask(live)).toEqual(await ask(fresh))
        },
      ),
      { numRuns: 100 },
    )
  })
  it('tells so many words apart as its setting says, and says of which there are more', () => {
    const source = { key: 'shop', rules: () => [], timeZone: () => 'UTC' }
    const engine = new SiteEngine({ ...source, limits: { ...ENGINE_LIMITS, words: 2 } })
    const codes = ['/a', '/b', '/c', '/d'].map((page) => engine.dictionaries.page.code(page))
    expect(codes[3]).toBe(codes[2])
    expect(engine.fullDictionaries()).toEqual(['page'])
  })
  it('forgets sets that nobody has asked for in half an hour', async () => {
    let nowMs = 0
    const sets = new SetHandles(
      () => 'UTC',
      undefined,
      () => nowMs,
    )
    const definition = { lens, selection: { type: 'everyone' as const } }
    const set = sets.make(definition)
    nowMs = SET_MS
    expect(sets.definitionOf(set)).toEqual(definition)
    nowMs = 2 * SET_MS
    expect(sets.definitionOf(set)).toEqual(definition)
    nowMs = 3 * SET_MS + 1
    expect(() => sets.definitionOf(set)).toThrow(/no longer known/)
    await expect(engine().ask(size, lens, { selection: { type: 'set', set: 'never made' } })).rejects.toThrow(
      /no longer known/,
    )
  })
  it('keeps answers until the data changes', async () => {
    const site = new SiteEngine({ ...source(`site-${made++}`), answers: 2 })
    site.addBlock([row(1, ['/a', '/b'])])
    const first = await ask(site)
    expect(await ask(site)).toBe(first)
    site.replace([row(2, ['/a', '/b'])], [], NOW)
    expect((await ask(site)).converted).toBe(2)
  })

  it('never keeps an answer that was under way while the data or the settings changed', async () => {
    const { bytes, read } = stored([[row(1, ['/a', '/b'])]])
    let release: () => void = () => undefined
    let fetched = 0
    const rules: PageGroupRule[][] = [[], [{ name: 'another', pattern: '/a' }]]
    const site = new SiteEngine({
      ...source(`site-${made++}`),
      rules: () => rules[0]!,
      answers: 9,
      fetch: async (id) => {
        fetched++
        await new Promise<void>((resolve) => (release = resolve))
        return read(id)
      },
    })
    site.addPacked(decoded(bytes[0]!, site.dictionaries), [], { stored: 0, inMemory: false })
    const asked = async () => {
      const answer = ask(site)
      await new Promise(setImmediate)
      return { answer }
    }
    const first = await asked()
    site.replace([row(2, ['/a', '/b'])], [], NOW)
    release()
    expect((await first.answer).converted).toBeLessThanOrEqual(2)
    const second = await asked()
    expect(fetched).toBe(2)
    rules.shift()
    const third = await asked()
    expect(fetched).toBe(3)
    release()
    expect((await third.answer).entered).toBe(0)
    void second.answer.catch(() => undefined)
    expect((await ask(site)).entered).toBe(0)
    expect(fetched).toBe(3)
  })
  it('scans once for those who ask the same at the same time, and stops when all of them have gone', async () => {
    const { bytes, read } = stored([[row(1, ['/a', '/b'])]])
    let fetched = 0
    const site = new SiteEngine({
      ...source(`site-${made++}`),
      answers: 9,
      fetch: (id) => {
        fetched++
        return read(id)
      },
    })
    site.addPacked(decoded(bytes[0]!, site.dictionaries), [], { stored: 0, inMemory: false })
    const goes = new AbortController()
    const both = [ask(site), site.ask(funnel, lens, { steps }, { signal: goes.signal })]
    goes.abort(new Error('gone'))
    await expect(both[1]).rejects.toThrow('gone')
    expect((await both[0])!.converted).toBe(1)
    expect(fetched).toBe(1)
  })

  it('answers after any changes as if it had been built from what stands now', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(visits, { maxLength: 6 }),
        fc.array(change, { maxLength: 12 }),
        async (first, changes) => {
          const live = engine()
          const now = new Map(first.map((own, id) => [id, row(id, own)]))
          live.addBlock([...now.values()])
          for (const { id, paths: own, gone } of changes) {
            if (gone) now.delete(id)
            else now.set(id, row(id, own))
            live.replace(gone ? [] : [row(id, own)], gone ? [id] : [], NOW)
          }
          const fresh = engine()
          fresh.addBlock([...now.values()])
          expect(await ask(live)).toEqual(await ask(fresh))
          expect(live.extent()).toEqual(fresh.extent())
          for (let id = 0; id < 6; id++) {
            const place = await live.find(String(id))
            expect(place && place.block.sessions.id[place.session]).toBe(now.has(id) ? id : undefined)
          }
        },
      ),
      { numRuns: 200 },
    )
  })

  it('packs what has ended when the tail grows long, and loses nothing by it', async () => {
    const site = engine()
    for (let id = 0; id < 2500; id++) site.replace([row(id, ['/a', '/b'])], [], NOW + 3_600_000)
    expect(site.extent()).toMatchObject({ sessions: 2500, firstMs: NOW })
    expect((await ask(site)).converted).toBe(2500)
    expect(await site.find('0')).toBeDefined()
  })

  it('packs long sessions piece by piece, and takes in meanwhile what changes of them', async () => {
    const site = engine()
    const long = (id: number, end: string) => row(id, [...Array<string>(99).fill('/a'), end])
    site.replace(
      Array.from({ length: 300 }, (_, id) => long(id, '/b')),
      [],
      NOW,
    )
    // What has been still is packed at the next change: a piece at once, the others when others had their turn.
    site.replace([long(300, '/b')], [], NOW + 60_000)
    const pieces = () => site.blocks().filter(({ sessions }) => sessions.count > 0).length
    expect(pieces()).toBe(2)
    const check = async (converted: number) => {
      const { entered, converted: own } = await ask(site)
      expect({ entered, converted: own }).toEqual({ entered: 300, converted })
      const ids = await site.ask(sessionIds, lens, { selection: { type: 'everyone' } })
      expect(new Set(ids.ids).size).toBe(300)
    }
    site.replace([long(7, '/c'), long(250, '/c')], [280], NOW + 60_100)
    await check(298)
    for (let turn = 0; turn < 20; turn++) await new Promise(setImmediate)
    expect(pieces()).toBeGreaterThan(6)
    await check(298)
    site.replace([long(7, '/b')], [], NOW + 60_200)
    await check(299)
  })

  it('has something to answer with where there is nothing', async () => {
    expect((await ask(engine())).entered).toBe(0)
    expect(engine().extent()).toBeUndefined()
  })
})

describe('threads', () => {
  let threads: Threads
  beforeAll(() => {
    threads = startThreads(new URL('../../../dist/engine-worker.mjs', import.meta.url), 2)
  })
  afterAll(() => threads.close())

  it('opens what a funnel over visitors counts, across blocks: in a question, in a lens, in a set', async () => {
    const site = engine(threads)
    const visit = (id: number, visitor: string, pages: readonly string[]) => {
      const own = row(id, pages)
      return {
        ...own,
        visitor,
        lines: own.lines.map((line) => ({ ...line, visitor, t: line.t + id * 10_000 })),
      }
    }
    // Only one visitor comes from /a to /b, in two sessions that lie in two blocks.
    site.addBlock([visit(1, 'x', ['/a']), visit(2, 'y', ['/a', '/c'])])
    site.addBlock([visit(3, 'x', ['/c', '/b']), visit(4, 'z', ['/b'])])
    const options = funnelOptionsSchema.parse({ per: 'visitor' })
    const { steps: counted } = await site.ask(funnel, lens, { steps, options })
    expect(counted.map(({ sessions }) => sessions)).toEqual([2, 1])
    const selection = { type: 'funnel' as const, steps, options, step: 1, side: 'reached' as const }
    const idsIn = async (through: Lens, of: Selection) =>
      (await site.ask(sessionIds, through, { selection: of, most: 10 })).ids
    expect(await idsIn(lens, selection)).toEqual([3])
    expect(await idsIn(lens, { ...selection, step: 0, side: 'dropped' })).toEqual([2])
    const where: Condition = { type: 'selected', selection }
    expect(await idsIn({ ...lens, where }, { type: 'everyone' })).toEqual([3])
    const set = site.sets.make({ lens, selection })
    expect(await idsIn(lens, { type: 'set', set })).toEqual([3])
    // Of the two visitors who entered.
    expect(await site.ask(size, lens, { selection })).toMatchObject({ hits: 1, base: 2 })
  })

  it('opens what a leak counts, wherever the blocks are cut: an error is judged by all sessions together', async () => {
    const site = engine(threads)
    let id = 0
    const met = (message: string, then: string) => {
      const own = row(++id, ['/a'])
      const { visitor } = own
      return {
        ...own,
        lines: [
          ...own.lines,
          { visitor, t: NOW + 10, kind: 'error', message } satisfies Line,
          { visitor, t: NOW + 20, kind: 'page', url: then } satisfies Line,
        ],
      }
    }
    const times = (n: number, message: string, then: string) =>
      Array.from({ length: n }, () => met(message, then))
    // What stops people is met in one block; that the other error stops nobody shows only in the other.
    site.addBlock([...times(12, 'stops', '/c'), ...times(12, 'harmless', '/c')])
    site.addBlock([...times(24, 'harmless', '/b'), ...times(2, 'harmless', '/c')])
    for (const per of ['session', 'visitor'] as const) {
      const options = funnelOptionsSchema.parse({ per })
      const { leak } = (await site.ask(funnel, lens, { steps, options })).steps[0]!
      expect(leak).toEqual([
        { kind: 'error', page: null, sessions: 12 },
        { kind: 'other', page: '/c', sessions: 14 },
      ])
      for (const { kind, page, sessions } of leak) {
        const at = { type: 'funnel', steps, options, step: 0, side: 'dropped' } as const
        const selection = { ...at, leak: kind, page }
        const set = site.sets.make({ lens, selection })
        const where: Condition = { type: 'selected', selection }
        for (const [through, asked] of [
          [lens, selection],
          [lens, { type: 'set', set }],
          [{ ...lens, where }, { type: 'everyone' }],
        ] as [Lens, Selection][])
          expect((await site.ask(size, through, { selection: asked })).hits).toBe(sessions)
      }
    }
  })

  it('know of a set within a set over visitors what has changed since', async () => {
    for (const site of [engine(threads), engine()]) {
      // No new page comes later: nothing else would tell that something has changed.
      site.addBlock([row(1, ['/a']), row(9, ['/b'])])
      const dropped = {
        ...{ type: 'funnel' as const, steps, step: 0, side: 'dropped' as const },
        options: funnelOptionsSchema.parse({ per: 'visitor' }),
      }
      const inner: Selection = { type: 'set', set: site.sets.make({ lens, selection: dropped }) }
      const within: Condition = { type: 'selected', selection: inner }
      const sets = [
        { lens, selection: inner },
        { lens: { ...lens, where: within }, selection: { type: 'everyone' as const } },
        { lens, selection: { type: 'where' as const, condition: within } },
      ].map((definition): Selection => ({ type: 'set', set: site.sets.make(definition) }))
      const sizes = () =>
        Promise.all(sets.map(async (selection) => (await site.ask(size, lens, { selection })).hits))
      expect(await sizes()).toEqual([1, 1, 1])
      // The visitor comes again and goes on; their first session is as it was.
      site.replace([{ ...row(2, ['/b']), visitor: 'v1' }], [], NOW)
      expect(await sizes()).toEqual([0, 0, 0])
    }
  })

  it('say together what one alone says, whatever changes in between', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.array(visits, { minLength: 1, maxLength: 5 }), { maxLength: 4 }),
        fc.array(change, { maxLength: 8 }),
        async (blocks, changes) => {
          const [alone, together] = [engine(), engine(threads)]
          let id = 0
          for (const block of blocks) {
            const rows = block.map((own) => row(id++, own))
            for (const one of [alone, together]) one.addBlock(rows)
          }
          for (const { id: changed, paths: own, gone } of changes) {
            for (const one of [alone, together])
              one.replace(gone ? [] : [row(changed, own)], gone ? [changed] : [], NOW)
            const selection = { type: 'page', page: '/a' } as const
            for (const question of registry.questions) {
              const about = 'selection' in question.asked.shape ? { selection } : {}
              const asked = question.asked.parse({ ...question.example, ...about })
              const [a, b] = await Promise.all(
                [together, alone].map(async (one) => {
                  const result = await one.askAny(question, lens, asked)
                  return question.toAnswer ? question.toAnswer(result) : result
                }),
              )
              // Tokens are told apart by what they say, not by which was met first.
              if (question !== (sequences as AnyQuestion)) expect(a).toEqual(b)
            }
            expect(await ask(together)).toEqual(await ask(alone))
          }
        },
      ),
      { numRuns: 40 },
    )
  }, 180_000)

  it('answers on blocks it must read each time as on those in memory, and on a set as on what it stands for', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.array(visits, { minLength: 1, maxLength: 5 }), { minLength: 1, maxLength: 4 }),
        fc.array(change, { maxLength: 4 }),
        fc.array(fc.boolean(), { minLength: 5, maxLength: 5 }),
        async (blocks, changes, inMemory) => {
          let id = 0
          const rows = blocks.map((block) => block.map((own) => row(id++, own)))
          const { bytes, read } = stored(rows)
          const key = `site-${made++}`
          const whole = engine()
          const part = new SiteEngine({ ...source(key), fetch: read }, inMemory[4] ? threads : undefined)
          rows.forEach((own, k) => {
            whole.addBlock(own)
            part.addPacked(decoded(bytes[k]!, part.dictionaries), [], { stored: k, inMemory: inMemory[k]! })
          })
          for (const { id: changed, paths: own, gone } of changes)
            for (const one of [whole, part])
              one.replace(gone ? [] : [row(changed, own)], gone ? [changed] : [], NOW)
          expect(await ask(part)).toEqual(await ask(whole))
          expect(part.extent()?.sessions).toBe(whole.extent()?.sessions)
          for (let one = 0; one < id; one++) {
            const place = await part.find(String(one))
            const there = (await whole.find(String(one))) !== undefined
            expect(place && place.block.sessions.id[place.session]).toBe(there ? one : undefined)
          }
          const selection = { type: 'funnel' as const, steps, step: 0, side: 'dropped' as const }
          const set = { type: 'set' as const, set: part.sets.make({ lens, selection }) }
          for (let again = 0; again < 2; again++) {
            const { hits } = await part.ask(size, lens, { selection: set })
            expect(hits).toBe((await whole.ask(size, lens, { selection })).hits)
            const where = { type: 'not' as const, of: { type: 'selected' as const, selection: set } }
            expect((await part.ask(size, { ...lens, where }, { selection: { type: 'everyone' } })).hits).toBe(
              (whole.extent()?.sessions ?? 0) - hits,
            )
          }
        },
      ),
      { numRuns: 60 },
    )
  })

  it('each bring a part to an end where there is much', async () => {
    const pages = Array.from({ length: 50 }, (_, k) => `/page-${k}`)
    const one = engine()
    const two = engine(threads)
    for (let b = 0; b < 13; b++) {
      const rows = Array.from({ length: 2000 }, (_, k) => {
        const id = b * 2000 + k
        // No two are the same.
        const at = (worth: number) => pages[Math.floor(id / worth) % 50]!
        return row(id, [pages[id % 3]!, at(1), at(50), at(2500)])
      })
      for (const site of [one, two]) site.addBlock(rows)
    }
    for (const most of [null, 100]) {
      const options = pathOptionsSchema.parse({ most })
      const spec = { options, selection: { type: 'page' as const, page: '/page-0' } }
      const [whole, parts] = await Promise.all(
        [one, two].map((site) => site.ask(paths, lens, { options, selection: { type: 'everyone' } })),
      )
      expect(whole!.places).toBeGreaterThan(20_000)
      expect(parts).toEqual(whole)
      expect(await two.ask(paths, lens, spec)).toEqual(await one.ask(paths, lens, spec))
    }
    // Of so many steps a path is no longer one number.
    const everyone = { selection: { type: 'everyone' as const } }
    const deep = { ...everyone, options: pathOptionsSchema.parse({ depth: 10, most: null }) }
    expect(await two.ask(paths, lens, deep)).toEqual(await one.ask(paths, lens, deep))
    const often = patterns.asked.parse({ ...everyone, support: 0.01, shortest: 1 })
    const mined = await one.ask(patterns, lens, often)
    expect(mined.patterns.length).toBeGreaterThan(100)
    expect(await two.ask(patterns, lens, often)).toEqual(mined)
  })

  it('count the steps of so many page groups that no table holds them, however rare each way is', async () => {
    const one = engine()
    const two = engine(threads)
    for (let b = 0; b < 6; b++) {
      const rows = Array.from({ length: 2000 }, (_, k) => {
        const id = b * 2000 + k
        return row(id, ['/start', `/page-${id % 700}`, `/page-${(id * 7 + (id >> 3)) % 700}`])
      })
      for (const site of [one, two]) site.addBlock(rows)
    }
    const spec = pathSteps.asked.parse({ selection: { type: 'everyone' }, options: { depth: 5 } })
    const counted = await one.ask(pathSteps, lens, spec)
    expect(counted.steps[2]!.links.length).toBeGreaterThan(2000)
    expect(await two.ask(pathSteps, lens, spec)).toEqual(counted)
  })

  it('stop where nobody waits any more', async () => {
    const site = engine(threads)
    for (let b = 0; b < 20; b++) site.addBlock([row(b, ['/a', '/b'])])
    const gone = new AbortController()
    const answer = site.ask(funnel, lens, { steps }, { signal: gone.signal })
    gone.abort()
    await expect(answer).rejects.toThrow(/abort/i)
    expect((await ask(site)).converted).toBe(20)
  })

  it('are started again when one ends, and know then what the others know', async () => {
    const workers: Worker[] = []
    const pool = startThreads(new URL('../../../dist/engine-worker.mjs', import.meta.url), 2, (worker) =>
      workers.push(worker),
    )
    try {
      const { bytes, read } = stored([[row(1, ['/a', '/b'])], [row(2, ['/a', '/b'])]])
      let answers = false
      const site = new SiteEngine(
        {
          ...source(`site-${made++}`),
          fetch: (id) => (answers ? read(id) : new Promise<undefined>(() => undefined)),
        },
        pool,
      )
      site.addBlock([row(3, ['/a', '/b'])])
      bytes.forEach((own, k) =>
        site.addPacked(decoded(own, site.dictionaries), [], { stored: k, inMemory: false }),
      )
      const ended = async (worker: Worker | undefined) => {
        const exit = once(worker!, 'exit')
        void worker!.terminate()
        await exit
      }
      const underWay = ask(site)
      const problem = { status: 503, hint: expect.stringContaining('again') as string }
      const rejected = expect(underWay).rejects.toMatchObject(problem)
      await ended(workers[0])
      await rejected
      answers = true
      expect(pool.count).toBe(1)
      expect((await ask(site)).converted).toBe(3)
      const restarted = async () => {
        while (pool.count < 2) await new Promise((resolve) => setTimeout(resolve, 20))
      }
      await restarted()
      expect((await ask(site)).converted).toBe(3)
      await ended(workers[1])
      site.replace([row(4, ['/a', '/b', '/new'])], [1], NOW)
      await restarted()
      expect((await ask(site)).converted).toBe(3)
      await Promise.all(workers.slice(2).map(ended))
      await expect(ask(site)).rejects.toMatchObject(problem)
      await restarted()
      expect((await ask(site)).converted).toBe(3)
    } finally {
      await pool.close()
    }
  })

  it('pass on what goes wrong in them', async () => {
    const site = engine(threads)
    site.addBlock([row(1, ['/a'])])
    const broken = { selection: { type: 'no such' } } as never
    await expect(site.ask(closeUp, lens, broken)).rejects.toThrow()
  })
})
