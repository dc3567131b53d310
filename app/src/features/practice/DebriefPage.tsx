// Looking back: what was true beside what was read, two other keepers of the same tank, and one thing to do otherwise.
import { ANALYTES, entryMs } from '@brinvo/core'
import type { Cause, Debrief, Outcome, TruthPoint } from '@brinvo/core/practice'
import { useEffect, useState, type ReactNode } from 'react'
import { useNavigate } from 'react-router'
import { Area, CartesianGrid, ComposedChart, Line, ResponsiveContainer, Scatter, Tooltip, XAxis, YAxis } from 'recharts'
import { notePractised } from '../../data/practice.ts'
import { useDatabase, useRecord } from '../../data/queries.tsx'
import { Button, Empty, LinkButton, Page, Quiet, Row, Stack, Tray } from '../../design/primitives.tsx'
import { countWord } from '../../design/words.ts'
import { entryWords } from '../../parts/entryWords.ts'
import type { DebriefMessage, DebriefQuestion } from './debrief.worker.ts'
import { usePracticeTank } from './usePracticeTank.ts'

const DAY = 86_400_000
type Measure = Exclude<keyof TruthPoint, 'atMs'>
type BagMeasure = 'freeMgN' | 'salinityPsu' | 'tempC'
const BAG_MEASURES: Readonly<Record<BagMeasure, { readonly title: string; readonly unit: string }>> = {
  freeMgN: { title: 'Free ammonia around them', unit: 'mg/L N' },
  salinityPsu: { title: 'Salinity around them', unit: 'PSU' },
  tempC: { title: 'Warmth around them', unit: '°C' },
}
const MEASURES: Readonly<
  Record<Measure, { readonly title: string; readonly unit: string; readonly analyte?: string; readonly times?: number }>
> = {
  level: { title: 'Level', unit: 'mg/L' },
  living: { title: 'Living', unit: '' },
  parasites: { title: 'Parasites, all stages', unit: '' },
  pests: { title: 'Pests, all stages', unit: '' },
  film: { title: 'Film that harms', unit: '%', times: 100 },
  ammonia: { title: 'Ammonia, total', unit: 'mg/L', analyte: 'ammonia-total' },
  alkalinity: { title: 'Alkalinity', unit: 'dKH', analyte: 'alkalinity' },
  temperature: { title: 'Temperature', unit: '°C', analyte: 'temperature' },
  nitrate: { title: 'Nitrate', unit: 'mg/L', analyte: 'nitrate' },
}
const CAUSES: Readonly<Record<Cause, string>> = {
  ammonia: 'ammonia',
  air: 'want of air',
  heat: 'heat',
  parasites: 'parasites',
  copper: 'the drug',
  alkalinity: 'alkalinity that ran out',
  pests: 'pests',
  journey: 'the journey',
}
const trim = (value: number): string => String(Number(value.toPrecision(3)))

