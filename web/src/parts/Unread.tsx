import type { Look, Step } from '../api/types.gen'

/** What of a stored look this program cannot read: it is kept as it was, and the rest can be worked on. */
export function UnreadParts({ look, station }: { look: Look; station: string }) {
  const steps = look.stations[station]?.unread ?? []
  const whole = Object.entries(look.unread ?? {})
  if (steps.length + whole.length === 0) return null
  return (
    <ul aria-label="Kept unread" data-testid="unread" className="mb-2 grid gap-1 border-l-2 border-amber pl-2 text-xs text-soft">
      {steps.map((u, i) => (
        <li key={i}>
          <b className="font-medium text-text">{stepName(u.part)}</b> is not known here: {u.why}. It is kept and does nothing.
        </li>
      ))}
      {whole.map(([name, u]) => (
        <li key={name}>
          <b className="font-medium text-text">{name}</b> is not known here: {u.why}. It is kept and does nothing.
        </li>
      ))}
    </ul>
  )
}

function stepName(part: unknown): string {
  const p = part as { title?: string; id?: string; kind?: string } | null
  return p?.title || p?.id || p?.kind || 'A step'
}

/** The settings of a step that this program does not know. */
export function UnreadSettings({ step }: { step: Step | undefined }) {
  const names = Object.keys(step?.unread ?? {}).map((n) => n.replace(/^\//, ''))
  if (names.length === 0) return null
  return <p className="mb-1 border-l-2 border-amber pl-2 text-xs text-soft">Not known here, and kept: {names.join(', ')}.</p>
}
