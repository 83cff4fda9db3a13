/** What stands for one character of a text that was typed. */
const BULLET = '•'
const MOST_BULLETS = 200

/** Puts a state of a control that no attribute says, as capture/src/more/recording/state.ts tells it. */
export function setState(element: Element, name: string, value: string | null): void {
  const field = element as HTMLInputElement & HTMLSelectElement
  switch (name) {
    case 'checked':
      field.checked = value === 'true'
      field.indeterminate = value === 'mixed'
      break
    case 'selected': {
      if (element.localName !== 'select') break
      const chosen = new Set((value ?? '').split(',').filter(Boolean).map(Number))
      for (let k = 0; k < field.options.length; k++) field.options[k]!.selected = chosen.has(k)
      break
    }
    case 'value':
      if (element.localName === 'input' && /^(range|color)$/.test(field.type)) field.value = value ?? ''
      break
    case 'length':
      setLength(element, Number(value ?? 0))
      break
    case 'files':
      setFiles(field, Number(value ?? 0))
      break
  }
}

/** A field shows how much was typed, never what. */
export function setLength(element: Element, length: number): void {
  if (!('value' in element) || element.localName === 'select') return
  const field = element as HTMLInputElement
  if (field.type === 'file' || !/^(input|textarea)$/.test(field.localName)) return
  // Takes nothing but digits.
  if (field.type === 'number') field.type = 'text'
  field.value = BULLET.repeat(Math.min(Math.max(0, length) || 0, MOST_BULLETS))
}

/** Of chosen files is shown how many there are. */
function setFiles(field: HTMLInputElement, count: number): void {
  const view = field.ownerDocument.defaultView
  if (field.type !== 'file' || !view) return
  const files = new view.DataTransfer()
  for (let k = 0; k < Math.min(count, 100); k++) files.items.add(new view.File([], BULLET.repeat(8)))
  field.files = files.files
}
