/** Runs in the page that shows a recording, and, for what it says of a page, in the original. */
import type { DocumentRecording } from '../../core/src/index.ts'
import { lastMs } from '../../core/src/recording/index.ts'
import { createFrame, filesIn, Stage } from '../../replay/src/index.ts'

export interface Place {
  key: string
  x: number
  y: number
  w: number
  h: number
}

async function showRecording(
  text: string,
  files: Record<string, string>,
): Promise<{ skipped: number; width: number; height: number }> {
  const recording = JSON.parse(text) as DocumentRecording
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
  const view = stage.seek(lastMs(recording) + 1)
  return { skipped: stage.page.skipped, width: view.width, height: view.height }
}

Object.assign(window, { showRecording })
