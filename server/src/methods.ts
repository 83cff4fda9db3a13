import type { RequestHandler, Router } from 'express'
import { ProblemError } from './problem.ts'

interface Layer {
  match: (path: string) => boolean
  route?: { methods: Record<string, boolean> }
  handle: { stack?: Layer[] }
}

/** Refuses a method that nothing at an address answers, where it answers others: 405, with those that it does. */
export function methodsAllowed(router: Router): RequestHandler {
  const allowed = (stack: readonly Layer[], path: string): string[] =>
    stack.flatMap((layer) => {
      if (layer.route)
        return layer.match(path)
          ? Object.keys(layer.route.methods).filter((name) => layer.route!.methods[name])
          : []
      return layer.handle.stack ? allowed(layer.handle.stack, path) : []
    })
  return (request, response, next) => {
    const methods = [...new Set(allowed(router.stack as unknown as Layer[], request.path))].map((name) =>
      name.toUpperCase(),
    )
    if (!methods.length || methods.includes(request.method)) {
      next()
      return
    }
    response.setHeader('allow', methods.join(', '))
    throw new ProblemError(
      405,
      'method-not-allowed',
      `${request.method} is not possible at this address.`,
      `It takes ${methods.join(', ')}.`,
    )
  }
}
