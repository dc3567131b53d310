// A session at the bench: pieces in a queue, each led through its stages with a clock that outlives a reload. What is
// pressed stands on the ledger at once; the page only reads it back.
import {
  airBudget,
  airKindFor,
  airKindOf,
  airKinds,
  benchDrafts,
  benchNoted,
  benchPieces,
  benchRenamed,
  formatDose,
  groupOf,
  nextActs,
  residentsIn,
  stagesFor,
  typedNumber,
  type BenchPiece,
  type BenchPress,
  type BenchStage,
  type BenchTyped,
  type Protocol,
  type ResidentDocument,
  type Step,
} from '@brinvo/core'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { styled } from 'styled-components'
import { useNow, useRecord, type Draft } from '../../data/queries.tsx'
import { Field, Select } from '../../design/fields.tsx'
import { Button, Facts, LinkButton, Page, Quiet, Row, Stack, Tag, Tray, Well } from '../../design/primitives.tsx'
import { plural, timeText } from '../../design/words.ts'
import { HazardCard } from '../../parts/HazardCard.tsx'
import { Photos } from '../../parts/Photos.tsx'
import { Refusals } from '../../parts/Refusals.tsx'
import { useSave } from '../../parts/StepActions.tsx'
import { Ticks } from '../../parts/Ticks.tsx'
import { useAct } from '../../parts/useAct.ts'
import { NotFound } from '../../shell/NotFound.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { Clock, clockText, Thumb } from './bench.tsx'
import { Counter, countError, countOf } from './Counter.tsx'
import { useGoOn } from '../../shell/useGoOn.ts'
import { useUnits } from '../../parts/useUnits.ts'
import { Failure } from '../../parts/Failure.tsx'

const Do = styled.p`
  font-size: clamp(20px, 3.2vw, 26px);
  font-weight: 650;
  line-height: 1.3;
`
const Path = styled.ol`
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  font-size: 14px;
  color: var(--quiet);
  li[data-now] {
    color: var(--ink);
    font-weight: 750;
    border-bottom: 3px solid var(--rim);
  }
  li[data-done] {
    text-decoration: line-through;
  }
`
const Two = styled.div`
  display: grid;
  gap: 10px 18px;
  grid-template-columns: repeat(auto-fit, minmax(170px, 1fr));
  align-items: end;
`

export function BenchRunPage() {
  const { id = '', ruleId = '' } = useParams()
  const { record } = useRecord()
  const { plans } = useThePlans()
  const course = record.courses.get(id)
  const steps = plans.find(({ courseId }) => courseId === id)?.steps.filter((one) => one.ruleId === ruleId) ?? []
  const step = steps.find(({ bench }) => bench !== undefined)
  if (!course || steps.length === 0) return <NotFound />
  const protocol = course.body.protocol as unknown as Protocol
  if (!step)
    return (
      <Page>
        <Tray>
          <Stack>
            <h1>No session is open</h1>
            <p>A count that finds something asks for the next one.</p>
            <Row>
              <LinkButton to={`/courses/${id}`}>{protocol.title}</LinkButton>
            </Row>
          </Stack>
        </Tray>
      </Page>
    )
  return <Session key={step.key} step={step} protocol={protocol} />
}

