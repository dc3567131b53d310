// Hands and eyes of a practice tank: the clock, a look, the kits, and what no entry does by itself. Doses, changes and media are
// done by writing them down, on the pages that the real tank has.
import { ANALYTES, containerEntries, headsAt, liveInputsOf, liveRun, type Protocol } from '@brinvo/core'
import {
  ARRIVAL_ID,
  bagId,
  bagShows,
  countsOf,
  DKH_PER_MEQ,
  dropOf,
  handOf,
  kitShows,
  lookAt,
  standardShows,
  TANK_ID,
  type Hand,
} from '@brinvo/core/practice'
import { useEffect, useLayoutEffect, useRef, useState } from 'react'
import { Link, useLocation, useNavigate } from 'react-router'
import { styled } from 'styled-components'
import { v7 } from 'uuid'
import { useActions, useDatabase, useRecord, type Draft } from '../../data/queries.tsx'
import { Select } from '../../design/fields.tsx'
import { Button, Quiet, Row, Stack } from '../../design/primitives.tsx'
import { NARROW } from '../../design/theme.ts'
import { plural, sentenceCase, timeText } from '../../design/words.ts'
import { useNotice } from '../../shell/Notices.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { usePracticeTank } from './usePracticeTank.ts'

const MINUTE = 60_000
const HOUR = 60 * MINUTE
const DAY = 24 * HOUR
/** While it runs, an hour passes in this time, ms. */
const RUN_MS = 1200

const Bar = styled.section`
  background: var(--well);
  border-bottom: 2px solid var(--rim);
  padding: 8px 28px 10px;
  ${NARROW} {
    padding: 8px 14px 10px;
  }
  /* The clocks at the tank fill the screen: they stand under it. */
  &[data-over] {
    position: fixed;
    inset: 0 0 auto;
    z-index: 46;
    max-height: 60vh;
    overflow: auto;
  }
  h2 {
    font-size: 17px;
  }
  ul {
    display: grid;
    gap: 2px;
  }
  li {
    display: flex;
    flex-wrap: wrap;
    gap: 0 10px;
    align-items: center;
  }
`

interface Shown {
  readonly atMs: number
  readonly title: string
  readonly lines: readonly {
    readonly words: string
    readonly drafts?: readonly Draft[]
    readonly reading?: string
    readonly died?: { readonly id: string; readonly count: number }
  }[]
}

