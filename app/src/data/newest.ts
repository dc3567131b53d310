// The newest acts a second time, in a storage of the browser that is not the record's: what a power cut or a damaged store takes
// from the record is put back from here at the next start.
import type { Entry, RegisterDocument } from '@brinvo/core'

export interface NewestAct {
  readonly actId: string
  /** Which record it was written to: another one takes nothing back by itself. */
  readonly home: string
  readonly atMs: number
  readonly documents: readonly RegisterDocument[]
  readonly entries: readonly Entry[]
}
export interface Newest {
  keep(act: NewestAct): void
  all(): readonly NewestAct[]
  drop(actIds: readonly string[]): void
}

const PREFIX = 'brinvo-newest/'
/** Larger acts are whole tables, whose file the keeper has; letters. */
const LARGEST = 300_000
/** All of them together; the oldest go first. */
const MOST = 1_500_000

/** The second place in this browser. A browser without it keeps the record once, as before. */
export function newestIn(storage: () => Storage): Newest {
  const keys = (store: Storage) =>
    Array.from({ length: store.length }, (_, i) => store.key(i)).filter(
      (key): key is string => key?.startsWith(PREFIX) === true,
    )
  return {
    keep(act) {
      try {
        const store = storage()
        const text = JSON.stringify(act)
        if (text.length > LARGEST) return
        const sizes = keys(store)
          .map((key) => ({ key, letters: store.getItem(key)?.length ?? 0 }))
          .sort((a, b) => (a.key < b.key ? -1 : 1))
        let sum = sizes.reduce((all, { letters }) => all + letters, text.length)
        for (const { key, letters } of sizes) {
          if (sum <= MOST) break
          store.removeItem(key)
          sum -= letters
        }
        // By time first, so that the oldest of them sort first.
        store.setItem(`${PREFIX}${String(act.atMs).padStart(15, '0')}-${act.actId}`, text)
      } catch {
        // No second place: the first one stands.
      }
    },
    all() {
      try {
        const store = storage()
        return keys(store)
          .sort()
          .flatMap((key): NewestAct[] => {
            try {
              const act = JSON.parse(store.getItem(key) ?? '') as NewestAct
              return Array.isArray(act.entries) && Array.isArray(act.documents) ? [act] : []
            } catch {
              return []
            }
          })
      } catch {
        return []
      }
    },
    drop(actIds) {
      try {
        const store = storage()
        const going = new Set(actIds)
        for (const key of keys(store)) if (going.has(key.slice(PREFIX.length + 16))) store.removeItem(key)
      } catch {
        // What cannot be reached cannot be dropped.
      }
    },
  }
}
