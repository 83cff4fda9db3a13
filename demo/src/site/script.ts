import { PROMO_CODES } from './sections/booking.ts'

/** What the site's pages run themselves, with the faults that such scripts have. */
export const SITE_SCRIPT = `
(() => {
  const all = (selector) => [...document.querySelectorAll(selector)]
  const one = (selector) => document.querySelector(selector)
  const say = (element, text) => { element.firstChild.nodeValue = text }
  const on = (element, kind, act) => element && element.addEventListener(kind, act)

  /* observing nights: months and kinds */
  const cards = all('.night, .item')
  let month = 0
  let kind = 0
  const narrow = () => {
    for (const card of cards)
      card.hidden = (month > 0 && card.dataset.month !== String(month)) || (kind > 0 && card.dataset.kind !== String(kind))
  }
  const picker = one('.month-picker')
  if (picker) {
    const names = ['All months', 'December', 'January', 'February']
    const turn = (by) => {
      const next = month + by
      if (next < 0 || next >= names.length) return
      month = next
      say(picker.querySelector('.month-name'), names[month])
      narrow()
    }
    on(picker.querySelector('.back'), 'click', () => turn(-1))
    on(picker.querySelector('.on'), 'click', () => turn(1))
  }
  for (const button of all('.filters button'))
    on(button, 'click', () => {
      kind = Number(button.dataset.kind)
      for (const other of all('.filters button')) other.setAttribute('aria-pressed', String(other === button))
      narrow()
    })

  /* a night: pictures of earlier nights */
  const figures = all('.gallery figure')
  let shown = 0
  const leaf = (by) => {
    shown = (shown + by + figures.length) % figures.length
    figures.forEach((figure, i) => { figure.hidden = i !== shown })
  }
  on(one('.gallery .back'), 'click', () => leaf(-1))
  on(one('.gallery .on'), 'click', () => leaf(1))

  /* the party: how many, where, and what it comes to */
  const party = one('#party')
  const guests = JSON.parse(sessionStorage.getItem('guests') || '{"adults":2,"children":0}')
  const euros = (amount) => '€ ' + (Number.isInteger(amount) ? amount : amount.toFixed(2))
  const cost = (price) => price * (guests.adults + guests.children / 2)
  const tell = () => {
    say(one('#adults'), String(guests.adults))
    say(one('#children'), String(guests.children))
    say(one('#total'), euros(cost(Number(party.dataset.price))))
    sessionStorage.setItem('guests', JSON.stringify(guests))
  }
  if (party) {
    for (const stepper of all('.stepper')) {
      const name = stepper.querySelector('output').id
      const least = name === 'adults' ? 1 : 0
      on(stepper.querySelector('.less'), 'click', () => { guests[name] = Math.max(least, guests[name] - 1); tell() })
      on(stepper.querySelector('.more'), 'click', () => { guests[name] = Math.min(9, guests[name] + 1); tell() })
    }
    for (const seat of all('.seat'))
      on(seat, 'click', () => seat.setAttribute('aria-pressed', String(seat.getAttribute('aria-pressed') !== 'true')))
    let checked = !navigator.userAgent.includes('Firefox/')
    on(party, 'submit', (event) => {
      if (checked) return
      checked = true
      event.preventDefault()
      const [, , patch] = /Firefox\\/(\\d+)\\.(\\d+)\\.(\\d+)/.exec(navigator.userAgent)
      document.body.dataset.version = patch
      party.submit()
    })
  }

  /* forms: every required field, and addresses with an @ */
  const right = (field) => {
    if (field.required && field.value.trim() === '') return false
    if (field.type === 'email') return field.value.includes('@')
    if (field.id === 'card-number') return field.value.replace(/\\D/g, '').length >= 13
    return true
  }
  const mark = (field, wrong) => {
    const problem = document.getElementById(field.id + '-problem')
    const look = wrong ? 'problem shown' : 'problem'
    if (problem && problem.className !== look) problem.className = look
  }
  for (const form of all('form[novalidate]')) {
    on(form, 'input', (event) => mark(event.target, false))
    on(form, 'submit', (event) => {
      let first
      for (const field of form.querySelectorAll('input, textarea')) {
        const wrong = !right(field)
        mark(field, wrong)
        if (wrong && !first) first = field
      }
      if (first) {
        event.preventDefault()
        first.focus()
        return
      }
      const phone = form.querySelector('#guest-phone')
      if (phone && phone.value && !/^[+]?\\d+$/.test(phone.value)) event.preventDefault()
    })
  }

  /* payment */
  const payment = one('#payment')
  if (payment) {
    let due = cost(Number(payment.dataset.price))
    say(one('#to-pay'), euros(due))
    on(one('.apply'), 'click', () => {
      if (!${JSON.stringify(PROMO_CODES)}.includes(one('#promo').value)) return
      due *= 0.9
      one('.promo-done').hidden = false
      say(one('#to-pay'), euros(due))
    })
    on(payment, 'submit', (event) => { if (!event.defaultPrevented) sessionStorage.setItem('order', String(due)) })
  }
  const report = (name, value) => (window.dustTrail = window.dustTrail || []).push({ kind: 'action', name, value, currency: 'EUR' })
  const order = Number(sessionStorage.getItem('order'))
  if (location.pathname === '/booked' && order) {
    sessionStorage.removeItem('order')
    report('night booked', order)
  }
})()
`

/** A weather box from elsewhere, with an error that harms nobody. */
export const WEATHER_WIDGET = `
const forecast = /Safari/.test(navigator.userAgent) && !/Chrome/.test(navigator.userAgent) ? undefined : { wind: 'asleep' }
document.documentElement.dataset.wind = forecast.wind
`
