// The slide bench: a clip or stills of a drop, measured and counted in this browser; what it found is looked at and put right
// by the keeper, then kept as a count with its picture.
import { clockMs } from '../../data/clock.ts'
import {
  campaignsCounting,
  moverShare,
  signOf,
  slideSigns,
  protocolServing,
  typedNumber,
  type Protocol,
} from '@brinvo/core'
import {
  genusTitle,
  GENERA,
  leadingOf,
  OBJECT_CLASSES,
  slideClassesOf,
  slideCount,
  type SlideAnswer,
  type SlideCorrections,
  type SlideObject,
} from '@brinvo/core/imaging'
import { useEffect, useMemo, useRef, useState } from 'react'
import { Link, useParams, useSearchParams } from 'react-router'
import { v7 } from 'uuid'
import { photosOf } from '../../data/photos.ts'
import { useDatabase, useRecord, type Draft } from '../../data/queries.tsx'
import { Dialog } from '../../design/Dialog.tsx'
import { Check, Field, Select } from '../../design/fields.tsx'
import { Button, DayTable, LinkButton, Page, Quiet, Row, Stack, Tray, Well } from '../../design/primitives.tsx'
import { plural, sentenceCase } from '../../design/words.ts'
import { useSave } from '../../parts/StepActions.tsx'
import { NotFound } from '../../shell/NotFound.tsx'
import { SlideRun } from '../../workers/slideClient.ts'
import { FoundOverlay } from './FoundOverlay.tsx'
import { sourceOf, workingSize, type FrameSource } from '../../parts/slides/frameSource.ts'
import {
  DEMO_CLIPS,
  drawnSlide,
  practiceSource,
  type PracticeKind,
  type PracticeSlide,
  type SlideTruth,
} from '../../parts/slides/standIn.ts'
import { RecordDialog } from './RecordDialog.tsx'
import { ScaleOf, type Scale } from './ScaleOf.tsx'

/** Frames of which the empty light is taken. */
const LIGHT_FRAMES = 8
/** A tally of a whole slide, for whoever asks later. */
export const SLIDE_TALLY = 'slide-count'

interface Found {
  readonly answer: SlideAnswer
  readonly frame: number
  readonly width: number
  readonly height: number
  readonly umPerPx: number
  readonly still: Blob
}

export function SlideBenchPage() {
  const { vesselId = '' } = useParams()
  const { record } = useRecord()
  if (!record.vessels.get(vesselId)) return <NotFound />
  return <Bench key={vesselId} vesselId={vesselId} />
}

