import type { EventCondition } from '../labels/event-condition.ts'
import type { Names } from '../labels/names.ts'

/** Conditions without `any` and named actions, where these stand alone, one of which must hold. */
export function alternatives(condition: EventCondition, names: Names): readonly EventCondition[] {
  const cached = alternativesOf.get(condition)
  if (cached?.names === names) return cached.of
  const of = taken(flat(condition), names)
  alternativesOf.set(condition, { names, of })
  return of
}

const alternativesOf = new WeakMap<EventCondition, { names: Names; of: readonly EventCondition[] }>()

function taken(condition: EventCondition, names: Names): readonly EventCondition[] {
  const { action, any, ...others } = condition
  if (Object.values(others).some((part) => part !== undefined)) return [condition]
  if (any && action === undefined) return any.flatMap((one) => alternatives(one, names))
  if (action === undefined || any) return [condition]
  const rule = names.actions?.get(action)
  const reported: EventCondition = { kinds: ['action'], name: { is: 'equal', to: action } }
  return rule ? [reported, ...alternatives(rule, names)] : [reported]
}

/** Parts that must all hold as one condition, where they are about different things. */
function flat(condition: EventCondition): EventCondition {
  if (!condition.all) return condition
  const { all, ...own } = condition
  let joined: EventCondition = own
  const left: EventCondition[] = []
  for (const part of all.map(flat)) {
    // A field that one part leaves out keeps the value that another part gives it.
    const said = Object.entries(part).filter(([, value]) => value !== undefined)
    const clash = said.some(([key]) => joined[key as keyof EventCondition] !== undefined)
    if (clash) left.push(part)
    else joined = { ...joined, ...Object.fromEntries(said) }
  }
  // One of the parts may have brought some of its own that must hold.
  return left.length ? { ...joined, all: [...(joined.all ?? []), ...left] } : joined
}
