import { MORE_PAGES } from './more-packages.ts'
import type { PackagePage } from './place.ts'
import { nothing, something } from './place.ts'
import { THIRD_PAGES } from './third-packages.ts'

/** Pages built with general-purpose packages from the registry, as sites are; each place is found by its id. */
export const PACKAGE_PAGES: PackagePage[] = [
  {
    name: 'bootstrap',
    packages: ['bootstrap@5.3.9', '@popperjs/core@2.11.8'],
    entry: `import 'bootstrap/dist/css/bootstrap.css'; import * as bootstrap from 'bootstrap'
      document.body.innerHTML = \`<div class="container">
      <button id="dead" class="btn btn-primary">Dead</button> <a id="deadlink" class="btn btn-link" href="#">Link</a>
      <button id="off" class="btn btn-primary" disabled>Off</button>
      <div class="card" style="width:12rem"><div id="cardtext" class="card-body">Text of a card</div></div>
      <span id="badge" class="badge bg-secondary">New</span>
      <ul class="list-group"><li id="item" class="list-group-item">An item</li></ul>
      <ul class="pagination"><li class="page-item disabled"><a id="page" class="page-link" href="#">1</a></li></ul>
      <div id="alert" class="alert alert-info">Told <button id="close" class="btn-close" data-bs-dismiss="alert"></button></div>
      <button id="collapse" class="btn btn-light" data-bs-toggle="collapse" data-bs-target="#c">More</button><div id="c" class="collapse">Text</div>
      <div class="dropdown"><button id="dropdown" class="btn btn-light dropdown-toggle" data-bs-toggle="dropdown">Menu</button><ul class="dropdown-menu"><li><a class="dropdown-item" href="#">One</a></li></ul></div>
      <button id="modal" class="btn btn-light" data-bs-toggle="modal" data-bs-target="#m">Open</button>
      <div class="modal" id="m"><div class="modal-dialog"><div class="modal-content"><p id="modaltext">Text</p></div></div></div>
      <button id="toggle" class="btn btn-outline-primary" data-bs-toggle="button">Toggle</button>
      <ul class="nav nav-tabs"><li class="nav-item"><button id="tab1" class="nav-link active" data-bs-toggle="tab" data-bs-target="#t1">One</button></li><li class="nav-item"><button id="tab2" class="nav-link" data-bs-toggle="tab" data-bs-target="#t2">Two</button></li></ul>
      <div class="tab-content"><div id="t1" class="tab-pane active">First</div><div id="t2" class="tab-pane">Second</div></div>
      <div class="accordion"><div class="accordion-item"><h2 class="accordion-header"><button id="accordion" class="accordion-button collapsed" data-bs-toggle="collapse" data-bs-target="#a">Part</button></h2><div id="a" class="accordion-collapse collapse"><div class="accordion-body">Text</div></div></div></div>
      <div class="form-check form-switch"><input id="switch" class="form-check-input" type="checkbox"></div>
      <div id="carousel" class="carousel slide" style="width:200px"><div class="carousel-inner"><div class="carousel-item active">One</div><div class="carousel-item">Two</div></div><button id="next" class="carousel-control-next" data-bs-target="#carousel" data-bs-slide="next">›</button></div>
      <button id="offcanvas" class="btn btn-light" data-bs-toggle="offcanvas" data-bs-target="#o">Side</button><div id="o" class="offcanvas offcanvas-start">Text</div>
      <button id="toast" class="btn btn-light">Toast</button><div id="tt" class="toast position-fixed top-0 end-0">Saved</div>
      <button id="popover" class="btn btn-light">Popover</button></div>\`
      new bootstrap.Popover('#popover', { content: 'Text', trigger: 'click' })
      document.getElementById('toast').onclick = () => bootstrap.Toast.getOrCreateInstance('#tt').show()
      document.getElementById('deadlink').onclick = (event) => event.preventDefault()`,
    places: [
      ...['dead', 'deadlink', 'off', 'cardtext', 'badge', 'item', 'page', 'alert', 'tab1'].map((id) =>
        nothing(id, `#${id}`),
      ),
      { ...nothing('text of an open dialog', '#modaltext'), first: '#modal' },
      ...[
        'close',
        'collapse',
        'dropdown',
        'modal',
        'toggle',
        'tab2',
        'accordion',
        'switch',
        'next',
        'offcanvas',
        'toast',
        'popover',
      ].map((id) => something(id, `#${id}`)),
    ],
  },
  {
    name: 'shoelace',
    packages: ['@shoelace-style/shoelace@2.20.1'],
    entry: `import '@shoelace-style/shoelace/dist/themes/light.css'; import '@shoelace-style/shoelace/dist/shoelace.js'
      document.body.innerHTML = \`<sl-button id="dead">Dead</sl-button> <sl-button id="off" disabled>Off</sl-button>
      <sl-card id="card">Text of a card</sl-card> <sl-badge id="badge">New</sl-badge> <sl-tag id="tag">Tag</sl-tag>
      <sl-avatar id="avatar"></sl-avatar> <sl-progress-bar id="bar" value="40" style="width:100px"></sl-progress-bar> <sl-spinner id="spinner"></sl-spinner>
      <sl-breadcrumb><sl-breadcrumb-item id="crumb">Here</sl-breadcrumb-item></sl-breadcrumb>
      <sl-details id="details" summary="More">Text</sl-details>
      <sl-dropdown><sl-button id="dropdown" slot="trigger" caret>Menu</sl-button><sl-menu><sl-menu-item>One</sl-menu-item></sl-menu></sl-dropdown>
      <sl-switch id="switch">Switch</sl-switch> <sl-checkbox id="checkbox">Tick</sl-checkbox>
      <sl-radio-group value="1"><sl-radio id="radio1" value="1">One</sl-radio><sl-radio id="radio2" value="2">Two</sl-radio></sl-radio-group>
      <sl-rating id="rating"></sl-rating> <sl-input id="input" style="width:160px"></sl-input>
      <sl-select id="select" style="width:160px"><sl-option value="1">One</sl-option></sl-select>
      <sl-tab-group><sl-tab id="tab1" slot="nav" panel="1">One</sl-tab><sl-tab id="tab2" slot="nav" panel="2">Two</sl-tab><sl-tab-panel name="1">First</sl-tab-panel><sl-tab-panel name="2">Second</sl-tab-panel></sl-tab-group>
      <sl-button id="opendialog">Dialog</sl-button><sl-dialog id="dialog">Text</sl-dialog>
      <sl-button id="openalert">Alert</sl-button><sl-alert id="alert">Told</sl-alert>
      <sl-copy-button id="copy" value="x"></sl-copy-button> <sl-icon-button id="icon" label="Dead icon" name="gear"></sl-icon-button>\`
      document.getElementById('opendialog').onclick = () => document.getElementById('dialog').show()
      document.getElementById('openalert').onclick = () => document.getElementById('alert').show()`,
    places: [
      ...[
        'dead',
        'off',
        'card',
        'badge',
        'tag',
        'avatar',
        'bar',
        'spinner',
        'crumb',
        'radio1',
        'tab1',
        'icon',
      ].map((id) => nothing(id, `#${id}`)),
      ...[
        'details',
        'dropdown',
        'switch',
        'checkbox',
        'radio2',
        'rating',
        'input',
        'select',
        'tab2',
        'opendialog',
        'openalert',
        'copy',
      ].map((id) => something(id, `#${id}`)),
    ],
  },
  {
    name: 'material',
    packages: [
      '@mui/material@9.5.0',
      '@emotion/react@11.14.0',
      '@emotion/styled@11.14.1',
      'react@19.2.0',
      'react-dom@19.2.0',
    ],
    entry: `import * as React from 'react'; import { createRoot } from 'react-dom/client'
      import { Accordion, AccordionDetails, AccordionSummary, Button, Card, CardContent, Checkbox, Chip, Dialog, IconButton, List, ListItemButton, Menu, MenuItem, Rating, Slider, Snackbar, Switch, Tab, Tabs, TextField, ToggleButton, Tooltip, Typography, Pagination } from '@mui/material'
      const h = React.createElement
      function App() {
        const [menu, setMenu] = React.useState(null), [open, setOpen] = React.useState(false), [tab, setTab] = React.useState(0)
        const [, again] = React.useState(0), [snack, setSnack] = React.useState(false), [on, setOn] = React.useState(false), [late, setLate] = React.useState('')
        return h('div', { style: { padding: 20, display: 'flex', flexWrap: 'wrap', gap: 12 } },
          h(Button, { id: 'dead', variant: 'contained' }, 'Dead'), h(Button, { id: 'deadtext' }, 'Dead text'),
          h(Button, { id: 'off', variant: 'contained', disabled: true }, 'Off'), h(IconButton, { id: 'deadicon' }, '★'),
          h(Button, { id: 'again', onClick: () => again((n) => n + 1) }, 'Renders again'),
          h(Card, null, h(CardContent, { id: 'card' }, 'Text of a card')), h(Chip, { id: 'chip', label: 'Chip' }), h(Chip, { id: 'chipdead', label: 'Chip', onClick: () => undefined }),
          h(Typography, { id: 'text' }, 'Text'), h(List, null, h(ListItemButton, { id: 'listdead' }, 'Item')),
          h(Checkbox, { id: 'kept', checked: true }), h(Switch, { id: 'keptswitch', checked: false }),
          h(Tooltip, { title: 'Help', enterDelay: 5000 }, h(Button, { id: 'tooltip' }, 'With help')),
          h(Button, { id: 'menu', onClick: (e) => setMenu(e.currentTarget) }, 'Menu'), h(Menu, { open: !!menu, anchorEl: menu, onClose: () => setMenu(null) }, h(MenuItem, null, 'One')),
          h(Button, { id: 'dialog', onClick: () => setOpen(true) }, 'Dialog'), h(Dialog, { open, onClose: () => setOpen(false) }, h('p', { id: 'dialogtext' }, 'Text')),
          h(Tabs, { value: tab, onChange: (_, v) => setTab(v) }, h(Tab, { id: 'tab1', label: 'One' }), h(Tab, { id: 'tab2', label: 'Two' })),
          h(Checkbox, { id: 'check' }), h(Switch, { id: 'switch' }), h(Slider, { id: 'slider', style: { width: 120 } }), h(Rating, { id: 'rating', name: 'r' }),
          h(TextField, { id: 'field', label: 'Name' }), h(ToggleButton, { id: 'toggle', value: 'x', selected: on, onChange: () => setOn(!on) }, 'T'),
          h(Button, { id: 'snack', onClick: () => setSnack(true) }, 'Snack'), h(Snackbar, { open: snack, message: 'Saved' }),
          h(Button, { id: 'late', onClick: () => setTimeout(() => setLate('Done'), 700) }, 'Late'), h('span', null, late),
          h(Accordion, null, h(AccordionSummary, { id: 'accordion' }, 'More'), h(AccordionDetails, null, 'Text')), h(Pagination, { id: 'pages', count: 5 }))
      }
      const root = document.createElement('div'); document.body.append(root); createRoot(root).render(h(App))`,
    places: [
      ...[
        'dead',
        'deadtext',
        'off',
        'deadicon',
        'again',
        'card',
        'chip',
        'chipdead',
        'text',
        'listdead',
        'kept',
        'keptswitch',
        'tooltip',
        'tab1',
      ].map((id) => nothing(id, `#${id}`)),
      { ...nothing('text of an open dialog', '#dialogtext'), first: '#dialog' },
      ...[
        'menu',
        'dialog',
        'tab2',
        'check',
        'switch',
        'slider',
        'rating',
        'field',
        'toggle',
        'snack',
        'late',
        'accordion',
      ].map((id) => something(id, `#${id}`)),
      something('third page', '#pages li:nth-child(4) button'),
    ],
  },
  {
    name: 'gallery',
    packages: ['swiper@14.4.0', 'chart.js@4.6.1', 'alpinejs@3.17.5'],
    entry: `import Swiper from 'swiper'; import { Navigation, Pagination, Autoplay } from 'swiper/modules'; import 'swiper/css'; import 'swiper/css/navigation'; import 'swiper/css/pagination'
      import { Chart, registerables } from 'chart.js'; import Alpine from 'alpinejs'
      document.body.innerHTML = \`<button id="dead">Dead</button>
      <div class="swiper" id="s1" style="width:300px;height:80px"><div class="swiper-wrapper"><div class="swiper-slide" id="slide">One</div><div class="swiper-slide">Two</div><div class="swiper-slide">Three</div></div><div class="swiper-button-prev" id="prev"></div><div class="swiper-button-next" id="next"></div><div class="swiper-pagination"></div></div>
      <div class="swiper" id="s2" style="width:300px;height:80px"><div class="swiper-wrapper"><div class="swiper-slide">A</div><div class="swiper-slide">B</div><div class="swiper-slide">C</div></div></div>
      <div style="width:300px;height:150px"><canvas id="chart"></canvas></div>
      <div x-data="{ open: false, n: 0, unused: 0 }"><button id="alpine" @click="open = !open">Open</button><p x-show="open">Text</p>
        <button id="count" @click="n++" x-text="n">0</button><button id="alpinedead" @click="unused++">Dead</button></div>\`
      new Swiper('#s1', { modules: [Navigation, Pagination], navigation: { nextEl: '#next', prevEl: '#prev' }, pagination: { el: '.swiper-pagination' } })
      new Swiper('#s2', { modules: [Autoplay], autoplay: { delay: 1200 }, loop: true })
      Chart.register(...registerables)
      new Chart(document.getElementById('chart'), { type: 'bar', data: { labels: ['a', 'b'], datasets: [{ label: 'Nights', data: [3, 5] }] }, options: { animation: false, maintainAspectRatio: false, events: ['click'], plugins: { tooltip: { enabled: false } } } })
      Alpine.start()`,
    places: [
      ...['dead', 'slide', 'prev', 'alpinedead'].map((id) => ({ ...nothing(id, `#${id}`), watchMs: 4000 })),
      { ...nothing('ground of a chart', '#chart'), point: { x: 150, y: 80 }, watchMs: 2500 },
      ...['next', 'alpine', 'count'].map((id) => ({ ...something(id, `#${id}`), watchMs: 4000 })),
      { ...something('legend of a chart', '#chart'), point: { x: 150, y: 18 }, watchMs: 2500 },
    ],
  },
  ...MORE_PAGES,
  ...THIRD_PAGES,
]
