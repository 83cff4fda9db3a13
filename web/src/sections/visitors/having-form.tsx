import type { NumberTest, VisitorNumber } from '@dust-trail/core'
import { VISITOR_NUMBERS } from '@dust-trail/core'
import { Plus } from 'lucide-react'
import { useState } from 'react'
import { Button, inputLook, Select } from '../../ui/controls.tsx'
import { Popover } from '../../ui/popover.tsx'
import { VISITOR_WORDS } from './visitor-words.ts'

type How = 'at least' | 'at most' | 'equal'

/** A condition on visitors over all their visits. */
export function HavingForm({ add }: { add: (test: { of: VisitorNumber; is: NumberTest }) => void }) {
  const [open, setOpen] = useState(false)
  const [of, setOf] = useState<VisitorNumber>('sessions')
  const [how, setHow] = useState<How>('at least')
  const [text, setText] = useState('')
  const isDay = of === 'first' || of === 'last'
  const to = isDay ? Date.parse(text) : Number(text)
  const good = text !== '' && Number.isFinite(to)
  return (
    <Popover
      label="Condition on visitors"
      open={open}
      setOpen={setOpen}
      className="w-80 p-3"
      trigger={
        <Button look="quiet">
          <Plus size={14} aria-hidden /> of whom …
        </Button>
      }
    >
      <form
        className="flex items-center gap-2"
        onSubmit={(event) => {
          event.preventDefault()
          if (!good) return
          add({ of, is: { is: how, to } })
          setText('')
          setOpen(false)
        }}
      >
        <Select aria-label="What" value={of} onChange={({ target }) => setOf(target.value as VisitorNumber)}>
          {VISITOR_NUMBERS.map((one) => (
            <option key={one} value={one}>
              {VISITOR_WORDS[one]}
            </option>
          ))}
        </Select>
        <Select aria-label="How many" value={how} onChange={({ target }) => setHow(target.value as How)}>
          <option value="at least">{isDay ? 'from' : 'at least'}</option>
          <option value="at most">{isDay ? 'until' : 'at most'}</option>
          {!isDay && <option value="equal">exactly</option>}
        </Select>
        <input
          aria-label={isDay ? 'Day' : 'Number'}
          type={isDay ? 'date' : 'number'}
          step="any"
          className={`${inputLook} !w-24`}
          value={text}
          onChange={({ target }) => setText(target.value)}
        />
        <Button type="submit" look="primary" disabled={!good}>
          Add
        </Button>
      </form>
    </Popover>
  )
}
