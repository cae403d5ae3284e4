import { Dial } from '../controls/Dial'

/** How much of a step, a group or a station is mixed in: a share, told in per cent. */
export function StrengthDial({
  share,
  onShare,
  label = 'Strength',
  help,
  dim,
}: {
  share: number
  onShare: (share: number, gesture?: string, hurry?: boolean) => void
  label?: string
  help: string
  dim: boolean
}) {
  return (
    <Dial
      label={label}
      help={help}
      unit="%"
      min={0}
      max={100}
      step={1}
      initial={100}
      value={Math.round(share * 1000) / 10}
      dim={dim}
      onChange={(v, gesture, hurry) => onShare(v / 100, gesture, hurry)}
      onReset={() => onShare(1)}
    />
  )
}
