// A round at the bench: bowls laid out, then piece by piece into the dip, out, brushed, counted, back. Every time is an
// entry, so that a reload loses nothing.
import { clockMs } from '../../data/clock.ts'
import {
  agentForm,
  groupOf,
  residentsIn,
  type BathEntry,
  type Intent,
  type Protocol,
  type ResidentDocument,
  type Step,
} from '@brinvo/core'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { v7 } from 'uuid'
import { useNow, useRecord, type Draft } from '../../data/queries.tsx'
import { Field } from '../../design/fields.tsx'
import { Button, LinkButton, Page, Quiet, Row, Stack, Tag, Tray, Well } from '../../design/primitives.tsx'
import { plural, whenText } from '../../design/words.ts'
import { HazardCard } from '../../parts/HazardCard.tsx'
import { Asked } from '../../parts/Refusals.tsx'
import { useSave } from '../../parts/StepActions.tsx'
import { Ticks } from '../../parts/Ticks.tsx'
import { useAct } from '../../parts/useAct.ts'
import { useCommit } from '../../parts/useCommit.ts'
import { NotFound } from '../../shell/NotFound.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { AbortSigns, Clock, clockText, DipAmount, Thumb } from './bench.tsx'
import { Counter, countOf } from './Counter.tsx'
import { useGoOn } from '../../shell/useGoOn.ts'

export function RoundPage() {
  const { id = '', ruleId = '' } = useParams()
  const { record } = useRecord()
  const { plans } = useThePlans()
  const course = record.courses.get(id)
  const steps = plans.find(({ courseId }) => courseId === id)?.steps.filter((step) => step.ruleId === ruleId) ?? []
  const step = steps.find(({ round }) => round !== undefined)
  if (!course || (steps.length === 0 && !step)) return <NotFound />
  if (!step)
    return (
      <Page>
        <Tray>
          <Stack>
            <h1>No round is open</h1>
            <p>What was found last asks for none. Looks without treatment follow.</p>
            <Row>
              <LinkButton to={`/courses/${id}`}>Back to the campaign</LinkButton>
            </Row>
          </Stack>
        </Tray>
      </Page>
    )
  return <Round step={step} courseId={id} protocol={course.body.protocol as unknown as Protocol} />
}

