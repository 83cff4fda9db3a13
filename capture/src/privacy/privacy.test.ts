// @vitest-environment happy-dom
import fc from 'fast-check'
import { beforeEach, describe, expect, it } from 'vitest'
import { describe as described } from '../describe.ts'
import { watchFields } from '../fields.ts'
import type { Page } from '../page.ts'
import { selectorOf } from '../selector.ts'
import { safeAttribute, safeCss, safePicture } from '../more/recording/attributes.ts'
import { NodeIds } from '../more/recording/nodes.ts'
import { privacy } from '../more/recording/privacy.ts'
import { serialise } from '../more/recording/serialise.ts'
import * as scrubber from './scrubber.ts'
import * as shown from './shown.ts'
import { forget, learnOwnWords, remember, rememberWhole, typedIn } from './typed.ts'
import { lookAtFields, watchTyping, watchTypingIn } from './typing.ts'

const { clean, cleanAddress, cleanLine, setLevel } = scrubber
const { labelOf, safeText } = shown
Object.assign(privacy, scrubber, shown)

const find = (selector: string) => document.querySelector<HTMLElement>(selector)!
const treeOf = (html: string) => {
  document.body.innerHTML = html
  return JSON.stringify(serialise(document.body, new NodeIds()))
}

beforeEach(() => {
  forget()
  setLevel('patterns')
  document.body.innerHTML = ''
})

