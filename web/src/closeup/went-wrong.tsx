import type { CloseUpAnswer } from '@dust-trail/core'
import type { DataColumn } from '../ui/data-table.tsx'
import { DataTable } from '../ui/data-table.tsx'
import { Empty } from '../ui/states.tsx'
import { elementName } from '../words/selections.ts'
import { againstColumns, selectedColumn } from './contrast-columns.tsx'
import { useSelection } from './use-selection.ts'

type Trouble = CloseUpAnswer['troubles'][number]

const ABOUT: DataColumn<Trouble>[] = [
  { id: 'signal', head: 'Signal', value: ({ kind }) => kind, opens: true, width: 116 },
  {
    id: 'element',
    head: 'Element',
    value: ({ text, selector }) => elementName(text, selector),
    title: ({ selector }) => selector,
  },
  { id: 'page', head: 'Page', value: ({ page }) => page, width: 150 },
  {
    id: 'nature',
    head: 'Nature',
    value: ({ technical }) => (technical ? 'technical' : 'usability'),
    className: 'text-ink-soft',
    width: 92,
    folds: 4,
  },
]

/** Signals that the selected met, by kind and element; technical faults told apart. */
export function WentWrong({ data, others }: { data: CloseUpAnswer; others?: string | undefined }) {
  const { setSelection } = useSelection()
  if (!data.troubles.length)
    return <Empty title="Nothing that we detect went wrong">No signal of any kind in these sessions.</Empty>
  return (
    <DataTable
      name="went-wrong"
      rows={data.troubles}
      columns={[...ABOUT, selectedColumn(data), ...againstColumns<Trouble>(data, others)]}
      rowKey={({ kind, page, selector }) => `${kind}/${page}/${selector}`}
      openTitle="Open all sessions that met this"
      open={({ kind, page, selector, text }) =>
        setSelection({ type: 'signal', kind, page, selector, text: text.slice(0, 80) })
      }
    />
  )
}
