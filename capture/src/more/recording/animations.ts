import { quiet } from '../../dom.ts'
import type { Recorder } from './recorder.ts'

/** What a script's animation does not change of an element by name. */
const NO_PROPERTY = /^(offset|computedOffset|easing|composite)$/
const FILLS = /^(forwards|both)$/

/** Elements that a script moves and that stay where they were moved: no attribute says so (Web Animations, Level 1). */
export function watchAnimations(recorder: Recorder): void {
  const ended = quiet((animation: Animation) => {
    const { effect, playState } = animation
    if (!(effect instanceof KeyframeEffect) || !effect.target || effect.pseudoElement) return
    const isKept = playState === 'finished' && FILLS.test(effect.getComputedTiming().fill ?? '')
    if (!isKept) return
    const style = getComputedStyle(effect.target)
    const names = new Set(effect.getKeyframes().flatMap((frame) => Object.keys(frame)))
    const text = [...names]
      .filter((name) => !NO_PROPERTY.test(name))
      .map((name) => name.replaceAll(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`))
      .map((name) => `${name}: ${style.getPropertyValue(name)}`)
      .join('; ')
    recorder.tell(effect.target, 'animated', text)
  })
  const follow = quiet((animation: Animation) => {
    animation.addEventListener('finish', () => ended(animation))
    animation.addEventListener('cancel', () => {
      const { effect } = animation
      if (effect instanceof KeyframeEffect && effect.target) recorder.tell(effect.target, 'animated', null)
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
