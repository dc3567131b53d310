// A patch measured in its picture, and in a later one of the same place: what covers it, with doubt; laid over each other; kept
// by its name, so that next week only the new picture is asked for, and in the series of a campaign.
import { clockMs } from '../../data/clock.ts'
import { dayOf, instantMs, markedPatches, type MarkedPatch, type PatchArm, type PhotoEntry } from '@brinvo/core'
import type { CoverAnswer } from '@brinvo/core/pictures'
import { lazy, Suspense, useEffect, useRef, useState } from 'react'
import { Link, useParams } from 'react-router'
import { photosOf } from '../../data/photos.ts'
import { useDatabase, useRecord } from '../../data/queries.tsx'
import { Choice, Field, Select } from '../../design/fields.tsx'
import { Button, Page, Quiet, Row, Stack, Tray, Well } from '../../design/primitives.tsx'
import { localInput, localMs, plural, sentenceCase, whenText } from '../../design/words.ts'
import { DateTimeField } from '../../parts/DateTimeField.tsx'
import { photosAmong } from '../../parts/Photos.tsx'
import { NotFound } from '../../shell/NotFound.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { patches } from '../../workers/client.ts'
import { ARM_WORDS } from './arms.ts'
import { BlindDialog, unjudged } from './BlindDialog.tsx'
import { Board, pressedAt } from './Board.tsx'
import { blobOf } from '../../parts/slides/frameSource.ts'
import { openPicture, type Taken } from './openPicture.ts'
import { CLASSES, signed, type ClassId, type Point } from './patchClasses.ts'
import { PatchResult } from './PatchResult.tsx'
import { canvasWith, practiceWorker, type PatchScene } from '../../parts/slides/standIn.ts'

const MeasuredChart = lazy(async () => ({ default: (await import('../../parts/MeasuredChart.tsx')).MeasuredChart }))

export function PatchPage() {
  const { vesselId = '' } = useParams()
  const { record } = useRecord()
  if (!record.vessels.get(vesselId)) return <NotFound />
  return <Patch key={vesselId} vesselId={vesselId} />
}

const HOUR = 3_600_000
type Mode = 'patch' | 'what' | 'neutral'

