import type { Browser, FrameLocator } from '@playwright/test'
import { expect, test } from '@playwright/test'
import { batchOf, isBatch } from './sent.ts'
import { watchToItsEnd } from './watch-to-its-end.ts'

const SITE = process.env['SITE_URL'] ?? 'http://127.0.0.1:4181'

/** Somebody visits a page of the site that a function builds; whose it is stands in what the page sends. */
async function visit(browser: Browser, build: () => void) {
  const context = await browser.newContext({ viewport: { width: 1000, height: 700 } })
  const visitor = await context.newPage()
  const told = { id: '' }
  visitor.on('request', (request) => {
    if (isBatch(request)) told.id = batchOf<{ visitor: string }>(request).visitor
  })
  await visitor.goto(`${SITE}/help`)
  await visitor.waitForTimeout(1000)
  await visitor.evaluate(build)
  await visitor.waitForTimeout(800)
  return { context, visitor, told }
}

/** What only the browser itself knows of: rules that scripts write, and what lies above the page. */
function build() {
  document.body.innerHTML = `<style id="sheet">.early { color: rgb(1, 1, 1) }</style><style id="forms"></style><h1>Styles</h1>
    <p class="written" style="--line: red">Written</p><p class="unseen" style="--line: red">Unseen</p><iframe id="other" hidden></iframe>
    ${['early', 'late', 'gone', 'inner', 'adopted', 'later'].map((name) => `<p class="${name}">${name}</p>`).join('')}
    <dialog id="ask"><h2>Really?</h2><button>Yes</button></dialog><div id="tip" popover><h2>By the way</h2></div>
    <button id="go">Go</button>`
  const { sheet } = document.querySelector<HTMLStyleElement>('#sheet')!
  sheet!.insertRule('.gone { color: rgb(2, 2, 2) }', 1)
  // A short form with a variable, of which one part is set again: browsers do not tell its other parts.
  const forms = document.querySelector<HTMLStyleElement>('#forms')!.sheet!
  const edges = '{ border: 3px solid var(--line); border-bottom-color: rgb(9, 9, 9) }'
  forms.insertRule(`.written ${edges}`, 0)
  // As before the script was there: nobody saw what was written.
  const other = document.querySelector<HTMLIFrameElement>('#other')!
    .contentWindow as unknown as typeof globalThis
  other.CSSStyleSheet.prototype.insertRule.call(forms, `@media (min-width: 1px) { .unseen ${edges} }`, 1)
  const own = new CSSStyleSheet()
  own.replaceSync('.adopted { color: rgb(3, 3, 3) }')
  document.adoptedStyleSheets = [own]
  document.querySelector<HTMLElement>('#go')!.onclick = () => {
    const rules = sheet!.cssRules
    sheet!.insertRule('.late { color: rgb(4, 4, 4) }', rules.length)
    sheet!.insertRule('@media (min-width: 1px) { b { color: red } }', rules.length)
    ;(rules[3] as CSSMediaRule).insertRule('.inner { color: rgb(5, 5, 5) }', 0)
    sheet!.deleteRule(1)
    own.insertRule('.later { color: rgb(6, 6, 6) }', 0)
    document.querySelector<HTMLDialogElement>('#ask')!.showModal()
    document.querySelector<HTMLElement>('#tip')!.showPopover()
  }
}

test('a replay shows rules that scripts wrote, and what lies above the page', async ({ page, browser }) => {
  const { context, visitor, told } = await visit(browser, build)
  await visitor.locator('#go').click()
  await visitor.waitForTimeout(1500)
  await visitor.mouse.move(500, 500)
  await visitor.waitForTimeout(1500)
  await context.close()

  const { time, recorded } = await watchToItsEnd(page, told.id)
  await expect(recorded.locator('#ask')).toBeVisible()
  // The keys go on to work the player.
  await expect(time).toBeFocused()
  const colourOf = (of: FrameLocator, name: string) =>
    of.locator(name).evaluate((element) => getComputedStyle(element).color)
  for (const [name, n] of Object.entries({
    '.early': 1,
    '.adopted': 3,
    '.late': 4,
    '.inner': 5,
    '.later': 6,
  }))
    expect([name, await colourOf(recorded, name)]).toEqual([name, `rgb(${n}, ${n}, ${n})`])
  for (const name of ['.written', '.unseen']) {
    const edges = await recorded.locator(name).evaluate((element) => {
      const { borderTopWidth, borderTopColor, borderBottomColor } = getComputedStyle(element)
      return [borderTopWidth, borderTopColor, borderBottomColor]
    })
    expect([name, ...edges]).toEqual([name, '3px', 'rgb(255, 0, 0)', 'rgb(9, 9, 9)'])
  }
  expect(await colourOf(recorded, '.gone')).not.toBe('rgb(2, 2, 2)')
  expect(await recorded.locator('#ask').evaluate((dialog) => dialog.matches(':modal'))).toBe(true)
  expect(await recorded.locator('#tip').evaluate((tip) => tip.matches(':popover-open'))).toBe(true)
})

