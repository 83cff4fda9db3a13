import { SIGNAL_KINDS, STRAIN_WEIGHTS } from '@dust-trail/core'
import { useSite } from '../../app/lens.ts'
import { Button, inputLook } from '../../ui/controls.tsx'
import { Failure } from '../../ui/states.tsx'
import type { Weights } from './use-weights.ts'

/** How hard a signal of each kind is: what is above follows while it is typed. */
export function StrainWeightsForm({
  textOf,
  type,
  wanted,
  changed,
  isDefault,
  discard,
  save,
  saving,
  error,
}: Weights) {
  const site = useSite()
  return (
    <section aria-label="Weights">
      <h2>How hard a signal of each kind is</h2>
      <p className="mb-2 text-ink-soft">
        0 leaves a kind out. The figures above follow at once; other screens once it is saved.
      </p>
      <form
        className="space-y-3"
        onSubmit={(event) => {
          event.preventDefault()
          save(wanted)
        }}
      >
        <div className="grid max-w-4xl grid-cols-3 gap-x-6 gap-y-1.5">
          {SIGNAL_KINDS.map((kind) => (
            <label key={kind} className="flex items-center gap-2">
              <span className="min-w-0 flex-1 truncate" title={`${STRAIN_WEIGHTS[kind]} by default`}>
                {kind}
              </span>
              <input
                type="number"
                min={0}
                max={20}
                step={0.5}
                className={`${inputLook} max-w-20`}
                value={textOf(kind)}
                onChange={({ target }) => type(kind, target.value)}
              />
            </label>
          ))}
        </div>
        {error && <Failure error={error} />}
        <div className="flex gap-2">
          <Button type="submit" look="primary" disabled={!changed || saving}>
            Save for {site.name}
          </Button>
          {changed && <Button onClick={discard}>Discard</Button>}
          {!changed && !isDefault && (
            <Button disabled={saving} onClick={() => save({})}>
              Back to default
            </Button>
          )}
        </div>
      </form>
    </section>
  )
}
