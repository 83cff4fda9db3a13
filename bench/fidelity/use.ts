import type { Page } from '@playwright/test'
import { bundlePage } from '../pages/bundle.ts'
import type { UsedPage } from './used-pages.ts'

/** A page that is used for a while: where it is, and what is done on it. */
export interface Used {
  name: string
  path: string
  acts: readonly string[]
  /** again as a phone */
  phones: boolean
}

/** Puts the pages built with packages among what is served. */
export async function bundleUsed(
  pages: readonly UsedPage[],
  html: Map<string, string>,
  wanted = '',
): Promise<Used[]> {
  const used: Used[] = []
  for (const { name, packages, entry, acts, phones } of pages) {
    if (!`page ${name}`.includes(wanted)) continue
    const { script, style } = await bundlePage(name, packages, entry)
    const path = `/p/${name.replaceAll(/\W+/g, '-')}/`
    // As files: what a script says of scripts would end it inside of a page.
    html.set(`${path}page.js`, script)
    html.set(`${path}page.css`, style)
    html.set(
      path,
      wholePage('<script src="page.js"></script>', '', '', '<link rel="stylesheet" href="page.css">'),
    )
    used.push({ name, path, acts, phones: phones === true || !!process.env['BENCH_PHONES'] })
  }
  return used
}

/** A page with the script that watches it. */
export function wholePage(inside: string, style: string, script: string, head = ''): string {
  const capture = '<script async src="/capture.js" data-site="bench"></script>'
  const isEarly = !!process.env['BENCH_EARLY']
  const own = `<script>${script}</script>${isEarly ? '' : capture}`
  if (/^<(!|html)/i.test(inside)) {
    const whole = inside.includes('</body>') ? inside.replace('</body>', `${own}</body>`) : inside + own
    return isEarly ? whole.replace(/<head>|(?=<title>)/, (at) => at + capture) : whole
  }
  return `<!doctype html><html lang="en"><head>${isEarly ? capture : ''}<meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>Page</title>${head}${style && `<style>${style}</style>`}</head><body>${inside}${own}</body></html>`
}

/** Does what a person does. */
export async function perform(page: Page, act: string): Promise<void> {
  const [what, at = '', ...rest] = act.split(' ')
  const place = () => page.locator(at).first()
  if (what === 'click') await place().click({ timeout: 4000 })
  else if (what === 'hover') await place().hover({ timeout: 4000 })
  else if (what === 'focus') await place().focus()
  else if (what === 'type') {
    await place().click({ timeout: 4000 })
    await page.keyboard.type(rest.join(' '), { delay: 20 })
  } else if (what === 'key') await page.keyboard.press(at)
  else if (what === 'wheel') await page.mouse.wheel(0, Number(at))
  else if (what === 'wait') await page.waitForTimeout(Number(at))
  else if (what === 'drag') await page.dragAndDrop(at, rest[0]!, { timeout: 4000 })
  else if (what === 'size') await page.setViewportSize({ width: Number(at), height: Number(rest[0]) })
  else if (what === 'full')
    await page.evaluate((selector) => document.querySelector(selector)!.requestFullscreen(), at)
  await page.waitForTimeout(350)
}
