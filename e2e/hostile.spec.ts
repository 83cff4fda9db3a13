import type { Page } from '@playwright/test'
import { expect, test } from '@playwright/test'
import type { Node } from './hostile/tricks.ts'
import { tricks } from './hostile/tricks.ts'

const SITE = process.env['SITE_URL'] ?? 'http://127.0.0.1:4181'
const BOOM = "top.postMessage('boom','*');parent.document.title='boom'"

/** A recording as an attacker would send it: not made by our script. */
function hostileBatch(visitor: string, own: string) {
  const now = Date.now()
  let id = 100
  const node = (tag: string, a: Record<string, string> = {}, ...c: object[]) => ({ id: id++, tag, a, c })
  const text = (value: string) => ({ id: id++, text: value })
  return {
    v: 1,
    site: 'quillmoor',
    visitor,
    document: `hostile-${now}`,
    n: 0,
    tab: '',
    startMs: now,
    sentMs: now,
    lines: [{ t: now, kind: 'page', url: '/', title: '<img src=x onerror=alert(1)>' }],
    items: [
      {
        at: 50,
        k: 'change',
        add: [[2, 0, node('script', {}, text(BOOM))]],
        attr: [[3, 'onmouseover', BOOM]],
      },
      { at: 100, k: 'click', id: 3, x: 5, y: 5 },
    ],
    snapshot: {
      url: '/',
      title: '"><script>alert(1)</script>',
      width: 800,
      height: 600,
      root: {
        id: 1,
        tag: 'html',
        c: [
          node(
            'head',
            {},
            node('script', {}, text(BOOM)),
            node('meta', { 'http-equiv': 'refresh', content: `0;url=${own}/boom` }),
            node('base', { href: own }),
            node('link', { rel: 'stylesheet', href: `${own}/boom.css` }),
            node(
              'style',
              {},
              text(`@import "${own}/boom.css"; body{background:url(${own}/boom.png)} p{color:rgb(1,2,3)}`),
            ),
          ),
          {
            id: 2,
            tag: 'body',
            a: { onload: BOOM },
            c: [
              { id: 3, tag: 'p', a: { onclick: BOOM }, c: [text('recorded text <script>alert(1)</script>')] },
              node('img', { src: 'x', onerror: BOOM }),
              node('img', { src: `${own}/boom.png` }),
              node('a', { href: `javascript:${BOOM}`, target: '_top' }, text('link')),
              node('iframe', { src: `javascript:${BOOM}`, srcdoc: `<script>${BOOM}</script>` }),
              node(
                'form',
                { action: `${own}/boom` },
                node('button', { formaction: `javascript:${BOOM}` }, text('send')),
              ),
              {
                ...node('svg', { onload: BOOM }),
                svg: true,
                c: [
                  { ...node('script', {}, text(BOOM)), svg: true },
                  { ...node('use', { href: `${own}/boom.svg#x` }), svg: true },
                ],
              },
              node(
                'section',
                {},
                node(
                  '#shadow',
                  {},
                  node('script', {}, text(BOOM)),
                  node('img', { src: `${own}/boom-tree.png`, onerror: BOOM }),
                  node('p', { style: `background:url(${own}/boom-tree.png)` }, text('in a tree')),
                ),
              ),
              node(
                'iframe',
                {},
                node(
                  '#frame',
                  {},
                  node(
                    'html',
                    { 'data-trail-mode': 'quirks' },
                    node(
                      'head',
                      {},
                      node('meta', { 'http-equiv': 'refresh', content: `0;url=${own}/boom` }),
                      node('style', {}, text(`@import "${own}/boom-frame.css"; b{color:rgb(4,5,6)}`)),
                    ),
                    node(
                      'body',
                      { onload: BOOM },
                      node('script', {}, text(BOOM)),
                      node('img', { src: `${own}/boom-frame.png`, onerror: BOOM }),
                      node('iframe', { src: `${own}/boom-frame` }),
                      node('b', {}, text('in a frame')),
                    ),
                  ),
                ),
              ),
              node('canvas', { 'data-trail-still': `${own}/boom-still.png` }),
              node('object', { data: `${own}/boom` }),
              node('video', { src: `${own}/boom.mp4`, poster: `${own}/boom.png` }),
            ],
          },
        ],
      },
    },
  }
}

