import { useState } from 'react'
import { Cell } from '../../controls/Cell'
import { Chooser } from '../../controls/Chooser'
import { Dial } from '../../controls/Dial'
import { Tip } from '../../controls/Tip'
import { channelMarks, change, dialOf, numberOf, restore, textOf, type EditorProps } from './editor'
import { newGesture } from '../../api/gesture'

/** Settings that stand in rows and columns, and below them the rest. Rows of channels can be linked. */
export function Grid(p: EditorProps) {
  const [linked, setLinked] = useState<Record<string, boolean>>({})
  const rows = [...new Set(p.kind.settings.flatMap((s) => (s.column ? [s.group!] : [])))]
  const named = [...new Set(p.kind.settings.flatMap((s) => (s.column ? [s.column] : [])))]
  const matrix = rows.every((r) => named.includes(r))
  const columns = matrix ? rows : named
  const at = (row: string, column: string) => p.kind.settings.find((s) => s.group === row && s.column === column)

  function set(row: string, id: string, v: number, gesture: string, hurry: boolean) {
    if (!linked[row]) return change(p, { [id]: v }, gesture, hurry)
    const by = v - numberOf(p, id)
    const values: Record<string, number> = {}
    for (const s of p.kind.settings)
      if (s.group === row) values[s.id] = Math.max(s.min, Math.min(s.max, Number((numberOf(p, s.id) + by).toFixed(5))))
    change(p, values, gesture, hurry)
  }
  // of a matrix whose rows sum to one, the entry that follows the others
  const follows = (row: string) => 100 - columns.reduce((sum, c) => sum + (at(row, c) ? numberOf(p, at(row, c)!.id) : 0), 0)
  return (
    <>
      {p.kind.settings
        .filter((s) => s.choices && !s.column)
        .slice(0, 1)
        .map((s) => (
          <Choice key={s.id} p={p} id={s.id} />
        ))}
      <div
        className="grid items-center gap-1"
        style={{ gridTemplateColumns: `62px repeat(${columns.length}, minmax(0, 1fr)) 20px` }}
        role="group"
        aria-label={`${p.kind.label} by channel`}
      >
        <span className="text-xs text-dim">{matrix ? 'from' : ''}</span>
        {columns.map((c) => (
          <span
            key={c}
            className="text-center text-xs text-dim"
            style={{ boxShadow: channelMarks[c] ? `inset 0 -1px ${channelMarks[c]}` : undefined }}
          >
            {c}
          </span>
        ))}
        <span />
        {rows.map((row) => (
          <Row key={row}>
            <span
              className="truncate text-soft"
              style={matrix && channelMarks[row] ? { boxShadow: `inset 2px 0 ${channelMarks[row]}`, paddingLeft: 6 } : undefined}
            >
              {row}
            </span>
            {columns.map((c) => {
              const s = at(row, c)
              if (!s)
                return (
                  <Tip key={c} help="Follows: with the two beside it, the row sums to 100 %, so greys stay." side="left">
                    <output aria-label={`${row} from ${c}, follows`} className="text-center text-xs text-dim">
                      {follows(row).toFixed(1)}
                    </output>
                  </Tip>
                )
              const d = dialOf(p, s.id)
              return (
                <Cell
                  key={c}
                  {...d}
                  onChange={(v, g, h) => set(row, s.id, v, g, h)}
                  onReset={() =>
                    linked[row]
                      ? restore(
                          p,
                          columns.map((x) => at(row, x)!.id),
                          newGesture(),
                        )
                      : d.onReset()
                  }
                />
              )
            })}
            {matrix ? (
              <span />
            ) : (
              <Tip
                help={
                  linked[row]
                    ? `${row} moves in all channels together. Press to part them.`
                    : `${row} moves channel by channel. Press to link them.`
                }
                side="left"
              >
                <button
                  type="button"
                  aria-pressed={!!linked[row]}
                  aria-label={`Link ${row}`}
                  className={`h-[22px] rounded-sm text-sm leading-none ${linked[row] ? 'text-plum' : 'text-dim hover:text-text'}`}
                  onClick={() => setLinked({ ...linked, [row]: !linked[row] })}
                >
                  {linked[row] ? <Link closed /> : <Link />}
                </button>
              </Tip>
            )}
          </Row>
        ))}
      </div>
      {p.kind.settings
        .filter((s) => !s.column && !s.choices)
        .map((s) => (
          <Dial key={s.id} {...dialOf(p, s.id)} />
        ))}
      {p.kind.settings
        .filter((s) => s.choices && !s.column)
        .slice(1)
        .map((s) => (
          <Choice key={s.id} p={p} id={s.id} />
        ))}
    </>
  )
}

function Row({ children }: { children: React.ReactNode }) {
  return <div className="contents">{children}</div>
}

/** Two rings, apart or through each other. */
export function Link({ closed }: { closed?: boolean }) {
  return (
    <svg width="16" height="10" viewBox="0 0 16 10" fill="none" stroke="currentColor" strokeWidth="1.3" className="mx-auto block">
      <circle cx={closed ? 6 : 4} cy="5" r="3.3" />
      <circle cx={closed ? 10 : 12} cy="5" r="3.3" />
    </svg>
  )
}

export function Choice({ p, id }: { p: EditorProps; id: string }) {
  const s = p.kind.settings.find((x) => x.id === id)!
  return (
    <Chooser
      label={s.label}
      help={s.help}
      choices={s.choices!}
      value={textOf(p, id)}
      dim={p.dim}
      onChange={(v) => change(p, { [id]: v })}
    />
  )
}

export default Grid
