import type { Device } from '@dust-trail/core'
import { readUserAgent } from '@dust-trail/core/user-agent'

/** What the visitor looks through, as far as the browser says. */
export function deviceOf(userAgent: string): Device {
  return { ...readUserAgent(userAgent), width: innerWidth, height: innerHeight }
}