async function sessionOf(page: Page, visitor: string): Promise<string> {
  const day = new Date().toISOString().slice(0, 10)
  let id: string | undefined
  await expect
    .poll(
      async () => {
        const answer = await page.request.post('/api/v1/sites/quillmoor/sessions', {
          data: { lens: { from: day, to: day }, selection: { type: 'everyone' }, order: 'newest', limit: 20 },
        })
        const { sessions } = (await answer.json()) as { sessions: { id: string; visitor: string }[] }
        id = sessions.find((session) => session.visitor === visitor)?.id
        return id
      },
      { timeout: 5000 },
    )
    .toBeDefined()
  return id!
}

test('a recorded page with script in every corner runs none of it and asks us for nothing', async ({
  page,
  baseURL,
}) => {
  const visitor = `hostile-${Date.now()}`
  const sent = await page.request.post('/collect', {
    data: JSON.stringify(hostileBatch(visitor, baseURL!)),
    headers: { 'content-type': 'text/plain', origin: SITE },
  })
  expect(sent.status()).toBe(204)
  const session = await sessionOf(page, visitor)

  const answered: string[] = []
  const dialogs: string[] = []
  // A request that the policy stops is seen by the test, but never leaves the browser and never gets an answer.
  page.on('response', (response) => answered.push(response.url()))
  const stopped: string[] = []
  page.on('requestfailed', (request) => {
    // The browser may give up the sign of our own page while it goes on to another address.
    if (new URL(request.url()).pathname === '/mark.svg') return
    stopped.push(`${request.failure()?.errorText} ${request.url()}`)
  })
  page.on('dialog', (dialog) => {
    dialogs.push(dialog.message())
    void dialog.dismiss()
  })
  await page.addInitScript(() => {
    addEventListener('message', (event) => {
      if (event.data === 'boom') document.title = 'boom'
    })
  })
  await page.goto(`/replays/${session}`)
  const frame = page.frameLocator('iframe[title="Recorded page"]')
  await expect(frame.getByText('recorded text')).toHaveCSS('color', 'rgb(1, 2, 3)')
  await page.getByRole('button', { name: 'Play' }).click()
  await page.waitForTimeout(1200)
  await page.mouse.click(600, 300)
  await page.waitForTimeout(300)

  expect(await page.title()).toBe('Dust Trail')
  expect(dialogs).toEqual([])
  expect(answered.filter((url) => url.includes('boom'))).toEqual([])
  expect(stopped.length).toBeGreaterThan(0)
  for (const one of stopped) expect(one).toMatch(/^csp .*boom/)
  expect(page.url()).toContain(`/replays/${session}`)
  const inside = page.locator('iframe[title="Recorded page"]')
  await expect(inside).toHaveAttribute('sandbox', 'allow-same-origin')
  const acting = 'script, iframe[src], iframe[srcdoc], object, base, link, meta[http-equiv="refresh"]'
  expect(await frame.locator(acting).count()).toBe(0)
  const inner = frame.frameLocator('iframe >> nth=1')
  await expect(inner.getByText('in a frame')).toHaveCSS('color', 'rgb(4, 5, 6)')
  expect(await inner.locator(acting).count()).toBe(0)
  await expect(frame.getByText('in a tree')).toBeVisible()
  expect(await frame.locator('body').evaluate((body) => body.outerHTML)).not.toMatch(/ on\w+=|javascript:/i)
})

