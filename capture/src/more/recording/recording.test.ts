// @vitest-environment happy-dom
import { beforeEach, describe, expect, it } from 'vitest'
import * as scrubber from '../../privacy/scrubber.ts'
import * as shown from '../../privacy/shown.ts'
import { noteAsked } from './asked.ts'
import { safeAttribute } from './attributes.ts'
import { watchConsole, wordsOf } from './console.ts'
import { NodeIds } from './nodes.ts'
import { privacy } from './privacy.ts'
import { Recorder } from './recorder.ts'
import { serialise } from './serialise.ts'
import { safeRules } from './sheets.ts'
import { changedStates, fields } from './state.ts'

Object.assign(privacy, scrubber, shown)
fields.lengthOf = (field) => (field as HTMLInputElement).value.length
const find = <E extends Element = HTMLElement>(selector: string) => document.querySelector<E>(selector)!
const treeOf = (html: string) => {
  document.body.innerHTML = html
  return JSON.stringify(serialise(document.body, new NodeIds()))
}

beforeEach(() => {
  scrubber.setLevel('patterns')
  document.body.innerHTML = ''
})

describe('states of controls', () => {
  const CONTROLS =
    '<input type="checkbox" checked><input type="range" max="9" value="4"><select><option>A</option><option selected>B</option></select><input value="Ann">'
  it('are told where choices may be seen, and of typed text its length', () => {
    const tree = treeOf(CONTROLS)
    for (const state of ['"checked":"true"', '"value":"4"', '"selected":"1"', '"length":"3"'])
      expect(tree).toContain(`data-trail-${state.slice(1)}`)
    expect(tree).not.toContain('Ann')
  })
  it('are not told at the first level, unless the page shows them', () => {
    scrubber.setLevel('hidden')
    expect(treeOf(CONTROLS)).not.toMatch(/trail-(checked|value|selected|default)/)
    expect(treeOf(`<p data-trail-show>${CONTROLS}</p>`)).toMatch(
      /trail-checked.*trail-default.*trail-value.*trail-selected.*trail-default/,
    )
  })
  it('are not told under a mask at any level', () => {
    scrubber.setLevel('chosen')
    expect(treeOf(`<p data-trail-mask>${CONTROLS}</p>`)).not.toMatch(
      /trail-(checked|value|selected|length|default)/,
    )
  })
  it('tell what scripts have set since', () => {
    document.body.innerHTML = CONTROLS
    const ids = new NodeIds()
    serialise(document.body, ids)
    const changes = () => changedStates((element) => ids.known(element))
    expect(changes()).toEqual([])
    find<HTMLInputElement>('input').checked = false
    expect(changes()).toEqual([[ids.known(find('input')), 'data-trail-checked', 'false']])
    expect(changes()).toEqual([])
  })
})

describe('names of attributes of old pages', () => {
  it('are words of the page there, and elsewhere may hold anything', () => {
    scrubber.setLevel('hidden')
    const tree = treeOf(
      '<font face="serif">A</font><table bordercolor="red"></table><x-chip text="Ann" link="Smith" face="Ada"></x-chip><p text="Bob"></p>',
    )
    expect(tree).toContain('"face":"serif"')
    expect(tree).toContain('"bordercolor":"red"')
    expect(tree).not.toMatch(/Ann|Smith|Ada|Bob/)
    scrubber.setLevel('patterns')
    const around = { bare: false, shown: true }
    expect(safeAttribute(document.createElement('x-card'), 'background', 'dark', around)).toBe('dark')
  })
})

describe('what looks like an address in rules', () => {
  it('is left alone where it is the name of a language', () => {
    const named =
      '@namespace svg url("http://www.w3.org/2000/svg"); svg|a { background: url(/a/4111111111111111.png) }'
    expect(safeRules(named, 'http://shop.test/')).toBe(
      '@namespace svg "http://www.w3.org/2000/svg"; svg|a { background: url("http://shop.test/a/•••") }',
    )
  })
  it('is cleaned where an attribute names the picture behind something', () => {
    const around = { bare: false, shown: true }
    const { body } = document
    expect(safeAttribute(body, 'background', 'http://shop.test/a.png', around)).toBe('http://shop.test/a.png')
    expect(safeAttribute(body, 'background', 'javascript:alert(1)', around)).toBeNull()
    expect(safeAttribute(body, 'background', 'a.png', { ...around, bare: true })).toBeNull()
  })
})

