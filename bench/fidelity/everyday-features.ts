import { it } from './feature.ts'
import type { Feature } from './feature.ts'

/** What many pages do in passing. */
export const EVERYDAY: Feature[] = [
  it(
    'placeholder-shown',
    '<input id="a" placeholder="Name"><style>input:placeholder-shown{border:5px solid red}input:not(:placeholder-shown){border:5px solid green}</style>',
    { acts: ['type #a abc'] },
  ),
  it(
    'placeholder-shown before',
    '<input id="a" placeholder="Name" value="x"><input placeholder="Empty"><style>input:placeholder-shown{border:5px solid red}input:not(:placeholder-shown){border:5px solid green}</style>',
  ),
  it(
    'required and optional',
    '<input required><input><input readonly value="a"><style>:required{background:gold}:optional{background:lime}:read-only{border:4px solid blue}</style>',
  ),
  it(
    'open',
    '<details open id="d"><summary>S</summary>In</details><dialog id="g">Dialog</dialog><style>details:open{background:gold}dialog:open{border:5px solid red}details::details-content{color:red}</style>',
    { later: 'g.show()' },
  ),
  it(
    'playing',
    '<video id="v" width="100" height="60" muted></video><style>video:paused{border:5px solid red}video:muted{outline:3px solid blue}</style>',
  ),
  it(
    'links',
    '<a href="/x">A</a> <a href="/p/">B</a> <a>C</a><style>:link{color:red}:visited{color:red}:any-link{font-size:30px}</style>',
  ),
  it('host-context and slotted', '<div class="dark"><x-hc><b>Slotted</b><i>Two</i></x-hc></div>', {
    script:
      "customElements.define('x-hc', class extends HTMLElement { constructor(){super(); this.attachShadow({mode:'open'}).innerHTML='<style>:host-context(.dark){color:red}::slotted(b){font-size:40px}:host{display:block;border:1px solid}</style><slot></slot>'} })",
  }),
  it(
    'file button',
    '<input type="file"><style>::file-selector-button{background:red;color:white;padding:10px;border:0}</style>',
  ),
  it(
    'scroll bars',
    '<div style="width:100px;height:80px;overflow:scroll" id="a"><div style="height:400px;width:300px">x</div></div><style>::-webkit-scrollbar{width:20px;background:gold}::-webkit-scrollbar-thumb{background:red}</style>',
    { later: 'a.scrollTop=80' },
  ),
  it(
    'empty and nth',
    '<div id="a"></div><ul><li>1<li class="x">2<li class="x">3</ul><style>div:empty{height:40px;background:red}li:nth-child(1 of .x){color:red}li:only-child{color:blue}:lang(en) li{font-size:20px}</style>',
    { later: "a.append('not')" },
  ),
  it(
    'empty for comments',
    '<div id="a"><!-- c --></div><div><template></template></div><div><script></script></div><style>div{min-height:30px;margin:4px;background:blue}div:empty{background:red}</style>',
  ),
  it(
    'script between',
    '<p>A</p><script></script><p>B</p><style>p+p{color:red}p:nth-child(3){font-size:40px}</style>',
  ),
  it(
    'template between',
    '<p>A</p><template></template><p>B</p><style>p+p{color:red}p:nth-child(3){font-size:40px}</style>',
  ),
  it(
    'noscript',
    '<p>A</p><noscript><p>No</p></noscript><p>B</p><style>p:nth-child(3){font-size:40px}</style>',
  ),
  it(
    'link in body',
    '<p class="linked">A</p><link rel="stylesheet" href="/a.css"><p class="linked">B</p><meta name="x"><p>C</p><style>p:nth-child(5){color:green}</style>',
  ),
  it(
    'disabled options',
    '<select><option disabled selected>Choose<option>B</select><fieldset disabled><input value="x"><button>Go</button></fieldset>',
  ),
  it('select by keyboard', '<select id="s"><option>One<option>Two<option>Three</select>', {
    acts: ['focus #s', 'key ArrowDown', 'key ArrowDown'],
  }),
  it('editable typed', '<div id="e" contenteditable style="border:1px solid;min-height:40px">Start</div>', {
    acts: ['type #e more'],
  }),
  it('editable list', '<ul id="e" contenteditable><li>One</li></ul>', {
    acts: ['click #e', 'key End', 'key Enter'],
  }),
  it('design mode', '<p>Text</p>', { later: "document.designMode='on';document.body.append('added')" }),
  it('drag', '<div id="a" style="position:absolute;width:50px;height:50px;background:red"></div>', {
    script:
      "a.onpointerdown=e=>{a.setPointerCapture(e.pointerId);a.onpointermove=m=>{a.style.left=m.clientX+'px'}}",
    acts: ['hover #a', 'click #a'],
  }),
  it('pushState', '<p id="a">Text</p>', {
    later: "history.pushState({},'','/p/other');a.textContent='Moved on';document.title='Other'",
  }),
  it('hash target later', '<style>:target{background:gold}</style><p id="one">One</p><p id="two">Two</p>', {
    later: "location.hash='one';setTimeout(()=>location.hash='two',100)",
  }),
  it(
    'scroll into view',
    '<div style="height:1500px">x</div><p id="a">Far</p><div style="height:900px"></div>',
    { later: 'a.scrollIntoView()' },
  ),
  it(
    'scroll restored',
    '<div id="a" style="height:100px;overflow:auto"><div style="height:600px">x</div></div>',
    { later: 'a.scrollTop=100;const c=a.cloneNode(true);a.replaceWith(c);c.scrollTop=200' },
  ),
  it(
    'pane shown later',
    '<div id="a" style="display:none;height:100px;overflow:auto"><div style="height:600px;background:linear-gradient(red,blue)">x</div></div>',
    { later: "a.style.display='block';a.scrollTop=200" },
  ),
  it(
    'scroll padding of html',
    '<div style="height:3000px;background:linear-gradient(red,blue)"></div><style>html{scroll-behavior:smooth;scroll-padding:50px}</style>',
    { acts: ['wheel 700', 'wait 900'] },
  ),
  it(
    'overflow clip on body',
    '<div style="height:3000px;background:linear-gradient(red,blue)"></div><style>html,body{height:100%;margin:0}body{overflow:auto}</style>',
    { acts: ['wheel 700', 'wait 500'] },
  ),
  it(
    'html scrolls',
    '<main style="height:100vh;overflow:auto"><div style="height:3000px;background:linear-gradient(red,blue)"></div></main>',
    { acts: ['hover main', 'wheel 700', 'wait 500'] },
  ),
  it(
    'svg in img and css',
    "<img src=\"data:image/svg+xml,%3Csvg xmlns='http://www.w3.org/2000/svg' width='50' height='50'%3E%3Crect width='50' height='50' fill='red'/%3E%3C/svg%3E\"><div style=\"width:50px;height:50px;background:url(&quot;data:image/svg+xml;utf8,<svg xmlns='http://www.w3.org/2000/svg' width='50' height='50'><circle cx='25' cy='25' r='20' fill='blue'/></svg>&quot;)\"></div>",
  ),
  it(
    'mask icon',
    '<i style="display:inline-block;width:40px;height:40px;background:red;mask:url(/photo.png);-webkit-mask-image:linear-gradient(#000,transparent)"></i>',
  ),
  it(
    'gradients',
    '<div style="width:200px;height:80px;background:conic-gradient(from 45deg,red,gold,blue),repeating-linear-gradient(45deg,#000 0 4px,#fff 4px 8px);background-blend-mode:multiply;filter:hue-rotate(40deg);backdrop-filter:blur(2px);clip-path:polygon(0 0,100% 0,80% 100%)"></div>',
  ),
  it(
    '3d',
    '<div style="perspective:300px"><div style="transform:rotateY(40deg);width:100px;height:60px;background:teal;transform-style:preserve-3d">Turned</div></div>',
  ),
  it(
    'translate properties',
    '<div style="translate:40px 10px;rotate:10deg;scale:1.2;width:100px;background:gold">Moved</div><div style="offset-path:path(\'M0 0 L200 60\');offset-distance:50%;width:20px;height:20px;background:red"></div>',
  ),
  it('variables on root by script', '<p style="color:var(--c);font-size:var(--s)">Text</p>', {
    later:
      "document.documentElement.style.setProperty('--c','red');document.body.style.setProperty('--s','40px')",
  }),
  it('class on html', '<p>Text</p><style>.dark{background:#222;color:#eee}.dark p{font-size:30px}</style>', {
    later: "document.documentElement.classList.add('dark');document.body.className='b'",
  }),
  it(
    'data attributes',
    '<p id="a" data-n="1">Text</p><style>[data-n="2"]{color:red;font-size:30px}[data-n]::after{content:attr(data-n)}</style>',
    { later: "a.dataset.n='2'" },
  ),
  it(
    'content of attributes',
    '<p data-tip="Hint text" title="T">Text</p><style>p::after{content:" (" attr(data-tip) ")";color:red}</style>',
  ),
  it(
    'counters',
    '<ol style="counter-reset:n"><li>One<li>Two</ol><style>li{counter-increment:n}li::before{content:counters(n,".") " - ";color:red}</style>',
  ),
  it(
    'quotes',
    '<q>Quoted</q><p>Text</p><style>q{quotes:"<<" ">>"}p::before{content:open-quote}p::after{content:close-quote}</style>',
  ),
  it('important by script', '<p id="a">Text</p><style>p{color:blue !important}</style>', {
    later: "a.style.setProperty('color','red','important')",
  }),
  it('cssText', '<p id="a" style="color:blue">Text</p>', {
    later: "a.style.cssText='color:red;font-size:40px;--x:1px'",
  }),
  it(
    'media of window',
    '<p>Text</p><style>@media (min-width:900px){p{color:red;font-size:30px}}@media (orientation:landscape){p{background:gold}}@media print{p{display:none}}</style>',
  ),
  it('media by script', '<p id="a">Text</p>', {
    script: "const m=matchMedia('(min-width:500px)');a.textContent=m.matches?'Wide':'Narrow'",
  }),
  it(
    'calc and clamp',
    '<p style="font-size:clamp(10px,4vw,60px);width:calc(50% + 20px);background:gold;margin:round(up,13px,10px)">Text</p>',
  ),
  it(
    'viewport heights',
    '<div style="height:50dvh;background:teal"></div><div style="height:20svh;width:30cqw;background:gold"></div>',
  ),
  it(
    'phone, a page too wide for it',
    '<style>@media (min-width:500px){p{color:red}}p{width:50vw;background:gold}i{position:fixed;right:0;bottom:0;background:lime}</style><div style="width:900px;background:teal">Wide page</div><p>Half</p><i>Corner</i>',
    { phone: true },
  ),
  it(
    'phone sticky footer',
    '<div style="height:2000px;background:linear-gradient(red,blue)"></div><div style="position:fixed;bottom:0;width:100%;height:60px;background:gold">Foot</div>',
    { phone: true, later: 'scrollTo(0,500)' },
  ),
  it(
    'tables of all kinds',
    '<table border="1"><caption>Cap</caption><colgroup><col style="background:gold"><col span="2"></colgroup><thead><tr><th scope="col">A<th>B<th>C</thead><tbody><tr><td rowspan="2">1<td colspan="2">2<tr><td>3<td>4</tbody><tfoot><tr><td>F</tfoot></table>',
    { later: "document.querySelector('tbody').insertRow(0).insertCell().textContent='new'" },
  ),
  it('table by innerHTML', '<table><tbody id="b"></tbody></table>', {
    later: "b.innerHTML='<tr><td>1</td><td>2</td></tr><tr><td colspan=2>3</td></tr>'",
  }),
  it('select options by script', '<select id="s"></select>', {
    later: "s.add(new Option('One','1'));s.add(new Option('Two','2',true,true))",
  }),
  it(
    'svg namespaced attributes',
    '<svg width="100" height="60" viewBox="0 0 10 6" preserveAspectRatio="none"><g id="g"><rect width="3" height="3" fill="red"/></g><use xlink:href="#g" x="4"/></svg>',
    {
      later:
        "document.querySelector('use').setAttributeNS('http://www.w3.org/1999/xlink','xlink:href','#g');document.querySelector('use').setAttribute('y','2')",
    },
  ),
  it('created elements', '<div id="a"></div>', {
    later:
      "const b=document.createElement('b');b.textContent='Bold';b.style.color='red';a.appendChild(b);const f=document.createDocumentFragment();for(let i=0;i<5;i++){const e=document.createElement('i');e.textContent=i;f.append(e)}a.prepend(f);a.insertAdjacentText('beforeend','end')",
  }),
  it('cloned', '<div id="a"><p style="color:red">Text<input value="x"></p></div>', {
    later: 'const d=a;for(let i=0;i<3;i++)d.after(d.cloneNode(true))',
  }),
  it('wrapped and unwrapped', '<p id="a">Some text</p>', {
    later:
      "const a=document.querySelector('p'),w=document.createElement('div');w.style.border='3px solid red';a.replaceWith(w);w.append(a);w.replaceWith(...w.childNodes);const r=new Range();r.selectNodeContents(a);r.surroundContents(document.createElement('mark'))",
  }),
  it('very many changes', '<ul id="u"></ul>', {
    later:
      "for(let i=0;i<500;i++){const l=document.createElement('li');l.textContent=i;u.prepend(l);if(i%3===0)u.lastChild.remove()}while(u.children.length>12)u.lastChild.remove()",
  }),
  it('custom element moved', '<x-m id="a">T</x-m><div id="b"></div>', {
    script:
      "customElements.define('x-m', class extends HTMLElement { connectedCallback(){ this.n=(this.n||0)+1; this.setAttribute('n',this.n); if(!this.shadowRoot)this.attachShadow({mode:'open'}).innerHTML='<slot></slot><style>:host([n=\"2\"]){color:red;font-size:30px}</style>' } })",
    later: 'b.append(a)',
  }),
  it(
    'built-in extended',
    '<button is="x-b">Text</button><style>button:defined{color:red}[is=x-b]{font-size:30px}</style>',
    {
      script:
        "customElements.define('x-b', class extends HTMLButtonElement { connectedCallback(){ this.style.background='gold' } },{extends:'button'})",
    },
  ),
  it('fonts by sheet later', '<p id="a" style="font-size:40px">Text</p>', {
    later:
      "document.head.insertAdjacentHTML('beforeend','<style>@font-face{font-family:Y;src:url(/font.woff2)}p{font-family:Y}</style>')",
    acts: ['wait 500'],
  }),
  it(
    'print sheet and others',
    '<style media="print">p{display:none}</style><style media="(max-width:100px)">p{color:blue}</style><style media="screen">p{font-size:30px}</style><p>Text</p>',
  ),
  it('style in body', '<div><style>p{color:red}</style><p>Text</p></div>', {
    later: "document.querySelector('div').insertAdjacentHTML('beforeend','<style>p{font-size:50px}</style>')",
  }),
  it('style moved', '<style id="s">p{color:red}</style><p>Text</p><style>p{color:blue}</style>', {
    later: 'document.body.append(s)',
  }),
  it('style type', '<style id="s" type="text/x">p{color:red;font-size:40px}</style><p>Text</p>', {
    later: "s.type='text/css'",
  }),
  it('rules by index', '<style id="s">a{}b{}p{color:blue}</style><p>Text</p>', {
    later:
      "s.sheet.insertRule('p{font-size:40px}',1);s.sheet.deleteRule(0);s.sheet.cssRules[2].style.color='red'",
  }),
  it('layer order by script', '<style id="s">@layer a,b;@layer b{p{color:red}}</style><p>Text</p>', {
    later: "s.sheet.insertRule('@layer a{p{color:blue;font-size:30px}}',s.sheet.cssRules.length)",
  }),
  it(
    'nested rule by script',
    '<style id="s">div{color:blue;& p{color:green}}</style><div><p>Text</p></div>',
    { later: "s.sheet.cssRules[0].insertRule('& p{color:red;font-size:30px}',1)" },
  ),
  it('font-face rule by script', '<style id="s">p{font-family:Z;font-size:40px}</style><p>Text</p>', {
    later: "s.sheet.insertRule('@font-face{font-family:Z;src:url(/font.woff2)}',0)",
    acts: ['wait 400'],
  }),
  it(
    'keyframe style',
    '<style id="s">@keyframes k{to{margin-left:20px}}p{animation:k .1s both}</style><p>Text</p>',
    { later: "s.sheet.cssRules[0].cssRules[0].style.marginLeft='200px'", acts: ['wait 400'] },
  ),
  it(
    'media rule text',
    '<style id="s">@media (max-width:1px){p{color:red;font-size:40px}}</style><p>Text</p>',
    { later: "s.sheet.cssRules[0].media.mediaText='screen'" },
  ),
  it('sheet media', '<style id="s" media="print">p{color:red;font-size:40px}</style><p>Text</p>', {
    later: "s.sheet.media.appendMedium('screen')",
  }),
]
