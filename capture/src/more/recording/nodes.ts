/** A document or a shadow tree. */
export type Root = Document | ShadowRoot

/** Numbers for nodes: a node keeps its number as long as it lives. */
export class NodeIds {
  #last = 0
  #ids = new WeakMap<object, number>()
  /** style sheets whose text has been written, with the number of the node that holds it */
  readonly sheets = new WeakMap<CSSStyleSheet, { id: number; version: number }>()

  /** @param met  a root comes into the recording: what changes in it is to be seen from now on */
  constructor(readonly met: (root: Root) => void = () => undefined) {}

  of(node: object): number {
    let id = this.#ids.get(node)
    if (!id) this.#ids.set(node, (id = ++this.#last))
    return id
  }

  /** The number of a node that has been written; undefined for one that never was. */
  known(node: object | null): number | undefined {
    return node ? this.#ids.get(node) : undefined
  }
}
