/** A recorded node as somebody would send it who means harm. */
export interface Node {
  tag?: string
  text?: string
  svg?: true
  a?: Record<string, string>
  c?: Node[]
}

const el = (tag: string, a: Record<string, string> = {}, ...c: Node[]): Node => ({ tag, a, c })
const svg = (tag: string, a: Record<string, string> = {}, ...c: Node[]): Node => ({
  ...el(tag, a, ...c),
  svg: true,
})
const text = (value: string): Node => ({ text: value })

/** Events on which browsers call what stands in an attribute (HTML Standard, section 8.1.8, and older ones), from memory. */
const HANDLERS = [
  ...[
    'onload',
    'onerror',
    'onclick',
    'onfocus',
    'onblur',
    'onmouseover',
    'onmouseenter',
    'onpointerenter',
    'onpointerrawupdate',
  ],
  ...[
    'ontoggle',
    'onbeforetoggle',
    'onanimationstart',
    'onanimationend',
    'onanimationiteration',
    'ontransitionrun',
  ],
  ...[
    'ontransitionend',
    'onscroll',
    'onscrollend',
    'onscrollsnapchange',
    'onwheel',
    'oncopy',
    'oncut',
    'onpaste',
    'oninput',
  ],
  ...[
    'onbeforeinput',
    'onchange',
    'oninvalid',
    'onselect',
    'onsubmit',
    'onreset',
    'onformdata',
    'onkeydown',
    'ondrag',
    'ondrop',
  ],
  ...[
    'oncontextmenu',
    'onauxclick',
    'onresize',
    'onhashchange',
    'onpopstate',
    'onmessage',
    'onpageshow',
    'onbeforeunload',
  ],
  ...[
    'onbegin',
    'onend',
    'onrepeat',
    'oncontentvisibilityautostatechange',
    'onsecuritypolicyviolation',
    'onslotchange',
  ],
]

/**
 * Ways in which a recorded page could run something or ask somebody for something, from memory. Each names an address of its own,
 * so that a request tells which it was.
 *
 * @param own   where the product is served
 * @param boom  a script that would be noticed
 */
