// Copies of the record outside this browser: when the last one was made, and a folder that gets one a day where the browser can.
import { copiesToThin, dayOf, instantOf, toFile, type KeeperRecord, type LastCopy } from '@brinvo/core'
import { bundle } from './bundle.ts'
import { openBackups } from './keyStore.ts'
import type { PhotoStore } from './photos.ts'
import type { Repository } from './repository.ts'

/** Fact under which the last copy is written down. */
const LAST = 'last-copy'

export async function lastCopyOf(repository: Repository): Promise<LastCopy | null> {
  try {
    const text = (await repository.facts())[LAST]
    return text ? (JSON.parse(text) as LastCopy) : null
  } catch {
    return null
  }
}
export const noteCopy = (repository: Repository, entries: number, atMs: number): Promise<void> =>
  repository.setFact(LAST, JSON.stringify({ atMs, entries } satisfies LastCopy))

/** The record as it is handed out: plain where there is no picture, else a zip with all of them. */
export async function copyOf(
  record: KeeperRecord,
  photos: Pick<PhotoStore, 'ids' | 'get'>,
  nowMs: number,
): Promise<{ readonly blob: Blob; readonly ending: 'json' | 'zip'; readonly text: string }> {
  const text = JSON.stringify(toFile(record, instantOf(nowMs)), null, 1)
  if ((await photos.ids()).length === 0)
    return { blob: new Blob([text], { type: 'application/json' }), ending: 'json', text }
  return { blob: await bundle(text, photos), ending: 'zip', text }
}

/** What this page needs of a folder; browsers that have none leave it out. */
export interface Folder {
  readonly name: string
  queryPermission?(options: { mode: 'readwrite' }): Promise<PermissionState>
  requestPermission?(options: { mode: 'readwrite' }): Promise<PermissionState>
  getFileHandle(
    name: string,
    options: { create: boolean },
  ): Promise<{ createWritable(): Promise<{ write(data: Blob): Promise<void>; close(): Promise<void> }> }>
  removeEntry(name: string): Promise<void>
  keys(): AsyncIterable<string>
}
interface Picker {
  showDirectoryPicker?: (options: { id: string; mode: 'readwrite' }) => Promise<Folder>
}
export const canChooseFolder = (): boolean => typeof (window as Picker).showDirectoryPicker === 'function'

const FOLDER = 'folder'
export const folder = async (): Promise<Folder | null> => (await openBackups().getItem<Folder>(FOLDER)) ?? null
/** Asks for a folder and keeps it. Null where the keeper let it be. */
export async function chooseFolder(): Promise<Folder | null> {
  try {
    const found = await (window as Picker).showDirectoryPicker!({ id: 'brinvo', mode: 'readwrite' })
    await openBackups().setItem(FOLDER, found)
    return found
  } catch (cause) {
    if ((cause as Error).name === 'AbortError') return null
    throw cause
  }
}
export const forgetFolder = (): Promise<void> => openBackups().removeItem(FOLDER)

/** Whether the folder may be written to now; after a restart the browser asks the keeper once. */
export async function mayWrite(to: Folder, ask: boolean): Promise<boolean> {
  const options = { mode: 'readwrite' } as const
  if ((await to.queryPermission?.(options)) !== 'denied' && to.queryPermission === undefined) return true
  if ((await to.queryPermission?.(options)) === 'granted') return true
  return ask && (await to.requestPermission?.(options)) === 'granted'
}

const NAME = /^brinvo-copy-(\d{4}-\d{2}-\d{2})\.(json|zip)$/
/** Today's copy into the folder; older ones are thinned. @throws Error with a sentence where the folder has gone */
export async function copyInto(
  to: Folder,
  record: KeeperRecord,
  photos: Pick<PhotoStore, 'ids' | 'get'>,
  nowMs: number,
): Promise<string> {
  const today = dayOf(nowMs, record.settings.zone)
  const { blob, ending } = await copyOf(record, photos, nowMs)
  const name = `brinvo-copy-${today}.${ending}`
  try {
    const file = await to.getFileHandle(name, { create: true })
    const writing = await file.createWritable()
    await writing.write(blob)
    await writing.close()
    const names: string[] = []
    for await (const one of to.keys()) if (NAME.test(one)) names.push(one)
    const going = new Set(
      copiesToThin(
        names.map((one) => NAME.exec(one)![1]!),
        today,
      ),
    )
    for (const one of names) if (going.has(NAME.exec(one)![1]!)) await to.removeEntry(one)
  } catch (cause) {
    throw new Error(
      `The folder “${to.name}” for copies cannot be written to: it was moved, or its disk is not there. Choose it again.`,
      { cause },
    )
  }
  return name
}
