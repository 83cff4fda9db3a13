import type { Browser } from '@playwright/test'
import { expect, test } from '@playwright/test'
import { batchOf, isBatch } from './sent.ts'

const SITE = process.env['SITE_URL'] ?? 'http://127.0.0.1:4181'

interface Sent {
  lines: {
    kind: string
    target?: { selector: string }
    path?: string
    status?: number
    size?: number
    ms?: number
  }[]
  snapshot?: { root: object }
  visitor: string
}

/** A visitor, and what their page sends. */
async function heard(browser: Browser) {
  const context = await browser.newContext()
  const visitor = await context.newPage()
  const sent: Sent[] = []
  visitor.on('request', (request) => {
    if (isBatch(request)) sent.push(batchOf<Sent>(request))
  })
  return { context, visitor, sent }
}

/** What people build: fields called like the browser's own, a page shorter than its window, a very deep one. */
function build() {
  const names = [
    'localName',
    'closest',
    'getAttribute',
    'parentElement',
    'attributes',
    'matches',
    'parentNode',
  ]
  document.title = 'A long title '.repeat(80)
  document.documentElement.style.height = document.body.style.height = '120px'
  document.body.innerHTML = `<form id="odd" onsubmit="return false">
    ${names.map((name) => `<input name="${name}" aria-label="${name}">`).join('')}<button>Send</button>
  </form><div id="deep"></div>`
  let node = document.getElementById('deep')!
  for (let i = 0; i < 700; i++) node = node.appendChild(document.createElement('div'))
}

test('an honest page loses nothing, however oddly it is built', async ({ browser }) => {
  const context = await browser.newContext()
  await context.addInitScript(() => localStorage.setItem('dust-trail-visitor', 'x'.repeat(500)))
  const visitor = await context.newPage()
  const sent: Sent[] = []
  const statuses: number[] = []
  visitor.on('request', (request) => {
    if (isBatch(request)) sent.push(batchOf<Sent>(request))
  })
  visitor.on('response', (response) => {
    if (isBatch(response.request())) statuses.push(response.status())
  })
  const clicked = () =>
    sent.flatMap(({ lines }) =>
      lines.filter(({ kind }) => kind === 'click').map(({ target }) => target!.selector),
    )
  await visitor.goto(`${SITE}/help`)
  await visitor.waitForTimeout(600)
  await visitor.evaluate(build)
  await visitor.waitForTimeout(600)
  // By its place: whoever looks for it by the page's own functions finds fields instead.
  const box = await visitor.evaluate(() => {
    const { x, y } = document.querySelector('#odd > button')!.getBoundingClientRect()
    return { x, y }
  })
  await visitor.mouse.click(box.x + 5, box.y + 5)
  await visitor.mouse.click(400, 600)
  await expect.poll(clicked).toEqual(expect.arrayContaining(['#odd > button', 'html']))
  await visitor.evaluate(() => {
    document.open()
    document.write('<title>Anew</title><button id="again">Again</button>')
    document.close()
  })
  await visitor.waitForTimeout(300)
  await visitor.getByRole('button', { name: 'Again' }).click()
  await expect.poll(clicked).toContain('#again')
  await visitor.waitForTimeout(300)
  expect(new Set(statuses)).toEqual(new Set([204]))
  expect(sent.filter(({ snapshot }) => snapshot)).toHaveLength(2)
  for (const { visitor: name } of sent) expect(name).toMatch(/^[0-9a-f]{32}$/)
  await context.close()
})

test('a request is told with what its answer weighs, whichever way it was made and however it was sent', async ({
  browser,
}) => {
  const { context, visitor, sent } = await heard(browser)
  await context.route('**/weights/*', (route) =>
    route.fulfill(
      route.request().url().endsWith('nothing')
        ? { status: 204 }
        : { status: 200, contentType: 'text/plain', body: 'x'.repeat(1234) },
    ),
  )
  await visitor.goto(`${SITE}/help`)
  await visitor.waitForTimeout(600)
  await visitor.evaluate(async () => {
    await (await fetch('/weights/fetched')).text()
    await fetch('/weights/nothing')
    await new Promise((resolve) => {
      const request = new XMLHttpRequest()
      request.open('GET', '/weights/asked')
      request.onloadend = resolve
      request.send()
    })
  })
  const weighed = () =>
    sent
      .flatMap(({ lines }) => lines)
      .filter(({ kind }) => kind === 'request')
      .map(({ path, status, size }) => `${path} ${status} ${size ?? 'not known'}`)
  await expect
    .poll(weighed)
    .toEqual(['/weights/fetched 200 1234', '/weights/nothing 204 not known', '/weights/asked 200 1234'])
  await context.close()
})

test('where the pointer of a mouse rested longest is told when the view ends, and a finger rests nowhere', async ({
  browser,
}) => {
  const { context, visitor, sent } = await heard(browser)
  await visitor.goto(`${SITE}/help`)
  await visitor.waitForTimeout(800)
  const heading = await visitor.locator('h1').first().boundingBox()
  const { x, y } = heading!
  await visitor.mouse.move(x + 20, y + 10)
  await visitor.waitForTimeout(1400)
  // A hand is never quite still.
  await visitor.mouse.move(x + 21, y + 11)
  await visitor.waitForTimeout(300)
  await visitor.mouse.move(5, 500)
  await visitor.waitForTimeout(400)
  await visitor.mouse.move(300, 500)
  await visitor.evaluate(() =>
    document.body.dispatchEvent(
      new PointerEvent('pointermove', { pointerType: 'touch', clientX: 50, clientY: 300, bubbles: true }),
    ),
  )
  await visitor.waitForTimeout(1300)
  // The view ends; the document stays.
  await visitor.evaluate(() => history.pushState({}, '', '/help/more'))
  const rests = () => sent.flatMap(({ lines }) => lines).filter(({ kind }) => kind === 'rest')
  await expect.poll(() => rests().length).toBe(1)
  const [rest] = rests()
  expect(rest!.target!.selector).toContain('h1')
  expect(rest!.ms).toBeGreaterThanOrEqual(1600)
  expect(rest!.ms).toBeLessThan(6000)
  await context.close()
})
