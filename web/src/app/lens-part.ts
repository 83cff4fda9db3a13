import type { Lens } from '../../../core/src'

export interface LensPart {
  lens: Lens
  setLens: (lens: Lens) => void
}