/** Pieces of the register that are offered as buttons; others are typed. */
const MOST_OFFERED = 8
function Round({ step, courseId, protocol }: { step: Step; courseId: string; protocol: Protocol }) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const save = useSave()
  const goOn = useGoOn()
  const round = step.round!
  const measure = protocol.campaign!.measures.find(({ id }) => id === round.measure)!
  const [ready, setReady] = useState<ReadonlySet<string>>(new Set())
  const product = step.dose ? record.products.get(step.dose.productId) : undefined
  const form = product ? agentForm(product.body.form) : undefined
  const prefix = `${step.key}/`
  const counted = active.flatMap((entry) => (entry.kind === 'tally' && entry.step?.startsWith(prefix) ? [entry] : []))
  const baths = active.filter(
    (entry): entry is BathEntry =>
      entry.kind === 'bath' &&
      entry.courseId === courseId &&
      entry.rule === step.ruleId &&
      (entry.step?.startsWith(prefix) ?? false),
  )
  const begun = counted.length > 0 || baths.length > 0
  const last = baths.at(-1)
  const inHand =
    last && !counted.some(({ step: of }) => of === last.step)
      ? { piece: last.step!.slice(prefix.length), entry: last }
      : null
  const before = [
    ...new Set(
      active.flatMap((entry) =>
        entry.kind === 'tally' &&
        entry.courseId === courseId &&
        entry.measure === measure.id &&
        entry.piece !== undefined
          ? [entry.piece]
          : [],
      ),
    ),
  ]
  const [naming, setNaming] = useState('')
  const done = new Set(counted.map(({ piece }) => piece))
  // What the register knows needs no typing: those of the genus that is meant first.
  const meant = ({ body }: ResidentDocument) =>
    protocol.title.includes((body.scientificName ?? '–').split(' ')[0]!) ? 0 : 1
  const registered = residentsIn(record, active, step.vesselId, nowMs)
    .filter(({ body }) => (protocol.hosts ?? []).some((host) => host === groupOf(body.group)?.kind))
    .sort((a, b) => meant(a) - meant(b))
    .map(({ body }) => body.name)
    .slice(0, MOST_OFFERED)
  const todo = before.filter((piece) => !done.has(piece))
  // One that was treated before and is left out now is a source; one that never was is only offered.
  const offered = [...todo, ...registered.filter((piece) => !done.has(piece) && !before.includes(piece))]
  const [temperature, setTemperature] = useState('')
  const intentFor = (piece: string): Intent => ({
    kind: 'bath',
    vesselId: step.vesselId,
    courseId,
    rule: step.ruleId,
    residentIds: [],
    litres: round.litres,
    minutes: round.minutes.usual,
    pieceStep: `${prefix}${piece}`,
    ...(temperature.trim() === '' ? {} : { temperature }),
    ...(step.dose
      ? {
          productId: step.dose.productId,
          amount: `${step.dose.amount} ${step.dose.unit}`,
        }
      : {}),
  })
  // Every piece of a round goes into the same bowl: what speaks against one speaks against all.
  const asking = useAct(inHand && inHand.entry.act === 'start' ? null : intentFor(todo[0] ?? 'piece'))
  const commit = useCommit()
  const into = async (piece: string) => {
    const failed = await commit(
      intentFor(piece),
      { actId: v7(), override: asking.override, shown: asking.answer },
      `${piece}: into the dip.`,
    )
    if (failed === null) setTemperature('')
    return failed === null
  }
  const finish = async () => {
    const minutes = Math.max(1, Math.round((clockMs() - Date.parse((baths[0] ?? counted[0])!.at)) / 60_000))
    const total = counted.reduce((sum, { values }) => sum + (values['mobiles'] ?? 0), 0)
    const eggs = counted.reduce((sum, { values }) => sum + (values['eggs'] ?? 0), 0)
    const least = round.minutes.min
    const short = new Set(baths.flatMap(({ step: of }) => of ?? []))
    for (const { act, minutes: dipped, step: of } of baths)
      if (act !== 'start' && (dipped ?? 0) >= least && of !== undefined) short.delete(of)
    const words = `${step.title}: ${plural(counted.length, 'piece')}, ${total} found${eggs > 0 ? `, ${plural(eggs, 'egg clutch', 'egg clutches')}` : ''}${short.size > 0 ? `, ${short.size} dipped shorter than ${least} min` : ''}.`
    const draft = {
      kind: 'done',
      vesselId: step.vesselId,
      courseId,
      step: step.key,
      what: words.slice(0, 120),
      note: `${minutes} min`,
    }
    if (await save([draft as unknown as Draft], words)) goOn(`/courses/${courseId}`)
  }
  const missing = round.ready.filter((item) => !ready.has(item))
  return (
    <Page $aside>
      <Stack $gap={16}>
        <p>
          <Link to={`/courses/${courseId}`}>{protocol.title}</Link>
        </p>
        <h1>
          Round {round.number} <Quiet>of {round.of} by what was found up to now</Quiet>
        </h1>
        {step.state === 'ahead' && !begun && (
          <Tray $tone="caution">
            Due {whenText(step.dueMs, nowMs, record.settings)}: much sooner stresses the corals and finds fewer
            hatchlings.
          </Tray>
        )}
        <HazardCard hazardIds={[...(form?.hazards ?? []), ...(protocol.campaign!.hazards ?? [])]} short={begun} />
        {!begun && <DipAmount step={step} litres={round.litres} of="dip" />}
        {!begun && !step.dose && (
          <Well>
            <p>
              No bottle is chosen: a plain dip with jets takes about half of what a dip with a bottle takes.{' '}
              <Link to={`/courses/${step.courseId}?uses=1`}>Choose one now</Link>.
            </p>
          </Well>
        )}
        {!begun && (
          <Tray>
            <Stack $gap={4}>
              <h2>Laid out first, left to right</h2>
              <Ticks items={round.ready} value={ready} onChange={setReady} />
            </Stack>
          </Tray>
        )}
        {inHand ? (
          <InHand
            key={inHand.entry.id}
            step={step}
            courseId={courseId}
            measure={measure}
            piece={inHand.piece}
            bath={inHand.entry}
            again={asking.may ? () => void into(inHand.piece) : null}
          />
        ) : (
          <Tray>
            <Stack>
              <h2>{begun ? 'Next piece' : 'First piece'}</h2>
              {missing.length > 0 && !begun && <Quiet>{missing.length} still to lay out.</Quiet>}
              <Asked asking={asking} temperature={temperature} onTemperature={setTemperature} />
              <Thumb>
                {offered.map((piece) => (
                  <Button
                    key={piece}
                    look={piece === offered[0] ? 'main' : 'plain'}
                    isDisabled={!asking.may || (!begun && missing.length > 0)}
                    onPress={() => void into(piece)}
                  >
                    {piece}: into the dip
                  </Button>
                ))}
              </Thumb>
              <Row style={{ alignItems: 'end' }}>
                <div style={{ flex: '1 1 200px' }}>
                  <Field label="Another piece" value={naming} onChange={setNaming} placeholder="green plate, left" />
                </div>
                <Button
                  isDisabled={naming.trim() === '' || !asking.may || (!begun && missing.length > 0)}
                  onPress={() => {
                    void into(naming.trim().slice(0, 40)).then((kept) => {
                      if (kept) setNaming('')
                    })
                  }}
                >
                  Into the dip
                </Button>
              </Row>
            </Stack>
          </Tray>
        )}
        {counted.length > 0 && (
          <Tray>
            <Stack $gap={6}>
              <h2>Counted</h2>
              <ul>
                {counted.map((entry) => (
                  <li key={entry.id} style={{ padding: '4px 0' }}>
                    <strong>{entry.piece}</strong>{' '}
                    {measure.fields
                      .flatMap(({ id, label }) =>
                        entry.values[id] === undefined ? [] : [`${label.toLowerCase()} ${entry.values[id]}`],
                      )
                      .join(', ')}
                  </li>
                ))}
              </ul>
              {inHand === null && (
                <Thumb>
                  <Button look={todo.length === 0 ? 'main' : 'plain'} onPress={() => void finish()}>
                    {todo.length === 0 ? 'Finish the round' : `Finish without ${plural(todo.length, 'piece')}`}
                  </Button>
                </Thumb>
              )}
              {todo.length > 0 && inHand === null && <Quiet>One untreated piece is a source.</Quiet>}
            </Stack>
          </Tray>
        )}
      </Stack>
      <Stack $gap={16}>
        <AbortSigns signs={round.abortSigns} minutes={round.minutes} airSeconds={round.airSeconds} />
        {round.rinse !== null && <Well>{round.rinse}</Well>}
      </Stack>
    </Page>
  )
}

