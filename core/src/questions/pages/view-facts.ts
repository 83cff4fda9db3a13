import { oncePer } from '../../columns/block-cache.ts'
import type { Block } from '../../columns/block.ts'
import { amountAt, numberAt } from '../../columns/block.ts'
import { eachView } from '../../columns/each-view.ts'
import { KIND_CODE } from '../../columns/event-codes.ts'
import { couldNotBeShown } from '../../events/page-status.ts'
import { engagedMs } from '../../select/engaged-time.ts'

/** A page is read to its end where this much of it was seen: its foot is no text. Common practice, no source. */
export const READ_DEPTH = 0.9

/** The bits of `done`; the clicks of the view lie above them. */
export const DONE = {
  /** clicked or typed, or an answer to input was waited for */
  worked: 1,
  /** told how far it was scrolled, and that this was to its end */
  depthTold: 2,
  read: 4,
  notFound: 8,
  /** told how long the page took to load: see amountAt */
  loadTold: 16,
  /** has a row in `rare` */
  rare: 32,
} as const
export const CLICKS_SHIFT = 6

/** Stands for a time that nothing tells. */
export const NOT_TOLD = 0xffff_ffff

/** What happened on each page view of a block, in order of view: what tables of pages would else read event by event. */
export interface ViewFacts {
  /** ms it was looked at; NOT_TOLD. Sessions end after 12 hours, so that it fits. */
  engaged: Uint32Array
  done: Uint32Array
  /** the views with errors or slow answers, in ascending order; the slowest answer in ms, −1 = none told */
  rare: { view: Uint32Array; errors: Uint32Array; slowest: Float64Array }
}

/** The facts of a block, found at the first question and kept as long as it lives. Complexity then: events. */
export const viewFacts = oncePer((block: Block): ViewFacts => {
  const { sessions, events, views } = block
  const { kind } = events
  const { click, input, scroll, error, freeze } = KIND_CODE
  const engaged = new Uint32Array(views.count)
  const done = new Uint32Array(views.count)
  const rare = { view: [] as number[], errors: [] as number[], slowest: [] as number[] }
  let v = 0
  for (let s = 0; s < sessions.count; s++) {
    const last = sessions.firstEvent[s + 1]!
    eachView(block, s, (event, end) => {
      let clicks = 0
      let flags = 0
      let depth = -1
      let errors = 0
      let slowest = -1
      for (let i = event + 1; i < end; i++) {
        const code = kind[i]
        if (code === click) clicks++
        else if (code === input) flags |= DONE.worked
        else if (code === scroll) depth = Math.max(depth, numberAt(block, i))
        else if (code === error) errors++
        else if (code === freeze) slowest = Math.max(slowest, numberAt(block, i))
      }
      if (clicks || slowest >= 0) flags |= DONE.worked
      if (depth >= 0) flags |= DONE.depthTold
      if (depth >= READ_DEPTH) flags |= DONE.read
      if (couldNotBeShown(numberAt(block, event))) flags |= DONE.notFound
      if (!Number.isNaN(amountAt(block, event))) flags |= DONE.loadTold
      if (errors || slowest >= 0) {
        flags |= DONE.rare
        rare.view.push(v)
        rare.errors.push(errors)
        rare.slowest.push(slowest)
      }
      const ms = engagedMs(block, event, end, last)
      engaged[v] = Number.isNaN(ms) ? NOT_TOLD : ms
      done[v++] = flags + clicks * 2 ** CLICKS_SHIFT
    })
  }
  return {
    ...{ engaged, done },
    rare: {
      view: Uint32Array.from(rare.view),
      errors: Uint32Array.from(rare.errors),
      slowest: Float64Array.from(rare.slowest),
    },
  }
})
