/*
 * What visitors typed or chose, so that a page that repeats it does not give it away: in other case, grouped otherwise,
 * in parts, on the next page and in other tabs. Kept as numbers (a polynomial hash, Karp and Rabin 1987) over letters
 * and digits alone, made with a secret of this browser: what was typed cannot be read from them.
 */

const KEY = 'dust-trail-typed'
/** Shorter values say nothing of anybody, and would be found everywhere. */
const LEAST = 3
/** In longer ones a part tells less than the hash of all its beginnings would cost. */
const MOST_GROWING = 60
const MOST_KEPT = 400
/** As long as a session without activity may last. */
const KEPT_MS = 30 * 60_000
/** A value so long is found inside of other words too. */
const INSIDE = 5

/** How a value is looked for: bits. */
const ANYWHERE = 1
/** it is one word in small letters, as pages have them too: not looked for in labels */
const PLAIN = 2

type Entry = [length: number, first: number, second: number, how: number]
/** By length, then by the first hash. */
type Index = Map<number, Map<number, Entry>>

const known: Index = new Map()
/** what is being typed: all its beginnings, as whole words */
const growing: Index = new Map()
/** what is being typed while it is too short to be found everywhere */
let short = ''
let entries: Entry[] = []
let seed = 0
/** words that the page had before anything was typed, which tell nothing when they are seen again */
let ownWords: Set<string> | undefined

const WORD_CHARACTER = /[\p{L}\p{N}]/u

/** Letters and digits of a text in small letters, and where in the text each stands. */
function compact(text: string): { codes: number[]; at: number[] } {
  const codes: number[] = []
  const at: number[] = []
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i)
    const small = code | 32
    // Most texts are of these alone, and pages are long.
    if (code < 128) {
      if ((small > 96 && small < 123) || (code > 47 && code < 58)) {
        codes.push(small)
        at.push(i)
      }
    } else if (WORD_CHARACTER.test(text[i]!) || (code & 0xf800) === 0xd800)
      for (const one of text[i]!.toLowerCase()) {
        codes.push(one.charCodeAt(0))
        at.push(i)
      }
  }
  return { codes, at }
}

const step = (hash: number, base: number, code: number) => (Math.imul(hash, base) + code) | 0
const bases = (): [number, number] => [(seed * 2) | 1, seed | 1]

/** Every beginning of a text with at least so many letters, as it is looked for. */
function beginnings(codes: readonly number[], from: number, how: number): Entry[] {
  const [first, second] = bases()
  const out: Entry[] = []
  let [a, b] = [0, 0]
  codes.forEach((code, i) => {
    a = step(a, first, code)
    b = step(b, second, code)
    if (i + 1 >= from) out.push([i + 1, a, b, how])
  })
  return out
}

function put(index: Index, entry: Entry): boolean {
  let hashes = index.get(entry[0])
  if (!hashes) index.set(entry[0], (hashes = new Map<number, Entry>()))
  const there = hashes.get(entry[1])
  if (there?.[2] === entry[2]) {
    // Found anywhere if it was ever looked for so; a plain word only as long as it always was one.
    const how = ((there[3] | entry[3]) & ANYWHERE) | (there[3] & entry[3] & PLAIN)
    if (how === there[3]) return false
    there[3] = how
    return true
  }
  hashes.set(entry[1], entry)
  return true
}

/** Takes what was typed on earlier pages and in other tabs of this session. */
export function recall(): void {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY) ?? '') as { seed: number; at: number; entries: Entry[] }
    if (Date.now() - kept.at < KEPT_MS && kept.seed) {
      if (kept.seed !== seed) {
        known.clear()
        growing.clear()
        entries = []
      }
      seed = kept.seed
      for (const entry of kept.entries) if (put(known, entry)) entries.push(entry)
    }
  } catch {
    // Nothing was kept, or nothing is.
  }
  seed ||= crypto.getRandomValues(new Uint32Array(1))[0]! | 1
}

/** Forgets all of it, here and for other pages. */
export function forget(): void {
  known.clear()
  growing.clear()
  short = ''
  entries = []
  try {
    localStorage.removeItem(KEY)
  } catch {
    // Nothing is kept then.
  }
}

function keep(value: string, how: number): void {
  const { codes } = compact(value)
  if (codes.length < LEAST) return
  const [entry] = beginnings(codes, codes.length, how)
  if (!put(known, entry!)) return
  entries.push(entry!)
  entries = entries.slice(-MOST_KEPT)
  try {
    localStorage.setItem(KEY, JSON.stringify({ seed, at: Date.now(), entries }))
  } catch {
    // A browser that keeps nothing knows what was typed on this page alone.
  }
}