export function PracticeBar() {
  const { record, active } = useRecord()
  const { open } = useDatabase()
  const { pathname } = useLocation()
  const over = pathname.endsWith('/run')
  /** Pages whose clocks count minutes. */
  const timed = /\/(round|bath|bench|run|transfer)(\/|$)/.test(pathname)
  const [own, setOwn] = useState<HTMLElement | null>(null)
  const { plans } = useThePlans()
  const { act, append } = useActions()
  const navigate = useNavigate()
  const notice = useNotice()
  const { state, world, keep } = usePracticeTank()
  const [shown, setShown] = useState<Shown | null>(null)
  const [written, setWritten] = useState<ReadonlySet<number>>(new Set())
  const [analyte, setAnalyte] = useState('')
  const [uses, setUses] = useState(0)
  const [running, setRunning] = useState(false)
  const told = useRef<Set<string>>(new Set())
  const advance = async (toMs: number) => {
    if (!state) return
    const { begun } = state
    const last = begun.startMs + begun.definition.days * DAY
    const nowMs = Math.min(toMs, last)
    const events = begun.definition.events.flatMap((event) => {
      const atMs = begun.startMs + event.day * DAY + event.hour * HOUR
      return event.told !== undefined && atMs > state.nowMs && atMs <= nowMs ? [{ atMs, words: event.told }] : []
    })
    // Something that is told stops the clock: it is heard when it is said.
    const [first] = events.sort((a, b) => a.atMs - b.atMs)
    const next = first ? Math.min(nowMs, Math.ceil(first.atMs / HOUR) * HOUR) : nowMs
    setShown(first ? { atMs: next, title: 'You are told', lines: [{ words: first.words }] } : null)
    setWritten(new Set())
    if (first) setRunning(false)
    await keep({ ...state, nowMs: next })
    if (next >= last) {
      setRunning(false)
      await navigate('/practice/debrief')
    }
  }
  useLayoutEffect(() => {
    if (!over || !own) return
    const { style } = document.documentElement
    const watch = new ResizeObserver(([entry]) =>
      style.setProperty('--over', `${Math.ceil(entry!.target.getBoundingClientRect().height)}px`),
    )
    watch.observe(own)
    return () => {
      watch.disconnect()
      style.removeProperty('--over')
    }
  }, [over, own])
  const due = plans.flatMap(({ steps }) => steps).filter(({ state: one }) => one === 'due' || one === 'late')
  useEffect(() => {
    if (!running || !state) return
    const timer = setTimeout(() => {
      const news = due.filter(({ key }) => !told.current.has(key))
      for (const { key } of due) told.current.add(key)
      if (news.length > 0 && told.current.size > news.length) return setRunning(false)
      void advance(state.nowMs + HOUR)
    }, RUN_MS)
    return () => clearTimeout(timer)
    // eslint-disable-next-line react-hooks/exhaustive-deps -- each hour sets up the next
  }, [running, state])
  if (!state || !world) return null
  const { begun, nowMs } = state
  const { definition } = begun
  const { settings } = record
  const ended = nowMs >= begun.startMs + definition.days * DAY
  const day = Math.floor((nowMs - begun.startMs) / DAY) + 1
  const arrival = record.arrivals.get(ARRIVAL_ID)
  /** Bags that are not in the water yet, and when each asks for the next press. */
  const bags = arrival
    ? world.bags.flatMap(({ animal }, place) => {
        const container = arrival.body.containers.find(({ id }) => id === bagId(place))
        if (animal.bag === null || !container) return []
        if (containerEntries(active, ARRIVAL_ID, container.id).some(({ act: one }) => one === 'refuse')) return []
        const inputs = liveInputsOf({ record, active, arrival, container, nowMs })
        const run = inputs ? liveRun(inputs) : null
        return [{ place, label: container.label, nextMs: run?.phase === 'ready' ? undefined : run?.next?.dueMs }]
      })
    : []
  const nextMs = Math.min(
    ...bags.flatMap((bag) => (bag.nextMs !== undefined && bag.nextMs > nowMs ? [bag.nextMs] : [])),
    ...plans
      .flatMap(({ steps }) => steps)
      .flatMap((step) =>
        step.state === 'ahead' || step.state === 'waiting' ? [Math.max(step.fromMs, step.dueMs)] : [],
      )
      .filter((ms) => ms > nowMs),
    nowMs + DAY,
  )
  const hand = async (one: Omit<Hand, 'atMs'>, words: (found: number) => string) => {
    const made: Hand = { ...one, atMs: nowMs }
    const found = handOf(structuredCloneOf(world), made)
    await keep({ ...state, hands: [...state.hands, made] })
    setShown({ atMs: nowMs, title: 'Done', lines: [{ words: words(found) }] })
  }
  /** What of those that died is not on the ledger yet. */
  const dead = (residentId: string | undefined, living: number | undefined) => {
    const resident = record.residents.get(residentId ?? '')
    if (!resident || living === undefined || resident.body.leftAt !== undefined) return {}
    const count = headsAt(active, resident, nowMs) - living
    return count > 0 ? { died: { id: resident.id, count } } : {}
  }
  const look = () => {
    setWritten(new Set())
    setShown({
      atMs: nowMs,
      title: 'What you see',
      lines: lookAt(world).map(({ words, sign, animalId, living }) => ({
        words,
        ...dead(animalId, living),
        ...(sign === undefined
          ? {}
          : {
              drafts: [
                {
                  kind: 'sign',
                  vesselId: TANK_ID,
                  ...(animalId === undefined ? {} : { residentId: animalId }),
                  sign,
                  present: true,
                } as unknown as Draft,
              ],
            }),
      })),
    })
  }
  const measureBag = (place: number) => {
    const values = bagShows(world, place)
    setWritten(new Set())
    setShown({
      atMs: nowMs,
      title: `Bag ${place + 1} holds`,
      lines: [
        {
          words: `${values.tempC} °C, ${values.salinityPsu} PSU, pH ${values.phNbs}, ammonia ${values.tanMgN} mg/L N`,
          drafts: [
            {
              kind: 'container',
              arrivalId: ARRIVAL_ID,
              containerId: bagId(place),
              act: 'measured',
              ...values,
            } as unknown as Draft,
          ],
        },
      ],
    })
  }
  /** What is to be counted today, by the campaign of the course. */
  const counting = plans.flatMap((plan) => {
    const body = record.courses.get(plan.courseId)?.body
    const measures = (body?.protocol as unknown as Protocol | undefined)?.campaign?.measures ?? []
    const due = new Map(
      plan.steps.flatMap(({ key, state: one, tally }) =>
        tally && (one === 'due' || one === 'late') ? [[tally.measure, key] as const] : [],
      ),
    )
    return measures.flatMap((measure) => {
      const step = due.get(measure.id)
      const found = step === undefined ? null : countsOf(world, measure)
      return found ? [{ measure, found, courseId: plan.courseId, vesselId: plan.vesselId, step }] : []
    })
  })
  const count = ({ measure, found, courseId, vesselId, step }: (typeof counting)[number]) => {
    setWritten(new Set())
    setShown({
      atMs: nowMs,
      title: measure.title,
      lines:
        found.length === 0
          ? [{ words: 'Nothing could be caught to be counted.' }]
          : found.map(({ piece, values }) => ({
              words: `${piece === undefined ? '' : `${sentenceCase(piece)}: `}${measure.fields
                .filter(({ id }) => values[id] !== undefined)
                .map(({ id, label }) => `${label.toLowerCase()} ${values[id]}`)
                .join('; ')}`,
              drafts: [
                {
                  kind: 'tally',
                  vesselId,
                  courseId,
                  step,
                  measure: measure.id,
                  values,
                  ...(piece === undefined ? {} : { piece }),
                } as unknown as Draft,
              ],
            })),
    })
  }
  const use = () => {
    const nth = uses + 1
    setUses(nth)
    setWritten(new Set())
    const { word, unit } = ANALYTES[analyte as keyof typeof ANALYTES]
    const { value, bound } = kitShows(world, analyte, nth)
    const said = analyte === 'alkalinity' ? Number((value * DKH_PER_MEQ).toFixed(1)) : Number(value.toPrecision(4))
    const text = `${bound === 'below' ? '<' : ''}${said} ${analyte === 'salinity' ? 'PSU' : unit}`.trim()
    setShown({ atMs: nowMs, title: `The kit for ${word.toLowerCase()} shows`, lines: [{ words: text, reading: text }] })
  }
  const standard = () => {
    const nth = uses + 1
    setUses(nth)
    const { word, unit } = ANALYTES[analyte as keyof typeof ANALYTES]
    const found = standardShows(world, analyte, nth)
    const said = (value: number) =>
      `${analyte === 'alkalinity' ? Number((value * DKH_PER_MEQ).toFixed(1)) : Number(value.toPrecision(4))} ${analyte === 'salinity' ? 'PSU' : unit}`.trim()
    setShown({
      atMs: nowMs,
      title: `The kit for ${word.toLowerCase()}, held against a standard`,
      lines: [
        {
          words: found
            ? `The bottle says ${said(found.holds)}, the kit shows ${found.shown.bound === 'below' ? '<' : ''}${said(found.shown.value)}.`
            : 'There is no standard for it in the house.',
        },
      ],
    })
  }
  const write = async (at: number) => {
    const line = shown?.lines[at]
    if (!line) return
    try {
      if (line.reading !== undefined) {
        const instrumentId = `kit-${analyte}`
        const done = await act(
          {
            kind: 'reading',
            vesselId: TANK_ID,
            analyte,
            text: line.reading,
            ...(record.instruments.has(instrumentId) ? { instrumentId } : {}),
          } as never,
          { actId: v7(), override: { words: '', confirmed: true } },
        )
        if (!done.ok) return notice({ text: done.message, tone: 'failed' })
      } else if (line.died) {
        const done = await act(
          { kind: 'leave', vesselId: TANK_ID, residents: [line.died], how: 'died' },
          { actId: v7(), override: { words: '', confirmed: true } },
        )
        if (!done.ok) return notice({ text: done.message, tone: 'failed' })
      } else if (line.drafts) await append(line.drafts)
      setWritten(new Set([...written, at]))
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  const kits = [...record.instruments.values()].map(({ body }) => body.analyte as string)
  return (
    <Bar ref={setOwn} aria-label="Clock, eyes and hands" data-over={over ? '' : undefined}>
      <Stack $gap={6}>
        <Row $between>
          <h2>
            Practice: {definition.title}{' '}
            <Quiet>
              day {day}, {timeText(nowMs, settings)}
            </Quiet>
          </h2>
          <Row $gap={4}>
            <Button look="bare" onPress={() => void navigate('/practice/debrief')}>
              Look back
            </Button>
            <Button
              look="bare"
              onPress={() => {
                open('keeper')
                void navigate('/practice')
              }}
            >
              Leave it
            </Button>
          </Row>
        </Row>
        {ended ? (
          <Quiet>It has come to its end. Look back on it, or begin another.</Quiet>
        ) : (
          <Row $gap={8} style={{ flexWrap: 'wrap', alignItems: 'flex-end' }}>
            {(bags.length > 0 || timed) && (
              <>
                <Button onPress={() => void advance(nowMs + MINUTE)}>+1 min</Button>
                <Button onPress={() => void advance(nowMs + 10 * MINUTE)}>+10 min</Button>
              </>
            )}
            <Button onPress={() => void advance(nowMs + HOUR)}>+1 h</Button>
            {!over && <Button onPress={() => void advance(nowMs + 6 * HOUR)}>+6 h</Button>}
            <Button look="main" onPress={() => void advance(Math.ceil(nextMs / MINUTE) * MINUTE)}>
              To what comes next
            </Button>
            {!over && <Button onPress={() => setRunning(!running)}>{running ? 'Stop' : 'Let it run'}</Button>}
            <Button onPress={look}>Look</Button>
            {bags.map(({ place, label }) => (
              <Button key={place} onPress={() => measureBag(place)}>
                Measure {label.toLowerCase()}
              </Button>
            ))}
            {!over && (
              <>
                <div style={{ minWidth: 150 }}>
                  <Select
                    label="A kit"
                    value={analyte}
                    onChange={setAnalyte}
                    options={[
                      { value: '', label: 'choose' },
                      ...kits.map((one) => ({ value: one, label: ANALYTES[one as keyof typeof ANALYTES].word })),
                    ]}
                  />
                </div>
                <Button isDisabled={analyte === ''} onPress={use}>
                  Use it
                </Button>
                {analyte !== '' && <Button onPress={standard}>Against a standard</Button>}
                {world.film && (
                  <Button
                    onPress={() => {
                      const drop = dropOf(world)
                      if (drop) setShown({ atMs: nowMs, title: 'Under the microscope', lines: [{ words: drop.words }] })
                    }}
                  >
                    A drop
                  </Button>
                )}
                {world.pest && definition.truth.pest && world.animals.some(({ kind }) => kind === 'coral') && (
                  <Button
                    onPress={() =>
                      void hand({ does: 'round' }, (found) =>
                        found === 0
                          ? `Every piece was dipped, brushed and looked over: no ${definition.truth.pest!.what} found.`
                          : `Every piece was dipped, brushed and looked over: ${found} ${definition.truth.pest!.what} found.`,
                      )
                    }
                  >
                    Dip, brush and look over every piece
                  </Button>
                )}
                {counting.map((one) => (
                  <Button key={one.measure.id} onPress={() => count(one)}>
                    Count: {one.measure.title.toLowerCase()}
                  </Button>
                ))}
                <Button onPress={() => void hand({ does: 'heater', value: 25 }, () => 'The heater is set to 25 °C.')}>
                  Heater to 25 °C
                </Button>
                {world.film && (
                  <Button
                    onPress={() =>
                      void hand({ does: 'light', value: world.light > 0 ? 0 : 1 }, () =>
                        world.light > 0 ? 'The light is off, the sides are covered.' : 'The light is on, as usual.',
                      )
                    }
                  >
                    {world.light > 0 ? 'Light off' : 'Light on'}
                  </Button>
                )}
                <Button onPress={() => void hand({ does: 'air' }, () => 'The air runs.')}>Air on</Button>
              </>
            )}
          </Row>
        )}
        {!ended && !over && bags.length > 0 && arrival && (
          <Quiet>
            {sentenceCase(plural(bags.length, 'bag stands', 'bags stand'))} at the door:{' '}
            <Link to={`/arrivals/${ARRIVAL_ID}`}>{arrival.body.name}</Link>.
          </Quiet>
        )}
        {!ended && !over && due.length > 0 && (
          <Quiet>
            {sentenceCase(plural(due.length, 'thing is', 'things are'))} due now, on the <Link to="/">round</Link>.
          </Quiet>
        )}
        {shown && shown.atMs === nowMs && (
          <div role="status">
            <strong>{shown.title}</strong>
            <ul>
              {shown.lines.map(({ words, drafts, reading, died }, i) => (
                <li key={words}>
                  <span className={reading === undefined ? undefined : 'mono'}>{words}</span>
                  {(drafts !== undefined || reading !== undefined || died !== undefined) &&
                    (written.has(i) ? (
                      <Quiet>written down</Quiet>
                    ) : (
                      <Button look="bare" onPress={() => void write(i)}>
                        Write it down
                      </Button>
                    ))}
                </li>
              ))}
            </ul>
          </div>
        )}
      </Stack>
    </Bar>
  )
}
/** A hand is tried on a copy: the truth itself is worked out from what was written. */
const structuredCloneOf = <T extends { readonly pest: object | null }>(world: T): T => ({
  ...world,
  pest: world.pest ? { ...world.pest } : null,
})
