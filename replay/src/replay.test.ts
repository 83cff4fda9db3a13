// @vitest-environment happy-dom
import type { RecordedNode, Snapshot } from '@dust-trail/core/recording'
import { describe, expect, it } from 'vitest'
import { policy } from './frame.ts'
import { Rebuilt } from './rebuild.ts'
import { pointerAt, Stage } from './stage.ts'

const page = (...body: RecordedNode[]): Snapshot => ({
  url: '/',
  title: '',
  width: 100,
  height: 100,
  root: {
    id: 1,
    tag: 'html',
    c: [
      { id: 2, tag: 'head' },
      { id: 3, tag: 'body', c: body },
    ],
  },
})
const fresh = () => document.implementation.createHTMLDocument('')

describe('Rebuilt', () => {
  it('keeps nothing of a hostile page that could act', () => {
    const target = fresh()
    new Rebuilt(target).show(
      page(
        { id: 10, tag: 'script', c: [{ id: 11, text: 'boom()' }] },
        { id: 12, tag: 'img', a: { src: 'javascript:boom()', onerror: 'boom()', srcset: 'x' } },
        {
          id: 13,
          tag: 'a',
          a: { href: 'javascript:boom()', ping: 'https://x', target: '_top', ONCLICK: 'boom()' },
        },
        { id: 14, tag: 'iframe', a: { srcdoc: '<script>boom()</script>', src: '/api' } },
        { id: 15, tag: 'meta', a: { 'http-equiv': 'refresh', content: '0;url=/boom' } },
        { id: 16, tag: 'base', a: { href: '/boom' } },
        { id: 17, tag: 'object', a: { data: 'boom' } },
        {
          id: 18,
          tag: 'svg',
          svg: true,
          c: [
            { id: 19, tag: 'animate', svg: true, a: { to: 'javascript:boom()' } },
            { id: 20, tag: 'a', svg: true, a: { 'xlink:href': 'javascript:boom()' } },
          ],
        },
        {
          id: 21,
          tag: 'form',
          a: { action: '/boom' },
          c: [{ id: 22, tag: 'button', a: { formaction: 'javascript:boom()' } }],
        },
        { id: 23, tag: 'x"><script>boom()</script>', c: [{ id: 24, text: '<b>text</b>' }] },
        { id: 25, tag: 'div', a: { 'bad name=': 'x', '"><script>': 'boom', title: 'kept' } },
      ),
    )
    const html = target.documentElement.outerHTML
    expect(html).not.toContain('boom')
    expect(target.querySelector('script,object,base,meta,animate,iframe[src],iframe[srcdoc]')).toBeNull()
    expect(target.querySelector('[title=kept]')).not.toBeNull()
    expect(html).toContain('&lt;b&gt;text')
  })

  it('shows once what the page put into another element', () => {
    const target = fresh()
    const rebuilt = new Rebuilt(target)
    const moved: RecordedNode = { id: 10, tag: 'p', c: [{ id: 11, text: 'moved' }] }
    rebuilt.show(page(moved, { id: 12, tag: 'p', c: [{ id: 13, text: 'stays' }] }))
    // A wrapper comes, with a paragraph in it that stood elsewhere: only the wrapper is told as added.
    rebuilt.apply({ at: 0, k: 'change', add: [[3, 12, { id: 20, tag: 'div', c: [moved] }]] })
    expect(target.body.innerHTML).toBe('<div><p>moved</p></div><p>stays</p>')
    rebuilt.apply({ at: 1, k: 'change', text: [[11, 'still known']] })
    expect(target.body.textContent).toBe('still knownstays')
  })

  it('follows changes of the page and of hostile ones keeps nothing either', () => {
    const target = fresh()
    const rebuilt = new Rebuilt(target)
    rebuilt.show(
      page({ id: 10, tag: 'p', c: [{ id: 11, text: 'a' }] }, { id: 12, tag: 'p' }, { id: 13, tag: 'input' }),
    )
    rebuilt.apply({
      at: 0,
      k: 'change',
      gone: [12, 99],
      add: [
        [3, 10, { id: 20, tag: 'h1', c: [{ id: 21, text: 'first' }] }],
        [3, 0, { id: 22, tag: 'script', c: [] }],
        [99, 0, { id: 23, tag: 'b' }],
      ],
      attr: [
        [10, 'class', 'x'],
        [10, 'onclick', 'boom()'],
      ],
      text: [[11, 'b']],
    })
    rebuilt.apply({ at: 0, k: 'input', id: 13, length: 4 })
    expect(target.body.innerHTML).toBe('<h1>first</h1><p class="x">b</p><input autocomplete="off">')
    expect(target.querySelector('input')!.value).toBe('••••')
  })
})

