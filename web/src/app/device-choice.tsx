import { DEVICE_CLASSES, type SessionClass, TRAFFIC_CLASSES } from '@dust-trail/core'
import { MonitorSmartphone } from 'lucide-react'
import { useState } from 'react'
import { Button } from '../ui/controls.tsx'
import { MenuItem } from '../ui/menu-item.tsx'
import { Popover } from '../ui/popover.tsx'
import type { LensPart } from './lens-part.ts'

export function Devices({ lens, setLens }: LensPart) {
  const [open, setOpen] = useState(false)
  const toggle = (device: SessionClass) =>
    setLens({
      ...lens,
      devices: lens.devices.includes(device)
        ? lens.devices.filter((d) => d !== device)
        : [...lens.devices, device],
    })
  return (
    <Popover
      label="Device"
      open={open}
      setOpen={setOpen}
      trigger={
        <Button>
          <MonitorSmartphone size={14} aria-hidden /> Device
        </Button>
      }
    >
      <div className="w-44 p-1.5">
        {DEVICE_CLASSES.map((device) => (
          <MenuItem key={device} checked={lens.devices.includes(device)} onClick={() => toggle(device)}>
            {device}
          </MenuItem>
        ))}
        <p className="px-2 py-1 text-ink-soft">None chosen means all three.</p>
        <p className="mt-1 border-t border-line px-2 pt-2 pb-1 text-ink-soft">
          No people: left out unless chosen.
        </p>
        {TRAFFIC_CLASSES.map((kind) => (
          <MenuItem key={kind} checked={lens.devices.includes(kind)} onClick={() => toggle(kind)}>
            {kind}
          </MenuItem>
        ))}
      </div>
    </Popover>
  )
}
