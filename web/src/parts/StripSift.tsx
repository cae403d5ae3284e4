import { Tip } from '../controls/Tip'
import { setSift, strip } from '../state/strip'
import { useStudio } from '../state/studio'

/** By family, mood and word: what narrows a long test strip down. */
export function StripSift() {
  const { patches, sift } = strip.use((s) => s)
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
    <div role="search" aria-label="Sift the strip" className="mb-2 flex flex-wrap items-center gap-1.5">
      <input
        type="search"
        aria-label="Find by word"
        placeholder="find"
        className="h-6 w-28 rounded-sm border border-line bg-room px-2 text-text placeholder:text-dim"
        value={sift.words}
        onChange={(e) => setSift({ words: e.currentTarget.value })}
        onKeyDown={(e) => e.stopPropagation()}
      />
      <Word on={sift.group === '' && sift.tag === '' && !sift.kept} onPress={() => setSift({ group: '', tag: '', kept: false })}>
        all
      </Word>
      {(kept || sift.kept) && (
        <Word on={sift.kept} onPress={() => setSift({ kept: !sift.kept })}>
          kept in reach
        </Word>
      )}
      {groups.map((g) => (
        <Word key={g} on={sift.group === g} onPress={() => setSift({ group: sift.group === g ? '' : g })}>
          {g}
        </Word>
      ))}
      <span className="mx-1 h-4 border-l border-line" />
      <Tip help="By the mood it is chosen for">
        <select
          aria-label="Mood"
          className="h-6 rounded-sm border border-line bg-room px-1 text-sm text-soft"
          value={sift.tag}
          onChange={(e) => setSift({ tag: e.currentTarget.value })}
        >
          <option value="">any mood</option>
          {tags.map((t) => (
            <option key={t}>{t}</option>
          ))}
        </select>
      </Tip>
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
