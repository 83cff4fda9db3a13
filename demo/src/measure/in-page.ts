/**
 * Runs inside each page of the stand-in site while it is measured: takes the page with the very code that the capture
 * script uses, so that simulated recordings are what real ones would be.
 */
import type { RecordItem, Snapshot } from '@dust-trail/core'
import { privacy } from '../../../capture/src/more/recording/privacy.ts'
import { Recorder } from '../../../capture/src/more/recording/recorder.ts'
import * as scrubber from '../../../capture/src/privacy/scrubber.ts'
import * as shown from '../../../capture/src/privacy/shown.ts'
import { selectorOf } from '../../../capture/src/selector.ts'
import { intended } from '../../../capture/src/target.ts'
import type { MeasuredElement, MeasuredPage } from '../layout.ts'
import type { Move } from './moves.ts'

async function measure(moves: readonly Move[]): Promise<MeasuredPage> {
  // As the demo's site is set: its visitors are made up.
  scrubber.setLevel('patterns')
  Object.assign(privacy, scrubber, shown)
  let snapshot: Snapshot | undefined
  let items: RecordItem[] = []
  const nothing = () => undefined
  const recorder = new Recorder(
    {
      snapshot: (taken: Snapshot) => (snapshot = taken),
      item: (item: RecordItem) => items.push(item),
    },
    nothing,
    nothing,
    { met: nothing, begun: nothing, changed: nothing },
  )
  recorder.begin(Date.now())
  const all = () => [...document.body.querySelectorAll('*')].flatMap((element) => describe(element, recorder))
  const page: MeasuredPage = {
    snapshot: snapshot!,
    height: document.documentElement.scrollHeight,
    words: document.querySelector('main')!.innerText.split(/\s+/).length,
    elements: all(),
    moves: {},
  }
  let before = page.elements
  for (const { name, selector, fill = {} } of moves) {
    items = []
    for (const [field, text] of Object.entries(fill))
      document.querySelector<HTMLInputElement>(field)!.value = text
    document.querySelector<HTMLElement>(selector)!.click()
    await new Promise((resolve) => setTimeout(resolve, 20))
    recorder.flush()
    const elements = all()
    page.moves[name] = {
      items: items.filter(({ k }) => k === 'change').map((item) => ({ ...item, at: 0 })),
      ...(JSON.stringify(elements) !== JSON.stringify(before) && {
        height: document.documentElement.scrollHeight,
        elements,
      }),
    }
    before = elements
  }
  return page
}

function describe(element: Element, recorder: Recorder): MeasuredElement[] {
  const id = recorder.idOf(element)
  const box = element.getBoundingClientRect()
  if (!id || box.width < 1 || box.height < 1 || element.closest('svg')?.contains(element.parentElement))
    return []
  const { interactive } = intended(element)
  return [
    {
      selector: selectorOf(element),
      id,
      tag: element.localName,
      text: shown.labelOf(element),
      interactive,
      ...(element.localName === 'a' && { href: element.getAttribute('href')! }),
      x: Math.round(box.left + scrollX),
      y: Math.round(box.top + scrollY),
      w: Math.round(box.width),
      h: Math.round(box.height),
    },
  ]
}

Object.assign(window, { measurePage: measure })
