// Genera as they are seen through the eyepiece: drops drawn by the stand-in, played in a loop while they are wanted.
import { GENERA } from '@brinvo/core/imaging'
import { useEffect, useRef, useState } from 'react'
import { styled } from 'styled-components'
import { Button, LinkButton, Page, Quiet, Row, Stack } from '../../design/primitives.tsx'
import { practiceWorker, type SlideTruth } from '../../parts/slides/standIn.ts'

const SIZE = { width: 280, height: 210, fps: 8 } as const
/** Micrometres a pixel: the field of a four-hundred-fold view. */
const UM_PER_PX = 1.6
const SECONDS = 5
const BAR_UM = 50

const Screen = styled.canvas`
  display: block;
  width: 100%;
  border-radius: 10px;
  background: #d9d4c6;
`

function EyepiecePlate({ genus, title }: { readonly genus: string; readonly title: string }) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const [plays, setPlays] = useState(false)
  const [fault, setFault] = useState<string | null>(null)
  useEffect(() => {
    if (!plays) return
    let gone = false
    let timer: ReturnType<typeof setInterval> | undefined
    const { ask, close } = practiceWorker()
    const run = async () => {
      const { frames } = await ask<{ frames: number; truth: SlideTruth }>({
        kind: 'begin',
        plan: {
          seed: 7,
          level: 'clean',
          ...SIZE,
          seconds: SECONDS,
          umPerPx: UM_PER_PX,
          round: false,
          genera: { [genus]: 10 },
        },
      })
      const drawn: ImageData[] = []
      let at = 0
      const show = () => {
        const image = drawn[at % Math.max(1, drawn.length)]
        const context = canvas.current?.getContext('2d')
        if (image && context) {
          context.putImageData(image, 0, 0)
          context.fillStyle = '#123'
          context.font = '600 11px sans-serif'
          const long = BAR_UM / UM_PER_PX
          context.fillRect(SIZE.width - long - 8, SIZE.height - 9, long, 2.5)
          context.fillText(`${BAR_UM} µm`, SIZE.width - long - 8, SIZE.height - 13)
        }
        at++
      }
      timer = setInterval(show, 1000 / SIZE.fps)
      for (let i = 0; i < frames && !gone; i++) {
        const { width, height, data } = await ask<{ width: number; height: number; data: Uint8ClampedArray }>({
          kind: 'frame',
          index: i,
        })
        const image = new ImageData(width, height)
        for (let p = 0, q = 0; q < data.length; p += 4, q += 3) {
          image.data.set(data.subarray(q, q + 3), p)
          image.data[p + 3] = 255
        }
        drawn.push(image)
      }
    }
    run()
      .catch((cause: unknown) => setFault((cause as Error).message))
      .finally(() => close())
    return () => {
      gone = true
      clearInterval(timer)
      close()
    }
  }, [plays, genus])
  return (
    <>
      {plays ? (
        <Screen ref={canvas} width={SIZE.width} height={SIZE.height} role="img" aria-label={`${title}, moving`} />
      ) : (
        <Quiet>A drop with ten of them, five seconds.</Quiet>
      )}
      {fault !== null && <p role="alert">{fault}</p>}
      <Button aria-label={`${plays ? 'Stop' : 'Play'} ${title}`} onPress={() => setPlays(!plays)}>
        {plays ? 'Stop' : 'Play'}
      </Button>
    </>
  )
}

const Sheet = styled.ul`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(240px, 100%), 1fr));
  gap: 18px 16px;
  li {
    display: grid;
    gap: 6px;
    align-content: start;
    justify-items: start;
  }
`

export function EyepiecePage() {
  return (
    <Page>
      <Stack $gap={18}>
        <Row $between>
          <h1>Through the eyepiece</h1>
          <LinkButton to="/library/plates">The plates</LinkButton>
        </Row>
        <p>
          <Quiet>
            Drops drawn from the same table of sizes and speeds that a clip is read by, with what else lies in one. How
            it moves tells most: play two beside each other.
          </Quiet>
        </p>
        <Sheet>
          {GENERA.map(({ id, title }) => (
            <li key={id}>
              <strong>{title}</strong>
              <EyepiecePlate genus={id} title={title} />
            </li>
          ))}
        </Sheet>
      </Stack>
    </Page>
  )
}