describe('a recording that is made to stop the player', () => {
  it('does not: what cannot be done is skipped and counted, and the rest is shown', () => {
    const target = fresh()
    const rebuilt = new Rebuilt(target)
    let deep: RecordedNode = { id: 5000, text: 'at the bottom' }
    for (let id = 4999; id > 3000; id--) deep = { id, tag: 'div', c: [deep] }
    rebuilt.show(
      page(
        { id: 10, tag: 'p', c: [{ id: 11, text: 'a' }] },
        { id: 12, tag: 'input', a: { type: 'file' } },
        deep,
      ),
    )
    expect(rebuilt.skipped).toBe(1)
    rebuilt.apply({ at: 0, k: 'input', id: 12, length: 5 })
    rebuilt.apply({
      ...{ at: 1, k: 'change', gone: [1, 77] },
      add: [
        [11, 0, { id: 20, tag: 'b' }],
        [3, 0, { id: 21, tag: 'b', c: [{ id: 22, text: 'still there' }] }],
      ],
      attr: [[11, 'class', 'x']],
    })
    expect(rebuilt.skipped).toBe(3)
    expect(target.documentElement).not.toBeNull()
    expect(target.body.textContent).toContain('still there')
    expect(target.body.textContent).not.toContain('at the bottom')
  })
})

describe('policy', () => {
  it('lets the frame load pictures from the site alone, and from us never', () => {
    const text = policy({
      pictureOrigins: ['https://shop.example', 'https://us.example', 'https://x; script-src *'],
      ownOrigin: 'https://us.example',
      title: '',
    })
    expect(text).toContain("default-src 'none'")
    expect(text).toContain('img-src data: https://shop.example;')
    expect(text).not.toContain('us.example')
    expect(text).not.toContain('script-src')
  })
})

describe('Stage', () => {
  const recording = (startMs: number, text: string) => ({
    document: text,
    startMs,
    snapshot: page({ id: 10, tag: 'p', c: [{ id: 11, text }] }),
    items: [
      {
        at: 100,
        k: 'move' as const,
        p: [
          [100, 0, 0],
          [200, 10, 20],
        ] as [number, number, number][],
      },
      { at: 300, k: 'change' as const, text: [[11, `${text}!`]] as [number, string][] },
    ],
  })
  it('shows the same at a time however one gets there', () => {
    const target = fresh()
    const stage = new Stage(
      target,
      [recording(0, 'a'), recording(1000, 'b')],
      [
        { index: 0, fromMs: 0 },
        { index: 1, fromMs: 1000 },
      ],
    )
    const at = (ms: number) => {
      const view = stage.seek(ms)
      return [target.body.textContent, view.index, view.pointer]
    }
    const straight = [0, 150, 299, 300, 999, 1000, 1300].map(at)
    const back = [1300, 1000, 999, 300, 299, 150, 0].map(at).reverse()
    expect(back).toEqual(straight)
    expect(straight.map(([text]) => text)).toEqual(['a', 'a', 'a', 'a!', 'a!', 'b', 'b!'])
    expect(straight[1]![2]).toEqual({ x: 5, y: 10 })
  })
  it('has no pointer before there was one', () => {
    expect(pointerAt([], 5)).toBeNull()
    expect(pointerAt([[10, 1, 1]], 5)).toBeNull()
  })
})

