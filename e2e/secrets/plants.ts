/*
 * Secrets planted on pages, each where it might get out. Kinds and places are common practice, no source; the numbers are
 * those that card schemes, ISO 13616 and ISO 3166 give as examples (from memory), the people are made up.
 */

export interface Plant {
  name: string
  secret: string
  /** part of the page */
  html?: string
  /** what the page does by itself after it was loaded */
  script?: string
}

/** What looks personal by itself, each with a number of its own so that a leak names its plant. */
const KINDS: [kind: string, make: (n: number) => string][] = [
  ['address of mail', (n) => `quill.vasbender${n}@post${n}.example`],
  ['phone number', (n) => `+49 30 ${5550100 + n}`],
  ['card number', (n) => withCheckDigit(`411111${String(100000000 + n * 7919)}`)],
  ['long number', (n) => String(73_000_000_000 + n * 104_729)],
  ['account number', (n) => iban(String(500_105_170_000_000_000 + n * 1009))],
  ['token', (n) => `eyJhbGciOiJIUzI1NiJ9.eyJzdWIiOiI${n}xyzk${n}.c2lnbmF0dXJl${n}`],
]

/** @see ISO 13616: the check digits make the whole 1 modulo 97 */
function iban(account: string): string {
  let rest = 0
  for (const digit of `${account}131400`) rest = (rest * 10 + Number(digit)) % 97
  return `DE${String(98 - rest).padStart(2, '0')}${account}`
}

function withCheckDigit(digits: string): string {
  for (let last = 0; last < 10; last++) {
    let sum = 0
    const whole = digits + last
    for (let i = 0; i < whole.length; i++) {
      const twice = Number(whole[whole.length - 1 - i]) * (1 + (i % 2))
      sum += twice > 9 ? twice - 9 : twice
    }
    if (sum % 10 === 0) return whole
  }
  throw new Error('no check digit')
}

/** Where the page itself writes something: part of a page, or what it does later. */
const PLACES: [place: string, html: (text: string) => string][] = [
  ['text', (text) => `<p>for ${text}, thank you</p>`],
  ['a heading', (text) => `<h2>Orders of ${text}</h2>`],
  ['a button', (text) => `<button>Continue as ${text}</button>`],
  [
    'a link',
    (text) => `<a href="/me?user=${encodeURIComponent(text)}#${encodeURIComponent(text)}">${text}</a>`,
  ],
  ['a label', (text) => `<label>Use ${text}<input></label>`],
  ['attributes', (text) => `<p title="${text}" data-who="${text}" aria-label="${text}" lang="${text}">x</p>`],
  ['an id and a class', (text) => `<div id="u-${text}" class="card c-${text.replaceAll(' ', '')}">x</div>`],
  [
    'a picture',
    (text) => `<img alt="${text}" src="/i/${encodeURIComponent(text)}.png?u=${encodeURIComponent(text)}">`,
  ],
  ['a drawing', (text) => `<svg><title>${text}</title><text>${text}</text></svg>`],
  [
    'a drawing in an address',
    (text) =>
      `<img src="data:image/svg+xml,${encodeURIComponent(`<svg xmlns="http://www.w3.org/2000/svg"><text>${text}</text></svg>`)}">`,
  ],
  ['style', (text) => `<style>#s::before{content:"${text}"}</style><i style='--who:"${text}"'>x</i>`],
  [
    'fields',
    (text) => `<input value="${text}"><textarea>${text}</textarea><input type="hidden" value="${text}">`,
  ],
  [
    'a list of choices',
    (text) =>
      `<select><option value="${text}">${text}</option></select><datalist><option>${text}</option></datalist>`,
  ],
  [
    'a tree inside of an element',
    (text) =>
      `<div><template shadowrootmode="open"><style>i::after{content:"${text}"}</style><i title="${text}">${text}</i><input value="${text}"></template></div>`,
  ],
  [
    'a page in a frame',
    (text) =>
      `<iframe title="frame" srcdoc="<title>${text}</title><p title='${text}'>${text}</p><textarea>${text}</textarea>"></iframe>`,
  ],
  [
    'code that is not shown',
    (text) =>
      `<!-- ${text} --><template>${text}</template><noscript>${text}</noscript><script type="application/json">"${text}"</script>`,
  ],
]

