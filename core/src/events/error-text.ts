/*
 * What errors are known by. Messages differ by what they quote, stacks by the build they come from: with both taken out, the
 * same fault is one, whoever met it and whichever release they had. Rules: common practice, no source.
 */

/** What stands for anything that changes from one message to the next. */
const ANY = '*'

const CHANGING: readonly [RegExp, string][] = [
  [/\b(?:https?|wss?|blob|file):\/*[^\s'"`)\]]+/g, ANY],
  [/[^\s'"`(<]+@[^\s'"`)>]+\.[a-z]{2,}/gi, ANY],
  [/\b[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}\b/gi, ANY],
  [/\b(?=[0-9a-f]*\d)(?=[0-9a-f]*[a-f])[0-9a-f]{6,}\b/gi, ANY],
  [/(?<![\w*])[-+]?\d+(?:[.,:/-]\d+)*(?![\w*])/g, ANY],
  [/\s+/g, ' '],
]

/** In quotes a name stays, since it says what is wrong: the property that is missing. Anything else is somebody's. */
const QUOTED = /(['"`])((?:(?!\1).){0,400})\1/g
const A_NAME = /^[A-Za-z_$][A-Za-z_$.]{0,39}$/

/** A message without what changes from one time to the next; "" of "". */
export function errorText(message: string): string {
  let text = message.replace(QUOTED, (whole, quote: string, inside: string) =>
    A_NAME.test(inside) ? whole : `${quote}${ANY}${quote}`,
  )
  for (const [pattern, by] of CHANGING) text = text.replace(pattern, by)
  return text.trim()
}

/** The property by which it is asked where an error came about. */
export const PLACE_PROP = 'error place'

/** Frames that tell faults apart: who called these hardly ever says more. */
const FRAMES = 3
const LONGEST = 300

/**
 * Where an error came about: its innermost frames as "function file", without addresses, places in the file and what names
 * a build; where there is no stack the file alone. "" where neither is known. Reads stacks as written by V8
 * ("at f (file:1:2)") and by SpiderMonkey and JavaScriptCore ("f@file:1:2"); forms from memory.
 */
export function errorPlace({ stack, source }: { stack?: string; source?: string }): string {
  const frames = (stack ?? '').split('\n').flatMap((line) => frameOf(line) ?? [])
  if (!frames.length && source) frames.push(fileName(source))
  return frames.slice(0, FRAMES).join(' < ').slice(0, LONGEST)
}

function frameOf(line: string): string | undefined {
  const read =
    /^\s*at (?:async )?(?:(.*?) \()?([^\s()]+?):\d+(?::\d+)?\)?\s*$/.exec(line) ??
    /^(.*?)@(\S*?):\d+(?::\d+)?\s*$/.exec(line)
  if (!read) return undefined
  const [, called, file] = read
  // What a function is called by changes from engine to engine: "Object.pay", "new Cart", "pay/<".
  const name = (called ?? '')
    .replace(/^(?:async |new )/, '')
    .replace(/\s*\[as .*\]$/, '')
    .replace(/[/<]+$/, '')
    .split('.')
    .pop()!
  const place = fileName(file!)
  return name && name !== '<anonymous>' && name !== 'anonymous' ? `${name} ${place}` : place
}

/** The last part of an address, without what tells builds apart. */
function fileName(address: string): string {
  const path = address.split(/[?#]/)[0]!
  const name = path.split('/').pop() || path
  return name.replace(/([.-])(?=[\w-]*\d)[\w]{6,}(?=\.)/g, `$1${ANY}`)
}