/** What lies inside of elements and of frames, and what no attribute tells. */
function buildInside() {
  document.body.innerHTML = `<h1>Inside</h1><x-card id="card" kind="Big One"><b slot="name">Named</b></x-card><x-late id="late"></x-late>
    <iframe id="frame" width="300" height="90"></iframe>
    <label><input type="checkbox" id="box"> Box</label><input type="range" id="range" max="10" value="2">
    <select id="list"><option>One</option><option>Two</option></select><progress id="progress" max="10" value="3"></progress>
    <canvas id="drawing" width="60" height="40"></canvas><style>#over:hover{color:rgb(7, 7, 7)} #go:focus{color:rgb(8, 8, 8)}</style>
    <p id="over">Over</p><div id="pane" style="height:40px;overflow:auto"><div style="height:400px">x</div></div><button id="go">Go</button>`
  const shared = new CSSStyleSheet()
  shared.replaceSync('p { color: rgb(1, 2, 3) }')
  customElements.define(
    'x-card',
    class extends HTMLElement {
      constructor() {
        super()
        const root = this.attachShadow({ mode: 'open' })
        root.innerHTML = '<p>In a tree</p><slot name="name"></slot>'
        root.adoptedStyleSheets = [shared]
      }
    },
  )
  const frame = document.querySelector<HTMLIFrameElement>('#frame')!
  frame.srcdoc = '<!doctype html><style>p{color:rgb(4, 5, 6)}</style><p>In a frame</p><button>Inner</button>'
  document.querySelector<HTMLElement>('#go')!.onclick = () => {
    const root = document.querySelector('#card')!.shadowRoot!
    root.append(Object.assign(document.createElement('p'), { id: 'second', textContent: 'Second' }))
    document.querySelector('#late')!.attachShadow({ mode: 'open' }).innerHTML = '<p>Late</p>'
    const inner = document.querySelector<HTMLIFrameElement>('#frame')!.contentDocument!
    inner.querySelector('p')!.textContent = 'Changed in a frame'
    document.querySelector<HTMLInputElement>('#box')!.checked = true
    document.querySelector<HTMLInputElement>('#range')!.value = '9'
    document.querySelector<HTMLSelectElement>('#list')!.selectedIndex = 1
    document.querySelector<HTMLProgressElement>('#progress')!.value = 8
    document.querySelector('#pane')!.scrollTop = 120
    const pen = document.querySelector<HTMLCanvasElement>('#drawing')!.getContext('2d')!
    pen.fillStyle = 'red'
    pen.fillRect(0, 0, 60, 40)
  }
}

test('a replay shows trees inside of elements, pages in frames, and controls as they stood', async ({
  page,
  browser,
}) => {
  const context = await browser.newContext({ viewport: { width: 1000, height: 700 } })
  const visitor = await context.newPage()
  let id = ''
  const told: string[] = []
  let rested = 0
  visitor.on('request', (request) => {
    if (!isBatch(request)) return
    const batch = batchOf<{
      visitor: string
      lines: { kind: string; target?: { selector: string } }[]
      items: { k: string; p?: [number, number, number][] }[]
    }>(request)
    id = batch.visitor
    rested = batch.items.findLast(({ k }) => k === 'move')?.p?.at(-1)?.[2] ?? rested
    for (const { kind, target } of batch.lines) if (kind === 'click') told.push(target!.selector)
  })
  await visitor.goto(`${SITE}/help`)
  await visitor.waitForTimeout(1000)
  await visitor.evaluate(buildInside)
  await visitor.waitForTimeout(800)
  await visitor.locator('#go').click()
  await visitor.frameLocator('#frame').getByRole('button', { name: 'Inner' }).click()
  await visitor.locator('#go').focus()
  await visitor.locator('#over').hover()
  const over = (await visitor.locator('#over').boundingBox())!
  await expect.poll(() => rested, { timeout: 20_000 }).toBeGreaterThan(over.y)
  // A drawing is looked at every two seconds.
  await visitor.waitForTimeout(3500)
  await context.close()
  // A click in a frame is one of this page.
  expect(told).toContain('#frame body > button')

  const { recorded } = await watchToItsEnd(page, id)
  await expect(recorded.getByText('In a tree')).toHaveCSS('color', 'rgb(1, 2, 3)')
  await expect(recorded.locator('#second')).toHaveCSS('color', 'rgb(1, 2, 3)')
  await expect(recorded.getByText('Named')).toBeVisible()
  await expect(recorded.getByText('Late')).toBeVisible()
  const inner = recorded.frameLocator('#frame')
  await expect(inner.getByText('Changed in a frame')).toHaveCSS('color', 'rgb(4, 5, 6)')
  await expect(recorded.locator('#box')).toBeChecked()
  expect(await recorded.locator('#range').inputValue()).toBe('9')
  expect(await recorded.locator('#list').evaluate((list) => (list as HTMLSelectElement).selectedIndex)).toBe(
    1,
  )
  await expect(recorded.locator('#progress')).toHaveAttribute('value', '8')
  expect(await recorded.locator('#pane').evaluate((pane) => pane.scrollTop)).toBe(120)
  await expect(recorded.locator('#over')).toHaveCSS('color', 'rgb(7, 7, 7)')
  await expect(recorded.locator('#go')).toHaveCSS('color', 'rgb(8, 8, 8)')
  // The demo's site lets drawings be seen.
  expect(decodeURIComponent((await recorded.locator('#drawing').getAttribute('src'))!)).toContain(
    'data:image/webp',
  )
})

