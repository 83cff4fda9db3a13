import { toJson } from '../../dom.ts'
import { privacy } from './privacy.ts'

const NAME = /^[\w-]{1,60}$/
const MOST_RANGES = 500

interface Marked {
  highlights?: Map<string, Iterable<AbstractRange> & { priority: number }>
}

/**
 * What scripts have marked without a change of the document (CSS Custom Highlight API Level 1, section 3): by name and
 * priority the ranges, each as numbers of the nodes in which it begins and ends and the places in them; "" where there is none.
 */
export function highlightsNow(numberOf: (node: Node) => number | undefined): string {
  const { highlights } = CSS as Marked
  if (!highlights?.size) return ''
  const out: [name: string, priority: number, ranges: number[][]][] = []
  let left = MOST_RANGES
  for (const [name, highlight] of highlights) {
    if (!NAME.test(name) || privacy.isData(name)) continue
    const ranges: number[][] = []
    for (const { startContainer, startOffset, endContainer, endOffset } of highlight) {
      const [start, end] = [numberOf(startContainer), numberOf(endContainer)]
      if (start && end && left-- > 0) ranges.push([start, startOffset, end, endOffset])
    }
    out.push([name, highlight.priority, ranges])
  }
  return toJson(out)
}
