import { attributeOf, quiet } from '../../dom.ts'
import { network } from './network.ts'
import type { NodeIds, Root } from './nodes.ts'
import { privacy } from './privacy.ts'
import type { Recorder } from './recorder.ts'
import { serialise } from './serialise.ts'

const XLINK = 'http://www.w3.org/1999/xlink'
const files = new Map<string, Promise<Document | undefined>>()
const MOST_FILES = 20

/** A drawing that the page uses out of another file: the file lies in the page's own cache. */
function fileOf(address: string): Promise<Document | undefined> {
  let file = files.get(address)
  if (!file && files.size < MOST_FILES)
    files.set(
      address,
      (file = network
        .ask(address, { cache: 'force-cache', credentials: 'same-origin' })
        .then(async (answer) =>
          answer.ok ? new DOMParser().parseFromString(await answer.text(), 'image/svg+xml') : undefined,
        )
        .catch(() => undefined)),
    )
  return file ?? Promise.resolve(undefined)
}

const brought = new WeakMap<Element, { ids: NodeIds; href: string }>()

/** Brings what a page uses out of other files of drawings into the recording. */
export function bringSymbols(root: Root, recorder: Recorder): void {
  for (const use of root.querySelectorAll('use')) {
    const href = attributeOf(use, 'href') ?? use.getAttributeNS(XLINK, 'href') ?? ''
    const [file = '', name] = href.split('#')
    const { ids } = recorder
    const before = brought.get(use)
    if (!file || !name || (before?.ids === ids && before.href === href)) continue
    brought.set(use, { ids, href })
    void fileOf(new URL(file, use.baseURI).href).then(
      quiet((drawing: Document | undefined) => {
        const symbol = drawing?.getElementById(name)
        const around = use.ownerSVGElement
        const usedId = recorder.idOf(use)
        const aroundId = around && recorder.idOf(around)
        if (!symbol || !usedId || !aroundId || recorder.ids !== ids) return
        const copy = symbol.cloneNode(true) as Element
        const id = `trail-${usedId}`
        copy.setAttribute('id', id)
        const node = serialise(copy, ids, {
          ...{ masked: false, bare: false },
          shown: privacy.isShown(use),
        })
        if (node && 'tag' in node)
          recorder.change({
            add: [[aroundId, 0, { id: recorder.number({}), tag: 'defs', svg: true, c: [node] }]],
            attr: [[usedId, 'href', `#${id}`]],
          })
      }),
    )
  }
}
