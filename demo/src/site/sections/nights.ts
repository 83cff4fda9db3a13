import type { Night } from '../content/nights.ts'
import { MONTHS, nightBySlug, NIGHTS } from '../content/nights.ts'
import type { Page } from '../page.ts'
import { picture } from '../picture.ts'

export function homePage(): Page {
  const next = NIGHTS[0]!
  return {
    title: 'Quillmoor Observatory',
    body: `<main><section class="hero"><div class="hero-sky" aria-hidden="true">${picture('aurora', 7)}</div>
<div class="hero-text"><h1>The darkest sky within a day’s drive</h1>
<p>Book a seat for an evening under it. Guides, blankets and a telescope from 1891 are included.</p>
<a class="button" href="/nights">See observing nights</a></div></section>
<section class="weather" aria-label="Tonight"><h2>Tonight over the moor</h2><p class="weather-now">Clear until two, then high cloud from the west. Two degrees, wind asleep.</p><p class="weather-next">Tomorrow: low cloud in the valley, stars above it. Decision at four in the afternoon.</p></section>
<section class="three"><article><h2>No lights for thirty miles</h2><p>The moor around us has been kept dark since 1974. On a clear night some four thousand stars are visible without any help, and the Milky Way throws a shadow.</p><p><a href="/articles/how-dark-is-dark">How dark is dark?</a></p></article>
<article><h2>A lens that has seen a century</h2><p>The great refractor still turns on its first bearings. Most of our nights include twenty minutes at its eyepiece, with a guide beside you who knows where to point it.</p><p><a href="/hire">Or hire one for your own garden</a></p></article>
<article><h2>Cloud? Come again</h2><p>If the sky stays shut we say so by four in the afternoon, and your seat moves to any other night of the same season. Nobody drives out for nothing.</p><p><a href="/membership/yearly">Become a friend of the observatory</a></p></article></section>
<section class="next"><h2>The next night</h2><p><a class="next-night" href="/nights/${next.slug}">${next.title}</a>, ${next.day} ${next.month}. ${next.lead}</p></section></main>
<script async src="/widget/weather.js"></script>`,
  }
}

const KINDS = ['Beginners', 'Great refractor', 'With supper'] as const

function kindOf(night: Night): number {
  if (night.price < 30) return 1
  return night.seats < 10 && night.sky === 'rings' ? 2 : night.price > 60 ? 3 : night.sky === 'galaxy' ? 2 : 1
}

export function nightsPage(): Page {
  return {
    title: 'Observing nights',
    body: `<main><h1>Observing nights</h1>
<p class="lead">Every evening starts at dusk and ends when the last guest has seen enough. Prices are per seat.</p>
<div class="month-picker" role="group" aria-label="Month"><button type="button" class="arrow back" aria-label="Earlier month">‹</button>
<span class="month-name">All months</span><button type="button" class="arrow on" aria-label="Later month">›</button></div>
<div class="filters" role="group" aria-label="Kind of night"><button type="button" data-kind="0" aria-pressed="true">All nights</button>${KINDS.map((kind, i) => `<button type="button" data-kind="${i + 1}" aria-pressed="false">${kind}</button>`).join('')}</div>
<ul class="nights">${NIGHTS.map(card).join('')}</ul></main>`,
  }
}

function card(night: Night, index: number): string {
  return `<li class="night" data-month="${MONTHS.indexOf(night.month as never) + 1}" data-kind="${kindOf(night)}"><div class="night-picture">${picture(night.sky, index + 1)}</div>
<div class="night-text"><p class="night-date">${night.day} ${night.month}</p><h2><a href="/nights/${night.slug}">${night.title}</a></h2>
<p>${night.lead}</p><p class="night-price">€ ${night.price} · ${night.seats} seats left</p></div></li>`
}

export const GALLERY = 5

export function nightPage(slug: string): Page | undefined {
  const night = nightBySlug(slug)
  if (!night) return undefined
  const number = NIGHTS.indexOf(night)
  const skies = ['cluster', 'moon', 'galaxy', 'meteors'] as const
  const gallery = Array.from(
    { length: GALLERY },
    (_, i) =>
      `<figure${i ? ' hidden' : ''}>${i === 0 ? picture(night.sky, number + 1) : picture(skies[(number + i) % 4]!, 10 * number + 20 + i, 18)}</figure>`,
  ).join('')
  return {
    title: night.title,
    body: `<main class="night-page"><a class="back-link" href="/nights">All observing nights</a>
<div class="gallery" role="group" aria-label="Pictures of earlier nights">${gallery}<button type="button" class="turn back" aria-label="Picture before">‹</button><button type="button" class="turn on" aria-label="Next picture">›</button></div>
<div class="columns"><div><h1>${night.title}</h1><p class="lead">${night.lead}</p><p>${night.about}</p>
<h2>What is included</h2><ul class="plain"><li>A seat, a blanket and something hot to drink</li><li>A guide for every eight guests</li><li>Time at the telescope, by turns</li></ul>
<details class="guarantee"><summary>The weather guarantee</summary><p>We decide by four in the afternoon and write to you. Your seat then holds for any other night of the season, or you get the price back.</p></details></div>
<aside class="buy"><p class="night-date">${night.day} ${night.month}, from dusk</p><p class="price">€ ${night.price}<span> a seat</span></p>
<p>${night.seats} seats left</p><a class="button" href="/book/${night.slug}/party">Book this night</a></aside></div></main>
<script async src="/widget/weather.js"></script>`,
  }
}