function Session({ step, protocol }: { step: Step; protocol: Protocol }) {
  const { active } = useRecord()
  const nowMs = useNow(500)
  const save = useSave()
  const goOn = useGoOn()
  const work = step.bench!
  const [ready, setReady] = useState<ReadonlySet<string>>(new Set())
  const [chosen, setChosen] = useState<string | null>(null)
  const pieces = benchPieces(work.stages, step.key, active, nowMs)
  const open = pieces.filter(({ state }) => state === 'open')
  const ended = pieces.filter(({ state }) => state !== 'open')
  // What is in air comes first: its clock is the short one.
  const inHand = open.find(({ piece }) => piece === chosen) ?? open.find(({ airMs }) => airMs !== null) ?? open.at(-1)
  const missing = work.ready.filter((item) => !ready.has(item))
  const begun = pieces.length > 0
  const finish = async () => {
    const spots = ended.reduce((sum, { spots: one }) => sum + one, 0)
    const broken = ended.filter(({ state }) => state === 'aborted').length
    const words = [
      plural(ended.length - broken, 'piece'),
      ...(broken > 0 ? [`${broken} broken off`] : []),
      ...(spots > 0 ? [`${plural(spots, 'spot')} sealed`] : []),
    ].join(', ')
    const draft = {
      kind: 'done',
      vesselId: step.vesselId,
      courseId: step.courseId,
      step: step.key,
      what: `${step.title}: ${words}`.slice(0, 120),
    } as unknown as Draft
    if (await save([draft], `${words}. The session is on record.`)) goOn(`/courses/${step.courseId}`)
  }
  return (
    <Page $aside>
      <Stack $gap={16}>
        <p>
          <Link to={`/courses/${step.courseId}`}>{protocol.title}</Link>
        </p>
        <h1>{step.title}</h1>
        {!begun && <HazardCard hazardIds={protocol.campaign?.hazards ?? []} />}
        {!begun && (
          <Tray>
            <Stack $gap={4}>
              <h2>Laid out first</h2>
              <Ticks items={work.ready} value={ready} onChange={setReady} />
            </Stack>
          </Tray>
        )}
        {open.length > 1 && (
          <Row $gap={8} role="group" aria-label="Which piece">
            {open.map((one) => (
              <Button
                key={one.piece}
                look={one.piece === inHand?.piece ? 'main' : 'plain'}
                onPress={() => setChosen(one.piece)}
              >
                {one.piece}
                {one.airMs !== null && ', in air'}
              </Button>
            ))}
          </Row>
        )}
        {/* Each stage has its own fields: what is typed for the next one is never cleared by the last. */}
        {inHand && (
          <InHand
            key={`${inHand.piece}/${inHand.stage}/${inHand.turn}`}
            step={step}
            protocol={protocol}
            piece={inHand}
            onNamed={setChosen}
          />
        )}
        {ended.length > 0 && (
          <Tray>
            <Stack $gap={6}>
              <h2>Done with</h2>
              <ul>
                {ended.map((one) => (
                  <li key={one.piece} style={{ padding: '4px 0' }}>
                    <strong>{one.piece}</strong> {one.state === 'aborted' && <Tag $tone="due">broken off</Tag>}{' '}
                    {Math.max(1, Math.round(((one.endMs ?? nowMs) - one.startMs) / 60_000))} min, {clockText(one.dayS)}{' '}
                    of it in air{one.ml > 0 && `, ${one.ml} mL`}
                    {one.spots > 0 && `, ${plural(one.spots, 'spot')} sealed`}
                  </li>
                ))}
              </ul>
              {open.length === 0 && (
                <Thumb>
                  <Button look="main" onPress={() => void finish()}>
                    Finish the session
                  </Button>
                </Thumb>
              )}
            </Stack>
          </Tray>
        )}
        {(!inHand || inHand.airMs === null) && (
          <NextPiece
            step={step}
            pieces={pieces}
            waits={!begun && missing.length > 0 ? `${missing.length} still to lay out.` : null}
            onBegun={setChosen}
          />
        )}
      </Stack>
      <Stack $gap={16}>
        {!begun && <Mixes step={step} />}
        {inHand && <Stop step={step} piece={inHand} />}
      </Stack>
    </Page>
  )
}

const DOSE_UNITS = { mL: 'mL', g: 'g', drop: 'drops', tablet: 'tablets' } as const