function Patch({ vesselId }: { readonly vesselId: string }) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const { mode: house } = useDatabase()
  const vessel = record.vessels.get(vesselId)!
  const [first, setFirst] = useState<Taken | null>(null)
  const [later, setLater] = useState<Taken | null>(null)
  const [mode, setMode] = useState<Mode>('patch')
  const [corners, setCorners] = useState<readonly Point[]>([])
  const [kind, setKind] = useState<ClassId>('clean')
  const [samples, setSamples] = useState<Readonly<Partial<Record<ClassId, readonly Point[]>>>>({})
  const [card, setCard] = useState<{ readonly a: Point | null; readonly b: Point | null }>({ a: null, b: null })
  const [name, setName] = useState('')
  const [arm, setArm] = useState<PatchArm | ''>('')
  const [fault, setFault] = useState<string | null>(null)
  const [truth, setTruth] = useState<PatchScene['truth'] | null>(null)
  const [answer, setAnswer] = useState<CoverAnswer | null>(null)
  const [blind, setBlind] = useState(false)
  const abort = useRef<AbortController | null>(null)
  const [busy, setBusy] = useState(false)
  useEffect(() => () => abort.current?.abort(), [])
  const kept = photosAmong(active, { vesselId }).slice(-20).reverse()
  const known = markedPatches(active, vesselId)
  const named = CLASSES.filter(({ id }) => (samples[id] ?? []).length > 0)
  const open = async (slot: 'first' | 'later', file: Blob, entry?: PhotoEntry) => {
    setFault(null)
    setAnswer(null)
    try {
      const opened = await openPicture(file, entry?.photoId)
      // A file says when it was written; the keeper puts it right where that is not when it was taken.
      const written = file instanceof File ? file.lastModified : nowMs
      const possible = written >= instantMs(vessel.body.startedAt) && written <= nowMs
      const taken = {
        ...opened,
        takenMs: entry !== undefined ? instantMs(entry.at) : possible ? written : nowMs,
      }
      setTruth(null)
      if (slot === 'first') {
        setFirst(taken)
        setCorners([])
        setSamples({})
        setCard({ a: null, b: null })
        setName('')
        setArm('')
      } else {
        setLater(taken)
        setCard((was) => ({ ...was, b: null }))
      }
    } catch (cause) {
      setFault((cause as Error).message)
    }
  }
  const again = async (patch: MarkedPatch) => {
    const blob = await photosOf(house).get(patch.first.photoId)
    if (!blob) return setFault(`The first picture of ${patch.name} is not in this browser: mark the patch anew.`)
    await open('first', blob, patch.first)
    setLater(null)
    const { corners: at, samples: said, neutral } = patch.first.patch!
    setCorners(at as unknown as readonly Point[])
    setSamples(Object.fromEntries((said ?? []).map((one) => [one.kind, one.at as unknown as readonly Point[]])))
    setCard({ a: (neutral as unknown as Point | undefined) ?? null, b: null })
    setName(patch.name)
    setArm(patch.arm ?? '')
  }
  const practise = async () => {
    setFault(null)
    setAnswer(null)
    const { ask: draw, close } = practiceWorker()
    try {
      const scene = await draw<PatchScene>({
        kind: 'patch',
        plan: {
          seed: Math.floor(Math.random() * 1e6),
          width: 640,
          height: 480,
          cover: { film: 0.3, turf: 0.2 },
          left: 0.2 + 0.8 * Math.random(),
        },
      })
      setFirst({ ...(await openPicture(await blobOf(canvasWith(scene.first)))), takenMs: nowMs })
      setLater({ ...(await openPicture(await blobOf(canvasWith(scene.later)))), takenMs: nowMs })
      setCorners(scene.polygon)
      setSamples(scene.samples)
      setCard({ a: null, b: null })
      setTruth(scene.truth)
    } catch (cause) {
      setFault((cause as Error).message)
    } finally {
      close()
    }
  }
  const ask =
    first === null
      ? 'Open a picture first.'
      : (whatIsMissing(
          named.map(({ id }) => id),
          corners,
        ) ??
        (card.a !== null && later !== null && card.b === null
          ? 'The card is marked in the first picture only: mark it in the later one too, or in neither.'
          : truth === null && later !== null && later.takenMs <= first.takenMs
            ? 'The later picture must be taken after the first: say above on which day each was taken.'
            : null))
  const measure = async () => {
    if (!first || ask !== null) return
    setFault(null)
    setAnswer(null)
    setBusy(true)
    const control = new AbortController()
    abort.current = control
    const { width, height } = first.picture
    try {
      const found = await patches.run(
        'patch',
        {
          a: first.picture,
          b: later?.picture ?? null,
          neutral: card.a === null ? null : { a: card.a, b: card.b },
          question: {
            classes: named.map(({ id }) => ({ id, samples: samples[id]! })),
            polygon: corners.length === 0 ? frameOf(width, height) : corners,
          },
        },
        control.signal,
      )
      setAnswer(found)
    } catch (cause) {
      if ((cause as Error).name !== 'AbortError') setFault((cause as Error).message)
    } finally {
      setBusy(false)
    }
  }
  const press = (at: Point) => {
    setAnswer(null)
    if (mode === 'patch') setCorners([...corners, at])
    else if (mode === 'neutral') setCard({ ...card, a: at })
    else setSamples({ ...samples, [kind]: [...(samples[kind] ?? []), at] })
  }
  const series = known.filter(({ points }) => points.length > 0)
  return (
    <Page $aside>
      <Stack $gap={16}>
        <p>
          <Link to={`/vessels/${vesselId}`}>{vessel.body.name}</Link>
        </p>
        <h1>A patch measured in {vessel.body.name}</h1>
        {series.length > 0 && (
          <Tray>
            <Stack $gap={8}>
              <h2>Per cent grown over, week by week</h2>
              <Suspense fallback={<div style={{ height: 200 }} />}>
                <MeasuredChart
                  title="Grown over"
                  unit="%"
                  most={100}
                  settings={record.settings}
                  lines={series.map((one) => ({
                    id: one.name,
                    label: one.arm === null ? one.name : `${one.name}, ${ARM_WORDS[one.arm]}`,
                    points: one.points,
                  }))}
                />
              </Suspense>
              <Race patches={series} />
            </Stack>
          </Tray>
        )}
        <Tray>
          <Stack>
            <h2>The pictures</h2>
            <div style={{ display: 'grid', gap: 20, gridTemplateColumns: 'repeat(auto-fit, minmax(240px, 1fr))' }}>
              <Slot
                label="First picture"
                sinceMs={instantMs(vessel.body.startedAt)}
                kept={kept}
                open={first}
                onFile={(file, entry) => void open('first', file, entry)}
                onTaken={(takenMs) => first && setFirst({ ...first, takenMs })}
              />
              <Slot
                label="The same place later"
                sinceMs={instantMs(vessel.body.startedAt)}
                kept={kept}
                open={later}
                onFile={(file, entry) => void open('later', file, entry)}
                onTaken={(takenMs) => later && setLater({ ...later, takenMs })}
              />
            </div>
            {fault !== null && <p role="alert">{fault}</p>}
            <Quiet>
              The same frame, the same lamp, pumps off; later pictures are found again and laid over the first. One
              picture alone is measured as well.
            </Quiet>
          </Stack>
        </Tray>
        {first && (
          <Tray>
            <Stack>
              <Choice<Mode>
                label="Pressing the picture"
                value={mode}
                onChange={setMode}
                options={[
                  { value: 'patch', label: 'marks the patch, corner by corner' },
                  { value: 'what', label: 'says what is what' },
                  { value: 'neutral', label: 'marks a white card' },
                ]}
              />
              {mode === 'patch' ? (
                <Row $gap={12}>
                  <Quiet>
                    {corners.length === 0
                      ? 'Without corners the whole picture is measured.'
                      : plural(corners.length, 'corner')}
                  </Quiet>
                  {corners.length > 0 && <Button onPress={() => setCorners([])}>Corners anew</Button>}
                </Row>
              ) : mode === 'neutral' ? (
                <Row $gap={12}>
                  <Quiet>
                    Something white or grey that lies in both pictures takes the colour of the light out. Without one it
                    is reckoned from the ground.
                  </Quiet>
                  {card.a !== null && <Button onPress={() => setCard({ a: null, b: null })}>Without a card</Button>}
                </Row>
              ) : (
                <Row $gap={12} style={{ alignItems: 'end' }}>
                  <div style={{ width: 240 }}>
                    <Select
                      label="What lies where you press"
                      value={kind}
                      onChange={(next) => setKind(next as ClassId)}
                      options={CLASSES.map(({ id, label, letter }) => ({
                        value: id,
                        label: `${sentenceCase(label)}, ${letter} (${(samples[id] ?? []).length})`,
                      }))}
                    />
                  </div>
                  <Quiet>Three places each, in light and in shade, with nothing else within a finger’s breadth.</Quiet>
                  {(samples[kind] ?? []).length > 0 && (
                    <Button onPress={() => setSamples({ ...samples, [kind]: [] })}>These anew</Button>
                  )}
                </Row>
              )}
              <Board
                $pressed
                onClick={(event) => {
                  const { x, y } = pressedAt(event, first.picture.width, first.picture.height)
                  press([Math.round(x), Math.round(y)])
                }}
              >
                <img src={first.url} alt="The patch at first" />
                <svg viewBox={`0 0 ${first.picture.width} ${first.picture.height}`} aria-hidden>
                  {corners.length > 0 && (
                    <polygon
                      points={corners.map(([x, y]) => `${x},${y}`).join(' ')}
                      fill="rgb(255 255 255 / 12%)"
                      stroke="#fff"
                      strokeWidth="2.5"
                      strokeDasharray="8 5"
                    />
                  )}
                  {CLASSES.flatMap(({ id, colour, letter }) =>
                    (samples[id] ?? []).map((at, i) => (
                      <Touch key={`${id} ${i}`} at={at} colour={colour} letter={letter} />
                    )),
                  )}
                  {card.a && <Touch at={card.a} colour="#FFFFFF" letter="card" />}
                </svg>
              </Board>
              {mode === 'neutral' && card.a !== null && later !== null && (
                <Stack $gap={6}>
                  <strong>The same card in the later picture</strong>
                  <Board
                    $pressed
                    onClick={(event) => {
                      const { x, y } = pressedAt(event, later.picture.width, later.picture.height)
                      setAnswer(null)
                      setCard({ ...card, b: [Math.round(x), Math.round(y)] })
                    }}
                  >
                    <img src={later.url} alt="The patch later" />
                    <svg viewBox={`0 0 ${later.picture.width} ${later.picture.height}`} aria-hidden>
                      {card.b && <Touch at={card.b} colour="#FFFFFF" letter="card" />}
                    </svg>
                  </Board>
                </Stack>
              )}
              <Row $gap={12}>
                <Button look="main" isDisabled={ask !== null || busy} onPress={() => void measure()}>
                  Measure the patch
                </Button>
                {busy && (
                  <>
                    <progress aria-label="Reading the pictures" />
                    <Button onPress={() => abort.current?.abort()}>Stop</Button>
                  </>
                )}
                {ask !== null && <Quiet>{ask}</Quiet>}
              </Row>
            </Stack>
          </Tray>
        )}
        {first && answer && (
          <PatchResult
            key={JSON.stringify(answer.a.shares)}
            first={first}
            later={later}
            answer={answer}
            vesselId={vesselId}
            marks={{ corners, samples, card }}
            truth={truth}
            naming={
              <Row $gap={12} style={{ alignItems: 'end' }}>
                <div style={{ width: 240 }}>
                  <Field
                    label="Name of the patch"
                    value={name}
                    onChange={setName}
                    hint="by which it is found next week"
                  />
                </div>
                <div style={{ width: 220 }}>
                  <Select
                    label="What is done there"
                    value={arm}
                    onChange={(next) => setArm(next as PatchArm | '')}
                    options={[
                      { value: '', label: 'nothing is compared' },
                      ...(['treated', 'other-way', 'untreated'] as const).map((one) => ({
                        value: one,
                        label: ARM_WORDS[one],
                      })),
                    ]}
                  />
                </div>
              </Row>
            }
            name={name.trim()}
            arm={arm === '' ? null : arm}
          />
        )}
      </Stack>
      <Stack $gap={14}>
        {known.length > 0 && (
          <Tray>
            <Stack $gap={8}>
              <h2 style={{ fontSize: 17 }}>Patches here</h2>
              <ul style={{ display: 'grid', gap: 10 }}>
                {known.map((patch) => (
                  <li key={patch.name}>
                    <strong>{patch.name}</strong>
                    {patch.arm !== null && <Quiet>, {ARM_WORDS[patch.arm]}</Quiet>}
                    <br />
                    <Quiet>
                      {plural(patch.pictures.length, 'picture')}
                      {patch.points.length > 0
                        ? `, ${Math.round(patch.points.at(-1)!.value)} % ${whenText(patch.points.at(-1)!.atMs, nowMs, record.settings)}`
                        : ''}
                    </Quiet>
                    <Row>
                      <Button aria-label={`Measure it again: ${patch.name}`} onPress={() => void again(patch)}>
                        Measure it again
                      </Button>
                    </Row>
                  </li>
                ))}
              </ul>
              {unjudged(known).length > 0 && (
                <Row>
                  <Button onPress={() => setBlind(true)}>Judge them by eye, without names</Button>
                </Row>
              )}
              {unjudged(known).length === 0 && known.some(({ byEye }) => byEye.length > 0) && (
                <Row>
                  <Button onPress={() => setBlind(true)}>What was judged without names</Button>
                </Row>
              )}
            </Stack>
          </Tray>
        )}
        <Tray>
          <Stack $gap={8}>
            <h2 style={{ fontSize: 17 }}>Practise</h2>
            <Quiet>
              A drawn patch before and after a fortnight, marked and touched for you: measure, then see what was drawn.
            </Quiet>
            <Row>
              <Button onPress={() => void practise()}>A drawn patch</Button>
            </Row>
          </Stack>
        </Tray>
        <Well>
          Treated beside untreated: two patches, each measured by itself, a hand’s breadth apart. If both change, it was
          not the treatment.
        </Well>
      </Stack>
      {blind && <BlindDialog vesselId={vesselId} onClose={() => setBlind(false)} />}
    </Page>
  )
}