function Bench({ vesselId }: { readonly vesselId: string }) {
  const { record, active } = useRecord()
  const { mode } = useDatabase()
  const [params] = useSearchParams()
  const findingId = params.get('finding')
  const finding = findingId === null ? undefined : record.findings.get(findingId)
  const vessel = record.vessels.get(vesselId)!
  const input = useRef<HTMLInputElement>(null)
  const [source, setSource] = useState<FrameSource | null>(null)
  const [name, setName] = useState('')
  const [first, setFirst] = useState<string | null>(null)
  const [camera, setCamera] = useState(false)
  const [fps, setFps] = useState('8')
  const [scale, setScale] = useState<Scale | null>(null)
  const [share, setShare] = useState<number | null>(null)
  const [fault, setFault] = useState<string | null>(null)
  const [found, setFound] = useState<Found | null>(null)
  const [practice, setPractice] = useState<PracticeSlide | null>(null)
  const run = useRef<SlideRun | null>(null)
  useEffect(() => () => run.current?.stop(), [])
  useEffect(() => () => source?.close(), [source])
  useEffect(
    () => () => {
      if (first !== null) URL.revokeObjectURL(first)
    },
    [first],
  )
  const take = async (make: () => Promise<FrameSource>, called: string, drawn: PracticeSlide | null = null) => {
    setFault(null)
    setFound(null)
    // What is still being measured is of the clip before.
    run.current?.stop()
    run.current = null
    setShare(null)
    try {
      const opened = await make()
      const still = await opened.still(0, opened.width, opened.height)
      setSource(opened)
      setPractice(drawn)
      setFirst(URL.createObjectURL(still))
      setName(called)
    } catch (cause) {
      setFault((cause as Error).message)
    }
  }
  const open = (files: readonly File[]) => {
    const rate = typedNumber(fps)
    return take(
      async () => sourceOf(files, rate > 0 && rate <= 60 ? rate : 8),
      files.length === 1 ? files[0]!.name : plural(files.length, 'picture'),
    )
  }
  const practise = (kind: PracticeKind) =>
    show(() => practiceSource(Number(params.get('seed') ?? Math.floor(Math.random() * 1e6)), kind), 'A drawn slide')
  const show = async (draw: () => Promise<PracticeSlide>, called: string) => {
    try {
      const drawn = await draw()
      await take(() => Promise.resolve(drawn.source), called, drawn)
      setScale({ umPerPx: drawn.umPerPx })
    } catch (cause) {
      setFault((cause as Error).message)
    }
  }
  const measure = async () => {
    if (!source || scale === null) return
    setFault(null)
    setFound(null)
    setShare(0)
    const size = workingSize(source.width, source.height, scale.umPerPx)
    const worker = new SlideRun()
    run.current = worker
    // What was stopped, or overtaken by another clip, says nothing any more.
    const tell = (part: number) => {
      if (run.current !== worker) throw new DOMException('stopped', 'AbortError')
      setShare(part)
    }
    try {
      const some = []
      const step = Math.max(1, Math.floor(source.frames / LIGHT_FRAMES))
      for (let f = 0; f < source.frames && some.length < LIGHT_FRAMES; f += step) {
        some.push(await source.picture(f, size.width, size.height))
        tell((0.2 * some.length) / LIGHT_FRAMES)
      }
      await worker.begin(some, size, { umPerPx: size.umPerPx, fps: source.fps })
      const { fps: rate } = await source.play(
        size.width,
        size.height,
        async (picture, f) => {
          await worker.frame(picture)
          tell(Math.min(1, 0.2 + (0.8 * (f + 1)) / source.frames))
        },
        () => run.current !== worker,
      )
      const answer = await worker.end(rate)
      tell(1)
      const frame = fullestFrame(answer.objects, source.frames)
      setFound({ answer, frame, ...size, still: await source.still(frame, size.width, size.height) })
    } catch (cause) {
      if ((cause as Error).name !== 'AbortError') setFault((cause as Error).message)
    } finally {
      worker.stop()
      if (run.current === worker) {
        run.current = null
        setShare(null)
      }
    }
  }
  const last = active.findLast((entry) => entry.kind === 'tally' && entry.measure === SLIDE_TALLY)
  const lastUm = last?.kind === 'tally' ? last.values['um-per-px'] : undefined
  return (
    <Page $aside>
      <Stack $gap={16}>
        <p>
          <Link to={finding ? `/findings/${finding.id}` : `/vessels/${vesselId}`}>
            {finding ? 'The finding' : vessel.body.name}
          </Link>
        </p>
        <h1>Slide from {vessel.body.name}</h1>
        <Well>
          Treat every brown film that makes strings as toxic, whatever the slide says: gloves, goggles, nothing siphoned
          by mouth. Species and toxicity cannot be told at four hundred times.
        </Well>
        <Tray>
          <Stack>
            <h2>The clip</h2>
            <p>
              Hold the phone to the eyepiece for ten to twenty seconds, still, one field. Nothing leaves this browser,
              and the clip is not kept.
            </p>
            <Row $gap={12} style={{ alignItems: 'end' }}>
              <Button look={source ? 'plain' : 'main'} onPress={() => input.current?.click()}>
                A clip or stills from a file
              </Button>
              <Button onPress={() => setCamera(true)}>Film now</Button>
              <div style={{ width: 190 }}>
                <Field label="Stills: pictures a second" value={fps} onChange={setFps} numeric />
              </div>
            </Row>
            <input
              ref={input}
              type="file"
              accept="video/*,image/*"
              multiple
              hidden
              aria-label="Clip or stills"
              onChange={(event) => {
                const files = [...(event.target.files ?? [])]
                event.target.value = ''
                if (files.length > 0) void open(files)
              }}
            />
            {fault !== null && <p role="alert">{fault}</p>}
            {source && (
              <Quiet>
                {name}: {source.width} × {source.height}, {plural(source.frames, 'frame')} to look at.
              </Quiet>
            )}
          </Stack>
        </Tray>
        {source && first !== null && (
          <Tray>
            <Stack>
              <h2>What a pixel is</h2>
              {practice ? (
                <>
                  <p>
                    A pixel is {practice.umPerPx.toFixed(2)} µm. Look first: what moves, how long is it, which would you
                    say?
                  </p>
                  <img src={first} alt="The first frame of a drawn slide" style={{ width: '100%', borderRadius: 10 }} />
                </>
              ) : (
                <ScaleOf
                  key={name}
                  picture={first}
                  width={source.width}
                  height={source.height}
                  last={lastUm ?? null}
                  onScale={setScale}
                />
              )}
              <Row $gap={12}>
                <Button look="main" isDisabled={scale === null || share !== null} onPress={() => void measure()}>
                  Measure the clip
                </Button>
                {share !== null && (
                  <>
                    <progress value={share} aria-label="Reading the clip" />
                    <Button
                      onPress={() => {
                        run.current?.stop()
                        run.current = null
                        setShare(null)
                      }}
                    >
                      Stop
                    </Button>
                  </>
                )}
                {scale === null && (
                  <Quiet>Without a scale nothing can be named: lengths are how genera are told apart.</Quiet>
                )}
              </Row>
            </Stack>
          </Tray>
        )}
        {found && source && (
          <Result
            key={`${name} ${found.frame} ${found.answer.objects.length}`}
            found={found}
            vesselId={vesselId}
            findingId={finding?.id ?? null}
            umPerPx={scale?.umPerPx ?? found.umPerPx}
            truth={practice?.truth ?? null}
          />
        )}
      </Stack>
      <Stack $gap={14}>
        <Tray>
          <Stack $gap={8}>
            <h2 style={{ fontSize: 17 }}>The drop</h2>
            <Quiet>
              Film from its edge, shaken in tank water, five minutes under a side lamp; a drop from the lit layer, a
              cover glass; forty times to find, four hundred to measure.
            </Quiet>
            <LinkButton to={`/courses/new?protocol=${protocolServing('film-sample').id}&vessel=${vesselId}`}>
              The sample, minute by minute
            </LinkButton>
          </Stack>
        </Tray>
        <Tray>
          <Stack $gap={8}>
            <h2 style={{ fontSize: 17 }}>Practise</h2>
            {mode === 'demo' && (
              <>
                <Quiet>Three clips of the demonstration, drawn for it; one of them cannot be told.</Quiet>
                <Row>
                  {DEMO_CLIPS.map(({ id, label, plan }) => (
                    <Button key={id} onPress={() => void show(() => drawnSlide(plan), label)}>
                      {label}
                    </Button>
                  ))}
                </Row>
              </>
            )}
            <Quiet>Drawn drops: name them yourself, then measure, then see what was drawn.</Quiet>
            <Row>
              <Button onPress={() => void practise('one')}>One genus</Button>
              <Button onPress={() => void practise('two')}>Two about as many</Button>
              <Button onPress={() => void practise('any')}>Whatever comes</Button>
            </Row>
          </Stack>
        </Tray>
        <Well>
          No camera?{' '}
          {finding ? 'Choose from the drawings on the page of the finding.' : 'Count by eye on the page of the course.'}
        </Well>
      </Stack>
      {camera && <RecordDialog onClose={() => setCamera(false)} onClip={(clip) => void open([clip])} />}
    </Page>
  )
}