export function DebriefPage() {
  const { record } = useRecord()
  const { mode, open } = useDatabase()
  const navigate = useNavigate()
  const { state, world } = usePracticeTank()
  const [debrief, setDebrief] = useState<Debrief | null>(null)
  const [share, setShare] = useState(0)
  const [fault, setFault] = useState<string | null>(null)
  const [measure, setMeasure] = useState<Measure | BagMeasure | null>(null)
  useEffect(() => {
    if (!state || mode !== 'practice') return
    const worker = new Worker(new URL('./debrief.worker.ts', import.meta.url), { type: 'module' })
    worker.onmessage = ({ data }: MessageEvent<DebriefMessage>) => {
      if (data.kind === 'share') setShare(data.share)
      else if (data.kind === 'failed') setFault(data.words)
      else {
        setDebrief(data.debrief)
        notePractised({
          atMs: Date.now(),
          what: 'tank',
          id: state.begun.definition.id,
          share: data.debrief.own.outcome.living,
        })
      }
    }
    worker.onerror = () => setFault('The other keepers could not be lived.')
    const question: DebriefQuestion = { begun: state.begun, record, hands: state.hands, nowMs: state.nowMs }
    worker.postMessage(question)
    return () => worker.terminate()
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once for each hour that is looked back from
  }, [state, mode])
  if (mode !== 'practice' || !state || !world)
    return (
      <Page>
        <Empty title="No practice tank is open" action={<LinkButton to="/practice">To practice</LinkButton>}>
          Begin one, and look back on it here.
        </Empty>
      </Page>
    )
  const { definition } = state.begun
  // A drug that stays in its bowl never stands in the tank.
  const dosed =
    world.agent !== null &&
    (debrief === null ||
      [debrief.own, debrief.exact, debrief.calendar].some(({ trace }) => trace.some(({ level }) => level > 0.01)))
  const worth: Measure[] = [
    ...(world.pest ? (['pests'] as const) : []),
    ...(dosed ? (['level'] as const) : []),
    ...(world.infection ? (['parasites'] as const) : []),
    ...(world.film ? (['film', 'nitrate'] as const) : []),
    'living',
    'ammonia',
    ...(definition.truth.usePerDay?.['alkalinity'] === undefined ? [] : (['alkalinity'] as const)),
    'temperature',
  ]
  const shown = measure ?? (world.bags.length > 0 ? 'freeMgN' : worth[0]!)
  return (
    <Page>
      <h1>Looking back: {definition.title}</h1>
      <p style={{ maxWidth: '70ch' }}>{definition.teaches}</p>
      {state.nowMs < state.begun.startMs + definition.days * DAY && (
        <Quiet>
          You have lived {Math.floor((state.nowMs - state.begun.startMs) / DAY)} of {definition.days} days; the two
          others lived all of them. You may go on.
        </Quiet>
      )}
      {fault !== null && <p role="alert">{fault}</p>}
      {debrief === null && fault === null && (
        <p role="status">Two other keepers live the same tank… {Math.round(100 * share)} %</p>
      )}
      {debrief && (
        <>
          <Tray>
            <Stack $gap={8}>
              <h2>One thing to do otherwise</h2>
              <p style={{ fontSize: 19, maxWidth: '60ch' }}>{debrief.otherwise}</p>
              <Quiet>
                {debrief.own.outcome.living < 1
                  ? `Animals died here so that none needs to: ${debrief.own.outcome.deaths
                      .map(({ cause, count }) => `${countWord(count)} of ${CAUSES[cause]}`)
                      .join(', ')}.`
                  : 'All of them live.'}
              </Quiet>
            </Stack>
          </Tray>
          <Tray>
            <Stack $gap={8}>
              <Row $gap={6} role="group" aria-label="What is drawn">
                {world.bags.length > 0 &&
                  (Object.keys(BAG_MEASURES) as BagMeasure[]).map((one) => (
                    <Button key={one} look={one === shown ? 'main' : 'plain'} onPress={() => setMeasure(one)}>
                      {BAG_MEASURES[one].title}
                    </Button>
                  ))}
                {worth.map((one) => (
                  <Button key={one} look={one === shown ? 'main' : 'plain'} onPress={() => setMeasure(one)}>
                    {MEASURES[one].title}
                  </Button>
                ))}
              </Row>
              {shown in BAG_MEASURES ? (
                <BagStrip debrief={debrief} measure={shown as BagMeasure} />
              ) : (
                <Strip debrief={debrief} measure={shown as Measure} startMs={state.begun.startMs} agent={world.agent} />
              )}
            </Stack>
          </Tray>
          <Tray>
            <h2>The same tank, three keepers</h2>
            <Three debrief={debrief} />
            <p>
              <strong>By the screens:</strong> {definition.promises.exact.words} <strong>By the calendar:</strong>{' '}
              {definition.promises.calendar.words}
            </p>
          </Tray>
          <Decisions debrief={debrief} />
        </>
      )}
      <Row>
        <LinkButton to="/practice" $look="main">
          Another one
        </LinkButton>
        <Button
          onPress={() => {
            open('keeper')
            void navigate('/practice')
          }}
        >
          Back to my record
        </Button>
      </Row>
    </Page>
  )
}

