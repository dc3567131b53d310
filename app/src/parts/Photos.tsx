// Pictures of one thing: shown small, taken from a file or the camera, scaled down before they are kept.
import { clockMs } from '../data/clock.ts'
import type { Entry, PhotoEntry } from '@brinvo/core'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { styled } from 'styled-components'
import { v7 } from 'uuid'
import { keptPicture, photosOf } from '../data/photos.ts'
import { useActions, useDatabase, useRecord, type Draft } from '../data/queries.tsx'
import { Dialog } from '../design/Dialog.tsx'
import { Check } from '../design/fields.tsx'
import { Button, Quiet, Row, Stack } from '../design/primitives.tsx'
import { whenText } from '../design/words.ts'
import { useNotice } from '../shell/Notices.tsx'

const Strip = styled.ul`
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  img {
    display: block;
    height: 92px;
    border-radius: 8px;
    border: 1px solid var(--hairline);
  }
`
const Look = styled.button`
  border: 0;
  padding: 0;
  background: none;
  cursor: zoom-in;
  border-radius: 8px;
`
export interface PhotoSubject {
  readonly vesselId?: string
  readonly arrivalId?: string
  readonly containerId?: string
  readonly residentId?: string
}

export function Picture({ entry }: { entry: PhotoEntry }) {
  const { mode } = useDatabase()
  const { record } = useRecord()
  const { data } = useQuery({
    queryKey: ['photo', mode, entry.photoId],
    queryFn: () => photosOf(mode).get(entry.photoId),
    staleTime: Infinity,
    networkMode: 'always',
  })
  const [url, setUrl] = useState<string | null>(null)
  useEffect(() => {
    if (!data) return
    const made = URL.createObjectURL(data)
    setUrl(made)
    return () => URL.revokeObjectURL(made)
  }, [data])
  const client = useQueryClient()
  const notice = useNotice()
  const [open, setOpen] = useState(false)
  const [sure, setSure] = useState(false)
  const remove = async () => {
    try {
      await photosOf(mode).remove(entry.photoId)
      client.setQueryData(['photo', mode, entry.photoId], null)
      notice({ text: 'The picture is gone; its line on the ledger stays.', tone: 'done' })
      setOpen(false)
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  const words = `${entry.note ?? 'Photograph'}, ${whenText(Date.parse(entry.at), clockMs(), record.settings)}`
  return (
    <li>
      {url && data ? (
        <Look type="button" aria-label={`Look at it: ${words}`} onClick={() => setOpen(true)}>
          <img src={url} alt={words} />
        </Look>
      ) : (
        <Quiet>{data === null ? 'picture not in this browser' : '…'}</Quiet>
      )}
      {open && url && (
        <Dialog title={words} isOpen onClose={() => setOpen(false)} wide>
          <img src={url} alt={words} style={{ width: '100%', height: 'auto', borderRadius: 10 }} />
          <Check isSelected={sure} onChange={setSure}>
            Throw it away: it cannot be brought back
          </Check>
          <Row>
            <Button look="danger" isDisabled={!sure} onPress={() => void remove()}>
              Throw the picture away
            </Button>
          </Row>
        </Dialog>
      )}
    </li>
  )
}

/** The pictures of a subject among the active entries, newest last. */
export const photosAmong = (active: readonly Entry[], subject: PhotoSubject): PhotoEntry[] =>
  active.filter(
    (entry): entry is PhotoEntry =>
      entry.kind === 'photo' &&
      (subject.containerId === undefined || entry.containerId === subject.containerId) &&
      (subject.arrivalId === undefined || entry.arrivalId === subject.arrivalId) &&
      (subject.residentId === undefined || entry.residentId === subject.residentId) &&
      (subject.vesselId === undefined || entry.vesselId === subject.vesselId),
  )

/** `only`: just the pictures that carry this note. */
export function Photos({ subject, note, only }: { subject: PhotoSubject; note?: string; only?: string }) {
  const { active } = useRecord()
  const { mode } = useDatabase()
  const { append } = useActions()
  const notice = useNotice()
  const input = useRef<HTMLInputElement>(null)
  const [camera, setCamera] = useState(false)
  const [original, setOriginal] = useState(false)
  const found = photosAmong(active, subject).filter((entry) => only === undefined || entry.note === only)
  const keep = async (file: Blob) => {
    try {
      const picture = await keptPicture(file, original)
      const photoId = v7()
      await photosOf(mode).put(photoId, picture.blob)
      const entries = await append([
        {
          kind: 'photo',
          photoId,
          mime: picture.mime,
          width: picture.width,
          height: picture.height,
          bytes: picture.blob.size,
          ...subject,
          ...(note === undefined ? {} : { note }),
        } as Draft,
      ])
      notice({
        text: `Picture kept, ${Math.max(1, Math.round(picture.blob.size / 1024))} kB.`,
        tone: 'done',
        undo: entries,
      })
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  return (
    <Stack $gap={8}>
      {found.length > 0 && (
        <Strip>
          {found.map((entry) => (
            <Picture key={entry.id} entry={entry} />
          ))}
        </Strip>
      )}
      <Row>
        <Button onPress={() => input.current?.click()}>Picture from a file</Button>
        <Button onPress={() => setCamera(true)}>Camera</Button>
        <Check isSelected={original} onChange={setOriginal}>
          keep the original size
        </Check>
      </Row>
      <input
        ref={input}
        type="file"
        accept="image/*"
        hidden
        aria-label="Picture to keep"
        onChange={(event) => {
          const file = event.target.files?.[0]
          event.target.value = ''
          if (file) void keep(file)
        }}
      />
      {camera && <CameraDialog onClose={() => setCamera(false)} onShot={(blob) => void keep(blob)} />}
    </Stack>
  )
}

function CameraDialog({ onClose, onShot }: { onClose: () => void; onShot: (picture: Blob) => void }) {
  const video = useRef<HTMLVideoElement>(null)
  const [fault, setFault] = useState<string | null>(null)
  useEffect(() => {
    let stream: MediaStream | null = null
    let gone = false
    const open = async () => {
      try {
        if (!('mediaDevices' in navigator)) throw new Error('none')
        stream = await navigator.mediaDevices.getUserMedia({ video: { facingMode: 'environment' } })
        if (gone) stream.getTracks().forEach((track) => track.stop())
        else if (video.current) {
          video.current.srcObject = stream
          await video.current.play()
        }
      } catch (cause) {
        setFault(
          (cause as Error).name === 'NotAllowedError'
            ? 'The camera was refused. Allow it in the browser’s address bar, or choose a picture from a file.'
            : 'No camera can be opened here. Choose a picture from a file instead.',
        )
      }
    }
    void open()
    return () => {
      gone = true
      stream?.getTracks().forEach((track) => track.stop())
    }
  }, [])
  const shoot = () => {
    const from = video.current
    if (!from || from.videoWidth === 0) return
    const canvas = document.createElement('canvas')
    canvas.width = from.videoWidth
    canvas.height = from.videoHeight
    canvas.getContext('2d')!.drawImage(from, 0, 0)
    canvas.toBlob(
      (blob) => {
        if (blob) onShot(blob)
        onClose()
      },
      'image/jpeg',
      0.9,
    )
  }
  return (
    <Dialog title="Camera" isOpen onClose={onClose} wide>
      {fault ? (
        <p role="alert">{fault}</p>
      ) : (
        <>
          <video ref={video} style={{ width: '100%', borderRadius: 10 }} playsInline muted />
          <Button look="main" onPress={shoot}>
            Take the picture
          </Button>
        </>
      )}
    </Dialog>
  )
}
