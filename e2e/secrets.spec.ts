import type { Browser, Page } from '@playwright/test'
import { expect, test } from '@playwright/test'
import type { Plant, Typing } from './secrets/plants.ts'
import { MASKED, PATTERNS, TYPED, WORD_DEEDS, WORDS } from './secrets/plants.ts'
import { textOf } from './sent.ts'

const BASE = process.env['BASE_URL'] ?? 'http://127.0.0.1:4173'
/** So many plants on one page. */
const AT_ONCE = 24

const letters = (text: string) => text.toLowerCase().replaceAll(/[^\p{L}\p{N}]/gu, '')

/** All that left some pages, in a form in which nothing hides: also texts in the order of the page, one after another. */
class Sent {
  readonly #bodies: string[] = []

  add(body: string): void {
    this.#bodies.push(body)
  }

  get count(): number {
    return this.#bodies.length
  }

  all(): string {
    const raw = this.#bodies.join('\n')
    let plain = raw
    try {
      plain = decodeURIComponent(raw.replaceAll(/%(?![0-9a-f]{2})/gi, ' '))
    } catch {
      // As it is, then.
    }
    const texts = this.#bodies.map((body) => textsOf(JSON.parse(body)).join('')).join('')
    return `${letters(raw)}\n${letters(plain)}\n${letters(texts)}`
  }
}

function textsOf(value: unknown): string[] {
  if (Array.isArray(value)) return value.flatMap(textsOf)
  if (typeof value !== 'object' || !value) return []
  const { text, ...rest } = value as { text?: unknown }
  return [
    ...(typeof text === 'string' ? [text] : text ? textsOf(text) : []),
    ...Object.values(rest).flatMap(textsOf),
  ]
}

/** A page on which things are planted, in a browser of its own; what it sends goes nowhere else. */
async function planted(
  browser: Browser,
  settings: object,
  pages: Record<string, string>,
): Promise<{ page: Page; sent: Sent }> {
  const context = await browser.newContext()
  const page = await context.newPage()
  const sent = new Sent()
  await page.route('**/*', async (route) => {
    const { pathname, search, searchParams } = new URL(route.request().url())
    if (pathname.startsWith('/capture')) return route.continue()
    if (pathname === '/collect/settings')
      return route.fulfill({ json: { consent: 'free', share: 1, pictures: 'kept', ...settings } })
    if (pathname === '/collect') {
      sent.add(textOf(route.request()) || '{}')
      return route.fulfill({ status: 204 })
    }
    if (pathname === '/collect/files') {
      const body = textOf(route.request())
      // What is kept of the page's files leaves as well.
      if (searchParams.has('hash')) {
        sent.add(JSON.stringify({ text: body }))
        return route.fulfill({ status: 204 })
      }
      return route.fulfill({ json: { lacking: (JSON.parse(body) as { hashes: string[] }).hashes } })
    }
    // Pictures in which their own address can be read.
    if (pathname.startsWith('/i/'))
      return route.fulfill({
        contentType: 'image/svg+xml',
        body: `<svg xmlns="http://www.w3.org/2000/svg"><!-- ${decodeURIComponent(pathname + search)} --></svg>`,
      })
    const inside = pages[pathname]
    if (inside === undefined) return route.fulfill({ status: 404 })
    return route.fulfill({
      contentType: 'text/html',
      body: `<!doctype html><title>Place</title><body>${inside}<script async src="/capture.js" data-site="shop"></script>`,
    })
  })
  return { page, sent }
}