/** The words of the page before anything is typed into it. */
export function learnOwnWords(texts: Iterable<string>): void {
  if (ownWords) return
  ownWords = new Set()
  for (const text of texts) for (const word of wordsOf(text)) ownWords.add(word.toLowerCase())
}

const isOwn = (word: string) => ownWords?.has(word.toLowerCase()) ?? false

/** What stands in a field while it is being typed, letter by letter. */
export function remember(value: string): void {
  const { codes } = compact(value)
  short = codes.length < LEAST ? String.fromCharCode(...codes) : ''
  const some = codes.slice(0, MOST_GROWING)
  for (const entry of beginnings(some, LEAST, 0))
    if (!isOwn(String.fromCharCode(...some.slice(0, entry[0])))) put(growing, entry)
  if (codes.length > MOST_GROWING) return
  if (codes.length >= INSIDE && !isOwn(value)) put(growing, beginnings(codes, codes.length, ANYWHERE)[0]!)
  // A page may show them in another order.
  for (const word of wordsOf(value)) {
    const own = compact(word).codes
    if (own.length >= LEAST && !isOwn(word)) put(growing, beginnings(own, own.length, 0)[0]!)
  }
}

const wordsOf = (text: string): string[] => text.match(/[\p{L}\p{N}]+/gu) ?? []

/** What stood in a field when it was left, replaced or chosen. */
export function rememberWhole(value: string): void {
  short = ''
  if (seed === 0) recall()
  for (const line of value.split('\n').slice(0, 50)) {
    const words = wordsOf(line)
    const [word] = words
    // A word that the page has itself is no secret of the visitor's.
    if (words.length === 1 && !/\d/.test(word!) && isOwn(word!)) continue
    const isPlain = words.length === 1 && /^\p{Ll}+$/u.test(word!)
    keep(line, (line.length >= INSIDE ? ANYWHERE : 0) | (isPlain ? PLAIN : 0))
    if (line.length > MOST_GROWING || words.length < 2) continue
    for (const part of words) if (/^\p{Lu}|\d/u.test(part) && !isOwn(part)) keep(part, 0)
  }
}

/** Whether anything has been typed at all: most pages know of nothing. */
export const isAnythingTyped = (): boolean => !!(known.size || growing.size || short)

/**
 * Which characters of a text repeat what was typed.
 *
 * @param labels  the text is a label of the page: plain words in it are its own
 * @param fresh   the text has only just come: even what is very short may come from the field
 * @returns null where there is nothing
 */
export function typedIn(text: string, { labels = false, fresh = false } = {}): Uint8Array | null {
  if (!isAnythingTyped()) return null
  const { codes, at } = compact(text)
  let hit: Uint8Array | null = null
  const isWord = (i: number) => i >= 0 && i < text.length && WORD_CHARACTER.test(text[i]!)
  const mark = (from: number, to: number, anywhere: boolean) => {
    const [before, after] = [isWord(from - 1), isWord(to)]
    if ((before || after) && !anywhere) return
    // Half a word in bullets would give the word away.
    while (isWord(from - 1)) from--
    while (isWord(to)) to++
    hit ??= new Uint8Array(text.length)
    hit.fill(1, from, to)
  }
  const [first, second] = bases()
  for (const index of [known, growing])
    for (const [length, hashes] of index) {
      if (length > codes.length) continue
      let [a, b, highA, highB] = [0, 0, 1, 1]
      for (let i = 0; i < length; i++) {
        highA = Math.imul(highA, first)
        highB = Math.imul(highB, second)
      }
      for (let i = 0; i < codes.length; i++) {
        a = step(a, first, codes[i]!)
        b = step(b, second, codes[i]!)
        if (i >= length) {
          a = (a - Math.imul(codes[i - length]!, highA)) | 0
          b = (b - Math.imul(codes[i - length]!, highB)) | 0
        }
        if (i < length - 1) continue
        const entry = hashes.get(a)
        if (entry?.[2] === b && !(labels && entry[3] & PLAIN))
          mark(at[i - length + 1]!, at[i]! + 1, (entry[3] & ANYWHERE) > 0)
      }
    }
  if (fresh && short)
    for (let i = 0; i + short.length <= codes.length; i++)
      if (String.fromCharCode(...codes.slice(i, i + short.length)) === short)
        mark(at[i]!, at[i + short.length - 1]! + 1, false)
  return hit
}
