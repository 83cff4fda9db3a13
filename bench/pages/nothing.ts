import type { Place } from './place.ts'

const button = '<button id="it">Press me</button>'
const onIt = (does: string) => `it.addEventListener('click', (event) => { ${does} })`
/** A button that does nothing on a page that does something by itself. */
const beside = (name: string, html: string, script: string, style = '', watchMs = 4500): Place => ({
  ...{ name: `dead button beside ${name}`, does: 'nothing', watchMs },
  ...{ html: `${button}<div id="own">${html}</div>`, script, style },
})

/** Places where nothing happens that a person could see or hear. */
export const NOTHING: Place[] = (
  [
    ['button without a handler', button],
    ['paragraph', '<p id="it">A paragraph of text to be read by people.</p>'],
    ['picture', '<img id="it" width="200" height="100" src="/picture.svg" alt="A hill">'],
    [
      'card that looks clickable',
      '<div id="it" style="cursor:pointer;border:1px solid #999;padding:20px">Card</div>',
    ],
    [
      'text that looks like a link',
      '<span id="it" style="color:blue;text-decoration:underline">Read more</span>',
    ],
    ['link without address', '<a id="it" style="color:blue">Read more</a>'],
    ['link to the top, at the top', '<a id="it" href="#">Read more</a>'],
    ['link to void', '<a id="it" href="javascript:void(0)">Read more</a>'],
    ['link to a place that is not there', '<a id="it" href="#nowhere">Read more</a>'],
    ['writes to the console', button, onIt('console.log(1)')],
    ['sends a beacon', button, onIt("navigator.sendBeacon('/track', 'x')")],
    ['asks an analytics address', button, onIt("fetch('/track', { method: 'POST', body: 'x' })")],
    [
      'asks by XHR and does nothing with it',
      button,
      onIt("const x = new XMLHttpRequest(); x.open('GET', '/answer?ms=300'); x.send()"),
    ],
    [
      'says that it is held down',
      `<style>#it:focus{box-shadow:0 0 4px blue}</style>${button}`,
      "it.onpointerdown = () => it.setAttribute('active', ''); it.onpointerup = () => it.removeAttribute('active')",
    ],
    [
      'moves the place of the focus among tabs',
      '<style>button:focus{background:#eef}</style><div role="tablist"><button id="it" role="tab" aria-selected="true" tabindex="-1">One</button><button role="tab" tabindex="0">Two</button></div>',
      'it.onmousedown = () => { it.tabIndex = 0; it.nextElementSibling.tabIndex = -1 }',
    ],
    [
      'box that is put back',
      '<style>#c{display:none}#it{padding:10px}#c:checked+#it{background:teal}</style><input id="c" type="checkbox"><label id="it" for="c">Agree</label>',
      'c.onchange = () => { c.checked = false }',
    ],
    ['sets a data attribute', button, onIt("it.dataset.clicked = 'yes'")],
    ['sets a class without rules', button, onIt("it.classList.toggle('on')")],
    ['sets an aria attribute', button, onIt("it.setAttribute('aria-pressed', 'true')")],
    ['counts in a variable', button, onIt('window.count = (window.count ?? 0) + 1')],
    ['fills the data layer', button, onIt("(window.dataLayer ??= []).push({ event: 'click' })")],
    ['writes to local storage', button, onIt("localStorage.setItem('clicked', '1')")],
    [
      'adds a hidden field',
      button,
      onIt(
        "const field = document.createElement('input'); field.type = 'hidden'; document.body.append(field)",
      ),
    ],
    [
      'adds a script',
      button,
      onIt(
        "const script = document.createElement('script'); script.src = '/empty.js'; document.head.append(script)",
      ),
    ],
    [
      'adds a tracking pixel',
      button,
      onIt("const pixel = new Image(1, 1); pixel.src = '/picture.svg'; document.body.append(pixel)"),
    ],
    ['adds an element without content', button, onIt("document.body.append(document.createElement('div'))")],
    ['writes the same text', `${button}<p id="out">same</p>`, onIt("out.textContent = 'same'")],
    [
      'builds the same list anew',
      `${button}<ul id="out"><li>One</li><li>Two</li></ul>`,
      onIt('out.innerHTML = out.innerHTML'),
    ],
    [
      'changes what is not displayed',
      `${button}<p id="out" style="display:none">x</p>`,
      onIt("out.textContent = 'y'"),
    ],
    [
      'changes what is invisible',
      `${button}<p id="out" style="visibility:hidden">x</p>`,
      onIt("out.textContent = 'y'"),
    ],
    [
      'changes what is transparent',
      `${button}<p id="out" style="opacity:0">x</p>`,
      onIt("out.textContent = 'y'"),
    ],
    [
      'changes what lies off the page',
      `${button}<p id="out" style="position:absolute;left:-9999px">x</p>`,
      onIt("out.textContent = 'y'"),
    ],
    [
      'opens what is not displayed',
      `${button}<div style="display:none"><p id="out" hidden>x</p></div>`,
      onIt('out.hidden = false'),
    ],
    [
      'sets the same colour',
      `${button}<p id="out" style="color:red">x</p>`,
      onIt("out.style.color = 'rgb(255, 0, 0)'"),
    ],
    ['button that is switched off', '<button id="it" disabled>Buy</button>'],
    [
      'text in a button that is switched off',
      '<button disabled style="padding:20px"><span id="it">Buy</span></button>',
    ],
    [
      'button in a field set that is switched off',
      '<fieldset disabled><button id="it">Buy</button></fieldset>',
    ],
    ['field that is switched off', '<input id="it" disabled value="x">'],
    ['choice that is switched off', '<select id="it" disabled><option>One</option></select>'],
    ['box to tick that is switched off', '<input id="it" type="checkbox" disabled>'],
    [
      'link that looks switched off',
      '<a id="it" href="/other" aria-disabled="true" onclick="return false">Next</a>',
    ],
    ['ground of the page', '<p>Text</p><div id="it" style="height:300px"></div>'],
    ['heading', '<h1 id="it">A heading</h1>'],
    ['label without a field', '<label id="it">Name</label>'],
    ['label for a field that is not there', '<label id="it" for="nobody">Name</label>'],
    ['cell of a table', '<table border><tr><td id="it">12</td><td>13</td></tr></table>'],
    ['drawing', '<svg id="it" width="60" height="60"><circle cx="30" cy="30" r="25"/></svg>'],
    ['code', '<pre id="it">const a = 1</pre>'],
    ['item of a list', '<ul><li id="it">First</li></ul>'],
    [
      'current page of a trail',
      '<nav><a href="/">Home</a> › <span id="it" aria-current="page">Here</span></nav>',
    ],
    ['link that is prevented', '<a id="it" href="/other">Other</a>', onIt('event.preventDefault()')],
    [
      'mail link that is prevented',
      '<a id="it" href="mailto:a@b.example">Mail</a>',
      onIt('event.preventDefault()'),
    ],
    ['handler that fails', button, onIt("throw new Error('boom')")],
    ['promise that fails', button, onIt("Promise.reject(new Error('boom'))")],
    [
      'request that fails without a word',
      button,
      onIt(
        "fetch('/fails?ms=200').then((r) => { if (!r.ok) throw new Error('bad') }).catch(() => undefined)",
      ),
    ],
    ['late nothing', button, onIt("setTimeout(() => { it.dataset.late = '1' }, 400)")],
    ['box to tick that is kept as it is', '<input id="it" type="checkbox">', onIt('event.preventDefault()')],
    ['radio that is chosen already', '<input id="it" type="radio" name="r" checked>'],
    [
      'form that is stopped without a word',
      '<form onsubmit="return false"><button id="it">Send</button></form>',
    ],
    [
      'form that is stopped after a request',
      '<form id="form"><button id="it">Send</button></form>',
      "form.addEventListener('submit', (event) => { event.preventDefault(); fetch('/answer?ms=100') })",
    ],
    [
      'tab that is chosen already',
      '<button id="it" role="tab" class="on">One</button><button>Two</button><p id="out">First</p>',
      onIt("it.className = 'on'; out.textContent = 'First'"),
    ],
    [
      'stepper at its end',
      '<button>−</button><b id="out">10</b><button id="it">+</button>',
      onIt('out.textContent = Math.min(10, Number(out.textContent) + 1)'),
    ],
    [
      'next picture at the end',
      '<div id="out" style="transform:translateX(-200px)">Pictures</div><button id="it">›</button>',
      onIt("out.style.transform = 'translateX(-200px)'"),
    ],
    [
      'more of what there is no more of',
      `<ul id="out"><li>One</li></ul>${button}`,
      onIt(
        "fetch('/answer?ms=200').then((r) => r.json()).then(() => { out.insertAdjacentHTML('beforeend', '') })",
      ),
    ],
    [
      'search that finds the same',
      `<div id="out"><p>Result one</p><p>Result two</p></div>${button}`,
      onIt("fetch('/answer?ms=200').then(() => { out.innerHTML = '<p>Result one</p><p>Result two</p>' })"),
    ],
    [
      'button of a dialog',
      '<dialog id="d"><p>Sure?</p><button id="it">Yes</button></dialog>',
      'd.showModal()',
    ],
    ['button without a handler, by type', '<input id="it" type="button" value="Press">'],
    ['link that is a button without a handler', '<div id="it" role="button" tabindex="0">Press</div>'],
    [
      'summary that is prevented',
      '<details><summary id="it">More</summary>Text</details>',
      onIt('event.preventDefault()'),
    ],
    ['text of details', '<details open><summary>More</summary><p id="it">Text of it</p></details>'],
    [
      'drawing area without a listener',
      '<canvas id="it" width="300" height="150"></canvas>',
      "const c = it.getContext('2d'); c.fillStyle = 'teal'; c.fillRect(20, 20, 100, 80)",
    ],
    [
      'own element, open',
      '<x-card id="it"></x-card>',
      "customElements.define('x-card', class extends HTMLElement { constructor() { super(); this.attachShadow({ mode: 'open' }).innerHTML = '<button>Dead</button>' } })",
    ],
    [
      'text in an own element',
      '<x-text id="it"></x-text>',
      "customElements.define('x-text', class extends HTMLElement { constructor() { super(); this.attachShadow({ mode: 'open' }).innerHTML = '<p>Only text</p>' } })",
    ],
    ['media without controls', '<video id="it" width="200" height="100" style="background:#333"></video>'],
    ['slider of the page’s own', '<div id="it" style="width:200px;height:8px;background:#999"></div>'],
    ['star of a rating that is shown', '<span id="it" aria-label="4 of 5">★★★★☆</span>'],
    ['quote', '<blockquote id="it">Words of somebody</blockquote>'],
    ['price', '<strong id="it">€ 39.00</strong>'],
    ['badge', '<span id="it" style="background:gold;padding:4px">New</span>'],
    [
      'rule that is written and changes nothing',
      button,
      onIt("document.styleSheets[0].insertRule('.nobody{color:red}')"),
    ],
    ['position is asked', button, onIt('it.getBoundingClientRect(); getComputedStyle(it).color')],
    ['custom event', button, onIt("document.dispatchEvent(new CustomEvent('tracked', { detail: 1 }))")],
    ['message to itself', button, onIt("postMessage('x')")],
    ['comment is added', button, onIt("document.body.append(document.createComment('x'))")],
    [
      'meta is changed',
      button,
      onIt('document.head.insertAdjacentHTML(\'beforeend\', \'<meta name="x" content="y">\')'),
    ],
    ['worker is started', button, onIt("new Worker('/empty.js')")],
  ] as [string, string, string?][]
).map(([name, html, script]) => ({ name, does: 'nothing', html, ...(script && { script }) }))

