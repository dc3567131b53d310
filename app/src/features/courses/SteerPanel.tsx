// Steering by test: what is there, what is used up, what to add now in grams by the net volume, never over the day's limit.
import { TrustLink } from '../../parts/TrustLink.tsx'
import {
  actContext,
  addedMeasure,
  DROPS_PER_ML,
  parseQuantity,
  readPour,
  apartUntil,
  riseWithin,
  waitsFor,
  correctionOf,
  saltGrams,
  stockPortion,
  saltWorking,
  portionsFor,
  secondResult,
  steerState,
  type CourseDocument,
  type Protocol,
  type Salt,
  type SteerState,
} from '@brinvo/core'
import { useEffect, useMemo, useState } from 'react'
import { styled } from 'styled-components'
import { useRecord, type Draft } from '../../data/queries.tsx'
import { Field, Select } from '../../design/fields.tsx'
import { Button, Facts, Quiet, Row, Stack, Tag, Tray, Well } from '../../design/primitives.tsx'
import { WorkingButton } from '../../design/Working.tsx'
import { timeText, sentenceCase, whenText } from '../../design/words.ts'
import { HazardCard } from '../../parts/HazardCard.tsx'
import { Asked } from '../../parts/Refusals.tsx'
import { useSave } from '../../parts/StepActions.tsx'
import { useAct } from '../../parts/useAct.ts'
import { useLog } from '../../shell/LogContext.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'

const Section = styled.section`
  display: grid;
  gap: 8px;
  border-top: 1px solid var(--hairline);
  padding-top: 12px;
  summary {
    min-height: 44px;
    display: flex;
    align-items: center;
    cursor: pointer;
    text-decoration: underline;
    text-underline-offset: 3px;
  }
`
const number = (value: number): string => String(Number(value.toPrecision(2)))

export function SteerPanels({ course, ids }: { course: CourseDocument; ids: readonly string[] }) {
  const protocol = course.body.protocol as unknown as Protocol
  // A correction that belongs to some ways only, such as silicate to the sand dwellers, is shown there alone.
  const mine = ids.filter((id) => {
    const rule = protocol.phases.flatMap(({ rules }) => rules).find((one) => one.id === id)
    return rule?.onlyFor === undefined || rule.onlyFor.includes(course.body.variant)
  })
  // Steps of the round lead here; the page itself goes to its top first.
  useEffect(() => {
    if (window.location.hash !== '#steering') return
    const timer = setTimeout(() => document.getElementById('steering')?.scrollIntoView(), 100)
    return () => clearTimeout(timer)
  }, [])
  const hazards = [...new Set(mine.flatMap((id) => correctionOf(id)?.hazards ?? []))]
  if (mine.length === 0) return null
  return (
    <Tray id="steering">
      <Stack>
        <h2>
          Steering <Quiet>by test, never over the day’s limit</Quiet>
        </h2>
        <HazardCard hazardIds={hazards} short />
        {mine.map((id) => (
          <SteerPanel key={id} course={course} vesselId={course.body.vesselId} id={id} />
        ))}
      </Stack>
    </Tray>
  )
}

/** The course that an entry belongs to, where there is one. */
const courseOf = (course: CourseDocument | null) => (course === null ? {} : { courseId: course.id })

/** One correction of a vessel, within a course or without one. */
export function SteerPanel({
  course,
  vesselId,
  id,
  perDay,
  saltId,
}: {
  readonly course: CourseDocument | null
  readonly vesselId: string
  readonly id: string
  /** Most in a day, where less than the usual is wished. */
  readonly perDay?: number
  /** The salt, where it is chosen elsewhere on the page. */
  readonly saltId?: string
}) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const state = useMemo(
    () => steerState(record, active, vesselId, id, nowMs, undefined, perDay),
    [record, active, vesselId, id, nowMs, perDay],
  )
  if (!state) return null
  return (
    <Steer
      key={`${state.reading?.id ?? 'none'} ${saltId ?? ''}`}
      state={state}
      course={course}
      vesselId={vesselId}
      given={saltId ?? null}
    />
  )
}

