import type { SortingState } from '@tanstack/react-table'
import {
  columnOrderingFeature,
  columnVisibilityFeature,
  createSortedRowModel,
  rowSortingFeature,
  tableFeatures,
  useTable,
} from '@tanstack/react-table'
import { clsx } from 'clsx'
import { ArrowDown, ArrowUp } from 'lucide-react'
import type { ReactNode } from 'react'
import { Fragment, useMemo, useRef, useState } from 'react'
import { count } from './format.ts'
import { LinkButton } from './link-button.tsx'
import { useColumnChoice } from './table-columns.ts'
import { saveCsv } from './table-csv.ts'
import { TableMenu } from './table-menu.tsx'
import { useTableRows } from './table-rows.ts'

export interface DataColumn<Row> {
  id: string
  head: ReactNode
  /** the head in plain words, where it is not; "" where the column needs no name */
  words?: string
  /** what is shown; where it is left out the value: texts as they are, numbers as counts */
  cell?: (row: Row, index: number) => ReactNode
  /** what it is sorted and exported by; a column without cannot be sorted */
  value?: (row: Row) => string | number | null
  numeric?: boolean
  /** CSS px; a column without takes what is left, but no less than `least`, or 160 */
  width?: number
  least?: number
  /** folds away where there is no room, the highest number first; a column without never does */
  folds?: number
  /** holds the button that opens the row */
  opens?: boolean
  /** shown when the pointer rests on a cell, since a cell may be cut off; where it is left out a value that is text */
  title?: (row: Row) => string
  className?: string | ((row: Row) => string | false)
}

interface Props<Row> {
  /** under which the choice of columns is kept */
  name: string
  label?: string
  rows: readonly Row[]
  columns: readonly DataColumn<Row>[]
  rowKey: (row: Row, index: number) => string
  open?: (row: Row) => void
  openTitle?: string
  /** px; all rows are as high */
  rowHeight?: number
  rowProps?: (row: Row) => Record<string, unknown>
  /** is told by which column the rows are sorted; null: they stand as they came */
  sorted?: (id: string | null) => void
  /** what is shown below a row */
  below?: (row: Row, index: number) => ReactNode
  className?: string
}

/** A row as the table model holds it. */
interface TableRow<Row> {
  row: Row
}

const features = tableFeatures({
  rowSortingFeature,
  columnVisibilityFeature,
  columnOrderingFeature,
  sortedRowModel: createSortedRowModel(),
})

/** Width that the menu of columns takes in the last head. */
const MENU_PX = 30

/**
 * Rows of anything: sorted up and down by any head, with a head that stays in sight and a choice of columns that this
 * browser keeps; j, k and Enter go along the rows; CSV of what is shown. It is never cut off: where there is no room the
 * least important columns fold away, and then it scrolls inside itself. Thousands of rows are drawn as they come in
 * sight.
 */
