import { expect, test } from '@playwright/test'
import { batchOf } from './sent.ts'

const BASE = process.env['BASE_URL'] ?? 'http://127.0.0.1:4180'

/** What is clicked, on a page of its own, and what is to be told of it. */
const PLACES: [name: string, html: string, script: string, effect: string][] = [
  ['a dead button', '<button id="it">Go</button>', '', 'none'],
  ['a button that is switched off', '<button id="it" disabled>Go</button>', '', 'none'],
  [
    'a dead button beside a clock',
    '<button id="it">Go</button><p id="own">0</p>',
    'let n = 0; setInterval(() => { own.textContent = ++n }, 300)',
    'none',
  ],
  // The click is handled before the clock's overdue timer, as browsers do, and before any timer that is set by it.
  [
    'a dead button beside a clock that is late, since the page was busy',
    '<button id="it">Go</button><p id="own">0</p>',
    'let n = 0; setInterval(() => { own.textContent = ++n }, 300); it.onpointerdown = () => setTimeout(() => { const until = performance.now() + 900; while (performance.now() < until); })',
    'none',
  ],
  [
    'a button that sends a beacon',
    '<button id="it">Go</button>',
    "it.onclick = () => navigator.sendBeacon('/nowhere', 'x')",
    'none',
  ],
  [
    'a button that shows the focus',
    '<style>#it:focus{box-shadow:0 0 0 4px red}</style><button id="it">Go</button>',
    '',
    'none',
  ],
  [
    'a menu within a shadow tree',
    '<x-menu id="it" style="display:inline-block"></x-menu>',
    "customElements.define('x-menu', class extends HTMLElement { constructor() { super(); const r = this.attachShadow({ mode: 'open' }); r.innerHTML = '<button>Menu</button><p hidden>One</p>'; r.firstChild.onclick = () => { r.lastChild.hidden = false } } })",
    'change',
  ],
  [
    'a menu made of rules alone',
    '<style>#m{display:none}nav:focus-within #m{display:block}</style><nav><button id="it">Menu</button><p id="m">One</p></nav>',
    '',
    'change',
  ],
  [
    'an answer that comes late',
    '<button id="it">Go</button><p id="out">Before</p>',
    "it.onclick = () => fetch('/late').then(() => { out.textContent = 'After' })",
    'change',
  ],
  [
    'a filled clipboard',
    '<button id="it">Copy</button>',
    "it.onclick = () => Clipboard.prototype.writeText.call(navigator.clipboard, 'x').catch(() => undefined)",
    'change',
  ],
  // Its rules cannot be read, and it must not keep the rest from being told.
  [
    'a sheet of another site',
    '<link rel="stylesheet" href="http://fonts.example/sheet.css"><button id="it">Nothing</button>',
    '',
    'none',
  ],
  ['a phone link', '<a id="it" href="tel:+123">Call</a>', '', 'navigate'],
  [
    'a switch that a label draws',
    '<style>#c{display:none}#it{display:inline-block;width:60px;height:30px;background:#ccc}#c:checked+#it{background:teal}</style><input id="c" type="checkbox"><label id="it" for="c"></label>',
    '',
    'change',
  ],
  [
    'a switch that the page puts back',
    '<style>#c{display:none}#it{padding:10px}#c:checked+#it{background:teal}</style><input id="c" type="checkbox"><label id="it" for="c">Agree</label>',
    'c.onchange = () => { c.checked = false }',
    'none',
  ],
  [
    'a choice whose line is drawn after it',
    '<style>#it{position:relative}#it::after{content:"";position:absolute;inset:0;outline:1px solid #ccc}#it[data-state=on]::after{outline-color:teal}</style><button id="it" role="radio" aria-checked="false">One</button>',
    "it.onclick = () => { it.setAttribute('aria-checked', 'true'); it.dataset.state = 'on' }",
    'change',
  ],
  [
    'a drawing that answers to the pointer, and to the click',
    '<canvas id="it" width="300" height="150"></canvas>',
    "const c = it.getContext('2d'); let n = 1; const draw = () => { c.clearRect(0, 0, 300, 150); for (let k = 0; k < n; k++) c.fillRect(20 + k * 40, 20, 30, 100) }; draw(); it.onpointermove = () => { c.fillStyle = 'teal'; draw() }; it.onclick = () => { n = (n % 5) + 1; draw() }",
    'change',
  ],
  [
    'a button that says while it is held down that it is',
    '<style>#it:focus{box-shadow:0 0 4px blue}</style><button id="it">Go</button>',
    "it.onpointerdown = () => it.setAttribute('active', ''); it.onpointerup = () => it.removeAttribute('active')",
    'none',
  ],
  [
    'something small on which a circle spreads, and no more',
    '<style>#it{position:relative;display:inline-block;padding:10px;overflow:hidden}i{position:absolute;inset:0;background:teal;opacity:.2}</style><div><span id="it">Chip</span></div>',
    "it.onclick = () => { it.insertAdjacentHTML('beforeend', '<i></i>'); setTimeout(() => it.querySelector('i').remove(), 400) }",
    'none',
  ],
  [
    'something small to which a sign is put that stays',
    '<style>#it{display:inline-block;padding:10px}i{display:inline-block;width:12px;height:12px;background:teal}</style><div><span id="it">Chip</span></div>',
    "it.onclick = () => { it.insertAdjacentHTML('beforeend', '<i></i>') }",
    'change',
  ],
  [
    'a button that has the focus, and a circle in it',
    '<style>#it{position:relative;padding:10px;border:0;background:#eee}#it:focus{background:#ccc}i{position:absolute;inset:0;background:teal;opacity:.2}</style><button id="it">Go</button>',
    "it.onclick = () => { it.insertAdjacentHTML('beforeend', '<i></i>'); it.className = 'a'; it.className = '' }",
    'none',
  ],
  [
    'text in a box that had the focus, as it is drawn through a shadow tree',
    '<x-box><p id="it">Text</p></x-box>',
    "const root = document.querySelector('x-box').attachShadow({ mode: 'open' }); root.innerHTML = '<style>div:focus{outline:2px solid teal}div:focus:not(:focus-visible){outline:none}</style><div tabindex=\"-1\"><slot></slot></div>'; root.querySelector('div').focus({ focusVisible: true })",
    'none',
  ],
]

