import type { ReactNode } from 'react'
import { useState } from 'react'

interface Props {
  checked: boolean
  onChange: (checked: boolean) => void
  className?: string
  children: ReactNode
}

/**
 * Yes or no, with its words. It shows at once what was chosen: where that stands in the address, it is drawn from there only when
 * the screen has time for it.
 */
export function CheckBox({ checked, onChange, className = '', children }: Props) {
  const [told, setTold] = useState(checked)
  const [shown, setShown] = useState(checked)
  if (told !== checked) {
    setTold(checked)
    setShown(checked)
  }
  return (
    <label className={`inline-flex items-center gap-1.5 ${className}`}>
      <input
        type="checkbox"
        className="accent-spruce"
        checked={shown}
        onChange={({ target }) => {
          setShown(target.checked)
          onChange(target.checked)
        }}
      />
      {children}
    </label>
  )
}
