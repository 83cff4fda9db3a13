import type { Place } from './place.ts'

const button = '<button id="it">Press me</button>'
const onIt = (does: string, on = 'click') => `it.addEventListener('${on}', (event) => { ${does} })`
const out = '<p id="out">Before</p>'
const say = "out.textContent = 'After'"

/** Places where something happens that a person can see or hear. */
export const SOMETHING: Place[] = (
  [
    ['changes a text', button + out, onIt(say)],
    [
      'changes a number by one',
      `${button}<b id="out">1</b>`,
      onIt('out.textContent = Number(out.textContent) + 1'),
    ],
    ['shows an element', `${button}<p id="out" hidden>x</p>`, onIt('out.hidden = false')],
    ['takes an element away', button + out, onIt('out.remove()')],
    ['adds an element', button, onIt("document.body.insertAdjacentHTML('beforeend', '<p>New</p>')")],
    [
      'adds a picture',
      button,
      onIt(
        'document.body.insertAdjacentHTML(\'beforeend\', \'<img src="/picture.svg" width="80" height="40" alt="">\')',
      ),
    ],
    ['colours another element', button + out, onIt("out.style.background = 'gold'")],
    [
      'colours itself by a class',
      `<style>.on{background:teal;color:white}</style>${button}`,
      onIt("it.classList.toggle('on')"),
    ],
    [
      'switch of its own, by aria',
      `<style>[aria-checked=true]{background:teal}</style><button id="it" role="switch" aria-checked="false">On</button>`,
      onIt("it.setAttribute('aria-checked', 'true')"),
    ],
    ['opens details', '<details><summary id="it">More</summary>Text</details>'],
    ['opens a popover', '<button id="it" popovertarget="p">Menu</button><div id="p" popover>Content</div>'],
    ['opens a dialog', `${button}<dialog id="d">Sure?</dialog>`, onIt('d.showModal()')],
    [
      'closes a dialog',
      '<dialog id="d"><form method="dialog"><button id="it">Close</button></form></dialog>',
      'd.showModal()',
    ],
    ['alert', button, onIt("alert('x')")],
    ['question of the browser', button, onIt("confirm('x')")],
    ['prints', button, onIt('print()')],
    ['opens a window', button, onIt("open('/other')")],
    ['link to a new window', '<a id="it" href="/other" target="_blank">Other</a>'],
    ['link to another page', '<a id="it" href="/other">Other</a>'],
    ['link to a download', '<a id="it" href="/picture.svg" download>Picture</a>'],
    [
      'download by a script',
      button,
      onIt(
        "const a = document.createElement('a'); a.href = URL.createObjectURL(new Blob(['x'])); a.download = 'x.txt'; a.click()",
      ),
    ],
    ['fills the clipboard', button, onIt("navigator.clipboard.writeText('x')")],
    [
      'fills the clipboard the old way',
      `${button}<textarea id="t">x</textarea>`,
      onIt("t.select(); document.execCommand('copy')"),
    ],
    ['mail link', '<a id="it" href="mailto:a@b.example">Mail</a>'],
    ['phone link', '<a id="it" href="tel:+123456">Call</a>'],
    [
      'plays a sound',
      button,
      onIt(
        "new Audio('data:audio/wav;base64,UklGRiQAAABXQVZFZm10IBAAAAABAAEARKwAAIhYAQACABAAZGF0YQAAAAA=').play().catch(() => undefined)",
      ),
    ],
    [
      'makes a tone',
      button,
      onIt(
        'const c = new AudioContext(); const o = c.createOscillator(); o.connect(c.destination); o.start(); o.stop(c.currentTime + 0.1)',
      ),
    ],
    ['speaks', button, onIt("speechSynthesis.speak(new SpeechSynthesisUtterance('hello'))")],
    ['fills the screen', button, onIt('document.documentElement.requestFullscreen().catch(() => undefined)')],
    ['goes elsewhere by script', button, onIt("location.href = '/other'")],
    ['loads the page again', button, onIt('location.reload()')],
    ['sends a form', '<form action="/other"><button id="it">Send</button></form>'],
    ['sends a form by script', `<form id="form" action="/other"></form>${button}`, onIt('form.submit()')],
    [
      'form with a field that is missing',
      '<form action="/other"><input required><button id="it">Send</button></form>',
    ],
    [
      'form with a message of its own',
      `<form id="form"><button id="it">Send</button></form>${out}`,
      "form.addEventListener('submit', (event) => { event.preventDefault(); out.textContent = 'Name is missing' })",
    ],
    [
      'resets a form',
      '<form><input id="f" value="a"><button id="it" type="reset">Reset</button></form>',
      "f.value = 'changed'",
    ],
    ['another view without a load', button + out, onIt(`history.pushState(null, '', '/view'); ${say}`)],
    [
      'view by hash',
      `<a id="it" href="#two">Two</a>${out}`,
      `addEventListener('hashchange', () => { ${say} })`,
    ],
    ['scrolls down', `${button}<div style="height:3000px"></div>`, onIt('scrollTo(0, 900)')],
    [
      'link to a place below',
      '<a id="it" href="#below">Below</a><div style="height:2000px"></div><p id="below">Here</p><div style="height:2000px"></div>',
    ],
    [
      'scrolls smoothly',
      `${button}<div style="height:3000px"></div>`,
      onIt("scrollTo({ top: 900, behavior: 'smooth' })"),
    ],
    [
      'scrolls a pane',
      `${button}<div id="pane" style="height:60px;overflow:auto"><div style="height:900px">Long</div></div>`,
      onIt('pane.scrollTop = 300'),
    ],
    ['puts the focus into a field', `${button}<input id="f">`, onIt('f.focus()')],
    ['text field', '<input id="it">'],
    ['text field of several lines', '<textarea id="it"></textarea>'],
    ['text that may be edited', '<p id="it" contenteditable="true">Edit</p>'],
    ['box to tick', '<input id="it" type="checkbox">'],
    ['radio', '<input id="it" type="radio" name="r">'],
    ['choice', '<select id="it"><option>One<option>Two</select>'],
    ['list to choose from', '<select size="3"><option>One<option id="it">Two<option>Three</select>'],
    ['slider', '<input id="it" type="range">', '', { x: 10, y: 8 }],
    ['colour', '<input id="it" type="color">'],
    ['file', '<input id="it" type="file">'],
    ['file by a button', `${button}<input id="f" type="file" hidden>`, onIt('f.click()')],
    ['date', '<input id="it" type="date">'],
    ['label of a field', '<label id="it" for="f">Name</label> <input id="f">'],
    ['label around a box', '<label id="it"><input type="checkbox"> Agree</label>'],
    [
      'menu by a box and rules',
      '<style>#m{display:none}#c:checked~#m{display:block}#c{position:absolute;opacity:0}</style><input id="c" type="checkbox"><label id="it" for="c">Menu</label><ul id="m"><li>One</li></ul>',
    ],
    [
      'switch that a label draws',
      '<style>#c{display:none}#it{display:inline-block;width:60px;height:30px;background:#ccc}#c:checked+#it{background:teal}</style><input id="c" type="checkbox"><label id="it" for="c"></label>',
    ],
    [
      'switch whose box has no size',
      '<style>#c{width:0;height:0;opacity:0;margin:0}#it::before{content:"";display:block;width:60px;height:30px;background:#ccc;transition:background .2s}#c:checked+#it::before{background:teal}</style><input id="c" type="checkbox"><label id="it" for="c"></label>',
    ],
    [
      'choice whose line is drawn after it',
      '<style>#it{position:relative;padding:10px 30px}#it::after{content:"";position:absolute;inset:0;outline:1px solid #ccc}#it[data-state=on]::after{outline-color:teal}</style><button id="it" role="radio" aria-checked="false">One</button>',
      onIt("it.setAttribute('aria-checked', 'true'); it.dataset.state = 'on'"),
    ],
    [
      'card that gets a ring',
      '<style>#it.chosen{outline:2px solid teal}</style><div id="it" style="padding:20px">Card</div>',
      onIt("it.classList.add('chosen')"),
    ],
    [
      'menu by the focus within',
      '<style>#m{display:none}nav:focus-within #m{display:block}</style><nav><button id="it">Menu</button><ul id="m"><li>One</li></ul></nav>',
    ],
    [
      'panel by its target',
      '<style>#two{display:none}#two:target{display:block}</style><a id="it" href="#two">Two</a><p id="two">Panel</p>',
    ],
    [
      'writes a rule',
      `<style id="s">.x{}</style>${button}${out}`,
      onIt("s.sheet.insertRule('#out{color:red}', 0)"),
    ],
    [
      'switches a sheet off',
      `<style id="s">#out{color:red}</style>${button}${out}`,
      onIt('s.sheet.disabled = true'),
    ],
    [
      'adopts a sheet',
      button + out,
      onIt(
        "const s = new CSSStyleSheet(); s.replaceSync('#out{background:gold}'); document.adoptedStyleSheets = [s]",
      ),
    ],
    [
      'changes the theme',
      `<style>:root{--ground:white}body{background:var(--ground)}</style>${button}`,
      onIt("document.documentElement.style.setProperty('--ground', '#223')"),
    ],
    [
      'theme by a class on the root',
      `<style>.dark body{background:#223;color:#eee}</style>${button}${out}`,
      onIt("document.documentElement.classList.toggle('dark')"),
    ],
    [
      'draws',
      '<canvas id="it" width="300" height="150"></canvas>',
      "const c = it.getContext('2d'); c.fillRect(0, 0, 20, 20); it.addEventListener('click', ({ offsetX: x, offsetY: y }) => c.fillRect(x, y, 4, 4))",
    ],
    [
      'draws, and answers to the pointer',
      '<canvas id="it" width="300" height="150"></canvas>',
      "const c = it.getContext('2d'); let n = 1, over = 0; const draw = () => { c.clearRect(0, 0, 300, 150); c.fillStyle = over ? 'teal' : 'gray'; for (let k = 0; k < n; k++) c.fillRect(20 + k * 40, 20, 30, 100) }; draw(); it.onpointermove = () => { over = 1; draw() }; it.onclick = () => { n = n % 5 + 1; draw() }",
    ],
    [
      'draws elsewhere',
      `${button}<canvas id="drawn" width="300" height="150"></canvas>`,
      onIt("const c = drawn.getContext('2d'); c.fillRect(40, 40, 60, 60)"),
    ],
    [
      'moves a part of a drawing',
      `${button}<svg width="100" height="60"><circle id="out" cx="20" cy="20" r="10"/></svg>`,
      onIt("out.setAttribute('cx', '60')"),
    ],
    [
      'colours a part of a drawing',
      '<svg id="it" width="100" height="60"><rect id="r" width="80" height="40" fill="teal"/></svg>',
      onIt("r.setAttribute('fill', 'crimson')"),
    ],
    [
      'another picture',
      '<img id="it" width="200" height="100" src="/picture.svg" alt="">',
      onIt("it.src = '/picture.svg?2'"),
    ],
    [
      'another picture behind',
      '<div id="it" style="width:99px;height:99px;background-image:url(/picture.svg)"></div>',
      onIt("it.style.backgroundImage = 'url(/picture.svg?2)'"),
    ],
    [
      'shakes by script',
      button + out,
      onIt("out.animate([{ translate: '0' }, { translate: '10px' }, { translate: '0' }], 300)"),
    ],
    [
      'shakes by a class',
      `<style>@keyframes shake{50%{transform:translateX(10px)}}.shake{animation:shake .3s}</style>${button}${out}`,
      onIt("out.classList.add('shake')"),
    ],
    [
      'slides open',
      `<style>#out{overflow:hidden;height:0;transition:height .4s}#out.open{height:60px}</style>${button}${out}<p>Below</p>`,
      onIt("out.classList.add('open')"),
    ],
    [
      'fades in',
      `<style>#out{opacity:0;transition:opacity .4s}#out.open{opacity:1}</style>${button}${out}`,
      onIt("out.classList.add('open')"),
    ],
    ['answers after 300 ms', button + out, onIt(`setTimeout(() => { ${say} }, 300)`)],
    ['answers after 900 ms', button + out, onIt(`setTimeout(() => { ${say} }, 900)`)],
    ['answers by a request', button + out, onIt(`fetch('/answer?ms=600').then(() => { ${say} })`)],
    ['answers by a slow request', button + out, onIt(`fetch('/answer?ms=2500').then(() => { ${say} })`)],
    [
      'answers by a slow XHR',
      button + out,
      onIt(
        `const x = new XMLHttpRequest(); x.open('GET', '/answer?ms=2000'); x.onload = () => { ${say} }; x.send()`,
      ),
    ],
    [
      'says that a request failed',
      button + out,
      onIt(`fetch('/fails?ms=1500').then((r) => { if (!r.ok) out.textContent = 'Failed' })`),
    ],
    [
      'two requests after each other',
      button + out,
      onIt(`fetch('/answer?ms=700').then(() => fetch('/answer?ms=900')).then(() => { ${say} })`),
    ],
    [
      'message that goes away',
      button,
      onIt(
        "const p = document.createElement('p'); p.textContent = 'Saved'; document.body.append(p); setTimeout(() => p.remove(), 400)",
      ),
    ],
    [
      'own element that changes inside',
      '<x-open id="it" style="display:inline-block"></x-open>',
      "customElements.define('x-open', class extends HTMLElement { constructor() { super(); const r = this.attachShadow({ mode: 'open' }); r.innerHTML = '<button>Press</button><p></p>'; r.firstChild.onclick = () => { r.lastChild.textContent = 'After' } } })",
    ],
    [
      'own element in another',
      '<x-outer id="it"></x-outer>',
      "customElements.define('x-inner', class extends HTMLElement { constructor() { super(); const r = this.attachShadow({ mode: 'open' }); r.innerHTML = '<button>Press</button>'; r.firstChild.onclick = () => { r.firstChild.style.background = 'teal' } } }); customElements.define('x-outer', class extends HTMLElement { constructor() { super(); this.attachShadow({ mode: 'open' }).innerHTML = '<x-inner></x-inner>' } })",
    ],
    [
      'another slot',
      '<x-tabs id="it"><p slot="one">One</p><p slot="two">Two</p></x-tabs>',
      "customElements.define('x-tabs', class extends HTMLElement { constructor() { super(); const r = this.attachShadow({ mode: 'open' }); r.innerHTML = '<button>Switch</button><slot name=one></slot>'; r.firstChild.onclick = () => { r.lastChild.name = 'two' } } })",
      { x: 20, y: 10 },
    ],
    [
      'menu on pointer down',
      `${button}<ul id="out" hidden><li>One</li></ul>`,
      onIt('out.hidden = false', 'pointerdown'),
    ],
    [
      'menu on mouse down',
      `${button}<ul id="out" hidden><li>One</li></ul>`,
      onIt('out.hidden = false', 'mousedown'),
    ],
    [
      'menu on pointer up',
      `${button}<ul id="out" hidden><li>One</li></ul>`,
      onIt('out.hidden = false', 'pointerup'),
    ],
    [
      'ground that closes a menu',
      '<ul id="out" style="width:100px"><li>One</li></ul><div id="it" style="height:300px"></div>',
      "document.addEventListener('click', () => { out.hidden = true })",
    ],
    ['tab', `<button>One</button><button id="it">Two</button>${out}`, onIt(say)],
    [
      'sorts a table',
      '<table><tr><th id="it">Name</th></tr><tr><td>B</td></tr><tr><td>A</td></tr></table>',
      onIt('const t = it.closest("tbody"); t.insertBefore(t.lastElementChild, t.children[1])'),
    ],
    [
      'filters a list',
      `${button}<ul id="out"><li>A</li><li>B</li></ul>`,
      onIt("out.firstChild.style.display = 'none'"),
    ],
    [
      'switches another control on',
      `${button}<button id="out" disabled>Next</button>`,
      onIt('out.disabled = false'),
    ],
    ['fills a field', `${button}<input id="out">`, onIt("out.value = 'x'")],
    ['ticks a box by script', `${button}<input id="out" type="checkbox">`, onIt('out.checked = true')],
    ['moves a bar', `${button}<progress id="out" value="0.1"></progress>`, onIt('out.value = 0.8')],
    ['moves a slider by script', `${button}<input type="range" id="out">`, onIt('out.value = 90')],
    [
      'opens a tooltip',
      `${button}<div id="out" style="position:fixed;display:none;background:#222;color:#fff">Help</div>`,
      onIt("out.style.display = 'block'"),
    ],
    [
      'another page in a frame',
      `${button}<iframe id="out" src="/empty.html"></iframe>`,
      onIt("out.src = '/empty.html?2'"),
    ],
    [
      'link on a map',
      '<img src="/picture.svg" width="200" height="100" usemap="#m" alt="" id="it"><map name="m"><area shape="rect" coords="0,0,200,100" href="/other"></map>',
    ],
    [
      'link in a drawing',
      '<svg width="90" height="60"><a href="/other"><rect id="it" width="80" height="40" fill="teal"/></a></svg>',
    ],
    ['link to the same page', '<a id="it" href="">Again</a>'],
    [
      'changes the heart in a pseudo element',
      '<style>#it::after{content:"♡"}#it.on::after{content:"♥"}</style><button id="it">Like </button>',
      onIt("it.classList.add('on')"),
    ],
    [
      'turns an arrow in a pseudo element',
      '<style>#it::after{content:"▾";display:inline-block}#it.on::after{transform:rotate(180deg)}</style><button id="it">Sort</button>',
      onIt("it.classList.add('on')"),
    ],
    [
      'underlines the chosen one',
      '<style>.on{text-decoration:underline}</style><span id="it">Two</span>',
      onIt("it.classList.add('on')"),
    ],
    [
      'moves an element',
      `${button}<p id="out" style="position:relative">x</p>`,
      onIt("out.style.left = '40px'"),
    ],
    [
      'turns an element',
      `${button}<p id="out" style="width:90px;background:gold">x</p>`,
      onIt("out.style.rotate = '20deg'"),
    ],
    ['blurs the page', button + out, onIt("out.style.filter = 'blur(3px)'")],
    [
      'shares',
      button,
      'navigator.share ??= async () => undefined; Navigator.prototype.share ??= async () => undefined; ' +
        onIt(
          "Navigator.prototype.share.call(navigator, { title: 'x' })?.catch?.(() => undefined); out2.textContent = 'Shared'",
        ) +
        "; document.body.insertAdjacentHTML('beforeend', '<p id=out2></p>'); window.out2 = document.getElementById('out2')",
    ],
    [
      'shows a video',
      '<video id="it" width="200" height="100" muted></video>',
      onIt('it.play().catch(() => undefined)'),
    ],
    ['controls of a video', '<video id="it" width="200" height="100" controls></video>'],
    [
      'list that grows out of sight',
      `${button}<div style="height:1200px"></div><ul id="out"><li>One</li></ul>`,
      onIt("out.insertAdjacentHTML('beforeend', '<li>Two</li><li>Three</li>')"),
    ],
  ] as [string, string, string?, Place['point']?][]
).map(([name, html, script, point]) => ({
  ...{ name, does: 'something', html },
  ...(script && { script }),
  ...(point && { point }),
}))

