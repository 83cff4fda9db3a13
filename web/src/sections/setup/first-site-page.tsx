import { useQueryClient } from '@tanstack/react-query'
import { Navigate, useNavigate } from 'react-router'
import { CallError } from '../../api/call.ts'
import { useSites } from '../../api/queries.ts'
import { useMe } from '../../api/use-me.ts'
import { Button } from '../../ui/controls.tsx'
import { FrontDoor } from '../../ui/front-door.tsx'
import { Empty, Failure, Loading } from '../../ui/states.tsx'
import { useNewSite } from './new-site.tsx'
import { SiteFields } from './site-fields.tsx'

/** Where there is no site to look at yet: the first one is taken in here, by those who may. */
export function FirstSitePage() {
  const me = useMe()
  const sites = useSites()
  if (sites.error instanceof CallError && sites.error.status === 401)
    return <Navigate replace to="/enter?to=%2Ffirst" />
  const error = me.error ?? sites.error
  if (error) return <Failure error={error} retry={() => void Promise.all([me.refetch(), sites.refetch()])} />
  if (!me.data || sites.isPending) return <Loading />
  const [there] = sites.data ?? []
  if (there) return <Navigate replace to={`/setup?${new URLSearchParams({ site: there.key }).toString()}`} />
  return (
    <FrontDoor wide>
      {me.data.administrator ? <FirstSite anybody={me.data.anybody} /> : <NoneForYou />}
    </FrontDoor>
  )
}

function FirstSite({ anybody }: { anybody: boolean }) {
  const { draft, setDraft, create } = useNewSite(() => undefined)
  return (
    <form
      aria-label="Your first site"
      className="space-y-4"
      onSubmit={(event) => {
        event.preventDefault()
        if (!create.isPending) create.mutate()
      }}
    >
      <div className="space-y-1">
        <h1>Your first site</h1>
        <p className="text-ink-soft">
          Which site do you look after? Its script, and the way to bring in older data, come next.
          {anybody && ' There is no account yet: anybody on this computer may use this.'}
        </p>
      </div>
      <SiteFields draft={draft} setDraft={setDraft} />
      {create.error && <Failure error={create.error} />}
      <Button type="submit" look="primary" disabled={create.isPending}>
        Add site
      </Button>
    </form>
  )
}

/** Somebody with an account and no role on any site. */
function NoneForYou() {
  const client = useQueryClient()
  const navigate = useNavigate()
  const again = async () => {
    await client.invalidateQueries()
    void navigate('/', { replace: true })
  }
  return (
    <>
      <Empty title="No site is open to you">
        Ask its owner for a role on it. Only administrators add sites.
      </Empty>
      <Button onClick={() => void again()}>Look again</Button>
    </>
  )
}
