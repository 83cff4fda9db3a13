// @vitest-environment happy-dom
import { beforeEach, describe, expect, it } from 'vitest'
import { Causes } from './causes.ts'
import { isTelling, OwnBeat } from './more/effects/own-beat.ts'
import * as scrubber from './privacy/scrubber.ts'
import * as shown from './privacy/shown.ts'
import type { Report } from './reports.ts'
import { listen } from './reports.ts'
import { selectorOf } from './selector.ts'
import { NodeIds } from './more/recording/nodes.ts'
import { privacy } from './more/recording/privacy.ts'
import { serialise } from './more/recording/serialise.ts'
import { intended } from './target.ts'
import { deviceOf } from './device.ts'

Object.assign(privacy, scrubber, shown)
const find = (selector: string) => document.querySelector(selector)!

beforeEach(() => {
  scrubber.setLevel('patterns')
  document.body.innerHTML = ''
})

describe('selectorOf', () => {
  it('names each element of a page alone', () => {
    document.body.innerHTML = `<main><ul class="list is-open"><li class="row active"><a href="#">1</a></li><li class="row"><a href="#">2</a></li></ul>
      <p>x</p><p>y</p><div id="form"><input><input></div></main>`
    for (const element of document.body.querySelectorAll('*')) {
      const found = document.querySelectorAll(selectorOf(element))
      expect([...found]).toEqual([element])
    }
  })
  it('leaves out classes of state and ids that look generated', () => {
    document.body.innerHTML = '<div id="a12345678"><button class="is-open primary">x</button></div>'
    expect(selectorOf(find('button'))).toBe('body > div > button.primary')
  })
  it('begins at a name that the site gave', () => {
    document.body.innerHTML = '<div data-trail-name="buy"><b>x</b></div>'
    expect(selectorOf(find('b'))).toBe('[data-trail-name="buy"] > b')
  })
})

describe('intended', () => {
  it('is the control around what was hit, or the whole drawing', () => {
    document.body.innerHTML = '<button><i>x</i></button><div><svg><g><circle/></g></svg></div><p>text</p>'
    expect(intended(find('i'))).toEqual({ element: find('button'), interactive: true })
    expect(intended(find('p'))).toEqual({ element: find('p'), interactive: false })
  })
})

describe('serialise', () => {
  it('leaves out whatever could run and keeps no handler', () => {
    document.body.innerHTML = `<div onclick="boom()"><script>boom()</script><a href="javascript:boom()">x</a>
      <iframe srcdoc="<script>boom()</script>"></iframe><img src="x.png" onerror="boom()"><form action="/pay"></form></div>`
    const tree = JSON.stringify(serialise(document.body, new NodeIds()))
    expect(tree).not.toContain('boom')
    expect(tree).not.toContain('/pay')
  })
  it('gives a node the same number every time', () => {
    document.body.innerHTML = '<p>a</p>'
    const ids = new NodeIds()
    expect(serialise(document.body, ids)).toEqual(serialise(document.body, ids))
  })
})

describe('changes that tell of an effect', () => {
  const record = (name: string, oldValue: string | null): MutationRecord =>
    ({
      type: 'attributes',
      target: find('button'),
      attributeName: name,
      oldValue,
    }) as unknown as MutationRecord
  it('are not those that say where the focus and the pointer are', () => {
    document.body.innerHTML = '<button class="big is-focused open">x</button>'
    expect(isTelling(record('class', 'big open'))).toBe(false)
    expect(isTelling(record('class', null))).toBe(true)
    expect(isTelling(record('class', 'big is-focused'))).toBe(true)
    expect(isTelling(record('data-pressed', null))).toBe(false)
    expect(isTelling(record('aria-expanded', 'false'))).toBe(true)
  })
})

