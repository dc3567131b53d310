import { useEffect, useState } from 'react'
import type { PracticeSlide } from './standIn.ts'

/** A slide that is drawn while it is waited for, and let go of when nobody looks any more. */
export function useDrawnSlide(
  draw: () => Promise<PracticeSlide>,
  key: unknown,
): { readonly slide: PracticeSlide | null; readonly fault: string | null; readonly setFault: (words: string) => void } {
  const [slide, setSlide] = useState<PracticeSlide | null>(null)
  const [fault, setFault] = useState<string | null>(null)
  useEffect(() => {
    let made: PracticeSlide | null = null
    let gone = false
    draw().then(
      (found) => {
        if (gone) return found.source.close()
        made = found
        setSlide(found)
      },
      (cause: unknown) => setFault((cause as Error).message),
    )
    return () => {
      gone = true
      made?.source.close()
    }
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the key says when another one is meant
  }, [key])
  return { slide, fault, setFault }
}
