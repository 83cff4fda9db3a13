import { fork } from 'node:child_process'
import type { ChildProcess } from 'node:child_process'
import { randomBytes } from 'node:crypto'
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs'
import { createServer } from 'node:net'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Page } from '@playwright/test'
import { expect, test } from '@playwright/test'
import { createConnection } from 'mariadb'
import { Secret, TOTP } from 'otpauth'

/*
 * A server of its own with accounts, over a database of its own: the one that all other tests share has none.
 */

const DATABASE = process.env['TEST_DATABASE_URL']
const name = `dust_trail_accounts_${randomBytes(4).toString('hex')}`
const folder = mkdtempSync(join(tmpdir(), 'dust-trail-accounts-'))
let server: ChildProcess
let origin = ''

async function statement(sql: string): Promise<void> {
  const { hostname, port, username, password } = new URL(DATABASE!)
  const connection = await createConnection({ host: hostname, port: Number(port), user: username, password })
  await connection.query(sql)
  await connection.end()
}

async function freePort(): Promise<number> {
  const probe = createServer()
  await new Promise<void>((resolve) => probe.listen(0, '127.0.0.1', resolve))
  const { port } = probe.address() as AddressInfo
  await new Promise((resolve) => probe.close(resolve))
  return port
}

test.beforeAll(async () => {
  expect(DATABASE, 'TEST_DATABASE_URL names the MariaDB that a database is made on').toBeDefined()
  await statement(`CREATE DATABASE ${name} CHARACTER SET utf8mb4`)
  const port = await freePort()
  origin = `http://127.0.0.1:${port}`
  server = fork('dist/server.mjs', {
    env: {
      ...process.env,
      ...{ DATABASE_URL: DATABASE!.replace(/\/[^/]*$/, `/${name}`), HOST: '127.0.0.1', PORT: String(port) },
      ...{ MAIL_FOLDER: join(folder, 'mail'), IMPORT_FOLDER: join(folder, 'imports') },
    },
  })
  await new Promise<void>((resolve, reject) => {
    server.on('message', ({ type }: { type: string }) => type === 'loaded' && resolve())
    server.on('exit', (code) => reject(new Error(`the server ended with ${code}`)))
  })
})

test.afterAll(async () => {
  const gone = new Promise((resolve) => server.on('exit', resolve))
  server.kill('SIGTERM')
  await gone
  await statement(`DROP DATABASE ${name}`)
  rmSync(folder, { recursive: true, force: true })
})

const OWNER = { email: 'ada@harbour.example', name: 'Ada Lind', password: 'seven grey herons wait' }
const READER = { email: 'bo@harbour.example', name: 'Bo Marsh', password: 'a lantern on the pier' }

async function enter(page: Page, { email, password }: typeof OWNER, code?: string): Promise<void> {
  const form = page.getByRole('form', { name: 'Sign in' })
  await form.getByRole('textbox', { name: 'E-mail' }).fill(email)
  await form.getByLabel('Password').fill(password)
  await form.getByRole('button', { name: 'Sign in' }).click()
  if (code === undefined) return
  await form.getByRole('textbox', { name: 'Code' }).fill(code)
  await form.getByRole('button', { name: 'Sign in' }).click()
}

/** The link in the newest mail to somebody. */
function mailedLink(to: string): string {
  const mails = readdirSync(join(folder, 'mail'))
    .sort()
    .map((file) => readFileSync(join(folder, 'mail', file), 'utf8').split('\r\n\r\n'))
    .filter(([head]) => head!.includes(`To: <${to}>`))
  const text = Buffer.from(mails.at(-1)![1]!, 'base64').toString()
  return /http:\S+link=\S+/.exec(text)![0]
}

