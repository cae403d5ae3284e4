/** How far something is, 0…1, as a thin line. */
export function ProgressBar({ label, done, className = '' }: { label: string; done: number; className?: string }) {
  return (
    <span
      role="progressbar"
      aria-label={label}
      aria-valuenow={Math.round(100 * done)}
      className={`block h-1 overflow-hidden rounded-sm bg-line ${className}`}
    >
      <span className="block h-full bg-plum transition-[width]" style={{ width: `${100 * done}%` }} />
    </span>
  )
}
