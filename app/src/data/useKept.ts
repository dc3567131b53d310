// State that outlives a reload of the page.
import { useEffect, useState } from 'react'

/** State that outlives a reload of the page, until `clear`: a round takes half an hour, and nothing pressed is lost. */
export function useKept<T>(
  key: string,
  initial: () => T,
): readonly [T, (change: (before: T) => T) => void, () => void] {
  const [value, setValue] = useState<T>(() => {
    const kept = sessionStorage.getItem(key)
    return kept === null ? initial() : (JSON.parse(kept) as T)
  })
  useEffect(() => {
    sessionStorage.setItem(key, JSON.stringify(value))
  }, [key, value])
  return [value, setValue, () => sessionStorage.removeItem(key)]
}
