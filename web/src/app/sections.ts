import {
  Filter,
  LayoutPanelTop,
  ListChecks,
  Play,
  Route,
  Settings2,
  Split,
  Tags,
  Target,
  Users,
  Zap,
} from 'lucide-react'

/** The parts of the application, in the order of the work. */
export const SECTIONS = [
  { path: '/aim', name: 'Aim', key: 'a', icon: Target },
  { path: '/funnels', name: 'Funnels', key: 'f', icon: Filter },
  { path: '/paths', name: 'Paths', key: 'h', icon: Route },
  { path: '/pages', name: 'Pages', key: 'p', icon: LayoutPanelTop },
  { path: '/visitors', name: 'Visitors', key: 'v', icon: Users },
  { path: '/replays', name: 'Replays', key: 'r', icon: Play },
  { path: '/friction', name: 'Friction', key: 'n', icon: Zap },
  { path: '/fixes', name: 'Fixes', key: 'x', icon: ListChecks },
] as const

/** What is named and cut once and used in all of them. */
export const NAMED = [
  { path: '/segments', name: 'Segments', key: 'e', icon: Split },
  { path: '/labels', name: 'Labels', key: 'l', icon: Tags },
] as const

export const SETUP = { path: '/setup', name: 'Setup', key: 's', icon: Settings2 } as const
