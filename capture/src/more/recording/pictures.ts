import { attributeOf, closestTo, quiet } from '../../dom.ts'
import { safePicture } from './attributes.ts'
import type { NodeIds } from './nodes.ts'
import { privacy } from './privacy.ts'
import type { Recorder } from './recorder.ts'
import { naturalSize } from './state.ts'
import { stillOf } from './stills.ts'

/** Pictures as the browser took them: which of several, and for which density of the screen. */
export class Pictures {
  readonly #told = new WeakMap<Element, { ids: NodeIds; src: string }>()

  constructor(
    private readonly recorder: Recorder,
    private readonly drawings: boolean,
  ) {}

  loaded(image: HTMLImageElement): void {
    const { currentSrc } = image
    const { ids } = this.recorder
    const id = ids.known(image)
    const told = this.#told.get(image)
    if (
      !id ||
      (told?.ids === ids && told.src === currentSrc) ||
      privacy.isStructureOnly(image) ||
      privacy.blockOf(image)
    )
      return
    this.#told.set(image, { ids, src: currentSrc })
    if (/^blob:/.test(currentSrc)) {
      // It may be the visitor's own: it leaves where the site lets drawings leave.
      if (this.drawings)
        void stillOf(image, image.naturalWidth, image.naturalHeight).then(
          quiet((still: string | undefined) => {
            if (still) this.recorder.change({ attr: [[id, 'src', still]] })
          }),
        )
      return
    }
    this.recorder.change({
      attr: [
        [id, 'src', safePicture(currentSrc)],
        [id, 'data-trail-natural', naturalSize(image)],
      ],
    })
    if (attributeOf(image, 'srcset') === null && !closestTo(image, 'picture')) return
    const probe = new Image()
    probe.onload = quiet(() => {
      const density = probe.naturalWidth / image.naturalWidth
      if (image.currentSrc === currentSrc && density > 0 && Math.abs(density - 1) > 0.001)
        this.recorder.tell(image, 'density', density.toFixed(4))
    })
    probe.src = currentSrc
  }
}
