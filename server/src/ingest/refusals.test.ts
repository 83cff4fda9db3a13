import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { testDatabase } from '../test-database.ts'
import { Refusals } from './refusals.ts'

describe('what could not be taken', () => {
  let database: Awaited<ReturnType<typeof testDatabase>>
  const failures: unknown[] = []
  beforeAll(async () => {
    database = await testDatabase()
  })
  afterAll(() => database.close())

  it('is counted once, however many write at the same time', async () => {
    const refusals = new Refusals(database.sequelize, (error) => failures.push(error))
    const { id } = database.site
    refusals.add(id, 'line', 'no url', 1000, 3)
    refusals.add(id, 'line', 'no time', 2000)
    const lists = await Promise.all([
      refusals.list(id),
      refusals.list(id),
      refusals.write(),
      refusals.list(id),
    ])
    expect(lists[0]).toEqual([
      { what: 'line', reason: 'no time', n: 1, firstMs: 2000, lastMs: 2000 },
      { what: 'line', reason: 'no url', n: 3, firstMs: 1000, lastMs: 1000 },
    ])
    expect(lists[3]).toEqual(lists[0])
    refusals.add(id, 'line', 'no url', 3000, 2)
    await refusals.close()
    expect((await new Refusals(database.sequelize, () => undefined).list(id))[0]).toEqual({
      ...{ what: 'line', reason: 'no url', n: 5, firstMs: 1000, lastMs: 3000 },
    })
    expect(failures).toEqual([])
  })
})
