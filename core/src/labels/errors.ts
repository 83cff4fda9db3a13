import { oncePer } from '../columns/block-cache.ts'
import type { Block } from '../columns/block.ts'
import { propsRange } from '../columns/block.ts'
import type { Dictionaries } from '../columns/dictionaries.ts'
import type { Dictionary } from '../columns/dictionary.ts'
import { errorText, PLACE_PROP } from '../events/error-text.ts'

/** By code of a message what errors with it are known by: made where it is first asked for, since codes never change. */
export const errorTexts = oncePer((names: Dictionary): ((code: number) => string) => {
  const texts: string[] = []
  return (code) => (texts[code] ??= errorText(names.word(code)))
})

/** Reads where the error that is an event of a block came about; "" where that is not known. */
export function errorPlaces(block: Block, { propKey, propText }: Dictionaries): (event: number) => string {
  return textProps(block, propKey.find(PLACE_PROP), propText)
}

/** Reads a property of events by the code of its key, where it is a text; "" where it is none. */
export function textProps(block: Block, key: number, texts: Dictionary): (event: number) => string {
  const { props } = block
  return (event) => {
    const [from, to] = key < 0 ? [0, 0] : propsRange(block, event)
    for (let p = from; p < to; p++)
      if (props.key[p] === key && Number.isNaN(props.number[p]!)) return texts.word(props.text[p]!)
    return ''
  }
}