/** A place that was touched, with its letter. */
const Touch = ({ at: [x, y], colour, letter }: { at: Point; colour: string; letter: string }) => (
  <g>
    <circle cx={x} cy={y} r="8" fill="none" stroke="#000" strokeWidth="4" />
    <circle cx={x} cy={y} r="8" fill="none" stroke={colour} strokeWidth="2.2" />
    <text
      x={x + 11}
      y={y + 5}
      fontSize="15"
      fontWeight="700"
      fill={colour}
      stroke="#000"
      strokeWidth="3"
      paintOrder="stroke"
    >
      {letter}
    </text>
  </g>
)

/** What was treated beside what was not, by what their patches moved. */
function Race({ patches: list }: { readonly patches: readonly MarkedPatch[] }) {
  const twice = list.filter(({ arm, points }) => arm !== null && points.length >= 2)
  const arms = new Set(twice.map(({ arm }) => arm))
  if (arms.size < 2 || !arms.has('untreated')) return null
  const moved = (arm: PatchArm) => {
    const own = twice.filter((one) => one.arm === arm)
    return own.reduce((sum, { points }) => sum + points.at(-1)!.value - points[0]!.value, 0) / own.length
  }
  const control = moved('untreated')
  return (
    <>
      {(['treated', 'other-way'] as const)
        .filter((arm) => arms.has(arm))
        .map((arm) => {
          const ahead = control - moved(arm)
          return (
            <p key={arm}>
              <strong>{sentenceCase(ARM_WORDS[arm])}</strong>: {signed(moved(arm))} points, untreated {signed(control)}.{' '}
              {Math.abs(ahead) <= TELLS
                ? 'No more apart than two measures of one picture can be: it is not told yet.'
                : ahead > 0
                  ? `${Math.round(ahead)} points are by what was done, if the two began alike.`
                  : 'What was left alone did better: it was not the treatment.'}
            </p>
          )
        })}
    </>
  )
}
/** Points by which four measures of three points each may differ by themselves. */
const TELLS = 6

