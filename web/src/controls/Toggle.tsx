import { Switch } from 'radix-ui'
import { Tip } from './Tip'

/** An on/off switch. */
export function Toggle({ on, label, onChange }: { on: boolean; label: string; onChange: (on: boolean) => void }) {
  // the help hangs on a frame around the switch: both keep a data-state of their own
  return (
    <Tip help={`${on ? 'Switch off' : 'Switch on'}: ${label.replace(/ on$/, '')}`} side="left">
      <span className="flex">
        <Switch.Root
          checked={on}
          onCheckedChange={onChange}
          aria-label={label}
          className="relative h-[14px] w-[24px] shrink-0 rounded-[3px] border border-line bg-room data-[state=checked]:border-plum data-[state=checked]:bg-plumdeep"
        >
          <Switch.Thumb className="block h-[8px] w-[8px] translate-x-[2px] rounded-[1px] bg-dim transition-transform data-[state=checked]:translate-x-[12px] data-[state=checked]:bg-text" />
        </Switch.Root>
      </span>
    </Tip>
  )
}
