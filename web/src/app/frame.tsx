import { getRecording, getSession, getSnapshot, listSites } from '@dust-trail/api'
import { useQueryClient } from '@tanstack/react-query'
import { clsx } from 'clsx'
import { Footprints, Keyboard, Moon, Sun } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { Link, Navigate, NavLink, Outlet, useLocation, useNavigate } from 'react-router'
import { Toaster } from 'sonner'
import { z } from 'zod'
import { CallError } from '../api/call.ts'
import { useSites } from '../api/queries.ts'
import { useMe } from '../api/use-me.ts'
import { CloseUp } from '../closeup/close-up.tsx'
import { useSelection } from '../closeup/use-selection.ts'
import { AddMark } from '../trail/add-mark.tsx'
import { TrailDock } from '../trail/trail-dock.tsx'
import { ViewProvider } from '../trail/view.tsx'
import { IconButton } from '../ui/controls.tsx'
import { Dialog } from '../ui/dialog.tsx'
import { Failure, Loading } from '../ui/states.tsx'
import { useStored } from '../ui/stored.ts'
import { useAddress } from './address.ts'
import { Commands } from './commands.tsx'
import { moveInList, SHORTCUTS, useKeys } from './keyboard.ts'
import { AsOfLine } from './as-of-line.tsx'
import { LensBar } from './lens-bar.tsx'
import { lastFullDays, lensFrom, SiteContext, useLensLink, useSite, writeLens } from './lens.ts'
import { NAMED, SECTIONS, SETUP } from './sections.ts'
import { useTheme } from './theme.ts'

/** Waits for the site, puts the lens into the address, and shows the frame. */
export function Frame() {
  const sites = useSites()
  const [parameters, setParameters] = useAddress()
  const site = sites.data?.find(({ key }) => key === parameters.get('site')) ?? sites.data?.[0]
  const isFirst = useLocation().pathname === '/aim'
  useFreshness(site?.lastMs ?? null, site?.sessions ?? 0)
  const hasDays = !!parameters.get('from') && !!parameters.get('to')
  useEffect(() => {
    // While data are being read nobody knows which days are the last.
    if (site && !site.loading && !hasDays)
      setParameters(
        (before) => writeLens(before, { ...lensFrom(before, site), ...(isFirst && lastFullDays(site)) }),
        true,
      )
  }, [site, hasDays, setParameters, isFirst])
  const here = useLocation()
  if (sites.error instanceof CallError && sites.error.status === 401)
    return <Navigate replace to={`/enter?to=${encodeURIComponent(here.pathname + here.search)}`} />
  if (sites.isPending) return <Loading label="Loading the site" />
  if (!site)
    return sites.error ? (
      <Failure error={sites.error} retry={() => void sites.refetch()} />
    ) : (
      <Navigate replace to="/first" />
    )
  // Nothing is asked through days that are about to be others.
  if (!hasDays && !site.loading) return <Loading label="Opening" />
  return (
    <SiteContext value={site}>
      <ViewProvider>
        <Workbench offline={sites.error} />
      </ViewProvider>
    </SiteContext>
  )
}

/** Not asked for anew when data arrives: a session or recorded page must not change while it is being looked at. */
const STEADY = [listSites.path, getSession.path, getRecording.path, getSnapshot.path]

/** Asks open questions anew when data has come in. */
function useFreshness(lastMs: number | null, sessions: number): void {
  const client = useQueryClient()
  const seen = useRef<string | undefined>(undefined)
  useEffect(() => {
    const state = `${lastMs}/${sessions}`
    if (seen.current !== undefined && seen.current !== state)
      void client.invalidateQueries({
        predicate: ({ queryKey }) => !STEADY.includes(String(queryKey[0])),
        refetchType: 'active',
      })
    seen.current = state
  }, [client, lastMs, sessions])
}

/** Who is signed in; where nobody has to be, that is said. */
function WhoIsHere() {
  const linkTo = useLensLink()
  const me = useMe().data
  if (!me) return null
  return (
    <p className="px-2 pt-1 text-xs leading-4 text-ink-soft">
      {me.anybody && 'Anybody on this computer may use this. '}
      <Link className="text-spruce underline" to={linkTo('/you')}>
        {me.anybody ? 'Make an account' : (me.account?.name ?? 'You')}
      </Link>
    </p>
  )
}

const TRAIL = z.enum(['open', 'shut'])