describe('what the page changes by itself', () => {
  const change = (target: Element, type = 'childList') =>
    [{ type, target, removedNodes: [] }] as unknown as MutationRecord[]
  it('is known where it was seen while nobody did anything, for a minute', () => {
    document.body.innerHTML = '<div id="list"><p>1</p></div><div id="clock"><b>x</b></div><p id="other">y</p>'
    const beat = new OwnBeat()
    beat.learn(change(find('#list')), 0)
    beat.learn(change(find('#clock'), 'attributes'), 0)
    expect([find('#list > p'), find('#clock > b'), find('#other')].map((at) => beat.has(at, 59_000))).toEqual(
      [true, true, false],
    )
    expect(beat.has(find('#list > p'), 61_000)).toBe(false)
    beat.goOn(change(find('#list')), 59_000)
    expect(beat.has(find('#list > p'), 61_000)).toBe(true)
    expect(beat.has(find('#clock > b'), 61_000)).toBe(false)
  })
  it('is learnt only some time after the visitor has done something', () => {
    const beat = new OwnBeat()
    expect(beat.isQuiet(0)).toBe(true)
    beat.input(1000)
    expect([beat.isQuiet(2000), beat.isQuiet(2600)]).toEqual([false, true])
  })
})

describe('the cause of errors and requests', () => {
  it('is what the visitor did within the second before, unless it happens by itself', () => {
    let nowMs = 5000
    const causes = new Causes(() => nowMs)
    const target = { selector: '#buy' }
    expect(causes.of('GET /poll')).toBeUndefined()
    causes.note(target)
    expect(causes.of('POST /order')).toEqual({ target })
    expect(causes.of('GET /poll')).toBeUndefined()
    nowMs += 1001
    expect(causes.of('POST /order')).toBeUndefined()
  })
})

describe('deviceOf', () => {
  it.each([
    [
      'Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/156.0 Safari/537.36',
      'desktop',
      'Windows',
      'Chrome',
    ],
    [
      'Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) AppleWebKit/605.1.15 Version/18.0 Mobile/15E148 Safari/604.1',
      'mobile',
      'iOS',
      'Safari',
    ],
    [
      'Mozilla/5.0 (Linux; Android 15; Tablet) AppleWebKit/537.36 Chrome/150.0 Safari/537.36',
      'tablet',
      'Android',
      'Chrome',
    ],
    ['Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0', 'desktop', 'Linux', 'Firefox'],
  ])('%s', (agent, device, os, browser) => {
    expect(deviceOf(agent)).toMatchObject({ class: device, os, browser })
  })
})

describe('a form whose fields are called like its own properties', () => {
  it('is named by its attributes, not by its fields', () => {
    document.body.innerHTML =
      '<form id="party" class="wide"><output id="children" name="children">2</output><input name="id"><input name="classList"></form>'
    // What browsers do and happy-dom does not: fields hide properties of their form.
    const form = find('form')
    for (const name of ['children', 'id', 'classList'])
      Object.defineProperty(form, name, { value: form.firstElementChild })
    expect(selectorOf(form)).toBe('#party')
    expect(selectorOf(form.lastElementChild!)).toBe('#party > input:nth-of-type(2)')
  })
})

describe('reports of the page', () => {
  it('are taken from the queue and afterwards, reduced to what the format has room for', () => {
    const host = window as { dustTrail?: unknown }
    host.dustTrail = [
      { kind: 'action', name: 'order', value: 68, currency: 'EUR', props: { seats: 2, nested: {} }, t: 1 },
      { kind: 'action', value: 3 },
      { kind: 'click', name: 'x' },
      null,
    ]
    const taken: Report[] = []
    const consents: boolean[] = []
    listen(
      (report) => taken.push(report),
      (allowed) => consents.push(allowed),
    )
    ;(host.dustTrail as { push(...reports: unknown[]): void }).push(
      { kind: 'page', results: 0 },
      { kind: 'page', results: -1 },
      { kind: 'variant', experiment: 'party step', variant: 'map' },
      { kind: 'signal', name: 'n'.repeat(500), value: NaN, currency: 'euro' },
      { kind: 'consent', allowed: true },
      { kind: 'consent' },
    )
    expect(consents).toEqual([true, false])
    expect(taken).toEqual([
      { kind: 'action', name: 'order', value: 68, currency: 'EUR', props: { seats: 2 } },
      { kind: 'page', results: 0 },
      { kind: 'variant', experiment: 'party step', variant: 'map' },
      { kind: 'signal', name: 'n'.repeat(500) },
    ])
  })
})
