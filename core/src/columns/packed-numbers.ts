import { Scratch } from './scratch.ts'

/**
 * The numbers of a column as bytes: in the narrowest form that gives each of them back exactly, the bytes plane by plane,
 * which is what makes them easy to compress.
 */

/** How the numbers of a column are written. */
type Form = 'zero' | 'u8' | 'u16' | 'u32' | 'milli' | 'centi' | 'f32' | 'f64'

/** What must be known of a column to read it again. */
export interface ColumnForm {
  form: Form
  /** how many numbers are written: those that are not NaN */
  written: number
  /** a bit for each number says whether it is written */
  gaps?: true
}

/** A column that numbers are read into. */
export type AnyNumbers = Float64Array | Float32Array | Uint32Array | Uint16Array | Uint8Array

const WIDTH: Record<Form, number> = { zero: 0, u8: 1, u16: 2, u32: 4, milli: 2, centi: 4, f32: 4, f64: 8 }

/** Bytes that grow as they are written. Their memory is used again, since to allocate it takes the longest. */
export class GrowingBytes {
  #bytes = new Uint8Array(1 << 16)
  length = 0

  /** The next so many bytes, all 0. Valid until more is written. */
  next(count: number): Uint8Array {
    const needed = this.length + count
    if (needed > this.#bytes.length) {
      const more = new Uint8Array(Math.max(needed, 2 * this.#bytes.length))
      more.set(this.written())
      this.#bytes = more
    }
    const bytes = this.#bytes.subarray(this.length, needed).fill(0)
    this.length = needed
    return bytes
  }

  /** All that is written, until more is. */
  written(): Uint8Array {
    return this.#bytes.subarray(0, this.length)
  }
}

/** Memory for numbers that are needed for a moment: lends so many of any value, valid until it is asked again. */
export function numberScratch(): (length: number) => Float64Array {
  const scratch = new Scratch((rows) => ({ numbers: new Float64Array(rows) }))
  return (length) => scratch.lend(length).numbers.subarray(0, length)
}

const knownScratch = numberScratch()

/** Writes numbers, NaN for those that are not known. All come in double precision: one form of columns is fastest. */
export function writeNumbers(values: Float64Array, into: GrowingBytes): ColumnForm {
  const whole = wholeForm(values)
  if (whole) {
    writePlanes(values, whole, into)
    return { form: whole, written: values.length }
  }
  let written = 0
  for (let i = 0; i < values.length; i++) if (values[i]! === values[i]!) written++
  if (written === values.length) {
    const form = wideForm(values)
    writePlanes(values, form, into)
    return { form, written }
  }
  const mask = into.next((values.length + 7) >>> 3)
  const seen = knownScratch(written)
  let n = 0
  for (let i = 0; n < written; i++)
    if (values[i]! === values[i]!) {
      seen[n++] = values[i]!
      mask[i >>> 3]! |= 1 << (i & 7)
    }
  const form = wholeForm(seen) ?? wideForm(seen)
  writePlanes(seen, form, into)
  return { form, written, gaps: true }
}

/** The narrowest form of whole numbers that gives every number back exactly; undefined where there is another among them. */
function wholeForm(values: Float64Array): Form | undefined {
  // The upper half of a number's bits begins with its sign, which -0 has as well.
  const halves = new Int32Array(values.buffer, values.byteOffset, 2 * values.length)
  let signs = 0
  let most = 0
  let rest = 0
  for (let i = 0; i < values.length; i++) {
    const value = values[i]!
    signs |= halves[2 * i + 1]!
    rest += value - Math.floor(value)
    if (value > most) most = value
  }
  // NaN, too, where any is NaN or has no end.
  if (signs < 0 || rest !== 0) return undefined
  if (most === 0) return 'zero'
  return most < 2 ** 8 ? 'u8' : most < 2 ** 16 ? 'u16' : most < 2 ** 32 ? 'u32' : undefined
}

function wideForm(values: Float64Array): Form {
  if (values.every(isMilli)) return 'milli'
  if (values.every((value) => Math.fround(value) === value)) return 'f32'
  return values.every(isCenti) ? 'centi' : 'f64'
}

/** Whether a number is a count of thousandths, as a share rounded to three places is once it is held in single precision. */
function isMilli(value: number): boolean {
  const thousandths = Math.round(value * 1000)
  return (
    thousandths >= 0 &&
    thousandths < 2 ** 16 &&
    Math.fround(thousandths / 1000) === value &&
    !Object.is(value, -0)
  )
}

/** Whether a number is a count of hundredths, as an amount of money is. */
function isCenti(value: number): boolean {
  const hundredths = Math.round(value * 100)
  return hundredths >= 0 && hundredths < 2 ** 32 && hundredths / 100 === value && !Object.is(value, -0)
}

/** How many of its units make one, for forms that count parts of one. */
const PARTS: Partial<Record<Form, number>> = { milli: 1000, centi: 100 }

function writePlanes(values: Float64Array, form: Form, into: GrowingBytes): void {
  const count = values.length
  const width = WIDTH[form]
  const bytes = into.next(width * count)
  if (form === 'f32' || form === 'f64') {
    const raw = new Uint8Array((form === 'f32' ? Float32Array.from(values) : values.slice()).buffer)
    for (let i = 0; i < count; i++) for (let p = 0; p < width; p++) bytes[p * count + i] = raw[i * width + p]!
    return
  }
  for (let p = 0; p < width; p++) {
    const at = p * count
    const shift = 8 * p
    const parts = PARTS[form]
    if (parts) for (let i = 0; i < count; i++) bytes[at + i] = Math.round(values[i]! * parts) >>> shift
    else for (let i = 0; i < count; i++) bytes[at + i] = values[i]! >>> shift
  }
}

/** How many bytes a column of so many numbers takes. */
export function bytesIn({ form, written, gaps }: ColumnForm, length: number): number {
  return WIDTH[form] * written + (gaps ? (length + 7) >>> 3 : 0)
}

/** What is written of a column, and of which rows that is: a bit a row; undefined where it is all of them. */
export interface Written {
  numbers: AnyNumbers
  mask: Uint8Array | undefined
}

/** Reads what is written alone. What is returned may lie in the bytes. */
export function readWritten(bytes: Uint8Array, { form, written, gaps }: ColumnForm, length: number): Written {
  const mask = gaps ? bytes.subarray(0, (length + 7) >>> 3) : undefined
  return { mask, numbers: fromPlanes(mask ? bytes.subarray(mask.length) : bytes, form, written) }
}

/** Reads numbers back, whatever lay there before. */
export function readNumbers(bytes: Uint8Array, { form, written, gaps }: ColumnForm, into: AnyNumbers): void {
  if (written === 0 && gaps) {
    into.fill(NaN)
    return
  }
  if (form === 'zero' && !gaps) {
    into.fill(0)
    return
  }
  const { numbers, mask } = readWritten(bytes, { form, written, ...(gaps && { gaps }) }, into.length)
  if (!mask) {
    into.set(numbers)
    return
  }
  let n = 0
  for (let i = 0; i < into.length; i++) into[i] = mask[i >>> 3]! & (1 << (i & 7)) ? numbers[n++]! : NaN
}

function fromPlanes(planes: Uint8Array, form: Form, count: number): AnyNumbers {
  switch (form) {
    case 'zero':
      return new Uint8Array(count)
    case 'u8':
      return planes.subarray(0, count)
    case 'u16': {
      const numbers = new Uint16Array(count)
      for (let n = 0; n < count; n++) numbers[n] = planes[n]! | (planes[count + n]! << 8)
      return numbers
    }
    case 'milli': {
      const numbers = new Float32Array(count)
      for (let n = 0; n < count; n++) numbers[n] = (planes[n]! | (planes[count + n]! << 8)) / 1000
      return numbers
    }
    case 'centi':
      return Float64Array.from(fromPlanes(planes, 'u32', count), (hundredths) => hundredths / 100)
    case 'u32': {
      const numbers = new Uint32Array(count)
      for (let n = 0; n < count; n++)
        numbers[n] =
          planes[n]! |
          (planes[count + n]! << 8) |
          (planes[2 * count + n]! << 16) |
          (planes[3 * count + n]! << 24)
      return numbers
    }
    default: {
      const width = WIDTH[form]
      const raw = new Uint8Array(width * count)
      for (let p = 0; p < width; p++)
        for (let n = 0; n < count; n++) raw[n * width + p] = planes[p * count + n]!
      return form === 'f32' ? new Float32Array(raw.buffer) : new Float64Array(raw.buffer)
    }
  }
}
