// Why something was not written, where it was pressed; of a full store with the way out of it.
import { lazy, Suspense, useState } from 'react'
import { NO_ROOM } from '../data/repository.ts'
import { Button } from '../design/primitives.tsx'

const RoomDialog = lazy(async () => ({ default: (await import('./RoomDialog.tsx')).RoomDialog }))

/** The press that leads to where room is made; nothing where the store is not full. */
export function MakeRoom({ words }: { readonly words: string }) {
  const [open, setOpen] = useState(false)
  if (!words.startsWith(NO_ROOM)) return null
  return (
    <>
      <Button onPress={() => setOpen(true)}>Make room</Button>
      {open && (
        <Suspense fallback={null}>
          <RoomDialog onClose={() => setOpen(false)} />
        </Suspense>
      )}
    </>
  )
}

export function Failure({ words }: { readonly words: string | null }) {
  if (words === null) return null
  return (
    <>
      <p role="alert" style={{ color: 'var(--danger)', fontWeight: 700 }}>
        {words}
      </p>
      <MakeRoom words={words} />
    </>
  )
}