describe('what no attribute says', () => {
  const shown = (...body: RecordedNode[]) => {
    const target = fresh()
    const rebuilt = new Rebuilt(target)
    rebuilt.show(page(...body))
    return { target, rebuilt }
  }
  const set = (rebuilt: Rebuilt, id: number, name: string, value: string | null) =>
    rebuilt.apply({ at: 1, k: 'change', attr: [[id, `data-trail-${name}`, value]] })

  it('is put into controls, and of typed text only how much', () => {
    const { target, rebuilt } = shown(
      { id: 10, tag: 'input', a: { type: 'checkbox', 'data-trail-checked': 'true' } },
      { id: 11, tag: 'input', a: { type: 'range', max: '10', 'data-trail-value': '7' } },
      { id: 12, tag: 'input', a: { 'data-trail-length': '3' } },
      { id: 13, tag: 'progress', a: { max: '10', value: '4' } },
      {
        ...{ id: 14, tag: 'select', a: { 'data-trail-selected': '1' } },
        c: [
          { id: 15, tag: 'option', c: [{ id: 16, text: 'A' }] },
          { id: 17, tag: 'option', c: [{ id: 18, text: 'B' }] },
        ],
      },
    )
    const [box, range, field] = target.querySelectorAll('input')
    expect([box!.checked, range!.value, field!.value]).toEqual([true, '7', '•••'])
    expect(target.querySelector('progress')!.getAttribute('value')).toBe('4')
    expect(target.querySelector('select')!.selectedIndex).toBe(1)
    set(rebuilt, 10, 'checked', 'mixed')
    expect([box!.checked, box!.indeterminate]).toEqual([false, true])
    expect(rebuilt.skipped).toBe(0)
  })
  it('is kept of the site’s own elements as words, which do nothing', () => {
    const a = {
      checked: '',
      selected: '',
      loading: '',
      value: '3',
      onclick: 'run()',
      is: 'x-b',
      srcdoc: '<p>',
    }
    const { target } = shown(
      { id: 10, tag: 'x-a', a },
      { id: 11, tag: 'input', a: { checked: '', loading: '' } },
    )
    expect(target.querySelector('x-a')!.getAttributeNames()).toEqual([
      'checked',
      'selected',
      'loading',
      'value',
      'is',
    ])
    expect(target.querySelector('input')!.getAttributeNames()).toEqual(['autocomplete'])
  })
  it('keeps names with a colon, which rules ask for, and pictures behind a page from known places alone', () => {
    const target = fresh()
    const rebuilt = new Rebuilt(target)
    const fileOf = (address: string) =>
      address.endsWith('known.png') ? 'data:image/png;base64,AA' : undefined
    rebuilt.show(
      page(
        { id: 10, tag: 'o:p', c: [{ id: 11, text: 'Office' }] },
        { id: 12, tag: 'a<b', c: [{ id: 13, text: 'Broken' }] },
        { id: 14, tag: 'table', a: { background: 'https://shop.test/known.png', border: '3' } },
        { id: 15, tag: 'table', a: { background: 'https://elsewhere.test/x.png' } },
        { id: 16, tag: 'table', a: { background: 'javascript:run()' } },
        { id: 17, tag: 'p', a: { background: 'https://shop.test/known.png' } },
      ),
      [],
      fileOf,
    )
    const { children } = target.body
    expect([...children].map(({ tagName }) => tagName.toLowerCase())).toEqual([
      ...['o:p', 'div', 'table', 'table', 'table', 'p'],
    ])
    expect([...children].map((one) => one.getAttribute('background'))).toEqual([
      ...[null, null, 'data:image/png;base64,AA', null, null, null],
    ])
  })
  it('lets no name in a drawing or a formula hide another behind a colon', () => {
    const { target } = shown(
      {
        id: 10,
        tag: 'svg',
        svg: true,
        c: [
          { id: 11, tag: 'x:script', svg: true },
          { id: 12, tag: 'x:set', svg: true },
        ],
      },
      { id: 13, tag: 'math', c: [{ id: 14, tag: 'x:script' }] },
    )
    const names = [...target.body.querySelectorAll('*')].map(({ localName }) => localName)
    expect(names).toEqual(['svg', 'div', 'div', 'math', 'div'])
  })
  it('lays a page out as narrow as it was, where a phone showed it smaller', () => {
    const { target, rebuilt } = shown({
      id: 10,
      tag: 'style',
      c: [{ id: 11, text: '@media (min-width: 500px) {}' }],
    })
    const set = (value: string | null) =>
      rebuilt.apply({ at: 1, k: 'change', attr: [[1, 'data-trail-layout', value]] })
    set('390')
    expect(target.documentElement.getAttribute('style')).toBe('width: 390px !important')
    rebuilt.apply({ at: 2, k: 'change', text: [[11, '@media (min-width: 500px) { b {} }']] })
    expect(target.querySelector('body style')!.textContent).toBe('@media (max-width: 0px) { b {} }')
    set('1px; color: red')
    expect(target.documentElement.hasAttribute('style')).toBe(false)
  })
  it('holds the place of what is not shown, and nothing goes there', () => {
    const inside: RecordedNode = { id: 12, tag: 'p' }
    const { target, rebuilt } = shown(
      { id: 10, tag: 'template', a: { shadowrootmode: 'open' }, c: [inside] },
      { id: 11, tag: 'b' },
    )
    expect(target.querySelector('b')!.matches(':nth-child(2)')).toBe(true)
    rebuilt.apply({ at: 1, k: 'change', add: [[10, 0, { id: 13, tag: 'p' }]] })
    const place = target.querySelector('template')!
    expect([place.childNodes.length, place.attributes.length, rebuilt.skipped]).toEqual([0, 0, 1])
  })
  it('links shapes by the name that they had before they had one without a prefix', () => {
    const use: RecordedNode = { id: 11, tag: 'use', svg: true, a: { 'xlink:href': '#shape' } }
    const { target } = shown({ id: 10, tag: 'svg', svg: true, c: [use] })
    expect(target.querySelector('use')!.getAttributeNS('http://www.w3.org/1999/xlink', 'href')).toBe('#shape')
  })
  it('lets no name of a recorded page stand in the way of what the browser can do', () => {
    const names = ['append', 'localName', 'setAttribute', 'insertBefore', 'children']
    const { target, rebuilt } = shown(
      {
        ...{ id: 10, tag: 'form', a: { name: 'documentElement' } },
        c: names.map((name, k) => ({ id: 20 + k, tag: 'input', a: { id: name, name } })),
      },
      { id: 11, tag: 'img', a: { name: 'head', id: 'defaultView' } },
      { id: 13, tag: 'slot', a: { name: 'append', id: 'append' } },
    )
    // What is no field of a form keeps its name: others ask for it.
    expect(target.querySelector('slot')!.outerHTML).toBe('<slot name="append" id="append"></slot>')
    const [form, picture] = [target.querySelector('form')!, target.querySelector('img')!]
    expect([form.hasAttribute('name'), picture.hasAttribute('name')]).toEqual([false, false])
    const fields = [...form.querySelectorAll('input')].map(({ id, name }) => [id, name])
    expect(fields.slice(0, 4)).toEqual(names.slice(0, 4).map((name) => [`${name}-`, `${name}-`]))
    expect(fields[4]).toEqual(['children', 'children'])
    rebuilt.apply({ at: 1, k: 'change', add: [[10, 20, { id: 12, tag: 'b' }]], attr: [[10, 'class', 'x']] })
    expect([form.firstElementChild!.localName, form.className, rebuilt.skipped]).toEqual(['b', 'x', 0])
  })
  it('shows the picture that an element for files holds, in a line with text, and nothing else in it', () => {
    const { target } = shown(
      { id: 10, tag: 'object', a: { src: 'data:image/png;base64,AAAA', 'data-trail-box': '20x10' } },
      { id: 11, tag: 'embed', a: { src: 'javascript:run()', 'data-trail-box': '20x10' } },
    )
    expect(target.querySelectorAll('object, embed')).toHaveLength(0)
    const [picture, box] = target.querySelectorAll('img')
    expect(picture!.getAttribute('src')).toBe('data:image/png;base64,AAAA')
    expect(box!.getAttribute('src')).toMatch(/^data:image\/gif/)
    expect(box!.getAttribute('style')).toContain('width: 20px; height: 10px')
  })
  it('builds the tree inside of an element, and follows it', () => {
    const { target, rebuilt } = shown({
      ...{ id: 10, tag: 'x-a' },
      c: [{ id: 11, tag: '#shadow', c: [{ id: 12, tag: 'p', c: [{ id: 13, text: 'Inside' }] }] }],
    })
    const root = target.querySelector('x-a')!.shadowRoot!
    expect(root.querySelector('p')!.textContent).toBe('Inside')
    rebuilt.apply({ at: 1, k: 'change', add: [[11, 12, { id: 14, tag: 'b' }]], text: [[13, 'Changed']] })
    expect([...root.children].map(({ localName }) => localName)).toEqual(['b', 'p'])
    expect(root.textContent).toBe('Changed')
  })
  it('says once what many trees share', () => {
    const tree = (id: number, style: RecordedNode): RecordedNode => ({
      ...{ id, tag: 'x-a' },
      c: [{ id: id + 1, tag: '#shadow', c: [style] }],
    })
    const { target } = shown(
      tree(10, { id: 12, tag: 'style', c: [{ id: 13, text: 'a:hover{}' }] }),
      tree(20, { id: 22, tag: 'style', a: { 'data-trail-same': '12' } }),
    )
    const texts = [...target.querySelectorAll('x-a')].map(
      (host) => host.shadowRoot!.querySelector('style')!.textContent,
    )
    expect(texts).toEqual(['a[data-trail-hover]{}', 'a[data-trail-hover]{}'])
  })
  it('tells of sheets that could not be read until they can', () => {
    const unread = { id: 10, tag: 'style', a: { 'data-trail-unread': 'https://cdn.example/a.css' } }
    const { rebuilt } = shown(unread)
    expect(rebuilt.unread).toBe(1)
    rebuilt.apply({ at: 1, k: 'change', gone: [10], add: [[3, 0, { id: 10, tag: 'style' }]] })
    expect(rebuilt.unread).toBe(0)
  })
  it('shows a drawing by a picture as large, and takes no other address for one', () => {
    const { target, rebuilt } = shown({ id: 10, tag: 'canvas', a: { width: '80', height: '40' } })
    const picture = target.querySelector('img')!
    const text = () => decodeURIComponent(picture.getAttribute('src')!)
    expect(text()).toContain('width="80" height="40"')
    set(rebuilt, 10, 'still', 'data:image/webp;base64,AAAA')
    expect(text()).toContain('data:image/webp;base64,AAAA')
    set(rebuilt, 10, 'still', 'https://elsewhere.example/x.png')
    expect(text()).not.toContain('elsewhere')
    rebuilt.apply({ at: 1, k: 'change', attr: [[10, 'src', 'https://elsewhere.example/x.png']] })
    expect(text()).not.toContain('elsewhere')
  })
  it('keeps what else is known of a style when the page changes it', () => {
    const { target, rebuilt } = shown({ id: 10, tag: 'p', a: { style: 'color: red' } })
    set(rebuilt, 10, 'animated', 'opacity: 0.5')
    rebuilt.apply({ at: 1, k: 'change', attr: [[10, 'style', 'color: blue']] })
    expect(target.querySelector('p')!.getAttribute('style')).toBe('color: blue; opacity: 0.5 !important')
    set(rebuilt, 10, 'animated', null)
    expect(target.querySelector('p')!.getAttribute('style')).toBe('color: blue')
  })
  it('counts what cannot be done, and goes on', () => {
    const { target, rebuilt } = shown(
      { id: 10, tag: 'input', c: [{ id: 11, tag: '#shadow', c: [] }] },
      { id: 12, tag: 'p', c: [{ id: 13, text: 'still there' }] },
    )
    expect(rebuilt.skipped).toBeGreaterThan(0)
    expect(target.body.textContent).toContain('still there')
    set(rebuilt, 2, 'selection', '13:99:13:100')
    rebuilt.select()
    rebuilt.select()
    expect(target.querySelector('p')).not.toBeNull()
  })
})
