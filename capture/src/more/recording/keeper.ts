import { later, quiet, toJson } from '../../dom.ts'
import { on } from '../../listen.ts'
import type { FileAddress } from './files.ts'
import { namedSince } from './files.ts'
import { network } from './network.ts'
import type { Root } from './nodes.ts'

const SOON_MS = 100
/** How long the browser may let it wait for a time in which there is nothing else to do. */
const LATEST_MS = 500
/** Of one page: as much as pages in use have. */
const MOST_FILES = 100
const MOST_BYTES = 10_000_000
/** The server takes no larger one. */
const LARGEST_BYTES = 1_000_000
/** What a page of one person is made of is not kept by anybody else (RFC 9111, section 5.2.2). */
const OF_ONE = /\b(private|no-store)\b/i
/** So long are keys that open what is somebody's own; versions and sizes are shorter. */
const LONGEST_VALUE = 24
const MEMORY = 'dust-trail-files'
const MOST_REMEMBERED = 400

/** An address without anything by which somebody in particular would be let in. */
const isPublic = ({ told, real }: FileAddress) => {
  const url = new URL(real)
  const path = new URL(told).pathname
  return (
    path === url.pathname &&
    !url.username &&
    [...url.searchParams.values()].every((value) => value.length <= LONGEST_VALUE)
  )
}

/**
 * Keeps pictures and fonts with the recording, so that who watches need not ask the site for them, where they may be gone: those
 * that the browser has loaded, out of its own cache, without the visitor's cookies, and of these those that are for everybody.
 * The server is told their hash (SHA-256) and gets what it does not have yet.
 */
export class Keeper {
  /** named, but not loaded by the browser so far */
  #named: FileAddress[] = []
  /** hash of what lies at an address, where the server has it */
  readonly #hashes = new Map<string, string>()
  readonly #remembered = recall()
  #written = toJson(this.#remembered)
  readonly #loaded = new Set<string>()
  #told = new Set<string>()
  #bytes = 0
  #count = 0
  #isDue = false
  /** more has come while it was at work */
  #again = false
  #isOn = true

  /**
   * @param address  of the server, where files are taken
   * @param roots    the pages that are recorded: the outer one and those in frames
   * @param tell     writes into the recording what an address stands for
   */
  constructor(
    private readonly address: string,
    private readonly roots: () => readonly Root[],
    private readonly tell: (url: string, hash: string) => void,
  ) {
    try {
      new PerformanceObserver((list) => {
        for (const { name } of list.getEntries()) this.#loaded.add(plain(name))
        this.#soon()
      }).observe({ type: 'resource', buffered: true })
    } catch {
      this.#isOn = false
    }
    on(document, 'securitypolicyviolation', ({ effectiveDirective, blockedURI }) => {
      if (effectiveDirective === 'connect-src') this.#remembered[originOf(blockedURI)] = ''
    })
    network.isBarred = (real) => this.#remembered[originOf(real)] === ''
  }

  /** The page is recorded anew: what is known is told once more. */
  begun(): void {
    this.#told = new Set()
    for (const [told, hash] of this.#hashes) this.#say(told, hash)
    this.#soon()
  }

  /** There may be more of them. */
  changed(): void {
    this.#soon()
  }

  #say(told: string, hash: string): void {
    if (this.#told.has(told)) return
    this.#told.add(told)
    this.tell(told, hash)
  }

  #soon(): void {
    this.#again = this.#isDue
    if (this.#isDue || !this.#isOn) return
    this.#isDue = true
    const run = quiet(() => {
      void this.#run().finally(() => {
        this.#isDue = false
        if (this.#again) this.#soon()
      })
    })
    later(
      () => ('requestIdleCallback' in window ? requestIdleCallback(run, { timeout: LATEST_MS }) : run()),
      SOON_MS,
    )
  }