/** The frame in which most of what was found is in sight. */
function fullestFrame(objects: readonly SlideObject[], frames: number): number {
  const counts = new Array<number>(frames).fill(0)
  for (const { path } of objects) for (const { frame } of path) counts[frame]!++
  return Math.max(0, counts.indexOf(Math.max(...counts)))
}

const NAMES = [
  ...OBJECT_CLASSES.filter((name) => name !== 'dinoflagellate').map((name) => ({
    value: name as string,
    label: className(name),
  })),
  ...GENERA.map(({ id, title }) => ({ value: id, label: `Dinoflagellate: ${title}` })),
  { value: 'nothing', label: 'Nothing that counts: sand, a flake, a shadow' },
]
function className(name: string): string {
  return name === 'green' ? 'green alga' : name === 'other' ? 'something else' : name
}
const nameOf = (one: SlideObject): string =>
  one.class === 'dinoflagellate' ? genusTitle(one.genus) : sentenceCase(className(one.class))

function Result({
  found,
  vesselId,
  findingId,
  umPerPx,
  truth,
}: {
  readonly found: Found
  readonly vesselId: string
  readonly findingId: string | null
  readonly umPerPx: number
  /** What a drawn slide holds; null where it is a real one. */
  readonly truth: SlideTruth | null
}) {
  const { record } = useRecord()
  const { mode } = useDatabase()
  const save = useSave()
  const { answer } = found
  const [corrections, setCorrections] = useState<SlideCorrections>({})
  const [chosen, setChosen] = useState<number | null>(null)
  const [picture, setPicture] = useState(true)
  const [whole, setWhole] = useState(false)
  const [kept, setKept] = useState(false)
  const count = useMemo(() => slideCount(answer, corrections), [answer, corrections])
  const leading = leadingOf(answer, count)
  const finding = findingId === null ? undefined : record.findings.get(findingId)
  const classes = slideClassesOf(count)
  const signs = finding ? slideSigns(finding.body.pool, classes, whole) : { yes: [], no: [] }
  const campaigns = campaignsCounting(record, vesselId, clockMs())
  const keep = async () => {
    const values: Record<string, number> = { 'um-per-px': umPerPx, moving: count.moving, corrected: count.corrected }
    for (const { class: kind, count: n } of count.shares) values[kind] = n
    const base = { vesselId, ...(findingId === null ? {} : { findingId }) }
    const drafts: Draft[] = [
      { kind: 'tally', vesselId, measure: SLIDE_TALLY, values, note: wordsOf(count, leading) } as unknown as Draft,
      ...campaigns.flatMap(({ course, measure }) => [
        {
          kind: 'tally',
          vesselId,
          courseId: course.id,
          measure: measure.id,
          values: Object.fromEntries(measure.fields.map(({ id }) => [id, fieldOf(id, count)])),
        } as unknown as Draft,
      ]),
      ...signs.yes.map((sign) => ({ kind: 'sign', ...base, sign, present: true }) as Draft),
      ...signs.no.map((sign) => ({ kind: 'sign', ...base, sign, present: false }) as Draft),
    ]
    if (picture) {
      const photoId = v7()
      await photosOf(mode).put(photoId, found.still)
      drafts.push({
        kind: 'photo',
        photoId,
        mime: 'image/jpeg',
        width: found.width,
        height: found.height,
        bytes: found.still.size,
        vesselId,
        note: `Slide: ${wordsOf(count, leading)}`,
      } as Draft)
    }
    if (await save(drafts, 'The slide is on the ledger.')) setKept(true)
  }
  return (
    <Tray role="region" aria-label="What the slide holds">
      <Stack>
        <h2>{leading === null ? 'Which genus leads cannot be told' : `Mostly ${genusTitle(leading)}`}</h2>
        <p>
          {leading === null
            ? (answer.doubt?.replace(/\b[a-z]+(?:-[a-z]+)+\b/g, genusTitle) ??
              (Object.keys(count.genera).length === 0
                ? 'No dinoflagellate was found in this field.'
                : 'Two genera are about as many, or there are too few.'))
            : count.corrected > 0
              ? 'By your own naming of what was found.'
              : `By length, outline and speed; right in about ${Math.round(100 * answer.chance)} of 100 such clips.`}
        </p>
        {answer.faults.map((words) => (
          <p key={words} role="note">
            {words}
          </p>
        ))}
        <FoundOverlay
          still={found.still}
          width={found.width}
          height={found.height}
          umPerPx={found.umPerPx}
          frame={found.frame}
          objects={answer.objects}
          corrections={corrections}
          nameOf={nameOf}
          onPress={setChosen}
        />
        <DayTable>
          <caption style={{ textAlign: 'left' }}>
            <Quiet>
              {plural(count.total, 'object')}, {count.moving} of them move by themselves
              {count.corrected > 0 ? `; ${count.corrected} put right by you` : ''}. Press one in the picture to put it
              right.
            </Quiet>
          </caption>
          <thead>
            <tr>
              <th style={{ textAlign: 'left' }}>What</th>
              <th style={{ textAlign: 'left' }}>Count</th>
              <th style={{ textAlign: 'left' }}>Share</th>
              <th style={{ textAlign: 'left' }}>Four in five slides</th>
              <th style={{ textAlign: 'left' }}>To be surer</th>
            </tr>
          </thead>
          <tbody>
            {count.shares.map((one) => (
              <tr key={one.class}>
                <td>
                  {sentenceCase(className(one.class))}
                  {one.class === 'dinoflagellate' && (
                    <Quiet>
                      {' '}
                      {Object.entries(count.genera)
                        .sort((a, b) => b[1] - a[1])
                        .map(([id, n]) => `${genusTitle(id)} ${n}`)
                        .join(', ')}
                    </Quiet>
                  )}
                </td>
                <td>{one.count}</td>
                <td>{Math.round(100 * one.share)} %</td>
                <td>
                  {Math.round(100 * one.low)} to {Math.round(100 * one.high)} %
                </td>
                <td>{one.more === 0 ? 'enough' : `${one.more} more`}</td>
              </tr>
            ))}
          </tbody>
        </DayTable>
        {finding && truth === null && (
          <>
            <Check isSelected={whole} onChange={setWhole}>
              That is all there is on the slide
            </Check>
            <p>
              {Math.round(moverShare(classes))} % of it moves.{' '}
              {signs.yes.length === 0
                ? 'None of this is a sign by itself.'
                : `Signs: ${signs.yes.map((sign) => signOf(sign)?.label.replace(/^Slide: /, '')).join(', ')}.`}
              {signs.no.length > 0 && <Quiet> {plural(signs.no.length, 'other')} looked for and not there.</Quiet>}
            </p>
          </>
        )}
        {campaigns.map(({ course, measure }) => (
          <Quiet key={`${course.id} ${measure.id}`}>
            Goes to “{measure.title}” of {(course.body.protocol as unknown as Protocol).title}.
          </Quiet>
        ))}
        {truth ? (
          <Well>
            Drawn were{' '}
            {OBJECT_CLASSES.filter((kind) => truth.counts[kind] > 0)
              .map((kind) => `${truth.counts[kind]} ${className(kind)}`)
              .join(', ')}
            {truth.leading === null ? '; no genus leads' : `; mostly ${genusTitle(truth.leading)}`}. A practice slide is
            not kept.
          </Well>
        ) : (
          <Row $gap={12}>
            <Check isSelected={picture} onChange={setPicture}>
              keep this frame with it
            </Check>
            <Button look="main" isDisabled={kept || count.total === 0} onPress={() => void keep()}>
              {kept ? 'It is on the ledger' : 'Keep the count'}
            </Button>
          </Row>
        )}
      </Stack>
      {chosen !== null && (
        <PutRight
          one={answer.objects[chosen]!}
          name={corrections[chosen]}
          onClose={() => setChosen(null)}
          onName={(name) => {
            const { [chosen]: _, ...rest } = corrections
            setCorrections(name === null ? rest : { ...rest, [chosen]: name })
            setKept(false)
            setChosen(null)
          }}
        />
      )}
    </Tray>
  )
}

