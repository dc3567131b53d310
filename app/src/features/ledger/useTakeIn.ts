import type { KeeperRecord } from '@brinvo/core'
import { useQueryClient } from '@tanstack/react-query'
import { photosOf } from '../../data/photos.ts'
import { useActions, useDatabase } from '../../data/queries.tsx'
import { cameWords } from '../../design/words.ts'
import { useNotice } from '../../shell/Notices.tsx'

/** Joins another record of this house into the one that is open, its pictures first; told in a line. Answers whether it was done. */
export function useTakeIn(): (theirs: KeeperRecord, pictures: ReadonlyMap<string, Blob>) => Promise<boolean> {
  const { mode } = useDatabase()
  const { join } = useActions()
  const client = useQueryClient()
  const notice = useNotice()
  return async (theirs, pictures) => {
    try {
      // Pictures first: an interrupted joining then leaves pictures too many, never entries without theirs.
      const store = photosOf(mode)
      for (const [id, picture] of pictures) await store.put(id, picture)
      const joined = await join(theirs)
      await client.invalidateQueries({ queryKey: ['kept', mode] })
      await client.invalidateQueries({ queryKey: ['photo-ids', mode] })
      notice({
        text: `Joined. ${cameWords(joined.cameEntries.length, joined.cameDocuments.length)} came in. The record before is kept beside the ledger until the next import.`,
        tone: 'done',
      })
      return true
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
      return false
    }
  }
}
