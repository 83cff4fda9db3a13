import type { VisitorNumber } from '@dust-trail/core'

export const VISITOR_WORDS: Record<VisitorNumber, string> = {
  sessions: 'sessions',
  pages: 'pages',
  signals: 'signals',
  conversions: 'conversions',
  value: 'money',
  strain: 'strain',
  first: 'first seen',
  last: 'last seen',
}
