// What is done for the record while the page is open: a copy a day into the folder that the keeper chose, quietly and told only
// when it cannot be; and once after opening, pictures that nobody shows any more are let go.
import { orphansOf } from '@brinvo/core'
import { useQueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import { copyInto, folder, lastCopyOf, mayWrite, noteCopy } from '../data/backups.ts'
import { photosOf } from '../data/photos.ts'
import { useDatabase, useRecord } from '../data/queries.tsx'
import { useNotice } from './Notices.tsx'

/** A day, less an hour for whoever comes a little earlier, ms. */
const EVERY_MS = 23 * 3_600_000
/** After a change, so long until it is copied: a walk of entries is one copy, ms. */
const AFTER_MS = 90_000
/** Once the page has settled, ms. */
const SWEEP_MS = 20_000

export function DailyCopy() {
  const { record } = useRecord()
  const { mode, repository } = useDatabase()
  const notice = useNotice()
  const client = useQueryClient()
  useEffect(() => {
    if (mode !== 'keeper') return
    const copy = async () => {
      const to = await folder()
      if (!to || !(await mayWrite(to, false))) return
      const last = await lastCopyOf(repository)
      const nowMs = Date.now()
      if (last !== null && (nowMs - last.atMs < EVERY_MS || last.entries === record.entries.length)) return
      await copyInto(to, record, photosOf(mode), nowMs)
      await noteCopy(repository, record.entries.length, nowMs)
      await client.invalidateQueries({ queryKey: ['backups'] })
    }
    const timer = setTimeout(() => {
      copy().catch((cause: unknown) => notice({ text: (cause as Error).message, tone: 'failed' }))
    }, AFTER_MS)
    return () => clearTimeout(timer)
  }, [record, mode, repository, notice, client])
  useEffect(() => {
    if (mode !== 'keeper') return
    const sweep = async () => {
      // What a record before an import shows may be asked for again.
      if ((await repository.previous()) !== null) return
      const { entries } = await repository.load()
      const store = photosOf(mode)
      for (const id of orphansOf(await store.ids(), entries, Date.now())) await store.remove(id)
    }
    const timer = setTimeout(() => void sweep().catch(() => undefined), SWEEP_MS)
    return () => clearTimeout(timer)
  }, [mode, repository])
  return null
}
