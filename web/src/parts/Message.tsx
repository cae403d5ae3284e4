import { studio, useStudio } from '../state/studio'

/** What went wrong, to which file, and what to do; it stays until it is read. */
export function Message() {
  const message = useStudio((s) => s.message)
  if (!message) return null
  return (
    <div
      role="alert"
      className="pointer-events-auto fixed bottom-11 left-1/2 z-50 flex max-w-[70vw] -translate-x-1/2 items-baseline gap-4 rounded-[4px] border border-amber bg-wall px-4 py-2 shadow-xl"
    >
      <span className="whitespace-pre-line">{message}</span>
      <button type="button" className="text-amber" onClick={studio.dismiss}>
        Close
      </button>
    </div>
  )
}
