/** One import in a process of its own, so that its memory can be told: prints rate and peak memory as JSON. */
import { importFile } from '../../server/src/import/import-file.ts'
import { connect } from '../../server/src/store/database.ts'
import { migrate } from '../../server/src/store/migrations.ts'
import { defineModels } from '../../server/src/store/models.ts'

const [url, file] = process.argv.slice(2) as [string, string]
const sequelize = connect(url)
await migrate(sequelize)
for (const table of ['events', 'sessions', 'sites']) await sequelize.query(`TRUNCATE TABLE ${table}`)
const made = await defineModels(sequelize).sites.create({
  key: 'bench',
  name: 'Bench',
  origins: [],
  timeZone: 'UTC',
  currency: 'EUR',
  sessionLimitMin: 30,
  goal: '/',
  goals: [],
  retentionDays: null,
  recordingDays: null,
  auditDays: 730,
  rates: [],
  pageGroups: [],
  thresholds: {},
  strainWeights: {},
  capture: { text: 'patterns', consent: 'free', share: 1, drawings: false, pictures: 'kept' },
})
const start = performance.now()
const result = await importFile({
  sequelize,
  site: made.get({ plain: true }),
  file,
  nowMs: Date.now(),
  kind: 'clickstream',
  signal: new AbortController().signal,
  wrote: () => undefined,
})
const seconds = (performance.now() - start) / 1000
if (result.good !== result.lines) throw new Error(`only ${result.good} of ${result.lines} lines were written`)
console.log(JSON.stringify({ rate: result.good / seconds, peakMb: process.resourceUsage().maxRSS / 1000 }))
await sequelize.close()
