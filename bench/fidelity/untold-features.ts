import { it } from './feature.ts'
import type { Feature } from './feature.ts'

/** An element of the site's own with a tree inside. */
const own = (name: string, inside: string, more = '') =>
  `customElements.define('${name}', class extends HTMLElement { constructor(){super(); const r=this.attachShadow({mode:'open'}); r.innerHTML=${JSON.stringify(inside)}; ${more} } })`

/** What pages do without saying so, and what older ones are made of. */
export const UNTOLD: Feature[] = [
  it(
    'highlight',
    '<p id="a">Find this word in the text</p><style>::highlight(found){background:gold;color:red}</style>',
    {
      later:
        "const r=new Range();r.setStart(a.firstChild,5);r.setEnd(a.firstChild,14);CSS.highlights.set('found',new Highlight(r))",
    },
  ),
  it(
    'baseval',
    '<svg width="300" height="150"><circle id="c" cx="60" cy="60" r="20" fill="red"/><rect id="r" width="40" height="40" x="150"/></svg>',
    {
      later:
        'c.r.baseVal.value=50; r.width.baseVal.value=120; r.transform.baseVal.appendItem(r.transform.baseVal.createSVGTransformFromMatrix(document.querySelector("svg").createSVGMatrix().translate(0,50)))',
    },
  ),
  it(
    'default',
    '<form><input type="checkbox" checked id="a"><input type="radio" name="r"><button>Send</button><button>Other</button></form><select><option>A<option selected>B</select><style>:default{outline:6px solid red;margin:10px}</style>',
    { later: 'a.checked=false' },
  ),
  it(
    'indeterminate group chosen',
    '<div data-trail-show><input type="radio" name="q"><input type="radio" name="q" id="b"></div><style>:indeterminate{outline:6px solid red;margin:10px}</style>',
    { later: 'b.checked=true' },
  ),
  it(
    'content url',
    '<p id="a">Text</p><style>#a::before{content:url(/photo.png)}#a::after{content:"a" " b " attr(id) / "alt";color:red}</style>',
  ),
  it(
    'is hover',
    '<button id="a">A</button><a href="#" id="b">B</a><style>:is(:hover,:focus) {outline:5px solid red} :where(#a:focus-visible){font-size:40px} button:not(:focus){color:gray}</style>',
    { acts: ['key Tab', 'hover #b'] },
  ),
  it(
    'not hover',
    '<div id="a" class="x">Card</div><div class="x">Other</div><style>.x{padding:20px}.x:not(:hover){opacity:.3}</style>',
    { acts: ['hover #a'] },
  ),
  it(
    'has focus',
    '<label id="l"><input id="a"> <span>Name</span></label><style>label:has(:focus){background:gold}label:has(input:placeholder-shown) span{color:red}body:has(#a:focus) {border:4px solid blue}</style>',
    { acts: ['focus #a'] },
  ),
  it(
    'has checked',
    '<div data-trail-show><label><input type="checkbox" id="a">A</label></div><style>label:has(:checked){background:gold;padding:20px}</style>',
    { acts: ['click #a'] },
  ),
  it('host focus', '<x-hf id="h"></x-hf>', {
    script: own(
      'x-hf',
      '<style>:host(:focus-within){outline:6px solid red}:host{display:block;padding:20px}button:focus{background:gold}</style><button id="b">In</button>',
    ),
    later: 'h.shadowRoot.querySelector("button").focus()',
  }),
  it('exportparts', '<x-out></x-out><style>x-out::part(deep){color:red;font-size:40px}</style>', {
    script:
      own('x-in', '<b part="label">Deep</b>') + ';' + own('x-out', '<x-in exportparts="label: deep"></x-in>'),
  }),
  it('audio controls', '<audio controls></audio><audio></audio>'),
  it(
    'dates',
    '<div data-trail-show><input type="date" value="2026-01-02"><input type="time" value="10:20"><input type="month" value="2026-02"><input type="week" value="2026-W05"><input type="datetime-local" value="2026-01-02T03:04"></div><input type="date">',
  ),
  it(
    'fieldset',
    '<fieldset><legend>Legend</legend><output>Out</output><label>L <input list="dl"></label><datalist id="dl"><option value="A"></datalist></fieldset>',
  ),
  it(
    'odd attributes',
    '<div @click="x" :class="y" class="z" #ref (ev)="1" [p]="2" *ngif="q" v-on:a.b="c">Odd</div><style>.z{color:red;font-size:30px}</style>',
  ),
  it(
    'odd elements',
    '<o:p>Office</o:p><x_y>Under</x_y><div<span>Broken</div<span><style>o\\:p{color:red}x_y{display:block;padding:20px;background:gold}</style>',
  ),
  it('escaped classes', '<div class="md:w-1/2 w-[10px] hover:x">Escaped</div>', {
    later:
      "const s=document.head.appendChild(document.createElement('style'));s.sheet.insertRule('.md\\\\:w-1\\\\/2{color:red}',0);s.sheet.insertRule('.w-\\\\[10px\\\\]{font-size:40px}',1)",
  }),
  it(
    'hacks in a sheet',
    '<p class="a">A</p><p class="b">B</p><style><!-- .a{*zoom:1;_height:1px;filter:progid:DXImageTransform.Microsoft.gradient(startColorstr="#1", endColorstr="#2");color:red} } ; .b{color:blue;;font-size:30px}} --> .a{padding:20px</style>',
  ),
  it(
    'namespaces',
    '<svg width="90" height="60"><a><text y="30">Svg</text></a></svg><a>Html</a><style>@namespace svg url(http://www.w3.org/2000/svg);svg|a{fill:red}*|a{font-size:40px}</style>',
  ),
  it(
    'icon font signs',
    '<p id="a">x</p><style>#a::before{content:"\\e900 \\2192";color:red}#a::after{content:"→ “”"}</style>',
  ),
  it('latin file', '<link rel="stylesheet" href="/latin.css"><p class="linked">Linked</p>'),
  it('sheet from blob', '<p class="b">B</p>', {
    script:
      "const l=document.createElement('link');l.rel='stylesheet';l.href=URL.createObjectURL(new Blob(['.b{color:red;font-size:40px}'],{type:'text/css'}));document.head.append(l)",
  }),
  it(
    'sheet from data',
    '<p class="b">B</p><link rel="stylesheet" href="data:text/css,.b{color:red;font-size:40px}">',
  ),
  it(
    'preload swap',
    '<p class="linked">B</p><link rel="preload" as="style" href="/a.css" onload="this.onload=null;this.rel=\'stylesheet\'">',
  ),
  it('preload swap later', '<p class="linked">B</p><link id="l" rel="preload" as="style" href="/a.css">', {
    later: "l.rel='stylesheet'",
  }),
  it(
    'media swap',
    '<p class="linked">B</p><link rel="stylesheet" media="print" href="/a.css" onload="this.media=\'all\'">',
  ),
  it(
    'alternate chosen',
    '<p class="linked">B</p><link rel="stylesheet" title="A" href="/a.css" id="a"><link rel="alternate stylesheet" title="B" href="/b.css" id="b">',
    { later: 'a.disabled=true;b.disabled=false' },
  ),
  it(
    'alternate chosen at once',
    '<p class="linked">B</p><link rel="stylesheet" title="A" href="/a.css" id="a"><link rel="alternate stylesheet" title="B" href="/b.css" id="b">',
    { script: 'a.disabled=true;b.disabled=false' },
  ),
  it('adopt from frame', '<iframe src="/frame.html" id="f"></iframe><div id="d"></div>', {
    later: "d.append(f.contentDocument.querySelector('p'))",
  }),
  it(
    'popover hint',
    '<button id="b">B</button><div popover="hint" id="p">Hint</div><div popover="manual" id="m" style="inset:auto;top:200px">Manual</div>',
    { later: 'p.showPopover({source:b});m.showPopover()' },
  ),
  it(
    'command',
    '<button id="b" commandfor="d" command="show-modal">B</button><dialog id="d">Dialog</dialog>',
    { acts: ['click #b'] },
  ),
  it(
    'base-select',
    '<select data-trail-show><button><selectedcontent></selectedcontent></button><option>One</option><option selected>Two</option></select><style>select,::picker(select){appearance:base-select}select{padding:20px;background:gold}</style>',
  ),
  it(
    'rtl pane',
    '<div dir="rtl" id="a" style="width:200px;height:80px;overflow:auto;white-space:nowrap;border:1px solid">Words that go far beyond the edge of the pane, in one line</div>',
    { later: 'a.scrollLeft=-120' },
  ),
  it(
    'vertical page',
    '<style>html{writing-mode:vertical-rl}</style>' +
      '<p>Words in columns that go on and on. </p>'.repeat(60),
    { later: 'scrollTo(-400,0)' },
  ),
  it('canvas picture', '<img id="i">', {
    later:
      "const c=document.createElement('canvas');c.width=200;c.height=100;const x=c.getContext('2d');x.fillStyle='red';x.fillRect(20,20,100,50);i.src=c.toDataURL()",
  }),
  it('svg in shadow', '<x-sv></x-sv>', {
    script: own(
      'x-sv',
      '<svg width="200" height="100"><defs><linearGradient id="g"><stop stop-color="red"/><stop offset="1" stop-color="blue"/></linearGradient><symbol id="s" viewBox="0 0 10 10"><circle cx="5" cy="5" r="5"/></symbol></defs><rect width="90" height="90" fill="url(#g)"/><use href="#s" x="100" width="80" height="80"/></svg>',
    ),
  }),
  it(
    'svg text path',
    '<svg width="300" height="150"><path id="p" d="M10 80 Q 95 10 180 80" fill="none"/><text><textPath href="#p">Along the path</textPath></text><switch><g systemLanguage="xx"><rect width="50" height="50"/></g><g><circle cx="250" cy="60" r="30"/></g></switch><marker id="m" viewBox="0 0 10 10" orient="auto" refX="5" refY="5"><path d="M0 0L10 5L0 10z"/></marker><line x1="10" y1="120" x2="200" y2="120" stroke="red" marker-end="url(#m)"/><pattern id="pt" width="10" height="10" patternUnits="userSpaceOnUse"><circle cx="5" cy="5" r="3"/></pattern><rect x="220" y="100" width="60" height="40" fill="url(#pt)"/></svg>',
  ),
  it('font from bytes', '<p id="a" style="font-family:Own;font-size:40px">Own font</p>', {
    later:
      "fetch('/font.woff2').then(r=>r.arrayBuffer()).then(b=>{const f=new FontFace('Own',b);document.fonts.add(f);return f.load()})",
  }),
  it('font overrides', '<p id="a" style="font-family:Own;font-size:40px;background:gold">Own font</p>', {
    later:
      "const f=new FontFace('Own','url(/font.woff2)',{ascentOverride:'150%',descentOverride:'80%',lineGapOverride:'40%'});document.fonts.add(f);f.load()",
  }),
  it('custom ns', '<div id="d"></div>', {
    later:
      "const e=document.createElementNS('http://example.org/x','thing');e.textContent='Other namespace';e.setAttribute('class','t');d.append(e);document.head.insertAdjacentHTML('beforeend','<style>thing{color:red;display:block}</style>')",
  }),
  it(
    'dir',
    '<p dir="auto">שלום</p><p dir="rtl" lang="he">Text</p><style>:dir(rtl){border-right:9px solid red}:lang(he){font-size:30px}</style>',
  ),
  it(
    'target within',
    '<section><a id="here">Here</a></section><style>section:has(:target){background:gold}:target{font-size:40px}</style>',
    { later: "location.hash='here'" },
  ),
  it('selection in a field', '<div data-trail-show><input id="a" value="Selected words here"></div>', {
    later: 'a.focus();a.setSelectionRange(0,8)',
  }),
  it(
    'meters',
    '<meter value=".3" low=".4" high=".8"></meter><progress id="p" max="10" value="3"></progress><input type="range" list="t" min="0" max="10" value="7" data-trail-show><datalist id="t"><option value="2"><option value="5"></datalist>',
    { later: 'p.value=9' },
  ),
  it(
    'textarea wraps',
    '<textarea cols="20" rows="3" wrap="off" placeholder="Two&#10;lines"></textarea><textarea disabled>Disabled\nvalue</textarea>',
  ),
  it(
    'body attributes',
    '<!doctype html><html><head><title>x</title></head><body bgcolor="gold" text="red" leftmargin="60" background="/photo.png"><center><font size="6" color="blue" face="serif">Old</font></center><table border="3" cellpadding="8" bgcolor="white" width="50%"><tr valign="top"><td nowrap bgcolor="lime">A<td align="right" height="60">B</table><hr size="9" color="red" width="50%"></body></html>',
  ),
  it(
    'will-change scroll in frame srcdoc',
    '<iframe id="f" srcdoc="<style>b{color:red}</style><b>In</b><div style=height:900px></div><i>End</i>"></iframe>',
    { later: 'f.contentWindow.scrollTo(0,600)' },
  ),
  it('slot change', '<x-sc id="h"><b>One</b><i slot="two">Two</i></x-sc>', {
    script: own(
      'x-sc',
      '<style>slot[name=two]{display:block;background:gold}slot:not(:has-slotted)::after{content:"none"}::slotted(i){color:red}</style><slot></slot><slot name="two"><u>fallback</u></slot>',
    ),
    later: "h.querySelector('i').remove();h.querySelector('b').slot='two'",
  }),
  it(
    'attr type',
    '<div data-w="200" id="a">A</div><style>#a{width:attr(data-w px);background:gold}#a::after{content:attr(data-w)}</style>',
  ),
  it('fit text', '<div contenteditable id="a" style="border:1px solid">Edit</div><p>After</p>', {
    acts: ['type #a  more words'],
  }),
]
