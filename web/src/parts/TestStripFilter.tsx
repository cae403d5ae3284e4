import { Choice } from '../controls/Choice'
import { TextField } from '../controls/TextField'
import { setFilter, testStrip } from '../state/testStrip'
import { useStudio } from '../state/studio'

/** By family, mood and word: what narrows a long test strip down. */
export function TestStripFilter() {
  const { patches, filter } = testStrip.use((s) => s)
  const favourites = useStudio((s) => s.desk?.favourites) ?? []
  const named = patches.filter((p) => p.key)
  if (named.length < 6) return null
  const groups = [...new Set(named.map((p) => p.group!))]
  if (/^\d/.test(groups.find((g) => g !== 'now') ?? ''))
    groups.sort((a, b) => Number(b === 'now') - Number(a === 'now') || a.localeCompare(b)) // eras, oldest first
  const count = new Map<string, number>()
  for (const p of named) for (const t of p.tags ?? []) count.set(t, (count.get(t) ?? 0) + 1)
  const tags = [...count.entries()].sort((a, b) => b[1] - a[1] || a[0].localeCompare(b[0])).map(([t]) => t)
  const kept = named.some((p) => favourites.includes(p.key!))
  return (
    <div role="search" aria-label="Find in the test strip" className="mb-2 flex flex-wrap items-center gap-1.5">
      <TextField label="Find by word" placeholder="find" className="w-28" value={filter.words} onChange={(words) => setFilter({ words })} />
      <Word on={filter.group === '' && filter.tag === '' && !filter.kept} onPress={() => setFilter({ group: '', tag: '', kept: false })}>
        all
      </Word>
      {(kept || filter.kept) && (
        <Word on={filter.kept} onPress={() => setFilter({ kept: !filter.kept })}>
          kept in reach
        </Word>
      )}
      {groups.map((g) => (
        <Word key={g} on={filter.group === g} onPress={() => setFilter({ group: filter.group === g ? '' : g })}>
          {g}
        </Word>
      ))}
      <span className="mx-1 h-4 border-l border-line" />
      <Choice
        label="Mood"
        options={[{ id: '', label: 'any mood' }, ...tags.map((t) => ({ id: t, label: t }))]}
        value={filter.tag}
        onChange={(tag) => setFilter({ tag })}
      />
    </div>
  )
}

function Word({ on, onPress, children }: { on: boolean; onPress: () => void; children: React.ReactNode }) {
  return (
    <button
      type="button"
      aria-pressed={on}
      className={`h-6 rounded-sm px-1.5 text-sm ${on ? 'text-text underline decoration-plum decoration-2 underline-offset-4' : 'text-soft hover:text-text'}`}
      onClick={onPress}
    >
      {children}
    </button>
  )
}
