import { describe, expect, it } from 'vitest'
import { measureRegions } from './regions.ts'

const region = (name: string, top: number, height: number, left = 0, width = 100) => ({
  name,
  box: { left, top, width, height },
})

describe('measureRegions', () => {
  const bands = [
    { reached: 10, seconds: 8 },
    { reached: 8, seconds: 4 },
    { reached: 4, seconds: 2 },
    { reached: 2, seconds: null },
  ]
  const regions = [region('main', 0, 400), region('list', 100, 200), region('card', 120, 50, 10, 50)]
  it('counts a click for the smallest region around it, and each once', () => {
    const points = [
      { x: 20, y: 130, weight: 3 },
      { x: 90, y: 130, weight: 2 },
      { x: 5, y: 390, weight: 1 },
      { x: 5, y: 900, weight: 7 },
    ]
    const found = measureRegions(regions, points, 400, { bands, measured: 10, attended: 5 })
    expect(found.map(({ clicks }) => clicks)).toEqual([1, 2, 3])
  })
  it('says which share saw its middle and how long any part of it was in view', () => {
    const [main, list, card] = measureRegions(regions, [], 400, { bands, measured: 10, attended: 5 })
    expect(main).toMatchObject({ seen: 0.4, seconds: 8 })
    expect(list).toMatchObject({ seen: 0.4, seconds: 4 })
    expect(card).toMatchObject({ seen: 0.8, seconds: 4 })
  })
  it('says nothing of what was not measured', () => {
    const [one] = measureRegions([regions[0]!], [], 400, { bands, measured: 0, attended: 0 })
    expect(one).toMatchObject({ seen: null, seconds: null })
  })
})
