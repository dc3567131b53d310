// A field of the microscope that moves: its frames are played over and over while somebody looks.
import { useEffect, useRef } from 'react'
import type { FrameSource } from './frameSource.ts'

export function MovingField({
  source,
  isPlaying = true,
  onFault,
}: {
  readonly source: FrameSource
  readonly isPlaying?: boolean
  readonly onFault: (words: string) => void
}) {
  const canvas = useRef<HTMLCanvasElement>(null)
  useEffect(() => {
    if (!isPlaying) return
    let gone = false
    const play = async () => {
      for (let f = 0; !gone; f = (f + 1) % source.frames) {
        const picture = await source.picture(f, source.width, source.height)
        canvas.current?.getContext('2d')?.drawImage(picture, 0, 0)
        picture.close()
        await new Promise((resolve) => setTimeout(resolve, 1000 / source.fps))
      }
    }
    play().catch((cause: unknown) => {
      if (!gone) onFault((cause as Error).message)
    })
    return () => {
      gone = true
    }
    // eslint-disable-next-line react-hooks/exhaustive-deps -- whoever is told of a fault does not start it anew
  }, [source, isPlaying])
  return (
    <canvas
      ref={canvas}
      width={source.width}
      height={source.height}
      style={{ width: '100%', maxWidth: 640, borderRadius: 10, background: '#000' }}
      role="img"
      aria-label="The field of the microscope, moving"
    />
  )
}
