import { quiet } from './dom.ts'

/** Whether anything may be seen: off where the visitor does not allow it. */
export const watching = { on: true }

/** Listens early and never lets a mistake of ours reach the page. */
export function on<K extends keyof WindowEventMap>(
  target: Window,
  name: K,
  handle: (event: WindowEventMap[K]) => void,
): void
export function on<K extends keyof DocumentEventMap>(
  target: Document,
  name: K,
  handle: (event: DocumentEventMap[K]) => void,
): void
export function on(target: EventTarget, name: string, handle: (event: never) => void): void {
  const hear = quiet((event: Event) => {
    if (watching.on) (handle as (event: Event) => void)(event)
  })
  const attach = () => addListener.call(target, name, hear, { capture: true, passive: true })
  listeners.push(attach)
  attach()
}

const addListener = EventTarget.prototype.addEventListener
const listeners: (() => void)[] = []

/** Listens once more to everything: document.open() takes all listeners away. Those that are there stay one. */
export function listenAgain(): void {
  for (const attach of listeners) attach()
}

/** Hears of performance entries of a type, where the browser knows it. */
export function watch(
  type: string,
  see: (entry: PerformanceEntry) => void,
  more?: { durationThreshold: number },
): void {
  try {
    new PerformanceObserver((list) => list.getEntries().forEach(see)).observe({
      type,
      buffered: true,
      ...more,
    })
  } catch {
    // A browser without this kind of entry simply does not report it.
  }
}
