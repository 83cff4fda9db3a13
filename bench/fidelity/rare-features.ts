import { it } from './feature.ts'
import type { Feature } from './feature.ts'

/** A sheet so large that not all of it is compared with what its author wrote. */
const MANY = Array.from({ length: 1400 }, (_, k) => `.f${k}{margin:${k}px;color:red}`).join('\n')
const LARGE = `<p class="x">One</p><p class="y">Two</p><p class="z">Three</p><style>.x{font-size:30px;--c:blue}.z{border:9px solid var(--c,gold);border-left-color:red}
${MANY}
@media (min-width:1px){.y{border:9px solid var(--c,green);border-left-color:red}}</style>`
const sheet = 'const {cssRules:r}=document.styleSheets[0],s=document.styleSheets[0];'

/** What hardly any page does by itself, and packages do. */
export const RARE: Feature[] = [
  it(
    'state of a custom element',
    '<x-st id="a">Text</x-st><style>x-st:state(on){color:red;font-size:40px}</style>',
    {
      script:
        "customElements.define('x-st', class extends HTMLElement { constructor() { super(); this.i = this.attachInternals(); const r = this.attachShadow({mode:'open'}); r.innerHTML = '<style>:host{display:block;border:2px solid gray}:host(:state(on)){border-color:blue;padding:20px}</style><slot></slot>' } })",
      later: "a.i.states.add('on')",
    },
  ),
  it('state before', '<x-st id="a">Text</x-st><style>x-st:state(on){color:red;font-size:40px}</style>', {
    script:
      "customElements.define('x-st', class extends HTMLElement { constructor() { super(); this.i = this.attachInternals(); this.i.states.add('on') } })",
  }),
  it('manual slots', '<div id="h"><p>One</p><p style="color:red">Two</p></div>', {
    script:
      "const r = h.attachShadow({mode:'open', slotAssignment:'manual'}); r.innerHTML = '<b>First:</b><slot></slot><i>Second:</i><slot></slot>'; const [s1,s2] = r.querySelectorAll('slot'); s1.assign(h.children[1]); s2.assign(h.children[0])",
  }),
  it(
    'registered property',
    '<p id="a">Text</p><style>p{--c:notacolor;color:var(--c)} div{width:100px;height:50px;background:var(--k)}</style><div></div>',
    {
      later:
        "CSS.registerProperty({name:'--c',syntax:'<color>',inherits:false,initialValue:'red'});CSS.registerProperty({name:'--k',syntax:'<color>',inherits:false,initialValue:'green'})",
    },
  ),
  it('typed values of a rule', '<p>Text</p><style id="s">p{color:blue}</style>', {
    later:
      "s.sheet.cssRules[0].styleMap.set('color','red'); s.sheet.cssRules[0].styleMap.set('font-size', CSS.px(30))",
  }),
  it('typed values of an element', '<p id="a">Text</p>', {
    later: "a.attributeStyleMap.set('font-size', CSS.px(40))",
  }),
  it(
    'keyframes by script',
    '<div style="width:50px;height:50px;background:teal;animation:m .4s both"></div><style id="s">@keyframes m{from{margin-left:0}to{margin-left:50px}}</style>',
    {
      later: "s.sheet.cssRules[0].deleteRule('to'); s.sheet.cssRules[0].appendRule('to{margin-left:200px}')",
      acts: ['wait 600'],
    },
  ),
  it(
    'animation of a pseudo element',
    '<style>p::before{content:"";display:inline-block;width:20px;height:20px;background:red}</style><p id="a">Text</p>',
    {
      later:
        "a.animate([{width:'20px'},{width:'120px'}],{duration:200,fill:'forwards',pseudoElement:'::before'})",
      acts: ['wait 500'],
    },
  ),
  it('animation committed', '<div id="a" style="width:50px;height:50px;background:red"></div>', {
    later:
      "const n=a.animate([{transform:'none'},{transform:'translateX(100px)'}],{duration:200,fill:'forwards'}); n.finished.then(()=>{n.commitStyles();n.cancel()})",
    acts: ['wait 500'],
  }),
  it('constructed with media', '<p>Text</p>', {
    later:
      "const s=new CSSStyleSheet({media:'(min-width:100px)'}); s.replaceSync('p{color:red;font-size:30px}'); const t=new CSSStyleSheet({disabled:true}); t.replaceSync('p{font-size:90px}'); document.adoptedStyleSheets=[s,t]",
  }),
  it('constructed disabled later', '<p>Text</p>', {
    script:
      "window.s=new CSSStyleSheet(); s.replaceSync('p{color:red;font-size:60px}'); document.adoptedStyleSheets=[s]",
    later: 's.disabled=true',
  }),
  it(
    'has',
    '<label id="l">Box <input type="checkbox" id="c"></label><style>label:has(input:checked){color:red;font-size:30px}</style>',
    { acts: ['click #c'] },
  ),
  it(
    'starting style',
    '<div id="a" hidden>Text</div><style>#a{opacity:1;transition:opacity .2s}@starting-style{#a{opacity:0}}</style>',
    { later: 'a.hidden=false', acts: ['wait 500'] },
  ),
  it(
    'anchor',
    '<button id="b" style="anchor-name:--a;margin:100px">Anchor</button><div style="position:absolute;position-anchor:--a;top:anchor(bottom);left:anchor(right);background:gold">Tied</div>',
  ),
  it(
    'first letter and marker',
    '<p>Text</p><ul><li>One</li></ul><style>p::first-letter{font-size:50px;color:red}li::marker{content:"→ ";color:blue}p::first-line{background:gold}</style>',
  ),
  it('textarea resized', '<textarea id="a">Text</textarea>', {
    later: "a.style.width='300px';a.style.height='120px'",
  }),
  it(
    'textarea rows',
    '<textarea rows="6" cols="50"></textarea><input size="40"><input type="number" value="3"><input type="date"><input type="time"><input type="search" value="x"><select size="3"><option>A<option selected>B<option>C</select>',
  ),
  it(
    'optgroups',
    '<select><optgroup label="G"><option>One<option selected>Two</optgroup></select><select multiple><optgroup label="H"><option>A<option>B</optgroup></select>',
  ),
  it(
    'vertical range',
    '<input type="range" value="30" style="writing-mode:vertical-lr;direction:rtl"><input type="range" list="d"><datalist id="d"><option value="10"><option value="50"></datalist>',
  ),
  it(
    'svg style and text',
    '<svg width="300" height="120"><style>.t{fill:red;font-size:20px}</style><defs><path id="pt" d="M10 80 Q 95 10 180 80"/><linearGradient id="g"><stop offset="0" stop-color="red"/><stop offset="1" stop-color="blue"/></linearGradient><filter id="f"><feGaussianBlur stdDeviation="2"/></filter><pattern id="pa" width="10" height="10" patternUnits="userSpaceOnUse"><circle cx="5" cy="5" r="3"/></pattern><marker id="m" markerWidth="6" markerHeight="6" refX="3" refY="3"><circle cx="3" cy="3" r="3"/></marker></defs><text class="t"><textPath href="#pt">On a path</textPath></text><rect x="200" width="80" height="30" fill="url(#g)"/><rect x="200" y="40" width="80" height="30" fill="url(#pa)"/><circle cx="240" cy="95" r="15" filter="url(#f)"/><path d="M10 100 H80" stroke="black" marker-end="url(#m)"/></svg>',
  ),
  it(
    'object',
    '<object data="/photo.png" width="64" height="32"></object><object data="/sprite.svg" width="50" height="50"></object><embed src="/photo.png" width="64" height="32">',
  ),
  it(
    'old attributes',
    '<body bgcolor="#ffeecc" text="navy"><center><font color="red" size="5">Font</font></center><table border="1" cellpadding="8" cellspacing="2" rules="all" width="300"><tr><td width="100" nowrap bgcolor="lime" valign="top" height="60">A</td><td align="right">B</td></tr></table><hr size="5" noshade width="50%"><img src="/photo.png" hspace="20" vspace="10" border="3" align="right"></body>',
  ),
  it(
    'base',
    '<!doctype html><html><head><base href="/css/"><style>p{background:url(../photo.png);height:50px}</style></head><body><p></p><img src="../photo.png"></body></html>',
  ),
  it(
    'image-set',
    '<div style="width:64px;height:32px;background-image:image-set(url(/photo.png) 1x,url(/photo2.png) 2x)"></div><ul style="list-style-image:url(/photo.png)"><li>One</li></ul>',
  ),
  it('offscreen canvas', '<canvas id="c" width="200" height="100"></canvas>', {
    script:
      "const o=c.transferControlToOffscreen(); const x=o.getContext('2d'); x.fillStyle='red'; x.fillRect(20,20,100,50)",
    acts: ['wait 2500'],
  }),
  it('bitmap canvas', '<canvas id="c" width="200" height="100"></canvas>', {
    script:
      "const o=new OffscreenCanvas(200,100); const x=o.getContext('2d'); x.fillStyle='red'; x.fillRect(20,20,100,50); c.getContext('bitmaprenderer').transferFromImageBitmap(o.transferToImageBitmap())",
    acts: ['wait 2500'],
  }),
  it('canvas in shadow', '<div id="h"></div>', {
    script:
      "const r=h.attachShadow({mode:'open'});r.innerHTML='<canvas width=200 height=100></canvas>';const x=r.firstChild.getContext('2d');x.fillStyle='red';x.fillRect(20,20,100,50)",
    acts: ['wait 2500'],
  }),
  it('everything replaced', '<p>Old</p>', {
    later:
      "document.documentElement.innerHTML='<head><style>p{color:red;font-size:40px}</style></head><body><p>New</p></body>'",
  }),
  it('root replaced', '<p>Old</p>', {
    later:
      "const h=document.createElement('html');h.innerHTML='<head><style>p{color:red}</style></head><body><p>New root</p></body>';document.replaceChild(h,document.documentElement)",
  }),
  it('moveBefore', '<div id="a"><p id="p">Moved</p></div><div id="b" style="color:red"></div>', {
    later: 'b.moveBefore ? b.moveBefore(p,null) : b.append(p)',
  }),
  it('set html', '<div id="a"></div>', {
    later:
      "a.setHTMLUnsafe('<div><template shadowrootmode=open><style>p{color:red;font-size:30px}</style><p>In shadow</p><slot></slot></template>Slotted</div>')",
  }),
  it(
    'ruby and marquee',
    '<ruby>漢<rt>kan</rt></ruby> <bdo dir="rtl">abc</bdo> <sub>1</sub><sup>2</sup><kbd>k</kbd><mark>m</mark><del>d</del><q>q</q><abbr title="x">a</abbr>',
  ),
  it(
    'scroll to the side',
    '<div id="a" style="width:200px;overflow:auto;white-space:nowrap">' +
      'Long words go on '.repeat(20) +
      '</div><div id="r" dir="rtl" style="width:200px;overflow:auto;white-space:nowrap">' +
      'Long words go on '.repeat(20) +
      '</div>',
    { later: 'a.scrollLeft=150;r.scrollLeft=-100' },
  ),
  it('textarea scrolled', '<textarea id="a" readonly rows="3">' + 'Line of it\n'.repeat(20) + '</textarea>', {
    later: 'a.scrollTop=60',
  }),
  it(
    'scroll driven',
    '<div style="height:2000px"><div style="position:fixed;top:20px;width:100px;height:50px;background:red;animation:g linear both;animation-timeline:scroll()"></div></div><style>@keyframes g{to{width:600px}}</style>',
    { acts: ['wheel 500', 'wait 400'] },
  ),
  it('fonts taken away', '<p style="font-family:X,serif;font-size:40px">Text</p>', {
    script: "window.f=new FontFace('X','url(/font.woff2)');document.fonts.add(f);f.load()",
    later: 'document.fonts.delete(f)',
  }),
  it(
    'details by name',
    '<details name="n" open><summary>A</summary>Inside A</details><details name="n" id="b"><summary>B</summary>Inside B</details>',
    { acts: ['click #b summary'] },
  ),
  it(
    'popover on popover',
    '<button popovertarget="p" id="b">Open</button><div id="p" popover>First <button popovertarget="q" id="c">More</button><div id="q" popover style="top:100px">Second</div></div><style>#p::backdrop{background:rgba(255,0,0,.3)}[popover]:popover-open{border:5px solid green}</style>',
    { acts: ['click #b', 'click #c'] },
  ),
  it(
    'dialog over dialog',
    '<dialog id="d">First<dialog id="e">Second</dialog></dialog><style>dialog::backdrop{background:rgba(0,0,255,.3)}dialog:modal{border:4px solid red}</style>',
    { later: 'd.showModal();e.showModal()' },
  ),
  it('popover made by script', '<div id="p">Hint</div>', {
    later: "p.popover='manual';p.showPopover();p.style.background='gold'",
  }),
  it(
    'zoom',
    '<div style="zoom:1.5">Zoomed<p style="width:100px;background:teal">Box</p></div><div style="transform:rotate(10deg) scale(.8);background:gold">Turned</div>',
  ),
  it(
    'content-visibility',
    '<div style="content-visibility:auto;contain-intrinsic-size:100px">Seen</div><div style="height:1500px"></div><div style="content-visibility:auto;contain-intrinsic-size:300px"><p style="height:80px;background:teal">Below</p></div><p>End</p>',
    { acts: ['wheel 3000', 'wait 400'] },
  ),
  it(
    'container style',
    '<div style="container-type:inline-size;--th:dark"><p>Text</p></div><style>@container style(--th: dark){p{color:red;font-size:30px}} p{background:color-mix(in oklch,red,blue)}</style>',
  ),
  it('style in svg by script', '<svg id="v" width="100" height="50"><rect width="50" height="50"/></svg>', {
    later:
      "const s=document.createElementNS('http://www.w3.org/2000/svg','style');s.textContent='rect{fill:red}';v.append(s)",
  }),
  it('style text changed', '<p>Text</p><style id="s">p{color:blue}</style>', {
    later: "s.firstChild.data='p{color:red;font-size:30px}'",
  }),
  it('style text appended', '<p>Text</p><style id="s">p{color:blue}</style>', {
    later: "s.append('p{color:red;font-size:30px}')",
  }),
  it(
    'form-associated',
    '<form><x-f id="a">Text</x-f></form><style>x-f:invalid{color:red;font-size:30px}x-f:disabled{opacity:.3}</style>',
    {
      script:
        "customElements.define('x-f', class extends HTMLElement { static formAssociated = true; constructor() { super(); this.i=this.attachInternals(); this.i.setValidity({customError:true},'no') } })",
    },
  ),
  it(
    'attributes of own elements',
    '<x-own checked loading selected value="3" size="large">Text</x-own><style>x-own[checked]{color:red}x-own[loading]{font-size:30px}x-own[selected]{background:gold}x-own[size=large]{padding:10px;display:block}</style>',
  ),
  it(
    'own tabs',
    '<x-tab id="a" role="tab">A</x-tab><div id="p">Panel</div><style>[selected]{color:red;font-size:30px}</style>',
    { later: "a.setAttribute('selected','');p.setAttribute('selected','true')" },
  ),
  it(
    'link blocks',
    '<!doctype html><html><head><link rel="preload" as="style" href="/a.css" onload="this.rel=\'stylesheet\'"></head><body><p class="linked">Text</p></body></html>',
  ),
  it(
    'select styled',
    '<select id="s"><option>One<option>Two</select><style>select,::picker(select){appearance:base-select}select{border:3px solid red;padding:10px}</style>',
    { later: 's.selectedIndex=1' },
  ),
  it(
    'image map',
    '<img src="/photo.png" usemap="#m"><map name="m"><area shape="rect" coords="0,0,30,30" href="#x"></map><figure><figcaption>Fig</figcaption></figure>',
  ),
  it(
    'selection colours',
    '<p id="a">Select this text</p><style>::selection{background:red;color:white}</style>',
    { later: 'getSelection().selectAllChildren(a)' },
  ),
  it(
    'autofilled hidden fields',
    '<input type="password" value="secret"><input type="tel" value="555"><input type="email" value="a@b.c"><input readonly value="kept">',
  ),
  it('view transition', '<p id="a">Before</p>', {
    later: "document.startViewTransition(()=>{a.textContent='After';a.style.color='red'})",
    acts: ['wait 800'],
  }),
  it(
    'multi columns',
    '<div style="columns:3;column-rule:2px solid red">' +
      'Words that flow in columns. '.repeat(40) +
      '</div><div style="shape-outside:circle();float:left;width:80px;height:80px;background:teal;border-radius:50%"></div><p style="text-wrap:balance;hyphens:auto">' +
      'Somewhat long words here. '.repeat(8) +
      '</p>',
  ),
  it(
    'masonry of floats',
    '<div style="display:grid;grid-template:subgrid / repeat(auto-fill,minmax(120px,1fr));gap:8px">' +
      '<b style="background:gold">x</b>'.repeat(9) +
      '</div><div style="display:flex;flex-flow:row wrap-reverse;gap:5px"><i>1</i><i style="order:-1">2</i></div>',
  ),
  it('large sheet', LARGE),
  it('large sheet in a file', '<link rel="stylesheet" href="/large.css"><p class="linked">Linked</p>'),
  it('rule put into a large sheet at once', LARGE, {
    script: `${sheet}s.insertRule('.z{color:red;font-size:50px}',200)`,
  }),
  it('large sheet changed at once', LARGE, { script: `${sheet}r[0].style.fontSize='60px'` }),
  it('large sheet changed later', LARGE, {
    later: `${sheet}r[0].style.fontSize='60px';r[r.length-1].insertRule('.z{color:red}',0)`,
  }),
  it(
    'large sheet that imports',
    LARGE.replace('<style>', '<style>@import "/a.css";').replace('class="x"', 'class="x linked"'),
  ),
]
