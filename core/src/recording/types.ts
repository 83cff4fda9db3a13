/**
 * A recording is one per loaded document: the page once as a tree whose nodes have numbers, then what changed and what
 * the visitor did, each with the milliseconds since the document began. The text of inputs is never in it.
 */
export type RecordedNode =
  | { id: number; tag: string; svg?: true; a?: Record<string, string>; c?: RecordedNode[] }
  | { id: number; text: string }

export interface Snapshot {
  url: string
  title: string
  /** viewport, CSS px */
  width: number
  height: number
  /** the <html> element */
  root: RecordedNode
}

/** A sampled pointer position: viewport px, and milliseconds since the document began. */
export type PointerSample = [atMs: number, x: number, y: number]

export type RecordItem =
  | { at: number; k: 'page'; url: string; title: string }
  | { at: number; k: 'move'; p: PointerSample[] }
  | { at: number; k: 'scroll'; id: number; x: number; y: number }
  | { at: number; k: 'click'; id: number; x: number; y: number; touch?: true }
  | { at: number; k: 'view'; w: number; h: number }
  | { at: number; k: 'input'; id: number; length: number }
  /** what the page said in the browser's console, without what looks personal */
  | { at: number; k: 'console'; level: ConsoleLevel; text: string }
  /** a picture or font of the page is kept under the hash of its bytes (SHA-256): what its address stood for */
  | { at: number; k: 'file'; url: string; hash: string }
  | { at: number; k: 'hide' }
  | { at: number; k: 'show' }
  | {
      at: number
      k: 'change'
      /** nodes added: parent, the sibling they stand before (0 = at the end), the node */
      add?: [parent: number, before: number, node: RecordedNode][]
      gone?: number[]
      attr?: [id: number, name: string, value: string | null][]
      text?: [id: number, text: string][]
    }

export const CONSOLE_LEVELS = ['error', 'warn', 'info', 'log', 'debug'] as const
export type ConsoleLevel = (typeof CONSOLE_LEVELS)[number]

/** All that was recorded of one document, put together again in order. */
export interface DocumentRecording {
  document: string
  /** when it began, milliseconds since 1970, by the server's clock */
  startMs: number
  snapshot: Snapshot
  items: RecordItem[]
  /** pictures and fonts that are kept: hash by address, as it stands in the recording */
  files?: Readonly<Record<string, string>> | undefined
}

/** What never arrived of a recording, in milliseconds since its document began. */
export interface MissingPart {
  document: string
  /** when the document began, milliseconds since 1970, by the server's clock */
  startMs: number
  /** the last that is there before, and the first after it */
  fromMs: number
  toMs: number
  /** how many pieces */
  pieces: number
  /** the page itself is missing: nothing of the document can be shown */
  whole: boolean
}

/** Node id that stands for the document itself where something scrolls. */
export const DOCUMENT_ID = 0

/** How much of a page's text is recorded: controls and headings alone, all but what looks personal, or all but what is marked. */
export type TextLevel = 'hidden' | 'patterns' | 'chosen'

/** What a site lets leave its pages. Typed text never does. */
export interface CaptureSettings {
  text: TextLevel
  /**
   * `free`: visitors are watched and known again; `visit`: watched, but known again only once they allow it; `asked`: not
   * watched before they allow it
   */
  consent: 'free' | 'visit' | 'asked'
  /** share of visitors who are watched, 0 to 1 */
  share: number
  /** stills of drawings (canvas), and of pictures that were made on the page, are part of its recording */
  drawings: boolean
  /**
   * pictures and fonts in recordings: `kept` here; `asked` for at the recorded site as well where they could not be kept, when
   * somebody watches; `none`: boxes
   */
  pictures: 'kept' | 'asked' | 'none'
}
