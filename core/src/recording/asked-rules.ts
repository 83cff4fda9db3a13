/*
 * What rules ask of attributes that no recording has as they were: where a link leads, what a click runs. Of an element it is
 * told which of these rules hold for it, and the rules of the replay ask for that (Selectors Level 4, section 6).
 */

const SELECTOR =
  /\[\s*([a-z][\w-]{0,60})\s*(?:([~|^$*]?=)\s*("[^"]{0,200}"|'[^']{0,200}'|[^\]\s"']{1,200})\s*([is]?)\s*)?\]/gi
/** A recording has these emptied: that they are there can be asked. */
const EMPTIED = /^(href|src)$/i
/** It has none of these. */
const LACKING =
  /^(target|download|action|formaction|formtarget|ping|srcset|sizes|loading|autocomplete|autofocus|autoplay|srcdoc|on[a-z]+)$/i
/** Of these a part of the words may be hidden. */
const WORDS = /^(title|alt|placeholder|rel)$/i
/** On some elements the replay cannot have it: a page would hide functions of the browser behind it. */
const NAME = /^name$/i

function isTold(name: string, by: string | undefined): boolean {
  return (
    LACKING.test(name) ||
    NAME.test(name) ||
    (by ? EMPTIED.test(name) || (by !== '=' && WORDS.test(name)) : false)
  )
}

/** A short name of what is asked: FNV-1a, 32 bits (Fowler, Noll and Vo; constants from memory). */
function keyOf(text: string): string {
  let hash = 0x811c9dc5
  for (let k = 0; k < text.length; k++) hash = Math.imul(hash ^ text.charCodeAt(k), 0x01000193)
  return (hash >>> 0).toString(36)
}

/** The attribute in which a recording has the keys of what holds for an element. */
export const ASKED = 'data-trail-asked'

/**
 * Calls back with each selector in a text of rules that asks for what a recording lacks, and puts what that gives in its place.
 *
 * @param asked  key: names the selector in a recording
 */
export function eachAskedRule(rules: string, asked: (key: string, selector: string) => string): string {
  if (!rules.includes('[')) return rules
  return rules.replaceAll(
    SELECTOR,
    (all, name: string, by: string | undefined, value: string | undefined, flag: string | undefined) => {
      if (!isTold(name, by)) return all
      const plain = (value ?? '').replaceAll(/^["']|["']$/g, '')
      return asked(keyOf(`${name.toLowerCase()}${by ?? ''}${plain} ${(flag ?? '').toLowerCase()}`), all)
    },
  )
}
