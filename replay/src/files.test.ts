// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import { filesIn, NOTHING, PageFiles } from './files.ts'
import { Rebuilt } from './rebuild.ts'

const contents = new Map([['h1', 'data:image/png;base64,AAAA']])
const files = { 'https://shop.example/a.png': 'h1', 'https://shop.example/gone.png': 'h2' }

describe('files of a recording', () => {
  const fileOf = filesIn({ files }, contents, ['https://open.example'])
  it('are what their address stood for in it', () => {
    expect(fileOf('https://shop.example/a.png')).toBe('data:image/png;base64,AAAA')
    expect(fileOf('https://shop.example/gone.png')).toBeUndefined()
    expect(fileOf('https://shop.example/b.png')).toBeUndefined()
    expect(fileOf('constructor')).toBeUndefined()
  })
  it('are asked for only where that is allowed, and never at an address that only looks like it', () => {
    expect(fileOf('https://open.example/b.png')).toBe('https://open.example/b.png')
    expect(fileOf('https://open.example.evil/b.png')).toBeUndefined()
  })
  it('stand in rules; of what is not there something empty does, and no address stays', () => {
    const page = new PageFiles(fileOf)
    const rules = page.inRules(
      `a{background:url("https://shop.example/a.png")} b{background:url(https://shop.example/b.png)}
       @font-face{src:url("https://shop.example/f.woff2") format("woff2")} i{fill:url(#x)}`,
    )
    expect(rules).toContain('a{background:url("data:image/png;base64,AAAA")}')
    expect(rules).toContain(`b{background:url("${NOTHING}")}`)
    expect(rules).toContain('i{fill:url(#x)}')
    expect(rules).not.toContain('https:')
    // Nobody knows whether it was used.
    expect(page.missing.size).toBe(0)
  })
})

describe('a rebuilt page', () => {
  const show = (a: Record<string, string>) => {
    const target = document.implementation.createHTMLDocument()
    const rebuilt = new Rebuilt(target)
    const root = {
      ...{ id: 1, tag: 'html' },
      c: [
        { id: 2, tag: 'head' },
        { id: 3, tag: 'body', c: [{ id: 4, tag: 'img', a }] },
      ],
    }
    rebuilt.show(
      { url: 'https://shop.example/', title: '', width: 100, height: 100, root },
      [],
      filesIn({ files }, contents, []),
    )
    return { rebuilt, image: target.querySelector('img')! }
  }
  it('shows a picture that is kept', () => {
    const { rebuilt, image } = show({ src: 'https://shop.example/a.png' })
    expect(image.getAttribute('src')).toBe('data:image/png;base64,AAAA')
    expect(rebuilt.missing).toBe(0)
  })
  it('gives one that is not kept its room, says so, and asks nobody', () => {
    const { rebuilt, image } = show({
      src: 'https://shop.example/b.png',
      'data-trail-natural': '320x200',
      'data-trail-density': '2',
      style: 'background: url(https://shop.example/c.png)',
    })
    const src = decodeURIComponent(image.getAttribute('src')!)
    expect(src).toContain('width="320" height="200"')
    expect(image.outerHTML).not.toContain('shop.example')
    expect(rebuilt.missing).toBe(1)
    rebuilt.apply({ at: 1, k: 'change', attr: [[4, 'src', 'https://shop.example/a.png']] })
    expect(image.getAttribute('srcset')).toBe('data:image/png;base64,AAAA 2x')
  })
})