/** What scripts tell the browser, which says it to nobody. */
function buildUntold() {
  document.body.innerHTML = `<h1>Untold</h1><style id="sheet">@keyframes grow { to { width: 50px } } .typed { color: rgb(1, 1, 1) }
      x-state:state(open) { color: rgb(2, 3, 4) } x-state[checked] { font-style: italic } x-state:invalid { outline: 2px solid rgb(5, 6, 7) }
      .grown { width: 10px; height: 10px; animation: grow 0.1s both } .known { background: var(--shade) } .before::before { content: ""; display: block; height: 9px; width: 20px }</style>
    <x-state id="state">State</x-state><p class="typed">Typed</p><p class="grown"></p><p class="known">Known</p><p class="before">Before</p>
    <div id="host"><i>One</i><b>Two</b></div><p class="marked">Find this word</p>
    <svg width="200" height="100"><circle cx="50" cy="50" r="10" /></svg><button id="go">Go</button>`
  customElements.define(
    'x-state',
    class extends HTMLElement {
      static formAssociated = true
      readonly inside = this.attachInternals()
    },
  )
  const tree = document.querySelector('#host')!.attachShadow({ mode: 'open', slotAssignment: 'manual' })
  tree.innerHTML = '<u></u><slot></slot><hr><slot></slot>'
  const [first, second] = tree.querySelectorAll('slot')
  const [one, two] = document.querySelectorAll('#host > *')
  first!.assign(one!)
  second!.assign(two!)
  document.querySelector<HTMLElement>('#go')!.onclick = () => {
    const { inside } = document.querySelector('#state') as HTMLElement & { inside: ElementInternals }
    inside.states.add('open')
    inside.setValidity({ customError: true }, 'Missing')
    document.querySelector('#state')!.setAttribute('checked', '')
    const [grow, typed] = document.querySelector<HTMLStyleElement>('#sheet')!.sheet!.cssRules
    ;(grow as CSSKeyframesRule).deleteRule('to')
    ;(grow as CSSKeyframesRule).appendRule('to { width: 150px }')
    ;(typed as CSSStyleRule).styleMap.set('color', 'rgb(8, 9, 10)')
    CSS.registerProperty({
      name: '--shade',
      syntax: '<color>',
      inherits: false,
      initialValue: 'rgb(11, 12, 13)',
    })
    document.querySelector('.before')!.animate([{ width: '20px' }, { width: '90px' }], {
      duration: 100,
      fill: 'forwards',
      pseudoElement: '::before',
    })
    first!.assign(two!)
    second!.assign(one!)
    const range = new Range()
    const text = document.querySelector('.marked')!.firstChild!
    range.setStart(text, 5)
    range.setEnd(text, 9)
    CSS.highlights.set('found', new Highlight(range))
    document.querySelector('circle')!.r.baseVal.value = 40
    const bytes = Uint8Array.from(atob('d09GMgABAAAAAA=='), (letter) => letter.charCodeAt(0))
    document.fonts.add(new FontFace('Bytes', bytes, { ascentOverride: '150%' }))
  }
}

