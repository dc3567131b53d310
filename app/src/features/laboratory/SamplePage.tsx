// One sample from the vial to the report: how it is drawn, how long it is away, what was found and what of it matters.
import { clockMs } from '../../data/clock.ts'
import {
  ANALYTES,
  analyteWord,
  drawingSteps,
  fromCanonical,
  instantMs,
  instantOf,
  parseQuantity,
  preferredUnit,
  reportOf,
  revised,
  stageOf,
  waterLines,
  type Intent,
  type Report,
  type ReportLine,
  type SampleBody,
  type SampleDocument,
} from '@brinvo/core'
import type { TableResult } from '@brinvo/core/tables'
import { useMemo, useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { styled } from 'styled-components'
import { useActions, useDatabase, useRecord, type Draft } from '../../data/queries.tsx'
import { Check, Field, Select } from '../../design/fields.tsx'
import { Button, LinkButton, Page, Quiet, Row, Stack, Tag, Tray, Well } from '../../design/primitives.tsx'
import { WorkingButton } from '../../design/Working.tsx'
import { longDayText, preferencesOf, sentenceCase, whenText } from '../../design/words.ts'
import { Refusals } from '../../parts/Refusals.tsx'
import { useAct } from '../../parts/useAct.ts'
import { NotFound } from '../../shell/NotFound.tsx'
import { useNotice } from '../../shell/Notices.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { LeftOut, Scroll, TableOpener, useOpenTable } from '../../parts/tableParts.tsx'
import { STAGE_WORDS } from './LaboratoryPage.tsx'
import { Failure } from '../../parts/Failure.tsx'

const DAY = 86_400_000
const Rows = styled(Scroll)`
  td {
    white-space: normal;
  }
  td.number {
    white-space: nowrap;
    text-align: right;
    font-variant-numeric: tabular-nums;
  }
  th.number {
    text-align: right;
  }
  tr[data-odd] td:first-child {
    font-weight: 700;
  }
`
const shown = (value: number): string => String(Number(value.toPrecision(3)))
/** A small amount as laboratories print it. */
const amount = (value: number, unit: string, fine: boolean): string =>
  unit === 'mg/L' && fine ? `${shown(value * 1000)} µg/L` : `${shown(value)} ${unit}`.trim()
/** Whether an element is told in µg/L: the same for its value, its natural share and its lines. */
const isFine = ({ about, result }: ReportLine): boolean =>
  result.unit === 'mg/L' && (about === null ? result.value < 0.1 : (about.high ?? about.natural ?? result.value) < 0.7)
const bounded = (line: ReportLine): string =>
  `${line.result.bound === 'below' ? '< ' : line.result.bound === 'above' ? '> ' : ''}${amount(line.result.value, line.result.unit, isFine(line))}`
/** What is natural: a figure, or the most that is usually there. */
const naturally = (line: ReportLine): string => {
  const { about } = line
  if (about === null || (about.natural === undefined && about.naturalMost === undefined)) return ''
  return about.naturalMost === undefined
    ? amount(about.natural!, 'mg/L', isFine(line))
    : `< ${amount(about.naturalMost, 'mg/L', isFine(line))}`
}
/** The lines in one go: "370 to 480 mg/L". */
const linesOf = (line: ReportLine): string => {
  const { low, high } = line.about ?? {}
  const of = (value: number) => amount(value, 'mg/L', isFine(line))
  return low !== undefined && high !== undefined
    ? `${of(low).split(' ')[0]} to ${of(high)}`
    : low !== undefined
      ? `from ${of(low)}`
      : high !== undefined
        ? `to ${of(high)}`
        : ''
}

export function SamplePage() {
  const { id = '' } = useParams()
  const { record } = useRecord()
  const sample = record.samples.get(id)
  if (!sample) return <NotFound />
  return <Sample key={id} sample={sample} />
}

function Sample({ sample }: { readonly sample: SampleDocument }) {
  const { record } = useRecord()
  const { revise } = useActions()
  const { nowMs } = useThePlans()
  const notice = useNotice()
  const { body } = sample
  const vessel = record.vessels.get(body.vesselId)
  const stage = stageOf(body)
  const change = async (patch: Partial<SampleBody>, said: string) => {
    try {
      await revise(sample, { ...body, ...patch })
      notice({ text: said, tone: 'done' })
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  const away = body.sentAt === undefined ? null : Math.floor((nowMs - instantMs(body.sentAt)) / DAY)
  return (
    <Page $aside={stage !== 'reported'}>
      <Stack $gap={16}>
        <p>
          <Link to="/laboratory">Laboratory</Link>,{' '}
          <Link to={`/water/${body.vesselId}`}>water of {vessel?.body.name}</Link>
        </p>
        <h1>Sample of {vessel?.body.name ?? 'a vessel'}</h1>
        <Row $gap={10}>
          <Tag $tone={stage === 'reported' ? 'good' : stage === 'drawn' ? 'due' : 'plain'}>{STAGE_WORDS[stage]}</Tag>
          <Quiet>
            {body.laboratory}
            {body.bottle === undefined ? '' : `, vial ${body.bottle}`}
            {body.sampledAt === undefined
              ? ''
              : `; drawn ${whenText(instantMs(body.sampledAt), nowMs, record.settings)}`}
            {stage === 'sent' && away !== null ? `; away for ${away === 1 ? 'a day' : `${away} days`}` : ''}
          </Quiet>
        </Row>
        {stage === 'ordered' && <Drawing sample={sample} onChange={change} />}
        {stage === 'drawn' && (
          <Tray>
            <Stack>
              <h2>Send it within a day, cold</h2>
              <Row>
                <Button
                  look="main"
                  onPress={() => void change({ sentAt: instantOf(clockMs()) }, 'Sent: the days are counted.')}
                >
                  It is on its way
                </Button>
                <Button look="bare" onPress={() => void change({ lostAt: instantOf(clockMs()) }, 'Noted as lost.')}>
                  Spilt or spoilt
                </Button>
              </Row>
            </Stack>
          </Tray>
        )}
        {(stage === 'sent' || stage === 'drawn') && <TakeReport sample={sample} />}
        {stage === 'ordered' && (
          <details>
            <summary style={{ cursor: 'pointer', minHeight: 44 }}>The report is here already</summary>
            <TakeReport sample={sample} />
          </details>
        )}
        {stage === 'sent' && (
          <Row>
            <StandIn sample={sample} />
            <Button look="bare" onPress={() => void change({ lostAt: instantOf(clockMs()) }, 'Noted as lost.')}>
              It is lost
            </Button>
          </Row>
        )}
        {stage === 'lost' && (
          <Tray>
            <p>Nothing comes of this one.</p>
            <Row>
              <LinkButton to={`/laboratory?vessel=${body.vesselId}`}>Another vial</LinkButton>
            </Row>
          </Tray>
        )}
        {stage === 'reported' && <ReportTable sample={sample} onChange={change} />}
      </Stack>
      {stage !== 'reported' && (
        <Stack $gap={14}>
          <Well>
            Drawn after a dose, the sample tells the dose; drawn by hand, the hand. A second vial of the same water once
            a year tells the laboratory.
          </Well>
        </Stack>
      )}
    </Page>
  )
}

function Drawing({
  sample,
  onChange,
}: {
  readonly sample: SampleDocument
  readonly onChange: (patch: Partial<SampleBody>, said: string) => Promise<void>
}) {
  const { record } = useRecord()
  const { body } = sample
  const [steps, setSteps] = useState<readonly string[]>(body.steps ?? [])
  const [salinity, setSalinity] = useState('')
  const [error, setError] = useState<string | null>(null)
  const read = parseQuantity(salinity, {
    dimension: 'salinity',
    fieldUnit: record.settings.salinity,
    label: 'Salinity of the sample',
    allowBound: false,
  })
  const drawn = async () => {
    if (salinity.trim() !== '' && !read.ok) return setError(read.error.message)
    await onChange(
      {
        sampledAt: instantOf(clockMs()),
        steps: [...steps],
        ...(salinity.trim() !== '' && read.ok ? { salinityPpt: Number(read.value.value.toPrecision(5)) } : {}),
      },
      'Drawn: send it within a day.',
    )
  }
  return (
    <Tray>
      <Stack>
        <h2>Draw it</h2>
        <div>
          {drawingSteps.map(({ id, words }) => (
            <Check
              key={id}
              isSelected={steps.includes(id)}
              onChange={(on) => setSteps(on ? [...steps, id] : steps.filter((one) => one !== id))}
            >
              {words}
            </Check>
          ))}
        </div>
        <div style={{ maxWidth: 260 }}>
          <Field
            label="Salinity of the sample"
            unit={record.settings.salinity}
            value={salinity}
            onChange={setSalinity}
            numeric
            error={error}
            hint="where the report will not give it"
          />
        </div>
        <Row>
          <Button look="main" onPress={() => void drawn()}>
            Drawn now
          </Button>
          <LinkButton to={`/tests/${body.vesselId}`}>Enter the kit tests of today</LinkButton>
        </Row>
      </Stack>
    </Tray>
  )
}

/** The report's file or its table, pasted; what only the keeper knows is asked. */
function TakeReport({ sample }: { readonly sample: SampleDocument }) {
  const table = useOpenTable('laboratory')
  const { chosen, result } = table
  return (
    <>
      <h2>The report</h2>
      <TableOpener table={table} hint="Element, result, unit: as the laboratory gives it." />
      {result && chosen && result.refused === null && (
        <TakeIt
          key={chosen.name}
          sample={sample}
          file={chosen.name}
          result={result}
          stale={table.reading}
          answers={table.answers}
        />
      )}
      {result && <LeftOut result={result} />}
    </>
  )
}

function TakeIt({
  sample,
  file,
  result,
  stale,
  answers,
}: {
  readonly sample: SampleDocument
  readonly file: string
  readonly result: TableResult
  readonly stale: boolean
  readonly answers: Readonly<Record<string, unknown>>
}) {
  const given = Number(String(answers['salinity'] ?? '').replace(',', '.'))
  const intent: Intent | null =
    result.readings.length === 0
      ? null
      : {
          kind: 'report',
          sampleId: sample.id,
          file,
          rows: result.readings,
          ...(given > 0 ? { salinityPpt: given } : {}),
        }
  const asking = useAct(intent)
  if (intent === null) return null
  return (
    <Tray>
      <Stack>
        <h2>{result.readings.length} values read</h2>
        <Quiet>{asking.answer.preview.lines.join(' ')}</Quiet>
        <Refusals refusals={asking.spoken} override={asking.override} onOverride={asking.setOverride} />
        {asking.answer.problem !== null && <p>{asking.answer.problem}</p>}
        <Failure words={asking.failure} />
        <Row>
          <Button
            look="main"
            isDisabled={stale || result.asks.length > 0 || asking.busy || !asking.may}
            onPress={() => void asking.commit()}
          >
            Take the report
          </Button>
        </Row>
      </Stack>
    </Tray>
  )
}

const VERDICT: Readonly<
  Record<ReportLine['verdict'], { readonly words: string; readonly tone: 'due' | 'good' | 'danger' | 'plain' }>
> = {
  inside: { words: 'in its lines', tone: 'good' },
  low: { words: 'low', tone: 'due' },
  high: { words: 'high', tone: 'due' },
  'not-seen': { words: 'not seen', tone: 'plain' },
  told: { words: 'no lines kept', tone: 'plain' },
  open: { words: 'not judged', tone: 'plain' },
}

function ReportTable({
  sample,
  onChange,
}: {
  readonly sample: SampleDocument
  readonly onChange: (patch: Partial<SampleBody>, said: string) => Promise<void>
}) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const { body } = sample
  const others = [...record.samples.values()]
    .filter(
      (one) =>
        one.id !== sample.id &&
        one.body.vesselId === body.vesselId &&
        one.body.results !== undefined &&
        one.body.sampledAt !== undefined,
    )
    .sort((a, b) => instantMs(b.body.sampledAt!) - instantMs(a.body.sampledAt!))
  const earlier = others.find(
    ({ body: one }) => instantMs(one.sampledAt!) < instantMs(body.sampledAt ?? sample.savedAt),
  )
  const [besideId, setBeside] = useState(earlier?.id ?? '')
  const lines = useMemo(() => waterLines(record, active, body.vesselId, nowMs), [record, active, body.vesselId, nowMs])
  const beside = record.samples.get(besideId) ?? null
  const report = reportOf(sample, lines, nowMs, beside)
  const odd = report.lines.filter(({ verdict }) => verdict === 'low' || verdict === 'high')
  const [all, setAll] = useState(false)
  const drawn = body.sampledAt === undefined ? null : instantMs(body.sampledAt)
  const days = drawn === null ? 0 : Math.floor((nowMs - drawn) / DAY)
  return (
    <>
      {report.salinityPpt === null && <SalinityAsk onChange={onChange} />}
      <Tray>
        <Stack>
          <h2>
            {odd.length === 0
              ? 'Nothing out of its lines'
              : `${odd.length} of ${report.lines.length} out of their lines`}
          </h2>
          <Quiet>
            As drawn {days === 0 ? 'today' : days === 1 ? 'a day ago' : `${days} days ago`}
            {report.salinityPpt === null ? '' : `, at ${shown(report.salinityPpt)} ppt; the lines are those of 35 ppt`}.
          </Quiet>
          {odd.length > 0 && (
            <ul style={{ display: 'grid', gap: 12 }}>
              {odd.map((line) => (
                <li key={line.element}>
                  <Row $gap={10}>
                    <strong style={{ fontSize: 17 }}>{line.name}</strong>
                    <span>
                      {line.at35 === null ? bounded(line) : amount(line.at35, line.result.unit, isFine(line))}{' '}
                      <Quiet>{naturally(line) === '' ? '' : `natural ${naturally(line)}`}</Quiet>
                    </span>
                    <Tag $tone={line.grave ? 'danger' : 'due'}>{VERDICT[line.verdict].words}</Tag>
                    {line.working && <WorkingButton working={line.working} />}
                  </Row>
                  <p>{line.advice}</p>
                  <Today line={line} />
                </li>
              ))}
            </ul>
          )}
        </Stack>
      </Tray>
      <ToDo report={report} sample={sample} />
      <Tray>
        <Stack>
          <Row $between>
            <h2>The whole report</h2>
            {others.length > 0 && (
              <div style={{ minWidth: 220 }}>
                <Select
                  label="Beside it"
                  value={besideId}
                  onChange={setBeside}
                  options={[
                    { value: '', label: 'no other report' },
                    ...others.map(({ id, body: one }) => ({
                      value: id,
                      label: `${longDayText(instantMs(one.sampledAt!), record.settings)}, ${one.laboratory}`,
                    })),
                  ]}
                />
              </div>
            )}
          </Row>
          <Rows tabIndex={0} role="region" aria-label="Every value of the report">
            <table>
              <thead>
                <tr>
                  <th>Element</th>
                  <th className="number">Measured</th>
                  <th className="number">At 35 ppt</th>
                  {beside && <th className="number">Other report</th>}
                  <th className="number">Natural</th>
                  <th>Lines</th>
                  <th>Judged</th>
                </tr>
              </thead>
              <tbody>
                {report.lines
                  .filter(({ verdict }) => all || verdict !== 'not-seen')
                  .map((line) => (
                    <tr
                      key={line.element}
                      {...(line.verdict === 'low' || line.verdict === 'high' ? { 'data-odd': '' } : {})}
                    >
                      <td>
                        {line.name === line.element ? sentenceCase(line.element) : `${line.name} (${line.element})`}
                      </td>
                      <td className="number">{bounded(line)}</td>
                      <td className="number">
                        {line.at35 === null || line.group === 'value'
                          ? ''
                          : amount(line.at35, line.result.unit, isFine(line))}
                      </td>
                      {beside && (
                        <td className="number">
                          {line.before === null ? (
                            ''
                          ) : (
                            <>
                              {amount(line.before.at35, line.result.unit, isFine(line))}
                              {line.before.told ? (
                                <Quiet> {line.at35! > line.before.at35 ? 'rose' : 'fell'}</Quiet>
                              ) : (
                                ''
                              )}
                            </>
                          )}
                        </td>
                      )}
                      <td className="number">{naturally(line)}</td>
                      <td>{linesOf(line)}</td>
                      <td>
                        <Tag $tone={line.grave ? 'danger' : VERDICT[line.verdict].tone}>
                          {VERDICT[line.verdict].words}
                        </Tag>
                        {line.kit && line.kit.z >= 2 && (
                          <Quiet> your kit said {amount(line.kit.value, line.result.unit, isFine(line))}</Quiet>
                        )}
                      </td>
                    </tr>
                  ))}
              </tbody>
            </table>
          </Rows>
          {!all && report.lines.some(({ verdict }) => verdict === 'not-seen') && (
            <Row>
              <Button onPress={() => setAll(true)}>
                Show also the {report.lines.filter(({ verdict }) => verdict === 'not-seen').length} that were not seen
              </Button>
            </Row>
          )}
        </Stack>
      </Tray>
      <TakeBack sample={sample} />
    </>
  )
}

/** What the water did since the sample was drawn, and what the keeper's own kit said then. */
function Today({ line }: { readonly line: ReportLine }) {
  const { record } = useRecord()
  const { today, kit } = line
  if (!today && !kit) return null
  const about = today ? ANALYTES[today.analyte] : null
  const unit = about ? preferredUnit(about.dimension, preferencesOf(record.settings)) : ''
  return (
    <p>
      <Quiet>
        {today && about
          ? `By the trend of your tests ${analyteWord(today.analyte)} would be about ${shown(fromCanonical(about.dimension, today.value, unit))} ${unit} today. `
          : ''}
        {kit
          ? kit.z >= 2
            ? `Your kit said ${amount(kit.value, line.result.unit, isFine(line))} then: the two disagree.`
            : `Your kit said ${amount(kit.value, line.result.unit, isFine(line))} then: they agree.`
          : ''}
      </Quiet>
    </p>
  )
}

/** What follows from the report: one thing a week, lowest first; another sample; the source of a metal. */
function ToDo({ report, sample }: { readonly report: Report; readonly sample: SampleDocument }) {
  const { create } = useActions()
  const { nowMs } = useThePlans()
  const navigate = useNavigate()
  const { order, oddTraces, highMetals, sources } = report
  if (order.length === 0 && oddTraces.length === 0 && highMetals.length === 0 && sources.length === 0) return null
  const again = async () => {
    const next = await create('sample', {
      vesselId: sample.body.vesselId,
      laboratory: sample.body.laboratory,
      orderedAt: instantOf(nowMs),
    })
    void navigate(`/laboratory/${next.id}`)
  }
  return (
    <Tray>
      <Stack>
        <h2>What follows</h2>
        <ol style={{ listStyle: 'decimal', paddingLeft: 20, display: 'grid', gap: 8 }}>
          {highMetals.length === 1 && (
            <li>
              {highMetals[0]} alone is too high: another sample before anything is done, and its source looked for
              meanwhile.{' '}
              <Button look="bare" onPress={() => void again()}>
                Another vial
              </Button>
            </li>
          )}
          {highMetals.length > 1 && (
            <li>
              {highMetals.join(', ')}: more than one metal is too high. Act: 30 to 50 % of the water changed over three
              days, fresh carbon or a metal-binding resin where no medicine is in the water, and the source found.{' '}
              <Button look="bare" onPress={() => void again()}>
                A vial for afterwards
              </Button>
            </li>
          )}
          {oddTraces.length > 0 && (
            <li>
              {oddTraces.join(', ')}: no kit reads {oddTraces.length === 1 ? 'it' : 'them'}, so another sample tells
              whether it is so. Until then nothing is added; changes with a complete mix bring traces back by
              themselves.{' '}
              {highMetals.length === 0 && (
                <Button look="bare" onPress={() => void again()}>
                  Another vial
                </Button>
              )}
            </li>
          )}
          {sources.length > 0 && <li>Where it may come from: {sources.map((one) => one.toLowerCase()).join('; ')}.</li>}
          {order.map(({ element, correction, perDay, unit }, i) => (
            <li key={element}>
              {i === 0 ? 'This week' : i === 1 ? 'The week after' : `In week ${i + 1}`}: {correction}, tested with your
              kit first, at most {shown(perDay)} {unit} a day.{' '}
              {i === 0 && (
                <LinkButton to={`/water/${sample.body.vesselId}/corrections?add=${correction}&half=yes`}>
                  Correct {correction}
                </LinkButton>
              )}
            </li>
          ))}
        </ol>
        <Quiet>Keep a list of which bottle holds which element: two bottles with the same one add up.</Quiet>
      </Stack>
    </Tray>
  )
}

function SalinityAsk({ onChange }: { readonly onChange: (patch: Partial<SampleBody>, said: string) => Promise<void> }) {
  const { record } = useRecord()
  const [text, setText] = useState('')
  const read = parseQuantity(text, {
    dimension: 'salinity',
    fieldUnit: record.settings.salinity,
    label: 'Salinity of the sample',
    allowBound: false,
  })
  return (
    <Tray $tone="caution">
      <Row style={{ alignItems: 'end' }}>
        <div style={{ width: 220 }}>
          <Field
            label="Salinity of the sample"
            unit={record.settings.salinity}
            value={text}
            onChange={setText}
            numeric
          />
        </div>
        <Button
          look="main"
          isDisabled={!read.ok || !(read.ok && read.value.value > 0)}
          onPress={() =>
            void onChange({ salinityPpt: read.ok ? Number(read.value.value.toPrecision(5)) : 35 }, 'Judged at 35 ppt.')
          }
        >
          Judge it
        </Button>
        <Quiet>Without it nothing can be said of any element.</Quiet>
      </Row>
    </Tray>
  )
}

/** A report on the wrong sample is taken back, its readings with it. */
function TakeBack({ sample }: { readonly sample: SampleDocument }) {
  const { active } = useRecord()
  const { commit } = useActions()
  const notice = useNotice()
  const back = async () => {
    const { results: _results, reportedAt: _reportedAt, file: _file, ...body } = sample.body
    const drafts = active.flatMap((entry) =>
      entry.kind === 'reading' && entry.sampleId === sample.id
        ? [
            {
              kind: 'void',
              voids: entry.id,
              reason: 'The report was taken back.',
              vesselId: entry.vesselId,
            } as unknown as Draft,
          ]
        : [],
    )
    try {
      await commit([revised(sample, body, instantOf(clockMs()))], drafts)
      notice({ text: 'Taken back; its readings are struck out.', tone: 'done' })
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  return (
    <Row>
      <Button look="bare" onPress={() => void back()}>
        Take this report back
      </Button>
    </Row>
  )
}

/** In the demonstration a laboratory of our own answers for the invented water. */
function StandIn({ sample }: { readonly sample: SampleDocument }) {
  const { mode } = useDatabase()
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const notice = useNotice()
  if (mode !== 'demo') return null
  const { body } = sample
  const ready = instantMs(body.sentAt!) + 5 * DAY
  const ask = async () => {
    const { standInReport } = await import('./standIn.ts')
    const { name, text } = standInReport(record, active, sample)
    const url = URL.createObjectURL(new Blob([text], { type: 'text/csv' }))
    Object.assign(document.createElement('a'), { href: url, download: name }).click()
    URL.revokeObjectURL(url)
    notice({ text: `${name} was saved: choose it above.`, tone: 'done' })
  }
  return (
    <Button isDisabled={nowMs < ready} onPress={() => void ask()}>
      {nowMs < ready ? 'The stand-in laboratory answers in some days' : 'Have the stand-in laboratory answer'}
    </Button>
  )
}