/** What is mixed before anything is lifted, with its amounts. */
function Mixes({ step }: { step: Step }) {
  const units = useUnits()
  const { record } = useRecord()
  const work = step.bench!
  const lines = work.stages.flatMap(({ id, title, spot, soak }) => {
    const agent = work.agents[id]
    const bottle = agent && record.products.get(agent.productId)?.body.name
    if (soak)
      return [
        {
          id,
          title,
          words: agent
            ? `${formatDose(agent.amount!, DOSE_UNITS[agent.unit], record.settings.locale).text} of ${bottle} into ${units.text('volume', soak.litres)}: ${agent.mgPerL} mg/L`
            : `No bottle is chosen: this tub holds plain water.`,
        },
      ]
    if (spot)
      return [
        {
          id,
          title,
          words: agent
            ? agent.thinTimes > 1.02
              ? `${bottle}: 1 + ${Number((agent.thinTimes - 1).toFixed(1))} with tank water makes ${spot.percent} %. ${spot.ml.least} to ${spot.ml.most} mL on one piece.`
              : `${bottle} as it is: ${Number((agent.strengthMg / 10).toPrecision(2))} %. ${spot.ml.least} to ${spot.ml.most} mL on one piece.`
            : 'No bottle is chosen: this stage is passed over.',
        },
      ]
    return []
  })
  if (lines.length === 0) return null
  return (
    <Tray>
      <Stack $gap={6}>
        <h2>Mixed first</h2>
        <Facts>
          {lines.flatMap(({ id, title, words }) => [<dt key={`${id}-t`}>{title}</dt>, <dd key={id}>{words}</dd>])}
        </Facts>
      </Stack>
    </Tray>
  )
}

/** Which piece comes next; what it is decides how long it bears the air, and is never guessed. */
function NextPiece({
  step,
  pieces,
  waits,
  onBegun,
}: {
  step: Step
  pieces: readonly BenchPiece[]
  waits: string | null
  onBegun: (piece: string) => void
}) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const save = useSave()
  const work = step.bench!
  const allowed = airKinds.filter(({ id }) => work.kinds === null || work.kinds.includes(id))
  const [name, setName] = useState('')
  const [kind, setKind] = useState(allowed.length === 1 ? allowed[0]!.id : '')
  const hosts = (record.courses.get(step.courseId)?.body.protocol as unknown as Protocol | undefined)?.hosts ?? []
  // Corals and plants stand on what is worked on, also where the protocol is for rock.
  const kinds: readonly string[] = ['coral', 'plant', ...hosts]
  const used = new Set(pieces.map(({ piece }) => piece))
  const residents = residentsIn(record, active, step.vesselId, nowMs).filter(
    ({ body }) => kinds.includes(groupOf(body.group)?.kind ?? '') && !used.has(body.name),
  )
  const known = [
    ...new Set(
      active.flatMap((entry) =>
        entry.kind === 'tally' && entry.courseId === step.courseId && entry.piece !== undefined ? [entry.piece] : [],
      ),
    ),
  ].filter((piece) => !used.has(piece) && !residents.some(({ body }) => body.name === piece))
  const resident = residents.find(({ body }) => body.name === name)
  /** What it was said to be before, or what its group says. */
  const told = (of: string, body?: ResidentDocument['body']): string =>
    active.flatMap((entry) =>
      entry.kind === 'done' && entry.bench?.piece === of && entry.bench.air !== undefined ? [entry.bench.air] : [],
    )[0] ??
    (body ? airKindFor(body)?.id : undefined) ??
    (allowed.length === 1 ? allowed[0]!.id : '')
  const choose = (of: string, body?: ResidentDocument['body']) => {
    setName(of)
    setKind(told(of, body))
  }
  const air = airKindOf(kind)
  const piece = name.trim().slice(0, 60)
  const first = stagesFor(work.stages, kind)[0]!
  const begin = async () => {
    const drafts = benchDrafts(
      step,
      step.key,
      benchNoted(step.key, active),
      piece,
      first,
      [first.in === 'air' ? 'lift' : 'lower'],
      { air: kind, ...(resident ? { residentId: resident.id } : {}) },
    )
    if (await save(drafts as unknown as Draft[], `${piece}: at the bench.`)) {
      onBegun(piece)
      setName('')
    }
  }
  return (
    <Tray>
      <Stack>
        <h2>{pieces.length === 0 ? 'First piece' : 'Next piece'}</h2>
        {residents.length + known.length > 0 && (
          <Row $gap={6} role="group" aria-label="Which piece comes next">
            {residents.map(({ id, body }) => (
              <Button key={id} look={body.name === name ? 'main' : 'plain'} onPress={() => choose(body.name, body)}>
                {body.name}
              </Button>
            ))}
            {known.map((one) => (
              <Button key={one} look={one === name ? 'main' : 'plain'} onPress={() => choose(one)}>
                {one}
              </Button>
            ))}
          </Row>
        )}
        <Two>
          <Field label="Its name" value={name} onChange={setName} placeholder="leather on the arch" />
          <Select
            label="What it is"
            value={kind}
            onChange={setKind}
            options={[{ value: '', label: 'please choose' }, ...allowed.map(({ id, label }) => ({ value: id, label }))]}
          />
        </Two>
        {air && (
          <p>
            {air.dayS === 0
              ? 'Never in air: it is worked on under water.'
              : `At most ${clockText(air.onceS)} in air at a time, ${clockText(air.dayS)} in a day.`}{' '}
            {air.note}
          </p>
        )}
        {waits !== null && <Quiet>{waits}</Quiet>}
        <Thumb>
          <Button look="main" isDisabled={piece === '' || kind === '' || waits !== null} onPress={() => void begin()}>
            {first.in === 'air' ? 'Lift it out' : 'Into the work tub'}
          </Button>
        </Thumb>
      </Stack>
    </Tray>
  )
}