export function DataTable<Row>({
  name,
  label,
  rows,
  columns,
  rowKey,
  open,
  openTitle,
  rowHeight = 32,
  rowProps,
  sorted: tellSorted,
  below,
  className,
}: Props<Row>) {
  const box = useRef<HTMLDivElement>(null)
  const [sorting, setSorting] = useState<SortingState>([])
  const choice = useColumnChoice(name, columns, box, MENU_PX)
  const data = useMemo(() => rows.map((row) => ({ row })), [rows])
  const table = useTable({
    features,
    data,
    columns: columns.map(({ id, value }) => ({
      id,
      accessorFn: ({ row }: TableRow<Row>) => value?.(row) ?? undefined,
      enableSorting: value !== undefined,
      sortFn: (a: { original: TableRow<Row> }, b: { original: TableRow<Row> }) =>
        compare(value?.(a.original.row) ?? '', value?.(b.original.row) ?? ''),
      // What is not known comes last, whichever way.
      sortUndefined: 'last' as const,
      sortDescFirst: false,
    })),
    state: { sorting, columnOrder: choice.order, columnVisibility: choice.visibility },
    onSortingChange: (change) => {
      const next = typeof change === 'function' ? change(sorting) : change
      setSorting(next)
      tellSorted?.(next[0]?.id ?? null)
    },
    getRowId: ({ row }: TableRow<Row>, index: number) => rowKey(row, index),
  })
  const byId = new Map(columns.map((column) => [column.id, column]))
  const heads = table.getHeaderGroups()[0]?.headers ?? []
  const shown = heads.map(({ column }) => byId.get(column.id)!)
  const model = table.getRowModel().rows
  const { visible, before, after, isLong } = useTableRows(model.length, rowHeight, box)
  return (
    <div
      ref={box}
      className={clsx('relative overflow-x-auto', isLong && 'max-h-[70vh] overflow-y-auto', className)}
    >
      <table
        className="w-full table-fixed"
        style={{ minWidth: choice.leastWidth }}
        data-list
        aria-label={label}
        aria-rowcount={model.length}
      >
        <colgroup>
          {shown.map(({ id, width }) => (
            <col key={id} {...(width !== undefined && { style: { width } })} />
          ))}
          <col style={{ width: MENU_PX }} />
        </colgroup>
        <thead>
          <tr>
            {heads.map((header, k) => {
              const column = shown[k]!
              const sorted = header.column.getIsSorted()
              const canSort = header.column.getCanSort()
              return (
                <th
                  key={column.id}
                  className={clsx('cell', column.numeric && 'cell-n')}
                  {...(sorted && { 'aria-sort': sorted === 'asc' ? 'ascending' : 'descending' })}
                  {...(column.words === '' && { 'aria-label': column.id })}
                >
                  {canSort ? (
                    <button
                      type="button"
                      className={clsx(
                        'inline-flex max-w-full items-center gap-1 hover:text-ink',
                        column.numeric && 'flex-row-reverse',
                      )}
                      title={`Sort by ${wordsOf(column)}`}
                      onClick={header.column.getToggleSortingHandler()}
                    >
                      <span className="truncate">{column.head}</span>
                      {sorted === 'asc' && <ArrowUp size={12} aria-hidden className="shrink-0" />}
                      {sorted === 'desc' && <ArrowDown size={12} aria-hidden className="shrink-0" />}
                    </button>
                  ) : (
                    <span className="block truncate">{column.head}</span>
                  )}
                </th>
              )
            })}
            <th className="cell !px-0" aria-label="Columns">
              <TableMenu
                choice={choice}
                columns={columns.map((column) => ({ id: column.id, words: wordsOf(column) || column.id }))}
                saveCsv={() =>
                  void saveCsv(
                    name,
                    shown.flatMap((column) =>
                      column.value ? [{ head: wordsOf(column), value: column.value }] : [],
                    ),
                    model.map(({ original }) => original.row),
                  )
                }
              />
            </th>
          </tr>
        </thead>
        <tbody>
          {before > 0 && <tr aria-hidden style={{ height: before }} />}
          {visible.map((index) => {
            const {
              original: { row },
              id,
            } = model[index]!
            return (
              <Fragment key={id}>
                <tr
                  aria-rowindex={index + 1}
                  {...(open && {
                    'data-row': true,
                    tabIndex: -1,
                    onClick: () => open(row),
                    onKeyDown: (event) => event.key === 'Enter' && open(row),
                  })}
                  {...rowProps?.(row)}
                >
                  {shown.map((column) => (
                    <td
                      key={column.id}
                      className={clsx(
                        'cell truncate',
                        column.numeric && 'cell-n',
                        typeof column.className === 'function' ? column.className(row) : column.className,
                      )}
                      style={{ height: rowHeight }}
                      title={titleOf(column, row)}
                    >
                      {column.opens && open ? (
                        <LinkButton title={openTitle ?? titleOf(column, row)}>
                          {contentOf(column, row, index)}
                        </LinkButton>
                      ) : (
                        contentOf(column, row, index)
                      )}
                    </td>
                  ))}
                  <td className="cell" />
                </tr>
                {below?.(row, index)}
              </Fragment>
            )
          })}
          {after > 0 && <tr aria-hidden style={{ height: after }} />}
        </tbody>
      </table>
    </div>
  )
}

function contentOf<Row>({ cell, value }: DataColumn<Row>, row: Row, index: number): ReactNode {
  if (cell) return cell(row, index)
  const shown = value?.(row) ?? '–'
  return typeof shown === 'number' ? count(shown) : shown
}

function titleOf<Row>({ title, value }: DataColumn<Row>, row: Row): string | undefined {
  const text = title ? title(row) : value?.(row)
  return typeof text === 'string' ? text : undefined
}

function wordsOf<Row>({ words, head }: DataColumn<Row>): string {
  return words ?? (typeof head === 'string' ? head : '')
}

/** Numbers by size, texts by alphabet. */
function compare(a: string | number, b: string | number): number {
  return typeof a === 'number' && typeof b === 'number' ? a - b : String(a).localeCompare(String(b))
}
