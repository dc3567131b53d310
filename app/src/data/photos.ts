// Pictures lie apart from the record, by their id: loading the record never reads them.
import { DATABASES, openKeyStore, type Mode } from './keyStore.ts'
import { storageError } from './repository.ts'

export interface PhotoStore {
  put(id: string, picture: Blob): Promise<void>
  get(id: string): Promise<Blob | null>
  ids(): Promise<string[]>
  remove(id: string): Promise<void>
  clear(): Promise<void>
}

const stores = new Map<Mode, PhotoStore>()
let painter: ((id: string) => Promise<Blob | null>) | null = null
/** Who draws a picture of the demonstration that is not kept yet: it is drawn when it is first looked at. */
export function paintedBy(paint: typeof painter): void {
  painter = paint
}
/** The pictures of a record; opened once. Bytes and type are kept, so that no browser's blob format matters. */
export function photosOf(mode: Mode): PhotoStore {
  let found = stores.get(mode)
  if (!found) {
    const store = openKeyStore(`${DATABASES[mode]}-photos`)
    found = {
      async put(id, picture) {
        try {
          await store.set(id, { type: picture.type, bytes: await picture.arrayBuffer() })
        } catch (cause) {
          throw storageError(cause)
        }
      },
      async get(id) {
        const kept = (await store.get(id)) as { type: string; bytes: ArrayBuffer } | null
        if (kept) return new Blob([kept.bytes], { type: kept.type })
        const drawn = mode === 'demo' ? ((await painter?.(id)) ?? null) : null
        if (drawn) await found!.put(id, drawn)
        return drawn
      },
      ids: () => store.keys(),
      remove: (id) => store.remove(id),
      async clear() {
        for (const id of await store.keys()) await store.remove(id)
      },
    }
    stores.set(mode, found)
  }
  return found
}

/** Longest side of a kept picture, px. A phone's 40 MB picture becomes some 400 kB. */
export const LONGEST_SIDE = 1600
/** Largest original kept as it is, bytes. */
export const LARGEST_ORIGINAL = 60 * 1024 * 1024

export interface KeptPicture {
  readonly blob: Blob
  readonly width: number
  readonly height: number
  readonly mime: 'image/jpeg' | 'image/png' | 'image/webp'
}
const KNOWN = ['image/jpeg', 'image/png', 'image/webp'] as const

/** Size a picture is drawn at: no side longer than `LONGEST_SIDE`, never enlarged. */
export function fitted(width: number, height: number, longest = LONGEST_SIDE): { width: number; height: number } {
  const scale = Math.min(1, longest / Math.max(width, height, 1))
  return { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) }
}

/**
 * A picture as it is kept: scaled down, or the original where the keeper wants it.
 * @throws Error with a sentence when it is no picture this browser can read.
 */
export async function keptPicture(file: Blob, original: boolean): Promise<KeptPicture> {
  if (!file.type.startsWith('image/')) throw new Error('That is not a picture. Choose a JPEG, PNG or WebP file.')
  let bitmap: ImageBitmap
  try {
    bitmap = await createImageBitmap(file)
  } catch (cause) {
    throw new Error('This browser cannot read that picture. JPEG, PNG and WebP work.', { cause })
  }
  const known = KNOWN.find((mime) => mime === file.type)
  if (original && known && file.size <= LARGEST_ORIGINAL)
    return { blob: file, width: bitmap.width, height: bitmap.height, mime: known }
  const { width, height } = fitted(bitmap.width, bitmap.height)
  const canvas = document.createElement('canvas')
  canvas.width = width
  canvas.height = height
  canvas.getContext('2d')!.drawImage(bitmap, 0, 0, width, height)
  bitmap.close()
  const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/jpeg', 0.82))
  if (!blob) throw new Error('This browser could not scale the picture down. Try a smaller one.')
  return { blob, width, height, mime: 'image/jpeg' }
}
