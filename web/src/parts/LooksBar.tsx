import { Button } from '../controls/Button'
import { Choice } from '../controls/Choice'
import { FilePick } from '../controls/FilePick'
import { Menu } from '../controls/Menu'
import { TextField } from '../controls/TextField'
import { desk } from '../state/desk'
import { dropLook, keeping, keepLook, loadLooks } from '../state/looks'
import { setStrength, testStrip } from '../state/testStrip'

/** What can be done with looks: keep the open shot's, load and write files of them, and how strong one is taken. */
export function LooksBar() {
  const { open, kept: described, name, mood, note, what } = keeping.use((s) => s)
  const chosen = desk.use((s) => s.chosen.length)
  const strength = testStrip.use((s) => s.strength)
  const kept = testStrip.use((s) => s.looks).filter((l) => l.kept)
  if (open)
    return (
      <form
        className="mb-2 flex flex-wrap items-center gap-2"
        aria-label="Keep this look"
        onSubmit={(e) => {
          e.preventDefault()
          void keepLook()
        }}
      >
        <TextField
          label="Name of the look"
          className="w-44"
          placeholder="Name"
          value={name}
          maxLength={80}
          onChange={(name) => keeping.set({ name })}
        />
        <TextField
          label="Mood"
          className="w-32"
          placeholder="Mood"
          value={mood}
          maxLength={80}
          onChange={(mood) => keeping.set({ mood })}
        />
        <TextField
          label="Note"
          className="min-w-40 grow"
          placeholder="Note"
          value={note}
          maxLength={2000}
          onChange={(note) => keeping.set({ note })}
        />
        {!described && (
          <Choice
            label="Of it"
            className="w-44"
            options={[
              { id: 'whole', label: 'all of it', note: 'but for how the shot came in' },
              { id: 'film', label: 'lens, film and print' },
              ...(chosen > 0 ? [{ id: 'chosen', label: chosen === 1 ? 'the chosen step' : `the ${chosen} chosen steps` }] : []),
            ]}
            value={what}
            onChange={(v) => keeping.set({ what: v as typeof what })}
          />
        )}
        <Button type="submit" active disabled={!name.trim()}>
          Keep
        </Button>
        <Button onClick={() => keeping.set({ open: false, kept: 0, name: '', mood: '', note: '' })}>Cancel</Button>
      </form>
    )
  return (
    <div className="mb-2 flex items-center gap-2" role="group" aria-label="Looks">
      <Button title="Keep the look of the open shot here, with its frame" onClick={() => keeping.set({ open: true })}>
        Keep this look
      </Button>
      <FilePick multiple testid="load-looks" accept=".json" onFiles={(f) => void loadLooks(f)}>
        Load a file
      </FilePick>
      {kept.length > 0 && (
        <Menu
          label="Kept looks"
          value=""
          groups={[
            {
              title: 'Write a file',
              items: [
                ...(kept.length > 1 ? [{ id: 'all', label: `all ${kept.length} kept looks` }] : []),
                ...kept.map((l) => ({ id: `file:${l.kept}`, label: l.label })),
              ],
            },
            { title: 'Name, mood, note', items: kept.map((l) => ({ id: `name:${l.kept}`, label: l.label })) },
            { title: 'Remove', items: kept.map((l) => ({ id: `drop:${l.kept}`, label: l.label })) },
          ]}
          onChange={(id) => {
            if (id === 'all') window.open(`/api/v1/looks/file?ids=${kept.map((l) => l.kept).join(',')}`)
            else if (id.startsWith('file:')) window.open(`/api/v1/looks/file?ids=${id.slice(5)}`)
            else if (id.startsWith('name:')) {
              const l = kept.find((k) => k.kept === Number(id.slice(5)))!
              keeping.set({ open: true, kept: l.kept!, name: l.label, mood: l.mood ?? '', note: l.note })
            } else void dropLook(Number(id.slice(5)))
          }}
        >
          Kept {kept.length}
        </Menu>
      )}
      <span
        className="ml-2 text-soft"
        title="How strong a look is taken: in balance its settings go that far, after it the stations act by that share"
      >
        Strength
      </span>
      <input
        type="range"
        aria-label="Strength of a look"
        className="w-36 accent-plum"
        min={0}
        max={100}
        step={5}
        value={Math.round(100 * strength)}
        onChange={(e) => setStrength(Number(e.currentTarget.value) / 100)}
        onDoubleClick={() => setStrength(1)}
      />
      <span className="w-12 tabular-nums">{Math.round(100 * strength)} %</span>
    </div>
  )
}