export function tricks(own: string, boom: string): [name: string, node: Node][] {
  let n = 0
  const at = (kind = '') => `${own}/boom-${++n}${kind}`
  const script = `javascript:${boom}`
  const style = (css: string) => el('style', {}, text(css))
  return [
    ...HANDLERS.map((name): [string, Node] => [
      `the attribute ${name}`,
      el(/load|error/.test(name) ? 'img' : 'details', {
        ...{
          [name]: boom,
          src: 'x',
          open: '',
          tabindex: '0',
          style: 'animation: boom 1s; transition: all 1s',
        },
      }),
    ]),
    ['a handler in capitals', el('p', { ONCLICK: boom })],
    ['a handler after a slash', el('p', { '/onclick': boom })],
    ['a handler after a blank', el('p', { ' onclick': boom })],
    ['a handler after a line', el('p', { 'x\nonclick': boom })],
    ['a handler with a null', el('p', { 'on\u0000click': boom })],
    ['a handler in a namespace', el('p', { 'xml:onclick': boom })],
    ['a script', el('script', {}, text(boom))],
    ['a script elsewhere', el('script', { src: at('.js') })],
    ['a script in capitals', el('SCRIPT', {}, text(boom))],
    ['a script with a slash', el('script/', {}, text(boom))],
    ['a script with a blank', el('script ', {}, text(boom))],
    ['a script in a namespace', el('svg:script', {}, text(boom))],
    ['a module', el('script', { type: 'module' }, text(boom))],
    [
      'rules for loading ahead',
      el('script', { type: 'speculationrules' }, text(`{"prefetch":[{"urls":["${at()}"]}]}`)),
    ],
    ['a map of modules', el('script', { type: 'importmap' }, text(`{"imports":{"x":"${at()}"}}`))],
    ['where there is no script', el('noscript', {}, el('img', { src: at('.png') }))],
    ['a script in a drawing', svg('svg', {}, svg('script', {}, text(boom)))],
    ['a script elsewhere in a drawing', svg('svg', {}, svg('script', { href: at('.js') }))],
    ['foreign in a drawing', svg('svg', {}, svg('foreignObject', {}, el('script', {}, text(boom))))],
    [
      'an address that moves',
      svg('svg', {}, svg('a', {}, svg('animate', { attributeName: 'href', values: script }))),
    ],
    [
      'an address that is set',
      svg('svg', {}, svg('a', {}, svg('set', { attributeName: 'xlink:href', to: script }))),
    ],
    ['a handler that is set', svg('svg', {}, svg('set', { attributeName: 'onmouseover', to: boom }))],
    ['a drawing elsewhere', svg('svg', {}, svg('use', { href: at('.svg#x') }))],
    ['a drawing elsewhere, the old way', svg('svg', {}, svg('use', { 'xlink:href': at('.svg#x') }))],
    [
      'a drawing in an address',
      svg(
        'svg',
        {},
        svg('use', {
          href: `data:image/svg+xml,<svg id="x" xmlns="http://www.w3.org/2000/svg"><script>${boom}</script></svg>#x`,
        }),
      ),
    ],
    ['a picture in a drawing', svg('svg', {}, svg('image', { href: at('.png') }))],
    [
      'a filter with a picture',
      svg('svg', {}, svg('filter', { id: 'f' }, svg('feImage', { href: at('.png') }))),
    ],
    [
      'a filter elsewhere',
      svg('svg', {}, svg('rect', { filter: `url(${at('.svg#f')})`, width: '9', height: '9' })),
    ],
    [
      'a fill elsewhere',
      svg('svg', {}, svg('rect', { fill: `url(${at('.svg#f')})`, width: '9', height: '9' })),
    ],
    [
      'a mask elsewhere',
      svg('svg', {}, svg('rect', { mask: `url(${at('.svg#f')})`, width: '9', height: '9' })),
    ],
    [
      'a marker elsewhere',
      svg('svg', {}, svg('path', { 'marker-start': `url(${at('.svg#f')})`, d: 'M0 0h9' })),
    ],
    ['a path along one elsewhere', svg('svg', {}, svg('text', {}, svg('textPath', { href: at('.svg#p') })))],
    ['a handler of a drawing', svg('svg', {}, svg('handler', { 'ev:event': 'load' }, text(boom)))],
    ['a link to a script', el('a', { href: script }, text('link'))],
    ['a link to a script in capitals', el('a', { href: script.replace('java', 'JaVa') }, text('link'))],
    ['a link to a script with a tab', el('a', { href: script.replace('java', 'java\t') }, text('link'))],
    ['a link to a script with a line', el('a', { href: script.replace('script', '\nscript') }, text('link'))],
    ['a link to a script after a control', el('a', { href: `\u0001${script}` }, text('link'))],
    [
      'a link to a page in an address',
      el('a', { href: `data:text/html,<script>${boom}</script>` }, text('link')),
    ],
    ['a link to a script of old', el('a', { href: 'vbscript:msgbox(1)' }, text('link'))],
    ['a link that tells somebody', el('a', { href: '#', ping: at() }, text('link'))],
    ['a link that opens elsewhere', el('a', { href: at(), target: '_top' }, text('link'))],
    ['a link that saves', el('a', { href: at(), download: 'x' }, text('link'))],
    ['a link in a formula', el('math', {}, el('mtext', { href: script }, text('x')))],
    [
      'an action in a formula',
      el('math', {}, el('maction', { actiontype: 'statusline', 'xlink:href': script }, text('x'))),
    ],
    ['a part of a picture', el('map', { name: 'm' }, el('area', { href: script, shape: 'default' }))],
    ['a form', el('form', { action: at(), method: 'post' }, el('button', {}, text('send')))],
    ['a button with an address', el('form', {}, el('button', { formaction: script }, text('send')))],
    ['a picture that sends', el('form', { action: at() }, el('input', { type: 'image', src: at('.png') }))],
    ['a field that has the focus', el('input', { autofocus: '', onfocus: boom })],
    ['a page in a frame', el('iframe', { src: at() })],
    ['a script in a frame', el('iframe', { src: script })],
    [
      'a page written into a frame',
      el('iframe', { srcdoc: `<script>${boom}</script><img src="${at('.png')}">` }),
    ],
    [
      'a frame that may do all',
      el('iframe', {
        sandbox: 'allow-scripts allow-same-origin allow-top-navigation',
        srcdoc: `<script>${boom}</script>`,
      }),
    ],
    ['a page of frames', el('frameset', { onload: boom }, el('frame', { src: at() }))],
    ['a fenced frame', el('fencedframe', { src: at() })],
    ['a portal', el('portal', { src: at() })],
    ['an object', el('object', { data: at() })],
    [
      'an object that is a page',
      el('object', { data: `data:text/html,<script>${boom}</script>`, type: 'text/html' }),
    ],
    ['an object with parameters', el('object', {}, el('param', { name: 'src', value: at() }))],
    ['something embedded', el('embed', { src: at(), type: 'image/svg+xml' })],
    ['a program of old', el('applet', { code: at(), archive: at() })],
    ['a sound of old', el('bgsound', { src: at('.mp3') })],
    ['a video', el('video', { src: at('.mp4'), autoplay: '' })],
    ['the picture of a video', el('video', { poster: at('.png') })],
    ['a source of a video', el('video', { autoplay: '' }, el('source', { src: at('.mp4') }))],
    ['texts of a video', el('video', {}, el('track', { src: at('.vtt'), default: '' }))],
    ['a sound', el('audio', { src: at('.mp3'), autoplay: '' })],
    ['a picture', el('img', { src: at('.png') })],
    ['a picture under its old name', el('image', { src: at('.png') })],
    ['several pictures', el('img', { srcset: `${at('.png')} 1x, ${at('.png')} 2x` })],
    ['a picture with a source', el('picture', {}, el('source', { srcset: at('.png') }), el('img', {}))],
    ['a picture later', el('img', { src: at('.png'), loading: 'lazy' })],
    ['a picture elsewhere', el('img', { src: 'http://boom.invalid/boom.png' })],
    ['a picture without a scheme', el('img', { src: '//boom.invalid/boom.png' })],
    ['a picture that is a page', el('img', { src: `data:text/html,<script>${boom}</script>` })],
    [
      'a drawing with a script',
      el('img', {
        src: `data:image/svg+xml,<svg xmlns="http://www.w3.org/2000/svg"><script>${boom}</script><image href="${at('.png')}"/></svg>`,
      }),
    ],
    ['a background of a page', el('body', { background: at('.png') })],
    [
      'a background of a table',
      el('table', { background: at('.png') }, el('td', { background: at('.png') })),
    ],
    ['a picture without weight', el('img', { lowsrc: at('.png'), dynsrc: at('.mp4'), longdesc: at() })],
    ['another base', el('base', { href: `${own}/boom/`, target: '_top' })],
    ['another page after a while', el('meta', { 'http-equiv': 'refresh', content: `0;url=${at()}` })],
    ['a cookie', el('meta', { 'http-equiv': 'set-cookie', content: 'boom=1' })],
    [
      'a weaker policy',
      el('meta', { 'http-equiv': 'Content-Security-Policy', content: "default-src * 'unsafe-inline'" }),
    ],
    ['who asked', el('meta', { name: 'referrer', content: 'unsafe-url' })],
    ...[
      'stylesheet',
      'preload',
      'prefetch',
      'modulepreload',
      'prerender',
      'preconnect',
      'dns-prefetch',
      'icon',
      'manifest',
      'import',
      'next',
      'expect',
    ].map((rel): [string, Node] => [
      `a link of the kind ${rel}`,
      el('link', { rel, href: at(), as: 'script', onload: boom }),
    ]),
    ['rules elsewhere', style(`@import "${at('.css')}";`)],
    ['rules elsewhere by address', style(`@import url(${at('.css')}) screen;`)],
    ['a background', style(`p { background: url(${at('.png')}) }`)],
    ['a background in quotes', style(`p { background: url('${at('.png')}') }`)],
    ['a background with escapes', style(`p { background: u\\72l(${at('.png')}) }`)],
    ['a background after a note', style(`p { background:/**/url(${at('.png')}) }`)],
    ['a background over lines', style(`p { background: url(\\\n${at('.png')}) }`)],
    ['a set of pictures', style(`p { background: image-set("${at('.png')}" 1x) }`)],
    ['a picture by another word', style(`p { background: src("${at('.png')}") }`)],
    [
      'pictures that cross',
      style(`p { background: cross-fade(url(${at('.png')}), url(${at('.png')}), 50%) }`),
    ],
    ['a picture as text', style(`p::before { content: url(${at('.png')}) }`)],
    ['a pointer', style(`p { cursor: url(${at('.cur')}), auto }`)],
    ['marks of a list', style(`li { list-style: url(${at('.png')}) }`)],
    ['a frame of pictures', style(`p { border-image: url(${at('.png')}) 30 round }`)],
    ['a shape out of a picture', style(`p { float: left; shape-outside: url(${at('.png')}) }`)],
    ['a mask out of a picture', style(`p { mask: url(${at('.png')}) }`)],
    ['a filter out of a drawing', style(`p { filter: url(${at('.svg#f')}) }`)],
    ['a path out of a drawing', style(`p { clip-path: url(${at('.svg#c')}) }`)],
    ['a font', style(`@font-face { font-family: boom; src: url(${at('.woff2')}) } p { font-family: boom }`)],
    [
      'a font that is read letter by letter',
      style(
        `@font-face { font-family: b; src: url(${at('.woff2')}); unicode-range: U+41 } p { font-family: b }`,
      ),
    ],
    ['a picture by what stands in a field', style(`input[value^="a"] { background: url(${at('.png')}) }`)],
    ['a picture in a variable', style(`:root { --x: url(${at('.png')}) } p { background: var(--x) }`)],
    [
      'a script of old in rules',
      style(
        `p { width: expression(${boom}); behavior: url(${at('.htc')}); -moz-binding: url(${at('.xml#x')}) }`,
      ),
    ],
    ['the end of rules', style(`p {} </style><script>${boom}</script><style>`)],
    ['rules on an element', el('p', { style: `background: url(${at('.png')})` }, text('x'))],
    [
      'rules on an element with escapes',
      el('p', { style: `background: \\75\\72\\6c(${at('.png')})` }, text('x')),
    ],
    [
      'a tree with a script',
      el(
        'div',
        {},
        el('#shadow', {}, el('script', {}, text(boom)), el('img', { src: at('.png'), onerror: boom })),
      ),
    ],
    [
      'a tree that is declared',
      el('div', {}, el('template', { shadowrootmode: 'open' }, el('script', {}, text(boom)))),
    ],
    ['an element that is another', el('button', { is: 'x-boom', onclick: boom })],
    ['something that pops up', el('button', { popovertarget: 'x', onclick: boom })],
    ['something that is told', el('button', { commandfor: 'x', command: '--boom', onclick: boom })],
    ['a still of a drawing', el('canvas', { 'data-trail-still': at('.png') })],
    ['a still that is a script', el('canvas', { 'data-trail-still': script })],
    ['what was moved', el('p', { 'data-trail-animated': `background: url(${at('.png')})` })],
    ['a size that is more', el('img', { 'data-trail-natural': `1x1" onload="${boom}`, src: at('.png') })],
    ['a density that is more', el('img', { 'data-trail-density': `2, ${at('.png')}`, src: at('.png') })],
    ['a box that is more', el('video', { 'data-trail-box': `9px;background:url(${at('.png')})x9` })],
    ['a look that is more', el('p', { 'data-trail-scheme': `dark;background:url(${at('.png')})` })],
  ]
}
