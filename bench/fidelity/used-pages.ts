import { PACKAGE_PAGES } from '../pages/packages.ts'

/** A page built with general-purpose packages, and what somebody does on it: acts as in features.ts. */
export interface UsedPage {
  name: string
  packages: readonly string[]
  entry: string
  acts: readonly string[]
  /** looked at as on a phone, too */
  phones?: boolean
}

const put = (html: string) => `document.body.insertAdjacentHTML('afterbegin', ${JSON.stringify(html)})`
const rows = (count: number, row: (k: number) => string) =>
  Array.from({ length: count }, (_, k) => row(k)).join('')
const REACT = ['react@19.2.0', 'react-dom@19.2.0']
const react = (imports: string, body: string) =>
  `import { createElement as h, useState } from 'react'; import { createRoot } from 'react-dom/client'; ${imports}
   ${body}; ${put('<div id="root"></div>')}; createRoot(document.getElementById('root')).render(h(App))`

const OWN: UsedPage[] = [
  {
    name: 'components in shadow trees (lit)',
    packages: ['@material/web@2.4.0'],
    entry: `import '@material/web/all.js'; ${put(
      `<h1>Settings</h1><md-tabs><md-primary-tab id="t1">One</md-primary-tab><md-primary-tab id="t2">Two</md-primary-tab></md-tabs>
       <md-list style="width:300px"><md-list-item>First<span slot="supporting-text">More</span></md-list-item><md-divider></md-divider><md-list-item type="button">Second</md-list-item></md-list>
       <p><md-checkbox id="c" touch-target="wrapper"></md-checkbox><md-switch id="s"></md-switch><md-radio id="r" name="x"></md-radio><md-slider value="30"></md-slider></p>
       <md-filled-button id="b">Save</md-filled-button> <md-outlined-button>Cancel</md-outlined-button> <md-fab label="New" variant="primary"></md-fab>
       <p><md-outlined-text-field label="Name" id="f"></md-outlined-text-field></p><md-chip-set><md-filter-chip id="chip" label="Filter"></md-filter-chip></md-chip-set><md-linear-progress value="0.4"></md-linear-progress>`,
    )}`,
    acts: ['click #t2', 'click #c', 'click #s', 'click #chip', 'wait 600'],
    phones: true,
  },
  {
    name: 'components in shadow trees (fast)',
    packages: ['@fluentui/web-components@2.6.1'],
    entry: `import { provideFluentDesignSystem, allComponents } from '@fluentui/web-components'; provideFluentDesignSystem().register(allComponents)
      ${put(
        `<h1>Files</h1><fluent-card style="padding:20px;width:400px"><fluent-button appearance="accent" id="b">Upload</fluent-button> <fluent-button>Other</fluent-button>
         <p><fluent-checkbox id="c">Remember</fluent-checkbox> <fluent-switch id="s">On</fluent-switch></p><fluent-tabs activeid="a"><fluent-tab id="a">A</fluent-tab><fluent-tab id="b2">B</fluent-tab><fluent-tab-panel>Panel A</fluent-tab-panel><fluent-tab-panel>Panel B</fluent-tab-panel></fluent-tabs>
         <fluent-accordion><fluent-accordion-item id="acc"><span slot="heading">More</span>Inside</fluent-accordion-item></fluent-accordion><fluent-badge appearance="accent">New</fluent-badge><fluent-progress value="40"></fluent-progress></fluent-card>`,
      )}`,
    acts: ['click #c', 'click #s', 'click #b2', 'wait 600'],
  },
  {
    name: 'phone framework in shadow trees',
    packages: ['@ionic/core@8.7.5'],
    entry: `import '@ionic/core/css/ionic.bundle.css'; import { initialize } from '@ionic/core/components'
      ${[
        'app',
        'header',
        'toolbar',
        'title',
        'content',
        'list',
        'item',
        'label',
        'button',
        'toggle',
        'card',
        'card-header',
        'card-title',
        'card-content',
        'segment',
        'segment-button',
        'badge',
        'note',
      ]
        .map(
          (name) =>
            `import { defineCustomElement as d${name.replaceAll('-', '')} } from '@ionic/core/components/ion-${name}.js'; d${name.replaceAll('-', '')}()`,
        )
        .join('\n')}
      initialize({ mode: 'md' }); ${put(
        `<ion-app><ion-header><ion-toolbar color="primary"><ion-title>Orders</ion-title></ion-toolbar></ion-header><ion-content><ion-segment value="a"><ion-segment-button value="a" id="sa"><ion-label>All</ion-label></ion-segment-button><ion-segment-button value="b" id="sb"><ion-label>Open</ion-label></ion-segment-button></ion-segment>
         <ion-list>${rows(14, (k) => `<ion-item><ion-label>Order ${k}<p>Two things</p></ion-label><ion-badge slot="end">${k}</ion-badge></ion-item>`)}<ion-item><ion-toggle id="tog">Notify</ion-toggle></ion-item></ion-list>
         <ion-card><ion-card-header><ion-card-title>Card</ion-card-title></ion-card-header><ion-card-content>Text<ion-button id="b">Go</ion-button></ion-card-content></ion-card></ion-content></ion-app>`,
      )}`,
    acts: ['click #sb', 'wait 600', 'wheel 200', 'wait 500'],
    phones: true,
  },
  {
    name: 'css in script (antd)',
    packages: ['antd@5.27.4', ...REACT],
    entry: react(
      `import { Button, Card, Checkbox, Modal, Progress, Rate, Switch, Table, Tabs, Tag, Steps } from 'antd'`,
      `function App() { const [open, setOpen] = useState(false); return h('div', { style: { padding: 20 } }, h(Steps, { current: 1, items: [{ title: 'Cart' }, { title: 'Address' }, { title: 'Pay' }] }),
        h(Tabs, { items: [{ key: '1', label: 'One', children: 'First' }, { key: '2', label: 'Two', children: h(Card, { title: 'Card', style: { width: 300 } }, 'Second') }] }),
        h(Table, { size: 'small', pagination: false, columns: [{ title: 'Name', dataIndex: 'name' }, { title: 'Age', dataIndex: 'age', sorter: (a, b) => a.age - b.age }], dataSource: [1, 2, 3, 4].map((k) => ({ key: k, name: 'N' + k, age: 50 - k * 7 })) }),
        h(Switch, { id: 'sw' }), ' ', h(Checkbox, { id: 'cb' }, 'Agree'), ' ', h(Tag, { color: 'blue' }, 'Tag'), h(Rate, { defaultValue: 3 }), h(Progress, { percent: 40 }),
        h(Button, { type: 'primary', id: 'open', onClick: () => setOpen(true) }, 'Open'), h(Modal, { open, title: 'Really?', onCancel: () => setOpen(false) }, 'Text of the dialog')) }`,
    ),
    acts: [
      'click .ant-tabs-tab:nth-child(2)',
      'click #sw',
      'click #cb',
      'click th.ant-table-column-has-sorters',
      'click #open',
      'wait 600',
    ],
  },
  {
    name: 'css in script (styled)',
    packages: ['styled-components@6.1.19', ...REACT],
    entry: react(
      `import styled, { createGlobalStyle } from 'styled-components'`,
      `const Global = createGlobalStyle\`body { font: 16px sans-serif; margin: 0 }\`; const Box = styled.div\`padding: 20px; background: \${(p) => (p.$on ? 'gold' : '#eee')}; border-radius: \${(p) => p.$n * 4}px; & > b { color: teal }\`; const B = styled.button\`font-size: 20px; &:hover { color: red }\`
       function App() { const [n, set] = useState(1); return h('div', null, h(Global), Array.from({ length: n }, (_, k) => h(Box, { key: k, $on: k % 2, $n: k }, 'Row ', h('b', null, k))), h(B, { id: 'more', onClick: () => set(n + 3) }, 'More')) }`,
    ),
    acts: ['click #more', 'click #more'],
  },
  {
    name: 'carousel',
    packages: ['swiper@12.0.2'],
    entry: `import Swiper from 'swiper/bundle'; import 'swiper/css/bundle'; ${put(
      `<div class="swiper" style="height:300px"><div class="swiper-wrapper">${rows(5, (k) => `<div class="swiper-slide" style="background:hsl(${k * 60} 60% 60%)"><h2>Slide ${k}</h2></div>`)}</div><div class="swiper-pagination"></div><div class="swiper-button-next"></div></div><p>Text below</p>`,
    )}; new Swiper('.swiper', { pagination: { el: '.swiper-pagination' }, navigation: { nextEl: '.swiper-button-next' } })`,
    acts: ['click .swiper-button-next', 'wait 500', 'click .swiper-button-next', 'wait 700'],
    phones: true,
  },
  {
    name: 'editor of code',
    packages: ['codemirror@6.0.2', '@codemirror/lang-javascript@6.2.4'],
    entry: `import { EditorView, basicSetup } from 'codemirror'; import { javascript } from '@codemirror/lang-javascript'; ${put('<h1>Code</h1><div id="e"></div><p>Below</p>')}
      new EditorView({ doc: ${JSON.stringify(rows(12, (k) => `const a${k} = ${k} // line\n`))}, extensions: [basicSetup, javascript()], parent: document.getElementById('e') })`,
    acts: ['click h1'],
  },
  {
    name: 'editor of text',
    packages: ['quill@2.0.3'],
    entry: `import Quill from 'quill'; import 'quill/dist/quill.snow.css'; ${put('<h1>Note</h1><div id="e"><p>Some <strong>text</strong></p></div>')}; new Quill('#e', { theme: 'snow' })`,
    acts: ['click .ql-bold', 'click h1'],
  },
  {
    name: 'map',
    packages: ['leaflet@1.9.4'],
    entry: `import L from 'leaflet'; import 'leaflet/dist/leaflet.css'; ${put('<h1>Map</h1><div id="m" style="height:400px"></div>')}
      const map = L.map('m').setView([50, 8], 5); L.tileLayer('/picture.svg?{z}{x}{y}').addTo(map); L.circle([50, 8], { radius: 200000 }).addTo(map); L.polygon([[51, 5], [52, 9], [49, 11]]).addTo(map).bindPopup('Popup')`,
    acts: ['click .leaflet-control-zoom-in', 'wait 900'],
  },
  {
    name: 'charts as drawings of lines',
    packages: ['d3@7.9.0'],
    entry: `import * as d3 from 'd3'; ${put('<h1>Chart</h1><button id="b">Other</button><svg width="600" height="300"></svg>')}
      const x = d3.scaleBand(d3.range(8), [40, 590]).padding(0.2), y = d3.scaleLinear([0, 100], [270, 10]), svg = d3.select('svg')
      svg.append('g').attr('transform', 'translate(0,270)').call(d3.axisBottom(x)); svg.append('g').attr('transform', 'translate(40,0)').call(d3.axisLeft(y))
      const draw = (data) => svg.selectAll('rect').data(data).join('rect').attr('fill', 'steelblue').attr('x', (_, i) => x(i)).attr('width', x.bandwidth()).transition().duration(300).attr('y', y).attr('height', (v) => 270 - y(v))
      draw([10, 40, 30, 80, 20, 60, 50, 90]); document.getElementById('b').onclick = () => draw([90, 10, 50, 20, 70, 30, 60, 40])`,
    acts: ['click #b', 'wait 600'],
  },
  {
    name: 'charts on a canvas',
    packages: ['chart.js@4.5.1'],
    entry: `import Chart from 'chart.js/auto'; ${put('<h1>Chart</h1><div style="width:600px"><canvas id="c"></canvas></div>')}; new Chart('c', { type: 'bar', data: { labels: ['A', 'B', 'C'], datasets: [{ label: 'Sold', data: [3, 7, 5] }] }, options: { animation: false } })`,
    phones: true,
    acts: ['wait 2500'],
  },
  {
    name: 'table',
    packages: ['tabulator-tables@6.3.1'],
    entry: `import { TabulatorFull as Tabulator } from 'tabulator-tables'; import 'tabulator-tables/dist/css/tabulator.min.css'; ${put('<h1>Table</h1><div id="t"></div>')}
      new Tabulator('#t', { height: 350, data: Array.from({ length: 500 }, (_, k) => ({ id: k, name: 'Row ' + (k * 7) % 500, n: (k * 37) % 100 })), layout: 'fitColumns', columns: [{ title: 'Name', field: 'name' }, { title: 'N', field: 'n', sorter: 'number' }, { title: 'Bar', field: 'n', formatter: 'progress' }] })`,
    acts: ['click .tabulator-col[tabulator-field=n]', 'hover .tabulator-row', 'wheel 900', 'wait 500'],
  },
  {
    name: 'form',
    packages: ['flatpickr@4.6.13', 'tom-select@2.4.3', 'nouislider@15.8.1', 'bulma@1.0.4'],
    entry: `import 'bulma/css/bulma.min.css'; import flatpickr from 'flatpickr'; import 'flatpickr/dist/flatpickr.min.css'; import TomSelect from 'tom-select'; import 'tom-select/dist/css/tom-select.css'; import noUiSlider from 'nouislider'; import 'nouislider/dist/nouislider.css'
      ${put(
        `<section class="section"><h1 class="title">Book</h1><div class="columns"><div class="column"><div class="field"><label class="label">Date</label><input class="input" id="d"></div><label class="checkbox"><input type="checkbox" id="c"> Agree</label> <label class="radio"><input type="radio" id="r"> One</label>
         <div class="select"><select><option>A</option><option>B</option></select></div><div id="slider" style="margin:20px"></div><button class="button is-primary" id="go">Go</button> <progress class="progress is-info" value="60" max="100"></progress></div><div class="column"><article class="message is-warning"><div class="message-header">Note</div><div class="message-body">Text</div></article><div class="notification is-danger">No</div></div></div></section>`,
      )}
      flatpickr('#d', { defaultDate: '2026-03-04' }); noUiSlider.create(document.getElementById('slider'), { start: [20, 80], connect: true, range: { min: 0, max: 100 } })`,
    acts: ['click #c', 'click #r', 'click #d', 'wait 400'],
    phones: true,
  },
  {
    name: 'calendar',
    packages: ['@fullcalendar/core@6.1.19', '@fullcalendar/daygrid@6.1.19'],
    entry: `import { Calendar } from '@fullcalendar/core'; import grid from '@fullcalendar/daygrid'; ${put('<div id="c"></div>')}
      new Calendar(document.getElementById('c'), { plugins: [grid], initialDate: '2026-03-01', height: 650, events: [{ title: 'Trip', start: '2026-03-04', end: '2026-03-07' }, { title: 'Call', start: '2026-04-10' }] }).render()`,
    acts: ['click .fc-next-button', 'wait 300'],
  },
  {
    name: 'dialogs and hints',
    packages: ['tippy.js@6.3.7', 'jquery@3.7.1', 'jquery-ui@1.14.1', 'sortablejs@1.15.6'],
    entry: `import $ from 'jquery'; window.jQuery = window.$ = $; import tippy from 'tippy.js'; import 'tippy.js/dist/tippy.css'; import Sortable from 'sortablejs'
      ${put('<h1>Things</h1><ul id="l"><li>A<li>B<li>C</ul><button id="tip">Tip</button> <button id="o">Open</button><dialog id="d"><h2>Dialog</h2><p>Text</p><button>Close</button></dialog><details id="more"><summary>More</summary><p>Inside</p></details>')}
      Sortable.create(document.getElementById('l')); tippy('#tip', { content: 'Words', trigger: 'click', hideOnClick: false }); document.getElementById('o').onclick = () => document.getElementById('d').showModal()`,
    acts: ['click #tip', 'click summary', 'click #o', 'wait 400'],
  },
  {
    name: 'admin template',
    packages: ['uikit@3.23.13'],
    entry: `import UIkit from 'uikit'; import 'uikit/dist/css/uikit.min.css'; ${put(
      `<nav class="uk-navbar-container" uk-navbar><div class="uk-navbar-left"><ul class="uk-navbar-nav"><li class="uk-active"><a href="#">Home</a></li><li><a href="#">Orders</a></li></ul></div></nav><div class="uk-container uk-margin-top"><div class="uk-child-width-1-3@s" uk-grid>${rows(3, (k) => `<div><div class="uk-card uk-card-default uk-card-body"><h3 class="uk-card-title">Card ${k}</h3><p>Text of a card that goes on for a while.</p></div></div>`)}</div>
       <ul uk-accordion id="a"><li><a class="uk-accordion-title" href>One</a><div class="uk-accordion-content"><p>First</p></div></li><li><a class="uk-accordion-title" href>Two</a><div class="uk-accordion-content"><p>Second</p></div></li></ul><table class="uk-table uk-table-striped">${rows(5, (k) => `<tr><td>${k}</td><td>Value</td></tr>`)}</table><button class="uk-button uk-button-primary" id="m" uk-toggle="target: #mod">Open</button><div id="mod" uk-modal><div class="uk-modal-dialog uk-modal-body"><h2>Modal</h2></div></div></div>`,
    )}`,
    acts: ['click .uk-accordion-title', 'wait 600', 'click #m', 'wait 700'],
  },
  {
    name: 'vue gallery',
    packages: ['vue@3.5.22', 'element-plus@2.11.4'],
    entry: `import { createApp, h, ref } from 'vue/dist/vue.runtime.esm-bundler.js'; import ElementPlus, { ElButton, ElTable, ElTableColumn, ElSwitch, ElCollapse, ElCollapseItem, ElDrawer, ElRate, ElSteps, ElStep } from 'element-plus'; import 'element-plus/dist/index.css'
      globalThis.__VUE_OPTIONS_API__ = true; ${put('<div id="app"></div>')}
      createApp({ setup() { const on = ref(false), open = ref(false), part = ref([]); return () => h('div', { style: 'padding:20px' }, [h(ElSteps, { active: 1 }, () => [h(ElStep, { title: 'One' }), h(ElStep, { title: 'Two' })]), h(ElTable, { data: [1, 2, 3].map((k) => ({ a: k, b: 'B' + k })) }, () => [h(ElTableColumn, { prop: 'a', label: 'A' }), h(ElTableColumn, { prop: 'b', label: 'B' })]), h(ElSwitch, { id: 'sw', modelValue: on.value, 'onUpdate:modelValue': (v) => (on.value = v) }), h(ElRate, { modelValue: 3 }), h(ElCollapse, { modelValue: part.value, 'onUpdate:modelValue': (v) => (part.value = v) }, () => [h(ElCollapseItem, { title: 'Part', name: '1' }, () => 'Inside')]), h(ElButton, { type: 'primary', id: 'o', onClick: () => (open.value = true) }, () => 'Open'), h(ElDrawer, { modelValue: open.value, title: 'Drawer' }, () => 'Inside')]) } }).use(ElementPlus).mount('#app')`,
    acts: ['click .el-switch', 'click .el-collapse-item__header', 'wait 500', 'click #o', 'wait 700'],
  },
  {
    name: 'components with states in shadow trees',
    packages: ['@spectrum-web-components/bundle@1.12.2'],
    entry: `import '@spectrum-web-components/bundle/elements.js'; ${put(`<sp-theme system="spectrum" color="light" scale="medium"><h1>Files</h1><sp-button variant="accent" id="b">Save</sp-button> <sp-action-button id="ab">Act</sp-action-button> <sp-checkbox id="c">Check</sp-checkbox> <sp-switch id="s">Switch</sp-switch><sp-tabs selected="1"><sp-tab label="One" value="1"></sp-tab><sp-tab label="Two" value="2" id="t2"></sp-tab><sp-tab-panel value="1">Panel one</sp-tab-panel><sp-tab-panel value="2">Panel two</sp-tab-panel></sp-tabs><sp-accordion><sp-accordion-item label="More" id="acc"><p>Inside</p></sp-accordion-item></sp-accordion><sp-textfield placeholder="Name" id="f"></sp-textfield><sp-slider label="Much" value="3" min="0" max="10"></sp-slider><sp-progress-bar label="Load" progress="40"></sp-progress-bar><sp-meter progress="60">Meter</sp-meter><sp-table><sp-table-head><sp-table-head-cell>A</sp-table-head-cell><sp-table-head-cell>B</sp-table-head-cell></sp-table-head><sp-table-body><sp-table-row><sp-table-cell>1</sp-table-cell><sp-table-cell>2</sp-table-cell></sp-table-row></sp-table-body></sp-table></sp-theme>`)}`,
    acts: ['click #c', 'click #s', 'click #t2', 'click #acc', 'wait 600', 'type #f Hello'],
  },
  {
    name: 'components with mixed-in rules',
    packages: [
      '@polymer/paper-button@3.0.1',
      '@polymer/paper-toggle-button@3.0.1',
      '@polymer/paper-tabs@3.1.0',
      '@polymer/paper-input@3.2.1',
      '@polymer/paper-checkbox@3.1.0',
      '@polymer/iron-collapse@3.0.1',
      '@polymer/paper-card@3.0.1',
    ],
    entry: `import '@polymer/paper-button/paper-button.js'; import '@polymer/paper-toggle-button/paper-toggle-button.js'; import '@polymer/paper-tabs/paper-tabs.js'; import '@polymer/paper-input/paper-input.js'; import '@polymer/paper-checkbox/paper-checkbox.js'; import '@polymer/iron-collapse/iron-collapse.js'; import '@polymer/paper-card/paper-card.js';
      ${put(`<custom-style><style is="custom-style">html{--paper-tabs-selection-bar-color:#c03}.x{color:#00a}</style></custom-style><paper-tabs selected="0"><paper-tab>One</paper-tab><paper-tab id="t2">Two</paper-tab></paper-tabs><paper-card heading="Card"><div class="card-content">Content</div><div class="card-actions"><paper-button raised id="b">Do</paper-button></div></paper-card><paper-input label="Name" id="i"></paper-input><paper-checkbox id="c">Check</paper-checkbox><paper-toggle-button id="s">On</paper-toggle-button><iron-collapse id="col"><div class="x">Inside</div></iron-collapse>`)}
      document.getElementById('b').onclick = () => document.getElementById('col').toggle()`,
    acts: ['click #t2', 'click #c', 'click #s', 'click #b', 'wait 900', 'click #i', 'wait 500'],
  },
  {
    name: 'editor of code and a sheet of cells',
    packages: ['ace-builds@1.43.4', 'handsontable@16.1.1', 'highlight.js@11.11.1'],
    entry: `import ace from 'ace-builds'; import 'ace-builds/src-noconflict/mode-javascript'; import 'ace-builds/src-noconflict/theme-monokai'; import Handsontable from 'handsontable'; import 'handsontable/styles/handsontable.css'; import 'handsontable/styles/ht-theme-main.css'; import hljs from 'highlight.js/lib/common'; import 'highlight.js/styles/github.css';
      ${put('<div id="ace" style="height:160px;width:600px">function hello(a) {\n  return a + 1 // more\n}\n</div><div id="h"></div><pre><code class="language-js">const x = (a) => a + 1 // words</code></pre>')}
      ace.config.set('useStrictCSP', false); const ed = ace.edit('ace'); ed.setTheme('ace/theme/monokai'); ed.session.setUseWorker(false); ed.session.setMode('ace/mode/javascript'); hljs.highlightAll();
      new Handsontable(document.getElementById('h'), { data: Array.from({ length: 60 }, (_, k) => [k, 'Row ' + k, k * 2]), colHeaders: true, rowHeaders: true, height: 220, width: 500, themeName: 'ht-theme-main', licenseKey: 'non-commercial-and-evaluation' })`,
    phones: true,
    acts: ['wait 700', 'hover #h', 'wheel 400', 'wait 600'],
  },
  {
    name: 'a sheet of 1.9 million characters',
    packages: ['@patternfly/react-core@6.6.1', '@patternfly/patternfly@6.6.1', ...REACT],
    entry: react(
      `import '@patternfly/patternfly/patternfly.css'; import { Accordion, AccordionItem, AccordionToggle, AccordionContent, Alert, Button, Card, CardTitle, CardBody, Checkbox, Label, Modal, ModalHeader, ModalBody, Progress, Switch, Tabs, Tab, TabTitleText, Tooltip, Wizard, WizardStep } from '@patternfly/react-core'`,
      `function App() { const [t, st] = useState(0), [o, so] = useState(false), [s, ss] = useState(false), [x, sx] = useState(false); return h('div', null, h(Tabs, { activeKey: t, onSelect: (_, k) => st(k) }, h(Tab, { eventKey: 0, title: h(TabTitleText, null, 'One') }, 'First'), h(Tab, { eventKey: 1, id: 'tt', title: h(TabTitleText, null, 'Two') }, h(Card, null, h(CardTitle, null, 'Card'), h(CardBody, null, 'Body')))), h(Alert, { title: 'Told', variant: 'info', isInline: true }), h(Checkbox, { id: 'c', label: 'Agree', isChecked: s, onChange: (_, v) => ss(v) }), h(Switch, { id: 'sw', isChecked: s, label: 'On' , onChange: (_, v) => ss(v) }), h(Label, { color: 'blue' }, 'Label'), h(Progress, { value: 33, title: 'Title' }), h(Accordion, null, h(AccordionItem, { isExpanded: x }, h(AccordionToggle, { id: 'acc', onClick: () => sx(!x) }, 'More'), h(AccordionContent, null, 'Inside'))), h(Button, { id: 'b', onClick: () => so(true) }, 'Open'), h(Modal, { isOpen: o, variant: 'small', onClose: () => so(false) }, h(ModalHeader, { title: 'Really' }), h(ModalBody, null, 'Text'))) }`,
    ),
    acts: ['click [role=tab] >> nth=1', 'click #c', 'click #acc', 'click #b', 'wait 2500'],
  },
]

export const USED_PAGES: UsedPage[] = [
  ...PACKAGE_PAGES.map(({ name, packages, entry, places }) => ({
    ...{ name, packages, entry },
    acts: places
      .filter(
        ({ does, first, name }) =>
          does === 'something' && !first && !/modal|dialog|dropdown|menu|select/.test(name),
      )
      .slice(0, 4)
      .map(({ at }) => `click ${at}`),
  })),
  ...OWN,
]
