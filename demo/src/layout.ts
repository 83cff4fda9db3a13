import { readFileSync } from 'node:fs'
import { gunzipSync } from 'node:zlib'
import type { DeviceClass, RecordItem, Snapshot } from '@dust-trail/core'

/** An element as it lies on a page of the stand-in site, in CSS px from the document's top left. */
export interface MeasuredElement {
  selector: string
  /** its number in the snapshot */
  id: number
  tag: string
  text: string
  interactive: boolean
  /** of a link, as written */
  href?: string
  x: number
  y: number
  w: number
  h: number
}

export interface MeasuredPage {
  snapshot: Snapshot
  height: number
  /** in the main part, as one reads them */
  words: number
  elements: MeasuredElement[]
  moves: Record<string, MeasuredMove>
}

/** What something done to a page changes. */
export interface MeasuredMove {
  items: RecordItem[]
  /** how the page lies afterwards; absent where nothing has moved */
  height?: number
  elements?: MeasuredElement[]
}

export interface Layouts {
  /** SHA-256 over the HTML of all pages and the site's script, by which stale measurements are found */
  fingerprint: string
  /** "device path?query" -> page */
  pages: Record<string, MeasuredPage>
}

export const VIEWPORTS: Record<DeviceClass, { width: number; height: number }> = {
  desktop: { width: 1280, height: 800 },
  tablet: { width: 820, height: 1180 },
  mobile: { width: 390, height: 844 },
}

export const LAYOUTS_FILE = 'demo/layouts/layouts.json.gz'

/** Reads what `npm run measure` wrote. */
export function readLayouts(file: string): Layouts {
  return JSON.parse(gunzipSync(readFileSync(file)).toString()) as Layouts
}
