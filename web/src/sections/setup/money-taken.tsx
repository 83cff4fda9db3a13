import { questions } from '@dust-trail/core'
import { useQuestion } from '../../api/use-question.ts'
import { useLens, useSite } from '../../app/lens.ts'
import { count } from '../../ui/format.ts'

/** What was taken in other currencies, and how much of it is counted apart; nothing where all is in one currency. */
export function MoneyTaken() {
  const site = useSite()
  const { lens } = useLens()
  const currencies = useQuestion(questions.money, lens, {}).data?.currencies ?? []
  const others = currencies.filter(({ currency }) => currency !== null && currency !== site.currency)
  if (!others.length) return null
  const money = (amount: number, currency: string) =>
    new Intl.NumberFormat('en', { style: 'currency', currency }).format(amount)
  return (
    <section aria-label="Other currencies">
      <h2 className="mb-1">Taken in other currencies, in the lens</h2>
      <ul>
        {others.map(({ currency, actions, sum, counted, countedSum }) => (
          <li key={currency}>
            {money(sum, currency!)} in {count(actions)} actions:{' '}
            {counted === actions
              ? `counted as ${money(countedSum, site.currency)}.`
              : counted === 0
                ? 'counted apart, since no rate is given. It is in no figure.'
                : `${count(counted)} of them counted as ${money(countedSum, site.currency)}, the others apart, since no rate is given for their days.`}
          </li>
        ))}
      </ul>
    </section>
  )
}