function Steer({
  state,
  course,
  vesselId,
  given,
}: {
  readonly state: SteerState
  readonly course: CourseDocument | null
  readonly vesselId: string
  readonly given: string | null
}) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const log = useLog()
  const save = useSave()
  // A portion that went in before its time is still told.
  const [early, setEarly] = useState(false)
  const { correction, reading, use, dose, rise, volumeL } = state
  const [saltId, setSalt] = useState(given ?? (correction.salts.find(({ usual }) => usual) ?? correction.salts[0]!).id)
  const salt: Salt = correction.salts.find((one) => one.id === saltId)!
  const { poured, nextMs } = state
  const context = actContext(record, nowMs)
  // What the salt brings along has a day's pace of its own: what is offered keeps to the slower of the two.
  const within = riseWithin(context, vesselId, salt, rise, nowMs)
  const portionsToday = portionsFor(correction, salt, state.raisedToday + within.rise)
  const portionsLeft = Math.max(1, portionsToday - poured)
  const portionRise = Math.min(within.rise / portionsLeft, salt.portionMost ?? Infinity)
  const suggested = volumeL === null ? 0 : saltGrams(portionRise, salt, volumeL)
  const again = secondResult(state)
  const waits =
    again === null
      ? waitsFor(context, vesselId, correction, nowMs)
      : { analyte: correction.analyte as string, words: again }
  const apartMs = apartUntil(context, vesselId, correction, nowMs)
  const [typed, setTyped] = useState<string | null>(null)
  // Weighed, or out of a stock: the strength of the last one poured here is proposed again.
  const lastStock = active.findLast(
    (entry) =>
      entry.kind === 'tally' &&
      entry.measure === addedMeasure(correction.id) &&
      entry.note === salt.label &&
      entry.values['grams-per-l'] !== undefined,
  )
  const lastStrength = lastStock?.kind === 'tally' ? lastStock.values['grams-per-l'] : undefined
  const [as, setAs] = useState<'g' | 'mL' | 'drop'>(lastStrength === undefined ? 'g' : 'mL')
  const [strength, setStrength] = useState(lastStrength === undefined ? '' : String(lastStrength))
  const strengthRead = parseQuantity(strength, {
    dimension: 'count',
    label: 'Grams in a litre',
    allowBound: false,
    max: 2000,
  })
  const gramsPerL = strengthRead.ok ? strengthRead.value.value : 0
  const inUnit = (grams: number) =>
    as === 'g' ? grams : gramsPerL > 0 ? ((1000 * grams) / gramsPerL) * (as === 'drop' ? DROPS_PER_ML : 1) : 0
  const proposed = as === 'drop' ? String(Math.max(1, Math.floor(inUnit(suggested) + 1e-9))) : number(inUnit(suggested))
  const [spike, setSpike] = useState('')
  const asking = useAct(
    volumeL === null
      ? null
      : {
          kind: 'correction',
          vesselId,
          ...courseOf(course),
          correction: correction.id,
          salt: saltId,
          grams: typed ?? proposed,
          ...(as === 'g' ? {} : { stock: { gramsPerL, unit: as } }),
        },
  )
  const amount = readPour(typed ?? proposed, as)
  const grams = amount.ok && inUnit(1) > 0 ? amount.value.amount / inUnit(1) : null
  const stock = grams !== null && as === 'g' ? stockPortion(grams) : null
  const base = { vesselId, ...courseOf(course) }
  const add = async () => {
    if (!(await asking.commit())) return
    setTyped(null)
    setEarly(false)
  }
  const spikeRead = parseQuantity(spike, {
    dimension: 'concentration',
    fieldUnit: 'mg/L',
    label: 'The spiked cup',
    allowBound: false,
    max: 20,
  })
  return (
    <Section aria-label={`Steering ${correction.analyte}`}>
      <Row $between>
        <h3>
          {sentenceCase(correction.analyte)}{' '}
          <Quiet>
            {reading
              ? `${reading.bound === 'below' ? '< ' : ''}${reading.value} ${reading.unit} ${whenText(Date.parse(reading.at), nowMs, record.settings)}, towards`
              : 'not tested in three weeks, towards'}{' '}
            {state.wanted.target} {correction.unit}
          </Quiet>
        </h3>
        <Button
          look="bare"
          aria-label={`Enter a test: ${correction.analyte}`}
          onPress={() => log({ kind: 'reading', vesselId, ...courseOf(course), analyte: correction.analyte as never })}
        >
          Enter a test
        </Button>
      </Row>
      <p style={{ fontSize: 17 }}>{sentence(state, (ms) => whenText(ms, nowMs, record.settings))}</p>
      {state.watch
        .filter(({ tone }) => tone === 'caution')
        .map(({ words }) => (
          <p key={words}>
            <Tag $tone="due">watch</Tag> {words}
          </p>
        ))}
      {state.silicate?.verdict === 'spike-test' && (
        <Well>
          <Row style={{ alignItems: 'end' }}>
            <Field label="The spiked cup reads" unit="mg/L" value={spike} onChange={setSpike} numeric />
            <Button
              isDisabled={!spikeRead.ok}
              onPress={() =>
                void save(
                  [
                    {
                      kind: 'tally',
                      ...base,
                      measure: 'silicate-spike',
                      values: { read: spikeRead.ok ? spikeRead.value.value : 0 },
                    } as unknown as Draft,
                  ],
                  'Spike test: noted.',
                )
              }
            >
              Note it
            </Button>
          </Row>
        </Well>
      )}
      {rise > 0 && waits !== null && (
        <Well>
          {waits.words}{' '}
          <Button
            look="bare"
            onPress={() => log({ kind: 'reading', vesselId, ...courseOf(course), analyte: waits.analyte as never })}
          >
            Test {waits.analyte}
          </Button>
        </Well>
      )}
      {rise > 0 && waits === null && apartMs !== null && (
        <Well>
          From {timeText(apartMs, record.settings)}: what went in just before must be spread through the tank first, or
          both fall out as chalk.
        </Well>
      )}
      {rise > 0 && waits === null && apartMs === null && nextMs !== null && !early && (
        <Well>
          <Row $gap={12}>
            <span>
              Portion {poured + 1} of {Math.max(portionsToday, poured + 1)} from {timeText(nextMs, record.settings)}.
            </span>
            <Button look="bare" aria-label={`It went in already: ${correction.analyte}`} onPress={() => setEarly(true)}>
              It went in already
            </Button>
          </Row>
        </Well>
      )}
      {rise > 0 && waits === null && apartMs === null && (nextMs === null || early) && volumeL !== null && (
        <>
          <Row style={{ alignItems: 'end' }}>
            <div style={{ width: 170 }}>
              <Field
                label={`${correction.title.split(' ')[0]} to add`}
                unit={as === 'drop' ? 'drops' : as}
                value={typed ?? proposed}
                onChange={setTyped}
                numeric
              />
            </div>
            {given === null && (
              <div style={{ flex: '1 1 180px', maxWidth: 300 }}>
                <Select
                  label="Salt"
                  value={saltId}
                  onChange={setSalt}
                  options={correction.salts.map(({ id, label }) => ({ value: id, label }))}
                />
              </div>
            )}
            <div style={{ width: 150 }}>
              <Select
                label="As"
                value={as}
                onChange={(next) => {
                  setAs(next as typeof as)
                  setTyped(null)
                }}
                options={[
                  { value: 'g', label: 'salt, weighed' },
                  { value: 'mL', label: 'mL of a stock' },
                  { value: 'drop', label: 'drops of a stock' },
                ]}
              />
            </div>
            {as !== 'g' && (
              <div style={{ width: 120 }}>
                <Field label="Grams in a litre" unit="g/L" value={strength} onChange={setStrength} numeric />
              </div>
            )}
            <Button
              look="main"
              isDisabled={!asking.may || asking.busy}
              aria-label={`Added, log it: ${correction.analyte}`}
              onPress={() => void add()}
            >
              Added, log it
            </Button>
            <WorkingButton working={saltWorking(correction, salt, rise, volumeL)} />
          </Row>
          <Quiet>
            {asking.answer.preview.lines.join(' ')}{' '}
            {within.by !== null ? `Less than the pace of ${correction.analyte} allows, because of ${within.by}. ` : ''}
            {correction.portions
              ? `Portion ${poured + 1} of ${Math.max(portionsToday, poured + 1)} today, ${correction.portions.apartMinutes} min apart. `
              : ''}
            {stock !== null
              ? `Too little to weigh: ${number(stock.gramsPerL / 10)} g of the salt in 100 mL of RO water, labelled; ${number(stock.mL)} mL of it, about ${Math.round(stock.mL * 20)} drops. `
              : ''}
            {correction.portions && typed === null && suggested > 0 && as === 'g'
              ? `By pump: ${number(suggested * portionsLeft)} g in a litre of RO water, 42 mL an hour for a day. `
              : ''}
            {correction.portions && portionsLeft > 1 && typed === null && suggested > 0 && as === 'g' && (
              <Button
                look="bare"
                aria-label={`A pump pours the day: ${correction.analyte}`}
                onPress={() => setTyped(number(suggested * portionsLeft))}
              >
                A pump pours the day
              </Button>
            )}
            {grams !== null && state.volumeL !== null
              ? (salt.side ?? [])
                  .map(
                    ({ analyte, perUnit, unit }) =>
                      `Brings ${number((perUnit * grams) / saltGrams(1, salt, state.volumeL!))} ${unit} of ${analyte}.`,
                  )
                  .join(' ')
              : ''}
          </Quiet>
          {asking.answer.problem !== null && typed !== null ? (
            <p role="alert" style={{ color: 'var(--danger)', fontWeight: 650 }}>
              {asking.answer.problem}
            </p>
          ) : (
            <Asked asking={asking} />
          )}
        </>
      )}
      <details>
        <summary>What is used up, and the rules</summary>
        <Facts>
          {dose && reading && (
            <>
              <dt>thought to be there now</dt>
              <dd>
                {number(dose.now)} {correction.unit}
              </dd>
            </>
          )}
          <dt>used up a day</dt>
          <dd>
            {use
              ? `${use.atLeast ? 'at least ' : ''}${number(Math.max(0, use.perDay))} ${correction.unit}${use.sure ? ` (${number(Math.max(0, use.low))} to ${number(Math.max(0, use.high))})` : ', within the scatter of the kit'}`
              : 'two tests a day apart tell it'}{' '}
            <TrustLink part="use" />
          </dd>
          <dt>most a day</dt>
          <dd>
            {correction.perDay} {correction.unit}, never over {correction.perDayMax}
          </dd>
        </Facts>
        <ul style={{ listStyle: 'disc', paddingLeft: 18, marginTop: 8 }}>
          {[
            ...state.watch.map(({ words }) => words),
            ...correction.rules,
            ...(correction.pause ?? []).map((line) => `Pause: ${line}.`),
          ].map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
      </details>
    </Section>
  )
}

