import { useEffect, useRef } from 'react'
import type { Picture } from '../api/window'

/** A picture from the server as it came; nothing of another one stays when there is none. */
export function Canvas({ picture, ...rest }: { picture: Picture | null | undefined; className?: string; 'data-testid'?: string }) {
  const canvas = useRef<HTMLCanvasElement>(null)
  useEffect(() => {
    const c = canvas.current!
    c.width = picture?.image.width ?? 1
    c.height = picture?.image.height ?? 1
    if (picture) c.getContext('2d')!.putImageData(picture.image, 0, 0)
  }, [picture])
  return <canvas ref={canvas} {...rest} />
}
