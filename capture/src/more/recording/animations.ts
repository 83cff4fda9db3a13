import { baseOf, quiet } from '../../dom.ts'
import { safeCss } from './attributes.ts'
import type { Recorder } from './recorder.ts'

/** What a script's animation does not change of an element by name. */
const NO_PROPERTY = /^(offset|computedOffset|easing|composite)$/
const FILLS = /^(forwards|both)$/
/** Boxes that an element has without there being an element for them. */
const PSEUDO = /^::(before|after|marker|backdrop|placeholder)$/

/** Elements of which such a box was moved, by the number that a rule knows them by. */
const moved = new WeakMap<Element, string>()
let count = 0

/** Elements that a script moves and that stay where they were moved: no attribute says so (Web Animations, Level 1). */
export function watchAnimations(recorder: Recorder): void {
  const ended = quiet((animation: Animation) => {
    const { effect, playState } = animation
    if (!(effect instanceof KeyframeEffect) || !effect.target) return
    const isKept = playState === 'finished' && FILLS.test(effect.getComputedTiming().fill ?? '')
    if (!isKept) return
    const { target, pseudoElement } = effect
    const style = getComputedStyle(target, pseudoElement)
    const names = new Set(effect.getKeyframes().flatMap((frame) => Object.keys(frame)))
    const text = [...names]
      .filter((name) => !NO_PROPERTY.test(name))
      .map((name) => name.replaceAll(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`))
      .map((name) => safeCss(`${name}: ${style.getPropertyValue(name)}`, baseOf(target)))
    if (!pseudoElement) recorder.tell(target, 'animated', text.join('; '))
    else if (PSEUDO.test(pseudoElement)) {
      const number = moved.get(target) ?? String(++count)
      moved.set(target, number)
      recorder.tell(target, 'moved', number)
      const rules = text.map((one) => `${one} !important;`).join(' ')
      recorder.addRules(target, `[data-trail-moved="${number}"]${pseudoElement} { ${rules} }`)
    }
  })
  const follow = quiet((animation: Animation) => {
    animation.addEventListener('finish', () => ended(animation))
    animation.addEventListener('cancel', () => {
      const { effect } = animation
      if (effect instanceof KeyframeEffect && effect.target)
        recorder.tell(effect.target, effect.pseudoElement ? 'moved' : 'animated', null)
    })
  })
  const { animate } = Element.prototype
  if (!animate) return
  Element.prototype.animate = function (...given) {
    const animation = animate.apply(this, given)
    follow(animation)
    return animation
  }
  for (const animation of document.getAnimations?.() ?? []) {
    if ('animationName' in animation || 'transitionProperty' in animation) continue
    follow(animation)
    ended(animation)
  }
}
