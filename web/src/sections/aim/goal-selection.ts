import type { Selection } from '@dust-trail/core'
import { pageGoal } from '@dust-trail/core'
import { useSite } from '../../app/lens.ts'
import { atEvent } from '../../words/selections.ts'

/** Those who reached a goal of the site, each at that moment. */
export function useGoalSelection(): (name: string) => Selection {
  const site = useSite()
  return (name) => {
    const goal = site.goals.find((one) => one.name === name) ?? pageGoal(name)
    return atEvent(goal.name, goal.event)
  }
}
