import { useEffect, useState } from 'react'
import { api } from '../api/client'
import type { VersusRow, VersusSide } from '../api/types.gen'

/** Two stocks against each other on the reference print, colour by colour. */
export function Versus({ ids, labels }: { ids: [string, string]; labels: [string, string] }) {
  const [rows, setRows] = useState<VersusRow[]>([])
  const [problem, setProblem] = useState('')
  const [a, b] = ids
  useEffect(() => {
    let wanted = true
    api.versus(a, b).then(
      (list) => wanted && (setRows(list), setProblem('')),
      (error: unknown) => wanted && setProblem(error instanceof Error ? error.message : String(error)),
    )
    return () => {
      wanted = false
    }
  }, [a, b])
  if (problem) return <p className="m-0 text-amber">{problem}</p>
  return (
    <div className="min-h-0 grow overflow-y-auto" data-testid="versus">
      <table className="w-full border-collapse text-right tabular-nums text-soft">
        <thead className="sticky top-0 bg-panel text-xs text-dim">
          <tr>
            <th className="text-left font-normal">on the reference print</th>
            {labels.map((label) => (
              <th key={label} colSpan={4} className="font-normal text-text">
                {label}
              </th>
            ))}
            <th className="font-normal" title="ΔE2000">
              apart
            </th>
          </tr>
          <tr>
            <th />
            {labels.map((label) => (
              <Heads key={label} />
            ))}
            <th />
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.name} className="h-[21px] border-t border-line">
              <th scope="row" className="text-left font-normal">
                {row.name}
              </th>
              <Side side={row.sides[0]} />
              <Side side={row.sides[1]} />
              <td className={row.apart > 5 ? 'text-text' : ''}>{row.apart.toFixed(1)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

function Heads() {
  return (
    <>
      <th />
      <th className="font-normal" title="Lightness, L*">
        L
      </th>
      <th className="font-normal" title="Chroma, C*">
        C
      </th>
      <th className="font-normal" title="Hue, degrees">
        h
      </th>
    </>
  )
}

function Side({ side }: { side: VersusSide }) {
  return (
    <>
      <td className="w-12 pl-4">
        <span className="block h-[15px] rounded-[1px]" style={{ background: side.colour }} />
      </td>
      <td>{side.lightness.toFixed(0)}</td>
      <td>{side.chroma.toFixed(0)}</td>
      <td>{side.chroma < 2 ? '' : `${side.hue.toFixed(0)}°`}</td>
    </>
  )
}