/** One piece on its way through the bowls: contact time, then brush and lens against the time in air, then its count. */
function InHand({
  step,
  courseId,
  measure,
  piece,
  bath,
  again,
}: {
  step: Step
  courseId: string
  measure: NonNullable<Protocol['campaign']>['measures'][number]
  piece: string
  bath: BathEntry
  /** Into the dip once more; null where that may not be. */
  again: (() => void) | null
}) {
  const save = useSave()
  const nowMs = useNow(500)
  const round = step.round!
  const [values, setValues] = useState<Readonly<Record<string, string>>>({})
  const seconds = Math.max(0, (nowMs - Date.parse(bath.at)) / 1000)
  const over = seconds > round.minutes.max * 60
  const tooShort = (minutes: number) => minutes < round.minutes.min
  const out = (act: 'end' | 'abort') =>
    save(
      [
        {
          kind: 'bath',
          vesselId: step.vesselId,
          courseId,
          rule: step.ruleId,
          act,
          step: bath.step,
          minutes: Math.round(seconds / 6) / 10,
          ...(act === 'abort' ? { reason: 'Signs of distress' } : {}),
        } as Draft,
      ],
      act === 'end' ? `${piece}: out, ${Math.round(seconds / 60)} min.` : `${piece}: out at once.`,
    )
  const filled = measure.fields.every(({ id, optional }) => optional === true || (values[id] ?? '') !== '')
  const keep = () =>
    save(
      [
        {
          kind: 'tally',
          vesselId: step.vesselId,
          courseId,
          measure: measure.id,
          piece,
          step: bath.step,
          values: Object.fromEntries(
            measure.fields.flatMap((field) => {
              const value = countOf(values[field.id] ?? '', field)
              return value === null ? [] : [[field.id, value]]
            }),
          ),
          minutes: Math.round(bath.minutes ?? 0),
        } as unknown as Draft,
      ],
      `${piece}: counted.`,
    )
  if (bath.act === 'start')
    return (
      <Tray>
        <Stack>
          <h2>{piece}: in the dip</h2>
          <Clock data-over={over ? '' : undefined}>{clockText(seconds)}</Clock>
          <p style={{ fontSize: 19 }}>
            {over
              ? 'Over the longest time. Out now.'
              : seconds >= round.minutes.usual * 60
                ? 'The usual time is reached: jets, then out.'
                : `${Math.ceil(round.minutes.usual - seconds / 60)} min to go. Jet it from all sides every minute.`}
          </p>
          <Thumb>
            <Button look={tooShort(seconds / 60) ? 'plain' : 'main'} onPress={() => void out('end')}>
              {tooShort(seconds / 60) ? 'Out too early' : 'Out of the dip'}
            </Button>
            <Button look="danger" onPress={() => void out('abort')}>
              Abort: out now
            </Button>
          </Thumb>
        </Stack>
      </Tray>
    )
  const inAir = round.airSeconds !== null && seconds > round.airSeconds
  return (
    <Tray>
      <Stack>
        <h2>{piece}: brush, lens, count</h2>
        {tooShort(bath.minutes ?? 0) && (
          <Tray $tone="caution">
            <p>
              <strong>
                {bath.minutes ?? 0} min in the dip, of at least {round.minutes.min}.
              </strong>{' '}
              {bath.act === 'abort'
                ? 'For its distress it stays out: what crawls on it was not dipped.'
                : 'What crawls on it was hardly dipped.'}
            </p>
            {bath.act !== 'abort' && again && <Button onPress={again}>Back into the dip</Button>}
          </Tray>
        )}
        {round.brush !== null && <Well>{round.brush}</Well>}
        <p>
          Out of the dip for <strong>{clockText(seconds)}</strong>
          {round.airSeconds !== null && (
            <>
              {' '}
              <Quiet>(at most {round.airSeconds} s in air: work in the rinse bowl)</Quiet>{' '}
              {inAir && <Tag $tone="due">back under water</Tag>}
            </>
          )}
        </p>
        {measure.fields.map((field) => (
          <Counter
            key={field.id}
            field={field}
            of={piece}
            value={values[field.id] ?? ''}
            onChange={(value) => setValues((all) => ({ ...all, [field.id]: value }))}
          />
        ))}
        <Row>
          <Button onPress={() => setValues(Object.fromEntries(measure.fields.map(({ id }) => [id, '0'])))}>
            None found
          </Button>
        </Row>
        <Thumb>
          <Button look="main" isDisabled={!filled} onPress={() => void keep()}>
            Counted, into the hold bowl
          </Button>
        </Thumb>
      </Stack>
    </Tray>
  )
}
