import Bowser from 'bowser'
import { isbot } from 'isbot'
import { LRUCache } from 'lru-cache'
import type { Device } from '../events/line.ts'
import { DEVICE_CLASSES } from '../events/line.ts'

/** What the package calls otherwise than captured lines do (events/user-agent.ts, small enough for a site's script). */
const NAMES: Record<string, string> = {
  'Microsoft Edge': 'Edge',
  'Samsung Internet for Android': 'Samsung Internet',
  Chromium: 'Chrome',
  'Chrome OS': 'ChromeOS',
}

export interface Agent {
  isRobot: boolean
  device: Required<Pick<Device, 'class' | 'os' | 'browser'>>
}

/** The last user agents that were read: a log has few, each on very many lines. */
const agents = new LRUCache<string, Agent>({ max: 2000 })

/**
 * What a user agent of a log names: robots by the list of the package isbot, devices by those of bowser; "other" where
 * they know none.
 */
export function readAgent(userAgent: string): Agent {
  let agent = agents.get(userAgent)
  if (!agent) agents.set(userAgent, (agent = { isRobot: isbot(userAgent), device: deviceOf(userAgent) }))
  return agent
}

function deviceOf(userAgent: string): Agent['device'] {
  const { browser, os, platform } = Bowser.parse(userAgent)
  const named = (name: string | undefined) => (name ? (NAMES[name] ?? name).slice(0, 40) : 'other')
  return {
    class: DEVICE_CLASSES.find((one) => one === platform.type) ?? 'desktop',
    os: named(os.name),
    browser: named(browser.name),
  }
}