/** Buttons that work on a page that does something by itself. */
const beside = (name: string, html: string, script: string, does: string, style = ''): Place => ({
  ...{ name, does: 'something', html, style, watchMs: 3500 },
  script: `${script}; ${onIt(does)}`,
})
SOMETHING.push(
  beside(
    'text beside a clock',
    `${button}${out}<p id="own">0</p>`,
    'let n = 0; setInterval(() => { own.textContent = ++n }, 1000)',
    say,
  ),
  beside(
    'next slide of a carousel that runs',
    '<div id="view"><div id="track"><i>One</i><i>Two</i><i>Three</i></div></div><button id="it">›</button>',
    'let n = 0; const go = () => { n = (n + 1) % 3; track.style.transform = `translateX(${-n * 200}px)` }; setInterval(go, 1500)',
    'go()',
    '#view{width:200px;overflow:hidden}#track{display:flex}i{flex:0 0 200px}',
  ),
  beside(
    'late text beside a list asked for again and again',
    `${button}${out}<div id="own"></div>`,
    "let n = 0; setInterval(() => fetch('/poll?ms=50').then(() => { own.innerHTML = `<p>${++n}</p>` }), 1000)",
    `fetch('/answer?ms=1800').then(() => { ${say} })`,
  ),
  beside(
    'stops a clock',
    `<button id="it">Stop</button><p id="own">0</p>`,
    'let n = 0; const t = setInterval(() => { own.textContent = ++n }, 1000)',
    "clearInterval(t); it.textContent = 'Go on'",
  ),
  beside(
    'menu beside a drawing that moves',
    `${button}<ul id="out" hidden><li>One</li></ul><canvas id="drawn" width="100" height="50"></canvas>`,
    "const c = drawn.getContext('2d'); let n = 0; setInterval(() => c.fillRect(n++ % 90, 10, 9, 9), 40)",
    'out.hidden = false',
  ),
)
