import { execFileSync, spawn } from 'node:child_process'
import type { ChildProcess } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:http'
import type { Server } from 'node:http'
import { request as ask } from 'node:https'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pino } from 'pino'
import { QueryTypes } from 'sequelize'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { createCollectApp } from './app.ts'
import type { Engines } from './engine/engines.ts'
import { Collector } from './ingest/collect.ts'
import { Refusals } from './ingest/refusals.ts'
import { testApp, testDatabase } from './test-database.ts'

/*
 * The example of a proxy in docs/nginx.conf, started as it stands there: only names of files and ports are others.
 */

const folder = mkdtempSync(join(tmpdir(), 'dust-trail-proxy-'))
let database: Awaited<ReturnType<typeof testDatabase>>
let engines: Engines
let nginx: ChildProcess
let front = 0
const servers: Server[] = []

const listening = (server: Server) =>
  new Promise<number>((resolve) =>
    server.listen(0, '127.0.0.1', () => resolve((server.address() as AddressInfo).port)),
  )
const freePort = async () => {
  const probe = createServer()
  const port = await listening(probe)
  await new Promise((resolve) => probe.close(resolve))
  return port
}

interface Answer {
  status: number
  headers: Record<string, string | string[] | undefined>
  text: string
}
/** Asks the proxy under one of its names. */
const through = (
  host: string,
  path: string,
  {
    method = 'GET',
    body = '',
    headers = {},
  }: { method?: string; body?: string; headers?: Record<string, string> } = {},
) =>
  new Promise<Answer>((resolve, reject) => {
    const sent = ask(
      {
        ...{ host: '127.0.0.1', port: front, path, method, servername: host, rejectUnauthorized: false },
        headers: { host, 'content-length': String(Buffer.byteLength(body)), ...headers },
      },
      (response) => {
        let text = ''
        response.on('data', (chunk: Buffer) => (text += chunk.toString()))
        response.on('end', () =>
          resolve({ status: response.statusCode ?? 0, headers: response.headers, text }),
        )
      },
    )
    sent.on('error', reject)
    sent.end(body)
  })

beforeAll(async () => {
  database = await testDatabase()
  const own = await testApp(database, { publicUrl: 'https://trail.example.org', trustProxy: '1' })
  engines = own.engines
  const refusals = new Refusals(database.sequelize, (error) => {
    throw error
  })
  database.writers.push(refusals)
  const collecting = createCollectApp({
    ...{ sequelize: database.sequelize, engines, refusals, files: undefined, trustProxy: '1' },
    ...{ log: pino({ level: 'silent' }), collector: new Collector(database.sequelize) },
  })
  servers.push(createServer(own.app), createServer(collecting))
  const [people, visitors] = [await listening(servers[0]!), await listening(servers[1]!)]
  front = await freePort()
  const pem = (name: string) => join(folder, name)
  execFileSync(
    'openssl',
    [
      'req',
      '-x509',
      '-newkey',
      'rsa:2048',
      '-nodes',
      '-days',
      '1',
      '-subj',
      '/CN=example.org',
      '-keyout',
      pem('key'),
      '-out',
      pem('pem'),
    ],
    { stdio: 'ignore' },
  )
  const example = readFileSync(new URL('../../docs/nginx.conf', import.meta.url), 'utf8')
    .replaceAll('listen 443 ssl', `listen 127.0.0.1:${front} ssl`)
    .replaceAll(/\/etc\/ssl\/\S+\.(pem|key)/g, (_, kind: string) => pem(kind))
    .replace('127.0.0.1:4180', `127.0.0.1:${people}`)
    .replace('127.0.0.1:4181', `127.0.0.1:${visitors}`)
  const temporary = ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi'].map(
    (name) => `${name}_temp_path ${join(folder, name)};`,
  )
  writeFileSync(
    join(folder, 'nginx.conf'),
    `${process.getuid?.() === 0 ? 'user root; ' : ''}daemon off; pid ${join(folder, 'pid')}; error_log ${join(folder, 'log')}; events {}\nhttp { access_log off; ${temporary.join(' ')}\n${example}\n}\n`,
  )
  nginx = spawn('/usr/sbin/nginx', ['-p', folder, '-c', join(folder, 'nginx.conf')], { stdio: 'ignore' })
  for (let tries = 0; tries < 100; tries++) {
    if (await through('trail.example.org', '/').then(Boolean, () => false)) return
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
}, 60_000)

afterAll(async () => {
  nginx.kill('SIGTERM')
  for (const server of servers) server.close().closeAllConnections()
  await engines.stop()
  await database.close()
  rmSync(folder, { recursive: true, force: true })
})

describe('behind the proxy of docs/nginx.conf', () => {
  const batch = (characters: number) =>
    JSON.stringify({
      ...{ v: 1, site: 'shop', visitor: 'behind', document: `document-${characters}`, n: 0, tab: 't' },
      ...{ startMs: Date.now(), sentMs: Date.now() },
      lines: [{ t: Date.now(), kind: 'page', url: 'https://shop.example/' }],
      items: [{ at: 1, k: 'change', text: [[1, 'x'.repeat(characters)]] }],
    })
  const origin = { origin: 'https://shop.example' }
  it('visitors’ pages send, also what is large, and read nothing', async () => {
    const sent = (characters: number) =>
      through('collect.example.org', '/collect?site=shop', {
        method: 'POST',
        body: batch(characters),
        headers: origin,
      })
    expect((await sent(10)).status).toBe(204)
    expect((await sent(6_000_000)).status).toBe(204)
    expect((await through('collect.example.org', '/api/v1/sites')).status).toBe(404)
  })
  it('nobody is “anybody on this computer”, and who is signed in has a cookie for TLS alone', async () => {
    expect((await through('trail.example.org', '/api/v1/sites')).status).toBe(401)
    // The first account is made on the computer itself, past the proxy.
    const port = (servers[0]!.address() as AddressInfo).port
    const first = { email: 'o@example.org', name: 'O', password: 'a night in november' }
    const made = await fetch(`http://127.0.0.1:${port}/api/v1/first-account`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(first),
    })
    expect(made.status).toBe(200)
    const enter = (from: string) =>
      through('trail.example.org', '/api/v1/sign-in', {
        method: 'POST',
        body: JSON.stringify({ email: first.email, password: first.password }),
        headers: { 'content-type': 'application/json', origin: from },
      })
    const { status, headers } = await enter('https://trail.example.org')
    expect(status).toBe(200)
    const cookie = String(headers['set-cookie'])
    expect(cookie).toContain('Secure')
    expect(cookie).toContain('HttpOnly')
    const sites = await through('trail.example.org', '/api/v1/sites', {
      headers: { cookie: cookie.split(';')[0]! },
    })
    expect(sites.status).toBe(200)
    expect((await enter('https://evil.example')).status).toBe(403)
  })
  it('the address that is noted is the browser’s, not the proxy’s word for another', async () => {
    const rows = await database.sequelize.query<{ address: string }>(
      "SELECT address FROM audit WHERE what = 'signIn'",
      { type: QueryTypes.SELECT },
    )
    expect(rows.map(({ address }) => address)).toEqual(['127.0.0.1'])
  })
  it('what is for those who run it stays within', async () => {
    expect((await through('trail.example.org', '/metrics')).status).toBe(403)
    expect((await through('trail.example.org', '/health/ready')).status).toBe(403)
  })
})
