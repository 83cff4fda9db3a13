import { it } from './feature.ts'
import type { Feature } from './feature.ts'

/** Frames with functions of their own, rules of all kinds, what rules ask of attributes, and pages that stand in the way. */
export const FURTHER: Feature[] = [
  it(
    'nested declarations',
    '<style id="s">#a{color:red; @media screen{font-size:30px} margin-left:10px}</style><p id="a">Text of it</p><p id="b">Other</p>',
    { later: "const r=s.sheet.cssRules[0].cssRules[1];r.style&&r.style.setProperty('margin-left','80px')" },
  ),
  it(
    'custom validity',
    '<input id="a"><style>:invalid{border:5px solid red}:valid{border:5px solid green}:read-only{background:gold}:in-range{outline:3px solid blue}:out-of-range{outline:3px solid red}</style><input type="number" min="1" max="5" value="9" id="b"><input readonly value="x">',
    { later: "a.setCustomValidity('no');b.value=3" },
  ),
  it('frame written', '<iframe id="f" width="300" height="120"></iframe>', {
    later:
      "const d=f.contentDocument;d.open();d.write('<style>p{color:red;font-size:30px}</style><p>Written</p>');d.close()",
  }),
  it('frame sheet adopted', '<iframe id="f" src="/frame.html" width="300" height="120"></iframe>', {
    later:
      "const w=f.contentWindow;const s=new w.CSSStyleSheet();s.replaceSync('p{background:gold}');f.contentDocument.adoptedStyleSheets=[s];f.contentDocument.styleSheets[0].insertRule('button{font-size:30px}',0)",
  }),
  it('focus in shadow', '<div id="h"></div><style>#h:focus-within{background:gold}</style>', {
    script:
      "h.attachShadow({mode:'open',delegatesFocus:true}).innerHTML='<style>:host(:focus){border:4px solid red}button:focus{background:lime}</style><button>B</button><button>C</button>'",
    acts: ['key Tab'],
  }),
  it('keyframes set anew', '<p id="a">Text of it</p><p id="b">Other</p>', {
    later:
      "const x=a.animate({marginLeft:['0','200px']},{duration:100,fill:'forwards'});setTimeout(()=>{x.effect.setKeyframes({paddingLeft:['0','70px']});x.effect.updateTiming({delay:50})},250)",
  }),
  it(
    'animateMotion',
    '<svg width="300" height="100"><circle r="10" fill="red"><animateMotion dur=".3s" fill="freeze" path="M20 20 L250 80"/></circle><rect id="r" width="20" height="20"><animate id="an" attributeName="x" begin="indefinite" dur=".2s" to="150" fill="freeze"/></rect></svg>',
    { later: 'an.beginElement()' },
  ),
  it('sheet by import script', '<p id="a">Text of it</p><p id="b">Other</p>', {
    later:
      "const s=document.createElement('style');s.textContent='@import url(/a.css);';document.head.append(s);a.className='linked'",
  }),
  it('removed and back', '<div id="x"><p id="a">A</p><p id="b">B</p></div>', {
    later:
      'const A=a,B=b;B.remove();A.remove();x.append(B);x.append(A);A.append("!");B.remove();x.prepend(B)',
  }),
  it('out and in later', '<div id="x"><p id="a">A</p><p id="b">B</p></div>', {
    later:
      'const A=a;A.remove();A.textContent="Changed while away";A.style.color="red";setTimeout(()=>x.append(A),300)',
  }),
  it('canvas webgl2', '<canvas id="a" width="200" height="100"></canvas>', {
    later: "const g=a.getContext('webgl2');if(g){g.clearColor(0,.5,1,1);g.clear(g.COLOR_BUFFER_BIT)}",
  }),
  it(
    'selectorText',
    '<style id="s">.no{color:red;font-size:30px}</style><p id="a">Text of it</p><p id="b">Other</p>',
    { later: "s.sheet.cssRules[0].selectorText='#a'" },
  ),
  it(
    'keyframes edited',
    '<style id="s">@keyframes k{to{opacity:1}}#a{animation:k .2s forwards}</style><p id="a">Text of it</p><p id="b">Other</p>',
    {
      later:
        "const k=s.sheet.cssRules[0];k.deleteRule('100%');k.appendRule('to{margin-left:90px;color:red}')",
    },
  ),
  it('body replaced', '<p id="a">Text of it</p><p id="b">Other</p>', {
    later:
      "const n=document.createElement('body');n.innerHTML='<h1>New body</h1>';n.style.background='gold';document.body=n",
  }),
  it('root replaced', '<p id="a">Text of it</p><p id="b">Other</p>', {
    later:
      "const n=document.createElement('html');n.innerHTML='<head><style>h1{color:red}</style></head><body><h1>New root</h1></body>';document.documentElement.replaceWith(n)",
  }),
  it(
    'frame moved',
    '<div id="x"><iframe id="f" src="/frame.html" width="300" height="120"></iframe></div><div id="y" style="padding:20px"></div>',
    { later: 'y.append(f)' },
  ),
  it(
    'adopted into frame',
    '<p id="a">Moves</p><iframe id="f" src="/frame.html" width="300" height="160"></iframe>',
    { later: 'f.contentDocument.body.append(a)' },
  ),
  it('moved into shadow', '<p id="a">Moves</p><div id="h"></div>', {
    script: "h.attachShadow({mode:'open'}).innerHTML='<style>p{color:red;font-size:30px}</style><div></div>'",
    later: "h.shadowRoot.querySelector('div').append(a)",
  }),
  it(
    'select edited',
    '<select id="a"><option>One<option>Two</select> <select id="b" size="4"><option>1<option>2<option>3<option>4<option>5</select>',
    {
      later:
        "a.add(new Option('Three much longer','3',true,true));a.remove(0);b.options[2].text='Changed';b.selectedIndex=3;b.length=4",
    },
  ),
  it('view transition', '<p id="a">Text of it</p><p id="b">Other</p>', {
    later:
      "const go=()=>{a.textContent='After';b.style.color='red'};document.startViewTransition?document.startViewTransition(go):go()",
  }),
  it('animate fill and commit', '<p id="a">Text of it</p><p id="b">Other</p>', {
    later:
      "const x=a.animate({marginLeft:['0','120px'],color:['black','red']},{duration:200,fill:'forwards'});const y=b.animate({transform:'translate(60px,10px) rotate(5deg)'},{duration:200,fill:'forwards'});y.finished.then(()=>{y.commitStyles();y.cancel()})",
  }),
  it('popover in shadow', '<div id="h"></div>', {
    script:
      "h.attachShadow({mode:'open'}).innerHTML='<button popovertarget=p>Open</button><div popover id=p>Popped</div>'",
    acts: ['click button'],
  }),
  it(
    'popover in frame',
    '<iframe id="f" srcdoc="<button popovertarget=p>Open</button><div popover id=p>Popped</div>" width="400" height="200"></iframe>',
    { later: "f.contentDocument.querySelector('#p').showPopover()" },
  ),
  it(
    'dialog in frame',
    '<iframe id="f" srcdoc="<dialog id=d>Modal<button>x</button></dialog>" width="400" height="200"></iframe>',
    { later: "f.contentDocument.querySelector('#d').showModal()" },
  ),
  it(
    'frame rules inserted',
    '<iframe id="f" srcdoc="<style>p{}</style><p>Text</p>" width="400" height="100"></iframe>',
    {
      later:
        "const s=f.contentDocument.styleSheets[0];s.insertRule('p{color:red}',1);s.cssRules[0].style.fontSize='40px'",
    },
  ),
  it('frame animate', '<iframe id="f" srcdoc="<p>Text</p>" width="400" height="100"></iframe>', {
    later:
      "f.contentDocument.querySelector('p').animate({marginLeft:['0','90px']},{duration:100,fill:'forwards'})",
  }),
  it('frame late shadow', '<iframe id="f" srcdoc="<div>x</div>" width="400" height="100"></iframe>', {
    later:
      "f.contentDocument.querySelector('div').attachShadow({mode:'open'}).innerHTML='<b style=color:red>Shadow</b>'",
  }),
  it('frame of svg', '<iframe src="/picture.svg" width="300" height="150"></iframe><p>x</p>'),
  it('frame of xhtml', '<iframe id="f" width="400" height="150"></iframe>', {
    later:
      "f.src=URL.createObjectURL(new Blob(['<html xmlns=\"http://www.w3.org/1999/xhtml\"><head><title>x</title><style><![CDATA[p{color:red}]]></style></head><body><p>Text <![CDATA[of < cdata]]></p></body></html>'],{type:'application/xhtml+xml'}))",
  }),
  it(
    'link attributes asked',
    '<p><a href="/x.pdf">Pdf</a> <a href="https://else.test/" target="_blank">Out</a> <a href="mailto:a@b.c">Mail</a> <a href="tel:1">Tel</a> <a href="#x">In</a> <a href="/x" download>D</a></p><style>a[href$=".pdf"]::after{content:" (pdf)";color:red}a[target=_blank]::after{content:" >>"}a[href^="https:"]{background:gold}a[href^="mailto:"]{font-size:30px}a[href^=tel]{color:lime}a[href^="#"]{border:2px solid}a[download]{outline:2px solid red}</style>',
  ),
  it(
    'picture attributes asked',
    '<img src="/photo.png" alt=""><img src="/photo2.png" alt="Two" loading="lazy"><style>img[src*="photo2"]{border:5px solid red}img[alt=""]{opacity:.5}img[loading]{outline:3px solid blue}</style>',
  ),
  it(
    'more attributes asked',
    '<form action="/go" method="post"><input name="q" type="text"><input name="email" autocomplete="email"><button onclick="1" formaction="/x">B</button></form><style>[name=q]{background:gold}form[action="/go"]{border:3px solid}form[method=post]{padding:9px}[autocomplete]{outline:2px solid red}[onclick]{font-size:30px}[formaction]{color:red}</style>',
  ),
  it('arrays as text', '<p id="a">Text of it</p><p id="b">Other</p>', {
    script:
      "Array.prototype.toJSON=function(){return 'bad'};Object.prototype.each=function(){return 1};Array.prototype.each=function(){}",
    later: "a.textContent='After';a.style.color='red'",
  }),
  it(
    'clobbered',
    '<form name="head"><input name="parentNode"><input name="children"><input name="attributes"></form><img name="body" src="/photo.png"><form name="documentElement"><input name="nodeType"><input name="ownerDocument"></form><form name="styleSheets"></form><p id="a">Text</p>',
    {
      later:
        "const s=new CSSStyleSheet();s.replaceSync('p{color:red}');Document.prototype.__lookupSetter__('adoptedStyleSheets').call(document,[s]);a.append('!')",
    },
  ),
  it(
    'clobbered form',
    '<form id="fm"><input name="append"><input id="insertBefore"><input name="localName"><input name="setAttribute"><p id="a">Text</p></form>',
    {
      later:
        "document.getElementById('a').insertAdjacentHTML('afterend','<b style=color:red>New</b>');document.getElementById('fm').className='x'",
    },
  ),
  it(
    'clobbered window',
    '<p id="a">Text</p><p id="innerWidth">x</p><a id="location2"></a><form id="performance"></form><form id="CSS"></form>',
    { script: 'window.scrollX=5;window.CSS={}', later: "a.textContent='After'" },
  ),
  it(
    'object fallback shown',
    '<object data="/none.thing" type="x/y"><p style="color:red">Shown instead</p></object><p>After</p>',
  ),
  it(
    'fallbacks',
    '<video width="100">Fallback<p>p</p></video><audio>no</audio><canvas width="50" height="50">Fallback</canvas><object><p>Object fallback</p></object><iframe>x</iframe><picture><img src="/photo.png"></picture>',
  ),
  it('shadow sheet off', '<div id="h"></div>', {
    script: "h.attachShadow({mode:'open'}).innerHTML='<style>p{color:red}</style><p>Text</p>'",
    later: "h.shadowRoot.querySelector('style').disabled=true",
  }),
  it(
    'rule media assigned',
    '<style id="s">@media print{p{color:red}}</style><style id="t" media="print">p{font-size:30px}</style><p id="a">Text of it</p><p id="b">Other</p>',
    { later: "s.sheet.cssRules[0].media='screen';t.sheet.media='screen'" },
  ),
  it(
    'rule style assigned',
    '<style id="s">p{color:blue}</style><p id="a">Text of it</p><p id="b">Other</p>',
    { later: "s.sheet.cssRules[0].style='color:red;font-size:30px'" },
  ),
  it(
    'keyframes renamed',
    '<style id="s">@keyframes x{to{margin-left:90px}}#a{animation:y .1s forwards}</style><p id="a">Text of it</p><p id="b">Other</p>',
    { later: "s.sheet.cssRules[0].name='y'" },
  ),
  it(
    'counter style by script',
    '<style id="s">@counter-style c{system:cyclic;symbols:"x";suffix:" "}li{list-style:c}</style><ul><li>A<li>B</ul>',
    { later: 's.sheet.cssRules[0].symbols=\'"+"\';s.sheet.cssRules[0].suffix=\'"> "\'' },
  ),
  it(
    'svg motion begun',
    '<svg width="300" height="100"><g transform="translate(20 10)"><rect width="20" height="20" fill="red"><animateMotion dur=".2s" fill="freeze" rotate="auto" path="M0 0 L100 50"/></rect></g></svg>',
  ),
  it(
    'number fields',
    '<input type="number" min="1" max="10"><input type="number" max="1000" value="5" step=".01"><input type="number"><input type="number" min="0" max="100000" id="n">',
    { acts: ['type #n 42'] },
  ),
  it(
    'drag',
    '<div id="a" style="position:absolute;left:10px;top:10px;width:60px;height:60px;background:red"></div><div id="b" style="position:absolute;left:400px;top:200px;width:100px;height:100px;background:#ddd"></div>',
    {
      script:
        "let d=0;a.onpointerdown=e=>{d=1;a.setPointerCapture(e.pointerId)};a.onpointermove=e=>{if(d){a.style.left=e.clientX-30+'px';a.style.top=e.clientY-30+'px'}};a.onpointerup=()=>{d=0}",
      acts: ['drag #a #b'],
    },
  ),
  it(
    'window smaller',
    '<div style="display:flex;flex-wrap:wrap"><i>One</i><i>Two</i><i>Three</i></div><style>i{width:300px;height:50px;background:gold;margin:4px}@media (max-width:800px){i{background:teal;width:40vw}}</style>',
    { acts: ['size 700 500'] },
  ),
  it('frame document replaced root', '<iframe id="f" src="/frame.html" width="300" height="120"></iframe>', {
    later:
      "const d=f.contentDocument;const n=d.createElement('html');n.innerHTML='<body><h1 style=color:red>Root</h1></body>';d.documentElement.replaceWith(n)",
  }),
  it('frozen object', '<p id="a">Text of it</p><p id="b">Other</p>', {
    script: 'Object.freeze(Object.prototype)',
    later: "a.textContent='After';a.style.color='red'",
  }),
  it('frozen history', '<p id="a">Text of it</p><p id="b">Other</p>', {
    script: 'Object.freeze(History.prototype);Object.freeze(console);1',
    later: "a.textContent='After';a.style.color='red'",
  }),
  it('frame that came later', '<div id="w"></div>', {
    later:
      "w.innerHTML='<iframe width=300 height=90></iframe>';const f=w.firstChild;f.srcdoc='<style>p{color:red}</style><p>Styled</p><div></div>';setTimeout(()=>{const d=f.contentDocument;d.styleSheets[0].insertRule('p{color:blue}',1);d.querySelector('p').animate({marginLeft:['0','31px']},{duration:50,fill:'forwards'});d.querySelector('div').attachShadow({mode:'open'}).innerHTML='<b>Inside</b>'},500)",
    acts: ['wait 700'],
  }),
  it(
    'remembered room out of sight',
    '<div id="l"></div><style>section{content-visibility:auto;contain-intrinsic-size:auto 60px}section p{height:150px;margin:0;border:1px solid}</style>',
    {
      script: "l.innerHTML=Array.from({length:60},(_,k)=>'<section><p>'+k+'</p></section>').join('')",
      acts: ['wheel 700', 'wheel 700', 'wheel 700'],
    },
  ),
]
