import { Switch } from 'radix-ui'
import { Tip } from './Tip'

/** An on/off switch. */
export function Toggle({ on, label, onChange }: { on: boolean; label: string; onChange: (on: boolean) => void }) {
  return (
    <Tip help={on ? `Switch off: ${label.replace(/ on$/, '')}` : `Switch on: ${label.replace(/ on$/, '')}`} side="left">
      <Switch.Root checked={on} onCheckedChange={onChange} aria-label={label} className="relative h-[14px] w-[24px] shrink-0 rounded-[3px] border border-line bg-room data-[state=checked]:border-plum data-[state=checked]:bg-plumdeep">
        <Switch.Thumb className="block h-[8px] w-[8px] translate-x-[2px] rounded-[1px] bg-dim transition-transform data-[state=checked]:translate-x-[12px] data-[state=checked]:bg-text" />
      </Switch.Root>
    </Tip>
  )
}
