// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import { Pointer } from './drawings.ts'

describe('what a drawing shows otherwise', () => {
  const [drawing, other, third] = ['a', 'b', 'c'].map(() => ({}) as Element) as [Element, Element, Element]

  it('may be an answer to the pointer that is over it, until it has rested there', () => {
    const pointer = new Pointer()
    expect(pointer.mayHaveChanged(drawing, 0)).toBe(false)
    pointer.isOver(drawing, 1000)
    // It was looked at before the pointer came, and is looked at again now.
    expect(pointer.mayHaveChanged(drawing, 900)).toBe(true)
    expect(pointer.mayHaveChanged(drawing, 1599)).toBe(true)
    expect(pointer.mayHaveChanged(drawing, 1600)).toBe(false)
    expect(pointer.mayHaveChanged(other, 900)).toBe(false)
  })

  it('may be an answer to its leaving, and not to what it does elsewhere after that', () => {
    const pointer = new Pointer()
    pointer.isOver(drawing, 1000)
    pointer.isOver(other, 2000)
    pointer.isOver(other, 5000)
    expect(pointer.mayHaveChanged(drawing, 2500)).toBe(true)
    expect(pointer.mayHaveChanged(drawing, 2600)).toBe(false)
    pointer.isOver(third, 6000)
    expect(pointer.mayHaveChanged(drawing, 2500)).toBe(false)
    expect(pointer.mayHaveChanged(other, 6000)).toBe(true)
  })
})
