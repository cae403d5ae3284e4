import { useEffect } from 'react'
import type { Choice } from '../api/types.gen'
import { Canvas } from '../controls/Canvas'
import { FullScreenDialog } from '../controls/FullScreenDialog'
import { offered } from '../api/choices'
import { askEncodings, declare, setDeclaring } from '../state/footage'
import { shotOf, useStudio } from '../state/studio'

/** This very frame under every encoding it may have been recorded in: pointing compares, pressing declares. */
export function EncodingDialog() {
  const open = useStudio((s) => s.declaring)
  const shot = useStudio(shotOf)
  const selection = useStudio((s) => s.selection)
  const choices = useStudio((s) => s.desk?.encodings)
  useEffect(() => {
    if (open) askEncodings()
  }, [open])
  if (!shot || !choices) return null
  const many = selection.length > 1
  return (
    <FullScreenDialog
      title={many ? `How were these ${selection.length} shots recorded?` : `How was ${shot.name} recorded?`}
      about={
        <>
          {shot.says ? `${shot.says}.` : 'The file says nothing of its colour.'} The frame stands under each encoding as it would be shown.
          Press the right one; it can be changed at any time.
          {shot.suggests.encoding && (
            <span className="text-soft">
              {' '}
              Perhaps {choices.find((c) => c.id === shot.suggests.encoding)?.label}: {shot.suggests.why}.
            </span>
          )}
        </>
      }
      open={open}
      onOpen={setDeclaring}
    >
      <ul
        className="grid min-h-0 grow grid-cols-[repeat(auto-fill,minmax(190px,1fr))] content-start gap-3 overflow-y-auto"
        data-testid="encodings"
      >
        {offered(choices, shot.encoding).map((c) => (
          <Cell key={c.id} choice={c} now={shot.encoding === c.id} suggested={shot.suggests.encoding === c.id} />
        ))}
      </ul>
    </FullScreenDialog>
  )
}

function Cell({ choice, now, suggested }: { choice: Choice; now: boolean; suggested: boolean }) {
  const picture = useStudio((s) => s.encodingPictures[choice.id])
  return (
    <li>
      <button
        type="button"
        aria-pressed={now}
        data-encoding={choice.id}
        className="block w-full text-left"
        onClick={() => void declare(choice.id)}
      >
        <div
          className={`flex aspect-video items-center justify-center overflow-hidden rounded-[2px] bg-black outline outline-1 hover:outline-text ${now ? 'outline-2 outline-plum' : 'outline-line'}`}
        >
          <Canvas picture={picture} className="max-h-full w-full object-contain" />
        </div>
        <div className={`mt-1 truncate ${now ? 'text-text' : 'text-soft'}`}>
          {choice.label}
          {suggested && <span className="ml-1.5 text-xs text-dim">suggested</span>}
        </div>
      </button>
    </li>
  )
}
