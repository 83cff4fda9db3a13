import type { Question, ShownTable } from '@dust-trail/api'
import type { ReactNode } from 'react'
import { createContext, useContext, useEffect, useState } from 'react'

/** What a screen shows, in words and as a question that can be asked again. */
export interface View {
  words: string
  question: Question
  /** tables of it that can be kept, the main one first */
  tables?: readonly ShownTable[]
}

interface Holder {
  current: View | null
  /** tables of parts of the screen, each part by what registered it */
  parts: Map<object, readonly ShownTable[]>
}

const ViewContext = createContext<Holder>({ current: null, parts: new Map() })

export function ViewProvider({ children }: { children: ReactNode }) {
  const [holder] = useState<Holder>(() => ({ current: null, parts: new Map() }))
  return <ViewContext value={holder}>{children}</ViewContext>
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

/** Registers tables that a part of the screen shows, asked through the lens of its view. */
export function useKeptTables(tables: readonly ShownTable[]): void {
  const { parts } = useContext(ViewContext)
  const [part] = useState(() => ({}))
  useEffect(() => {
    parts.set(part, tables)
    return () => void parts.delete(part)
  })
}

export function useCurrentView(): () => View | null {
  const holder = useContext(ViewContext)
  return () => {
    if (!holder.current) return null
    const tables = [...(holder.current.tables ?? []), ...[...holder.parts.values()].flat()]
    return { ...holder.current, ...(tables.length && { tables }) }
  }
}
