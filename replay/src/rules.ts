import { ASKED, eachAskedRule } from '@dust-trail/core/recording'

/*
 * Rules that hold where the visitor was: what the pointer was over, what had the focus, what the address pointed at. Nobody
 * is there in a replay, so that these states are attributes, and rules are made to ask for those. Each stands for as much as
 * what it replaces (Selectors Level 4, section 17), so that rules win over one another as they did.
 */

const STATES: [RegExp, string][] = [
  [/(?<![\w.#:[="'-])img(?![\w-])/g, 'img:where(:not([data-trail-canvas]))'],
  [/(?<![\w.#:[="'-])canvas(?![\w-])/g, 'img:where([data-trail-canvas])'],
  [/(?<!\\|\((?:any-)?hover):hover\b/g, '[data-trail-hover]'],
  [/(?<!\\):active\b(?!-)/g, '[data-trail-active]'],
  [/(?<!\\):focus-within\b/g, '[data-trail-within]'],
  [/(?<!\\):focus-visible\b/g, '[data-trail-focus=visible]'],
  [/(?<!\\):focus\b(?!-)/g, '[data-trail-focus]'],
  [/(?<!\\):target\b(?!-)/g, '[data-trail-target]'],
  [/(?<!\\):fullscreen\b/g, '[data-trail-layer=fullscreen]'],
  [/(?<!\\):defined\b/g, ':not([data-trail-undefined])'],
  [/(?<!\\):user-invalid\b/g, '[data-trail-invalid=user]'],
  [/(?<!\\):user-valid\b/g, '[data-trail-valid=user]'],
  [/(?<!\\):invalid\b/g, '[data-trail-invalid]'],
  [/(?<!\\):valid\b/g, ':not([data-trail-invalid]):where(:valid,:invalid)'],
  [/(?<!\\):(in|out-of)-range\b/g, '[data-trail-range=$1]'],
  [/(?<!\\):default\b/g, ':is(:where(button,[type=submit],[type=image]):default,[data-trail-default])'],
  [/(?<!\\):state\(\s*([\w-]+)\s*\)/g, '[data-trail-states~="$1"]'],
  [/:(?:-webkit-)?autofill\b/g, '[data-trail-autofill]'],
]
const ANY =
  /canvas|img|\[\s*[a-z]|:(hover|active|focus|target|fullscreen|defined|user-|invalid|valid|default|state\(|in-range|out-of-range|-webkit-autofill|autofill)/

/** Out of sight nothing is laid out, but takes the room that it had when it was seen last (CSS Sizing 4, section 5): here it never was. */
const UNSEEN = /(content-visibility\s*:\s*)auto\b/gi
const REMEMBERED = /contain-intrinsic-(size|height|block-size)\s*:\s*auto\b/i

/** What stands before a block and is no selector: names of layers, keyframes and containers, conditions for media. */
const NAMES = /(?:^|;)\s*@(?!scope|supports)[^;]*$/

const LENGTH_PX: Record<string, number> = { px: 1, em: 16, rem: 16 }
const WIDTH = /\(\s*(min|max)-width\s*:\s*([\d.]+)(px|r?em)\s*\)/g
const RANGE = /\(\s*width\s*([<>]=?)\s*([\d.]+)(px|r?em)\s*\)/g
const ALWAYS = '(min-width: 0px)'
const NEVER = '(max-width: 0px)'

/**
 * Rules for a page that was laid out narrower than what is seen of it, as phones do with pages that are too wide: what they
 * ask of the width of the window, and lengths that are parts of it, go by that width.
 */
function laidOut(text: string, width: number): string {
  return text
    .replaceAll(/@media[^{]+/g, (media) =>
      media
        .replaceAll(WIDTH, (_, side: string, length: string, unit: string) => {
          const px = Number(length) * LENGTH_PX[unit]!
          return (side === 'min' ? width >= px : width <= px) ? ALWAYS : NEVER
        })
        .replaceAll(RANGE, (_, sign: string, length: string, unit: string) => {
          const more = width - Number(length) * LENGTH_PX[unit]!
          return (sign.startsWith('>') ? more > 0 : more < 0) || (sign.length > 1 && more === 0)
            ? ALWAYS
            : NEVER
        }),
    )
    .replaceAll(/(?<![\w#.-])(-?[\d.]+)[sld]?vw\b/g, (_, part: string) => `${(Number(part) * width) / 100}px`)
}

/**
 * The text of a style sheet for a page that nobody uses.
 *
 * @param layout  how wide the page was laid out, px, where that is not how much is seen of it
 */
export function restedRules(rules: string, layout = 0): string {
  // Written out as HTML it must not end the element that it stands in.
  const safe = rules.replaceAll(/<\/(?=style)/gi, '<\\/')
  const text = layout > 0 ? laidOut(safe, layout) : safe
  if (!ANY.test(text) && !REMEMBERED.test(text)) return text
  // What stands before a block: selectors, or what stands before other rules. Cut at the braces, since looking for the next
  // one from every place would take a square of the length.
  const parts = text.split(/([{}])/)
  for (let k = 0; k < parts.length; k += 2)
    if (parts[k + 1] === '{' && ANY.test(parts[k]!) && !NAMES.test(parts[k]!))
      parts[k] = eachAskedRule(
        STATES.reduce((all, [state, own]) => all.replaceAll(state, own), parts[k]!),
        (key) => `[${ASKED}~="${key}"]`,
      )
  for (let k = 0; k < parts.length; k += 2)
    if (parts[k + 1] !== '{' && REMEMBERED.test(parts[k]!))
      parts[k] = parts[k]!.replaceAll(UNSEEN, '$1visible')
  return parts.join('')
}

/** What browsers do where a page says nothing else: as weak as it can be said. */
export const OWN_RULES = `
::selection { background-color: #3367d1; color: #fff }
video:not([controls])::-webkit-media-controls { display: none !important }
:where([data-trail-focus=visible]) { outline: auto 1px -webkit-focus-ring-color }
:where([data-trail-layer=fullscreen]) { position: fixed !important; inset: 0 !important; width: 100% !important; height: 100% !important; max-width: none !important; max-height: none !important; margin: 0 !important; box-sizing: border-box !important; z-index: 2147483647 !important; object-fit: contain }
`

/** Rules of ours for a page, before all of its own. */
export function ownRules(page: Document): HTMLStyleElement {
  const style = page.createElement('style')
  style.textContent = OWN_RULES
  return style
}
