// @vitest-environment happy-dom
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { Effects } from './effects.ts'
import { cleanUrl, labelOf, remember, safeText, withoutTyped } from './mask.ts'
import type { Report } from './reports.ts'
import { listen } from './reports.ts'
import { intended, selectorOf } from './selector.ts'
import { NodeIds, serialise } from './serialise.ts'
import { deviceOf } from './device.ts'

const find = (selector: string) => document.querySelector(selector)!

beforeEach(() => {
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

describe('masking', () => {
  it('never lets out what was typed, in fields or repeated elsewhere', () => {
    document.body.innerHTML =
      '<label for="n">Name</label><input id="n" value="preset"><textarea>secret</textarea><p>Hello Ann Smith</p>'
    remember(find('#n'), 'Ann Smith')
    const tree = JSON.stringify(serialise(document.body, new NodeIds()))
    for (const secret of ['Ann', 'Smith', 'preset', 'secret']) expect(tree).not.toContain(secret)
    expect(tree).toContain('Hello ••• •••••')
    expect(labelOf(find('#n'))).toBe('Name')
    expect(withoutTyped('for Ann Smith')).toBe('for ••• •••••')
  })
  it('hides what the site marks and keeps the shape of the text', () => {
    document.body.innerHTML = '<p data-trail-mask>Card 1234</p>'
    expect(safeText(find('p').firstChild!)).toBe('•••• ••••')
    expect(labelOf(find('p'))).toBe('')
  })
  it('keeps of an address only what is not personal', () => {
    expect(cleanUrl('https://u:p@a.example/x?mail=a@b.c&utm_source=s#top')).toBe(
      'https://a.example/x?mail=&utm_source=s',
    )
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

describe('Effects', () => {
  it('says what came of each click, once', () => {
    vi.useFakeTimers()
    const effects = new Effects()
    const seen: string[] = []
    effects.after((effect) => seen.push(`a ${effect}`))
    effects.after((effect) => seen.push(`b ${effect}`))
    effects.happened('change')
    effects.after((effect) => seen.push(`c ${effect}`))
    vi.advanceTimersByTime(999)
    expect(seen).toEqual(['a change', 'b change'])
    vi.advanceTimersByTime(1)
    effects.happened('navigate')
    expect(seen).toEqual(['a change', 'b change', 'c none'])
    vi.useRealTimers()
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
    listen((report) => taken.push(report))
    ;(host.dustTrail as { push(...reports: unknown[]): void }).push(
      { kind: 'page', results: 0 },
      { kind: 'page', results: -1 },
      { kind: 'variant', experiment: 'party step', variant: 'map' },
      { kind: 'signal', name: 'n'.repeat(500), value: NaN, currency: 'euro' },
    )
    expect(taken).toEqual([
      { kind: 'action', name: 'order', value: 68, currency: 'EUR', props: { seats: 2 } },
      { kind: 'page', results: 0 },
      { kind: 'variant', experiment: 'party step', variant: 'map' },
      { kind: 'signal', name: 'n'.repeat(120) },
    ])
  })
})
