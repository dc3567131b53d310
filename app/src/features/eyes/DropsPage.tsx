// A drop to practise on: a field that moves, named and counted by eye, and then by the analyser, each with the time it took.
import { GENERA } from '@brinvo/core/imaging'
import { useEffect, useRef, useState } from 'react'
import { notePractised } from '../../data/practice.ts'
import { Choice, Field } from '../../design/fields.tsx'
import { Button, LinkButton, Page, Quiet, Row, Stack, Tray } from '../../design/primitives.tsx'
import { sentenceCase } from '../../design/words.ts'
import { SlideRun } from '../../workers/slideClient.ts'
import { workingSize } from '../../parts/slides/frameSource.ts'
import { MovingField } from '../../parts/slides/MovingField.tsx'
import { practiceSource } from '../../parts/slides/standIn.ts'
import { useDrawnSlide } from '../../parts/slides/useDrawnSlide.ts'

/** A count within this share of the truth is as good as a careful eye gets. */
const CLOSE = 0.25
const LIGHT_FRAMES = 8
const nameOf = (id: string): string =>
  GENERA.find((one) => one.id === id)?.title ?? sentenceCase(id.replaceAll('-', ' '))

export function DropsPage() {
  const [seed, setSeed] = useState(() => Math.floor(Math.random() * 1e6))
  return (
    <Page>
      <Row $between>
        <h1>Drops to count</h1>
        <LinkButton to="/practice" $look="bare">
          Back to practice
        </LinkButton>
      </Row>
      <Drop key={seed} seed={seed} onNext={() => setSeed(Math.floor(Math.random() * 1e6))} />
    </Page>
  )
}

interface Machine {
  readonly leading: string | null
  readonly count: number
  readonly seconds: number
}

function Drop({ seed, onNext }: { readonly seed: number; readonly onNext: () => void }) {
  const { slide, fault, setFault } = useDrawnSlide(() => practiceSource(seed, 'any'), seed)
  const [genus, setGenus] = useState('')
  const [count, setCount] = useState('')
  const [mine, setMine] = useState<number | null>(null)
  const [machine, setMachine] = useState<Machine | null>(null)
  const since = useRef(0)
  useEffect(() => {
    since.current = performance.now()
  }, [slide])
  const truthCount = slide ? (slide.truth.counts.dinoflagellate ?? 0) : 0
  const tell = async () => {
    if (!slide) return
    const seconds = (performance.now() - since.current) / 1000
    setMine(seconds)
    const right = genus === (slide.truth.leading ?? 'none')
    const near = Math.abs(Number(count) - truthCount) <= CLOSE * Math.max(4, truthCount)
    notePractised({
      atMs: Date.now(),
      what: 'slide',
      id: slide.truth.leading ?? 'none',
      share: (right ? 0.5 : 0) + (near ? 0.5 : 0),
    })
    const { source } = slide
    const began = performance.now()
    const run = new SlideRun()
    try {
      const size = workingSize(source.width, source.height, slide.umPerPx)
      const some: ImageBitmap[] = []
      for (
        let f = 0;
        f < source.frames && some.length < LIGHT_FRAMES;
        f += Math.max(1, Math.floor(source.frames / LIGHT_FRAMES))
      )
        some.push(await source.picture(f, size.width, size.height))
      await run.begin(some, size, { umPerPx: size.umPerPx, fps: source.fps })
      const { fps } = await source.play(
        size.width,
        size.height,
        (picture) => run.frame(picture),
        () => false,
      )
      const answer = await run.end(fps)
      setMachine({
        leading: answer.leading,
        count: answer.counts.dinoflagellate ?? 0,
        seconds: (performance.now() - began) / 1000,
      })
    } catch (cause) {
      setFault((cause as Error).message)
    } finally {
      run.stop()
    }
  }
  if (fault !== null) return <p role="alert">{fault}</p>
  if (!slide) return <p role="status">A drop is put under the microscope…</p>
  return (
    <Tray>
      <Stack $gap={12}>
        {/* While it is looked at; the analyser is given the same frames afterwards. */}
        <MovingField source={slide.source} isPlaying={mine === null} onFault={setFault} />
        {mine === null ? (
          <>
            <Choice
              label="Which leads?"
              value={genus}
              onChange={setGenus}
              options={[
                ...GENERA.map(({ id, title }) => ({ value: id as string, label: title })),
                { value: 'none', label: 'cannot be told' },
              ]}
            />
            <div style={{ maxWidth: 260 }}>
              <Field label="How many of them and their like, in all?" value={count} onChange={setCount} numeric />
            </div>
            <Row>
              <Button look="main" isDisabled={genus === '' || !/^\d+$/.test(count.trim())} onPress={() => void tell()}>
                That is what I see
              </Button>
            </Row>
          </>
        ) : (
          <div role="status">
            <p>
              <strong>In truth:</strong> {slide.truth.leading === null ? 'none leads' : nameOf(slide.truth.leading)},{' '}
              {truthCount} dinoflagellates came by.
            </p>
            <p>
              <strong>You:</strong> {genus === 'none' ? 'cannot be told' : nameOf(genus)}, {count}, in{' '}
              {Math.round(mine)} s.
            </p>
            <p>
              <strong>The analyser:</strong>{' '}
              {machine === null
                ? 'looks at the same drop…'
                : `${machine.leading === null ? 'cannot tell' : nameOf(machine.leading)}, ${machine.count}, in ${Math.round(machine.seconds)} s.`}
            </p>
            <Quiet>A count within a quarter is as good as a careful eye gets in one go.</Quiet>
            <Row style={{ marginTop: 8 }}>
              <Button look="main" isDisabled={machine === null} onPress={onNext}>
                Another drop
              </Button>
            </Row>
          </div>
        )}
      </Stack>
    </Tray>
  )
}
