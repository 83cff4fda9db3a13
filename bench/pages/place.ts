/** One place on a page that is clicked, with what is true of it. */
export interface Place {
  name: string
  /** what a person sees or hears after the click */
  does: 'nothing' | 'something'
  html: string
  /** runs when the page is there */
  script?: string
  style?: string
  /** what is clicked; `#it` where not said */
  at?: string
  /** where in it, CSS px from its top left; its middle where not said */
  point?: { x: number; y: number }
  /** how long the page is left alone before, so that it shows what it does by itself; milliseconds */
  watchMs?: number
  /** what is clicked before */
  first?: string
}

/** A page of a general-purpose package: one bundle, on which each place is an element. */
export interface PackagePage {
  name: string
  packages: string[]
  /** the module that builds the page */
  entry: string
  places: {
    name: string
    does: Place['does']
    at: string
    first?: string
    point?: Place['point']
    watchMs?: number
  }[]
}

/** A place of a package's page at which nothing happens, and one at which something does. */
export const nothing = (name: string, at: string) => ({ name, does: 'nothing' as const, at })
export const something = (name: string, at: string, first?: string) => ({
  ...{ name, does: 'something' as const, at },
  ...(first && { first }),
})
