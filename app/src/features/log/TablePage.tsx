// Readings out of a logbook's file: looked at first, asked about what only the keeper knows, then taken in one press.
import { entryMs, instantMs, type Entry, type Intent } from '@brinvo/core'
import type { TableReading, TableResult } from '@brinvo/core/tables'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { useRecord } from '../../data/queries.tsx'
import { Check } from '../../design/fields.tsx'
import { Button, Page, Quiet, Row, Stack, Tray, Well } from '../../design/primitives.tsx'
import { longDayText, plural } from '../../design/words.ts'
import { OutAsTable } from '../../parts/OutAsTable.tsx'
import { Refusals } from '../../parts/Refusals.tsx'
import { useAct } from '../../parts/useAct.ts'
import { useTold } from '../../parts/useTold.ts'
import { NotFound } from '../../shell/NotFound.tsx'
import { answerWord, Columns, LeftOut, Scroll, TableOpener, useOpenTable } from '../../parts/tableParts.tsx'
import { Failure } from '../../parts/Failure.tsx'

const SHOWN = 12

const counted = (n: number, word = 'reading') => `${n} ${word}${n === 1 ? '' : 's'}`

export function TablePage() {
  const { vesselId = '' } = useParams()
  const { record } = useRecord()
  const vessel = record.vessels.get(vesselId)
  if (!vessel) return <NotFound />
  return <TableForm key={vesselId} vesselId={vesselId} name={vessel.body.name} />
}

function TableForm({ vesselId, name }: { readonly vesselId: string; readonly name: string }) {
  const table = useOpenTable('readings')
  const { chosen, result } = table
  return (
    <Page $aside>
      <Stack $gap={16}>
        <p>
          <Link to={`/vessels/${vesselId}`}>{name}</Link>
        </p>
        <h1>Readings from a table</h1>
        <TableOpener table={table} hint="With its heads: date, time, and what was tested." />
        {result && chosen && result.refused === null && (
          <Taken
            key={chosen.name}
            vesselId={vesselId}
            vesselName={name}
            file={chosen.name}
            result={result}
            stale={table.reading}
            onTaken={table.close}
          />
        )}
        {result && <LeftOut result={result} />}
      </Stack>
      <Stack $gap={14}>
        <Well>
          Nothing leaves this device. A table is looked at first: what is a guess is shown, what only you can know is
          asked, and every line that is left out is named. Taken readings can be undone in one press.
        </Well>
        {result && result.columns.length > 0 && <Columns result={result} />}
        <FromTables vesselId={vesselId} />
        <Tray>
          <Stack $gap={8}>
            <h2 style={{ fontSize: 17 }}>Out again</h2>
            <Quiet>
              All readings of {name}, for a spreadsheet or another program. This page reads them in again as they were.
            </Quiet>
            <OutAsTable vesselId={vesselId} />
          </Stack>
        </Tray>
      </Stack>
    </Page>
  )
}

const shownValue = ({ analyte, value, unit, bound }: TableReading): string =>
  `${bound === 'below' ? '< ' : bound === 'above' ? '> ' : ''}${Number(value.toPrecision(4))} ${analyte === 'ph' ? '' : unit}`.trim()

function Taken({
  vesselId,
  vesselName,
  file,
  result,
  stale,
  onTaken,
}: {
  readonly vesselId: string
  readonly vesselName: string
  readonly file: string
  readonly result: TableResult
  readonly stale: boolean
  readonly onTaken: () => void
}) {
  const { record } = useRecord()
  const told = useTold()
  const { readings } = result
  const [without, setWithout] = useState(false)
  const intent: Intent | null =
    readings.length === 0
      ? null
      : { kind: 'table', vesselId, file, rows: readings, ...(without ? { withoutUnlikely: true } : {}) }
  const asking = useAct(intent)
  const days = readings.map(({ day }) => day).sort()
  const tests = [...new Set(readings.map(({ analyte }) => analyte))]
  const dayWords = (day: string) => longDayText(Date.parse(`${day}T12:00:00Z`), { ...record.settings, zone: 'UTC' })
  const count = asking.answer.drafts.length
  if (readings.length === 0) return null
  return (
    <Tray>
      <Stack>
        <h2>
          {counted(count)} for {vesselName}
        </h2>
        <Quiet>
          {counted(tests.length, 'test')}, {dayWords(days[0]!)}
          {days.at(-1) === days[0] ? '' : ` to ${dayWords(days.at(-1)!)}`}
        </Quiet>
        <Scroll tabIndex={0} role="region" aria-label="The first readings">
          <table>
            <thead>
              <tr>
                <th>Line</th>
                <th>Day</th>
                <th>Time</th>
                <th>Test</th>
                <th>Value</th>
              </tr>
            </thead>
            <tbody>
              {readings.slice(0, SHOWN).map((reading) => (
                <tr key={`${reading.line} ${reading.analyte} ${reading.value}`}>
                  <td>{reading.line}</td>
                  <td>{dayWords(reading.day)}</td>
                  <td>{reading.time ?? <Quiet>not given</Quiet>}</td>
                  <td>{answerWord(reading.analyte)}</td>
                  <td>{told(shownValue(reading))}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </Scroll>
        {readings.length > SHOWN && <Quiet>and {readings.length - SHOWN} more</Quiet>}
        <Refusals refusals={asking.spoken} override={asking.override} onOverride={asking.setOverride} />
        {(without || asking.spoken.some(({ rule }) => rule === 'implausible')) && (
          <Check isSelected={without} onChange={setWithout}>
            Leave out what is hard to believe
          </Check>
        )}
        {asking.answer.problem !== null && <p>{asking.answer.problem}</p>}
        <Failure words={asking.failure} />
        <Row>
          <Button
            look="main"
            isDisabled={stale || result.asks.length > 0 || asking.busy || !asking.may}
            onPress={() => void asking.commit().then((done) => done && onTaken())}
          >
            Take {counted(count)}
          </Button>
          {result.asks.length > 0 && (
            <Quiet>
              {plural(result.asks.length, 'question')} above {result.asks.length === 1 ? 'is' : 'are'} open.
            </Quiet>
          )}
        </Row>
      </Stack>
    </Tray>
  )
}

type ReadingEntry = Extract<Entry, { kind: 'reading' }>
/** Tables this vessel's readings came from before, newest first. */
function FromTables({ vesselId }: { readonly vesselId: string }) {
  const { record, active } = useRecord()
  const files = new Map<string, ReadingEntry[]>()
  for (const entry of active)
    if (entry.kind === 'reading' && entry.vesselId === vesselId && entry.table)
      files.set(entry.table.file, [...(files.get(entry.table.file) ?? []), entry])
  if (files.size === 0) return null
  return (
    <Tray>
      <Stack $gap={8}>
        <h2 style={{ fontSize: 17 }}>Taken before</h2>
        <ul>
          {[...files].map(([file, entries]) => (
            <li key={file} style={{ overflowWrap: 'anywhere' }}>
              {file}: {counted(entries.length)},{' '}
              <Quiet>
                {longDayText(Math.min(...entries.map(entryMs)), record.settings)} to{' '}
                {longDayText(instantMs(entries.at(-1)!.at), record.settings)}
              </Quiet>
            </li>
          ))}
        </ul>
      </Stack>
    </Tray>
  )
}
