import { listPeople } from '@dust-trail/api'
import { useEndpoint } from '../api/use-endpoint.ts'
import { Field, inputLook, Select } from '../ui/controls.tsx'
import { useSite } from './lens.ts'

/**
 * Whom something belongs to: one of the site's people, where it has any; whoever stood there before stays to be chosen. On a computer
 * without accounts any name.
 */
export function OwnerField({ owner, setOwner }: { owner: string; setOwner: (owner: string) => void }) {
  const site = useSite()
  const { data } = useEndpoint(listPeople, { site: site.key }, undefined)
  const people = data?.people ?? []
  const isOther = owner !== '' && !people.some(({ name }) => name === owner)
  return (
    <Field label="Owner">
      {people.length ? (
        <Select className="w-full" value={owner} onChange={({ target }) => setOwner(target.value)}>
          <option value="">nobody</option>
          {people.map(({ email, name }) => (
            <option key={email} value={name}>
              {name}
            </option>
          ))}
          {isOther && <option value={owner}>{owner} (not of the site)</option>}
        </Select>
      ) : (
        <input
          maxLength={120}
          className={inputLook}
          value={owner}
          onChange={({ target }) => setOwner(target.value)}
        />
      )}
    </Field>
  )
}
