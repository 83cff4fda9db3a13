/** What a session is known by. */
export const SESSION_TEXTS = [
  'device',
  'browser',
  'system',
  'country',
  'channel',
  'source',
  'campaign',
  'visitor',
  'entry page',
  'exit page',
] as const

export type SessionText = (typeof SESSION_TEXTS)[number]

/** What can be counted or measured of a session. Durations in milliseconds, value in the site's currency, strain from 0 to 100. */
export const SESSION_NUMBERS = [
  'duration',
  'pages',
  'clicks',
  'events',
  'signals',
  'strain',
  'value',
  'width',
  'height',
] as const

export type SessionNumber = (typeof SESSION_NUMBERS)[number]