const PRESSES: Readonly<Record<BenchPress['act'], string>> = {
  lift: 'Lift it out',
  lower: 'Into the water',
  stage: 'Done',
  back: 'It is back',
  abort: 'Stop',
}
/** One button for what comes: a stage that is done and the piece on its way to the next. */
const pressWords = (acts: readonly BenchPress['act'][], turn: string): string =>
  acts.length === 0
    ? ''
    : acts[0] !== 'stage'
      ? PRESSES[acts[0]!]
      : acts[1] === 'lift'
        ? `Done${turn}, lift it out`
        : acts[1] === 'lower'
          ? `Done${turn}, into the water`
          : acts[1] === 'back'
            ? 'It is back'
            : `Done${turn}, next`

function InHand({
  step,
  protocol,
  piece,
  onNamed,
}: {
  step: Step
  protocol: Protocol
  piece: BenchPiece
  onNamed: (piece: string) => void
}) {
  const { record, active } = useRecord()
  const nowMs = useNow(500)
  const work = step.bench!
  const path = stagesFor(work.stages, piece.kind?.id)
  const stage = path[piece.stage]
  const [values, setValues] = useState<Readonly<Record<string, string>>>({})
  const [typed, setTyped] = useState<Readonly<Record<'ml' | 'spots' | 'grams', string>>>({
    ml: '',
    spots: '',
    grams: '',
  })
  const [pressedEarly, setPressedEarly] = useState('')
  const [finds, setFinds] = useState<Readonly<Record<'mobiles' | 'eggs', string>>>({ mobiles: '', eggs: '' })
  const acts = nextActs(work.stages, piece)
  const agent = stage ? work.agents[stage.id] : undefined
  const measures = (protocol.campaign?.measures ?? []).filter(({ id }) => stage?.count?.includes(id) === true)
  const closes = acts[0] === 'stage'
  const numbers: Record<string, number> = {}
  const found = { mobiles: countOf(finds.mobiles, {}), eggs: countOf(finds.eggs, {}) }
  let fault: string | null = null
  if (closes) {
    if (stage?.spot && agent) {
      const ml = typedNumber(typed.ml)
      if (Number.isFinite(ml) && ml >= 0) numbers['ml'] = ml
      else fault = 'How many mL went on it? 0 where none.'
    }
    if (stage?.seals) {
      for (const field of ['spots', 'grams'] as const) {
        const value = typedNumber(typed[field])
        if (typed[field].trim() === '' && field === 'grams') continue
        if (Number.isFinite(value) && value >= 0 && (field === 'grams' || Number.isInteger(value)))
          numbers[field] = value
        else fault = field === 'spots' ? 'How many spots were closed? 0 where none.' : 'Putty: a number of grams.'
      }
    }
    if (stage?.finds && (found.mobiles === null || found.eggs === null))
      fault = 'What was found on it? 0 where there is none.'
    for (const measure of measures)
      for (const field of measure.fields) {
        const text = values[`${measure.id}/${field.id}`] ?? ''
        if (text === '' ? field.optional !== true : countError(text, field) !== null)
          fault = 'Count first: 0 where there is none.'
      }
  }
  const noted = benchNoted(step.key, active)
  const drafts =
    acts.length === 0 || fault !== null
      ? null
      : [
          ...measures.map((measure) => ({
            kind: 'tally',
            vesselId: step.vesselId,
            courseId: step.courseId,
            step: `${step.key}/${piece.piece.slice(0, 40)}-${measure.id}-${noted}`,
            measure: measure.id,
            ...(measure.per === undefined ? {} : { piece: piece.piece }),
            values: Object.fromEntries(
              measure.fields.flatMap((field) => {
                const value = countOf(values[`${measure.id}/${field.id}`] ?? '', field)
                return value === null ? [] : [[field.id, value]]
              }),
            ),
          })),
          ...benchDrafts(
            step,
            step.key,
            noted,
            piece.piece,
            stage,
            acts,
            closes ? ({ ...numbers, ...(stage?.finds ? { finds: found } : {}) } as BenchTyped) : {},
          ),
        ]
  const asking = useAct(
    drafts === null
      ? null
      : {
          kind: 'note',
          drafts: drafts as never,
          documents: [],
          said: `${piece.piece}: ${stage?.title.toLowerCase() ?? 'done'}.`,
        },
    // What is asked about a clock is asked by the clock.
    Math.ceil(nowMs / 2000) * 2000,
  )
  // That a stage is short is asked once its press comes early, not while its clock still runs.
  const stageKey = `${piece.piece}/${piece.stage}/${piece.turn}`
  const early = asking.spoken.length > 0 && asking.spoken.every(({ rule }) => rule === 'bench-short')
  const unasked = early && pressedEarly !== stageKey
  const turn = stage?.times === undefined ? '' : ` ${piece.turn + 1} of ${stage.times}`
  return (
    <Tray>
      <Stack>
        <Row $between>
          <h2>{piece.piece}</h2>
          <Quiet>{piece.kind?.label}</Quiet>
        </Row>
        <Path aria-label="Stages">
          {path.map(({ id, title }, i) => (
            <li
              key={id}
              {...(i === piece.stage ? { 'data-now': '', 'aria-current': 'step' as const } : {})}
              {...(i < piece.stage ? { 'data-done': '' } : {})}
            >
              {title}
            </li>
          ))}
        </Path>
        {stage && (
          <>
            <Do>
              {stage.do}
              {turn !== '' && <Quiet>{turn}</Quiet>}
            </Do>
            {stage.why !== undefined && <Quiet>{stage.why}</Quiet>}
            {stage.in === 'air' && piece.airMs === null && !closes && (
              <p>It is under water. The clock of the air starts when you lift it.</p>
            )}
            <Clocks piece={piece} stage={stage} nowMs={nowMs} zone={record.settings} />
            {closes && stage.spot && agent && (
              <Two>
                <Field
                  label={`Put on it, of ${stage.spot.percent} %`}
                  unit="mL"
                  value={typed.ml}
                  onChange={(ml) => setTyped({ ...typed, ml })}
                  numeric
                  hint={
                    agent.thinTimes > 1.02
                      ? `The bottle 1 + ${Number((agent.thinTimes - 1).toFixed(1))} with tank water; ${stage.spot.ml.least} to ${stage.spot.ml.most} mL`
                      : `${stage.spot.ml.least} to ${stage.spot.ml.most} mL, the bottle as it is`
                  }
                />
              </Two>
            )}
            {(stage.spot ?? stage.soak) && !agent && (
              <Well>No bottle was chosen for it: pass over this stage, or end it here and choose one.</Well>
            )}
            {closes && stage.seals && (
              <Two>
                <Counter
                  field={{ id: 'spots', label: 'Spots closed' }}
                  of={piece.piece}
                  value={typed.spots}
                  onChange={(spots) => setTyped({ ...typed, spots })}
                />
                <Field
                  label="Putty in all"
                  unit="g"
                  value={typed.grams}
                  onChange={(grams) => setTyped({ ...typed, grams })}
                  numeric
                  hint={
                    work.puttyMostG === null
                      ? 'Leave empty where none'
                      : `At most ${Number(work.puttyMostG.toFixed(1))} g a day in this water; leave empty where none`
                  }
                />
              </Two>
            )}
            {closes && stage.finds && (
              <>
                <Two>
                  {(['mobiles', 'eggs'] as const).map((id) => (
                    <Counter
                      key={id}
                      field={{ id, label: id === 'mobiles' ? 'Animals found' : 'Egg clutches' }}
                      of={piece.piece}
                      value={finds[id]}
                      onChange={(value) => setFinds((before) => ({ ...before, [id]: value }))}
                    />
                  ))}
                </Two>
                <Row>
                  <Button onPress={() => setFinds({ mobiles: '0', eggs: '0' })}>Nothing found</Button>
                </Row>
              </>
            )}
            {closes &&
              measures.map((measure) => (
                <Stack key={measure.id} $gap={6}>
                  <h3>{measure.title}</h3>
                  <Two>
                    {measure.fields
                      .filter(({ id, optional }) => optional !== true || id === 'returned')
                      .map((field) => (
                        <Counter
                          key={field.id}
                          field={field}
                          of={`${measure.title.toLowerCase()}, ${piece.piece}`}
                          value={values[`${measure.id}/${field.id}`] ?? ''}
                          onChange={(value) =>
                            setValues((before) => ({ ...before, [`${measure.id}/${field.id}`]: value }))
                          }
                        />
                      ))}
                  </Two>
                </Stack>
              ))}
            {stage.photo && (
              <Photos
                subject={{
                  vesselId: step.vesselId,
                  ...(piece.residentId === undefined ? {} : { residentId: piece.residentId }),
                }}
                note={`${piece.piece}, ${stage.photo} the bench`}
                only={`${piece.piece}, ${stage.photo} the bench`}
              />
            )}
          </>
        )}
        {fault !== null && <Quiet>{fault}</Quiet>}
        {!unasked && <Refusals refusals={asking.spoken} override={asking.override} onOverride={asking.setOverride} />}
        <Failure words={asking.failure} />
        <Thumb>
          <Button
            look="main"
            isDisabled={drafts === null || (!asking.may && !unasked)}
            onPress={() => (asking.may ? void asking.commit() : setPressedEarly(stageKey))}
          >
            {pressWords(acts, turn)}
          </Button>
          {piece.airMs !== null && closes && <Break step={step} piece={piece} />}
        </Thumb>
        <OtherPiece step={step} piece={piece} onNamed={onNamed} />
      </Stack>
    </Tray>
  )
}