test('from nobody to an owner with a second factor, and a reader who looks and changes nothing', async ({
  page,
  browser,
}) => {
  // The first minute: no site, no account, and it says so.
  await page.goto(origin)
  const firstSite = page.getByRole('form', { name: 'Your first site' })
  await expect(firstSite).toContainText('anybody on this computer may use this')
  await firstSite.getByRole('textbox', { name: 'Name' }).fill('Harbour Ferries')
  await firstSite.getByRole('textbox', { name: 'Addresses' }).fill('https://harbour.example')
  await firstSite.getByRole('button', { name: 'Add site' }).click()
  await expect(page.getByText('0 sessions of Harbour Ferries are loaded')).toBeVisible()
  await expect(page.getByText('Anybody on this computer may use this.')).toBeVisible()
  const address = page.url()

  await page.getByRole('link', { name: 'Make an account' }).click()
  const first = page.getByRole('form', { name: 'First account' })
  await first.getByRole('textbox', { name: 'E-mail' }).fill(OWNER.email)
  await first.getByRole('textbox', { name: 'Your name' }).fill(OWNER.name)
  await first.getByLabel('New password').fill(OWNER.password)
  await first.getByRole('button', { name: 'Make the first account' }).click()
  await expect(page.getByText(`Signed in as ${OWNER.email}.`)).toBeVisible()
  await expect(page.getByText('Anybody on this computer may use this.')).toHaveCount(0)
  const [cookie] = await page.context().cookies(origin)
  expect(cookie).toMatchObject({ httpOnly: true, sameSite: 'Lax' })

  // Nobody else comes in any more.
  const other = await browser.newContext()
  const theirs = await other.newPage()
  for (const asked of [`${origin}/first`, address]) {
    await theirs.goto(asked)
    await expect(theirs.getByRole('form', { name: 'Sign in' })).toBeVisible()
  }
  expect((await other.request.get(`${origin}/api/v1/sites`)).status()).toBe(401)
  await enter(theirs, { ...OWNER, password: 'not the right words at all' })
  await expect(theirs.getByRole('alert')).toBeVisible()

  // An invitation, by mail.
  await page.goto(address)
  const people = page.getByRole('region', { name: 'People', exact: true })
  await people.getByRole('textbox', { name: 'Invite' }).fill(READER.email)
  await people.getByRole('button', { name: 'Invite' }).click()
  await expect(people.getByText(`${READER.email} is invited as reader`)).toBeVisible()
  await theirs.goto(mailedLink(READER.email))
  const choose = theirs.getByRole('form', { name: 'Choose a password' })
  await choose.getByRole('textbox', { name: 'Your name' }).fill(READER.name)
  await choose.getByLabel('New password').fill(READER.password)
  await choose.getByRole('button', { name: 'Come in' }).click()
  await expect(theirs.getByRole('link', { name: READER.name })).toBeVisible()

  // Who may only look is told so where something would be changed, and the server holds to it.
  await theirs.goto(address)
  await expect(theirs.getByText('0 sessions of Harbour Ferries are loaded')).toBeVisible()
  await expect(theirs.getByRole('region', { name: 'People', exact: true })).toContainText('reader')
  await expect(theirs.getByRole('textbox', { name: 'Invite' })).toHaveCount(0)
  const site = /[?&]site=([^&]+)/.exec(address)![1]!
  const made = await theirs.evaluate(
    async (key) =>
      (
        await fetch(`/api/v1/sites/${key}/fixes`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: '{"title":"Larger timetable"}',
        })
      ).status,
    site,
  )
  expect(made).toBe(403)

  // A second factor: from then on the password alone is not enough.
  await page.getByRole('link', { name: OWNER.name }).click()
  const second = page.getByRole('form', { name: 'Second factor' })
  await second.getByLabel('Present password').fill(OWNER.password)
  await second.getByRole('button', { name: 'Begin' }).click()
  const key = (await second.locator('code').textContent())!.replaceAll(' ', '')
  const totp = new TOTP({ secret: Secret.fromBase32(key) })
  await second.getByRole('textbox', { name: 'Code' }).fill(totp.generate())
  await second.getByRole('button', { name: 'Switch it on' }).click()
  await expect(second.getByText('On: signing in takes a code besides the password.')).toBeVisible()
  await page.getByRole('button', { name: 'Sign out everywhere' }).click()
  await expect(page.getByRole('form', { name: 'Sign in' })).toBeVisible()
  // A code counts once: the next one is of the next half minute.
  await enter(page, OWNER, totp.generate({ timestamp: Date.now() + 30_000 }))
  await expect(page.getByRole('link', { name: OWNER.name })).toBeVisible()

  // Who did what: the owner sees it, the reader does not.
  await page.goto(address)
  const log = page.getByRole('region', { name: 'Who changed what' })
  await log.getByRole('button', { name: 'Show' }).click()
  await expect(log.getByRole('table')).toContainText(OWNER.email)
  await expect(theirs.getByRole('region', { name: 'Who changed what' })).toHaveCount(0)
  await other.close()
})
