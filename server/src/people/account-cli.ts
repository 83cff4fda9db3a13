import { createInterface } from 'node:readline/promises'
import { parseArgs } from 'node:util'
import { LEAST_PASSWORD } from '@dust-trail/api'
import { connect } from '../store/database.ts'
import { migrate } from '../store/migrations.ts'
import { defineModels } from '../store/models.ts'
import { People } from './people.ts'

/* Makes an account that owns every site, or sets its password: for whoever may reach the database. */

const { values } = parseArgs({ options: { email: { type: 'string' }, name: { type: 'string' } } })
const email = values.email?.trim().toLowerCase()
if (!email?.includes('@')) {
  console.error('npm run account -- --email you@example.org --name "Your Name"')
  process.exit(2)
}
const password = process.env['DUST_TRAIL_PASSWORD'] ?? (await asked('Password: '))
if (password.length < LEAST_PASSWORD) {
  console.error(`A password has at least ${LEAST_PASSWORD} characters.`)
  process.exit(2)
}
const sequelize = connect(process.env['DATABASE_URL']!)
await migrate(sequelize)
const people = new People(sequelize)
const known = await people.byEmail(email)
const id =
  known?.id ??
  (await people.create({ email, name: values.name ?? email, password, administrator: true }, Date.now()))
if (known) await people.setPassword(id, password)
for (const site of await defineModels(sequelize).sites.findAll())
  await people.setRole(id, site.get('id') as number, 'owner')
console.log(known ? `The password of ${email} is set.` : `${email} owns every site.`)
await sequelize.close()

async function asked(question: string): Promise<string> {
  const lines = createInterface({ input: process.stdin, output: process.stderr })
  const answer = await lines.question(question)
  lines.close()
  return answer
}
