import type { RequestHandler } from 'express'
import type { Logger } from 'pino'

/**
 * Writes a line for each request once it has been answered, at the level "info". It holds no personal data: no address, no
 * query, nothing of what was sent, and names of visitors in paths are left out.
 */
export function requestLog(log: Logger): RequestHandler {
  return (request, response, next) => {
    if (!log.isLevelEnabled('info')) {
      next()
      return
    }
    const beganMs = performance.now()
    const { method, path } = request
    response.once('finish', () => {
      log.info(
        {
          method,
          path: withoutVisitor(path),
          status: response.statusCode,
          ms: Math.round(performance.now() - beganMs),
        },
        'request',
      )
    })
    next()
  }
}

/** A path that names no visitor: who was deleted is not kept by the note that says so. */
export function withoutVisitor(path: string): string {
  return path.replace(/(\/visitors\/)[^/]+/, '$1…')
}