test('a replay shows what scripts tell the browser alone: states, slots, properties, boxes that are no elements', async ({
  page,
  browser,
}) => {
  const { context, visitor, told } = await visit(browser, buildUntold)
  await visitor.locator('#go').click()
  await visitor.waitForTimeout(3500)
  await context.close()

  const { recorded } = await watchToItsEnd(page, told.id)
  const state = recorded.locator('#state')
  await expect(state).toHaveCSS('color', 'rgb(2, 3, 4)')
  await expect(state).toHaveCSS('font-style', 'italic')
  await expect(state).toHaveCSS('outline-color', 'rgb(5, 6, 7)')
  await expect(recorded.locator('.typed')).toHaveCSS('color', 'rgb(8, 9, 10)')
  await expect(recorded.locator('.grown')).toHaveCSS('width', '150px')
  await expect(recorded.locator('.known')).toHaveCSS('background-color', 'rgb(11, 12, 13)')
  const before = await recorded
    .locator('.before')
    .evaluate((element) => getComputedStyle(element, '::before').width)
  expect(before).toBe('90px')
  const found = await recorded.locator('.marked').evaluate((element) => {
    const { CSS } = element.ownerDocument.defaultView as typeof globalThis & Window
    return [...(CSS.highlights.get('found') ?? [])].map((range) => (range as Range).toString())
  })
  expect(found).toEqual(['this'])
  await expect(recorded.locator('circle')).toHaveAttribute('r', '40')
  const rules = await recorded
    .locator('style')
    .evaluateAll((styles) => styles.map((one) => one.textContent).join())
  expect(rules).toMatch(/font-family: Bytes; src: url\("data:font[^}]+ascent-override: 150%/)
  const [one, two] = await Promise.all(
    ['#host > i', '#host > b'].map((place) => recorded.locator(place).boundingBox()),
  )
  expect(two!.y).toBeLessThan(one!.y)
})

/** Pages in frames have functions of their own, and a frame can be written anew; sheets may be larger than any part of a recording. */
function buildFrames() {
  document.body.innerHTML = `<h1>Frames</h1><iframe id="styled" width="300" height="90"></iframe><iframe id="written" width="300" height="90"></iframe>
    <p id="nested" class="last">Nested</p><style id="rules">#nested { color: red; @media screen { color: blue } margin-left: 3px }</style><button id="go">Go</button>`
  const large = Array.from({ length: 50_000 }, (_, k) => `.c${k} { color: rgb(${k % 250}, 1, 1) }`)
  document.head.append(
    Object.assign(document.createElement('style'), {
      textContent: `${large.join('\n')}\n.last { padding-left: 17px }`,
    }),
  )
  document.querySelector<HTMLIFrameElement>('#styled')!.srcdoc =
    '<style>p { color: red }</style><p>Styled</p><div></div>'
  document.querySelector<HTMLElement>('#go')!.onclick = () => {
    const styled = document.querySelector<HTMLIFrameElement>('#styled')!
    const realm = styled.contentWindow as Window & typeof globalThis
    const page = realm.document
    page.styleSheets[0]!.insertRule('p { color: rgb(1, 1, 9) }', 1)
    const own = new realm.CSSStyleSheet()
    own.replaceSync('p { background: rgb(2, 2, 9) }')
    page.adoptedStyleSheets = [own]
    page.querySelector('div')!.attachShadow({ mode: 'open' }).innerHTML = '<b>Inside</b>'
    page.querySelector('p')!.animate({ marginLeft: ['0', '31px'] }, { duration: 50, fill: 'forwards' })
    const written = document.querySelector<HTMLIFrameElement>('#written')!.contentDocument!
    written.open()
    written.write('<p>Written anew</p>')
    written.close()
    const rule = document.querySelector<HTMLStyleElement>('#rules')!.sheet!.cssRules[0] as CSSStyleRule
    ;(rule.cssRules[1] as CSSStyleRule).style.setProperty('margin-left', '41px')
  }
}

test('a replay shows what scripts do with the rules of frames, frames that are written, and the largest sheets', async ({
  page,
  browser,
}) => {
  const { context, visitor, told } = await visit(browser, buildFrames)
  await visitor.locator('#go').click()
  await visitor.waitForTimeout(3000)
  await visitor.mouse.move(500, 500)
  await visitor.waitForTimeout(1500)
  await context.close()

  const { recorded } = await watchToItsEnd(page, told.id)
  const styled = recorded.frameLocator('#styled')
  await expect(styled.locator('p')).toHaveCSS('color', 'rgb(1, 1, 9)')
  await expect(styled.locator('p')).toHaveCSS('background-color', 'rgb(2, 2, 9)')
  await expect(styled.locator('p')).toHaveCSS('margin-left', '31px')
  await expect(styled.locator('div b')).toHaveText('Inside')
  await expect(recorded.frameLocator('#written').locator('p')).toHaveText('Written anew')
  await expect(recorded.locator('#nested')).toHaveCSS('margin-left', '41px')
  await expect(recorded.locator('#nested')).toHaveCSS('padding-left', '17px')
})
