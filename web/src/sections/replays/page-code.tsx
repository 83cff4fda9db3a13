import { Download } from 'lucide-react'
import { useState } from 'react'
import { Button } from '../../ui/controls.tsx'
import { clock } from '../../ui/format.ts'
import { saveFile } from '../../ui/save-file.ts'

/** More than this is not shown, but saved. */
const MOST_SHOWN = 200_000

/** The recorded page as HTML as it stands at this moment: without scripts, and with what was hidden still hidden. */
export function PageCode({ html, atMs }: { html: () => string; atMs: number }) {
  const [taken, setTaken] = useState<{ text: string; atMs: number } | null>(null)
  const take = () => {
    const made = { text: html(), atMs }
    setTaken(made)
    return made
  }
  return (
    <>
      <div className="flex flex-wrap items-center gap-2 border-b border-line p-2">
        <Button onClick={take}>Show as of {clock(atMs)}</Button>
        <Button
          onClick={() =>
            saveFile(new Blob([take().text], { type: 'text/html' }), `page-at-${clock(atMs)}.html`)
          }
        >
          <Download size={14} aria-hidden /> Save
        </Button>
        {taken && <span className="text-ink-soft">as of {clock(taken.atMs)}</span>}
      </div>
      <pre
        aria-label="HTML of the page"
        tabIndex={0}
        className="min-h-0 flex-1 overflow-auto px-3 py-2 text-[11px] break-words whitespace-pre-wrap"
      >
        {taken?.text.slice(0, MOST_SHOWN) ??
          'The page’s elements at the moment that is shown, cleaned of everything that could act.'}
        {taken && taken.text.length > MOST_SHOWN && '\n… the rest is in the file.'}
      </pre>
    </>
  )
}