/** What the page does with it later. */
const DEEDS: [deed: string, script: (text: string) => string][] = [
  ['an error', (text) => `setTimeout(() => { throw new Error('no account for ${text}') }, 20)`],
  [
    'the console',
    (text) => `console.error('cannot save %s', '${text}'); console.warn({ who: '${text}' }, '${text}')`,
  ],
  ['a promise that fails', (text) => `Promise.reject(new Error('lost ${text}'))`],
  [
    'a stack',
    (text) =>
      `setTimeout(() => { const e = new Error('x'); e.stack = 'at f (https://a.example/x.js?k=${text}:1:2) ${text}'; throw e }, 20)`,
  ],
  [
    'a request',
    (text) => `fetch('/api/${encodeURIComponent(text)}/x?q=${encodeURIComponent(text)}').catch(() => 0)`,
  ],
  [
    'a report',
    (text) =>
      `dustTrail.push({ kind: 'action', name: 'sent to ${text}', props: { who: '${text}', '${text}': 1 } }, { kind: 'signal', name: '${text}' }, { kind: 'variant', experiment: '${text}', variant: '${text}' }, { kind: 'answer', question: '${text}', text: 'I am ${text}' })`,
  ],
  [
    'an address of its own',
    (text) =>
      `history.pushState(null, '', '/place/${encodeURIComponent(text)}/?a=${encodeURIComponent(text)}&utm_term=${encodeURIComponent(text)}#${encodeURIComponent(text)}')`,
  ],
  ['a title', (text) => `document.title = 'Hello ${text}'; history.pushState(null, '', '/place/?title')`],
  ['a text that changes', (text) => `document.querySelector('#later').firstChild.data = 'now ${text}'`],
  [
    'an attribute that changes',
    (text) =>
      `document.querySelector('#later').setAttribute('title', '${text}'); document.querySelector('#later').setAttribute('data-x', '${text}')`,
  ],
  [
    'an element that comes',
    (text) =>
      `document.querySelector('#later').insertAdjacentHTML('beforeend', '<b aria-label="${text}">${text}</b>')`,
  ],
]

let number = 0

/** Whatever looks personal, in every place. */
export const PATTERNS: Plant[] = KINDS.flatMap(([kind, make]) => [
  // Names of files are numbers often enough: those that are no card's stay.
  ...PLACES.filter(([place]) => !(kind === 'long number' && place === 'a picture')).map(([place, html]) => {
    const secret = make(++number)
    return { name: `${kind} in ${place}`, secret, html: html(secret) }
  }),
  ...DEEDS.map(([deed, script]) => {
    const secret = make(++number)
    return { name: `${kind} in ${deed}`, secret, script: script(secret) }
  }),
])

/** Words that nobody has, each once. */
const unique = (n: number) =>
  [...String(1000 + n)]
    .map((digit) => ['ba', 'ce', 'di', 'fo', 'gu', 'ka', 'le', 'mi', 'no', 'pu'][Number(digit)]!)
    .join('')
const person = () => `Vas${unique(++number)} Quill${unique(number)}`

/** Names and addresses of people, which a program cannot tell from other words: only where no text is shown. */
export const WORDS: Plant[] = [
  ...PLACES.filter(
    ([place]) =>
      !['a heading', 'a button', 'a link', 'a label', 'an id and a class', 'a picture', 'style'].includes(
        place,
      ),
  ),
  ['a table', (text: string) => `<table><tr><td>${text}</td></tr></table>`] as const,
  ['a list', (text: string) => `<ul><li>${text}</li></ul><dl><dd>${text}</dd></dl>`] as const,
  [
    'what a picture shows',
    (text: string) => `<img alt="${text}" title="${text}"><figure><figcaption>${text}</figcaption></figure>`,
  ] as const,
  [
    'a heading under a mask',
    (text: string) =>
      `<section data-trail-mask><h2>${text}</h2><a href="#x" title="${text}">${text}</a><button aria-label="${text}">x</button></section>`,
  ] as const,
  [
    'a block',
    (text: string) =>
      `<section data-trail-block title="${text}"><h2>${text}</h2><img alt="${text}"></section>`,
  ] as const,
].map(([place, html]) => {
  const secret = person()
  return { name: `a name in ${place}`, secret, html: html(secret) }
})

