import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { z } from 'zod'
import { useAddressValue } from '../../app/address.ts'
import { useLensLink } from '../../app/lens.ts'
import { Button, inputLook } from '../../ui/controls.tsx'
import { Erase } from './erase.tsx'
import { VisitorHistory } from './visitor-history.tsx'

const BESIDE = z.string()

/** What one visitor did, visit by visit; another one can stand beside. */
export function VisitorPage() {
  const { visitor = '' } = useParams()
  const linkTo = useLensLink()
  const [other, setOther] = useAddressValue('other', BESIDE)
  const [typed, setTyped] = useState('')
  return (
    <div className="space-y-3 px-5 py-3">
      <header className="space-y-1">
        <p>
          <Link className="text-spruce hover:underline" to={linkTo('/visitors')}>
            All visitors
          </Link>
        </p>
        <h1 className="truncate font-mono" title={visitor}>
          {visitor}
        </h1>
        <div className="flex flex-wrap items-center gap-2">
          <form
            className="flex items-center gap-2"
            onSubmit={(event) => {
              event.preventDefault()
              setOther(typed.trim() || null)
            }}
          >
            <input
              aria-label="Visitor to set beside"
              placeholder="Another visitor …"
              className={`${inputLook} !w-64 font-mono`}
              maxLength={128}
              value={typed}
              onChange={({ target }) => setTyped(target.value)}
            />
            <Button type="submit" disabled={!typed.trim()}>
              Set beside
            </Button>
          </form>
          {other && <Button onClick={() => setOther(null)}>Alone again</Button>}
          <Erase visitor={visitor} />
        </div>
      </header>
      <div className={other ? 'grid grid-cols-2 gap-5' : ''}>
        <VisitorHistory key={visitor} visitor={visitor} />
        {other && <VisitorHistory key={other} visitor={other} />}
      </div>
    </div>
  )
}