test('what came of a click is told as a person would see it', async ({ browser }) => {
  const told = await Promise.all(
    PLACES.map(async ([name, html, script]) => {
      const context = await browser.newContext()
      const page = await context.newPage()
      const effects: (string | undefined)[] = []
      await page.route('**/*', async (route) => {
        const url = new URL(route.request().url())
        if (url.pathname === '/sheet.css')
          return route.fulfill({ contentType: 'text/css', body: 'p { color: red }' })
        if (url.pathname.startsWith('/capture')) return route.continue()
        if (url.pathname === '/late') await new Promise((done) => setTimeout(done, 1600))
        if (url.pathname === '/collect') {
          const { lines } = batchOf<{ lines: { kind: string; effect?: string }[] }>(route.request())
          for (const line of lines) if (line.kind === 'click') effects.push(line.effect)
          return route.fulfill({ status: 204 })
        }
        return route.fulfill({
          contentType: 'text/html',
          body: `<!doctype html><title>Place</title><body>${html}<script>${script}</script><script async src="/capture.js" data-site="shop"></script>`,
        })
      })
      const more = page.waitForResponse(/capture-more/)
      await page.goto(`${BASE}/place`)
      await more
      await page.waitForTimeout(2500)
      const { x, y, width, height } = (await page.locator('#it').boundingBox())!
      await page.mouse.move(x + width / 2, y + height / 2)
      await page.waitForTimeout(200)
      await page.mouse.down()
      await page.waitForTimeout(60)
      await page.mouse.up()
      await expect.poll(() => effects.length, { timeout: 15_000, message: name }).toBeGreaterThan(0)
      await context.close()
      return [name, effects[0]]
    }),
  )
  expect(told).toEqual(PLACES.map(([name, , , effect]) => [name, effect]))
})