describe('elements of the site’s own', () => {
  const OWN =
    '<x-box checked selected="true" loading value="Ann">Text</x-box><x-tab role="tab" selected></x-tab>'
  it('say that they were chosen where choices may be seen, and never what', () => {
    expect(treeOf(OWN)).toContain('"a":{"checked":"","selected":"","loading":""')
    expect(treeOf(OWN)).not.toContain('Ann')
    expect(treeOf(`<p data-trail-mask>${OWN}</p>`)).not.toMatch(/checked|selected/)
  })
  it('do not at the first level, unless the page shows them: but which part of it is open', () => {
    scrubber.setLevel('hidden')
    expect(treeOf(OWN)).not.toContain('checked')
    expect(treeOf(OWN)).toContain('"role":"tab","selected":""')
    expect(treeOf(`<p data-trail-show>${OWN}</p>`)).toContain('"checked":"","selected":""')
    expect(treeOf('<x-item role="radio" checked selected></x-item>')).not.toMatch(/checked|selected/)
  })
})

describe('elements that are not shown', () => {
  it('hold their place, and nothing in them leaves, at first and later', async () => {
    const script = '<script type="text/plain" data-key="s3cret">var token = "s3cret"</script>'
    const tree = treeOf(
      `${script}<template><p>s3cret</p></template><noscript>s3cret</noscript><link rel="prefetch" href="/s3cret"><p>Text</p>`,
    )
    expect(tree.match(/\{"id":\d+,"tag":"template"\}/g)).toHaveLength(4)
    expect(tree).not.toContain('s3cret')
    const items: object[] = []
    const nothing = () => undefined
    const recorder = new Recorder({ snapshot: nothing, item: (item) => items.push(item) }, nothing, nothing, {
      ...{ met: nothing, begun: nothing, changed: nothing },
    })
    recorder.begin(Date.now())
    find('script').setAttribute('class', 's3cret')
    find('script').textContent = 's3cret again'
    find('template').append('s3cret')
    find('p').before(document.createElement('script'))
    await Promise.resolve()
    recorder.flush()
    expect(JSON.stringify(items)).toContain('"tag":"template"')
    expect(JSON.stringify(items)).not.toContain('s3cret')
    recorder.stop()
  })
})

describe('large sheets', () => {
  it('go as several texts of whole rules, that are the sheet together', () => {
    const rules = Array.from({ length: 40_000 }, (_, k) => `.c${k} { color: red; }`).join('\n')
    document.body.innerHTML = `<style>${rules}</style>`
    const written = serialise(find('style'), new NodeIds()) as { c: { id: number; text: string }[] }
    expect(written.c.length).toBeGreaterThan(1)
    expect(new Set(written.c.map(({ id }) => id)).size).toBe(written.c.length)
    for (const { text } of written.c.slice(0, -1)) {
      expect(text.endsWith('}')).toBe(true)
      expect(text.length).toBeLessThanOrEqual(400_001)
    }
    const together = written.c.map(({ text }) => text).join('')
    expect(together).toContain('.c0 { color: red; }')
    expect(together.match(/\.c\d+ \{ color: red; \}/g)).toHaveLength(40_000)
  })
})

