import type { Realm } from '../../dom.ts'
import { baseOf, quiet, replace } from '../../dom.ts'
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
export function watchAnimations(recorder: Recorder): (realm: Realm) => void {
  /** what moves by which animation */
  const byEffect = new WeakMap<AnimationEffect, Animation>()
  const ended = quiet((animation: Animation) => {
    const { playState } = animation
    const effect = effectOf(animation)
    if (!effect?.target) return
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
    if (animation.effect) byEffect.set(animation.effect, animation)
    animation.addEventListener('finish', () => ended(animation))
    animation.addEventListener('cancel', () => {
      const effect = effectOf(animation)
      if (effect?.target) recorder.tell(effect.target, effect.pseudoElement ? 'moved' : 'animated', null)
    })
  })
  const watch = (realm: Realm) => {
    const { animate } = realm.Element.prototype
    if (!animate) return
    const watched: typeof animate = function (this: Element, ...given) {
      const animation = animate.apply(this, given)
      follow(animation)
      return animation
    }
    replace(realm.Element.prototype, 'animate', watched)
    // One that has ended may be told to do something else.
    const { setKeyframes } = realm.KeyframeEffect.prototype
    const told = quiet((effect: KeyframeEffect) => {
      const animation = byEffect.get(effect)
      if (animation) ended(animation)
    })
    const watchedKeyframes: typeof setKeyframes = function (this: KeyframeEffect, ...given) {
      setKeyframes.apply(this, given)
      told(this)
    }
    replace(realm.KeyframeEffect.prototype, 'setKeyframes', watchedKeyframes)
    for (const animation of realm.document.getAnimations?.() ?? []) {
      if ('animationName' in animation || 'transitionProperty' in animation) continue
      follow(animation)
      ended(animation)
    }
  }
  watch(window)
  return watch
}

const effectOf = ({ effect }: Animation): KeyframeEffect | undefined =>
  effect && 'getKeyframes' in effect ? (effect as KeyframeEffect) : undefined
