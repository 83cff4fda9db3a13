// @vitest-environment happy-dom
import { act, cleanup, renderHook } from '@testing-library/react'
import { afterEach, describe, expect, it } from 'vitest'
import { z } from 'zod'
import { readStored, useStored, writeStored } from './stored.ts'

afterEach(() => {
  cleanup()
  localStorage.clear()
})

const openSchema = z.enum(['open', 'shut'])
const sizeSchema = z.object({ px: z.number() })

describe('a stored setting', () => {
  it('is there again where it is used next', () => {
    const first = renderHook(() => useStored('panel', openSchema, 'shut'))
    expect(first.result.current[0]).toBe('shut')
    act(() => first.result.current[1]('open'))
    expect(first.result.current[0]).toBe('open')
    expect(renderHook(() => useStored('panel', openSchema, 'shut')).result.current[0]).toBe('open')
  })
  it.each(['ajar', '{broken', '{"px":"wide"}', ''])(
    'that is no longer valid (%s) gives way to the usual one',
    (text) => {
      localStorage.setItem('panel', text)
      expect(readStored('panel', openSchema, 'shut')).toBe('shut')
      expect(readStored('panel', sizeSchema, { px: 3 })).toEqual({ px: 3 })
    },
  )
  it('keeps texts as they are and all else as JSON', () => {
    writeStored('panel', 'open')
    writeStored('size', { px: 7 })
    expect([localStorage.getItem('panel'), localStorage.getItem('size')]).toEqual(['open', '{"px":7}'])
    expect(readStored('size', sizeSchema, { px: 3 })).toEqual({ px: 7 })
  })
})
