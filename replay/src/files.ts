/*
 * Pictures and fonts of a recorded page come with the recording. A frame has one way from a recorded address to what it stood for;
 * where there is none, something empty takes its place, and nobody is asked.
 */

/** What a recorded address stood for, as an address that may be shown; undefined where it is not known. */
export type FileOf = (address: string) => string | undefined

/** One pixel that cannot be seen. */
export const NOTHING = 'data:image/gif;base64,R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7'
const EMPTY_FONT = 'data:font/woff2,'
const ADDRESS = /url\(\s*(["']?)(https?:[^"')]*)\1\s*\)(\s*format\()?/gi

/** Where files of the pages in a frame come from, and those that were asked for in vain. */
export class PageFiles {
  readonly missing = new Set<string>()

  constructor(readonly fileOf: FileOf = () => undefined) {}

  /** What stands at an address; undefined: something empty has to. */
  at(address: string): string | undefined {
    if (/^data:/i.test(address)) return address
    const found = this.fileOf(address)
    if (found === undefined) this.missing.add(address)
    return found
  }

  /** Rules with the files that they name in them. */
  inRules(text: string): string {
    return /url\(/i.test(text)
      ? text.replaceAll(ADDRESS, (_, _quote: string, address: string, format: string | undefined) => {
          // A page names many that it does not use, as of fonts in other forms: these are not missing.
          const found = this.fileOf(address) ?? (format ? EMPTY_FONT : NOTHING)
          return `url("${found}")${format ?? ''}`
        })
      : text
  }
}

const of = new WeakMap<Document, PageFiles>()
const none = new PageFiles()

/** Where files of a page in a frame come from. */
export const filesOf = (page: Document): PageFiles => of.get(page) ?? none
export const giveFiles = (page: Document, files: PageFiles): void => void of.set(page, files)

/** Files of a recording out of those that are there, by hash; and whatever lies on pages that may be asked. */
export function filesIn(
  recording: { files?: Readonly<Record<string, string>> | undefined },
  contents: ReadonlyMap<string, string>,
  mayAsk: readonly string[],
): FileOf {
  const { files } = recording
  return (address) => {
    const hash = files && Object.hasOwn(files, address) ? files[address] : undefined
    const kept = hash === undefined ? undefined : contents.get(hash)
    if (kept !== undefined) return kept
    return mayAsk.some((origin) => address.startsWith(`${origin}/`)) ? address : undefined
  }
}