/** Three keepers, told apart by their strokes. */
const keeperLines = [
  <Line
    key="calendar"
    dataKey="calendar"
    name="by the calendar"
    stroke="var(--quiet)"
    strokeDasharray="2 5"
    dot={false}
    isAnimationActive={false}
  />,
  <Line
    key="exact"
    dataKey="exact"
    name="by the screens"
    stroke="var(--ink)"
    strokeDasharray="8 4"
    dot={false}
    isAnimationActive={false}
  />,
  <Line
    key="own"
    dataKey="own"
    name="yours, in truth"
    stroke="var(--rim)"
    strokeWidth={3}
    dot={false}
    isAnimationActive={false}
  />,
]

/** The common frame of both strips. */
function Frame({
  label,
  across,
  children,
  data,
  caption,
}: {
  readonly label: string
  /** What runs from left to right. */
  readonly across: { readonly key: string; readonly words: string }
  readonly data: object[]
  readonly children: ReactNode
  readonly caption: ReactNode
}) {
  return (
    <figure aria-label={`${label} of three keepers`}>
      <div style={{ height: 300 }}>
        <ResponsiveContainer width="100%" height="100%">
          <ComposedChart data={data} margin={{ top: 8, right: 12, bottom: 18, left: 0 }}>
            <CartesianGrid stroke="var(--hairline)" vertical={false} />
            <XAxis
              dataKey={across.key}
              type="number"
              domain={[0, 'dataMax']}
              tickFormatter={(value: number) => String(Math.round(value))}
              label={{ value: across.words, position: 'insideBottom', offset: -10, fill: 'var(--quiet)' }}
              stroke="var(--quiet)"
            />
            {children}
          </ComposedChart>
        </ResponsiveContainer>
      </div>
      <figcaption>
        <Quiet>{caption}</Quiet>
      </figcaption>
    </figure>
  )
}

/** What was around the animals of a bag until they were in the water, three keepers beside each other. */
function BagStrip({ debrief, measure }: { readonly debrief: Debrief; readonly measure: BagMeasure }) {
  const { title, unit } = BAG_MEASURES[measure]
  const rows = new Map<number, { min: number; own?: number; exact?: number; calendar?: number }>()
  for (const who of ['own', 'exact', 'calendar'] as const)
    for (const bag of debrief[who].bags.slice(0, 1))
      for (const [at, min] of bag.min.entries())
        rows.set(min, { ...(rows.get(min) ?? { min }), [who]: bag[measure][at]! })
  const data = [...rows.values()].sort((a, b) => a.min - b.min)
  return (
    <Frame
      label={title}
      across={{ key: 'min', words: 'minutes since it stood at the door' }}
      data={data}
      caption={
        <>
          {title}, {unit}, in {debrief.own.bags[0]?.label}, until they are moved. Thick: yours. Dashed: by the screens.
          Dotted: by the calendar.
        </>
      }
    >
      <YAxis
        stroke="var(--quiet)"
        width={56}
        domain={measure === 'freeMgN' ? [0, 'auto'] : ['auto', 'auto']}
        tickFormatter={trim}
      />
      <Tooltip
        formatter={(value) => `${trim(Number(value))} ${unit}`}
        labelFormatter={(value) => `minute ${Math.round(Number(value))}`}
        contentStyle={{ background: 'var(--tray)', border: '1px solid var(--hairline)' }}
      />
      {keeperLines}
    </Frame>
  )
}