function Workbench({ offline }: { offline: Error | null }) {
  const [trail, setTrail] = useStored('trail', TRAIL, 'shut')
  const trailOpen = trail === 'open'
  const [commandsOpen, setCommandsOpen] = useState(false)
  const [marking, setMarking] = useState(false)
  const [keysOpen, setKeysOpen] = useState(false)
  const linkTo = useLensLink()
  const navigate = useNavigate()
  const { selection, setSelection } = useSelection()
  const { theme, toggle } = useTheme()
  const going = useRef(0)
  const site = useSite()

  const toggleTrail = () => {
    setTrail(trailOpen ? 'shut' : 'open')
  }

  useKeys((key) => {
    const isGoing = Date.now() - going.current < 1200
    going.current = 0
    if (isGoing) {
      const section = [...SECTIONS, ...NAMED, SETUP].find((s) => s.key === key)
      if (section) void navigate(linkTo(section.path))
      return section !== undefined
    }
    switch (key) {
      case 'g':
        going.current = Date.now()
        return true
      case '/':
      case 'ctrl+k':
        setCommandsOpen(true)
        return true
      case 't':
        toggleTrail()
        return true
      case 'm':
        setMarking(true)
        return true
      case '?':
        setKeysOpen(true)
        return true
      case 'j':
        return moveInList(1)
      case 'k':
        return moveInList(-1)
      case 'Escape':
        if (!selection) return false
        setSelection(null)
        return true
      default:
        return false
    }
  })

  return (
    <div className="flex h-full min-w-[1024px]">
      <nav aria-label="Sections" className="flex w-36 shrink-0 flex-col border-r border-line bg-sheet">
        <div className="flex h-12 items-center gap-2 border-b border-line px-3">
          <img src="/mark.svg" alt="" width={22} height={22} />
          <span className="text-[15px] font-semibold tracking-tight">Dust Trail</span>
        </div>
        <div className="flex-1 space-y-0.5 p-2">
          {SECTIONS.map(({ path, name, icon }) => (
            <SectionLink key={path} path={path} name={name} icon={icon} />
          ))}
        </div>
        <div className="space-y-0.5 border-t border-line p-2">
          {[...NAMED, SETUP].map(({ path, name, icon }) => (
            <SectionLink key={path} path={path} name={name} icon={icon} />
          ))}
          <div className="flex gap-1 pt-1">
            <IconButton label={theme === 'dark' ? 'Light colours' : 'Dark colours'} onClick={toggle}>
              {theme === 'dark' ? <Sun size={16} /> : <Moon size={16} />}
            </IconButton>
            <IconButton label="Keyboard shortcuts" onClick={() => setKeysOpen(true)}>
              <Keyboard size={16} />
            </IconButton>
            <IconButton
              label={trailOpen ? 'Hide the trail' : 'Show the trail'}
              aria-pressed={trailOpen}
              onClick={toggleTrail}
            >
              <Footprints size={16} />
            </IconButton>
          </div>
          <WhoIsHere />
          <AsOfLine />
        </div>
      </nav>
      <div className="flex min-w-0 flex-1 flex-col">
        <LensBar openCommands={() => setCommandsOpen(true)} />
        {offline && <Failure error={offline} />}
        {site.loading && <StillLoading {...site.loading} />}
        <div className="flex min-h-0 flex-1">
          <div className="flex min-w-0 flex-1 flex-col">
            <main className={clsx('min-h-0 flex-1 overflow-auto')} tabIndex={-1}>
              <Outlet />
            </main>
            {selection && (
              <CloseUp
                key={JSON.stringify(selection)}
                selection={selection}
                close={() => setSelection(null)}
                mark={() => setMarking(true)}
              />
            )}
          </div>
          {trailOpen && <TrailDock close={toggleTrail} addMark={() => setMarking(true)} />}
        </div>
      </div>
      <Commands
        open={commandsOpen}
        close={() => setCommandsOpen(false)}
        toggleTrail={toggleTrail}
        addMark={() => setMarking(true)}
        showKeys={() => setKeysOpen(true)}
      />
      {marking && <AddMark close={() => setMarking(false)} />}
      <Dialog open={keysOpen} onClose={() => setKeysOpen(false)} title="Keyboard">
        <dl className="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1.5">
          {SHORTCUTS.map(({ keys, does }) => (
            <div key={keys} className="contents">
              <dt className="font-semibold">{keys}</dt>
              <dd>{does}</dd>
            </div>
          ))}
        </dl>
      </Dialog>
      <Toaster
        position="bottom-center"
        toastOptions={{
          style: {
            background: 'var(--ink)',
            color: 'var(--sheet)',
            border: 'none',
            fontFamily: 'var(--font-sans)',
          },
        }}
      />
    </div>
  )
}

/** After a start: how much of the data has been read, on which alone questions are answered so far. */
function StillLoading({ blocks, of }: { blocks: number; of: number }) {
  return (
    <div
      role="status"
      className="flex items-center gap-3 border-b border-line bg-ochre-soft px-4 py-1 text-ochre-text"
    >
      <progress
        className="h-1.5 w-40 accent-[var(--ochre)]"
        value={blocks}
        max={Math.max(1, of)}
        aria-label="Data read"
      />
      The data is still being read, newest first: {blocks} of {of} blocks. What you see is of these alone.
    </div>
  )
}

function SectionLink({ path, name, icon: Icon }: { path: string; name: string; icon: typeof Sun }) {
  const linkTo = useLensLink()
  return (
    <NavLink
      to={linkTo(path)}
      className={({ isActive }) =>
        clsx(
          'flex h-8 items-center gap-2 rounded-md px-2',
          isActive ? 'bg-spruce-soft font-semibold' : 'hover:bg-ochre-soft',
        )
      }
    >
      <Icon size={16} aria-hidden />
      {name}
    </NavLink>
  )
}