test('of 135 tricks and more none runs anything or asks anybody, at first and when it comes later', async ({
  page,
  baseURL,
}) => {
  const all = tricks(baseURL!, BOOM)
  expect(all.length).toBeGreaterThanOrEqual(135)
  let id = 100
  const numbered = ({ c, ...node }: Node): object => ({
    id: id++,
    ...node,
    ...(c?.length && { c: c.map(numbered) }),
  })
  const visitor = `tricks-${Date.now()}`
  const now = Date.now()
  const holder = (name: string, node: Node): object =>
    numbered({ tag: 'div', a: { class: 'trick' }, c: [{ text: name }, node] })
  const batch = {
    ...{
      v: 1,
      site: 'quillmoor',
      visitor,
      document: visitor,
      n: 0,
      piece: 0,
      tab: '',
      startMs: now,
      sentMs: now,
    },
    lines: [{ t: now, kind: 'page', url: '/' }],
    items: [
      // The same once more while it is watched, and the worst of it set on what is there already.
      { at: 800, k: 'change', add: all.map(([name, node]) => [2, 0, holder(`later: ${name}`, node)]) },
      {
        at: 900,
        k: 'change',
        attr: all.flatMap(([, { a }]) => Object.entries(a ?? {}).map(([name, value]) => [3, name, value])),
      },
      {
        at: 1000,
        k: 'change',
        add: [[2, 0, { id: 9, tag: 'p', a: { id: 'last' }, c: [{ id: 10, text: 'still there' }] }]],
      },
    ],
    snapshot: {
      ...{ url: '/', title: 'x', width: 800, height: 600 },
      root: {
        ...{ id: 1, tag: 'html' },
        c: [
          numbered({
            tag: 'head',
            c: all
              .map(([, node]) => node)
              .filter(({ tag }) => /^(style|link|meta|base|script)$/.test(tag ?? '')),
          }),
          {
            id: 2,
            tag: 'body',
            c: [{ id: 3, tag: 'p', c: [] }, ...all.map(([name, node]) => holder(name, node))],
          },
        ],
      },
    },
  }
  const sent = await page.request.post('/collect', {
    data: JSON.stringify(batch),
    headers: { 'content-type': 'text/plain', origin: SITE },
  })
  expect(sent.status()).toBe(204)
  const session = await sessionOf(page, visitor)
  const answered: string[] = []
  const ran: string[] = []
  page.on('response', (response) => answered.push(response.url()))
  page.on('dialog', (dialog) => {
    ran.push(dialog.message())
    void dialog.dismiss()
  })
  page.on('popup', (popup) => ran.push(popup.url()))
  await page.addInitScript(() =>
    addEventListener('message', (event) => {
      if (event.data === 'boom') document.title = 'boom'
    }),
  )
  await page.goto(`/replays/${session}`)
  const time = page.getByRole('slider', { name: 'Time in the session' })
  await expect(time).toBeVisible()
  await time.focus()
  await page.keyboard.press('End')
  const frame = page.frameLocator('iframe[title="Recorded page"]')
  await expect(frame.locator('#last')).toBeAttached()
  // Everything that could be clicked, hovered or given the focus is.
  const box = (await page.locator('iframe[title="Recorded page"]').boundingBox())!
  for (let k = 1; k < 10; k++) {
    await page.mouse.move(box.x + 40, box.y + (box.height * k) / 10)
    await page.mouse.click(box.x + 40, box.y + (box.height * k) / 10)
  }
  await page.waitForTimeout(1500)
  expect(await page.title()).toBe('Dust Trail')
  expect(ran).toEqual([])
  expect(answered.filter((url) => url.includes('boom'))).toEqual([])
  expect(page.url()).toContain(`/replays/${session}`)
  // Nor is there anything left that could, should the page be taken out of its frame.
  const acting = await frame.locator('html').evaluate((root) => {
    const found: string[] = []
    const look = (within: ParentNode) => {
      for (const element of within.querySelectorAll('*')) {
        if (/^(script|base|link|object|embed|portal)$/i.test(element.localName)) found.push(element.localName)
        for (const { name, value } of element.attributes)
          if (
            /^on/i.test(name) ||
            (/^(src|href|action|data)$/i.test(name) && /^\s*(javascript|vbscript|http)/i.test(value))
          )
            found.push(`${element.localName} ${name}`)
        if (element.shadowRoot) look(element.shadowRoot)
      }
    }
    look(root)
    return found
  })
  expect(acting).toEqual([])
  const html = await frame.locator('html').evaluate((root) => root.outerHTML)
  const read = await page.evaluate(
    (text) => new DOMParser().parseFromString(text, 'text/html').querySelectorAll('script').length,
    html,
  )
  expect(read).toBe(0)
  expect((await page.context().cookies()).filter(({ name }) => name === 'boom')).toEqual([])
})