/** Truth of three lives as lines, what the keeper read as points. */
function Strip({
  debrief,
  measure,
  startMs,
  agent,
}: {
  readonly debrief: Debrief
  readonly measure: Measure
  readonly startMs: number
  readonly agent: string | null
}) {
  const { title, unit, analyte, times = 1 } = MEASURES[measure]
  const day = (ms: number) => (ms - startMs) / DAY
  const belief = measure === 'level' ? debrief.belief : []
  const rows = new Map<
    number,
    { day: number; own?: number; exact?: number; calendar?: number; belief?: readonly [number, number] }
  >()
  for (const who of ['own', 'exact', 'calendar'] as const)
    for (const point of debrief[who].trace) {
      const at = day(point.atMs)
      rows.set(at, { ...(rows.get(at) ?? { day: at }), [who]: point[measure] * times })
    }
  for (const { atMs, p10, p90 } of belief)
    rows.set(day(atMs), { ...(rows.get(day(atMs)) ?? { day: day(atMs) }), belief: [p10, p90] })
  // Where the band was looked at, the truth is its neighbour's: they stand three hours apart at the most.
  const most = debrief.own.trace.reduce((sum, { level }) => Math.max(sum, level), 0)
  // Where next to nothing is left nobody asks.
  const asked = belief.filter(({ p90 }) => p90 > most / 50)
  const held = asked.filter(({ atMs, p10, p90 }) => {
    const truth = debrief.own.trace.findLast((point) => point.atMs <= atMs)?.level ?? 0
    return truth >= p10 && truth <= p90
  }).length
  const wanted = measure === 'level' ? agent : analyte
  const read = debrief.own.record.entries.flatMap((entry) =>
    entry.kind === 'reading' && entry.analyte === wanted
      ? [
          {
            day: day(entryMs(entry)),
            read: entry.value * (entry.analyte === 'alkalinity' && entry.unit === 'meq/L' ? 2.804 : 1),
          },
        ]
      : [],
  )
  const data = [...rows.values()].sort((a, b) => a.day - b.day)
  const digits = (value: number) => trim(value)
  return (
    <Frame
      label={title}
      across={{ key: 'day', words: 'day' }}
      data={data}
      caption={
        <>
          {title}
          {unit === '' ? '' : `, ${unit}`}. Thick: yours, in truth. Dashed: by the screens. Dotted: by the calendar.
          {belief.length > 0
            ? ` Shaded: what could be known then, eight in ten; the truth lay in it at ${held} of ${asked.length} looks.`
            : ''}
          {read.length > 0
            ? ' Points: what you read.'
            : wanted == null
              ? ''
              : ` You read no ${ANALYTES[wanted as keyof typeof ANALYTES]?.word.toLowerCase() ?? wanted}.`}
        </>
      }
    >
      <YAxis stroke="var(--quiet)" width={56} tickFormatter={digits} unit={unit === '%' ? ' %' : ''} />
      <Tooltip
        formatter={(value) =>
          `${(Array.isArray(value) ? value : [value]).map((one) => trim(Number(one))).join(' to ')} ${unit}`
        }
        labelFormatter={(value) => `day ${Number(value).toFixed(1)}`}
        contentStyle={{ background: 'var(--tray)', border: '1px solid var(--hairline)' }}
      />
      <Area
        dataKey="belief"
        name="what you could know"
        stroke="none"
        fill="var(--rim)"
        fillOpacity={0.22}
        connectNulls
        isAnimationActive={false}
      />
      {keeperLines}
      <Scatter data={read} dataKey="read" name="what you read" fill="var(--danger)" isAnimationActive={false} />
    </Frame>
  )
}

