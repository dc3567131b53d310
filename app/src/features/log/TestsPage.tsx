// All tests of a vessel in one go: a field for each that is due, the last value beside it, one press to save them.
import { ANALYTES, entryMs, fromCanonical, preferredUnit, type Analyte, type Intent, type Step } from '@brinvo/core'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { styled } from 'styled-components'
import { useRecord } from '../../data/queries.tsx'
import { Field, Select } from '../../design/fields.tsx'
import { Button, Page, Quiet, Row, Stack, Tray, Well } from '../../design/primitives.tsx'
import { dayText, preferencesOf, whenText } from '../../design/words.ts'
import { Refusals } from '../../parts/Refusals.tsx'
import { useAct } from '../../parts/useAct.ts'
import { NotFound } from '../../shell/NotFound.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { useGoOn } from '../../shell/useGoOn.ts'
import { Failure } from '../../parts/Failure.tsx'

const DAY = 86_400_000
const Fields = styled.ul`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(220px, 1fr));
  gap: 14px 20px;
`
/** A test to be entered: what asks for it, where a plan does. */
interface Wanted {
  readonly analyte: Analyte
  readonly step: Step | null
}

/** Tests that the plans of a vessel ask for now, each analyte once: what is late stands first. */
function wantedIn(steps: readonly Step[]): Wanted[] {
  const found = new Map<string, Wanted>()
  const asked = steps
    .filter(({ test, state }) => test !== undefined && (state === 'due' || state === 'late'))
    .sort((a, b) => Number(b.state === 'late') - Number(a.state === 'late') || a.dueMs - b.dueMs)
  for (const step of asked) {
    const { analyte } = step.test!
    if (analyte in ANALYTES && !found.has(analyte)) found.set(analyte, { analyte: analyte as Analyte, step })
  }
  return [...found.values()]
}

export function TestsPage() {
  const { vesselId = '' } = useParams()
  const { record } = useRecord()
  const vessel = record.vessels.get(vesselId)
  if (!vessel) return <NotFound />
  return (
    <Page $aside>
      <TestsForm key={vesselId} vesselId={vesselId} name={vessel.body.name} />
      <Well>
        <p>
          <Link to={`/tests/${vesselId}/table`}>From a table</Link>: a logbook’s file, or what you paste.
        </p>
        Leave open what was not tested: an empty field writes nothing. “&lt;” before a value says it was under the kit’s
        first mark.
      </Well>
    </Page>
  )
}