/** What the numbers mean for today, in one sentence. */
function sentence(
  { dose, silicate, rise, correction, stopped, roomMs, endDue }: SteerState,
  when: (ms: number) => string,
): string {
  if (stopped !== null) return `Nothing is added: ${stopped}`
  const unit = correction.unit
  if (silicate)
    return {
      first: `First dose: ${number(rise)} ${unit}. Test one hour and 24 hours after.`,
      again: `Nobody tested an hour after the last dose: ${rise > 0 ? `${number(rise)} ${unit} once more, no more than before` : 'there is enough in the water'}. Test an hour after it.`,
      test: 'Test one hour and 24 hours after the last dose before the next: a zero after a day only says it was eaten.',
      'spike-test':
        'The hour’s test reads far under the arithmetic. Spike a cup of tank water with 2 mg/L before you raise anything.',
      'kit-or-stock':
        'The spiked cup reads wrong: the kit or the stock is at fault. Nothing more until it reads right.',
      pause: 'Fifteen mg/L in two weeks without a single reading: pause, and look at a slide.',
      stop: 'Above 3 mg/L: no more until it is under 2.',
      dose: `Add ${number(rise)} ${unit}${silicate.used === null ? '' : `; ${silicate.atLeast ? 'at least ' : ''}${number(silicate.used)} ${unit} were used in a day`}.`,
    }[silicate.verdict]
  if (!dose) return 'Test first: nothing is added blind.'
  switch (dose.reason) {
    case 'stale':
      return 'The last test is more than four days old: test before anything is added.'
    case 'due':
      return 'Three days’ portions went in since the last test: test before any more.'
    case 'above':
      if (endDue) return 'By arithmetic it is at its target: the test that ends it is due.'
      return 'At or above the target: nothing today.'
    case 'limit':
      return `The day’s pace is reached${roomMs === null ? ': nothing more today' : `: more from ${when(roomMs)}`}.`
    case 'hold':
      return `At the target. ${number(rise)} ${unit} hold it until tomorrow.`
    case 'raise':
      return `Raise by ${number(rise)} ${unit} today${dose.days === null ? '; at this use the limit never reaches the target' : `; about ${dose.days} ${dose.days === 1 ? 'day' : 'days'} to the target`}.`
  }
}
