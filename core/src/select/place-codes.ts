import type { Place } from './grammar/walk.ts'
import { placeText } from './grammar/walk.ts'

/** Numbers of places, the same for the same place. */
export class PlaceCodes {
  readonly places: Place[] = []
  readonly #codes = new Map<string, number>()

  constructor(known: readonly Place[] = []) {
    for (const place of known) this.codeOf(place)
  }

  codeOf(place: Place): number {
    const text = placeText(place)
    let code = this.#codes.get(text)
    if (code === undefined) this.#codes.set(text, (code = this.places.push(place) - 1))
    return code
  }
}