describe('what was typed', () => {
  it.each([
    ['as it is', 'Hello Ann Smith', 'Hello ••• •••••'],
    ['in other case', 'ANN SMITH, welcome', '••• •••••, welcome'],
    ['grouped otherwise', 'Ann-Smith / ANNSMITH', '••••••••• / ••••••••'],
    ['in part, as a name', 'Dear Mrs Smith', 'Dear Mrs •••••'],
    ['inside a word, which goes as a whole', 'annsmith1975', '••••••••••••'],
  ])('is hidden %s', (_, text, hidden) => {
    rememberWhole('Ann Smith')
    expect(clean(text)).toBe(hidden)
  })
  it('is hidden letter by letter as it grows, and after the field is emptied', () => {
    for (const value of ['J', 'Jo', 'Jor', 'Jorg']) {
      remember(value)
      expect(clean(`You wrote ${value}`, { fresh: true })).toBe(`You wrote ${'•'.repeat(value.length)}`)
    }
    rememberWhole('Jorg')
    remember('')
    expect(clean('Hello Jorg')).toBe('Hello ••••')
  })
  it('is hidden in a shadow tree that tells nobody around it', () => {
    document.body.innerHTML = '<div id="host"></div>'
    const tree = find('#host').attachShadow({ mode: 'closed' })
    tree.innerHTML = '<input>'
    watchTypingIn(tree, document)
    const field = tree.querySelector('input')!
    field.value = 'Tharvald'
    for (const name of ['input', 'change']) field.dispatchEvent(new Event(name, { bubbles: true }))
    expect(clean('Dear Tharvald')).toBe('Dear ••••••••')
  })
  it('is hidden line by line, in any grouping of a number, and longest first', () => {
    rememberWhole('Flat 12 b\nRosewood Lane')
    rememberWhole('4929 1234')
    rememberWhole('4929')
    expect(clean('Rosewood Lane')).toBe('•••••••• ••••')
    expect(clean('49291234')).toBe('••••••••')
    expect(clean('no 49-29-12-34.')).toBe('no •••••••••••.')
  })
  it('leaves words that the page had itself, and plain words in labels', () => {
    learnOwnWords(['Book a night under the stars'])
    rememberWhole('stars')
    expect(clean('Nine stars')).toBe('Nine stars')
    rememberWhole('sideways')
    expect(clean('go sideways')).toBe('go ••••••••')
    expect(clean('sideways', { labels: true })).toBe('sideways')
  })
  it('is found whatever stands around it (property)', () => {
    const word = fc.stringMatching(/^[A-Z][a-z]{3,9}[0-9]{0,3}$/)
    const around = fc.stringMatching(/^[ .,:;()/-]{1,6}[A-Z]?[a-z]{0,6}[ .,:;()/-]{1,4}$/)
    fc.assert(
      fc.property(word, around, around, fc.boolean(), (value, before, after, upper) => {
        forget()
        rememberWhole(value)
        const shown = upper ? value.toUpperCase() : value
        const hidden = clean(`${before}${shown}${after}`)
        expect(hidden.toLowerCase()).not.toContain(value.toLowerCase())
        expect(hidden.length).toBe(before.length + shown.length + after.length)
      }),
    )
  })
  it('never marks a text in which it does not stand (property)', () => {
    fc.assert(
      fc.property(
        fc.stringMatching(/^[a-m ]{0,60}$/),
        fc.stringMatching(/^[N-Z][n-z]{4,12}$/),
        (text, value) => {
          rememberWhole(value)
          expect(typedIn(text)).toBeNull()
        },
      ),
    )
  })
  it('is not kept in a way in which it could be read', () => {
    rememberWhole('Ann Smith')
    const kept = localStorage.getItem('dust-trail-typed')!
    expect(kept).toMatch(/"entries":\[\[8,/)
    expect(kept).not.toMatch(/ann|smith/i)
  })
  it('is hidden where it stands in several nodes', () => {
    rememberWhole('Marlowe')
    expect(treeOf('<p>Dear <b>Mar</b><i>lowe</i>, welcome</p>')).not.toMatch(/Mar|lowe/)
    expect(treeOf('<p><b>M</b><b>a</b><b>r</b><b>l</b><b>o</b><b>w</b><b>e</b></p>')).not.toMatch(
      /"text":"[Marlowe]"/,
    )
  })
  it('is known though the page emptied the field, or filled it, without an event', () => {
    watchTyping(window)
    document.body.innerHTML =
      '<input id="a"><input id="b" type="password"><div id="c" role="textbox" contenteditable="plaintext-only"></div>'
    const write = (field: HTMLElement, value: string) => {
      field.dispatchEvent(new Event('focusin', { bubbles: true }))
      ;(field as HTMLInputElement).value = value
    }
    write(find('#a'), 'Chosen suggestion 7')
    lookAtFields()
    ;(find('#a') as HTMLInputElement).value = ''
    lookAtFields()
    expect(clean('for Chosen Suggestion 7!')).toBe('for •••••• •••••••••• •!')
  })
})

describe('text by the level of the site', () => {
  const PAGE = `<h1>Your orders</h1><p>Anna Meyer, Rose Lane 5</p><button>Pay now</button><a href="/x">Next</a>
    <label>Name <input placeholder="Your name" value="preset"></label><textarea>secret</textarea>
    <select><option selected>Ireland</option></select><div role="combobox">Munster</div>
    <p data-trail-show>Shown on purpose</p><p title="Anna" data-customer="anna">anna.meyer@example.org</p>`
  it('shows controls and headings alone where it is hidden', () => {
    setLevel('hidden')
    const tree = treeOf(PAGE)
    for (const text of ['Your orders', 'Pay now', 'Next', 'Name ', 'Shown on purpose'])
      expect(tree).toContain(text)
    for (const secret of ['Anna', 'anna', 'Rose', 'preset', 'secret', 'Ireland', 'Munster'])
      expect(tree).not.toContain(secret)
  })
  it('hides fields and what looks personal by patterns', () => {
    const tree = treeOf(PAGE)
    expect(tree).toContain('Anna Meyer, Rose Lane 5')
    for (const secret of ['preset', 'secret', 'Ireland', 'Munster', 'anna.meyer'])
      expect(tree).not.toContain(secret)
  })
  it('hides fields alone where the site chooses itself', () => {
    setLevel('chosen')
    const tree = treeOf(PAGE)
    expect(tree).toContain('anna.meyer@example.org')
    for (const secret of ['preset', 'secret', 'Ireland']) expect(tree).not.toContain(secret)
  })
  it.each(['hidden', 'patterns', 'chosen'] as const)(
    'lets nothing but structure out of a mask (%s)',
    (level) => {
      setLevel(level)
      const tree =
        treeOf(`<div data-trail-mask id="anna" class="card"><h2>Anna Meyer</h2><a href="#anna" title="Anna">Anna</a>
      <img src="https://a.example/anna.png" alt="Anna"><svg><text>Anna</text></svg>
      <i style="color:red;background:url(anna.png)" data-x="anna" aria-label="Anna">x</i><input type="button" value="Anna"></div>`)
      expect(tree).not.toMatch(/anna/i)
      expect(tree).toContain('"class":"card"')
      expect(tree).toContain('color:red')
      expect(selectorOf(find('h2'))).not.toContain('anna')
      expect(described(find('a'))).toMatchObject({ text: '' })
    },
  )
  it('leaves a box of a block, by which all inside is told', () => {
    const tree = treeOf('<section data-trail-block class="ad" title="Anna"><b>Anna</b></section>')
    expect(tree).toContain('"data-trail-box":"0x0"')
    expect(tree).not.toContain('Anna')
    expect(described(find('b'))).toMatchObject({ tag: 'section', text: '' })
  })
  it('tells of a choice only that it was made', () => {
    setLevel('hidden')
    document.body.innerHTML =
      '<fieldset id="diet"><label><input type="radio" name="d" id="halal">Halal</label><label for="none" id="l">None</label><input type="radio" id="none"></fieldset>'
    for (const at of ['#halal', 'label'])
      expect(described(find(at))).toMatchObject({ selector: '#diet', tag: 'fieldset', text: '' })
  })
  it('tells of a field among choices neither its label nor which it was', () => {
    setLevel('hidden')
    document.body.innerHTML =
      '<fieldset id="diet"><label>Halal<input type="radio" id="halal"></label></fieldset><label>Town<input id="town"></label>'
    const sent: object[] = []
    const inputs: Element[] = []
    watchFields({
      send: (line: object) => sent.push(line),
      awake: () => undefined,
      effects: { recording: { input: (field: Element) => inputs.push(field) } },
    } as unknown as Page)
    for (const at of ['#halal', '#town'])
      for (const name of ['focusin', 'input', 'focusout'])
        find(at).dispatchEvent(new Event(name, { bubbles: true }))
    expect(sent).toMatchObject([
      { kind: 'input', label: '', target: { selector: '#diet', text: '' } },
      { kind: 'input', label: 'Town', target: { selector: '#town' } },
    ])
    expect(inputs).toEqual([find('#town')])
  })
  it('keeps the shape of a hidden text', () => {
    document.body.innerHTML = '<p data-trail-mask>Card 1234</p>'
    expect(safeText(find('p').firstChild!)).toBe('•••• ••••')
    expect(labelOf(find('p'))).toBe('')
  })
})

describe('attributes', () => {
  const OPEN = { bare: false, shown: true }
  const of = (name: string, value: string, around = OPEN) => {
    document.body.innerHTML = '<img>'
    return safeAttribute(find('img'), name, value, around)
  }
  it.each([
    ['class', 'card wide', 'card wide'],
    ['class', 'card order-4111111111111111', 'card '],
    ['id', 'anna@example.org', null],
    ['style', 'color:red;--name: "anna@example.org"', 'color:red;--name: "•••"'],
    ['data-state', 'open', 'open'],
    ['data-v-7ba5bd90', '', ''],
    ['data-customer', 'Anna Meyer', null],
    ['alt', 'Picture of anna@example.org', 'Picture of •••'],
    ['aria-valuenow', '5', null],
    ['onclick', 'x()', null],
    ['value', 'x', null],
  ])('%s = %j', (name, value, kept) => expect(of(name, value)).toBe(kept))
  it('a word that was chosen does not turn a class into bullets', () => {
    rememberWhole('wide')
    expect(of('class', 'wide')).toBe('wide')
    expect(of('data-size', 'wide')).toBe('wide')
  })
  it('addresses of pictures keep what finds them, and nothing of whose they are', () => {
    expect(
      safePicture(
        'https://a.example/p/1501594907352.jpg?w=300&fit=crop&u=anna%40b.example&n=4111111111111111',
      ),
    ).toBe('https://a.example/p/1501594907352.jpg?w=300&fit=crop&u=&n=')
    expect(safePicture('https://a.example/u/anna@example.org/4111111111111111.png')).toBe(
      'https://a.example/u/•••/•••',
    )
    expect(safePicture('data:image/svg+xml,%3Csvg%3E%3Ctext%3EAnna%3C/text%3E%3C/svg%3E')).toBe('')
    // Fonts stand in rules by the names that they had before they had one of their own.
    for (const type of ['font/woff2', 'application/font-woff', 'application/x-font-ttf;charset=utf-8'])
      expect(safePicture(`data:${type};base64,AAEA`)).toBe(`data:${type};base64,AAEA`)
    expect(safePicture('data:application/pdf;base64,AAEA')).toBe('')
    expect(safeCss('a{content:"anna@example.org"; background:url("x.png")}', 'https://a.example/')).toBe(
      'a{content:"•••"; background:url("https://a.example/x.png")}',
    )
  })
})

describe('lines', () => {
  it('keep of an address only what is not personal', () => {
    expect(
      cleanAddress(
        'https://u:p@a.example/x/anna%40b.example?mail=a@b.c&utm_source=s&utm_term=a%40b.example#top',
      ),
    ).toBe('https://a.example/x/•••?mail=&utm_source=s&utm_term=')
    setLevel('hidden')
    expect(cleanAddress('https://a.example/c/Anna%20Meyer?utm_source=Anna+Meyer')).toBe(
      'https://a.example/c/•••?utm_source=',
    )
  })
  it('are clean in every text, whoever sends them', () => {
    setLevel('hidden')
    rememberWhole('Marlowe')
    const line = cleanLine({
      kind: 'error',
      message: "No account for Anna Meyer: 'Anna' of marlowe, anna@example.org (reading 'name')",
      stack: 'Error: x\n at f (https://a.example/app.js?token=abc123def456:10:5)',
      title: 'Orders of Anna',
      name: 'order of Marlowe',
      path: '/orders/Anna%20Meyer',
      props: { who: 'marlowe', phone: 4915112345678, seats: 2 },
    })
    expect(line).toEqual({
      kind: 'error',
      message: "No account for •••: '•••' of •••••••, ••• (reading 'name')",
      stack: 'Error: x\n at f (https://a.example/app.js?token=:10:5)',
      title: '',
      name: 'order of •••••••',
      path: '/orders/•••',
      props: { who: '•••••••', phone: '•••', seats: 2 },
    })
  })
})