/** Which secrets got out of a page with these plants. */
async function leaksOf(browser: Browser, level: string, plants: readonly Plant[]): Promise<string[]> {
  const parts = Array.from({ length: Math.ceil(plants.length / AT_ONCE) }, (_, k) =>
    plants.slice(k * AT_ONCE, (k + 1) * AT_ONCE),
  )
  const leaks: string[] = []
  for (const some of parts) {
    const html = some.map((plant) => plant.html ?? '').join('\n')
    const { page, sent } = await planted(
      browser,
      { text: level },
      {
        '/place': `<div id="later">x</div><div data-trail-mask><div id="masked">x</div></div>${html}<p>The end</p>`,
      },
    )
    await page.goto(`${BASE}/place?from=test`)
    await page.waitForTimeout(900)
    for (const { script } of some) if (script) await page.evaluate(`setTimeout(() => { ${script} })`)
    // Before a link leads away: what is sent while a page is left is not always seen here.
    await expect.poll(() => sent.count, { timeout: 20_000 }).toBeGreaterThan(0)
    // Clicks and the pointer tell of elements as well.
    for (const at of ['button', 'svg', '#later', 'label', 'a'])
      await page
        .locator(at)
        .first()
        .click({ force: true, timeout: 2000 })
        .catch(() => undefined)
    await page.waitForTimeout(2200)
    const all = sent.all()
    for (const { name, secret } of some)
      if (partsOf(secret).some((part) => all.includes(part))) leaks.push(`${name}: ${secret}`)
    await page.context().close()
  }
  return leaks
}

/** What of a secret may not be found: all of it, and each word that is somebody's. */
function partsOf(secret: string): string[] {
  return [
    letters(secret),
    ...secret
      .split(/[ \n]/)
      .map(letters)
      .filter((part) => part.length >= 5 && !/^\d+$/.test(part)),
  ]
}

test('what looks personal does not leave, wherever the page writes it', async ({ browser }) => {
  expect(PATTERNS.length).toBeGreaterThanOrEqual(120)
  expect(await leaksOf(browser, 'patterns', PATTERNS)).toEqual([])
})

test('where no text is shown, names do not leave either', async ({ browser }) => {
  expect(await leaksOf(browser, 'hidden', [...WORDS, ...WORD_DEEDS, ...MASKED, ...PATTERNS])).toEqual([])
})

test('under a mask nothing but structure leaves, whatever the site shows elsewhere', async ({ browser }) => {
  const masked = WORDS.filter(({ name }) => /mask|block/.test(name))
  expect(await leaksOf(browser, 'chosen', [...masked, ...MASKED])).toEqual([])
})

test('what is typed does not leave, whatever the page makes of it, now and on the next page', async ({
  browser,
}) => {
  // Many pages one after another, on a machine that may be busy.
  test.setTimeout(300_000)
  expect(
    PATTERNS.length + WORDS.length + WORD_DEEDS.length + MASKED.length + TYPED.length,
  ).toBeGreaterThanOrEqual(190)
  const left = [...TYPED]
  const leaks: string[] = []
  await Promise.all(
    Array.from({ length: 4 }, async () => {
      for (let one = left.pop(); one; one = left.pop()) leaks.push(...(await leaksOfTyping(browser, one)))
    }),
  )
  expect(leaks).toEqual([])
})

async function leaksOfTyping(
  browser: Browser,
  { name, secret, field, html, echo }: Typing,
): Promise<string[]> {
  const value = name === 'of several lines' ? secret.replace(' ', '\n') : secret
  const wire = field.startsWith('frame:')
    ? `const frame = document.querySelector('iframe')
       frame.onload = () => { const field = frame.contentDocument.querySelector('#f'); const out = document.querySelector('#out')
         field.oninput = (event) => { const value = field.value; out.textContent = value } }`
    : `const host = document.querySelector('${field.split(' ')[0]!}')
       const field = host.shadowRoot?.querySelector('#f') ?? host
       const out = document.querySelector('#out')
       const root = field.hasAttribute('data-first') ? window : field.closest('[contenteditable]') ?? field
       root.addEventListener('input', (event) => { const value = 'value' in field ? field.value : field.textContent; ${echo} }, true)`
  const { page, sent } = await planted(
    browser,
    { text: 'patterns' },
    {
      '/place': `${html}<div id="out">.</div><script>${wire}</script>`,
      '/next': `<h1>Thank you, ${secret}</h1><p>${secret.toUpperCase()}</p>`,
    },
  )
  await page.goto(`${BASE}/place`)
  await page.waitForTimeout(900)
  const at = field.startsWith('frame:')
    ? page.frameLocator('iframe').locator(field.slice(6))
    : page.locator(field)
  await at.click()
  await page.keyboard.press('Control+A')
  if (/emptied/.test(name)) await at.fill(value)
  else await page.keyboard.type(value, { delay: 5 })
  await page.waitForTimeout(700)
  await page
    .locator('#out')
    .click({ force: true, timeout: 1000 })
    .catch(() => undefined)
  await page.waitForTimeout(1300)
  await page.goto(`${BASE}/next`)
  await page.waitForTimeout(1800)
  const all = sent.all()
  await page.context().close()
  expect(sent.count).toBeGreaterThan(1)
  return partsOf(secret)
    .filter((part) => all.includes(part))
    .map((part) => `typed, ${name}: ${part}`)
}

