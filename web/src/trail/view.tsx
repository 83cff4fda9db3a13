import type { Question, ShownTable } from '@dust-trail/api'
import type { ReactNode } from 'react'
import { createContext, useContext, useEffect, useMemo, useRef } from 'react'

/** What a screen shows, in words and as a question that can be asked again. */
export interface View {
  words: string
  question: Question
  /** tables of it that can be kept, the main one first */
  tables?: readonly ShownTable[]
}

interface Holder {
  current: View | null
}

const ViewContext = createContext<Holder>({ current: null })

export function ViewProvider({ children }: { children: ReactNode }) {
  const holder = useRef<View | null>(null)
  const value = useMemo(() => holder, [])
  return <ViewContext value={value}>{children}</ViewContext>
}

/** Registers what this screen shows, for marks on the trail. */
export function useView(view: View | null): void {
  const holder = useContext(ViewContext)
  useEffect(() => {
    holder.current = view
    return () => {
      holder.current = null
    }
  })
}

export function useCurrentView(): () => View | null {
  const holder = useContext(ViewContext)
  return () => holder.current
}
