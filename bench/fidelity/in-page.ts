/** Runs in the page that shows a recording, and, for what it says of a page, in the original. */
import type { DocumentRecording } from '../../core/src/index.ts'
import type { ClippedRecording } from '../../core/src/recording/index.ts'
import { FoldedPage, lastMs } from '../../core/src/recording/index.ts'
import { createFrame, filesIn, Stage } from '../../replay/src/index.ts'

export interface Place {
  key: string
  x: number
  y: number
  w: number
  h: number
}

/** How the last moment is come to: at once, bit by bit, or from a frame in which all that changed is folded. */
export type Way = 'jump' | 'play' | 'fold'
/** Of the recording, between two pictures of the screen. */
const STEP_MS = 150

async function showRecording(
  text: string,
  files: Record<string, string>,
  way: Way,
): Promise<{ skipped: number; width: number; height: number }> {
  const recorded = JSON.parse(text) as DocumentRecording
  const recording: ClippedRecording = way === 'fold' ? folded(recorded) : recorded
  const frame = await createFrame(document.body, {
    pictureOrigins: [],
    ownOrigin: location.origin,
    title: 'Recorded page',
  })
  frame.style.cssText = `position:absolute;left:0;top:0;border:0;width:${recording.snapshot.width}px;height:${recording.snapshot.height}px`
  const contents = new Map(Object.entries(files))
  const stage = new Stage(
    frame.contentDocument!,
    [recording],
    [{ index: 0, fromMs: 0 }],
    (width, height) => {
      frame.style.width = `${width}px`
      frame.style.height = `${height}px`
    },
    (one) => filesIn(one, contents, []),
  )
  const end = lastMs(recorded) + 1
  if (way === 'play')
    for (let at = 0; at < end; at += STEP_MS) {
      stage.seek(at)
      await new Promise((resolve) => requestAnimationFrame(resolve))
    }
  const view = stage.seek(end)
  return { skipped: stage.page.skipped, width: view.width, height: view.height }
}

/** The same page as it stands at the end, with what the pointer did. */
function folded(recording: DocumentRecording): ClippedRecording {
  const page = new FoldedPage(recording.snapshot)
  for (const item of recording.items) page.apply(item)
  const { snapshot, styles, items } = page.standing()
  const pointer = recording.items.filter(({ k }) => k === 'move' || k === 'click')
  return {
    ...recording,
    ...{ snapshot, styles },
    items: [...items.map((item) => ({ ...item, at: 0 })), ...pointer],
  }
}

Object.assign(window, { showRecording })
