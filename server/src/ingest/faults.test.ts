import { existsSync } from 'node:fs'
import { expect, it } from 'vitest'
import { runFaults } from './fault-run.ts'

it('loses nothing, counts nothing twice and comes back, when server and database are killed at any instant', async () => {
  if (!existsSync('dist/server.mjs')) throw new Error('dist/server.mjs is missing: run npm run build first.')
  const { faults, acknowledged, missing, twice, invented, answered, counted } = await runFaults(5)
  expect(faults).toEqual({ server: 4, database: 1 })
  expect(acknowledged).toBeGreaterThan(60)
  expect({ missing, twice, invented }).toEqual({ missing: 0, twice: 0, invented: 0 })
  expect(answered).toEqual(counted)
}, 180_000)
