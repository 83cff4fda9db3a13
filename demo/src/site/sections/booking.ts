import type { Night } from '../content/nights.ts'
import { nightBySlug } from '../content/nights.ts'
import type { Page, PartyVariant } from '../page.ts'
import { field } from '../page.ts'

/** The codes that the payment page takes, in the spelling it insists on. */
export const PROMO_CODES = ['GEMINI-10', 'WINTER-10'] as const

export const BOOKING_STEPS = ['party', 'details', 'payment'] as const
export type BookingStep = (typeof BOOKING_STEPS)[number]

export function bookingPage(slug: string, step: string, variant: PartyVariant): Page | undefined {
  const night = nightBySlug(slug)
  if (!night) return undefined
  if (step === 'party') return party(night, variant)
  if (step === 'details') return details(night)
  if (step === 'payment') return payment(night)
  return undefined
}

function party(night: Night, variant: PartyVariant): Page {
  const steppers = `<div class="steppers">${stepper('adults', 'Adults', 2)}${stepper('children', 'Children', 0)}</div>`
  const seats = `<h2>Where would you like to sit?</h2>${seatMap(night)}`
  return {
    title: `Party: ${night.title}`,
    report: [{ kind: 'variant', experiment: 'party step', variant }],
    body: `<main class="narrow"><a class="back-link" href="/nights/${night.slug}">Back to the night</a><p class="where">Step 1 of 3</p><h1>Your party</h1>
<p class="lead">${night.title}, ${night.day} ${night.month}. € ${night.price} a seat, children half.</p>
<form id="party" method="post" action="/book/${night.slug}/party" data-price="${night.price}" novalidate>${variant === 'map' ? seats + steppers : steppers + seats}
<p class="total">Together <output id="total">€ ${2 * night.price}</output></p>
<button class="button" type="submit">Continue</button></form></main>`,
  }
}

function stepper(name: string, label: string, from: number): string {
  return `<div class="stepper" role="group" aria-label="${label}"><span>${label}</span><button type="button" class="less" aria-label="Fewer: ${label}">−</button><output id="${name}">${from}</output><button type="button" class="more" aria-label="More: ${label}">+</button></div>`
}

function seatMap(night: Night): string {
  const row = (zone: number) =>
    Array.from({ length: 8 }, (_, i) => {
      const taken = (zone * 31 + i * 17 + night.price) % 3 === 0
      return `<button type="button" class="seat" aria-pressed="false" aria-label="Seat ${'ABC'[zone]}${i + 1}"${taken ? ' disabled' : ''}></button>`
    }).join('')
  return `<div class="seat-map" aria-label="Seats"><div class="dome">The dome</div>
${['Terrace', 'South lawn', 'Walled garden'].map((zone, i) => `<div class="zone"><div class="zone-name">${zone}</div><div class="row">${row(i)}</div></div>`).join('')}</div>`
}

function details(night: Night): Page {
  return {
    title: `Details: ${night.title}`,
    body: `<main class="narrow"><a class="back-link" href="/book/${night.slug}/party">Back to your party</a><p class="where">Step 2 of 3</p><h1>Your details</h1>
<p class="lead">${night.title}, ${night.day} ${night.month}.</p>
<form id="details" method="post" action="/book/${night.slug}/details" novalidate>${field('guest-name', 'Name', 'autocomplete="name" required')}
${field('guest-mail', 'E-mail', 'type="email" autocomplete="email" required', 'Please give an address with an @.')}
${field('guest-phone', 'Phone, in case the weather turns', 'type="tel" autocomplete="tel"', '')}
${field('guest-street', 'Street and number', 'autocomplete="street-address" required')}
${field('guest-town', 'Town', 'autocomplete="address-level2" required')}
${field('guest-postcode', 'Postcode', 'autocomplete="postal-code" required')}
${field('guest-birth', 'Year of birth', 'inputmode="numeric"', '')}
${field('guest-car', 'Car registration, for the gate on the moor road', 'required', 'The gate needs it.')}
<div class="field"><label for="guest-note">Anything we should know</label><textarea id="guest-note" name="guest-note" rows="3"></textarea></div>
<button class="button" type="submit">Continue</button></form></main>`,
  }
}

function payment(night: Night): Page {
  return {
    title: `Payment: ${night.title}`,
    body: `<main class="narrow"><a class="back-link" href="/book/${night.slug}/details">Back to your details</a><p class="where">Step 3 of 3</p><h1>Payment</h1>
<p class="lead">${night.title}, ${night.day} ${night.month}.</p>
<form id="payment" method="post" action="/book/${night.slug}/payment" data-price="${night.price}" novalidate>
<p class="total">To pay <output id="to-pay">€ ${2 * night.price}</output></p>
<div class="promo"><div class="field"><label for="promo">Promo code</label><input id="promo" name="promo" autocomplete="off"></div><button type="button" class="apply">Apply</button></div><p class="promo-done" hidden>Ten per cent off.</p>
${field('card-number', 'Card number', 'inputmode="numeric" autocomplete="cc-number" required', 'A card number has 13 to 19 digits.')}
${field('card-date', 'Valid until', 'placeholder="MM/YY" autocomplete="cc-exp" required', 'Month and year, such as 04/29.')}
${field('card-check', 'Security code', 'inputmode="numeric" autocomplete="cc-csc" required', 'The three or four digits on the card.')}
<button class="button" type="submit">Pay and book</button></form></main>`,
  }
}

export function bookedPage(): Page {
  return {
    title: 'Your night is booked',
    body: `<main class="narrow"><h1>Your night is booked</h1><p class="lead">We have sent you a letter with everything you need: how to find the gate, what to wear, and whom to call if the clouds come in.</p>
<p>Until noon of the day you can move to any other night. After that we count blankets.</p><p><a class="button quiet" href="/nights">Look at other nights</a></p></main>`,
  }
}
