import { useEffect, useState } from 'react'
import { stopUpload, upload } from '../state/footage'
import { useStudio } from '../state/studio'

/** Takes files that are dropped anywhere on the window, and shows how far the sending is. */
export function DropZone() {
  const [over, setOver] = useState(false)
  const sending = useStudio((s) => s.sending)
  useEffect(() => {
    let depth = 0
    const files = (e: DragEvent) => e.dataTransfer?.types.includes('Files')
    const enter = (e: DragEvent) => {
      if (files(e)) setOver(++depth > 0)
    }
    const leave = () => setOver(--depth > 0)
    const hold = (e: DragEvent) => files(e) && e.preventDefault()
    const drop = (e: DragEvent) => {
      if (!files(e)) return
      e.preventDefault()
      depth = 0
      setOver(false)
      void upload([...(e.dataTransfer?.files ?? [])])
    }
    window.addEventListener('dragenter', enter)
    window.addEventListener('dragleave', leave)
    window.addEventListener('dragover', hold)
    window.addEventListener('drop', drop)
    return () => {
      window.removeEventListener('dragenter', enter)
      window.removeEventListener('dragleave', leave)
      window.removeEventListener('dragover', hold)
      window.removeEventListener('drop', drop)
    }
  }, [])
  if (sending !== null)
    return (
      <div
        className="fixed bottom-11 right-4 z-50 flex w-64 items-center gap-3 rounded-[4px] border border-line bg-wall px-3 py-2"
        role="status"
      >
        <div className="grow">
          Sending files
          <div className="mt-1.5 h-[3px] bg-line">
            <div className="h-full bg-plum" style={{ width: `${100 * sending}%` }} />
          </div>
        </div>
        <button type="button" className="text-soft hover:text-text" onClick={() => stopUpload()}>
          Cancel
        </button>
      </div>
    )
  if (!over) return null
  return (
    <div className="pointer-events-none fixed inset-0 z-50 flex items-center justify-center bg-black/70 text-base">
      <span className="rounded-[4px] border border-plum bg-wall px-5 py-3">Drop to bring in: movies, stills, sequences</span>
    </div>
  )
}
