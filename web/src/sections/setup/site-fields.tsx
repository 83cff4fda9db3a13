import type { Site } from '@dust-trail/api'
import { Field, inputLook, Select } from '../../ui/controls.tsx'

export type SiteDraft = Pick<Site, 'name' | 'timeZone' | 'currency'> & {
  /** one address a line */
  origins: string
  /** minutes, as typed */
  sessionLimit: string
  /** one rate a line: currency, day, worth of one unit */
  rates: string
}

/** The zone of this browser is offered first; a browser may know it by a name that its own list lacks. */
const ZONES = [
  ...new Set([
    Intl.DateTimeFormat().resolvedOptions().timeZone,
    'UTC',
    ...Intl.supportedValuesOf('timeZone'),
  ]),
]
const CURRENCIES = Intl.supportedValuesOf('currency')
const CURRENCY_NAMES = new Intl.DisplayNames('en', { type: 'currency' })

export function newDraft(): SiteDraft {
  return { name: '', origins: '', timeZone: ZONES[0]!, currency: 'EUR', sessionLimit: '30', rates: '' }
}

export function draftOf(site: Site): SiteDraft {
  const { name, origins, timeZone, currency, sessionLimitMin, rates } = site
  return {
    ...{ name, timeZone, currency, sessionLimit: String(sessionLimitMin) },
    origins: origins.join('\n'),
    rates: rates.map((one) => `${one.currency} ${one.from} ${one.rate}`).join('\n'),
  }
}

/** What a draft says, as the server takes it. */
export function aboutOf({ origins, sessionLimit, rates, ...rest }: SiteDraft) {
  return {
    ...rest,
    rates: ratesOf(rates),
    origins: origins.split(/\s+/).filter(Boolean),
    sessionLimitMin: Number(sessionLimit),
  }
}

/** Rates as they are typed, a line each; what cannot be read is left for the server to refuse. */
function ratesOf(text: string): Site['rates'] {
  return text
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean)
    .map((line) => {
      const [currency = '', from = '', rate = ''] = line.split(/\s+/)
      return { currency, from, rate: Number(rate) }
    })
}

/** What a site is called, where it is, and how its days, money and visits are counted. */
export function SiteFields({ draft, setDraft }: { draft: SiteDraft; setDraft: (draft: SiteDraft) => void }) {
  return (
    <>
      <Field label="Name">
        <input
          required
          maxLength={80}
          className={inputLook}
          value={draft.name}
          onChange={(event) => setDraft({ ...draft, name: event.target.value })}
        />
      </Field>
      <Field
        label="Addresses"
        hint="One a line, such as https://www.example.org. Data from other addresses is refused."
      >
        <textarea
          rows={3}
          className={`${inputLook} font-mono text-xs`}
          value={draft.origins}
          onChange={(event) => setDraft({ ...draft, origins: event.target.value })}
        />
      </Field>
      <div className="grid grid-cols-3 gap-3">
        <Field label="Time zone" hint="Where its days begin and end.">
          <Select
            className="w-full"
            value={draft.timeZone}
            onChange={(event) => setDraft({ ...draft, timeZone: event.target.value })}
          >
            {[...new Set([draft.timeZone, ...ZONES])].map((zone) => (
              <option key={zone}>{zone}</option>
            ))}
          </Select>
        </Field>
        <Field label="Currency" hint="In which it sells.">
          <Select
            className="w-full"
            value={draft.currency}
            onChange={(event) => setDraft({ ...draft, currency: event.target.value })}
          >
            {CURRENCIES.map((code) => (
              <option key={code} value={code}>
                {code} · {CURRENCY_NAMES.of(code)}
              </option>
            ))}
          </Select>
        </Field>
        <Field label="A session ends after" hint="Minutes without activity; counts for data yet to come.">
          <input
            required
            type="number"
            min={1}
            max={1440}
            className={inputLook}
            value={draft.sessionLimit}
            onChange={(event) => setDraft({ ...draft, sessionLimit: event.target.value })}
          />
        </Field>
      </div>
      <Field
        label="Other currencies"
        hint={`One rate a line: currency, first day, what one unit is worth in ${draft.currency}, such as USD 2026-01-01 0.92. Amounts without a rate are never added; they are counted apart.`}
      >
        <textarea
          rows={2}
          className={`${inputLook} font-mono text-xs`}
          value={draft.rates}
          onChange={(event) => setDraft({ ...draft, rates: event.target.value })}
        />
      </Field>
    </>
  )
}
