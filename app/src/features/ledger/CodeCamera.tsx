// Reads a shown code with the camera: a few pictures a second, looked at here and kept nowhere.
import jsQR from 'jsqr'
import { useEffect, useRef, useState } from 'react'
import { codeIn } from '../../data/handover.ts'
import { Button, Quiet, Row } from '../../design/primitives.tsx'

/** A picture is looked at this often, ms; and no wider than this, px. */
const EVERY_MS = 200
const WIDEST = 640

export function CodeCamera({
  onCode,
  onClose,
}: {
  readonly onCode: (code: string) => void
  readonly onClose: () => void
}) {
  const video = useRef<HTMLVideoElement>(null)
  const [fault, setFault] = useState<string | null>(null)
  const [strange, setStrange] = useState(false)
  const found = useRef(onCode)
  useEffect(() => {
    found.current = onCode
  }, [onCode])
  useEffect(() => {
    let stream: MediaStream | null = null
    let gone = false
    const canvas = document.createElement('canvas')
    const look = () => {
      const { current } = video
      if (!current || current.videoWidth === 0) return
      const scale = Math.min(1, WIDEST / current.videoWidth)
      canvas.width = Math.round(current.videoWidth * scale)
      canvas.height = Math.round(current.videoHeight * scale)
      const context = canvas.getContext('2d', { willReadFrequently: true })!
      context.drawImage(current, 0, 0, canvas.width, canvas.height)
      const { data, width, height } = context.getImageData(0, 0, canvas.width, canvas.height)
      const text = jsQR(data, width, height, { inversionAttempts: 'dontInvert' })?.data
      if (text === undefined) return
      const code = codeIn(text)
      setStrange(code === null)
      if (code !== null && !gone) found.current(code)
    }
    const open = async () => {
      try {
        stream = await navigator.mediaDevices.getUserMedia({ video: { facingMode: 'environment' } })
        if (gone) return stream.getTracks().forEach((track) => track.stop())
        if (video.current) {
          video.current.srcObject = stream
          await video.current.play()
        }
      } catch (cause) {
        if (gone) return
        setFault(
          (cause as Error).name === 'NotAllowedError'
            ? 'The camera was refused. Allow it in the browser’s address bar, or type the code.'
            : 'No camera can be opened here. Type the code.',
        )
      }
    }
    void open()
    const timer = setInterval(look, EVERY_MS)
    return () => {
      gone = true
      clearInterval(timer)
      stream?.getTracks().forEach((track) => track.stop())
    }
  }, [])
  return (
    <>
      {fault !== null ? (
        <p role="alert">{fault}</p>
      ) : (
        <>
          <video ref={video} style={{ width: '100%', borderRadius: 10 }} playsInline muted />
          <Quiet role="status">
            {strange ? 'These squares are no code of a hand-over.' : 'Hold the squares into the picture.'}
          </Quiet>
        </>
      )}
      <Row>
        <Button onPress={onClose}>Type it instead</Button>
      </Row>
    </>
  )
}