const ROWS: readonly { readonly title: string; readonly of: (outcome: Outcome) => string }[] = [
  { title: 'Animals that live', of: ({ living }) => `${Math.round(100 * living)} %` },
  { title: 'Parasites left', of: ({ parasites }) => String(parasites) },
  { title: 'Pests left', of: ({ pests }) => String(pests) },
  { title: 'Film that harms', of: ({ film }) => `${Math.round(100 * film)} %` },
  { title: 'Hours at or above the floor', of: ({ therapeutic }) => String(therapeutic) },
  { title: 'Highest, of the hard maximum', of: ({ highest }) => `${Math.round(100 * highest)} %` },
  { title: 'Free ammonia in bag or tub, highest', of: ({ freeInBag }) => `${trim(freeInBag)} mg/L N` },
  { title: 'Highest ammonia', of: ({ ammonia }) => `${trim(ammonia)} mg/L` },
]
function Three({ debrief }: { readonly debrief: Debrief }) {
  const lives = [debrief.own.outcome, debrief.exact.outcome, debrief.calendar.outcome]
  // What was the same for all three says nothing, but for the animals themselves.
  const rows = ROWS.filter(({ of }, i) => i === 0 || new Set(lives.map(of)).size > 1)
  return (
    <div style={{ overflowX: 'auto' }} tabIndex={0} role="group" aria-label="Three keepers">
      <table style={{ borderCollapse: 'collapse', minWidth: 420 }}>
        <thead>
          <tr>
            {['measure', 'you', 'by the screens', 'by the calendar'].map((head) => (
              <th key={head} style={{ textAlign: 'left', padding: '4px 18px 4px 0' }}>
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ title, of }) => (
            <tr key={title} style={{ borderTop: '1px solid var(--hairline)' }}>
              <th scope="row" style={{ textAlign: 'left', fontWeight: 400, padding: '4px 18px 4px 0' }}>
                {title}
              </th>
              {lives.map((life, i) => (
                <td key={i} style={{ padding: '4px 18px 4px 0', fontWeight: i === 0 ? 700 : 400 }}>
                  {of(life)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

/** What each decision did: the same days once more, without it. */
function Decisions({ debrief }: { readonly debrief: Debrief }) {
  const { record, outcome } = debrief.own
  const told = debrief.decisions.flatMap(({ entryId, without }) => {
    const entry = record.entries.find(({ id }) => id === entryId)
    if (!entry) return []
    const lines: { words: string; weight: number }[] = []
    const step = (weight: number, words: string) => {
      if (Math.abs(weight) > 0.02) lines.push({ words, weight: Math.abs(weight) })
    }
    const living = outcome.living - without.living
    step(
      3 * living,
      living > 0
        ? `it saved ${Math.round(100 * living)} % of the animals`
        : `it cost ${Math.round(-100 * living)} % of the animals`,
    )
    step(
      (outcome.highest - without.highest) / 2,
      `the highest level would have been ${Math.round(100 * without.highest)} % of the hard maximum`,
    )
    step(
      (outcome.levelLast - without.levelLast) / 4,
      `the level would stand at ${trim(without.levelLast)} instead of ${trim(outcome.levelLast)} mg/L in the end`,
    )
    step(
      !record.courses.size ? 0 : (outcome.therapeutic - without.therapeutic) / 400,
      `${Math.abs(without.therapeutic - outcome.therapeutic)} hours ${without.therapeutic < outcome.therapeutic ? 'fewer' : 'more'} at or above the floor without it`,
    )
    step(
      (outcome.ammonia - without.ammonia) / 2,
      `ammonia would have reached ${trim(without.ammonia)} instead of ${trim(outcome.ammonia)} mg/L`,
    )
    step(
      (outcome.film - without.film) * 2,
      `the film would cover ${Math.round(100 * without.film)} % instead of ${Math.round(100 * outcome.film)} %`,
    )
    const [first] = lines.sort((a, b) => b.weight - a.weight)
    return first ? [{ entry, ...first }] : []
  })
  const heaviest = told
    .sort((a, b) => b.weight - a.weight)
    .slice(0, 6)
    .sort((a, b) => entryMs(a.entry) - entryMs(b.entry))
  if (heaviest.length === 0)
    return (
      <Tray>
        <h2>Decisions</h2>
        <p>Without any single one of the things that were done it would have ended the same, with this luck.</p>
      </Tray>
    )
  return (
    <Tray>
      <h2>What your decisions did</h2>
      <ul style={{ display: 'grid', gap: 6 }}>
        {heaviest.map(({ entry, words }) => (
          <li key={entry.id}>
            <strong>{entryWords(entry, record)}</strong>, day{' '}
            {Math.floor((entryMs(entry) - debrief.own.trace[0]!.atMs) / DAY) + 1}: {words}.
          </li>
        ))}
      </ul>
      <Quiet>Each worked out by living the same days again without it.</Quiet>
    </Tray>
  )
}
