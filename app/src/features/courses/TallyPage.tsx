// A count taken at the tank: piece by piece on a drawn map, in words or numbers, each saved as it is made.
import { clockMs } from '../../data/clock.ts'
import {
  campaignsCounting,
  campaignsCovering,
  groupOf,
  limitOf,
  measurePoints,
  residentsIn,
  type BathEntry,
  type CampaignMeasure,
  type Protocol,
  ofUnit,
} from '@brinvo/core'
import { useState } from 'react'
import { Link, useParams, useSearchParams } from 'react-router'
import { styled } from 'styled-components'
import { useActions, useRecord, type Draft } from '../../data/queries.tsx'
import { Choice, Field } from '../../design/fields.tsx'
import { Button, Facts, LinkButton, Page, Quiet, Row, Stack, Tag, Tray, Well } from '../../design/primitives.tsx'
import { whenText } from '../../design/words.ts'
import { HazardCard } from '../../parts/HazardCard.tsx'
import { Photos } from '../../parts/Photos.tsx'
import { Refusals } from '../../parts/Refusals.tsx'
import { useSave } from '../../parts/StepActions.tsx'
import { useAct } from '../../parts/useAct.ts'
import { NotFound } from '../../shell/NotFound.tsx'
import { useNotice } from '../../shell/Notices.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { AirClock } from './AirClock.tsx'
import { Counter, countError, countOf } from './Counter.tsx'
import { HeadCount } from './HeadCount.tsx'
import { SessionPanel } from './SessionPanel.tsx'
import { useGoOn } from '../../shell/useGoOn.ts'

const Grid = styled.div`
  display: grid;
  gap: 12px 20px;
  grid-template-columns: repeat(auto-fill, minmax(220px, 1fr));
`
const Sheet = styled.div`
  position: relative;
  aspect-ratio: 100 / 42;
  background: var(--water);
  border: 2px solid var(--rim);
  border-top-style: dashed;
  border-radius: 10px;
  overflow: hidden;
  button {
    position: absolute;
    transform: translate(-50%, -50%);
    width: 21%;
    min-width: 62px;
    min-height: 52px;
    border: 1.5px solid var(--quiet);
    background: var(--tray);
    border-radius: 46% 54% 40% 44%;
    font-weight: 650;
    font-size: 14px;
    cursor: pointer;
    line-height: 1.15;
  }
  button[aria-pressed='true'] {
    background: var(--rim);
    color: var(--on-rim);
  }
  &[data-moving] {
    outline: 3px dashed var(--rim);
    cursor: crosshair;
  }
`
/** A rock in air, minutes. @source handbook 50 tray-air */
/** Name under which the minutes of a lifted rock stand on the ledger. */
const ROCK_IN_AIR = 'rock-in-air'
const ROCK_MINUTES = { min: limitOf('rock-air-least'), usual: limitOf('rock-air-usual'), max: limitOf('rock-air-most') }
const WORDS = { piece: 'piece', patch: 'patch', rock: 'rock', jar: 'jar', neighbour: 'neighbour' } as const

/** Groups that stay where they are, beside the corals. */
const FIXED = new Set(['hg-anemone', 'hg-clam'])

const NOTHING: Readonly<Record<string, string>> = {}