/** The whole picture but its outermost pixels. */
const frameOf = (width: number, height: number): readonly Point[] => [
  [2, 2],
  [width - 3, 2],
  [width - 3, height - 3],
  [2, height - 3],
]
function whatIsMissing(named: readonly string[], corners: readonly Point[]): string | null {
  if (corners.length === 1 || corners.length === 2) return 'A patch has three corners at least.'
  if (!named.includes('clean'))
    return 'Say first what bare ground looks like: press “says what is what”, then the ground.'
  if (named.length < 2) return 'Say what grows there: one kind at least beside the bare ground.'
  return null
}

function Slot({
  label,
  sinceMs,
  kept,
  open,
  onFile,
  onTaken,
}: {
  readonly label: string
  /** From when the vessel runs: no picture of it is older. */
  readonly sinceMs: number
  readonly kept: readonly PhotoEntry[]
  readonly open: Taken | null
  readonly onFile: (file: Blob, entry?: PhotoEntry) => void
  readonly onTaken: (takenMs: number) => void
}) {
  const { record } = useRecord()
  const { nowMs } = useThePlans()
  const { mode } = useDatabase()
  const input = useRef<HTMLInputElement>(null)
  const { zone } = record.settings
  return (
    <Stack $gap={6}>
      <strong>{label}</strong>
      <Row>
        <Button aria-label={`${label}: from a file`} onPress={() => input.current?.click()}>
          From a file
        </Button>
      </Row>
      {kept.length > 0 && (
        <Select
          label={`${label}: of those kept`}
          value=""
          onChange={(id) => {
            const entry = kept.find(({ photoId }) => photoId === id)
            if (entry)
              void photosOf(mode)
                .get(id)
                .then((blob) => blob && onFile(blob, entry))
          }}
          options={[
            { value: '', label: '–' },
            ...kept.map((entry) => ({
              value: entry.photoId,
              label:
                `${whenText(Date.parse(entry.at), clockMs(), record.settings)}${entry.note === undefined ? '' : `, ${entry.note}`}`.slice(
                  0,
                  60,
                ),
            })),
          ]}
        />
      )}
      {open !== null && open.photoId === undefined && (
        <div>
          <DateTimeField
            day
            label={`${label}: taken on`}
            value={localInput(open.takenMs, zone).slice(0, 10)}
            min={dayOf(sinceMs, zone)}
            max={dayOf(nowMs, zone)}
            onChange={(day) => {
              const ms = localMs(`${day}T12:00`, zone)
              if (!Number.isNaN(ms) && ms > sinceMs - 12 * HOUR) onTaken(Math.max(sinceMs, Math.min(ms, nowMs)))
            }}
          />
        </div>
      )}
      {open !== null && open.photoId !== undefined && (
        <Quiet>Taken {whenText(open.takenMs, nowMs, record.settings)}</Quiet>
      )}
      <input
        ref={input}
        type="file"
        accept="image/*"
        hidden
        aria-label={label}
        onChange={(event) => {
          const file = event.target.files?.[0]
          event.target.value = ''
          if (file) onFile(file)
        }}
      />
    </Stack>
  )
}