test('nobody is watched before they allow it, nor after they take it back', async ({ browser }) => {
  const { page, sent } = await planted(
    browser,
    { text: 'patterns', consent: 'asked' },
    { '/place': '<input><button>Go</button>' },
  )
  const kept = () =>
    page.evaluate(() =>
      Object.keys({ ...localStorage, ...sessionStorage }).filter((key) => key.startsWith('dust-trail')),
    )
  const answer = (allowed: boolean) =>
    page.evaluate((given) => {
      const host = window as unknown as { dustTrail: { push: (report: object) => void } }
      host.dustTrail.push({ kind: 'consent', allowed: given })
    }, allowed)
  const click = async () => {
    await page.getByRole('button').click()
    await page.waitForTimeout(2500)
  }
  await page.goto(`${BASE}/place`)
  await page.waitForTimeout(500)
  await click()
  expect([sent.count, await kept()]).toEqual([0, []])
  await answer(true)
  await click()
  await expect.poll(() => sent.all(), { timeout: 30_000 }).toContain('kindclick')
  expect(await kept()).toContain('dust-trail-visitor')
  await answer(false)
  const before = sent.count
  await page.locator('input').fill('Typed afterwards')
  await click()
  expect([sent.count, await kept()]).toEqual([before, []])
  await page.context().close()
})

test('a browser that asks for privacy is not watched, unless it is allowed here', async ({ browser }) => {
  const { page, sent } = await planted(browser, { text: 'patterns' }, { '/place': '<button>Go</button>' })
  await page.addInitScript(() => Object.defineProperty(navigator, 'globalPrivacyControl', { value: true }))
  await page.goto(`${BASE}/place`)
  await page.waitForTimeout(2500)
  expect(sent.count).toBe(0)
  await page.evaluate(() => {
    const host = window as unknown as { dustTrail: { push: (report: object) => void } }
    host.dustTrail.push({ kind: 'consent', allowed: true })
  })
  await expect.poll(() => sent.count, { timeout: 30_000 }).toBeGreaterThan(0)
  await page.context().close()
})

test('a browser that still has a deleted name takes a new one, once', async ({ browser }) => {
  const { page } = await planted(browser, { text: 'patterns' }, { '/place': '<button>Go</button>' })
  const names: string[] = []
  await page.route('**/collect?*', (route) => {
    const { visitor } = JSON.parse(textOf(route.request()) || '{}') as { visitor: string }
    names.push(visitor)
    return route.fulfill({ status: visitor === names[0] ? 410 : 204 })
  })
  await page.goto(`${BASE}/place`)
  await expect.poll(() => new Set(names).size, { timeout: 30_000 }).toBe(2)
  await page.getByRole('button').click()
  await page.waitForTimeout(2500)
  expect(new Set(names).size).toBe(2)
  expect(await page.evaluate(() => localStorage.getItem('dust-trail-visitor'))).toBe(names.at(-1))
  await page.context().close()
})
