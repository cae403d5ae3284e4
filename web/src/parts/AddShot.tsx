import { useState } from 'react'
import type { Entry, Listing } from '../api/types.gen'
import { api } from '../api/client'
import { Button } from '../controls/Button'
import { Drawer } from '../controls/Drawer'
import { FilePick } from '../controls/FilePick'
import { TextField } from '../controls/TextField'
import { addProgramme, addShots, upload } from '../state/footage'

/** Brings files, sequences and folders in: looked up on this machine, or sent from the page. */
export function AddShot() {
  const [open, setOpen] = useState(false)
  const [listing, setListing] = useState<Listing | null>(null)
  const [chosen, setChosen] = useState<string[]>([])
  const [path, setPath] = useState('')
  const [busy, setBusy] = useState(false)
  const [problem, setProblem] = useState('')
  const [rate, setRate] = useState('24')
  const [handles, setHandles] = useState('12')

  async function go(folder: string) {
    try {
      setListing(await api.browse(folder))
      setChosen([])
      setProblem('')
      localStorage.setItem('folder', folder)
    } catch (error) {
      setProblem((error as Error).message)
      if (folder) setListing(await api.browse(''))
    }
  }
  function show(open: boolean) {
    setOpen(open)
    if (open) void go(localStorage.getItem('folder') ?? '')
  }

  async function add(paths: string[]) {
    setBusy(true)
    const list = paths.length === 1 && /\.(edl|otio)$/i.test(paths[0]!)
    const done = list ? await addProgramme(paths[0]!, rate, Number(handles) || 0) : await addShots(paths)
    setBusy(false)
    if (done) {
      setOpen(false)
      setPath('')
    }
  }
  // an edit list comes in by itself
  const isList = (p: string) => /\.(edl|otio)$/i.test(p)
  const toggle = (e: Entry) => (e.kind === 'list' ? setChosen(chosen.includes(e.path) ? [] : [e.path]) : togglePicture(e))
  const togglePicture = (e: Entry) =>
    setChosen(chosen.includes(e.path) ? chosen.filter((p) => p !== e.path) : [...chosen.filter((p) => !isList(p)), e.path])
  return (
    <Drawer
      title="Bring shots in"
      about="Movies, stills and numbered sequences, or an edit list (.edl, .otio) whose recordings are looked for in these places. They come in clean: nothing is on but their conversion. Files can also be dropped anywhere on the window."
      open={open}
      onOpen={show}
      trigger={<Button>Add</Button>}
    >
      <div className="mb-1.5 flex items-center gap-2">
        <span className="min-w-0 grow truncate text-left text-soft" title={listing?.folder} dir="rtl">
          {listing?.folder ? <bdi>{listing.folder}</bdi> : 'Places'}
        </span>
        {listing?.folder && <Button onClick={() => void go(listing.parent)}>Up</Button>}
      </div>
      <ul className="mb-2 h-64 overflow-y-auto rounded-sm border border-line bg-room" aria-label="Files">
        {listing?.entries.length === 0 && <li className="px-2 py-1.5 text-dim">Nothing here that can be brought in.</li>}
        {listing?.entries.map((e) => (
          <li key={e.path}>
            <button
              type="button"
              aria-pressed={e.kind === 'folder' ? undefined : chosen.includes(e.path)}
              className={`flex w-full items-baseline gap-2 px-2 py-[3px] text-left hover:bg-raise ${chosen.includes(e.path) ? 'bg-plumdeep' : ''}`}
              onClick={() => (e.kind === 'folder' ? void go(e.path) : toggle(e))}
            >
              <span className={`min-w-0 grow truncate ${e.kind === 'folder' ? 'text-soft' : 'text-text'}`}>
                {e.name + (e.kind === 'folder' ? ' /' : '')}
              </span>
              {e.missing > 0 && <span className="text-xs text-amber">{e.missing} missing</span>}
              <span className="shrink-0 text-xs text-dim">
                {e.kind === 'sequence' ? `${e.frames} frames` : e.kind === 'list' ? 'edit list' : e.kind}
              </span>
            </button>
          </li>
        ))}
      </ul>
      {chosen.some(isList) && (
        <div className="mb-2 flex items-center gap-2 text-soft" role="group" aria-label="Edit list">
          <span title="How many frames of the programme make a second; a CMX list does not say it, an OTIO file does">Frames a second</span>
          <TextField label="Frames a second" className="w-16" inputMode="decimal" value={rate} onChange={setRate} />
          <span className="ml-3" title="How many frames more of each recording, before and after what the list shows">
            Handles
          </span>
          <TextField label="Handles" className="w-14" inputMode="numeric" value={handles} onChange={setHandles} />
          frames
        </div>
      )}
      <div className="flex gap-2">
        <Button active={chosen.length > 0} disabled={busy || chosen.length === 0} className="h-7" onClick={() => void add(chosen)}>
          {busy ? 'Reading' : chosen.length > 1 ? `Add ${chosen.length}` : 'Add'}
        </Button>
        {listing?.folder && (
          <Button className="h-7" disabled={busy} onClick={() => void add([listing.folder])}>
            Add all of this folder
          </Button>
        )}
        <FilePick
          multiple
          testid="upload"
          className="ml-auto h-7"
          onFiles={(files) => {
            setOpen(false)
            void upload(files)
          }}
        >
          Send files
        </FilePick>
      </div>
      {problem && <p className="mt-2 text-amber">{problem}</p>}
      <form
        className="mt-3 flex gap-2 border-t border-line pt-3"
        onSubmit={(e) => {
          e.preventDefault()
          void add([path.trim()])
        }}
      >
        <TextField
          label="Path of the file"
          className="h-7 grow"
          value={path}
          placeholder="or its place, as /rushes/a.%06d.exr"
          onChange={setPath}
        />
        <Button type="submit" disabled={busy || !path.trim()} className="h-7">
          Add this
        </Button>
      </form>
    </Drawer>
  )
}