/** Counts for the fields of a campaign's measure: by class, and whatever else is the rest. */
function fieldOf(id: string, count: ReturnType<typeof slideCount>): number {
  const of = (name: string) => count.shares.find((one) => one.class === name)?.count ?? 0
  return id === 'rest' ? count.total - of('dinoflagellate') : of(id)
}
function wordsOf(count: ReturnType<typeof slideCount>, leading: string | null): string {
  const list = count.shares.map((one) => `${one.count} ${className(one.class)}`).join(', ')
  return `${list}${leading === null ? '' : `; mostly ${genusTitle(leading)}`}`
}

function PutRight({
  one,
  name,
  onClose,
  onName,
}: {
  readonly one: SlideObject
  readonly name: string | undefined
  readonly onClose: () => void
  readonly onName: (name: string | null) => void
}) {
  const own = one.class === 'dinoflagellate' ? one.genus : one.class
  const [value, setValue] = useState(name ?? own)
  return (
    <Dialog title={nameOf(one)} isOpen onClose={onClose}>
      <p>
        {Math.round(one.lengthUm)} × {Math.round(one.widthUm)} µm,{' '}
        {one.moving ? `moves at ${Math.round(one.speedUmPerS)} µm a second` : 'still'}, seen in{' '}
        {plural(one.framesVisible, 'frame')}.
      </p>
      <Select label="What it is" value={value} onChange={setValue} options={NAMES} />
      <Row>
        <Button look="main" onPress={() => onName(value === own ? null : value)}>
          Put it right
        </Button>
        {name !== undefined && <Button onPress={() => onName(null)}>As it was found</Button>}
      </Row>
    </Dialog>
  )
}