export function TallyPage() {
  const { id = '', measureId = '' } = useParams()
  const [params] = useSearchParams()
  const { record } = useRecord()
  const course = record.courses.get(id)
  const protocol = course?.body.protocol as unknown as Protocol | undefined
  const measure = protocol?.campaign?.measures.find((one) => one.id === measureId)
  const vessel = course ? record.vessels.get(course.body.vesselId) : undefined
  if (!course || !protocol || !measure || !vessel) return <NotFound />
  return (
    <Page $aside>
      <Stack $gap={16}>
        <p>
          <Link to={`/courses/${course.id}`}>{protocol.title}</Link> <Quiet>in {vessel.body.name}</Quiet>
        </p>
        <h1>{measure.title}</h1>
        <Well>{measure.how}</Well>
        {campaignsCounting(record, vessel.id, clockMs()).some(({ measure: one }) => one.id === measure.id) && (
          <Row>
            <LinkButton to={`/slide/${vessel.id}`}>Count it from a clip</LinkButton>
          </Row>
        )}
        {campaignsCovering(record, vessel.id, clockMs()).some(({ measure: one }) => one.id === measure.id) && (
          <Row>
            <LinkButton to={`/patch/${vessel.id}`}>Measure it in a picture</LinkButton>
          </Row>
        )}
        {measure.byAnimal ? (
          <HeadCount courseId={course.id} vesselId={vessel.id} measure={measure} step={params.get('step')} />
        ) : (
          <CountForm
            courseId={course.id}
            vesselId={vessel.id}
            measure={measure}
            step={params.get('step')}
            hazards={protocol.campaign!.hazards ?? []}
          />
        )}
      </Stack>
      <Stack $gap={16}>
        {measure.per === 'rock' && <SessionPanel courseId={course.id} vesselId={vessel.id} />}
        <History measure={measure} courseId={course.id} />
      </Stack>
    </Page>
  )
}

