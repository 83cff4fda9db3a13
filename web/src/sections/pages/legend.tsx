import { RAMP_CSS } from './ramp.ts'

/** What the colours of a map mean, from none to the darkest. */
export function Legend({ from, to, title }: { from: string; to: string; title: string }) {
  return (
    <span className="inline-flex items-center gap-2 whitespace-nowrap text-ink-soft" title={title}>
      {from}{' '}
      <span
        className="inline-block h-2.5 w-20 border border-line bg-white"
        style={{ backgroundImage: RAMP_CSS }}
      />{' '}
      {to}
    </span>
  )
}
