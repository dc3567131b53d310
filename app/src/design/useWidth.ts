import { useEffect, useLayoutEffect, useRef, useState } from 'react'

/** Width of an element in whole pixels, kept up to date. */
export function useWidth() {
  const ref = useRef<HTMLDivElement>(null)
  const [width, setWidth] = useState(840)
  // Before it is painted for the first time: a page that is laid out twice jumps.
  useLayoutEffect(() => {
    const now = Math.round(ref.current?.clientWidth ?? 0)
    if (now > 0) setWidth(Math.max(280, now))
  }, [])
  useEffect(() => {
    const element = ref.current
    if (!element || typeof ResizeObserver === 'undefined') return
    const observer = new ResizeObserver(
      ([entry]) => entry && setWidth(Math.max(280, Math.round(entry.contentRect.width))),
    )
    observer.observe(element)
    return () => observer.disconnect()
  }, [])
  return { ref, width }
}
