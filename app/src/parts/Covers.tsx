// What a way covers and what it misses; nothing is said of an empty list.
import type { Protocol } from '@brinvo/core'

export function Covers({ protocol: { covers, misses } }: { readonly protocol: Pick<Protocol, 'covers' | 'misses'> }) {
  if (covers.length + misses.length === 0) return null
  return (
    <p>
      {covers.length > 0 && (
        <>
          <strong>Covers</strong> {covers.join(', ')}.{' '}
        </>
      )}
      {misses.length > 0 && (
        <>
          <strong>Misses</strong> {misses.join(', ')}.
        </>
      )}
    </p>
  )
}
