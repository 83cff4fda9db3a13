import { ArrowDown, ArrowUp, Download, EllipsisVertical } from 'lucide-react'
import { useState } from 'react'
import { Button, IconButton } from './controls.tsx'
import { MenuItem } from './menu-item.tsx'
import { Popover } from './popover.tsx'
import type { ColumnChoice } from './table-columns.ts'

/** Which columns a table shows and in which order, and its rows as CSV. */
export function TableMenu({
  choice,
  columns,
  saveCsv,
}: {
  choice: ColumnChoice
  columns: readonly { id: string; words: string }[]
  saveCsv: () => void
}) {
  const [open, setOpen] = useState(false)
  const shown = columns.length - choice.hidden.length
  const wordsOf = (id: string) => columns.find((column) => column.id === id)?.words ?? id
  return (
    <Popover
      label="Columns"
      open={open}
      setOpen={setOpen}
      align="end"
      className="w-72 p-1.5"
      trigger={
        <IconButton label="Columns and CSV">
          <EllipsisVertical size={14} />
        </IconButton>
      }
    >
      <div className="max-h-80 overflow-auto">
        {choice.order.map((id, k) => (
          <div key={id} className="flex items-center">
            <MenuItem
              checked={!choice.hidden.includes(id)}
              disabled={shown === 1 && !choice.hidden.includes(id)}
              onClick={() => choice.setHidden(id, !choice.hidden.includes(id))}
            >
              <span className="min-w-0 flex-1 truncate">{wordsOf(id)}</span>
              {choice.folded.includes(id) && <span className="text-ink-soft">no room</span>}
            </MenuItem>
            <IconButton
              label={`Move ${wordsOf(id)} forward`}
              disabled={k === 0}
              onClick={() => choice.move(id, -1)}
            >
              <ArrowUp size={13} />
            </IconButton>
            <IconButton
              label={`Move ${wordsOf(id)} back`}
              disabled={k === choice.order.length - 1}
              onClick={() => choice.move(id, 1)}
            >
              <ArrowDown size={13} />
            </IconButton>
          </div>
        ))}
      </div>
      <div className="mt-1 flex gap-1.5 border-t border-line pt-1.5">
        <Button
          onClick={() => {
            saveCsv()
            setOpen(false)
          }}
        >
          <Download size={14} aria-hidden /> CSV of these rows
        </Button>
        {choice.isChanged && <Button onClick={choice.reset}>As at first</Button>}
      </div>
    </Popover>
  )
}