export const WORD_DEEDS: Plant[] = DEEDS.map(([deed, script]) => {
  const secret = person()
  // A report says what the site itself chose to send.
  return { name: `a name in ${deed}`, secret, script: script(secret) }
}).filter(({ name }) => !/report|stack/.test(name))

/** The same under a mask, where they change later. */
export const MASKED: Plant[] = DEEDS.filter(([deed]) => /^(a text|an attribute|an element)/.test(deed)).map(
  ([deed, script]) => {
    const secret = person()
    return {
      name: `a name in ${deed} under a mask`,
      secret,
      script: script(secret).replaceAll('#later', '#masked'),
    }
  },
)

/** A place in which something is typed, and what the page makes of it: `value` is what stands in the field. */
export interface Typing {
  name: string
  secret: string
  /** where to write: a selector, or one inside of a frame */
  field: string
  html: string
  /** runs with `value` when a key is up; none: at once with `field` */
  echo?: string
}

const FIELD = '<input id="f">'
let typed = 0
const typedName = () => `Brax${unique(++typed)} Tor${unique(typed)}`
const SUGGESTED = `Brax${unique(900)} Tor${unique(901)}`
const type = (name: string, echo: string, html = FIELD, field = '#f', secret = typedName()): Typing => ({
  name,
  secret,
  field,
  html,
  echo,
})