function CountForm({
  courseId,
  vesselId,
  measure,
  step,
  hazards,
}: {
  courseId: string
  vesselId: string
  measure: CampaignMeasure
  step: string | null
  hazards: readonly string[]
}) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const save = useSave()
  const goOn = useGoOn()
  const entries = active.filter(
    (entry) => entry.kind === 'tally' && entry.courseId === courseId && entry.measure === measure.id,
  )
  // Everything fixed to its place there; a colony that was isolated lives elsewhere, and is not among them.
  // What is followed as a finding there is the sick one itself.
  const sick = new Set(
    [...record.findings.values()].flatMap(({ body }) =>
      body.vesselId === vesselId && body.endedAt === undefined && body.residentId !== undefined
        ? [body.residentId]
        : [],
    ),
  )
  const neighbours = residentsIn(record, active, vesselId, nowMs).flatMap(({ id, body }) =>
    !sick.has(id) && (groupOf(body.group)?.kind === 'coral' || FIXED.has(body.group)) ? [body.name] : [],
  )
  const known =
    measure.per === 'jar'
      ? ['dosed', 'undosed']
      : [
          ...new Set([
            ...(measure.per === 'neighbour' ? neighbours : []),
            ...entries.flatMap((entry) => (entry.kind === 'tally' && entry.piece !== undefined ? [entry.piece] : [])),
          ]),
        ]
  // A jar is looked into several times a day; everything else once.
  const sessionMs = (measure.per === 'jar' ? 1 : 12) * 3_600_000
  const today = new Map(
    (measurePoints(measure, active, record.settings.zone).at(-1)?.entries ?? [])
      .filter((entry) => entry.courseId === courseId && nowMs - Date.parse(entry.at) < sessionMs)
      .map((entry) => [entry.piece ?? '', entry]),
  )
  // On the first day the next one is named after the last was counted: the page stays.
  const isFirstDay =
    measure.per !== undefined &&
    measure.per !== 'jar' &&
    !entries.some((entry) => nowMs - Date.parse(entry.at) >= sessionMs)
  // A rock that is out of the water stands first, also when the page was closed in between.
  const lifted = active.findLast(
    (entry): entry is BathEntry => entry.kind === 'bath' && entry.courseId === courseId && entry.rule === ROCK_IN_AIR,
  )
  const out = lifted?.act === 'start' && lifted.note !== undefined ? [lifted.note] : []
  const [pieces, setPieces] = useState<readonly string[]>([...new Set([...known, ...out])])
  const next = out[0] ?? pieces.find((piece) => !today.has(piece)) ?? pieces[0] ?? ''
  const [piece, setPiece] = useState(next)
  const [naming, setNaming] = useState('')
  // What is typed belongs to its piece, and is there again when its keeper comes back to it.
  const [typedOf, setTypedOf] = useState<Readonly<Record<string, Readonly<Record<string, string>>>>>({})
  const values = typedOf[piece] ?? NOTHING
  const setValues = (
    next:
      | Readonly<Record<string, string>>
      | ((before: Readonly<Record<string, string>>) => Readonly<Record<string, string>>),
    of = piece,
  ) => setTypedOf((all) => ({ ...all, [of]: typeof next === 'function' ? next(all[of] ?? NOTHING) : next }))
  const lastOf = entries.findLast((entry) => entry.kind === 'tally' && entry.piece === piece)
  const armOf = (name: string) => {
    const found = entries.findLast((entry) => entry.kind === 'tally' && entry.piece === name)
    return found?.kind === 'tally' ? found.arm : undefined
  }
  const [arm, setArm] = useState<string>(armOf(piece) ?? '')
  const [minutes, setMinutes] = useState('')
  const choose = (name: string) => {
    setPiece(name)
    // Which arm a new one is in is asked: it never takes on that of the one before.
    setArm(armOf(name) ?? '')
  }
  const add = () => {
    const name = naming.trim()
    if (name === '' || pieces.includes(name)) return
    setPieces([...pieces, name])
    setNaming('')
    // What was counted before it had a name goes with the name.
    if (piece === '' && typedOf[''] !== undefined)
      setTypedOf((all) => ({ ...all, '': NOTHING, [name]: all[''] ?? NOTHING }))
    choose(name)
  }
  const filled = measure.fields.every((field) =>
    (values[field.id] ?? '') === '' ? field.optional === true : countError(values[field.id]!, field) === null,
  )
  const numbers = Object.fromEntries(
    measure.fields.flatMap((field) => {
      const value = countOf(values[field.id] ?? '', field)
      return value === null ? [] : [[field.id, value]]
    }),
  )
  const named = measure.per === undefined || piece !== ''
  const placed = measure.arms === undefined || arm !== ''
  const left = pieces.filter((name) => !today.has(name) && name !== piece)
  const pictured = `${measure.title}${piece === '' ? '' : `, ${piece}`}`
  const spent = countOf(minutes, { decimal: true })
  const draft = (): Draft =>
    ({
      kind: 'tally',
      vesselId,
      courseId,
      measure: measure.id,
      values: numbers,
      ...(measure.per === undefined ? {} : { piece }),
      ...(measure.arms ? { arm } : {}),
      ...(spent === null || spent === 0 ? {} : { minutes: spent }),
      ...(step === null ? {} : { step }),
    }) as unknown as Draft
  // What can hardly be is asked about while it stands in the fields.
  const asking = useAct(filled && named && placed ? { kind: 'note', drafts: [draft()], documents: [], said: '' } : null)
  const questions = asking.spoken.filter(({ rule }) => rule.startsWith('count-'))
  const keep = async () => {
    if (!filled || !named || !placed || (questions.length > 0 && !asking.override.confirmed)) return
    const override = questions.length > 0 ? asking.override : undefined
    const words = `${measure.title}${named && piece !== '' ? `, ${piece}` : ''}: noted.`
    const made = draft()
    const typed = { piece, arm, values, minutes }
    // On to the next one at once: the press must not wait for the disk, and what fails comes back.
    setValues(NOTHING)
    if (left.length > 0) choose(left[0]!)
    setMinutes('')
    asking.reset()
    if (!(await save([made], words, override))) {
      setPiece(typed.piece)
      setArm(typed.arm)
      setValues(typed.values, typed.piece)
      setMinutes(typed.minutes)
    } else if (left.length === 0 && !isFirstDay) goOn(`/courses/${courseId}`)
  }
  return (
    <>
      {measure.per === 'rock' && hazards.length > 0 && <HazardCard hazardIds={hazards} short />}
      {measure.per !== undefined && (
        <Tray>
          <Stack>
            <h2>
              Which {WORDS[measure.per]}? <Quiet>{today.size > 0 ? `${today.size} counted today` : ''}</Quiet>
            </h2>
            {(measure.per === 'rock' || measure.per === 'patch' || measure.per === 'neighbour') && pieces.length > 0 ? (
              <PlaceMap vesselId={vesselId} pieces={pieces} piece={piece} done={today} onChoose={choose} />
            ) : (
              <Row $gap={6} role="group" aria-label={`Which ${WORDS[measure.per]}`}>
                {pieces.map((name) => (
                  <Button key={name} look={name === piece ? 'main' : 'plain'} onPress={() => choose(name)}>
                    {name}
                    {today.has(name) && ' ✓'}
                  </Button>
                ))}
              </Row>
            )}
            {measure.per !== 'jar' && (
              <Row style={{ alignItems: 'end' }}>
                {isFirstDay && today.size > 0 && <LinkButton to={`/courses/${courseId}`}>All are counted</LinkButton>}
                <Field
                  label={`Name a new ${WORDS[measure.per]}`}
                  value={naming}
                  onChange={setNaming}
                  placeholder={
                    measure.per === 'rock'
                      ? 'arch, left'
                      : measure.per === 'patch'
                        ? 'anubias, left leaf'
                        : 'green plate'
                  }
                />
                <Button onPress={add} isDisabled={naming.trim() === ''}>
                  Add it
                </Button>
              </Row>
            )}
          </Stack>
        </Tray>
      )}
      {measure.per === 'rock' && piece !== '' && (
        <AirClock
          courseId={courseId}
          vesselId={vesselId}
          pieces={[piece]}
          rule={ROCK_IN_AIR}
          minutes={ROCK_MINUTES}
          about={`Lifted clear of the water, shaded, ${ROCK_MINUTES.min} to ${ROCK_MINUTES.max} min. Corals on it keep their own limit: dip it back in time, or leave that side under water. Sponges die in air.`}
          meanwhile="work over a tray, never over the tank"
          enough="Long enough. Rinse what hangs loose, then back."
          back="Back in the water"
          onBack={(out) => {
            const field = measure.fields.find(({ id }) => id === 'air-minutes')
            if (field) setValues((before) => ({ ...before, [field.id]: String(Math.round(out)) }))
          }}
        />
      )}
      {named && (
        <Tray>
          <Stack>
            <h2>{piece === '' ? 'Count' : piece}</h2>
            {lastOf?.kind === 'tally' && (
              <Quiet>
                Last time, {whenText(Date.parse(lastOf.at), nowMs, record.settings)}:{' '}
                {measure.fields
                  .flatMap(({ id, label, levels }) =>
                    lastOf.values[id] === undefined
                      ? []
                      : [levels ? (levels[lastOf.values[id]] ?? '') : `${label.toLowerCase()} ${lastOf.values[id]}`],
                  )
                  .join(', ')}
              </Quiet>
            )}
            {measure.arms && (
              <Choice
                label="This patch is"
                value={arm}
                onChange={setArm}
                options={measure.arms.map(({ id, label }) => ({ value: id, label }))}
              />
            )}
            <Grid>
              {measure.fields.map((field) => (
                <Counter
                  key={field.id}
                  field={field}
                  of={piece}
                  value={values[field.id] ?? ''}
                  onChange={(value) => setValues((before) => ({ ...before, [field.id]: value }))}
                />
              ))}
            </Grid>
            <Refusals refusals={questions} override={asking.override} onOverride={asking.setOverride} />
            <Row style={{ alignItems: 'end' }}>
              <Button
                look="main"
                isDisabled={!filled || !placed || (questions.length > 0 && !asking.override.confirmed)}
                onPress={() => void keep()}
              >
                {left.length > 0 ? `Save, then ${left[0]}` : 'Save the count'}
              </Button>
              {!measure.fields.some(({ levels }) => levels) && (
                <Button
                  onPress={() =>
                    setValues(
                      Object.fromEntries(measure.fields.filter(({ optional }) => !optional).map(({ id }) => [id, '0'])),
                    )
                  }
                >
                  None found
                </Button>
              )}
              <div style={{ width: 130 }}>
                <Field label="Took" unit="min" value={minutes} onChange={setMinutes} numeric />
              </div>
            </Row>
            <h3>Pictures{piece === '' ? '' : ` of ${piece}`}</h3>
            <Quiet>Same frame, same hour: the picture settles what memory blurs.</Quiet>
            <Photos subject={{ vesselId }} note={pictured} only={pictured} />
          </Stack>
        </Tray>
      )}
    </>
  )
}