/** The wrong piece was pressed: what stands of it goes to the one that is in hand. */
function OtherPiece({ step, piece, onNamed }: { step: Step; piece: BenchPiece; onNamed: (piece: string) => void }) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const save = useSave()
  const work = step.bench!
  const allowed = airKinds.filter(({ id }) => work.kinds === null || work.kinds.includes(id))
  const [open, setOpen] = useState(false)
  const [name, setName] = useState('')
  const [kind, setKind] = useState('')
  const others = residentsIn(record, active, step.vesselId, nowMs).filter(
    ({ body }) => body.name !== piece.piece && airKindFor(body) !== null && airKindFor(body) !== undefined,
  )
  const right = name.trim().slice(0, 60)
  const rename = async () => {
    const resident = others.find(({ body }) => body.name === right)
    const drafts = benchRenamed(active, step.key, piece.piece, {
      piece: right,
      air: kind,
      ...(resident ? { residentId: resident.id } : {}),
    })
    if (await save(drafts as unknown as Draft[], `It was ${right}, not ${piece.piece}: corrected.`)) {
      setOpen(false)
      onNamed(right)
    }
  }
  if (!open)
    return (
      <Row>
        <Button look="bare" onPress={() => setOpen(true)}>
          It is another piece
        </Button>
      </Row>
    )
  return (
    <Well role="group" aria-label="It is another piece">
      <Stack $gap={10}>
        <p>Which one is in your hand? Time, millilitres and counts of {piece.piece} go to it.</p>
        {others.length > 0 && (
          <Row $gap={6}>
            {others.map(({ id, body }) => (
              <Button
                key={id}
                look={body.name === name ? 'main' : 'plain'}
                onPress={() => {
                  setName(body.name)
                  setKind(airKindFor(body)?.id ?? '')
                }}
              >
                {body.name}
              </Button>
            ))}
          </Row>
        )}
        <Two>
          <Field label="The right name" value={name} onChange={setName} />
          <Select
            label="What the right one is"
            value={kind}
            onChange={setKind}
            options={[{ value: '', label: 'please choose' }, ...allowed.map(({ id, label }) => ({ value: id, label }))]}
          />
        </Two>
        <Row>
          <Button isDisabled={right === '' || right === piece.piece || kind === ''} onPress={() => void rename()}>
            Put it right
          </Button>
          <Button look="bare" onPress={() => setOpen(false)}>
            No, it is {piece.piece}
          </Button>
        </Row>
      </Stack>
    </Well>
  )
}