function TestsForm({ vesselId, name }: { readonly vesselId: string; readonly name: string }) {
  const { record, active } = useRecord()
  const { plans, nowMs } = useThePlans()
  const goOn = useGoOn()
  const preferences = preferencesOf(record.settings)
  const due = wantedIn(plans.filter((plan) => plan.vesselId === vesselId).flatMap(({ steps }) => steps))
  const [more, setMore] = useState<readonly Analyte[]>([])
  const [texts, setTexts] = useState<Readonly<Record<string, string>>>({})
  const [kits, setKits] = useState<Readonly<Record<string, string>>>({})
  const rows: Wanted[] = [
    ...due,
    ...more.flatMap((analyte) => (due.some((one) => one.analyte === analyte) ? [] : [{ analyte, step: null }])),
  ]
  const kitsOf = (analyte: Analyte) =>
    [...record.instruments.values()].filter(({ body }) => body.analyte === analyte && body.retiredAt === undefined)
  const kitOf = ({ analyte, step }: Wanted) => kits[analyte] ?? step?.test?.instrumentId ?? kitsOf(analyte)[0]?.id
  const typed = rows.filter(({ analyte }) => (texts[analyte] ?? '').trim() !== '')
  const intent: Intent | null =
    typed.length === 0
      ? null
      : {
          kind: 'readings',
          vesselId,
          readings: typed.map((row) => ({
            analyte: row.analyte,
            text: texts[row.analyte]!,
            ...(kitOf(row) === undefined ? {} : { instrumentId: kitOf(row)! }),
            ...(row.step ? { courseId: row.step.courseId, step: row.step.key } : {}),
          })),
        }
  const asking = useAct(intent)
  const save = async () => {
    if (await asking.commit()) goOn(-1)
  }
  const readOf = (analyte: Analyte) =>
    active.flatMap((entry) =>
      entry.kind === 'reading' && entry.vesselId === vesselId && entry.analyte === analyte ? [entry] : [],
    )
  /** What stood there on this day of the week before, within a day and a half. */
  const weekAgo = (read: ReturnType<typeof readOf>) => {
    const far = (entry: (typeof read)[number]) => Math.abs(nowMs - 7 * DAY - entryMs(entry))
    return read
      .slice(0, -1)
      .filter((entry) => far(entry) <= 1.5 * DAY)
      .sort((a, b) => far(a) - far(b))[0]
  }
  const others = (Object.keys(ANALYTES) as Analyte[]).filter((analyte) => !rows.some((one) => one.analyte === analyte))
  return (
    <Stack $gap={16}>
      <p>
        <Link to={`/vessels/${vesselId}`}>{name}</Link>
      </p>
      <h1>Tests in {name}</h1>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          void save()
        }}
      >
        <Tray>
          <Stack>
            {rows.length === 0 && <Quiet>No test is due here. Choose one below.</Quiet>}
            <Fields>
              {rows.map(({ analyte, step }, i) => {
                const about = ANALYTES[analyte]
                const unit = preferredUnit(about.dimension, preferences)
                const read = readOf(analyte)
                const last = read.at(-1)
                const week = weekAgo(read)
                const shown = (value: number) => Number(fromCanonical(about.dimension, value, unit).toPrecision(4))
                const choices = kitsOf(analyte)
                const before = last
                  ? `last ${shown(last.value)}, ${last.dayOnly ? dayText(entryMs(last), record.settings) : whenText(entryMs(last), nowMs, record.settings)}${week ? `; a week ago ${shown(week.value)}` : ''}`
                  : 'never tested here'
                return (
                  <li key={analyte}>
                    <Field
                      label={step?.state === 'late' ? `${about.word}, late` : about.word}
                      unit={unit}
                      value={texts[analyte] ?? ''}
                      onChange={(text) => setTexts((now) => ({ ...now, [analyte]: text }))}
                      numeric
                      autoFocus={i === 0}
                      hint={choices.length === 1 ? `${before}; ${choices[0]!.body.name}` : before}
                    />
                    {choices.length > 1 && (
                      <Select
                        label={`${about.word} with`}
                        value={kitOf({ analyte, step }) ?? ''}
                        onChange={(id) => setKits((now) => ({ ...now, [analyte]: id }))}
                        options={choices.map(({ id, body }) => ({ value: id, label: body.name }))}
                      />
                    )}
                  </li>
                )
              })}
            </Fields>
            <div style={{ width: 240 }}>
              <Select
                label="Another test"
                value=""
                onChange={(analyte) => setMore([...more, analyte as Analyte])}
                options={[{ value: '', label: '–' }, ...others.map((id) => ({ value: id, label: ANALYTES[id].word }))]}
              />
            </div>
            <Refusals refusals={asking.spoken} override={asking.override} onOverride={asking.setOverride} />
            {typed.length > 0 && asking.answer.problem !== null && asking.answer.problem !== '' && (
              <p role="alert" style={{ color: 'var(--danger)', fontWeight: 650 }}>
                {asking.answer.problem}
              </p>
            )}
            <Failure words={asking.failure} />
            <Row>
              <Button look="main" type="submit" isDisabled={typed.length === 0 || asking.busy || asking.held}>
                {typed.length > 1 ? `Save ${typed.length} readings` : 'Save'}
              </Button>
              {rows.length > typed.length && typed.length > 0 && (
                <Quiet>
                  Left open:{' '}
                  {rows
                    .filter((row) => !typed.includes(row))
                    .map(({ analyte }) => ANALYTES[analyte].word)
                    .join(', ')}
                </Quiet>
              )}
            </Row>
          </Stack>
        </Tray>
      </form>
    </Stack>
  )
}