describe('trees inside of elements', () => {
  const inside = (mark: string) => {
    document.body.innerHTML = `<div id="host" ${mark}></div>`
    find('#host').attachShadow({ mode: 'open' }).innerHTML =
      '<p>Anna <b>text</b></p><slot name="more"></slot>'
    return JSON.stringify(serialise(document.body, new NodeIds()))
  }
  it('are recorded with their slots', () => {
    expect(inside('')).toMatch(/#shadow.*Anna.*"tag":"slot","a":\{"name":"more"\}/)
  })
  it('are hidden where the element is, and left out of a block', () => {
    expect(inside('data-trail-mask')).not.toContain('Anna')
    expect(inside('data-trail-block')).not.toContain('#shadow')
    scrubber.setLevel('hidden')
    expect(inside('')).not.toContain('Anna')
    expect(inside('role="button"')).toContain('Anna')
  })
  it('go with the element when it moves, once', async () => {
    document.body.innerHTML = '<div id="a"><x-a></x-a></div><div id="b"></div>'
    find('x-a').attachShadow({ mode: 'open' }).innerHTML = '<p>Inside</p>'
    const items: object[] = []
    const nothing = () => undefined
    const recorder = new Recorder({ snapshot: nothing, item: (item) => items.push(item) }, nothing, nothing, {
      ...{ met: nothing, begun: nothing, changed: nothing },
    })
    recorder.begin(Date.now())
    find('#b').append(find('x-a'))
    find('x-a').shadowRoot!.querySelector('p')!.textContent = 'Changed'
    await Promise.resolve()
    recorder.flush()
    const texts = items.map((item) => JSON.stringify(item))
    expect(texts[0]).toContain('Changed')
    // Browsers tell of all that happened at once; the DOM of this test of one root after the other.
    for (const text of texts) expect(text.split('Changed').length - 1).toBeLessThanOrEqual(1)
    recorder.stop()
    const before = items.length
    find('#b').append('more')
    recorder.flush()
    expect(items.length).toBe(before)
  })
})

describe('attributes that rules ask for', () => {
  it('leave with the values that the rules know, others only as being there', () => {
    noteAsked('[data-plan="Very Big 12"] b, p[data-who] {}')
    const kept = (name: string, value: string) =>
      safeAttribute(document.createElement('p'), name, value, { bare: false, shown: false })
    expect(kept('data-plan', 'Very Big 12')).toBe('Very Big 12')
    expect(kept('data-plan', 'Anna Smith 77')).toBe('')
    expect(kept('data-who', 'Anna Smith 77')).toBe('')
    expect(kept('data-other', 'Anna Smith 77')).toBeNull()
  })
})

describe('what the page itself sets', () => {
  it('leaves as a number unless it is one of somebody', () => {
    const tree = treeOf('<ol start="5"><li value="9">a</li><li value="4111111111111111">b</li></ol>')
    expect(tree).toMatch(/"start":"5".*"value":"9"/)
    expect(tree).not.toContain('4111')
  })
  it('is hidden as text at the first level where a rule writes it, signs and font pictures are not', () => {
    scrubber.setLevel('hidden')
    expect(safeRules('p::after { content: "Anna Smith"; }')).toBe('p::after { content: "•••• •••••"; }')
    expect(safeRules('p::after { content: "→ \uf101"; --font: "Inter"; }')).toContain(
      '"→ \uf101"; --font: "Inter"',
    )
  })
})

describe('rules for media', () => {
  it('are settled where they ask for the device, and stay where they ask for the window', () => {
    const holds = matchMedia('(prefers-color-scheme: dark)').matches ? 'min' : 'max'
    expect(safeRules('@media (prefers-color-scheme: dark) and (min-width: 400px) { b { color: red } }')).toBe(
      `@media (${holds}-width: 0px) and (min-width: 400px) { b { color: red } }`,
    )
    expect(safeRules('@supports (hover: hover) { b { color: red } }')).toContain('(hover: hover)')
  })
})

describe('what a page says in the console', () => {
  it('is told in words, as a console writes them, without looking into things', () => {
    expect(wordsOf(['%s of %d%% %c!', 'half', 50, 'color:red', { name: 'Anna' }])).toBe('half of 50% ! {…}')
    expect(wordsOf([new TypeError('no'), [1], undefined])).toBe('TypeError: no […] undefined')
  })
  it('goes to the console first, and leaves as far as the level of the site lets it', () => {
    const original = { ...console }
    const heard: string[] = []
    const told: string[] = []
    try {
      for (const level of ['error', 'log'] as const) console[level] = (text: string) => heard.push(text)
      const { again } = watchConsole((level, text) => told.push(`${level} ${text}`))
      for (const level of ['hidden', 'patterns', 'chosen'] as const) {
        scrubber.setLevel(level)
        console.error(`failed for anna@example.org at ${level}`)
        console.log(`plain ${level}`)
      }
      for (let i = 0; i < 300; i++) console.error('again')
      again()
      console.error('once more')
    } finally {
      Object.assign(console, original)
    }
    expect(heard).toHaveLength(307)
    expect(told.slice(0, 3)).toEqual([
      expect.stringMatching(/^error failed for (?!anna@).* at patterns$/),
      'error failed for anna@example.org at chosen',
      'log plain chosen',
    ])
    expect(told).toHaveLength(201)
    expect(told.at(-1)).toBe('error once more')
  })
  it('is left alone where the page does not let it be changed', () => {
    const original = { ...console }
    try {
      Object.defineProperty(console, 'warn', { value: original.warn, writable: false, configurable: true })
      expect(() => watchConsole(() => undefined)).not.toThrow()
      expect(console.warn).toBe(original.warn)
    } finally {
      Object.defineProperty(console, 'warn', { value: original.warn, writable: true, configurable: true })
      Object.assign(console, original)
    }
  })
})
