import express from 'express'
import { createServer } from 'node:http'
import { SITE_SCRIPT } from './script.ts'
import { notFoundPage, renderPage } from './pages.ts'
import { nightBySlug } from './nights.ts'

/** The stand-in for a customer's website: Quillmoor Observatory. */
export function createSite(captureOrigin: string | undefined): express.Express {
  const app = express()
  app.disable('x-powered-by')
  app.get('/site.js', (_, response) => {
    response.type('text/javascript').send(SITE_SCRIPT)
  })
  app.post('/book/:slug', express.urlencoded({ extended: false }), (request, response, next) => {
    if (!nightBySlug(request.params['slug'] ?? '')) {
      next()
      return
    }
    response.redirect(303, '/booked')
  })
  app.use((request, response) => {
    const page =
      request.method === 'GET'
        ? renderPage(request.path.replace(/(.)\/$/, '$1'), { captureOrigin })
        : undefined
    response
      .status(page ? 200 : 404)
      .type('html')
      .send(page ?? notFoundPage({ captureOrigin }))
  })
  return app
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
