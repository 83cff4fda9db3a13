import { HIRE, HIRE_SORTS, itemBySlug } from '../content/hire.ts'
import type { Page } from '../page.ts'
import { field } from '../page.ts'
import { instrument } from '../picture.ts'

export function hirePage(): Page {
  return {
    title: 'Telescope hire',
    body: `<main><h1>Telescope hire</h1>
<p class="lead">Fetch it on any afternoon, bring it back after as many nights as you like. Somebody shows you how it works.</p>
<div class="filters" role="group" aria-label="Kind of instrument"><button type="button" data-kind="0" aria-pressed="true">Everything</button>${HIRE_SORTS.map((sort, i) => `<button type="button" data-kind="${i + 1}" aria-pressed="false">${sort === 'telescope' ? 'Telescopes' : sort === 'camera' ? 'For cameras' : 'Binoculars'}</button>`).join('')}</div>
<ul class="items">${HIRE.map(
      (item) =>
        `<li class="item" data-kind="${HIRE_SORTS.indexOf(item.sort) + 1}"><div class="item-picture">${instrument(item.sort)}</div><div><h2><a href="/hire/${item.slug}">${item.title}</a></h2><p>${item.lead}</p><p class="night-price">€ ${item.price} a night</p></div></li>`,
    ).join('')}</ul></main>`,
  }
}

export function hireItemPage(slug: string): Page | undefined {
  const item = itemBySlug(slug)
  if (!item) return undefined
  return {
    title: item.title,
    body: `<main class="item-page"><a class="back-link" href="/hire">All instruments</a>
<h1>${item.title}</h1><p class="lead">${item.lead}</p>
<div class="item-banner">${instrument(item.sort)}</div>
<p>${item.about}</p>
<dl class="facts"><dt>Weight</dt><dd>${item.weight}</dd><dt>Shows</dt><dd>${item.sees}</dd><dt>Comes with</dt><dd>Chart, red lamp, rain cover, and the telephone number of somebody who is awake</dd></dl>
<h2>Hire it</h2><p class="price">€ ${item.price}<span> a night</span></p>
<form id="hire" method="post" action="/hire/${item.slug}" data-price="${item.price}" novalidate><div class="two">${field('hire-from', 'First night', 'type="date" required')}${field('hire-nights', 'Nights', 'type="number" min="1" max="30" value="1" required')}</div>
${field('hire-name', 'Name', 'autocomplete="name" required')}${field('hire-phone', 'Phone', 'type="tel" autocomplete="tel" required')}
<button class="button" type="submit">Reserve it</button></form></main>`,
  }
}

export function hiredPage(): Page {
  return {
    title: 'Reserved',
    body: `<main class="narrow"><h1>It is reserved for you</h1><p class="lead">Fetch it between two and five at the workshop door. Bring a blanket to wrap it in, and something to pay with.</p>
<p>Until then: <a href="/articles/first-telescope">what to expect of a first telescope</a>.</p></main>`,
  }
}
