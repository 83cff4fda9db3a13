import type { Person, Role } from '@dust-trail/api'
import { invitePerson, listPeople, removePerson, ROLES, setRole } from '@dust-trail/api'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Trash2 } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { useMe } from '../../api/use-me.ts'
import { useLensLink, useSite } from '../../app/lens.ts'
import { Button, IconButton, Select } from '../../ui/controls.tsx'
import { moment } from '../../ui/format.ts'
import { Failure } from '../../ui/states.tsx'
import { TextField } from '../../ui/text-field.tsx'

const ROLE_WORDS: Record<Role, string> = {
  reader: 'reader: looks at everything',
  editor: 'editor: labels, segments, fixes, imports',
  owner: 'owner: people, tokens, deletion',
}

/** Who may look at the site, and who may do more. */
export function SitePeople() {
  const site = useSite()
  const linkTo = useLensLink()
  const client = useQueryClient()
  const me = useMe().data
  const isOwner = me?.roles[site.key] === 'owner'
  const { data, error } = useEndpoint(listPeople, { site: site.key }, undefined)
  const [email, setEmail] = useState('')
  const [role, setInvited] = useState<Role>('reader')
  const changed = () => void client.invalidateQueries({ queryKey: [listPeople.path] })
  const invite = useMutation({
    mutationFn: () => call(invitePerson, { site: site.key }, { email, role }),
    onSuccess: ({ given }) => {
      changed()
      setEmail('')
      toast(given ? 'The role is given.' : 'A mail is on its way.')
    },
  })
  const set = useMutation({
    mutationFn: ({ id, to }: { id: number; to: Role }) => call(setRole, { site: site.key, id }, { role: to }),
    onSuccess: changed,
  })
  const remove = useMutation({
    mutationFn: ({ id }: Person) => call(removePerson, { site: site.key, id }, undefined),
    onSuccess: changed,
  })
  const failed = error ?? invite.error ?? set.error ?? remove.error
  return (
    <section aria-label="People" className="space-y-2">
      <h2>People</h2>
      {me?.anybody && (
        <p>
          Anybody on this computer may do everything.{' '}
          <Link className="text-spruce underline" to={linkTo('/you')}>
            Make the first account
          </Link>{' '}
          to end that and to invite others.
        </p>
      )}
      {failed && <Failure error={failed} />}
      {data && data.people.length > 0 && (
        <ul className="divide-y divide-line rounded-md border border-line bg-sheet">
          {data.people.map((one) => (
            <li key={one.id} className="flex items-center gap-3 px-3 py-1.5">
              <span className="min-w-0 flex-1 truncate">
                <b>{one.name}</b> <span className="text-ink-soft">{one.email}</span>
              </span>
              <span className="text-ink-soft">
                {one.seenMs === null ? 'never signed in' : `signed in ${moment(one.seenMs, site.timeZone)}`}
                {one.secondFactor && ' · second factor'}
              </span>
              {isOwner ? (
                <>
                  <Select
                    aria-label={`Role of ${one.name}`}
                    value={one.role}
                    onChange={({ target }) => set.mutate({ id: one.id, to: target.value as Role })}
                  >
                    {ROLES.map((own) => (
                      <option key={own}>{own}</option>
                    ))}
                  </Select>
                  <IconButton label={`Take ${one.name} off this site`} onClick={() => remove.mutate(one)}>
                    <Trash2 size={14} />
                  </IconButton>
                </>
              ) : (
                one.role
              )}
            </li>
          ))}
          {data.invited.map((one) => (
            <li key={one.email} className="px-3 py-1.5 text-ink-soft">
              {one.email} is invited as {one.role}, until {moment(one.untilMs, site.timeZone)}
            </li>
          ))}
        </ul>
      )}
      {isOwner && !me.anybody && (
        <form
          className="flex items-end gap-2"
          onSubmit={(event) => {
            event.preventDefault()
            invite.mutate()
          }}
        >
          <div className="min-w-0 flex-1">
            <TextField
              label="Invite"
              type="email"
              required
              placeholder="E-mail"
              value={email}
              set={setEmail}
            />
          </div>
          <Select aria-label="As" value={role} onChange={({ target }) => setInvited(target.value as Role)}>
            {ROLES.map((own) => (
              <option key={own} value={own}>
                {ROLE_WORDS[own]}
              </option>
            ))}
          </Select>
          <Button type="submit" disabled={invite.isPending}>
            Invite
          </Button>
        </form>
      )}
      {invite.data?.link && (
        <p role="status" className="break-all">
          The link in that mail, good for a week:{' '}
          <code className="font-mono text-xs">{invite.data.link}</code>
        </p>
      )}
    </section>
  )
}
