import type { PackagePage } from './place.ts'
import { nothing, something } from './place.ts'

const put = (html: string) => `document.body.insertAdjacentHTML('afterbegin', ${JSON.stringify(html)})`
const all = (make: typeof nothing | typeof something, ids: string) =>
  ids.split(' ').map((id) => make(id, `#${id}`))
const REACT = ['react@19.2.0', 'react-dom@19.2.0']

/** Pages built with a third set of packages, on which the script was tried only after it was right on the others. */
export const THIRD_PAGES: PackagePage[] = [
  {
    name: 'react fluent',
    packages: ['@fluentui/react-components@9.74.11', ...REACT],
    entry: `import { createElement as h, useState } from 'react'; import { createRoot } from 'react-dom/client'
      import { FluentProvider, webLightTheme, Accordion, AccordionHeader, AccordionItem, AccordionPanel, Avatar, Badge, Button, Card, Checkbox, Combobox, Option, Dialog, DialogTrigger, DialogSurface, DialogBody, DialogTitle, Input, Menu, MenuTrigger, MenuPopover, MenuList, MenuItem, MessageBar, MessageBarBody, Popover, PopoverTrigger, PopoverSurface, ProgressBar, Radio, RadioGroup, Rating, Slider, SpinButton, Spinner, Switch, TabList, Tab, ToggleButton, Tree, TreeItem, TreeItemLayout } from '@fluentui/react-components'
      function App() { const [tab, setTab] = useState('a')
        return h(FluentProvider, { theme: webLightTheme }, h('div', { style: { padding: 16, display: 'flex', flexWrap: 'wrap', gap: 12 } },
          h(Button, { id: 'dead' }, 'Dead'), h(Button, { id: 'off', disabled: true }, 'Off'), h(Button, { id: 'focusable', disabledFocusable: true }, 'Off but focusable'), h(Card, { id: 'card', style: { width: 160 } }, 'Text of a card'), h(Badge, { id: 'badge' }, 'New'), h(Avatar, { id: 'avatar', name: 'A B' }),
          h(MessageBar, { id: 'bar' }, h(MessageBarBody, null, 'Told')), h(ProgressBar, { id: 'progress', value: 0.4, style: { width: 120 }, thickness: 'large' }), h(Spinner, { id: 'spinner', size: 'tiny', label: 'Wait' }),
          h(TabList, { selectedValue: tab, onTabSelect: (_, { value }) => setTab(value) }, h(Tab, { id: 'tab1', value: 'a' }, 'One'), h(Tab, { id: 'tab2', value: 'b' }, 'Two')),
          h(Accordion, { collapsible: true }, h(AccordionItem, { value: '1' }, h(AccordionHeader, { 'data-accordion': true }, 'More'), h(AccordionPanel, null, 'Inside'))),
          h(Checkbox, { id: 'check', label: 'Tick' }), h(Switch, { id: 'switch', label: 'Switch' }), h(ToggleButton, { id: 'toggle' }, 'Toggle'), h(RadioGroup, { defaultValue: 'x' }, h(Radio, { value: 'x', label: 'X', id: 'radio1' }), h(Radio, { value: 'y', label: 'Y', id: 'radio2' })),
          h(Combobox, { id: 'combo' }, h(Option, null, 'One')), h(Input, { id: 'field' }), h(Slider, { defaultValue: 30 }), h(SpinButton, { defaultValue: 3, incrementButton: { id: 'more' } }), h(Rating, { defaultValue: 2, id: 'rating' }),
          h(Tree, { 'aria-label': 'Tree' }, h(TreeItem, { itemType: 'branch' }, h(TreeItemLayout, { id: 'branch' }, 'Branch'), h(Tree, null, h(TreeItem, { itemType: 'leaf' }, h(TreeItemLayout, { id: 'leaf' }, 'Leaf'))))),
          h(Menu, null, h(MenuTrigger, null, h(Button, { 'data-menu': true }, 'Menu')), h(MenuPopover, null, h(MenuList, null, h(MenuItem, null, 'One')))),
          h(Popover, null, h(PopoverTrigger, null, h(Button, { 'data-popover': true }, 'Popover')), h(PopoverSurface, null, 'Text')),
          h(Dialog, null, h(DialogTrigger, null, h(Button, { 'data-dialog': true }, 'Dialog')), h(DialogSurface, null, h(DialogBody, null, h(DialogTitle, null, 'Dialog'), h('p', { id: 'dialogtext' }, 'Text')))) )) }
      ${put('<div id="root"></div>')}; createRoot(document.getElementById('root')).render(h(App))`,
    places: [
      ...all(nothing, 'dead off focusable card badge avatar bar progress spinner tab1 radio1'),
      { ...nothing('text of an open dialog', '#dialogtext'), first: '[data-dialog]' },
      ...all(something, 'tab2 check switch toggle radio2 combo field more branch'),
      something('accordion', '[data-accordion] button'),
      something('menu', '[data-menu]'),
      something('popover', '[data-popover]'),
      something('dialog', '[data-dialog]'),
    ],
  },
  {
    name: 'react chakra',
    packages: ['@chakra-ui/react@3.38.0', '@emotion/react@11.14.0', ...REACT],
    entry: `import { createElement as h, useState } from 'react'; import { createRoot } from 'react-dom/client'
      import { ChakraProvider, defaultSystem, Accordion, Alert, Badge, Box, Button, Card, Checkbox, Collapsible, Dialog, Drawer, Editable, Menu, NumberInput, Pagination, Popover, Portal, Progress, RadioGroup, RatingGroup, SegmentGroup, Skeleton, Slider, Switch, Table, Tabs, Tag, Steps } from '@chakra-ui/react'
      function App() { const [n, setN] = useState(0)
        return h(ChakraProvider, { value: defaultSystem }, h(Box, { p: 4, display: 'flex', flexWrap: 'wrap', gap: 3 },
          h(Button, { id: 'dead' }, 'Dead'), h(Button, { id: 'off', disabled: true }, 'Off'), h(Button, { id: 'loading', loading: true }, 'Loading'), h(Card.Root, { id: 'card', w: '180px' }, h(Card.Body, null, 'Text of a card')), h(Badge, { id: 'badge' }, 'New'), h(Skeleton, { id: 'skeleton', h: '40px', w: '100px' }),
          h(Alert.Root, { id: 'alert', w: '200px' }, h(Alert.Indicator), h(Alert.Title, null, 'Told')), h(Tag.Root, { id: 'tag' }, h(Tag.Label, null, 'Tag')), h(Progress.Root, { id: 'bar', value: 40, w: '120px' }, h(Progress.Track, null, h(Progress.Range))),
          h(Table.Root, { w: '200px' }, h(Table.Body, null, h(Table.Row, null, h(Table.Cell, { id: 'cell' }, 'Cell'), h(Table.Cell, null, 'B')))),
          h(Tabs.Root, { defaultValue: 'a' }, h(Tabs.List, null, h(Tabs.Trigger, { value: 'a', 'data-tab1': true }, 'One'), h(Tabs.Trigger, { value: 'b', 'data-tab2': true }, 'Two')), h(Tabs.Content, { value: 'a' }, 'First'), h(Tabs.Content, { value: 'b' }, 'Second')),
          h(Accordion.Root, { collapsible: true, w: '200px' }, h(Accordion.Item, { value: 'x' }, h(Accordion.ItemTrigger, { 'data-accordion': true }, 'More'), h(Accordion.ItemContent, null, h(Accordion.ItemBody, null, 'Inside')))),
          h(Collapsible.Root, null, h(Collapsible.Trigger, { 'data-collapse': true }, 'Fold'), h(Collapsible.Content, null, 'Folded')),
          h(Checkbox.Root, { 'data-check': true }, h(Checkbox.HiddenInput), h(Checkbox.Control), h(Checkbox.Label, null, 'Tick')), h(Switch.Root, { 'data-switch': true }, h(Switch.HiddenInput), h(Switch.Control), h(Switch.Label, null, 'Switch')),
          h(RadioGroup.Root, { defaultValue: '1' }, ['1', '2'].map((value) => h(RadioGroup.Item, { key: value, value, 'data-radio': value }, h(RadioGroup.ItemHiddenInput), h(RadioGroup.ItemIndicator), h(RadioGroup.ItemText, null, value)))),
          h(SegmentGroup.Root, { defaultValue: 'Day' }, h(SegmentGroup.Indicator), h(SegmentGroup.Items, { items: ['Day', 'Week'] })), h(RatingGroup.Root, { defaultValue: 2, count: 5 }, h(RatingGroup.HiddenInput), h(RatingGroup.Control)),
          h(NumberInput.Root, { defaultValue: '3', w: '120px' }, h(NumberInput.Control, null, h(NumberInput.IncrementTrigger, { 'data-more': true }), h(NumberInput.DecrementTrigger)), h(NumberInput.Input)), h(Editable.Root, { defaultValue: 'Click to edit' }, h(Editable.Preview, { 'data-edit': true }), h(Editable.Input)),
          h(Menu.Root, null, h(Menu.Trigger, { asChild: true }, h(Button, { 'data-menu': true }, 'Menu')), h(Portal, null, h(Menu.Positioner, null, h(Menu.Content, null, h(Menu.Item, { value: '1' }, 'One'))))),
          h(Popover.Root, null, h(Popover.Trigger, { asChild: true }, h(Button, { 'data-popover': true }, 'Popover')), h(Portal, null, h(Popover.Positioner, null, h(Popover.Content, null, h(Popover.Body, null, 'Text'))))),
          h(Dialog.Root, null, h(Dialog.Trigger, { asChild: true }, h(Button, { 'data-dialog': true }, 'Dialog')), h(Portal, null, h(Dialog.Backdrop), h(Dialog.Positioner, null, h(Dialog.Content, null, h(Dialog.Header, null, 'Dialog'), h(Dialog.Body, { id: 'dialogtext' }, 'Text'))))),
          h(Button, { id: 'count', onClick: () => setN(n + 1) }, 'Count'), h('b', null, n))) }
      ${put('<div id="root"></div>')}; createRoot(document.getElementById('root')).render(h(App))`,
    places: [
      ...all(nothing, 'dead off loading card badge skeleton alert tag cell'),
      nothing('tab that is open', '[data-tab1]'),
      nothing('radio that is set', '[data-radio="1"]'),
      { ...nothing('text of an open dialog', '#dialogtext'), first: '[data-dialog]' },
      something('tab', '[data-tab2]'),
      something('accordion', '[data-accordion]'),
      something('fold', '[data-collapse]'),
      something('check', '[data-check]'),
      something('switch', '[data-switch]'),
      something('radio', '[data-radio="2"]'),
      something('more', '[data-more]'),
      something('edit', '[data-edit]'),
      something('menu', '[data-menu]'),
      something('popover', '[data-popover]'),
      something('dialog', '[data-dialog]'),
      something('count', '#count'),
    ],
  },
  {
    name: 'vue quasar',
    packages: ['quasar@2.34.0', 'vue@3.5.22'],
    entry: `import { createApp, h, ref } from 'vue/dist/vue.runtime.esm-bundler.js'; import 'quasar/dist/quasar.css'
      import { Quasar, Ripple, QBtn, QCard, QCardSection, QBadge, QChip, QToggle, QCheckbox, QRadio, QInput, QSelect, QTabs, QTab, QTabPanels, QTabPanel, QExpansionItem, QDialog, QMenu, QList, QItem, QItemSection, QRating, QSlider, QLinearProgress, QAvatar, QStepper, QStep, QCarousel, QCarouselSlide, QBtnToggle, QTable, QTooltip } from 'quasar'
      ${put('<div id="app"></div>')}
      createApp({ setup() { const v = ref({ tab: 'a', on: false, tick: false, radio: 'x', text: '', pick: null, stars: 2, slide: 1, open: false, mode: 'd', step: 1 }); const of = (name) => ({ modelValue: v.value[name], 'onUpdate:modelValue': (x) => (v.value[name] = x) })
        return () => h('div', { style: 'padding:16px;display:flex;flex-wrap:wrap;gap:12px' }, [
          h(QBtn, { id: 'dead', label: 'Dead' }), h(QBtn, { id: 'off', disable: true, label: 'Off' }), h(QBtn, { id: 'flat', flat: true, label: 'Flat' }), h(QBtn, { id: 'loading', loading: true, label: 'Loading' }), h(QCard, { id: 'card' }, () => h(QCardSection, null, () => 'Text of a card')), h(QBadge, { id: 'badge' }, () => 'New'), h(QChip, { id: 'chip' }, () => 'Chip'), h(QChip, { id: 'chip2', clickable: true }, () => 'Clickable'), h(QAvatar, { id: 'avatar', color: 'teal' }, () => 'A'), h(QLinearProgress, { id: 'bar', value: 0.4, style: 'width:120px', size: '12px' }),
          h(QTabs, of('tab'), () => [h(QTab, { name: 'a', id: 'tab1', label: 'One' }), h(QTab, { name: 'b', id: 'tab2', label: 'Two' })]), h(QTabPanels, { ...of('tab'), animated: true }, () => [h(QTabPanel, { name: 'a' }, () => 'First'), h(QTabPanel, { name: 'b' }, () => 'Second')]),
          h(QToggle, { id: 'toggle', label: 'Toggle', ...of('on') }), h(QCheckbox, { id: 'check', label: 'Tick', ...of('tick') }), h(QRadio, { id: 'radio1', val: 'x', label: 'X', ...of('radio') }), h(QRadio, { id: 'radio2', val: 'y', label: 'Y', ...of('radio') }),
          h(QInput, { 'data-field': true, label: 'Name', ...of('text') }), h(QSelect, { 'data-select': true, label: 'Pick', options: ['A', 'B'], style: 'width:140px', ...of('pick') }), h(QRating, { 'data-rating': true, size: '2em', ...of('stars') }),
          h(QExpansionItem, { label: 'More', 'data-more': true, style: 'width:200px' }, () => h('p', 'Inside')), h(QBtnToggle, { 'data-mode': true, options: [{ label: 'Day', value: 'd' }, { label: 'Week', value: 'w' }], ...of('mode') }),
          h(QCarousel, { height: '120px', style: 'width:200px', arrows: true, animated: true, navigation: true, 'data-carousel': true, ...of('slide') }, () => [1, 2, 3].map((n) => h(QCarouselSlide, { name: n, class: 'bg-teal' }, () => 'Slide ' + n))),
          h(QBtn, { id: 'menu', label: 'Menu' }, () => h(QMenu, null, () => h(QList, null, () => h(QItem, { clickable: true }, () => h(QItemSection, null, () => 'One'))))), h(QBtn, { id: 'help', label: 'Help' }, () => h(QTooltip, { delay: 5000 }, () => 'Help')),
          h(QBtn, { id: 'dialog', label: 'Dialog', onClick: () => (v.value.open = true) }), h(QDialog, of('open'), () => h(QCard, null, () => h(QCardSection, { id: 'dialogtext' }, () => 'Text'))) ]) } }).use(Quasar, { directives: { Ripple } }).mount('#app')`,
    places: [
      ...all(nothing, 'dead off flat loading card badge chip chip2 avatar bar tab1 radio1 help'),
      { ...nothing('text of an open dialog', '#dialogtext'), first: '#dialog' },
      ...all(something, 'tab2 toggle check radio2 menu dialog'),
      something('field', '[data-field]'),
      something('select', '[data-select]'),
      something('fourth star', '[data-rating] .q-rating__icon-container:nth-child(4)'),
      something('more', '[data-more] .q-item'),
      something('week', '[data-mode] button:nth-child(2)'),
      something('next slide', '.q-carousel__next-arrow button'),
    ],
  },
  {
    name: 'carbon',
    packages: ['@carbon/web-components@2.63.0'],
    entry: `import '@carbon/web-components/es/components/button/index.js'; import '@carbon/web-components/es/components/accordion/index.js'; import '@carbon/web-components/es/components/checkbox/index.js'; import '@carbon/web-components/es/components/toggle/index.js'; import '@carbon/web-components/es/components/tabs/index.js'; import '@carbon/web-components/es/components/modal/index.js'; import '@carbon/web-components/es/components/tag/index.js'; import '@carbon/web-components/es/components/dropdown/index.js'; import '@carbon/web-components/es/components/number-input/index.js'; import '@carbon/web-components/es/components/tile/index.js'; import '@carbon/web-components/es/components/overflow-menu/index.js'; import '@carbon/web-components/es/components/notification/index.js'; import '@carbon/web-components/es/components/text-input/index.js'; import '@carbon/web-components/es/components/structured-list/index.js'
      ${put(`<div style="padding:16px;display:flex;flex-wrap:wrap;gap:12px"><cds-button id="dead">Dead</cds-button><cds-button id="off" disabled>Off</cds-button><cds-tag id="tag">Tag</cds-tag><cds-tile id="tile">Text of a tile</cds-tile><cds-expandable-tile id="expand"><cds-tile-above-the-fold-content slot="above-the-fold-content">Above</cds-tile-above-the-fold-content><cds-tile-below-the-fold-content>Below</cds-tile-below-the-fold-content></cds-expandable-tile><cds-selectable-tile id="selectable">Select me</cds-selectable-tile>
      <cds-accordion style="width:240px"><cds-accordion-item title="More" id="acc">Inside</cds-accordion-item></cds-accordion><cds-checkbox id="check">Tick</cds-checkbox><cds-toggle id="toggle" label-a="Off" label-b="On"></cds-toggle><cds-tabs value="a"><cds-tab id="tab1" target="p1" value="a">One</cds-tab><cds-tab id="tab2" target="p2" value="b">Two</cds-tab></cds-tabs><div><div id="p1" role="tabpanel">First</div><div id="p2" role="tabpanel" hidden>Second</div></div>
      <cds-dropdown id="drop" title-text="Pick" style="width:200px"><cds-dropdown-item value="a">A</cds-dropdown-item><cds-dropdown-item value="b">B</cds-dropdown-item></cds-dropdown><cds-number-input id="number" value="3" label="Number"></cds-number-input><cds-text-input id="field" label="Name"></cds-text-input>
      <cds-inline-notification id="note" title="Told" open></cds-inline-notification><cds-button id="modalopen">Open</cds-button><cds-modal id="modal"><cds-modal-header><cds-modal-heading>Dialog</cds-modal-heading></cds-modal-header><cds-modal-body id="modaltext">Text</cds-modal-body></cds-modal></div>`)}
      document.getElementById('modalopen').addEventListener('click', () => (document.getElementById('modal').open = true))`,
    places: [
      ...all(nothing, 'dead off tag tile tab1'),
      { ...nothing('text of a note', '#note'), point: { x: 60, y: 24 } },
      { ...nothing('text of an open modal', '#modaltext'), first: '#modalopen' },
      ...all(something, 'expand selectable tab2 drop field modalopen'),
      { ...something('check', '#check'), point: { x: 12, y: 12 } },
      { ...something('toggle', '#toggle'), point: { x: 20, y: 12 } },
      { ...something('accordion', '#acc'), point: { x: 20, y: 16 } },
    ],
  },
  {
    name: 'react prime',
    packages: ['primereact@10.9.7', 'primeicons@7.0.0', ...REACT],
    entry: `import { createElement as h, useState } from 'react'; import { createRoot } from 'react-dom/client'; import 'primereact/resources/themes/lara-light-teal/theme.css'
      import { Button } from 'primereact/button'; import { Card } from 'primereact/card'; import { Checkbox } from 'primereact/checkbox'; import { InputSwitch } from 'primereact/inputswitch'; import { Dropdown } from 'primereact/dropdown'; import { Dialog } from 'primereact/dialog'; import { TabView, TabPanel } from 'primereact/tabview'; import { Accordion, AccordionTab } from 'primereact/accordion'; import { Rating } from 'primereact/rating'; import { Calendar } from 'primereact/calendar'; import { DataTable } from 'primereact/datatable'; import { Column } from 'primereact/column'; import { Tag } from 'primereact/tag'; import { Paginator } from 'primereact/paginator'; import { SelectButton } from 'primereact/selectbutton'; import { Panel } from 'primereact/panel'; import { ProgressBar } from 'primereact/progressbar'; import { InputNumber } from 'primereact/inputnumber'; import { SplitButton } from 'primereact/splitbutton'; import { Carousel } from 'primereact/carousel'
      function App() { const [v, set] = useState({ tick: false, on: false, pick: null, open: false, stars: 2, mode: 'Day', first: 0, n: 3 }); const put = (more) => set({ ...v, ...more })
        return h('div', { style: { padding: 16, display: 'flex', flexWrap: 'wrap', gap: 12 } },
          h(Button, { id: 'dead', label: 'Dead' }), h(Button, { id: 'off', disabled: true, label: 'Off' }), h(Button, { id: 'text', text: true, label: 'Text' }), h(Card, { id: 'card', title: 'Card' }, 'Text'), h(Tag, { id: 'tag', value: 'New' }), h(ProgressBar, { id: 'bar', value: 40, style: { width: 120 } }),
          h(Checkbox, { 'data-check': true, checked: v.tick, onChange: (e) => put({ tick: e.checked }) }), h(InputSwitch, { 'data-switch': true, checked: v.on, onChange: (e) => put({ on: e.value }) }), h(Dropdown, { id: 'drop', value: v.pick, options: ['A', 'B'], placeholder: 'Pick', onChange: (e) => put({ pick: e.value }) }), h(SelectButton, { id: 'mode', value: v.mode, options: ['Day', 'Week'], onChange: (e) => put({ mode: e.value }) }),
          h(Rating, { id: 'rating', value: v.stars, cancel: false, onChange: (e) => put({ stars: e.value }) }), h(InputNumber, { value: v.n, showButtons: true, onValueChange: (e) => put({ n: e.value }) }), h(Calendar, { inputId: 'when' }), h(SplitButton, { id: 'split', label: 'Save', model: [{ label: 'Other' }] }),
          h(TabView, { id: 'tabs' }, h(TabPanel, { header: 'One' }, 'First'), h(TabPanel, { header: 'Two' }, 'Second')), h(Accordion, { id: 'acc', style: { width: 240 } }, h(AccordionTab, { header: 'More' }, 'Inside')), h(Panel, { id: 'panel', header: 'Panel', toggleable: true, style: { width: 200 } }, 'Inside'),
          h(DataTable, { id: 'table', value: [{ a: 'Row 1', b: 2 }, { a: 'Row 2', b: 1 }] }, h(Column, { field: 'a', header: 'Name' }), h(Column, { field: 'b', header: 'Nights', sortable: true })), h(Paginator, { id: 'pages', first: v.first, rows: 10, totalRecords: 50, onPageChange: (e) => put({ first: e.first }) }),
          h(Carousel, { value: [1, 2, 3], numVisible: 1, style: { width: 300 }, itemTemplate: (n) => h('div', { style: { height: 60 } }, 'Slide ' + n) }),
          h(Button, { id: 'dialog', label: 'Dialog', onClick: () => put({ open: true }) }), h(Dialog, { visible: v.open, header: 'Dialog', onHide: () => put({ open: false }) }, h('p', { id: 'dialogtext' }, 'Text'))) }
      ${put('<div id="root"></div>')}; createRoot(document.getElementById('root')).render(h(App))`,
    places: [
      ...all(nothing, 'dead off text card tag bar'),
      nothing('tab that is open', '#tabs li:nth-child(1) a'),
      nothing('cell', '#table tbody td'),
      nothing('header that does not sort', '#table th:nth-child(1)'),
      { ...nothing('text of an open dialog', '#dialogtext'), first: '#dialog' },
      something('tab', '#tabs li:nth-child(2) a'),
      something('check', '[data-check] input'),
      something('switch', '[data-switch] input'),
      ...all(something, 'drop when dialog'),
      something('week', '#mode > div:nth-child(2)'),
      something('fourth star', '#rating .p-rating-item:nth-child(4)'),
      something('more', '.p-inputnumber-button-up'),
      something('accordion', '#acc .p-accordion-header a'),
      something('panel', '#panel button'),
      something('sort', '#table th:nth-child(2)'),
      something('page 2', '#pages .p-paginator-page:nth-child(2)'),
      something('next', '.p-carousel-next'),
      something('split', '#split button:nth-of-type(2)'),
    ],
  },
  {
    name: 'jquery carousels',
    packages: [
      ...[
        'slick-carousel@1.8.1',
        'jquery@3.7.1',
        'flickity@3.0.0',
        'keen-slider@6.8.6',
        '@glidejs/glide@3.7.1',
      ],
      'embla-carousel@8.6.0',
    ],
    entry: `import $ from 'jquery'; window.jQuery = window.$ = $; require('slick-carousel'); import 'slick-carousel/slick/slick.css'; import Flickity from 'flickity'; import 'flickity/css/flickity.css'; import KeenSlider from 'keen-slider'; import 'keen-slider/keen-slider.min.css'; import Glide from '@glidejs/glide'; import '@glidejs/glide/dist/css/glide.core.min.css'; import Embla from 'embla-carousel'
      ${put(`<style>.s{height:70px;background:#dfe;width:100%}.e{overflow:hidden;width:300px}.ec{display:flex}.ec>div{flex:0 0 100%}</style><div style="padding:16px;width:420px"><button id="dead">Dead</button><div id="slick"><div class="s">One</div><div class="s">Two</div><div class="s">Three</div></div><div id="flick" style="margin:20px 0"><div class="s">One</div><div class="s">Two</div></div>
      <div id="keen" class="keen-slider"><div class="keen-slider__slide s" id="keenslide">One</div><div class="keen-slider__slide s">Two</div></div><button id="keennext">Next</button><div class="glide" id="glide"><div class="glide__track" data-glide-el="track"><ul class="glide__slides"><li class="glide__slide s" id="glideslide">One</li><li class="glide__slide s">Two</li></ul></div><div data-glide-el="controls"><button id="glidenext" data-glide-dir=">">Next</button></div></div>
      <div class="e" id="embla"><div class="ec"><div class="s" id="emblaslide">One</div><div class="s">Two</div></div></div><button id="emblanext">Next</button><button id="emblaprev">Back</button></div>`)}
      $('#slick').slick({ dots: true, infinite: false }); new Flickity('#flick', { wrapAround: false }); const keen = new KeenSlider('#keen'); document.getElementById('keennext').onclick = () => keen.next(); new Glide('#glide').mount(); const embla = Embla(document.getElementById('embla')); document.getElementById('emblanext').onclick = () => embla.scrollNext(); document.getElementById('emblaprev').onclick = () => embla.scrollPrev()`,
    places: [
      ...all(nothing, 'dead keenslide glideslide emblaslide emblaprev'),
      nothing('back on the first', '.slick-prev'),
      nothing('slide', '.slick-slide'),
      nothing('dot that is on', '.slick-dots li:nth-child(1) button'),
      something('slick', '.slick-next'),
      something('second dot', '.slick-dots li:nth-child(2) button'),
      something('flickity', '.flickity-prev-next-button.next'),
      ...all(something, 'keennext glidenext emblanext'),
    ],
  },
  {
    name: 'materialize',
    packages: ['materialize-css@1.0.0'],
    entry: `import 'materialize-css/dist/css/materialize.min.css'; const M = require('materialize-css')
      ${put(`<div style="padding:16px;width:560px"><a class="waves-effect waves-light btn" id="dead">Dead</a> <a class="btn disabled" id="off">Off</a> <button class="btn-flat waves-effect" id="flat">Flat</button> <div class="card-panel" id="panel">Text of a panel</div><div class="chip" id="chip">Chip<i class="close" id="chipclose">x</i></div>
      <ul class="tabs"><li class="tab"><a class="active" href="#t1" id="tab1">One</a></li><li class="tab"><a href="#t2" id="tab2">Two</a></li></ul><div id="t1">First</div><div id="t2">Second</div><ul class="collapsible"><li><div class="collapsible-header" id="head">More</div><div class="collapsible-body">Inside</div></li></ul>
      <p><label><input type="checkbox"><span id="check">Tick</span></label></p><div class="switch"><label>Off<input type="checkbox"><span class="lever" id="lever"></span>On</label></div><div class="input-field"><select id="sel"><option>A</option><option>B</option></select></div><div class="input-field"><input id="name" type="text"><label for="name" id="namelabel">Name</label></div>
      <a class="dropdown-trigger btn" data-target="dd" id="dropdown">Menu</a><ul id="dd" class="dropdown-content"><li><a href="#!">One</a></li></ul> <a class="btn modal-trigger" href="#modal" id="modalopen">Open</a><div id="modal" class="modal"><div class="modal-content"><p id="modaltext">Text</p></div></div> <a class="btn" id="toast">Toast</a><div class="progress" id="progress"><div class="determinate" style="width:70%"></div></div><img class="materialboxed" id="box" width="120" src="/picture.svg"></div>`)}
      M.AutoInit(); document.getElementById('toast').onclick = () => M.toast({ html: 'Saved' })`,
    places: [
      ...all(nothing, 'dead off flat panel chip tab1 progress'),
      { ...nothing('text of an open modal', '#modaltext'), first: '#modalopen' },
      ...all(something, 'chipclose tab2 head check lever namelabel dropdown modalopen toast box'),
      something('select', '.select-dropdown'),
    ],
  },
  {
    name: 'tables and dialogs',
    packages: [
      ...[
        'datatables.net-dt@2.3.4',
        'jquery@3.7.1',
        'sweetalert2@11.26.25',
        'notyf@3.10.0',
        'driver.js@1.8.0',
      ],
      ...['gridjs@6.2.0', 'micromodal@0.7.0', 'nprogress@0.2.0', 'cropperjs@1.6.2'],
    ],
    entry: `import $ from 'jquery'; import DataTable from 'datatables.net-dt'; import 'datatables.net-dt/css/dataTables.dataTables.css'; import Swal from 'sweetalert2'; import 'sweetalert2/dist/sweetalert2.css'; import { Notyf } from 'notyf'; import 'notyf/notyf.min.css'; import { driver } from 'driver.js'; import 'driver.js/dist/driver.css'; import { Grid } from 'gridjs'; import 'gridjs/dist/theme/mermaid.css'; import MicroModal from 'micromodal'; import NProgress from 'nprogress'; import 'nprogress/nprogress.css'
      ${put(`<style>.modal{display:none}.modal.is-open{display:block;position:fixed;inset:40px;background:#fff;border:1px solid}</style><div style="padding:16px;width:640px"><button id="dead">Dead</button> <button id="swal">Ask</button> <button id="notyf">Notify</button> <button id="tour">Tour</button> <button id="micro">Modal</button> <button id="load">Load</button><table id="dt"><thead><tr><th>Name</th><th>Nights</th></tr></thead><tbody>${Array.from({ length: 30 }, (_, k) => `<tr><td>Guest ${k}</td><td>${k % 7}</td></tr>`).join('')}</tbody></table><div id="grid"></div><div class="modal" id="mm" aria-hidden="true"><p id="mmtext">Text</p></div></div>`)}
      new DataTable('#dt'); new Grid({ columns: ['Name', 'Room'], sort: true, pagination: { limit: 3 }, data: Array.from({ length: 10 }, (_, k) => ['Guest ' + k, 'R' + k]) }).render(document.getElementById('grid')); const notyf = new Notyf()
      const on = (id, work) => (document.getElementById(id).onclick = work); on('swal', () => Swal.fire('Sure?')); on('notyf', () => notyf.success('Saved')); on('tour', () => driver({ steps: [{ element: '#dead', popover: { title: 'Here' } }] }).drive()); on('micro', () => MicroModal.show('mm')); on('load', () => { NProgress.start(); setTimeout(() => NProgress.done(), 400) })`,
    places: [
      ...all(nothing, 'dead'),
      nothing('cell', '#dt tbody tr:nth-child(2) td'),
      nothing('page that is open', '#dt_wrapper .dt-paging-button.current'),
      nothing('cell of a grid', '#grid tbody tr:nth-child(2) td'),
      { ...nothing('text of a question', '.swal2-title'), first: '#swal' },
      { ...nothing('text of an open modal', '#mmtext'), first: '#micro' },
      ...all(something, 'swal notyf tour micro load'),
      something('sort', '#dt thead th:nth-child(2)'),
      something('page 2', '#dt_wrapper .dt-paging-button:nth-child(4)'),
      something('sort a grid', '#grid th:nth-child(2) button'),
      something('page 2 of a grid', '#grid .gridjs-pages button:nth-child(3)'),
    ],
  },
  {
    name: 'drawings',
    packages: ['konva@10.9.1', 'cytoscape@3.35.0', 'ol@10.11.0'],
    entry: `import Konva from 'konva'; import cytoscape from 'cytoscape'; import OlMap from 'ol/Map.js'; import View from 'ol/View.js'; import VectorLayer from 'ol/layer/Vector.js'; import VectorSource from 'ol/source/Vector.js'; import Feature from 'ol/Feature.js'; import Point from 'ol/geom/Point.js'; import Circle from 'ol/style/Circle.js'; import Fill from 'ol/style/Fill.js'; import Style from 'ol/style/Style.js'; import 'ol/ol.css'
      ${put('<div style="padding:16px"><button id="dead">Dead</button><div id="konva" style="width:300px;height:120px"></div><div id="cy" style="width:300px;height:150px;border:1px solid"></div><div id="map" style="width:300px;height:200px"></div></div>')}
      const stage = new Konva.Stage({ container: 'konva', width: 300, height: 120 }), layer = new Konva.Layer(); stage.add(layer); const dot = new Konva.Circle({ x: 60, y: 60, radius: 30, fill: 'teal' }), still = new Konva.Rect({ x: 160, y: 30, width: 80, height: 60, fill: 'gold' }); dot.on('click', () => dot.fill(dot.fill() === 'teal' ? 'tomato' : 'teal')); layer.add(dot); layer.add(still)
      const cy = cytoscape({ container: document.getElementById('cy'), elements: [{ data: { id: 'a' }, position: { x: 60, y: 70 } }, { data: { id: 'b' }, position: { x: 200, y: 70 } }, { data: { source: 'a', target: 'b' } }], layout: { name: 'preset' }, userZoomingEnabled: false, autoungrabify: true, style: [{ selector: 'node:selected', style: { 'background-color': 'red' } }] })
      new OlMap({ target: 'map', layers: [new VectorLayer({ source: new VectorSource({ features: [new Feature(new Point([0, 0])), new Feature(new Point([6e6, 3e6]))] }), style: new Style({ image: new Circle({ radius: 20, fill: new Fill({ color: 'teal' }) }) }) })], view: new View({ center: [0, 0], zoom: 2 }) })`,
    places: [
      ...all(nothing, 'dead'),
      { ...something('dot on a canvas', '#konva'), point: { x: 60, y: 60 }, watchMs: 2500 },
      { ...nothing('box on a canvas', '#konva'), point: { x: 200, y: 60 }, watchMs: 2500 },
      { ...something('node of a graph', '#cy'), point: { x: 60, y: 70 }, watchMs: 2500 },
      { ...something('zoom in', '.ol-zoom-in'), watchMs: 2500 },
      { ...nothing('middle of a map', '#map'), point: { x: 60, y: 150 }, watchMs: 2500 },
    ],
  },
  {
    name: 'older scripts',
    packages: [
      'knockout@3.5.3',
      'mithril@2.3.8',
      'angular@1.8.3',
      '@hotwired/stimulus@3.2.2',
      'lit@3.3.3',
      'solid-js@1.9.20',
    ],
    entry: `import ko from 'knockout'; import m from 'mithril'; import { Application, Controller } from '@hotwired/stimulus'; import { LitElement, html } from 'lit'; require('angular'); import { createSignal } from 'solid-js/dist/solid.js'; import solid from 'solid-js/html/dist/html.js'; import { render } from 'solid-js/web/dist/web.js'
      ${put(`<div style="padding:16px"><div id="ko"><button id="kocount" data-bind="click: count">Count</button> <b data-bind="text: n"></b> <button id="kodead" data-bind="click: nothing">Nothing</button> <p data-bind="visible: open">Open</p><button id="koopen" data-bind="click: () => open(!open())">Open</button></div><div id="mithril"></div>
      <div ng-app="app" ng-controller="C as c"><button id="ngcount" ng-click="c.n = c.n + 1">Count</button> <b>{{c.n}}</b> <button id="ngdead" ng-click="c.same()">Nothing</button> <p ng-if="c.open">Open</p><button id="ngopen" ng-click="c.open = !c.open">Open</button></div>
      <div data-controller="stim"><button id="stim" data-action="stim#go">Stimulus</button> <output data-stim-target="out"></output> <button id="stimdead" data-action="stim#nothing">Nothing</button></div><x-counter id="lit"></x-counter><div id="solid"></div></div>`)}
      const n = ko.observable(0), open = ko.observable(false); ko.applyBindings({ n, open, count: () => n(n() + 1), nothing: () => n(n()) }, document.getElementById('ko'))
      let k = 0; m.mount(document.getElementById('mithril'), { view: () => m('div', m('button#mcount', { onclick: () => k++ }, 'Count'), m('b', k), m('button#mdead', { onclick: () => {} }, 'Nothing')) })
      window.angular.module('app', []).controller('C', function () { this.n = 0; this.same = () => {} })
      class Stim extends Controller { static targets = ['out']; go() { this.outTarget.textContent += 'x' } nothing() {} } Application.start().register('stim', Stim)
      class Counter extends LitElement { static properties = { n: { state: true } }; constructor() { super(); this.n = 0 } render() { return html\`<button id="litcount" @click=\${() => this.n++}>Count</button> <b>\${this.n}</b> <button id="litdead" @click=\${() => this.requestUpdate()}>Nothing</button>\` } } customElements.define('x-counter', Counter)
      const [c, setC] = createSignal(0); render(() => solid\`<div><button id="scount" onClick=\${() => setC(c() + 1)}>Count</button> <b>\${c}</b> <button id="sdead" onClick=\${() => setC(c())}>Nothing</button></div>\`, document.getElementById('solid'))`,
    places: [
      ...all(nothing, 'kodead mdead ngdead stimdead litdead sdead'),
      ...all(something, 'kocount koopen mcount ngcount ngopen stim litcount scount'),
    ],
  },
]