/**
 * The vessel from the front, each rock or patch where the keeper put it. To move one, press “Move” and then the place on
 * the map, or nudge it with the arrow keys.
 */
function PlaceMap({
  vesselId,
  pieces,
  piece,
  done,
  onChoose,
}: {
  vesselId: string
  pieces: readonly string[]
  piece: string
  done: ReadonlyMap<string, unknown>
  onChoose: (piece: string) => void
}) {
  const { record } = useRecord()
  const { revise } = useActions()
  const notice = useNotice()
  const [moving, setMoving] = useState(false)
  const vessel = record.vessels.get(vesselId)!
  const kept = new Map((vessel.body.places ?? []).map((place) => [place.name, place]))
  const put = (name: string, x: number, y: number) => {
    const within = (value: number) => Math.round(Math.min(95, Math.max(5, value)))
    const place = { name, x: within(x), y: within(y) }
    revise(vessel, { ...vessel.body, places: [...[...kept.values()].filter((one) => one.name !== name), place] }).catch(
      (cause: unknown) => notice({ text: (cause as Error).message, tone: 'failed' }),
    )
  }
  const at = (name: string, i: number) => kept.get(name) ?? spot(i, pieces.length)
  return (
    <Stack $gap={6}>
      <Sheet
        role="group"
        aria-label="Map of the vessel, from the front"
        data-moving={moving || undefined}
        onClick={(event) => {
          if (!moving || piece === '') return
          const box = event.currentTarget.getBoundingClientRect()
          put(piece, (100 * (event.clientX - box.left)) / box.width, (100 * (event.clientY - box.top)) / box.height)
          setMoving(false)
        }}
      >
        {pieces.map((name, i) => (
          <button
            key={name}
            type="button"
            aria-pressed={name === piece}
            onClick={(event) => {
              // While one is moved, a press on another is a place like any other.
              if (moving && name !== piece) return
              event.stopPropagation()
              onChoose(name)
            }}
            onKeyDown={(event) => {
              const step = { ArrowLeft: [-4, 0], ArrowRight: [4, 0], ArrowUp: [0, -6], ArrowDown: [0, 6] }[event.key]
              if (!step) return
              event.preventDefault()
              put(name, at(name, i).x + step[0]!, at(name, i).y + step[1]!)
            }}
            style={{ left: `${at(name, i).x}%`, top: `${at(name, i).y}%` }}
          >
            {name}
            {done.has(name) && ' ✓'}
          </button>
        ))}
      </Sheet>
      <Row $gap={10}>
        {piece !== '' && (
          <Button look={moving ? 'main' : 'plain'} onPress={() => setMoving(!moving)}>
            {moving ? `Press where ${piece} stands` : `Move ${piece}`}
          </Button>
        )}
        <Quiet>The front of the vessel; arrow keys nudge what is chosen.</Quiet>
      </Row>
    </Stack>
  )
}