/** What a page may do with what was typed. */
export const TYPED: Typing[] = [
  type('as it is', "out.textContent = 'Hello ' + value"),
  type('in a new element', "out.innerHTML = '<p>Dear <b>' + value + '</b></p>'"),
  type('in capitals', 'out.textContent = value.toUpperCase()'),
  type('in small letters', "out.textContent = 'to ' + value.toLowerCase() + ', here'"),
  type('without spaces', "out.textContent = value.replaceAll(' ', '')"),
  type('with other spaces', "out.textContent = value.split('').join(' ')"),
  type('in parts', "const [a, b] = value.split(' '); out.innerHTML = '<p>' + b + ', ' + a + '</p>'"),
  type(
    'over several nodes',
    "out.innerHTML = '<p><b>' + value.slice(0, 4) + '</b><i>' + value.slice(4) + '</i></p>'",
  ),
  type(
    'letter by letter in elements',
    "out.innerHTML = '<p>' + [...value].map((l) => '<b>' + l + '</b>').join('') + '</p>'",
  ),
  type(
    'in the title',
    "document.title = 'Search: ' + value; history.pushState(null, '', '/place/?done' + value.length)",
  ),
  type('in a heading', "out.innerHTML = '<h2>Results for ' + value + '</h2>'"),
  type('on a button', "out.innerHTML = '<button>Continue as ' + value + '</button>'"),
  type(
    'in attributes',
    "out.innerHTML = '<p title=\"' + value + '\" aria-label=\"' + value + '\" data-q=\"' + value + '\"><img alt=\"' + value + '\"></p>'",
  ),
  type('in a placeholder', "out.innerHTML = '<input placeholder=\"' + value + '\">'"),
  type('in a drawing', "out.innerHTML = '<svg><text>' + value + '</text></svg>'"),
  type('in style', "out.innerHTML = '<style>b::after{content:\"' + value + '\"}</style>'"),
  type(
    'in an id',
    "out.innerHTML = '<button id=\"' + value.replaceAll(' ', '-') + '\" class=\"' + value.replaceAll(' ', '_') + '\">x</button>'",
  ),
  type(
    'in an address',
    "history.replaceState(null, '', '/place/' + encodeURIComponent(value) + '?q=' + encodeURIComponent(value) + '#' + encodeURIComponent(value))",
  ),
  type(
    'in the address of a picture',
    "out.innerHTML = '<img src=\"/i/' + encodeURIComponent(value) + '.png?q=' + encodeURIComponent(value) + '\">'",
  ),
  type(
    'in a request',
    "fetch('/find/' + encodeURIComponent(value) + '?q=' + encodeURIComponent(value)).catch(() => 0)",
  ),
  type('in an error', "setTimeout(() => { throw new Error('cannot find ' + value) })"),
  type('in the console', "console.error('cannot find %s', value); console.warn(value, [value])"),
  type('in a promise that fails', "Promise.reject('no ' + value)"),
  type('in a report', "dustTrail.push({ kind: 'signal', name: 'refused ' + value, props: { value } })"),
  type(
    'after the field is emptied',
    "const kept = value; field.value = ''; setTimeout(() => (out.textContent = kept), 300)",
  ),
  type('in the same breath as the field is emptied', "out.textContent = value; field.value = ''"),
  type('of a password', 'out.textContent = value', '<input id="f" type="password">'),
  type(
    'of several lines',
    "out.innerHTML = '<p>' + value.split('\\n').join('</p><p>') + '</p>'",
    '<textarea id="f"></textarea>',
  ),
  type('of an editor', 'out.textContent = value', '<div id="f" contenteditable="">x</div>'),
  type(
    'of an editor of plain text',
    'out.textContent = value',
    '<div id="f" contenteditable="plaintext-only">x</div>',
  ),
  type(
    'of an editor, written otherwise',
    'out.textContent = value',
    '<div id="f" contenteditable="TRUE">x</div>',
  ),
  type(
    'of an editor, in an element inside',
    'out.textContent = value',
    '<div contenteditable><p id="f">x</p></div>',
  ),
  type(
    'of a box that is drawn',
    'out.textContent = value',
    '<div id="f" role="textbox" contenteditable>x</div>',
  ),
  type(
    'of a shadow tree',
    'out.textContent = value',
    '<x-field><template shadowrootmode="open"><input id="f"></template></x-field>',
    'x-field #f',
  ),
  type(
    'of a frame',
    'parent.out.textContent = value',
    `<iframe srcdoc="<input id='f'>"></iframe>`,
    'frame:#f',
  ),
  type('by a listener that is first', 'out.textContent = value', '<input id="f" data-first>'),
  type(
    'by a listener that lets no other hear',
    'event.stopImmediatePropagation(); out.textContent = value',
    '<input id="f" data-first>',
  ),
  // After four letters the page fills in the rest, without an event, and shows it.
  type(
    'by a suggestion that is chosen',
    "if (value.length === 4) { field.value = field.dataset.rest; setTimeout(() => (out.textContent = 'For ' + field.dataset.rest), 300) }",
    `<input id="f" data-rest="${SUGGESTED}">`,
    '#f',
    SUGGESTED,
  ),
  type(
    'in a tree inside of an element',
    "document.querySelector('#tree').shadowRoot.querySelector('b').textContent = 'Dear ' + value",
    '<input id="f"><div id="tree"><template shadowrootmode="open"><b>x</b></template></div>',
  ),
  type(
    'in a page in a frame',
    "document.querySelector('#page').contentDocument.querySelector('b').textContent = 'Dear ' + value",
    '<input id="f"><iframe id="page" srcdoc="<b>x</b>"></iframe>',
  ),
  type('in a list of what was typed', "out.innerHTML += '<li>' + value + '</li>'"),
  type('overlapping', "out.textContent = value + ' ' + value.split(' ')[0] + value", FIELD),
  type(
    'a number, grouped otherwise',
    "out.textContent = value.replaceAll(' ', '').replace(/(..)/g, '$1-')",
    FIELD,
    '#f',
    '4917 63',
  ),
]
