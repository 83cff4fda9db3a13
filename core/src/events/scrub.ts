/*
 * What may say who somebody is, hidden in any text: by what it looks like, since a program cannot know. Numbers that have
 * check digits are told by them, so that order numbers and sizes stay. Scrubbing twice changes nothing more.
 */

/** Stands for what was hidden; says nothing of how long it was. */
export const HIDDEN = '•••'

const EMAIL = /[\p{L}\p{N}._%+-]+(?:@|%40)[\p{L}\p{N}-]+(?:\.[\p{L}\p{N}-]+)+/gu
/** Digits, in groups or not. */
const LONG_NUMBER = /(?<![\p{L}\p{N}])\d(?:[ -]?\d){8,}(?![\p{L}\p{N}])/gu
const IBAN = /(?<![\p{L}\p{N}])[A-Z]{2}\d{2}(?: ?[A-Z0-9]){11,30}(?![\p{L}\p{N}])/gu
/** With a country's code, or with a leading 0 and in groups. */
const PHONE =
  /\+\d(?:[ ()./-]{0,2}\d){6,14}|(?<![\p{L}\p{N}.])\(?0\d{1,4}\)?(?:[ /-]\d{2,}){1,4}(?![\p{L}\p{N}])/gu
/** A phone number has so many digits; other numbers that are hidden have more. */
const SEVEN_DIGITS = /\d(?:\D*\d){6}/
/** Header and claims of a signed token (RFC 7519). */
const SIGNED = /eyJ[\w-]{5,}\.[\w-]{5,}\.[\w-]*/g
/** Keys as they stand in addresses: long, of letters and digits both. */
const KEY =
  /(?<![\w-])(?=[\w-]*\d)(?=[\w-]*[A-Za-z])(?:[\da-f]{20,}|[\da-f]{8}(?:-[\da-f]{4}){3}-[\da-f]{12}|[\w-]{32,})(?![\w-])/gi

/** A text without e-mail addresses, phone, card and account numbers, other long numbers and tokens. */
export function scrubText(text: string): string {
  // Most texts hold nothing of the kind: no digit, no at sign. To get ready to look for letters of all scripts takes longer
  // than to look, so each is looked for only where its signs are.
  if (!/[\d@]|%40/.test(text)) return text
  let out = text.replace(SIGNED, HIDDEN)
  if (/@|%40/.test(out)) out = out.replace(EMAIL, HIDDEN)
  if (/[A-Z]{2}\d\d/.test(out)) out = out.replace(IBAN, (found) => (isIban(found) ? HIDDEN : found))
  if (SEVEN_DIGITS.test(out))
    out = out.replace(PHONE, (found) => (digitsIn(found) >= 7 ? HIDDEN : found)).replace(LONG_NUMBER, HIDDEN)
  return out
}

/** An address without credentials, fragment and the values of its query but for those of campaigns; its path without keys. */
export function scrubAddress(address: string): string {
  const [whole = '', query] = address.split('#', 1)[0]!.split(/\?(.*)/s)
  const path = scrubText(whole.replace(/^([a-z][a-z0-9+.-]*:\/\/)[^/?#@]*@/i, '$1').replace(KEY, HIDDEN))
  if (query === undefined) return path
  const kept = query.split('&').map((pair) => {
    const [name = '', value] = pair.split(/=(.*)/s)
    if (value === undefined || value === '') return scrubText(pair)
    return /^utm_[a-z]+$/.test(name) ? `${name}=${scrubText(value)}` : `${scrubText(name)}=`
  })
  return `${path}?${kept.join('&')}`
}

function digitsIn(text: string): number {
  return text.replaceAll(/\D/g, '').length
}

/**
 * Whether a text is an International Bank Account Number, by its check digits (mod 97).
 *
 * @see ISO 13616, ISO 7064 MOD 97-10
 */
function isIban(text: string): boolean {
  const compact = text.replaceAll(' ', '')
  const moved = `${compact.slice(4)}${compact.slice(0, 4)}`
  let rest = 0
  for (const letter of moved)
    for (const digit of parseInt(letter, 36).toString()) rest = (rest * 10 + Number(digit)) % 97
  return rest === 1
}
