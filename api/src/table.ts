import type { Row } from '@dust-trail/core'

/** A row with what lies within it under dotted names, for CSV. */
export function flat(row: Row, prefix = ''): Row {
  const cells: Row = {}
  for (const [name, value] of Object.entries(row)) {
    const key = `${prefix}${name}`
    if (Array.isArray(value)) value.forEach((one: unknown, i) => (cells[`${key}.${i}`] = one))
    else if (typeof value === 'object' && value !== null) Object.assign(cells, flat(value as Row, `${key}.`))
    else cells[key] = value
  }
  return cells
}
