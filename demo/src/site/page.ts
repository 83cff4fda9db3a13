import { STYLE } from './style.ts'

/** What a request brings along that changes a page. */
export interface PageRequest {
  /** without query */
  path: string
  query: URLSearchParams
  /** the layout of the party step that this visitor was given */
  party: PartyVariant
}

export type PartyVariant = 'steps' | 'map'

export interface Page {
  title: string
  body: string
  /** HTTP status; 200 where absent */
  status?: number
  /** what the page tells the capture script about itself */
  report?: readonly object[]
}

export const SITE_KEY = 'quillmoor'

/** The whole document around a page's body. @param captureOrigin where the capture script is served; undefined leaves it out */
export function frame({ title, body, report = [] }: Page, captureOrigin: string | undefined): string {
  const capture = captureOrigin
    ? `<script>window.dustTrail=${JSON.stringify(report)}</script><script async src="${captureOrigin}/capture.js" data-site="${SITE_KEY}"></script>`
    : ''
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1">
<title>${title} · Quillmoor</title><link rel="icon" href="data:,"><style>${STYLE}</style>${capture}</head>
<body><header class="top"><a class="brand" href="/">Quillmoor<span>Observatory</span></a>
<nav aria-label="Main"><a href="/nights">Observing nights</a><a href="/hire">Telescope hire</a><a href="/membership/monthly">Membership</a><a href="/articles">Articles</a><a href="/help">Help</a></nav>
<form class="find" action="/search" role="search"><input id="find" name="q" type="search" aria-label="Search" placeholder="Search"><button type="submit">Find</button></form></header>
${body}
<footer class="foot"><p>Quillmoor Observatory is an invented place on an invented moor.</p>
<p>Open on clear evenings from dusk. Dogs sleep in the library. <a href="/contact">Write to us</a></p></footer>
<script src="/site.js"></script></body></html>`
}

export function escapeHtml(text: string): string {
  return text.replace(/[&<>"']/g, (sign) => `&#${sign.charCodeAt(0)};`)
}

/** A labelled field with room for what is wrong with it. */
export function field(id: string, label: string, attributes = '', problem = 'Please fill this in.'): string {
  return `<div class="field"><label for="${id}">${label}</label><input id="${id}" name="${id}" ${attributes}><p class="problem" id="${id}-problem">${problem}</p></div>`
}