/** Under water in the middle of a stage: the time in air stops, the stage stays. */
function Break({ step, piece }: { step: Step; piece: BenchPiece }) {
  const { active } = useRecord()
  const save = useSave()
  return (
    <Button
      onPress={() =>
        void save(
          benchDrafts(step, step.key, benchNoted(step.key, active), piece.piece, undefined, [
            'lower',
          ]) as unknown as Draft[],
          `${piece.piece}: under water, a break.`,
        )
      }
    >
      Into the water, a break
    </Button>
  )
}

function Clocks({
  piece,
  stage,
  nowMs,
  zone,
}: {
  piece: BenchPiece
  stage: BenchStage
  nowMs: number
  zone: Parameters<typeof timeText>[1]
}) {
  const { kind, airMs } = piece
  const budget = kind ? airBudget(kind, piece) : null
  const seconds = Math.max(0, (nowMs - piece.stageMs) / 1000)
  const { minutes } = stage
  const running = minutes && (stage.in === 'air') === (airMs !== null)
  const tooLong = running && seconds > minutes.max * 60
  return (
    <Stack $gap={6}>
      {running && (
        <>
          <Clock data-over={tooLong ? '' : undefined} aria-label="Time of this stage">
            {clockText(seconds)}
          </Clock>
          <p style={{ fontSize: 18 }}>
            {tooLong
              ? `Over the longest of ${minutes.max} min. Go on now.`
              : seconds >= minutes.usual * 60
                ? 'Long enough.'
                : `${clockText(Math.max(0, minutes.usual * 60 - seconds))} to go, until ${timeText(piece.stageMs + minutes.usual * 60_000, zone)}.`}
          </p>
        </>
      )}
      {kind && budget && (airMs !== null || piece.dayS > 0) && (
        <>
          {airMs !== null && !running && (
            <Clock data-over={budget.tone === 'over' ? '' : undefined} aria-label="In air">
              {clockText(piece.airS)}
            </Clock>
          )}
          <p aria-live="polite">
            {airMs !== null ? (
              <>
                In air for <strong>{clockText(piece.airS)}</strong> of {clockText(kind.onceS)}; within a day{' '}
                {clockText(piece.dayS)} of {clockText(kind.dayS)}.{' '}
                {budget.tone === 'over' ? (
                  <Tag $tone="due">back under water now</Tag>
                ) : budget.tone === 'near' ? (
                  <Tag $tone="due">nearly used up</Tag>
                ) : (
                  `Back under by ${timeText(airMs + 1000 * Math.min(kind.onceS, piece.airS + budget.dayLeftS), zone)}.`
                )}
              </>
            ) : (
              <Quiet>
                In air today: {clockText(piece.dayS)} of {clockText(kind.dayS)}.
              </Quiet>
            )}
          </p>
        </>
      )}
    </Stack>
  )
}

/** What ends the work on a piece at once; the reason is the button. */
function Stop({ step, piece }: { step: Step; piece: BenchPiece }) {
  const { active } = useRecord()
  const save = useSave()
  const stop = (reason: string) =>
    save(
      benchDrafts(step, step.key, benchNoted(step.key, active), piece.piece, undefined, ['abort'], {
        reason: reason.slice(0, 200),
      }) as unknown as Draft[],
      `${piece.piece}: broken off, under water. ${reason}.`,
    )
  return (
    <Tray $tone="danger">
      <Stack $gap={8}>
        <h2>Into the water at once on</h2>
        <Thumb>
          {[...step.bench!.abortSigns, 'another reason'].map((sign) => (
            <Button key={sign} onPress={() => void stop(sign)}>
              {sign}
            </Button>
          ))}
        </Thumb>
        <Quiet>A press ends the work on {piece.piece} for today.</Quiet>
      </Stack>
    </Tray>
  )
}
