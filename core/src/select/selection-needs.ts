import type {
  Condition,
  FunnelSelection,
  Lens,
  PathSelection,
  Selection,
  VisitorMoments,
} from './grammar/conditions.ts'

/** Finds out among the sessions of a lens what must be known of a funnel before its sessions can be looked for. */
export interface FindNeeds {
  /** which visitors a funnel over visitors means: the scan visitorMoments */
  moments: (selection: FunnelSelection, lens: Lens) => Promise<VisitorMoments>
  /** which visitors a path over visitors means: the scan visitorPaths */
  ways: (selection: PathSelection, lens: Lens) => Promise<VisitorMoments>
  /** which errors count as a reason at the step of a funnel over sessions: the scan leakErrors */
  errors: (selection: FunnelSelection, lens: Lens) => Promise<readonly number[]>
}

/*
 * Some funnels cannot be looked for block by block. A visitor's sessions lie in several, and whether an error is the
 * reason of a leak shows only when all who were lost are held against all who went on. Both are found out first and put
 * into the selection. These functions do so for every such funnel, however deep it lies in a selection, a condition or a
 * lens. What holds none is given back as it is.
 */

/**
 * A selection in which every funnel knows what its sessions are looked for by.
 *
 * @param lens  among whose sessions that is found out; of what lies in a set, in the set's own lens
 */
export async function completeSelection<S extends Selection>(
  selection: S,
  lens: Lens,
  find: FindNeeds,
): Promise<S> {
  const changed = await changedSelection(selection, lens, find)
  return changed as S
}

/** A lens of whose condition the same holds, found out on its days and devices. */
export async function completeLens(lens: Lens, find: FindNeeds): Promise<Lens> {
  if (!lens.where) return lens
  const { where, ...rest } = lens
  const completed = await complete(where, rest, find)
  return completed === where ? lens : { ...rest, where: completed }
}

async function changedSelection(selection: Selection, lens: Lens, find: FindNeeds): Promise<Selection> {
  switch (selection.type) {
    case 'funnel':
      if (selection.options?.per === 'visitor')
        return { ...selection, moments: await find.moments(selection, lens) }
      return needsErrors(selection) ? { ...selection, errors: await find.errors(selection, lens) } : selection
    case 'where': {
      const condition = await complete(selection.condition, lens, find)
      return condition === selection.condition ? selection : { ...selection, condition }
    }
    case 'path': {
      const from = selection.from && (await changedSelection(selection.from, lens, find))
      const known = from === selection.from ? selection : { ...selection, from }
      return known.walk?.per === 'visitor' ? { ...known, moments: await find.ways(known, lens) } : known
    }
    case 'set': {
      if (!selection.of) return selection
      const { of } = selection
      const setLens = await completeLens(of.lens, find)
      const inner = await changedSelection(of.selection, setLens, find)
      return setLens === of.lens && inner === of.selection
        ? selection
        : { ...selection, of: { ...of, lens: setLens, selection: inner } }
    }
    default:
      return selection
  }
}

async function complete(condition: Condition, lens: Lens, find: FindNeeds): Promise<Condition> {
  switch (condition.type) {
    case 'all':
    case 'any': {
      const of = await Promise.all(condition.of.map((one) => complete(one, lens, find)))
      return of.every((one, k) => one === condition.of[k]) ? condition : { ...condition, of }
    }
    case 'not': {
      const of = await complete(condition.of, lens, find)
      return of === condition.of ? condition : { ...condition, of }
    }
    case 'selected': {
      const selection = await changedSelection(condition.selection, lens, find)
      return selection === condition.selection ? condition : { ...condition, selection }
    }
    default:
      return condition
  }
}

/** Whether only some of the lost are meant, by what they did instead. */
export function needsErrors({ side, leak, page }: FunnelSelection): boolean {
  return side === 'dropped' && (leak !== undefined || page !== undefined)
}
