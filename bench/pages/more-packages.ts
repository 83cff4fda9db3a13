import type { PackagePage } from './place.ts'
import { nothing, something } from './place.ts'

const put = (html: string) => `document.body.insertAdjacentHTML('afterbegin', ${JSON.stringify(html)})`
const all = (make: typeof nothing | typeof something, ids: string) =>
  ids.split(' ').map((id) => make(id, `#${id}`))

/** Pages built with further packages, on which the script was tried only after it was written. */
export const MORE_PAGES: PackagePage[] = [
  {
    name: 'vue material',
    packages: ['vuetify@4.3.0', 'vue@3.5.22'],
    entry: `import { createApp, h, ref } from 'vue/dist/vue.runtime.esm-bundler.js'; import { createVuetify } from 'vuetify'; import 'vuetify/styles'
      import { VApp, VMain, VBtn, VCard, VCardText, VCardTitle, VChip, VSwitch, VCheckbox, VTextField, VTabs, VTab, VExpansionPanels, VExpansionPanel, VMenu, VList, VListItem, VDialog, VSnackbar, VRating, VAlert, VTable, VBadge, VAvatar, VProgressLinear } from 'vuetify/components'
      import { Ripple } from 'vuetify/directives'
      ${put('<div id="app"></div>')}
      createApp({ setup() { const tab = ref(0), on = ref(false), tick = ref(false), open = ref(false), told = ref(false), stars = ref(2), seen = ref(true)
        return () => h(VApp, null, () => h(VMain, null, () => h('div', { style: 'padding:16px;display:flex;flex-wrap:wrap;gap:12px' }, [
          h(VBtn, { id: 'dead' }, () => 'Dead'), h(VBtn, { id: 'off', disabled: true }, () => 'Off'), h(VBtn, { id: 'text', variant: 'text' }, () => 'Text button'),
          h(VCard, { width: 220 }, () => [h(VCardTitle, null, () => 'Card'), h(VCardText, { id: 'cardtext' }, () => 'Text of a card')]),
          h(VChip, { id: 'chip' }, () => 'Chip'), h(VAvatar, { id: 'avatar', color: 'primary' }, () => 'A'), h(VProgressLinear, { id: 'bar', modelValue: 40, height: 12, style: 'width:120px' }),
          h(VTabs, { modelValue: tab.value, 'onUpdate:modelValue': (v) => (tab.value = v) }, () => [h(VTab, { id: 'tab1', value: 0 }, () => 'One'), h(VTab, { id: 'tab2', value: 1 }, () => 'Two')]),
          h(VSwitch, { id: 'switch', label: 'Switch', modelValue: on.value, 'onUpdate:modelValue': (v) => (on.value = v) }),
          h(VCheckbox, { id: 'check', label: 'Tick', modelValue: tick.value, 'onUpdate:modelValue': (v) => (tick.value = v) }),
          h(VTextField, { id: 'field', label: 'Name', style: 'width:180px' }), h(VRating, { modelValue: stars.value, 'onUpdate:modelValue': (v) => (stars.value = v), id: 'stars' }),
          h(VExpansionPanels, { style: 'width:240px' }, () => h(VExpansionPanel, { title: 'More', text: 'Inside', id: 'panel' })),
          seen.value ? h(VAlert, { id: 'alert', closable: true, 'onUpdate:modelValue': () => (seen.value = false), width: 240 }, () => 'Told') : null,
          h(VMenu, null, { activator: ({ props }) => h(VBtn, { id: 'menu', ...props }, () => 'Menu'), default: () => h(VList, null, () => [h(VListItem, { title: 'One' })]) }),
          h(VBtn, { id: 'dialog', onClick: () => (open.value = true) }, () => 'Dialog'), h(VDialog, { modelValue: open.value, 'onUpdate:modelValue': (v) => (open.value = v), width: 300 }, () => h(VCard, null, () => h(VCardText, { id: 'dialogtext' }, () => 'Text'))),
          h(VBtn, { id: 'snack', onClick: () => (told.value = true) }, () => 'Snack'), h(VSnackbar, { modelValue: told.value, 'onUpdate:modelValue': (v) => (told.value = v) }, () => 'Saved'),
          h(VTable, { style: 'width:240px' }, () => [h('tbody', null, [1, 2].map((k) => h('tr', null, [h('td', { id: 'cell' + k }, 'Row ' + k), h('td', null, 'B')]))) ]),
        ]))) } }).use(createVuetify({ directives: { Ripple } })).mount('#app')`,
    places: [
      ...all(nothing, 'dead off text cardtext chip avatar bar tab1 cell1'),
      nothing('text of an alert', '#alert .v-alert__content'),
      { ...nothing('text of an open dialog', '#dialogtext'), first: '#dialog' },
      ...all(something, 'tab2 menu dialog snack field'),
      something('switch', '.v-switch input'),
      something('check', '.v-checkbox input'),
      something('panel', '#panel button'),
      something('close', '#alert .v-alert__close button'),
    ],
  },
  {
    name: 'react mantine',
    packages: ['@mantine/core@9.8.1', '@mantine/hooks@9.8.1', 'react@19.2.0', 'react-dom@19.2.0'],
    entry: `import { createElement as h, useState } from 'react'; import { createRoot } from 'react-dom/client'; import '@mantine/core/styles.css'
      import { MantineProvider, Accordion, Badge, Button, Card, Checkbox, Chip, Drawer, Menu, Modal, NumberInput, Pagination, Popover, Progress, Rating, SegmentedControl, Select, Slider, Stepper, Switch, Table, Tabs, TextInput, Timeline, Tooltip } from '@mantine/core'
      function App() { const [open, setOpen] = useState(false), [side, setSide] = useState(false), [step, setStep] = useState(1)
        return h(MantineProvider, null, h('div', { style: { padding: 16, display: 'flex', flexWrap: 'wrap', gap: 12 } },
          h(Button, { id: 'dead' }, 'Dead'), h(Button, { id: 'off', disabled: true }, 'Off'), h(Button, { id: 'loading', loading: true }, 'Loading'),
          h(Card, { withBorder: true, id: 'card' }, 'Text of a card'), h(Badge, { id: 'badge' }, 'New'), h(Progress, { id: 'bar', value: 40, w: 120, size: 'xl' }),
          h(Timeline, { active: 1 }, h(Timeline.Item, { title: 'Sent', id: 'line' }, 'Yesterday')),
          h(Table, { w: 200 }, h(Table.Tbody, null, h(Table.Tr, null, h(Table.Td, { id: 'cell' }, 'Cell'), h(Table.Td, null, 'B')))),
          h(Tabs, { defaultValue: 'a' }, h(Tabs.List, null, h(Tabs.Tab, { value: 'a', id: 'tab1' }, 'One'), h(Tabs.Tab, { value: 'b', id: 'tab2' }, 'Two')), h(Tabs.Panel, { value: 'a' }, 'First'), h(Tabs.Panel, { value: 'b' }, 'Second')),
          h(Accordion, { w: 200 }, h(Accordion.Item, { value: 'x' }, h(Accordion.Control, { id: 'accordion' }, 'More'), h(Accordion.Panel, null, 'Inside'))),
          h(Checkbox, { id: 'check', label: 'Tick' }), h(Switch, { id: 'switch', label: 'Switch' }), h(Chip, { id: 'chip' }, 'Chip'), h(Rating, { defaultValue: 2, 'data-rating': true }),
          h(SegmentedControl, { data: ['Day', 'Week'], 'data-seg': true }), h(NumberInput, { id: 'number', w: 120, defaultValue: 3 }), h(Select, { id: 'select', data: ['A', 'B'], w: 140 }), h(TextInput, { id: 'field', w: 140 }),
          h(Slider, { w: 140, defaultValue: 30, 'data-slider': true }), h(Pagination, { total: 5, 'data-pages': true }),
          h(Stepper, { active: step, onStepClick: setStep }, h(Stepper.Step, { label: 'First' }), h(Stepper.Step, { label: 'Second', 'data-step2': true }), h(Stepper.Step, { label: 'Third', 'data-step3': true })),
          h(Popover, { width: 120 }, h(Popover.Target, null, h(Button, { 'data-popover': true }, 'Popover')), h(Popover.Dropdown, null, 'Text')),
          h(Menu, null, h(Menu.Target, null, h(Button, { 'data-menu': true }, 'Menu')), h(Menu.Dropdown, null, h(Menu.Item, null, 'One'))),
          h(Tooltip, { label: 'Help', openDelay: 4000 }, h(Button, { id: 'tooltip' }, 'With help')),
          h(Button, { id: 'modal', onClick: () => setOpen(true) }, 'Modal'), h(Modal, { opened: open, onClose: () => setOpen(false), title: 'Modal' }, h('p', { id: 'modaltext' }, 'Text')),
          h(Button, { id: 'drawer', onClick: () => setSide(true) }, 'Drawer'), h(Drawer, { opened: side, onClose: () => setSide(false), title: 'Drawer' }, 'Text'))) }
      ${put('<div id="root"></div>')}; createRoot(document.getElementById('root')).render(h(App))`,
    places: [
      ...all(nothing, 'dead off loading card badge bar line cell tab1 tooltip'),
      { ...nothing('text of an open modal', '#modaltext'), first: '#modal' },
      ...all(something, 'tab2 accordion check modal drawer field select number'),
      something('switch', 'label[for="switch"]'),
      something('popover', '[data-popover]'),
      something('menu', '[data-menu]'),
      something('chip', 'label[for="chip"]'),
      something('week', '[data-seg] div:last-child label'),
      something('third page', '[data-pages] button:nth-of-type(4)'),
      something('third step', '[data-step3]'),
      nothing('step that is active', '[data-step2]'),
    ],
  },
  {
    name: 'business components in shadow trees',
    packages: ['@ui5/webcomponents@2.26.0'],
    entry: `import '@ui5/webcomponents/dist/Button.js'; import '@ui5/webcomponents/dist/Card.js'; import '@ui5/webcomponents/dist/CardHeader.js'; import '@ui5/webcomponents/dist/CheckBox.js'; import '@ui5/webcomponents/dist/Switch.js'; import '@ui5/webcomponents/dist/Input.js'; import '@ui5/webcomponents/dist/Panel.js'; import '@ui5/webcomponents/dist/TabContainer.js'; import '@ui5/webcomponents/dist/Tab.js'; import '@ui5/webcomponents/dist/List.js'; import '@ui5/webcomponents/dist/ListItemStandard.js'; import '@ui5/webcomponents/dist/Select.js'; import '@ui5/webcomponents/dist/Option.js'; import '@ui5/webcomponents/dist/Dialog.js'; import '@ui5/webcomponents/dist/MessageStrip.js'; import '@ui5/webcomponents/dist/RatingIndicator.js'; import '@ui5/webcomponents/dist/Tag.js'; import '@ui5/webcomponents/dist/ProgressIndicator.js'; import '@ui5/webcomponents/dist/SegmentedButton.js'; import '@ui5/webcomponents/dist/SegmentedButtonItem.js'
      ${put(`<ui5-button id="dead" design="Emphasized">Dead</ui5-button> <ui5-button id="off" disabled>Off</ui5-button> <ui5-tag id="tag">New</ui5-tag> <ui5-progress-indicator id="bar" value="40" style="width:160px"></ui5-progress-indicator>
      <ui5-card style="width:260px"><ui5-card-header slot="header" title-text="Card" id="head"></ui5-card-header><p id="cardtext" style="padding:8px">Text of a card</p></ui5-card>
      <ui5-list style="width:260px"><ui5-li id="li" type="Inactive">Inactive item</ui5-li><ui5-li>Second</ui5-li></ui5-list>
      <ui5-checkbox id="check" text="Tick"></ui5-checkbox> <ui5-switch id="switch"></ui5-switch> <ui5-rating-indicator id="rating" value="2"></ui5-rating-indicator> <ui5-input id="input"></ui5-input>
      <ui5-select id="select"><ui5-option>One</ui5-option><ui5-option>Two</ui5-option></ui5-select>
      <ui5-segmented-button><ui5-segmented-button-item selected>Day</ui5-segmented-button-item><ui5-segmented-button-item id="week">Week</ui5-segmented-button-item></ui5-segmented-button>
      <ui5-panel id="panel" header-text="More" collapsed style="width:260px">Inside</ui5-panel>
      <ui5-tabcontainer><ui5-tab text="One" selected>First</ui5-tab><ui5-tab text="Two" id="tab2">Second</ui5-tab></ui5-tabcontainer>
      <ui5-message-strip id="strip" style="width:260px">Told</ui5-message-strip>
      <ui5-button id="dialog">Dialog</ui5-button><ui5-dialog id="dlg" header-text="Dialog"><p id="dialogtext">Text</p></ui5-dialog>`)}
      document.getElementById('dialog').addEventListener('click', () => { document.getElementById('dlg').open = true })`,
    places: [
      ...all(nothing, 'dead off tag bar cardtext li'),
      { ...nothing('text of an open dialog', '#dialogtext'), first: '#dialog' },
      ...all(something, 'check switch rating input select week dialog'),
      { ...something('panel', '#panel'), point: { x: 20, y: 20 } },
    ],
  },
  {
    name: 'semantic jquery',
    packages: ['semantic-ui-css@2.5.0', 'jquery@3.7.1'],
    entry: `import $ from 'jquery'; window.jQuery = window.$ = $; import 'semantic-ui-css/semantic.min.css'
      require('semantic-ui-css/semantic.min.js'); ${put(`<div class="ui container" style="padding-top:16px"><div class="ui secondary menu"><a class="active item" id="item1">Home</a><a class="item">Orders</a><div class="ui dropdown item" id="dropdown">Menu <i class="dropdown icon"></i><div class="menu"><div class="item">One</div></div></div></div>
      <button class="ui primary button" id="dead">Dead</button> <button class="ui disabled button" id="off">Off</button> <span class="ui label" id="label">New</span> <button class="ui loading button" id="loading">Loading</button>
      <div class="ui segment" id="segment">Text of a segment</div><div class="ui message" id="message"><i class="close icon" id="close"></i>Told</div>
      <div class="ui styled accordion" id="acc"><div class="title" id="title"><i class="dropdown icon"></i>More</div><div class="content"><p>Inside</p></div></div>
      <div class="ui checkbox" id="check"><input type="checkbox"><label>Tick</label></div> <div class="ui toggle checkbox" id="toggle"><input type="checkbox"><label>Toggle</label></div>
      <div class="ui rating" id="rating" data-rating="2" data-max-rating="5"></div>
      <div class="ui top attached tabular menu" id="tabs"><a class="active item" data-tab="a" id="tab1">One</a><a class="item" data-tab="b" id="tab2">Two</a></div><div class="ui bottom attached active tab segment" data-tab="a">First</div><div class="ui bottom attached tab segment" data-tab="b">Second</div>
      <div class="ui progress" id="progress"><div class="bar" style="width:40%"></div></div><div class="ui steps"><div class="active step" id="step"><div class="content"><div class="title">Order</div></div></div><div class="step"><div class="content"><div class="title">Pay</div></div></div></div>
      <button class="ui button" id="modal">Open</button><div class="ui small modal" id="m"><div class="header">Dialog</div><div class="content" id="modaltext">Text</div></div></div>`)}
      $('#dropdown').dropdown(); $('#acc').accordion(); $('.ui.checkbox').checkbox(); $('#rating').rating(); $('#tabs .item').tab(); $('#close').on('click', () => $('#message').transition('fade')); $('#modal').on('click', () => $('#m').modal('show'))`,
    places: [
      ...all(nothing, 'dead off label loading segment item1 tab1 progress step'),
      { ...nothing('text of an open modal', '#modaltext'), first: '#modal' },
      ...all(something, 'dropdown close title check toggle tab2 modal'),
      something('fifth star', '#rating i:nth-child(5)'),
    ],
  },
  {
    name: 'small widgets',
    packages: [
      'choices.js@11.2.4',
      'slim-select@3.6.1',
      '@splidejs/splide@4.1.4',
      'glightbox@3.3.1',
      'intl-tel-input@29.5.1',
    ],
    entry: `import Choices from 'choices.js'; import 'choices.js/public/assets/styles/choices.min.css'; import SlimSelect from 'slim-select'; import 'slim-select/styles'; import Splide from '@splidejs/splide'; import '@splidejs/splide/css'; import GLightbox from 'glightbox'; import 'glightbox/dist/css/glightbox.min.css'
      ${put(`<div style="padding:16px;width:420px"><button id="dead">Dead</button> <h2 id="title">Widgets</h2><select id="c1"><option>One</option><option>Two</option></select><select id="c2" multiple><option selected>Red</option><option>Blue</option></select><select id="s1"><option>North</option><option>South</option></select>
      <section class="splide" id="sp"><div class="splide__track"><ul class="splide__list"><li class="splide__slide" id="slide"><div style="height:90px;background:#dfe">One</div></li><li class="splide__slide"><div style="height:90px;background:#fde">Two</div></li></ul></div></section>
      <a href="/picture.svg?big" class="glightbox" id="box"><img src="/picture.svg" width="120" height="60" alt="A picture"></a> <img id="plain" src="/picture.svg" width="80" height="40" alt="Another picture"></div>`)}
      new Choices('#c1', { searchEnabled: false }); new Choices('#c2', { removeItemButton: true }); new SlimSelect({ select: '#s1' }); new Splide('#sp').mount(); GLightbox({ selector: '.glightbox' })`,
    places: [
      ...all(nothing, 'dead title plain'),
      nothing('first of two, backwards', '.splide__arrow--prev'),
      something('next', '.splide__arrow--next'),
      something('second dot', '.splide__pagination li:nth-child(2) button'),
      something('choices', '.choices[data-type*="select-one"] .choices__inner'),
      something('take out', '.choices__button'),
      something('slim', '.ss-main'),
      something('picture', '#box'),
    ],
  },
  {
    name: 'editors',
    packages: ['trix@2.1.19', '@tiptap/core@3.35.0', '@tiptap/pm@3.35.0', '@tiptap/starter-kit@3.35.0'],
    entry: `import 'trix'; import 'trix/dist/trix.css'; import { Editor } from '@tiptap/core'; import StarterKit from '@tiptap/starter-kit'
      ${put(`<div style="padding:16px;width:620px"><button id="dead">Dead</button><trix-editor id="trix"></trix-editor><p><button id="bold">Bold</button> <button id="list">List</button> <button id="undo">Undo</button></p><div id="tip" style="border:1px solid #999;padding:8px"></div></div>`)}
      const editor = new Editor({ element: document.getElementById('tip'), extensions: [StarterKit], content: '<h2>Heading</h2><p>Some <strong>bold</strong> words.</p><ul><li>One</li></ul>' })
      document.getElementById('bold').onclick = () => editor.chain().selectAll().toggleBold().run()
      document.getElementById('list').onclick = () => editor.chain().selectAll().toggleBulletList().run()
      document.getElementById('undo').onclick = () => editor.chain().undo().run()`,
    places: [
      ...all(nothing, 'dead'),
      ...all(something, 'list'),
      something('bold', '#bold'),
      something('editor', '#tip p'),
      something('quote', '.trix-button--icon-quote'),
    ],
  },
  {
    name: 'grid',
    packages: ['ag-grid-community@36.2.0'],
    entry: `import { createGrid, ModuleRegistry, AllCommunityModule } from 'ag-grid-community'; ModuleRegistry.registerModules([AllCommunityModule])
      ${put('<div style="padding:16px"><button id="dead">Dead</button><div id="grid" style="height:360px;width:640px"></div></div>')}
      createGrid(document.getElementById('grid'), { columnDefs: [{ field: 'name', sortable: true }, { field: 'nights', filter: 'agNumberColumnFilter' }, { field: 'room', sortable: false }], rowData: Array.from({ length: 200 }, (_, k) => ({ name: 'Guest ' + k, nights: k % 7, room: 'R' + k })), pagination: true, paginationPageSize: 20, paginationPageSizeSelector: false, suppressCellFocus: true })`,
    places: [
      ...all(nothing, 'dead'),
      { ...nothing('cell', '.ag-row[row-index="1"] .ag-cell[col-id="room"]'), watchMs: 2500 },
      { ...something('sort', '.ag-header-cell[col-id="name"] .ag-header-cell-label'), watchMs: 2500 },
      { ...something('next page', '.ag-paging-button:nth-of-type(3)'), watchMs: 2500 },
      { ...nothing('page before the first', '.ag-paging-button:nth-of-type(2)'), watchMs: 2500 },
    ],
  },
  {
    name: 'charts',
    packages: ['echarts@6.1.0', 'apexcharts@5.3.6'],
    entry: `import * as echarts from 'echarts'; import ApexCharts from 'apexcharts'
      ${put(`<div style="padding:16px"><button id="dead">Dead</button><div id="e1" style="width:400px;height:200px"></div><div id="e2" style="width:400px;height:200px"></div><div id="a1" style="width:400px"></div></div>`)}
      const option = { animation: false, legend: { data: ['Nights', 'Guests'] }, xAxis: { data: ['a', 'b', 'c'] }, yAxis: {}, series: [{ name: 'Nights', type: 'bar', data: [3, 5, 2], silent: true }, { name: 'Guests', type: 'line', data: [1, 4, 3], silent: true }] }
      echarts.init(document.getElementById('e1'), null, { renderer: 'svg' }).setOption(option); echarts.init(document.getElementById('e2'), null, { renderer: 'canvas' }).setOption(option)
      new ApexCharts(document.getElementById('a1'), { chart: { type: 'bar', height: 200, animations: { enabled: false }, toolbar: { show: false } }, series: [{ name: 'Nights', data: [3, 5, 2] }, { name: 'Guests', data: [2, 2, 4] }], xaxis: { categories: ['a', 'b', 'c'] } }).render()`,
    places: [
      ...all(nothing, 'dead'),
      { ...something('legend in svg', '#e1'), point: { x: 176, y: 173 }, watchMs: 2500 },
      { ...something('legend on a canvas', '#e2'), point: { x: 176, y: 173 }, watchMs: 2500 },
      {
        ...something('legend of another', '.apexcharts-legend-series:last-child .apexcharts-legend-text'),
        watchMs: 2500,
      },
    ],
  },
  {
    name: 'react themes',
    packages: [
      '@radix-ui/themes@3.3.0',
      'react-aria-components@1.22.1',
      'react-select@5.10.2',
      'react@19.2.0',
      'react-dom@19.2.0',
    ],
    entry: `import { createElement as h, useState } from 'react'; import { createRoot } from 'react-dom/client'; import '@radix-ui/themes/styles.css'
      import { Theme, Button, Card, Text, Switch, Tabs, Dialog, DropdownMenu, Badge, Avatar, Callout, Table, SegmentedControl, Slider, Checkbox, RadioCards, Progress } from '@radix-ui/themes'
      import { Disclosure, DisclosurePanel, Button as AriaButton, ToggleButton, ListBox, ListBoxItem, NumberField, Group, Input } from 'react-aria-components'; import Select from 'react-select'
      function App() { const [n, setN] = useState(0)
        return h(Theme, { accentColor: 'teal' }, h('div', { style: { padding: 16, display: 'flex', flexWrap: 'wrap', gap: 12 } },
          h(Button, { id: 'dead' }, 'Dead'), h(Button, { id: 'off', disabled: true }, 'Off'), h(Card, { id: 'card' }, h(Text, null, 'Text of a card')), h(Badge, { id: 'badge' }, 'New'), h(Avatar, { 'data-avatar': true, fallback: 'A' }),
          h(Callout.Root, { id: 'callout' }, h(Callout.Text, null, 'Told')), h(Progress, { id: 'bar', value: 30, style: { width: 120, height: 12 } }),
          h(Table.Root, null, h(Table.Body, null, h(Table.Row, null, h(Table.Cell, { id: 'cell' }, 'Cell'), h(Table.Cell, null, 'B')))),
          h(Switch, { id: 'switch' }), h(Checkbox, { id: 'check' }), h(SegmentedControl.Root, { defaultValue: 'd' }, h(SegmentedControl.Item, { value: 'd', id: 'day' }, 'Day'), h(SegmentedControl.Item, { value: 'w', id: 'week' }, 'Week')),
          h(Tabs.Root, { defaultValue: 'a' }, h(Tabs.List, null, h(Tabs.Trigger, { value: 'a', id: 'tab1' }, 'One'), h(Tabs.Trigger, { value: 'b', id: 'tab2' }, 'Two')), h(Tabs.Content, { value: 'a' }, 'First'), h(Tabs.Content, { value: 'b' }, 'Second')),
          h(RadioCards.Root, { defaultValue: '1' }, h(RadioCards.Item, { value: '1', id: 'radio1' }, 'One'), h(RadioCards.Item, { value: '2', id: 'radio2' }, 'Two')),
          h(Slider, { defaultValue: [30], style: { width: 140 } }),
          h(Dialog.Root, null, h(Dialog.Trigger, null, h(Button, { id: 'dialog' }, 'Dialog')), h(Dialog.Content, null, h(Dialog.Title, null, 'Dialog'), h('p', { id: 'dialogtext' }, 'Text'))),
          h(DropdownMenu.Root, null, h(DropdownMenu.Trigger, null, h(Button, { id: 'menu' }, 'Menu')), h(DropdownMenu.Content, null, h(DropdownMenu.Item, null, 'One'))),
          h(Disclosure, null, h(AriaButton, { slot: 'trigger', id: 'disclosure' }, 'More'), h(DisclosurePanel, null, 'Inside')), h(ToggleButton, { id: 'toggle' }, 'Toggle'), h(AriaButton, { id: 'aria' }, 'Dead, too'),
          h(ListBox, { selectionMode: 'single', 'aria-label': 'List' }, h(ListBoxItem, { id: 'x', 'data-item': true }, 'First item')),
          h(NumberField, { defaultValue: 2, 'aria-label': 'Guests' }, h(Group, null, h(AriaButton, { slot: 'decrement', id: 'less' }, '–'), h(Input), h(AriaButton, { slot: 'increment', id: 'more' }, '+'))),
          h('div', { style: { width: 180 } }, h(Select, { options: [{ value: 1, label: 'One' }], classNamePrefix: 'rs' })),
          h(Button, { id: 'count', onClick: () => setN(n + 1) }, 'Count'), h('b', null, n))) }
      ${put('<div id="root"></div>')}; createRoot(document.getElementById('root')).render(h(App))`,
    places: [
      ...all(nothing, 'dead off card badge callout bar cell day tab1 radio1 aria'),
      { ...nothing('text of an open dialog', '#dialogtext'), first: '#dialog' },
      ...all(something, 'switch check week tab2 radio2 dialog menu disclosure more less count'),
      something('select', '.rs__control'),
    ],
  },
  {
    name: 'light scripts',
    packages: ['preact@11.2.0', 'htm@3.1.1', 'gsap@3.15.0', 'photoswipe@5.4.4'],
    entry: `import { render } from 'preact'; import { useState } from 'preact/hooks'; import { html } from 'htm/preact'; import { gsap } from 'gsap'; import PhotoSwipeLightbox from 'photoswipe/lightbox'; import PhotoSwipe from 'photoswipe'; import 'photoswipe/style.css'
      ${put('<div id="root"></div><p><button id="move">Move</button> <span id="ball" style="display:inline-block;width:30px;height:30px;border-radius:50%;background:teal"></span> <span id="spin" style="display:inline-block;width:30px;height:30px;background:gold"></span> <button id="dead">Dead</button></p><div id="gallery"><a id="shot" href="/picture.svg?big" data-pswp-width="400" data-pswp-height="200"><img src="/picture.svg" width="120" height="60" alt="Shot"></a></div>')}
      function App() { const [items, set] = useState(['One', 'Two']); return html\`<ul>\${items.map((one) => html\`<li>\${one} <button class="gone" onClick=\${() => set(items.filter((other) => other !== one))}>×</button></li>\`)}</ul><button id="same" onClick=\${() => set([...items])}>Same again</button> <button id="add" onClick=\${() => set([...items, 'Three'])}>Add</button>\` }
      render(html\`<\${App} />\`, document.getElementById('root'))
      document.getElementById('move').onclick = () => gsap.to('#ball', { x: 200, duration: 0.6 })
      gsap.to('#spin', { rotation: 360, repeat: -1, duration: 2, ease: 'none' })
      new PhotoSwipeLightbox({ gallery: '#gallery', children: 'a', pswpModule: PhotoSwipe }).init()`,
    places: [
      ...all(nothing, 'dead same ball'),
      ...all(something, 'add move shot'),
      something('take out', '.gone'),
    ],
  },
]
