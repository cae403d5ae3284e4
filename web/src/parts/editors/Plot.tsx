import { drag } from '../../controls/drag'
import { useEffect, type ReactNode, type Ref } from 'react'
import type { StepPath, Tones } from '../../api/types.gen'
import { desk } from '../../state/desk'
import { askTones } from '../../state/steps'
import { useStudio } from '../../state/studio'

export const FROM = -9
export const TO = 7

/** A plot over stops from mid grey, the histogram of the light that enters the step beneath it. */
export function Plot({
  path,
  height,
  children,
  label,
  svg,
  onPointerDown,
}: {
  path: StepPath
  height: number
  children: ReactNode
  label: string
  svg?: Ref<SVGSVGElement>
  onPointerDown?: (e: React.PointerEvent<SVGSVGElement>) => void
}) {
  const tones = useTones(path)
  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${WIDTH} ${height}`}
      width="100%"
      className="block touch-none rounded-sm bg-room"
      role="group"
      aria-label={label}
      onPointerDown={onPointerDown}
    >
      {tones && <path d={outline(tones, height)} fill="#2e2e2e" />}
      {Array.from({ length: TO - FROM - 1 }, (_, i) => FROM + 1 + i).map((t) => (
        <line key={t} x1={placeOf(t)} x2={placeOf(t)} y1={0} y2={height} stroke={t === 0 ? '#4a4a4a' : '#222222'} />
      ))}
      {children}
    </svg>
  )
}

export const WIDTH = 292
export const placeOf = (stops: number) => ((stops - FROM) / (TO - FROM)) * WIDTH
export const stopsAt = (x: number) => FROM + (x / WIDTH) * (TO - FROM)

function outline(t: Tones, height: number) {
  const luma = t.count[3]
  const step = (t.to - t.from) / luma.length
  const points = luma.map(
    (c, i) => `${placeOf(t.from + (i + 0.5) * step).toFixed(1)},${(height - Math.sqrt(c) * height * 0.92).toFixed(1)}`,
  )
  return `M${placeOf(t.from)},${height} L${points.join(' ')} L${placeOf(t.to)},${height} Z`
}

/** The tones that enter a step, asked for when the picture has come to rest. */
export function useTones(path: StepPath): Tones | undefined {
  const tones = desk.use((s) => s.tones[path])
  const look = useStudio((s) => s.look)
  const frame = useStudio((s) => s.frame)
  const shot = useStudio((s) => s.shotId)
  useEffect(() => {
    const wait = setTimeout(() => askTones(path), 350)
    return () => clearTimeout(wait)
  }, [path, look, frame, shot])
  return tones
}

/** A place of the pointer in the plot's own units. */
export function inside(svg: SVGSVGElement, e: { clientX: number; clientY: number }, height: number) {
  const r = svg.getBoundingClientRect()
  return { x: ((e.clientX - r.left) / r.width) * WIDTH, y: ((e.clientY - r.top) / r.height) * height }
}

/** Follows a drag over an SVG from a press on it. */
export function follow(
  event: React.PointerEvent<SVGElement>,
  move: (e: { clientX: number; clientY: number; altKey: boolean }, rest: boolean) => void,
) {
  event.preventDefault()
  event.stopPropagation()
  drag(event, move)
}
