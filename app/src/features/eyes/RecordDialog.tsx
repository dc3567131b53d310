// Films through the eyepiece: a live picture, a press to begin, twenty seconds at most.
import { useEffect, useRef, useState } from 'react'
import { Dialog } from '../../design/Dialog.tsx'
import { Button, Quiet, Row } from '../../design/primitives.tsx'
import { MOST_SECONDS } from '../../parts/slides/frameSource.ts'

export function RecordDialog({
  onClose,
  onClip,
}: {
  readonly onClose: () => void
  readonly onClip: (clip: File) => void
}) {
  const video = useRef<HTMLVideoElement>(null)
  const stream = useRef<MediaStream | null>(null)
  const recorder = useRef<MediaRecorder | null>(null)
  const [fault, setFault] = useState<string | null>(null)
  const [since, setSince] = useState<number | null>(null)
  const [seconds, setSeconds] = useState(0)
  useEffect(() => {
    let gone = false
    const open = async () => {
      try {
        if (!('mediaDevices' in navigator) || typeof MediaRecorder === 'undefined') throw new Error('none')
        const opened = await navigator.mediaDevices.getUserMedia({
          video: { facingMode: 'environment', width: { ideal: 1280 }, height: { ideal: 720 } },
        })
        if (gone) return opened.getTracks().forEach((track) => track.stop())
        stream.current = opened
        if (video.current) {
          video.current.srcObject = opened
          await video.current.play()
        }
      } catch (cause) {
        setFault(
          (cause as Error).name === 'NotAllowedError'
            ? 'The camera was refused. Allow it in the browser’s address bar, or choose a clip from a file.'
            : 'No camera can be opened here. Film with the phone’s own program and choose the clip from a file.',
        )
      }
    }
    void open()
    return () => {
      gone = true
      recorder.current?.stop()
      stream.current?.getTracks().forEach((track) => track.stop())
    }
  }, [])
  useEffect(() => {
    if (since === null) return
    const timer = setInterval(() => {
      const gone = (performance.now() - since) / 1000
      setSeconds(gone)
      if (gone >= MOST_SECONDS) recorder.current?.stop()
    }, 200)
    return () => clearInterval(timer)
  }, [since])
  const begin = () => {
    if (!stream.current) return
    const parts: Blob[] = []
    const made = new MediaRecorder(stream.current)
    made.ondataavailable = ({ data }) => parts.push(data)
    made.onstop = () => {
      recorder.current = null
      onClip(new File(parts, 'filmed now.webm', { type: made.mimeType || 'video/webm' }))
      onClose()
    }
    recorder.current = made
    made.start()
    setSince(performance.now())
  }
  return (
    <Dialog title="Film the slide" isOpen onClose={onClose} wide>
      {fault !== null ? (
        <p role="alert">{fault}</p>
      ) : (
        <>
          <video ref={video} style={{ width: '100%', borderRadius: 10 }} playsInline muted />
          <Row $gap={12}>
            {since === null ? (
              <Button look="main" onPress={begin}>
                Begin
              </Button>
            ) : (
              <Button look="main" onPress={() => recorder.current?.stop()}>
                Enough
              </Button>
            )}
            <Quiet>
              {since === null
                ? `Up to ${MOST_SECONDS} seconds; hold still, one field.`
                : `${Math.floor(seconds)} of ${MOST_SECONDS} seconds`}
            </Quiet>
          </Row>
        </>
      )}
    </Dialog>
  )
}
