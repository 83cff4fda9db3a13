import { it } from './feature.ts'
import type { Feature } from './feature.ts'
import { EVERYDAY } from './everyday-features.ts'
import { RARE } from './rare-features.ts'
import { FURTHER } from './further-features.ts'
import { UNTOLD } from './untold-features.ts'

const box = 'width:120px;height:60px;background:teal;'
const el = (tag: string, inner: string, more = '') =>
  `customElements.define('${tag}', class extends HTMLElement { constructor() { super(); const r = this.attachShadow({mode:'open'}); r.innerHTML = \`${inner}\`; ${more} } })`

export const FEATURES: Feature[] = [
  ...RARE,
  ...UNTOLD,
  ...FURTHER,
  ...EVERYDAY,
  // Styles
  it('insertRule', '<p id="a">Text</p><style id="s">p{margin:0}</style>', {
    later: "s.sheet.insertRule('p{color:red;font-size:30px}', 1)",
  }),
  it(
    'insertRule of a short form with a variable, one part set again',
    '<p style="--l:red">Text</p><style id="s"></style>',
    {
      later: "s.sheet.insertRule('p{border:4px solid var(--l);border-bottom-color:blue}', 0)",
    },
  ),
  it('the same, before recording', '<p style="--l:red">Text</p><style id="s"></style>', {
    script: "s.sheet.insertRule('p{border:4px solid var(--l);border-bottom-color:blue}', 0)",
  }),
  it('insertRule at the start', '<p>Text</p><style id="s">p{color:blue}</style>', {
    later: "s.sheet.insertRule('p{font-size:30px}', 0)",
  }),
  it('insertRule in media', '<p>Text</p><style id="s">@media (min-width:10px){p{color:blue}}</style>', {
    later: "s.sheet.cssRules[0].insertRule('p{font-size:30px}', 1)",
  }),
  it('insertRule into an empty style', '<p>Text</p><style id="s"></style>', {
    later: "s.sheet.insertRule('p{color:red;font-size:30px}', 0)",
  }),
  it('insertRule many, before recording', '<p>Text</p><style id="s"></style>', {
    script: "for (let i=0;i<50;i++) s.sheet.insertRule('p{padding-left:'+i+'px}', i)",
  }),
  it('insertRule in a style added by script', '<p>Text</p>', {
    later:
      "const s=document.createElement('style');document.head.append(s);s.sheet.insertRule('p{color:red;font-size:30px}', 0)",
  }),
  it('deleteRule', '<p>Text</p><style id="s">p{color:blue}p{font-size:30px}</style>', {
    later: 's.sheet.deleteRule(1)',
  }),
  it('rule.style', '<p>Text</p><style id="s">p{color:blue}</style>', {
    later: "s.sheet.cssRules[0].style.fontSize='30px'",
  }),
  it('rule.style.setProperty', '<p>Text</p><style id="s">p{color:blue}</style>', {
    later: "s.sheet.cssRules[0].style.setProperty('color','red')",
  }),
  it('rule.style of a variable', '<p>Text</p><style id="s">:root{--c:blue}p{color:var(--c)}</style>', {
    later: "s.sheet.cssRules[0].style.setProperty('--c','red')",
  }),
  it('rule.selectorText', '<p>Text</p><b>Bold</b><style id="s">b{color:red}</style>', {
    later: "s.sheet.cssRules[0].selectorText='p'",
  }),
  it('replaceSync', '<p>Text</p>', {
    script: "window.q=new CSSStyleSheet();q.replaceSync('p{color:blue}');document.adoptedStyleSheets=[q]",
    later: "q.replaceSync('p{color:red;font-size:30px}')",
  }),
  it('replace', '<p>Text</p>', {
    script: 'window.q=new CSSStyleSheet();document.adoptedStyleSheets=[q]',
    later: "q.replace('p{color:red;font-size:30px}')",
  }),
  it('adopted later', '<p>Text</p>', {
    later:
      "const q=new CSSStyleSheet();q.replaceSync('p{color:red;font-size:30px}');document.adoptedStyleSheets=[q]",
  }),
  it('adopted by push', '<p>Text</p>', {
    later: "const q=new CSSStyleSheet();q.replaceSync('p{color:red}');document.adoptedStyleSheets.push(q)",
  }),
  it('adopted taken away', '<p>Text</p>', {
    script: "const q=new CSSStyleSheet();q.replaceSync('p{color:red}');document.adoptedStyleSheets=[q]",
    later: 'document.adoptedStyleSheets=[]',
  }),
  it('adopted insertRule', '<p>Text</p>', {
    script: 'window.q=new CSSStyleSheet();document.adoptedStyleSheets=[q]',
    later: "q.insertRule('p{font-size:30px}')",
  }),
  it('sheet.disabled', '<p>Text</p><style id="s">p{font-size:30px}</style>', {
    later: 's.sheet.disabled=true',
  }),
  it('style.disabled from the start', '<p>Text</p><style id="s">p{font-size:30px}</style>', {
    script: 's.disabled=true',
  }),
  it('style.media that does not hold', '<p>Text</p><style media="print">p{font-size:30px}</style>'),
  it('style.media changed', '<p>Text</p><style id="s" media="print">p{font-size:30px}</style>', {
    later: "s.media='all'",
  }),
  it('link', '<link rel="stylesheet" href="/a.css"><p class="linked">Text</p>'),
  it(
    'link with media',
    '<link rel="stylesheet" media="(max-width:10px)" href="/a.css"><p class="linked">Text</p>',
  ),
  it('link later', '<p class="linked">Text</p>', {
    later: "document.head.insertAdjacentHTML('beforeend','<link rel=stylesheet href=/a.css>')",
  }),
  it('link taken away', '<link id="s" rel="stylesheet" href="/a.css"><p class="linked">Text</p>', {
    later: 's.remove()',
  }),
  it('link disabled', '<link id="s" rel="stylesheet" href="/a.css"><p class="linked">Text</p>', {
    later: 's.disabled=true',
  }),
  it('link href changed', '<link id="s" rel="stylesheet" href="/a.css"><p class="linked">Text</p>', {
    later: "s.href='/b.css'",
  }),
  it(
    'alternate sheet',
    '<link rel="alternate stylesheet" title="x" href="/a.css"><p class="linked">Text</p>',
  ),
  it('import', '<style>@import "/a.css"; b{color:red}</style><p class="linked">Text <b>b</b></p>'),
  it(
    'import with media',
    '<style>@import "/a.css" print; b{color:red}</style><p class="linked">Text <b>b</b></p>',
  ),
  it(
    'import into a layer',
    '<style>@import "/a.css" layer(base); .linked{color:red}</style><p class="linked">Text</p>',
  ),
  it('link that imports', '<link rel="stylesheet" href="/imports.css"><p class="linked">Text</p>'),
  it(
    'shorthand with a variable',
    '<style>:root{--p:20px}div{padding:var(--p);padding-left:60px;background:gold;border:var(--b,3px solid red);border-top-width:9px}</style><div>Text</div>',
  ),
  it(
    'shorthand with a variable in a link',
    '<link rel="stylesheet" href="/vars.css"><div class="vars">Text</div>',
  ),
  it(
    'layers',
    '<style>@layer a,b;@layer b{p{color:red}}@layer a{p{color:blue;font-size:30px}}</style><p>Text</p>',
  ),
  it('nesting', '<style>div{& p{color:red;&.x{font-size:30px}}}</style><div><p class="x">Text</p></div>'),
  it(
    'container query',
    '<style>div{container-type:inline-size;width:300px}@container (min-width:200px){p{font-size:30px}}</style><div><p>Text</p></div>',
  ),
  it('supports', '<style>@supports (display:grid){p{font-size:30px}}</style><p>Text</p>'),
  it(
    'scope',
    '<style>@scope (.a) to (.b){p{color:red}}</style><div class="a"><p>Text</p><div class="b"><p>Text</p></div></div>',
  ),
  it(
    'property',
    '<style>@property --x{syntax:"<length>";inherits:false;initial-value:30px}p{font-size:var(--x)}</style><p>Text</p>',
  ),
  it(
    'counter style',
    '<style>@counter-style x{system:cyclic;symbols:"A" "B";suffix:" - "}ol{list-style:x}</style><ol><li>a<li>b<li>c</ol>',
  ),
  it('relative address in a style', `<div style="${box}background:url(picture.svg)"></div>`),
  it('picture in a rule', `<style>div{${box}background:url(/picture.svg?1)}</style><div></div>`),
  it('picture in a linked rule', '<link rel="stylesheet" href="/css/deep.css"><div class="deep"></div>'),
  it(
    'pseudo elements',
    '<style>p::before{content:"\\2192 ";color:red}p::after{content:attr(data-x)}p::first-letter{font-size:40px}</style><p data-x="seven">Text</p>',
  ),
  it(
    'font face',
    '<style>@font-face{font-family:F;src:url(/font.woff2)}p{font:40px F}</style><p>Text in it</p>',
  ),
  it('FontFace', '<p style="font:40px F2">Text in it</p>', {
    script: "const f=new FontFace('F2','url(/font.woff2)');document.fonts.add(f);f.load()",
    later:
      "const f=new FontFace('F3','url(/font.woff2)',{weight:'400'});document.fonts.add(f);f.load();document.querySelector('p').style.fontFamily='F3'",
  }),
  it(
    'quirks',
    '<html><head><title>x</title></head><body><table style="font-size:40px"><tr><td>T</td></tr></table><table><tr><td>small</td></tr></table><div style="width:100px;padding:20px;border:5px solid;height:50%">Q</div></body></html>',
  ),
  it(
    'almost standards',
    '<!DOCTYPE html PUBLIC "-//W3C//DTD XHTML 1.0 Transitional//EN" "http://www.w3.org/TR/xhtml1/DTD/xhtml1-transitional.dtd"><html><head><title>x</title></head><body><table border="0" cellspacing="0" bgcolor="gold"><tr><td><img src="/picture.svg" width="50" height="20"></td></tr></table></body></html>',
  ),
  it(
    'color-scheme dark',
    '<style>:root{color-scheme:dark}</style><p>Text</p><button>Button</button><input type="checkbox">',
  ),
  it(
    'color-scheme by meta',
    '<!doctype html><html><head><title>x</title><meta name="color-scheme" content="dark"></head><body><p>Text</p><button>B</button></body></html>',
  ),
  it('light-dark', '<style>:root{color-scheme:light dark}p{color:light-dark(red,blue)}</style><p>Text</p>'),
  it('style of an element by script', '<p id="a">Text</p>', {
    later: "a.style.cssText='color:red';a.style.setProperty('font-size','30px','important')",
  }),
  it('class', '<style>.x{font-size:30px}</style><p id="a">Text</p>', { later: "a.classList.add('x')" }),
  it(
    'attribute selector',
    '<style>[data-mode="Very Special 12"]{font-size:30px}[data-b]{color:red}</style><p id="a">Text</p><p data-b="Whatever it is">B</p>',
    { later: "a.dataset.mode='Very Special 12'" },
  ),
  // The tree
  it('shadow tree', '<x-a></x-a>', {
    script: el('x-a', '<style>p{color:red;font-size:30px}</style><p>Inside</p>'),
  }),
  it('shadow tree with slots', '<x-a><b slot="s">Named</b>Default</x-a>', {
    script: el(
      'x-a',
      '<style>::slotted(b){color:red}div{border:2px solid}</style><div><slot name="s">none</slot></div><slot></slot>',
    ),
  }),
  it('fallback of a slot', '<x-a></x-a>', { script: el('x-a', '<slot name="s"><i>Fallback</i></slot>') }),
  it('shadow tree made later', '<x-a id="a"></x-a>', {
    later: el('x-a', '<style>:host{display:block;background:gold}</style><p>Inside</p>'),
  }),
  it('shadow tree changed', '<x-a id="a"></x-a>', {
    script: el('x-a', '<p>Inside</p>'),
    later:
      "a.shadowRoot.querySelector('p').textContent='Changed';a.shadowRoot.append(document.createElement('hr'))",
  }),
  it('shadow trees in one another', '<x-a></x-a>', {
    script: `${el('x-b', '<style>p{color:red}</style><p>Deep</p>')};${el('x-a', '<x-b></x-b><p>Outer</p>')}`,
  }),
  it('adopted in a shadow tree', '<x-a></x-a><x-a></x-a><x-a></x-a>', {
    script: `const q=new CSSStyleSheet();q.replaceSync('p{color:red;font-size:25px}');${el('x-a', '<p>Inside</p>', 'r.adoptedStyleSheets=[q]')}`,
  }),
  it('adopted in a shadow tree, changed', '<x-a></x-a><x-a></x-a>', {
    script: `window.q=new CSSStyleSheet();${el('x-a', '<p>Inside</p>', 'r.adoptedStyleSheets=[q]')}`,
    later: "q.replaceSync('p{color:red;font-size:25px}')",
  }),
  it('adopted in a shadow tree made later', '<x-a></x-a>', {
    later: `const q=new CSSStyleSheet();q.replaceSync('p{color:red;font-size:25px}');${el('x-a', '<p>Inside</p>', 'r.adoptedStyleSheets=[q]')}`,
  }),
  it('part', '<style>x-a::part(p){color:red;font-size:30px}</style><x-a></x-a>', {
    script: el('x-a', '<p part="p">Inside</p>'),
  }),
  it('host with attributes', '<x-a kind="Very Big"></x-a>', {
    script: el(
      'x-a',
      '<style>:host{display:block}:host([kind="Very Big"]) p{font-size:40px}</style><p>Inside</p>',
    ),
  }),
  it(
    ':defined',
    '<style>x-a:not(:defined){visibility:hidden}x-a:defined{color:red}</style><x-a>Text</x-a><x-z>Never</x-z>',
    { script: "customElements.define('x-a', class extends HTMLElement {})" },
  ),
  it(':defined later', '<style>x-a:not(:defined){display:none}</style><x-a>Text</x-a>', {
    later: "customElements.define('x-a', class extends HTMLElement {})",
  }),
  it(
    'declarative shadow tree',
    '<div><template shadowrootmode="open"><style>p{color:red}</style><p>Inside</p><slot></slot></template>Light</div>',
  ),
  it('closed shadow tree made later', '<x-a></x-a>', {
    later:
      "customElements.define('x-a', class extends HTMLElement { constructor() { super(); this.attachShadow({mode:'closed'}).innerHTML='<p style=\"color:red\">Closed</p>' } })",
  }),
  it('shadow tree of a div', '<div id="a"></div>', {
    later: "a.attachShadow({mode:'open'}).innerHTML='<style>p{font-size:30px}</style><p>Inside</p>'",
  }),
  it('frame of the site', '<iframe src="/frame.html" width="300" height="120"></iframe>'),
  it(
    'frame by srcdoc',
    '<iframe srcdoc="<style>p{color:red}</style><p>Inside</p>" width="300" height="120"></iframe>',
  ),
  it('frame written by script', '<iframe id="a" width="300" height="120"></iframe>', {
    later:
      "a.contentDocument.open();a.contentDocument.write('<!doctype html><p style=color:red>Written</p>');a.contentDocument.close()",
  }),
  it('frame changed', '<iframe id="a" srcdoc="<p>Inside</p>" width="300" height="120"></iframe>', {
    later: "a.contentDocument.body.innerHTML='<h1>Changed</h1>'",
  }),
  it(
    'frame that goes elsewhere',
    '<iframe id="a" srcdoc="<p>Inside</p>" width="300" height="120"></iframe>',
    { later: "a.removeAttribute('srcdoc');a.src='/frame.html'" },
  ),
  it('frame added later', '<p>x</p>', {
    later:
      "document.body.insertAdjacentHTML('beforeend','<iframe src=/frame.html width=300 height=120></iframe>')",
  }),
  it(
    'frame scrolled',
    '<iframe id="a" srcdoc="<div style=height:900px;background:linear-gradient(red,blue)></div>" width="300" height="120"></iframe>',
    { later: 'a.contentWindow.scrollTo(0,300)' },
  ),
  it(
    'frame in quirks',
    '<iframe id="a" srcdoc="<p>x" width="300" height="120"></iframe><iframe src="/quirks.html" width="300" height="120"></iframe>',
  ),
  it(
    'frame in a frame',
    '<iframe srcdoc="<iframe srcdoc=\'<p>Deep</p>\' width=200 height=80></iframe>" width="300" height="120"></iframe>',
  ),
  it('frame in a shadow tree', '<x-a></x-a>', {
    script: el('x-a', '<iframe src="/frame.html" width="300" height="120"></iframe>'),
  }),
  it('template ignored', '<template><p>Never</p></template><p>Seen</p>'),
  it(
    'svg',
    '<svg width="200" height="100" viewBox="0 0 20 10"><defs><linearGradient id="g"><stop stop-color="red"/><stop offset="1" stop-color="blue"/></linearGradient></defs><rect width="20" height="10" fill="url(#g)"/><text x="2" y="6" font-size="3">Text</text></svg>',
  ),
  it(
    'svg use',
    '<svg width="0" height="0"><symbol id="s" viewBox="0 0 10 10"><circle cx="5" cy="5" r="5"/></symbol></svg><svg width="60" height="60" fill="red"><use href="#s"/></svg>',
  ),
  it(
    'svg use of another file',
    '<svg width="60" height="60" fill="red"><use href="/sprite.svg#star"/></svg>',
  ),
  it('svg use of another file, later', '<p>x</p>', {
    later:
      "document.body.insertAdjacentHTML('beforeend','<svg width=60 height=60 fill=blue><use href=\"/sprite.svg#star\"/></svg>')",
  }),
  it(
    'svg image',
    '<svg width="200" height="100"><image href="/picture.svg?1" width="200" height="100"/></svg>',
  ),
  it(
    'svg foreignObject',
    '<svg width="200" height="100"><foreignObject width="200" height="100"><p style="color:red">HTML</p></foreignObject></svg>',
  ),
  it(
    'svg clip and mask',
    '<svg width="200" height="100"><clipPath id="c"><circle cx="50" cy="50" r="40"/></clipPath><rect width="100" height="100" fill="teal" clip-path="url(#c)"/></svg>',
  ),
  it(
    'svg set',
    '<svg width="200" height="100"><rect width="50" height="50" fill="red"><set attributeName="fill" to="blue" begin="0s" fill="freeze"/></rect></svg>',
  ),
  it(
    'svg animate, its end',
    '<svg width="200" height="100"><rect width="50" height="50" fill="red"><animate attributeName="width" from="50" to="150" dur="0.3s" fill="freeze"/></rect></svg>',
  ),
  it(
    'svg animateTransform, its end',
    '<svg width="200" height="100"><rect width="50" height="50" fill="red"><animateTransform attributeName="transform" type="translate" from="0" to="80 20" dur="0.3s" fill="freeze"/></rect></svg>',
  ),
  it('svg changed', '<svg width="200" height="100"><rect id="a" width="50" height="50" fill="red"/></svg>', {
    later:
      "a.setAttribute('fill','blue');a.setAttribute('width','150');const c=document.createElementNS('http://www.w3.org/2000/svg','circle');c.setAttribute('r','20');c.setAttribute('cx','60');c.setAttribute('cy','60');a.after(c)",
  }),
  it(
    'MathML',
    '<math display="block" style="font-size:30px"><mfrac><mi>a</mi><msqrt><mn>2</mn></msqrt></mfrac><mo>=</mo><msup><mi>x</mi><mn>2</mn></msup></math>',
  ),
  it('document.write later', '<p>Old</p>', {
    later: "document.open();document.write('<!doctype html><title>n</title><h1>New</h1>');document.close()",
  }),
  it('moved in one batch', '<div id="a"><p id="p">Moved</p></div><div id="b" style="color:red"></div>', {
    later: "b.append(p);a.append(document.createElement('hr'))",
  }),
  it(
    'moved twice in one batch',
    '<div id="a"><p id="p">Moved</p></div><div id="b" style="color:red"></div>',
    { later: 'b.append(p);a.append(p);b.prepend(p)' },
  ),
  it('moved into what is new', '<p id="p">Moved</p>', {
    later:
      "const d=document.createElement('section');d.style.color='red';document.body.append(d);d.append(p)",
  }),
  it('list sorted', '<ol id="a">' + [5, 3, 9, 1, 7].map((n) => `<li>${n}</li>`).join('') + '</ol>', {
    later: '[...a.children].sort((x,y)=>x.textContent-y.textContent).forEach(x=>a.append(x))',
  }),
  it('replaced whole', '<p>Old</p>', {
    later:
      "document.body.replaceWith(Object.assign(document.createElement('body'),{innerHTML:'<h1>New</h1>'}))",
  }),
  it('10,000 nodes at once', '<div id="a" style="font-size:4px"></div>', {
    later: "a.innerHTML=Array.from({length:10000},(_,i)=>'<i>'+i%10+'</i>').join(' ')",
  }),
  it('very deep', '<div id="a"></div>', {
    later:
      "let d=a;for(let i=0;i<300;i++){const n=document.createElement('div');d.append(n);d=n}d.textContent='Deep'",
  }),
  it('text split and joined', '<p id="a">Hello world</p>', {
    later: "a.firstChild.splitText(5);a.lastChild.data=' there';a.normalize()",
  }),
  it('added and taken away at once', '<div id="a"></div>', {
    later: "const d=document.createElement('p');d.textContent='x';a.append(d);d.remove();a.append('y')",
  }),
  it('comments between', '<div id="a"><!--x-->A<!--y-->B</div>', {
    later: "a.insertBefore(document.createElement('b'),a.childNodes[2]).textContent='new'",
  }),
  // State
  it('checkbox by script', '<input type="checkbox" id="a"><input type="checkbox" id="b" checked>', {
    later: 'a.checked=true;b.checked=false',
  }),
  it('checkbox clicked', '<input type="checkbox" id="a">', { acts: ['click #a'] }),
  it(
    'checkbox styled by state',
    '<style>:checked+span{color:red;font-size:30px}</style><label><input type="checkbox" id="a"><span>Text</span></label>',
    { acts: ['click #a'] },
  ),
  it('indeterminate', '<input type="checkbox" id="a">', { later: 'a.indeterminate=true' }),
  it('radios', '<input type="radio" name="r" id="a"><input type="radio" name="r" id="b">', {
    acts: ['click #a', 'click #b'],
  }),
  it('select', '<select id="a"><option>Short</option><option>Longer text</option></select>', {
    later: 'a.selectedIndex=1',
  }),
  it(
    'select of several',
    '<select id="a" multiple size="4"><option>A</option><option>B</option><option>C</option></select>',
    { later: 'a.options[0].selected=a.options[2].selected=true' },
  ),
  it('range', '<input type="range" id="a" max="50">', { later: 'a.value=40' }),
  it('colour', '<input type="color" id="a">', { later: "a.value='#ff0000'" }),
  it('file', '<input type="file" id="a">', {
    later:
      "const d=new DataTransfer();d.items.add(new File(['x'],'••••••••'));a.files=d.files;a.dispatchEvent(new Event('change',{bubbles:true}))",
  }),
  it('progress', '<progress id="a" max="100" value="20"></progress>', {
    later: 'a.value=70',
  }),
  it('meter', '<meter id="a" min="0" max="100" low="30" high="60" optimum="80" value="20"></meter>', {
    later: 'a.value=70',
  }),
  it('list values', '<ol start="5"><li>a<li value="9">b<li>c</ol><ol reversed><li>a<li>b</ol>'),
  it(
    'prefilled fields',
    '<input value="Hello there"><textarea>Some text</textarea><input type="password" value="secret">',
  ),
  it(
    'placeholder gone when filled',
    '<style>input:placeholder-shown{background:gold}</style><input id="a" placeholder="Name" value="x">',
  ),
  it('placeholder colour', '<style>::placeholder{color:red}</style><input placeholder="Name">'),
  it('typed', '<input id="a" placeholder="Name"><p id="o"></p>', { acts: ['type #a hello'] }),
  it(
    'form reset',
    '<form id="f"><input type="checkbox" id="a" checked><input type="range" id="r" value="20"></form>',
    { later: 'a.checked=false;r.value=90;setTimeout(()=>f.reset(),300)' },
  ),
  it('disabled by fieldset', '<fieldset id="f"><input type="checkbox"><button>B</button></fieldset>', {
    later: 'f.disabled=true',
  }),
  it(
    'button values',
    '<input type="submit" value="Send it"><input type="button" id="a" value="Press"><input type="reset">',
    { later: "a.value='Pressed'" },
  ),
  it(
    'modal dialog with backdrop',
    '<style>dialog::backdrop{background:rgb(0 128 0 / .5)}</style><p>Page</p><dialog id="d"><h2>Dialog</h2><button>OK</button></dialog>',
    { later: 'd.showModal()' },
  ),
  it('modal dialog closed', '<p>Page</p><dialog id="d"><h2>Dialog</h2></dialog>', {
    script: 'd.showModal()',
    later: 'd.close()',
  }),
  it('dialog that is not modal', '<p>Page</p><dialog id="d">Dialog</dialog>', { later: 'd.show()' }),
  it('popover', '<button id="b" popovertarget="p">Open</button><div id="p" popover>Popped</div>', {
    acts: ['click #b'],
  }),
  it('popover closed', '<div id="p" popover>Popped</div><p>x</p>', {
    script: 'p.showPopover()',
    later: 'p.hidePopover()',
  }),
  it('details', '<details id="d"><summary>More</summary><p>Inside</p></details>', {
    acts: ['click summary'],
  }),
  it('fullscreen', '<div id="a" style="background:gold"><p>Full</p></div>', { acts: ['full #a'] }),
  it('page scrolled', '<div style="height:3000px;background:linear-gradient(red,blue)">x</div>', {
    later: 'scrollTo(0,700)',
  }),
  it(
    'pane scrolled',
    '<div id="a" style="width:200px;height:100px;overflow:auto"><div style="height:900px;background:linear-gradient(red,blue)"></div></div>',
    { later: 'a.scrollTop=300' },
  ),
  it(
    'pane scrolled before',
    '<div id="a" style="width:200px;height:100px;overflow:auto"><div style="height:900px;background:linear-gradient(red,blue)"></div></div>',
    { script: 'a.scrollTop=300' },
  ),
  it(
    'two panes at once',
    '<div style="display:flex"><div id="a" style="width:200px;height:100px;overflow:auto"><div style="height:900px;background:linear-gradient(red,blue)"></div></div><div id="b" style="width:200px;height:100px;overflow:auto"><div style="height:900px;background:linear-gradient(red,blue)"></div></div></div>',
    { later: 'a.scrollTop=300;b.scrollTop=600' },
  ),
  it(
    'smooth pane',
    '<div id="a" style="width:200px;height:100px;overflow:auto;scroll-behavior:smooth"><div style="height:900px;background:linear-gradient(red,blue)"></div></div>',
    { later: 'a.scrollTop=300' },
  ),
  it('pane in a shadow tree', '<x-a id="a"></x-a>', {
    script: el(
      'x-a',
      '<div style="width:200px;height:100px;overflow:auto"><div style="height:900px;background:linear-gradient(red,blue)"></div></div>',
    ),
    later: "a.shadowRoot.querySelector('div').scrollTop=300",
  }),
  it(
    'snapping pane',
    '<div id="a" style="width:200px;height:100px;overflow:auto;scroll-snap-type:x mandatory;display:flex">' +
      ['red', 'gold', 'blue']
        .map((c) => `<div style="flex:0 0 200px;scroll-snap-align:start;background:${c}"></div>`)
        .join('') +
      '</div>',
    { later: 'a.scrollLeft=200' },
  ),
  it(
    'sticky',
    '<div style="height:3000px"><div style="position:sticky;top:0;background:gold">Sticky</div></div>',
    { later: 'scrollTo(0,700)' },
  ),
  it('focus', '<style>button:focus{background:gold;font-size:30px}</style><button id="a">A</button>', {
    acts: ['focus #a'],
  }),
  it('focus by keyboard', '<button id="a">A</button><button id="b">B</button>', {
    acts: ['key Tab', 'key Tab'],
  }),
  it('focus-within', '<style>div:focus-within{background:gold}</style><div><button id="a">A</button></div>', {
    acts: ['focus #a'],
  }),
  it(
    'hover',
    '<style>#a:hover{background:gold;font-size:30px}</style><div id="a" style="width:200px">Hover</div>',
    { acts: ['hover #a'] },
  ),
  it(
    'hover menu',
    '<style>ul{display:none}nav:hover ul{display:block}</style><nav style="width:200px">Menu<ul><li>One<li>Two</ul></nav>',
    { acts: ['hover nav'] },
  ),
  it(
    'hover left',
    '<style>#a:hover{background:gold}</style><div id="a" style="width:200px">A</div><div id="b">B</div>',
    { acts: ['hover #a', 'hover #b'] },
  ),
  it(
    ':target',
    '<style>:target{background:gold;font-size:30px}</style><p id="one">One</p><p id="two">Two</p>',
    { later: "location.hash='two'" },
  ),
  it(
    'validity',
    '<style>input:invalid{border:4px solid red}input:valid{border:4px solid green}</style><input id="a" required><input type="email" id="b">',
    { acts: ['type #a hello', 'type #b nonsense'] },
  ),
  it(
    'user-invalid',
    '<style>input:user-invalid{border:4px solid red}</style><input id="a" required><button id="b">B</button>',
    { acts: ['type #a x', 'key Backspace', 'click #b'] },
  ),
  it('script animation, its end', `<div id="a" style="${box}"></div>`, {
    later:
      "a.animate([{transform:'none'},{transform:'translateX(200px)',opacity:.5}],{duration:200,fill:'forwards'})",
  }),
  it('script animation without end state', `<div id="a" style="${box}"></div>`, {
    later: "a.animate([{transform:'translateX(200px)'},{transform:'none'}],{duration:200})",
  }),
  it(
    'css animation, its end',
    `<style>@keyframes k{to{transform:translateX(200px);background:gold}}div{${box}animation:k .3s forwards}</style><div></div>`,
  ),
  it(
    'css transition',
    `<style>div{${box}transition:all .3s}.on{width:300px;background:gold}</style><div id="a"></div>`,
    { later: "a.className='on'" },
  ),
  it('selection of text', '<p id="a">Some text to mark</p>', {
    later: 'getSelection().selectAllChildren(a)',
  }),
  it('contenteditable', '<div contenteditable style="border:1px solid">Edit me</div>'),
  it('hidden until', '<p hidden>Hidden</p><p hidden="until-found">Hidden</p><p>Seen</p>'),
  it('inert', '<div inert><button>B</button></div>'),
  // Pictures
  it('picture', '<img src="/picture.svg?1" width="200" height="100" alt="">'),
  it('picture without size', '<img src="/photo.png" alt="">'),
  it('srcset by density', '<img src="/photo.png" srcset="/photo2.png 1x" alt="">'),
  it(
    'srcset by width',
    '<img srcset="/photo.png 64w, /photo2.png 128w" sizes="100px" src="/photo.png" alt="">',
  ),
  it(
    'picture element',
    '<picture><source media="(min-width:100px)" srcset="/photo2.png"><img src="/photo.png" alt=""></picture>',
  ),
  it('lazy picture', '<div style="height:100px"></div><img loading="lazy" src="/photo.png" alt="">'),
  it('changed source', '<img id="a" src="/photo.png" alt="">', { later: "a.src='/photo2.png'" }),
  it('source by script', '<img id="a" alt="">', { later: "a.src='/photo2.png'" }),
  it(
    'data: picture',
    "<img src=\"data:image/svg+xml,%3Csvg xmlns='http://www.w3.org/2000/svg' width='80' height='40'%3E%3Crect width='80' height='40' fill='red'/%3E%3C/svg%3E\" alt=\"\">",
  ),
  it('blob: picture', '<img id="a" alt="">', {
    later:
      "const c=document.createElement('canvas');c.width=100;c.height=50;const x=c.getContext('2d');x.fillStyle='red';x.fillRect(0,0,100,50);c.toBlob(b=>{a.src=URL.createObjectURL(b)})",
  }),
  it('input type=image', '<input type="image" src="/photo.png" alt="Go">'),
  it('picture that is not there', '<img src="/none.png" alt="Words instead" width="200" height="50">'),
  it('video with poster', '<video width="200" height="100" poster="/photo.png"></video>'),
  it('object-fit', '<img src="/photo.png" style="width:200px;height:60px;object-fit:cover" alt="">'),
  it('canvas', '<canvas id="a" width="200" height="100"></canvas>', {
    script:
      "const x=a.getContext('2d');x.fillStyle='red';x.fillRect(10,10,80,40);x.font='20px sans-serif';x.fillText('Text',100,60)",
  }),
  it('canvas drawn later', '<canvas id="a" width="200" height="100"></canvas>', {
    later: "const x=a.getContext('2d');x.fillStyle='blue';x.fillRect(10,10,80,40)",
  }),
  it(
    'canvas in a frame',
    '<iframe srcdoc="<canvas id=a width=200 height=80></canvas><script>const x=a.getContext(`2d`);x.fillStyle=`red`;x.fillRect(10,10,80,40)</script>" width="300" height="120"></iframe>',
  ),
  it('canvas by WebGL', '<canvas id="a" width="200" height="100"></canvas>', {
    script:
      "const g=a.getContext('webgl');const f=()=>{if(g){g.clearColor(1,0,0,1);g.clear(g.COLOR_BUFFER_BIT)}requestAnimationFrame(f)};f()",
  }),
  it(
    'border image and mask',
    `<style>div{${box}border:10px solid;border-image:url(/photo.png) 10;mask:linear-gradient(black,transparent)}</style><div></div>`,
  ),
  it('narrow window', '<style>@media (max-width:500px){p{font-size:30px}}</style><p>Text</p>', {
    phone: true,
  }),
  it(
    'coarse pointer',
    '<style>@media (pointer:coarse){p{font-size:30px}}@media (hover:hover){p{color:red}}</style><p>Text</p>',
    { phone: true },
  ),
  it('viewport units', '<div style="width:50vw;height:30vh;background:teal"></div>', { phone: true }),
  it('text direction', '<p dir="rtl">שלום text</p><p lang="ja">日本語</p>'),
  it(
    'tables',
    '<table border="1" cellpadding="8"><caption>Cap</caption><colgroup><col style="background:gold"><col></colgroup><tr><th rowspan="2">A<td>B<tr><td>C</table>',
  ),
  it('pre and entities', '<pre>  two\n\tspaces &lt;b&gt;</pre><p>a&nbsp;&nbsp;b&shy;c</p>'),
]
