import type { ApiToken, Role } from '@dust-trail/api'
import { createToken, deleteToken, listTokens, ROLES } from '@dust-trail/api'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Trash2 } from 'lucide-react'
import { useState } from 'react'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { useMe } from '../../api/use-me.ts'
import { useSite } from '../../app/lens.ts'
import { Button, IconButton, Select } from '../../ui/controls.tsx'
import { moment } from '../../ui/format.ts'
import { Failure } from '../../ui/states.tsx'
import { TextField } from '../../ui/text-field.tsx'

/** Tokens for programs: each for this site, with a role and an end. */
export function SiteTokens() {
  const site = useSite()
  const client = useQueryClient()
  const me = useMe().data
  const isOwner = me?.roles[site.key] === 'owner'
  const { data, error } = useEndpoint(listTokens, { site: site.key }, undefined, { enabled: isOwner })
  const [name, setName] = useState('')
  const [role, setRole] = useState<Role>('reader')
  const [days, setDays] = useState(90)
  const changed = () => void client.invalidateQueries({ queryKey: [listTokens.path] })
  const make = useMutation({
    mutationFn: () => call(createToken, { site: site.key }, { name, role, days }),
    onSuccess: () => {
      changed()
      setName('')
    },
  })
  const remove = useMutation({
    mutationFn: ({ id }: ApiToken) => call(deleteToken, { site: site.key, id }, undefined),
    onSuccess: changed,
  })
  if (!isOwner) return null
  const failed = error ?? make.error ?? remove.error
  return (
    <section aria-label="Tokens" className="space-y-2">
      <h2>Tokens for programs</h2>
      <p className="text-ink-soft">
        Sent as “Authorization: Bearer …”; the command lines take them from DUST_TRAIL_TOKEN.
      </p>
      {failed && <Failure error={failed} />}
      {data && data.length > 0 && (
        <ul className="divide-y divide-line rounded-md border border-line bg-sheet">
          {data.map((one) => (
            <li key={one.id} className="flex items-center gap-3 px-3 py-1.5">
              <span className="min-w-0 flex-1 truncate">
                <b>{one.name}</b> · {one.role} · by {one.madeBy}
              </span>
              <span className="text-ink-soft">
                until {moment(one.untilMs, site.timeZone)},{' '}
                {one.usedMs === null ? 'not used yet' : `used ${moment(one.usedMs, site.timeZone)}`}
              </span>
              <IconButton label={`Delete token “${one.name}”`} onClick={() => remove.mutate(one)}>
                <Trash2 size={14} />
              </IconButton>
            </li>
          ))}
        </ul>
      )}
      <form
        className="flex items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault()
          make.mutate()
        }}
      >
        <div className="min-w-0 flex-1">
          <TextField
            label="New token for"
            required
            maxLength={120}
            placeholder="What it is for"
            value={name}
            set={setName}
          />
        </div>
        <Select
          aria-label="Role of the token"
          value={role}
          onChange={({ target }) => setRole(target.value as Role)}
        >
          {ROLES.map((own) => (
            <option key={own}>{own}</option>
          ))}
        </Select>
        <Select
          aria-label="Good for"
          value={String(days)}
          onChange={({ target }) => setDays(Number(target.value))}
        >
          {[7, 30, 90, 365].map((own) => (
            <option key={own} value={own}>
              {own} days
            </option>
          ))}
        </Select>
        <Button type="submit" disabled={make.isPending}>
          Make it
        </Button>
      </form>
      {make.data && (
        <p role="status" className="break-all">
          Shown this once: <code className="font-mono text-xs">{make.data.token}</code>
        </p>
      )}
    </section>
  )
}
