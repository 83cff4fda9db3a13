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
    expect(target.querySelector('script,iframe,object,base,meta,animate')).toBeNull()
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
