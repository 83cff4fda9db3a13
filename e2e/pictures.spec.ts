import { createHash } from 'node:crypto'
import { expect, test } from '@playwright/test'
import { batchOf, isBatch } from './sent.ts'
import { watchToItsEnd } from './watch-to-its-end.ts'

const SITE = process.env['SITE_URL'] ?? 'http://127.0.0.1:4181'
const BASE = process.env['BASE_URL'] ?? 'http://127.0.0.1:4180'
/** Of its own in every run: what is kept already is not sent again. */
const COLOUR = `#${Math.floor(Math.random() * 2 ** 24)
  .toString(16)
  .padStart(6, '0')}`
const drawing = (colour: string, width: number) =>
  `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="40"><path d="M0 0h${width}v40H0z" fill="${colour}"/></svg>`

/** Pictures of a page: where each lies, what the page's server says of it, and how wide it is. */
const PICTURES: Record<string, { headers?: Record<string, string>; width: number }> = {
  [`${SITE}/shots/open.svg`]: { width: 50 },
  [`${SITE}/shots/background.svg`]: { width: 51 },
  [`${SITE}/shots/sized.svg?w=200`]: { width: 52 },
  [`${SITE}/shots/own.svg`]: { width: 53, headers: { 'cache-control': 'private, max-age=60' } },
  [`${SITE}/shots/signed.svg?key=0123456789abcdef0123456789abcdef`]: { width: 54 },
  // Where nothing is said the test's browser would allow everybody to read it.
  'http://pictures.example/there.svg': {
    width: 55,
    headers: { 'access-control-allow-origin': 'http://another.example' },
  },
  'http://pictures.example/given.svg': { width: 56, headers: { 'access-control-allow-origin': '*' } },
  [`${SITE}/shots/under-mask.svg`]: { width: 57 },
  [`${SITE}/shots/later.svg`]: { width: 58 },
}

test('pictures that are for everybody are kept with the recording, and nobody is asked for them later', async ({
  page,
  browser,
}) => {
  const context = await browser.newContext({ viewport: { width: 1000, height: 700 } })
  const visitor = await context.newPage()
  let id = ''
  const sent = new Set<string>()
  await context.route(/\/shots\/|pictures\.example/, (route) => {
    const { headers = {}, width } = PICTURES[route.request().url()]!
    return route.fulfill({ contentType: 'image/svg+xml', headers, body: drawing(COLOUR, width) })
  })
  visitor.on('request', (request) => {
    if (isBatch(request)) id = batchOf<{ visitor: string }>(request).visitor
    const hash = new URL(request.url()).searchParams.get('hash')
    if (hash) sent.add(hash)
  })
  await visitor.goto(`${SITE}/help`)
  await visitor.waitForTimeout(1000)
  await visitor.evaluate((site) => {
    document.body.innerHTML = `<h1>Pictures</h1><style>#back{width:60px;height:40px;background:url(/shots/background.svg)}</style>
      <img id="open" src="/shots/open.svg"><div id="back"></div><img id="sized" src="/shots/sized.svg?w=200">
      <img id="own" src="/shots/own.svg"><img id="signed" src="/shots/signed.svg?key=0123456789abcdef0123456789abcdef">
      <img id="there" src="http://pictures.example/there.svg"><img id="given" src="http://pictures.example/given.svg">
      <div data-trail-mask><img id="masked" src="/shots/under-mask.svg"></div>`
    setTimeout(
      () => document.body.append(Object.assign(new Image(), { id: 'later', src: `${site}/shots/later.svg` })),
      800,
    )
  }, SITE)
  const kept = () =>
    Object.values(PICTURES)
      .map(({ width }) => width)
      .filter((width) => sent.has(createHash('sha256').update(drawing(COLOUR, width)).digest('hex')))
  // Open, background, sized, given and later: those that are for everybody and that the page may read.
  await expect.poll(kept, { timeout: 15_000 }).toEqual([50, 51, 52, 56, 58])
  await visitor.waitForTimeout(1500)
  await context.close()

  const asked: string[] = []
  page.on('request', (request) => asked.push(request.url()))
  const wrong: string[] = []
  page.on('console', (message) => message.type() === 'error' && wrong.push(message.text()))
  const { recorded } = await watchToItsEnd(page, id)
  const look = (name: string) =>
    recorded.locator(name).evaluate((image: HTMLImageElement) => ({
      shown: image.currentSrc.startsWith('data:image/svg+xml;base64,'),
      width: image.clientWidth,
    }))
  await expect(recorded.locator('#later')).toBeVisible()
  for (const [name, shown, width] of [
    ['#open', true, 50],
    ['#sized', true, 52],
    ['#given', true, 56],
    ['#later', true, 58],
    // Their room is kept, what they show is not.
    ['#own', false, 53],
    ['#signed', false, 54],
    ['#there', false, 55],
  ] as const)
    expect([name, await look(name)]).toEqual([name, { shown, width }])
  const background = await recorded
    .locator('#back')
    .evaluate((element) => getComputedStyle(element).backgroundImage)
  expect(background).toContain('data:image/svg+xml;base64,')
  expect((await look('[data-trail-mask] img')).shown).toBe(false)
  await expect(page.getByText('3 pictures of the page not kept')).toBeVisible()
  expect(asked.filter((url) => !url.startsWith(BASE) && /^https?:/.test(url))).toEqual([])
  expect(wrong).toEqual([])
})

test('a page that came without TLS, where browsers do not hash, keeps its pictures too', async ({
  page,
  browser,
}) => {
  const context = await browser.newContext()
  const visitor = await context.newPage()
  let id = ''
  let named = 0
  await context.addInitScript(() => Object.defineProperty(crypto, 'subtle', { value: undefined }))
  await context.route(/\/shots\//, (route) =>
    route.fulfill({ contentType: 'image/svg+xml', body: drawing(COLOUR, 73) }),
  )
  visitor.on('request', (request) => {
    if (isBatch(request)) id = batchOf<{ visitor: string }>(request).visitor
  })
  visitor.on('response', (response) => {
    if (new URL(response.url()).searchParams.get('hash') === '' && response.status() === 200) named++
  })
  await visitor.goto(`${SITE}/help`)
  await visitor.waitForTimeout(1000)
  await visitor.evaluate(() => {
    document.body.innerHTML = '<h1>Plain</h1><img id="plain" src="/shots/plain.svg">'
  })
  await expect.poll(() => named, { timeout: 15_000 }).toBeGreaterThan(0)
  await visitor.waitForTimeout(1500)
  await context.close()
  const { recorded } = await watchToItsEnd(page, id)
  const image = recorded.locator('#plain')
  await expect(image).toHaveAttribute('src', /^data:image\/svg\+xml;base64,/)
  await expect(image).toHaveJSProperty('clientWidth', 73)
})
