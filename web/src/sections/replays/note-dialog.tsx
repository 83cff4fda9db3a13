import type { Said } from '@dust-trail/api'
import { useState } from 'react'
import { Field, inputLook } from '../../ui/controls.tsx'
import { FormDialog } from '../../ui/form-dialog.tsx'
import { clock } from '../../ui/format.ts'

export type Box = NonNullable<Said['notes'][number]['box']>

/** A note at a moment; with a frame, on a part of the page. */
export function NoteDialog({
  atMs,
  box,
  save,
  close,
}: {
  atMs: number
  box: Box | null
  save: (text: string) => void
  close: () => void
}) {
  const [text, setText] = useState('')
  return (
    <FormDialog
      title={`Note at ${clock(atMs)}`}
      description={box ? 'On the part of the page that you framed.' : 'On the moment that the player shows.'}
      close={close}
      submit={() => save(text)}
      submitText="Keep the note"
      ready={text.trim() !== ''}
    >
      <Field label="Note">
        <textarea
          autoFocus
          rows={3}
          maxLength={2000}
          className={inputLook}
          value={text}
          onChange={({ target }) => setText(target.value)}
        />
      </Field>
    </FormDialog>
  )
}

/** Lies over the page and takes the frame that is drawn there, in the page's own pixels. */
export function FrameDrawing({
  width,
  drawn,
}: {
  /** of the recorded window */
  width: number
  drawn: (box: Box | null) => void
}) {
  const [from, setFrom] = useState<{ x: number; y: number } | null>(null)
  const [to, setTo] = useState<{ x: number; y: number } | null>(null)
  const at = (event: React.PointerEvent<HTMLElement>) => {
    const { left, top, width: shown } = event.currentTarget.getBoundingClientRect()
    const scale = width / shown
    return { x: Math.round((event.clientX - left) * scale), y: Math.round((event.clientY - top) * scale) }
  }
  const box = from && to && boxOf(from, to)
  return (
    <div
      role="img"
      aria-label="Draw a frame over the page"
      className="absolute inset-0 z-20 cursor-crosshair bg-ink/10"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId)
        setFrom(at(event))
        setTo(at(event))
      }}
      onPointerMove={(event) => from && setTo(at(event))}
      onPointerUp={() => drawn(box && box.w > 3 && box.h > 3 ? box : null)}
    >
      {box && <NoteFrame box={box} />}
    </div>
  )
}

/** A frame on the page, as it was drawn. */
export function NoteFrame({ box, text }: { box: Box; text?: string }) {
  return (
    <div
      className="pointer-events-none absolute border-4 border-ochre"
      style={{ left: box.x, top: box.y, width: box.w, height: box.h }}
    >
      {text && (
        <span className="absolute top-full left-0 w-max max-w-96 bg-ochre-soft px-2 py-1 text-[16px] text-ink">
          {text}
        </span>
      )}
    </div>
  )
}

function boxOf(a: { x: number; y: number }, b: { x: number; y: number }): Box {
  return { x: Math.min(a.x, b.x), y: Math.min(a.y, b.y), w: Math.abs(a.x - b.x), h: Math.abs(a.y - b.y) }
}