NOTHING.push(
  {
    name: 'page shorter than its window',
    does: 'nothing',
    html: '<p>Short</p>',
    at: 'html',
    point: { x: 600, y: 500 },
  },
  {
    name: 'button that shrinks while pressed',
    does: 'nothing',
    html: button,
    style: '#it{transition:.2s}#it:active{transform:scale(.9);background:#ccc}',
  },
  {
    name: 'button with a ring for the focus',
    does: 'nothing',
    html: button,
    style: '#it:focus{outline:none;box-shadow:0 0 0 4px #39f}',
  },
  {
    name: 'button with a ground for the focus',
    does: 'nothing',
    html: button,
    style: '#it:focus{background:navy;color:white}',
  },
  {
    name: 'card with a border for the focus within',
    does: 'nothing',
    html: `<div id="card">${button}</div>`,
    style: '#card{padding:20px;border:2px solid #ccc}#card:focus-within{border-color:#39f}',
  },
  {
    name: 'spreading circle',
    does: 'nothing',
    html: button,
    style:
      '#it{position:relative;overflow:hidden;padding:20px}@keyframes spread{to{transform:scale(4);opacity:0}}.ripple{position:absolute;inset:0;border-radius:50%;background:#0003;animation:spread .5s}',
    script: onIt(
      "const r = document.createElement('span'); r.className = 'ripple'; it.append(r); setTimeout(() => r.remove(), 550)",
    ),
  },
  {
    name: 'class that says where the focus is',
    does: 'nothing',
    html: button,
    style: '.is-focused{box-shadow:0 0 0 3px #39f}',
    script: "it.addEventListener('focus', () => it.classList.add('is-focused'))",
  },
  {
    name: 'class while pressed',
    does: 'nothing',
    html: button,
    style: '.is-pressed{background:#aaa}',
    script:
      "it.addEventListener('pointerdown', () => it.classList.add('is-pressed')); it.addEventListener('pointerup', () => it.classList.remove('is-pressed'))",
  },
  {
    name: 'card that rises under the pointer',
    does: 'nothing',
    html: '<div id="it">Card</div>',
    style: '#it{padding:30px;transition:.3s}#it:hover{transform:translateY(-4px);box-shadow:0 4px 8px #0004}',
  },
  {
    name: 'what shows over a picture under the pointer',
    does: 'nothing',
    html: '<figure style="position:relative"><img id="it" src="/picture.svg" width="200" height="100" alt=""><figcaption>Caption</figcaption></figure>',
    style:
      'figcaption{opacity:0;transition:.3s;position:absolute;top:110px}figure:hover figcaption{opacity:1}',
  },
  {
    name: 'button in an own element with a ring',
    does: 'nothing',
    html: '<x-ring id="it"></x-ring>',
    script:
      "customElements.define('x-ring', class extends HTMLElement { constructor() { super(); this.attachShadow({ mode: 'open' }).innerHTML = '<style>button:focus{box-shadow:0 0 0 4px red}</style><button>Dead</button>' } })",
  },
  {
    name: 'slow button with a ring that fades in',
    does: 'nothing',
    html: button,
    style: '#it{transition:box-shadow .4s}#it:focus{box-shadow:0 0 0 4px #39f}',
  },
  beside('a clock', '12:00:00', "let n = 0; setInterval(() => { own.textContent = '12:00:' + ++n }, 1000)"),
  beside('a fast counter', '0', 'let n = 0; setInterval(() => { own.textContent = ++n }, 50)'),
  beside(
    'a carousel',
    '<div id="track"><i>One</i><i>Two</i><i>Three</i></div>',
    'let n = 0; setInterval(() => { n = (n + 1) % 3; track.style.transform = `translateX(${-n * 200}px)` }, 1500)',
    '#own{width:200px;overflow:hidden}#track{display:flex;transition:.3s}i{flex:0 0 200px}',
  ),
  beside(
    'slides that come and go',
    '<p class="on">One</p><p>Two</p><p>Three</p>',
    "let n = 0; setInterval(() => { own.children[n % 3].className = ''; own.children[++n % 3].className = 'on' }, 1200)",
    '#own p{display:none}#own p.on{display:block}',
  ),
  beside(
    'a list that is asked for again and again',
    '<p>1</p>',
    "let n = 0; setInterval(() => fetch('/answer?ms=50').then(() => { own.innerHTML = `<p>${++n}</p>` }), 1000)",
  ),
  beside(
    'a list that grows',
    '',
    "let n = 0; setInterval(() => own.insertAdjacentHTML('beforeend', `<p>${++n}</p>`), 1000)",
  ),
  beside(
    'advertisements that change',
    '<div><img src="/picture.svg" width="100" height="40" alt=""></div>',
    'let n = 0; setInterval(() => { own.innerHTML = `<div><img src="/picture.svg?${++n}" width="100" height="40" alt=""></div>` }, 1300)',
  ),
  beside(
    'a wheel that turns',
    '<div id="wheel">◐</div>',
    '',
    '@keyframes turn{to{rotate:1turn}}#wheel{width:30px;animation:turn 1s linear infinite}',
  ),
  beside(
    'text that runs',
    '<div id="run">Running text</div>',
    '',
    '@keyframes run{from{translate:100%}to{translate:-100%}}#own{overflow:hidden}#run{animation:run 5s linear infinite}',
  ),
  beside(
    'a bar that fills',
    '<div id="bar"></div>',
    "const begin = performance.now(); const step = (t) => { bar.style.width = ((t - begin) / 50) % 300 + 'px'; requestAnimationFrame(step) }; requestAnimationFrame(step)",
    '#bar{height:8px;background:teal}',
  ),
  beside(
    'a drawing that moves',
    '<canvas id="drawn" width="200" height="100"></canvas>',
    "const c = drawn.getContext('2d'); let n = 0; setInterval(() => { c.clearRect(0, 0, 200, 100); c.fillRect(n++ % 180, 20, 20, 20) }, 40)",
  ),
  beside(
    'a word that is typed',
    '',
    "let n = 0; setInterval(() => { own.textContent = 'typed by itself'.slice(0, ++n % 15) }, 120)",
  ),
  beside(
    'a caret that blinks',
    '<span id="caret">|</span>',
    '',
    '@keyframes blink{50%{opacity:0}}#caret{animation:blink 1s step-end infinite}',
  ),
  beside(
    'grey shapes that pulse',
    '<div id="shape"></div>',
    '',
    '@keyframes pulse{50%{background:#eee}}#shape{height:20px;background:#ccc;animation:pulse 1s infinite}',
  ),
  beside(
    'messages that come by themselves',
    '',
    "let n = 0; setInterval(() => { own.innerHTML = n++ % 2 ? '' : '<p style=\"position:fixed;right:20px;top:20px;background:#ffd\">Somebody bought this</p>' }, 1000)",
  ),
  beside(
    'a pane that scrolls by itself',
    '<div id="pane" style="height:60px;overflow:auto"><div style="height:900px">Long</div></div>',
    'setInterval(() => { pane.scrollTop += 20 }, 300)',
  ),
  beside(
    'an advertisement on top that moves all',
    '<div id="ad"></div>',
    "let n = 0; setInterval(() => { ad.style.height = n++ % 2 ? '40px' : '80px' }, 1000)",
    '#ad{background:#ffd;height:80px}body{display:flex;flex-direction:column-reverse}',
  ),
  beside(
    'a meter',
    '<meter id="m" value="0.1"></meter>',
    'let n = 0; setInterval(() => { m.value = (n++ % 10) / 10 }, 500)',
  ),
)