/** Rocks stand side by side on the floor, in their order; a second row above where they are many. */
function spot(i: number, count: number): { readonly x: number; readonly y: number } {
  const perRow = count > 4 ? Math.ceil(count / 2) : count
  const upper = i >= perRow
  const inRow = upper ? count - perRow : perRow
  return { x: (100 * ((upper ? i - perRow : i) + 0.5)) / inRow, y: upper ? 33 : count > 4 ? 76 : 64 }
}

function History({ measure, courseId }: { measure: CampaignMeasure; courseId: string }) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const own = active.filter((entry) => entry.courseId === courseId)
  const points = measurePoints(measure, own, record.settings.zone)
  return (
    <Tray>
      <Stack $gap={8}>
        <h3>Before</h3>
        {points.length === 0 && <Quiet>Nothing yet. This is the start everything is held against.</Quiet>}
        <Facts>
          {[...points]
            .reverse()
            .slice(0, 8)
            .map(({ atMs, value, day }) => (
              <div key={day} style={{ display: 'contents' }}>
                <dt>{whenText(atMs, nowMs, record.settings)}</dt>
                <dd>{ofUnit(Number(value.toPrecision(3)), measure.unit)}</dd>
              </div>
            ))}
        </Facts>
        {measure.done && (
          <p>
            <Tag $tone="good">done</Tag>{' '}
            {measure.done.atMost !== undefined
              ? `${ofUnit(measure.done.atMost, measure.unit)} or less`
              : `${ofUnit(measure.done.atLeast!, measure.unit)} or more`}
          </p>
        )}
      </Stack>
    </Tray>
  )
}
