// The record with its pictures as one zip: record.json and photos/<id>.<type>.
import { MAX_FILE_BYTES } from '@brinvo/core'
import type { PhotoStore } from './photos.ts'

const RECORD = 'record.json'
const ENDINGS: Readonly<Record<string, string>> = { 'image/jpeg': 'jpg', 'image/png': 'png', 'image/webp': 'webp' }
const TYPES: Readonly<Record<string, string>> = { jpg: 'image/jpeg', png: 'image/png', webp: 'image/webp' }

/** One zip of the record's text and every picture there is. Pictures are stored as they are: they do not shrink. */
export async function bundle(text: string, photos: Pick<PhotoStore, 'ids' | 'get'>): Promise<Blob> {
  const { strToU8, zipSync } = await import('fflate')
  const files: Record<string, [Uint8Array, { level: 0 | 6 }]> = { [RECORD]: [strToU8(text), { level: 6 }] }
  for (const id of await photos.ids()) {
    const picture = await photos.get(id)
    if (!picture) continue
    files[`photos/${id}.${ENDINGS[picture.type] ?? 'jpg'}`] = [
      new Uint8Array(await picture.arrayBuffer()),
      { level: 0 },
    ]
  }
  // In line: above some size the other call starts workers from made-up addresses, which this page's policy forbids.
  return new Blob([zipSync(files) as BlobPart], { type: 'application/zip' })
}

/**
 * Text and pictures of a file, be it the plain JSON or the zip. Unknown names in a zip are passed over.
 * @throws Error with a sentence when it is a zip without a record, a broken one, or one that grows beyond the limit.
 */
export async function unbundle(file: File): Promise<{ text: string; photos: ReadonlyMap<string, Blob> }> {
  const head = new Uint8Array(await file.slice(0, 4).arrayBuffer())
  const isZip = head[0] === 0x50 && head[1] === 0x4b
  if (!isZip) return { text: await file.text(), photos: new Map() }
  const { strFromU8, unzipSync } = await import('fflate')
  let size = 0
  let files: Record<string, Uint8Array>
  try {
    files = unzipSync(new Uint8Array(await file.arrayBuffer()), {
      filter: ({ name, originalSize }) => {
        const wanted = name === RECORD || /^photos\/[a-z0-9-]{3,80}\.(jpg|png|webp)$/.test(name)
        if (wanted) size += originalSize
        return wanted && size <= 4 * MAX_FILE_BYTES
      },
    })
  } catch {
    throw new Error('This zip cannot be opened: it seems broken or cut off.')
  }
  const record = files[RECORD]
  if (!record) throw new Error('This zip holds no record: there is no record.json in it.')
  const photos = new Map<string, Blob>()
  for (const [name, bytes] of Object.entries(files)) {
    const match = /^photos\/(.+)\.(jpg|png|webp)$/.exec(name)
    if (match) photos.set(match[1]!, new Blob([bytes as BlobPart], { type: TYPES[match[2]!] }))
  }
  return { text: strFromU8(record), photos }
}
