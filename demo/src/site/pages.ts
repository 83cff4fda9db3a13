import type { Night } from './nights.ts'
import { MONTHS, NIGHTS, nightBySlug } from './nights.ts'
import { picture } from './picture.ts'
import { STYLE } from './style.ts'

export interface PageOptions {
  /** where the capture script is served; undefined leaves it out */
  captureOrigin?: string | undefined
}

export const SITE_KEY = 'quillmoor'

/** The HTML of a page of the stand-in site; undefined where there is none. */
export function renderPage(path: string, options: PageOptions = {}): string | undefined {
  if (path === '/') return layout('Quillmoor Observatory', home(), options)
  if (path === '/nights') return layout('Observing nights', nightsPage(), options)
  if (path === '/booked') return layout('Your night is booked', booked(), options)
  const [, section, slug = '', ...rest] = path.split('/')
  const night = rest.length ? undefined : nightBySlug(slug)
  if (night && section === 'nights') return layout(night.title, nightPage(night), options)
  if (night && section === 'book') return layout(`Book: ${night.title}`, bookingPage(night), options)
  return undefined
}

export function notFoundPage(options: PageOptions = {}): string {
  const body = `<main class="narrow"><h1>Nothing in this part of the sky</h1>
<p>The page you asked for does not exist, or no longer. <a href="/nights">See the observing nights</a>.</p></main>`
  return layout('Not found', body, options)
}

/** Every page there is, for measuring and for checks. */
export const ALL_PAGES: readonly string[] = [
  '/',
  '/nights',
  ...NIGHTS.map((night) => `/nights/${night.slug}`),
  ...NIGHTS.map((night) => `/book/${night.slug}`),
  '/booked',
]

function layout(title: string, body: string, { captureOrigin }: PageOptions): string {
  const capture = captureOrigin
    ? `<script async src="${captureOrigin}/capture.js" data-site="${SITE_KEY}"></script>`
    : ''
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1">
<title>${title} · Quillmoor</title><link rel="icon" href="data:,"><style>${STYLE}</style>${capture}</head>
<body><header class="top"><a class="brand" href="/">Quillmoor<span>Observatory</span></a>
<nav aria-label="Main"><a href="/nights">Observing nights</a></nav></header>
${body}
<footer class="foot"><p>Quillmoor Observatory is an invented place on an invented moor.</p>
<p>Open on clear evenings from dusk. Dogs sleep in the library.</p></footer>
<script src="/site.js"></script></body></html>`
}

function home(): string {
  const next = NIGHTS[0]!
  return `<main><section class="hero"><div class="hero-sky" aria-hidden="true">${picture('aurora', 7)}</div>
<div class="hero-text"><h1>The darkest sky within a day’s drive</h1>
<p>Book a seat for an evening under it. Guides, blankets and a telescope from 1891 are included.</p>
<a class="button" href="/nights">See observing nights</a></div></section>
<section class="three"><article><h2>No lights for thirty miles</h2><p>The moor around us has been kept dark since 1974. On a clear night some four thousand stars are visible without any help, and the Milky Way throws a shadow.</p></article>
<article><h2>A lens that has seen a century</h2><p>The great refractor still turns on its first bearings. Most of our nights include twenty minutes at its eyepiece, with a guide beside you who knows where to point it.</p></article>
<article><h2>Cloud? Come again</h2><p>If the sky stays shut we say so by four in the afternoon, and your seat moves to any other night of the same season. Nobody drives out for nothing.</p></article></section>
<section class="next"><h2>The next night</h2><p><a href="/nights/${next.slug}">${next.title}</a>, ${next.day} ${next.month}. ${next.lead}</p></section></main>`
}

function nightsPage(): string {
  return `<main><h1>Observing nights</h1>
<p class="lead">Every evening starts at dusk and ends when the last guest has seen enough. Prices are per seat.</p>
<div class="month-picker" role="group" aria-label="Month"><button type="button" class="arrow back" aria-label="Earlier month">‹</button>
<span class="month-name">All months</span><button type="button" class="arrow on" aria-label="Later month">›</button></div>
<ul class="nights">${NIGHTS.map(card).join('')}</ul></main>`
}

function card(night: Night, index: number): string {
  return `<li class="night" data-month="${MONTHS.indexOf(night.month as never) + 1}"><div class="night-picture">${picture(night.sky, index + 1)}</div>
<div class="night-text"><p class="night-date">${night.day} ${night.month}</p><h2><a href="/nights/${night.slug}">${night.title}</a></h2>
<p>${night.lead}</p><p class="night-price">€ ${night.price} · ${night.seats} seats left</p></div></li>`
}

function nightPage(night: Night): string {
  return `<main class="night-page"><a class="back-link" href="/nights">All observing nights</a>
<div class="night-banner">${picture(night.sky, NIGHTS.indexOf(night) + 1)}</div>
<div class="columns"><div><h1>${night.title}</h1><p class="lead">${night.lead}</p><p>${night.about}</p>
<h2>What is included</h2><ul class="plain"><li>A seat, a blanket and something hot to drink</li><li>A guide for every eight guests</li><li>Time at the telescope, by turns</li></ul>
<h2>If it is cloudy</h2><p>We decide by four in the afternoon and write to you. Your seat then holds for any other night of the season, or you get the price back.</p></div>
<aside class="buy"><p class="night-date">${night.day} ${night.month}, from dusk</p><p class="price">€ ${night.price}<span> a seat</span></p>
<p>${night.seats} seats left</p><a class="button" href="/book/${night.slug}">Book this night</a></aside></div></main>`
}

function bookingPage(night: Night): string {
  return `<main class="narrow"><a class="back-link" href="/nights/${night.slug}">Back to the night</a><h1>Your details</h1>
<p class="lead">${night.title}, ${night.day} ${night.month}. € ${night.price} a seat.</p>
<form id="details" method="post" action="/book/${night.slug}"><label for="guest-name">Name</label><input id="guest-name" name="name" autocomplete="name" required>
<label for="guest-mail">E-mail</label><input id="guest-mail" name="mail" type="email" autocomplete="email" required>
<label for="guest-phone">Phone, in case the weather turns</label><input id="guest-phone" name="phone" type="tel" autocomplete="tel">
<label for="guest-seats">Seats</label><select id="guest-seats" name="seats"><option>1</option><option>2</option><option>3</option><option>4</option></select>
<label for="guest-note">Anything we should know</label><textarea id="guest-note" name="note" rows="3"></textarea>
<button class="button" type="submit">Book and pay at the gate</button></form></main>`
}

function booked(): string {
  return `<main class="narrow"><h1>Your night is booked</h1><p class="lead">We have sent you a letter with everything you need: how to find the gate, what to wear, and whom to call if the clouds come in.</p>
<p>You pay at the gate, in cash or by card.</p><p><a class="button quiet" href="/nights">Look at other nights</a></p></main>`
}
