import { studio, type Zoom } from './studio'

const zooms: Zoom[] = ['fit', 1, 2, 4]

/** Goes to the next larger or smaller size, keeping what lies under the pointer. */
export function zoomBy(steps: 1 | -1, at = { x: 0.5, y: 0.5 }) {
  const next = zooms[zooms.indexOf(studio.get().zoom) + steps]
  if (next) zoomTo(next, at)
}

export function zoomTo(zoom: Zoom, at: { x: number; y: number }) {
  const shot = studio.shot
  const seen = studio.seen()
  if (zoom === 'fit' || !shot || !seen) return studio.setZoom('fit')
  // the point of the shot under the pointer
  const px = seen.cropWidth ? seen.x! + at.x * seen.cropWidth : at.x * shot.width
  const py = seen.cropHeight ? seen.y! + at.y * seen.cropHeight : at.y * shot.height
  const room = studio.room()
  const w = Math.min(Math.ceil(room.width / zoom), shot.width)
  const h = Math.min(Math.ceil(room.height / zoom), shot.height)
  const pan = (point: number, share: number, part: number, whole: number) =>
    whole > part ? Math.max(0, Math.min(1, (point - share * part) / (whole - part))) : 0.5
  studio.setZoom(zoom, { x: pan(px, at.x, w, shot.width), y: pan(py, at.y, h, shot.height) })
}
