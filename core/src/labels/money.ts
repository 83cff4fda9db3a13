import { z } from 'zod'

/** What one unit of another currency is worth in the site's own, from a day on. */
export const exchangeRateSchema = z.strictObject({
  currency: z.string().regex(/^[A-Z]{3}$/, { error: 'must be three capital letters (ISO 4217)' }),
  /** first day on which it holds, at its beginning in UTC; until the next one of the same currency */
  from: z.iso.date({ error: 'must be a day, such as 2026-05-01' }),
  rate: z.number({ error: 'must be a number' }).positive({ error: 'must be above 0' }),
})
export type ExchangeRate = z.infer<typeof exchangeRateSchema>

/** The currency a site counts in, and what others are worth in it. */
export interface Money {
  currency: string
  rates: readonly ExchangeRate[]
}

/**
 * Money is counted in whole ten-thousandths, the finest minor unit of any currency (ISO 4217 has exponents of 0 to 4):
 * sums of cents are then sums of cents, in whatever order they are added. Exact up to 900 billion.
 */
const PARTS = 10_000

/** An amount in ten-thousandths, rounded to the nearest. */
export function toParts(amount: number): number {
  return Math.round(amount * PARTS)
}

/** An amount again; the nearest number to the decimal fraction. */
export function fromParts(parts: number): number {
  return parts / PARTS
}

/**
 * What a unit of each currency was worth at some time.
 *
 * @param currencies  by code; code 0 and the site's own are worth 1
 * @returns by code and milliseconds since 1970 the rate of that day; NaN where none is given for it
 */
export function rateReader(
  { currency: own, rates }: Money,
  currencies: readonly string[],
): (code: number, ms: number) => number {
  const byCode = currencies.map((currency) =>
    rates
      .filter((rate) => rate.currency === currency)
      .map(({ from, rate }) => ({ fromMs: Date.parse(from), rate }))
      .sort((a, b) => a.fromMs - b.fromMs),
  )
  return (code, ms) => {
    if (code === 0 || currencies[code] === own) return 1
    return byCode[code]?.findLast(({ fromMs }) => fromMs <= ms)?.rate ?? NaN
  }
}