  async #run(): Promise<void> {
    try {
      // Nothing is recorded any more, as when the visitor no longer allows it.
      if (!this.roots().length) return
      this.#named.push(...namedSince())
      this.#look()
      const fresh: FileAddress[] = []
      const rest: FileAddress[] = []
      for (const one of this.#named) (this.#loaded.has(one.real) ? fresh : rest).push(one)
      this.#named = rest
      const files = new Map<string, { bytes: ArrayBuffer; told: string[] }>()
      for (const one of fresh) {
        if (this.#count >= MOST_FILES || this.#bytes > MOST_BYTES) break
        if (!isPublic(one) || network.isBarred(one.real)) continue
        // What the page before was told of it holds until it is looked at.
        const before = this.#remembered[one.told]
        if (before) this.#say(one.told, before)
        if (before && !canHash) continue
        const bytes = await fileAt(one.real)
        if (!bytes) continue
        this.#count++
        this.#bytes += bytes.byteLength
        const hash = canHash ? await hashOf(bytes) : await this.#sent(bytes)
        if (!hash) continue
        const known = files.get(hash)
        if (known) known.told.push(one.told)
        else files.set(hash, { bytes, told: [one.told] })
      }
      if (!files.size) {
        this.#remember()
        return
      }
      const lacking = new Set(canHash ? await this.#lacking([...files.keys()]) : [])
      await Promise.all(
        [...files].map(async ([hash, { bytes, told }]) => {
          if (lacking.has(hash) && !(await this.#post(hash, bytes)).ok) return
          for (const one of told) {
            // Another than the page before had: the last that is said counts.
            if (this.#remembered[one] !== hash) this.#told.delete(one)
            this.#hashes.set(one, hash)
            this.#remembered[one] = hash
            this.#say(one, hash)
          }
        }),
      )
      this.#remember()
    } catch {
      // Without them there is still a recording.
    }
  }

  /** For the pages after this one, in this tab. */
  #remember(): void {
    const text = toJson(Object.fromEntries(Object.entries(this.#remembered).slice(-MOST_REMEMBERED)))
    // To write makes the page wait for the browser's other parts.
    if (text === this.#written) return
    this.#written = text
    try {
      sessionStorage.setItem(MEMORY, text)
    } catch {
      // It keeps nothing, or is full.
    }
  }

  /** What pages in frames have loaded; the page's own is heard of. */
  #look(): void {
    for (const root of this.roots()) {
      const view = 'defaultView' in root ? root.defaultView : null
      if (view && view !== window)
        for (const { name } of view.performance.getEntriesByType('resource')) this.#loaded.add(plain(name))
    }
  }

  async #lacking(hashes: readonly string[]): Promise<readonly string[]> {
    const answer = await network.ask(this.address, {
      method: 'POST',
      body: toJson({ hashes }),
      headers: { 'content-type': 'text/plain' },
      credentials: 'omit',
    })
    // A server that keeps none.
    if (!answer.ok) throw new Error(String(answer.status))
    return ((await answer.json()) as { lacking: string[] }).lacking
  }

  /** Sends a file; without a hash where none can be made. */
  #post(hash: string, bytes: ArrayBuffer): Promise<Response> {
    const url = new URL(this.address)
    url.searchParams.set('hash', hash)
    return network.ask(url.href, {
      method: 'POST',
      body: bytes,
      headers: { 'content-type': 'text/plain' },
      credentials: 'omit',
    })
  }

  /** The hash of a file as the server finds it, which gets it for that. */
  async #sent(bytes: ArrayBuffer): Promise<string | undefined> {
    const answer = await this.#post('', bytes)
    return answer.ok ? ((await answer.json()) as { hash: string }).hash : undefined
  }
}

/** Browsers hash only where the page came by a safe way; elsewhere the server does, and a file is sent once in a tab. */
const canHash = !!(window.crypto as Partial<Crypto>).subtle

const originOf = (address: string) => /^https?:\/\/[^/]+/.exec(address)?.[0] ?? ''
const plain = (address: string) => address.replace(/#.*/, '')

/** Out of the browser's cache, without cookies; undefined where it may not be read or is not for everybody. */
async function fileAt(address: string): Promise<ArrayBuffer | undefined> {
  const answer = await network
    .ask(address, { cache: 'force-cache', credentials: 'omit' })
    .catch(() => undefined)
  if (!answer?.ok || OF_ONE.test(answer.headers.get('cache-control') ?? '')) return undefined
  if (Number(answer.headers.get('content-length') ?? 0) > LARGEST_BYTES) return undefined
  const bytes = await answer.arrayBuffer()
  return bytes.byteLength && bytes.byteLength <= LARGEST_BYTES ? bytes : undefined
}

async function hashOf(bytes: ArrayBuffer): Promise<string> {
  const hash = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes))
  return [...hash].map((byte) => byte.toString(16).padStart(2, '0')).join('')
}

/** What pages before this one, in this tab, were told. */
function recall(): Record<string, string> {
  try {
    return JSON.parse(sessionStorage.getItem(MEMORY) ?? '{}') as Record<string, string>
  } catch {
    return {}
  }
}
