import express from 'express'
import { createServer } from 'node:http'
import { itemBySlug } from './content/hire.ts'
import { nightBySlug } from './content/nights.ts'
import type { PartyVariant } from './page.ts'
import { frame } from './page.ts'
import { pageFor } from './pages.ts'
import { SITE_SCRIPT, WEATHER_WIDGET } from './script.ts'

/** Where each form leads when it was sent; undefined where there is no such form. */
function after(path: string): string | undefined {
  const [, section, name = '', step] = path.split('/')
  if (section === 'book' && nightBySlug(name)) {
    if (step === 'party') return `/book/${name}/details`
    if (step === 'details') return `/book/${name}/payment`
    if (step === 'payment') return '/booked'
  }
  if (section === 'hire' && !step && itemBySlug(name)) return '/hire/reserved'
  if (path === '/membership/monthly' || path === '/membership/yearly') return '/membership/welcome'
  if (path === '/contact') return '/contact/sent'
  return undefined
}

/** The stand-in for a customer's website: Quillmoor Observatory. */
export function createSite(captureOrigin: string | undefined): express.Express {
  const app = express()
  app.disable('x-powered-by')
  const scripts = { '/site.js': SITE_SCRIPT, '/widget/weather.js': WEATHER_WIDGET }
  for (const [path, script] of Object.entries(scripts))
    app.get(path, (_, response) => {
      response.type('text/javascript').send(script)
    })
  app.use((request, response) => {
    const path = request.path.replace(/(.)\/$/, '$1')
    if (request.method === 'POST') {
      const next = after(path)
      if (next) {
        response.redirect(303, next)
        return
      }
    }
    const query = new URL(request.url, 'http://site').searchParams
    const party = variantOf(query.get('party') ?? cookie(request.headers.cookie, 'party'))
    if (path.endsWith('/party')) response.cookie('party', party, { sameSite: 'lax' })
    const page = pageFor({ path, query, party })
    response
      .status(page.status ?? 200)
      .type('html')
      .send(frame(page, captureOrigin))
  })
  return app
}

/** The layout of the party step that a visitor has been given; draws one for those who have none. */
function variantOf(given: string | undefined): PartyVariant {
  if (given === 'steps' || given === 'map') return given
  return Math.random() < 0.5 ? 'steps' : 'map'
}

function cookie(header: string | undefined, name: string): string | undefined {
  return header
    ?.split(/;\s*/)
    .find((pair) => pair.startsWith(`${name}=`))
    ?.slice(name.length + 1)
}

const port = Number(process.env['SITE_PORT'])
if (port) {
  const server = createServer(createSite(process.env['CAPTURE_ORIGIN']))
  server.on('error', (error: NodeJS.ErrnoException) => {
    process.send?.({ type: 'failed', code: error.code, message: error.message })
    process.exitCode = 1
    if (process.connected) process.disconnect()
  })
  server.listen(port, process.env['HOST'] ?? '127.0.0.1', () => process.send?.({ type: 'ready' }))
  const stop = () => {
    server.close()
    server.closeAllConnections()
    if (process.connected) process.disconnect()
  }
  for (const signal of ['SIGTERM', 'SIGINT', 'disconnect'] as const) process.once(signal, stop)
}
