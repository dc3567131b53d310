// Readings out of a logbook's file: looked at first, asked about what only the keeper knows, then taken in one press.
import { ANALYTES, analyteWord, entryMs, instantMs, type Analyte, type Entry, type Intent } from '@brinvo/core'
import type { TableAnswers, TableAsk, TableReading, TableResult } from '@brinvo/core/tables'
import { useQuery } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { Link, useParams } from 'react-router'
import { styled } from 'styled-components'
import { useRecord } from '../../data/queries.tsx'
import { Check, Field, Select } from '../../design/fields.tsx'
import { Button, Page, Quiet, Row, Stack, Tray, Well } from '../../design/primitives.tsx'
import { longDayText, plural } from '../../design/words.ts'
import { DateTimeField } from '../../parts/DateTimeField.tsx'
import { OutAsTable } from '../../parts/OutAsTable.tsx'
import { Refusals } from '../../parts/Refusals.tsx'
import { useAct } from '../../parts/useAct.ts'
import { useTold } from '../../parts/useTold.ts'
import { NotFound } from '../../shell/NotFound.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { tables } from '../../workers/client.ts'

/** The largest table that is opened, MB: a hundred thousand lines of twenty tests are under it. */
const MOST_MB = 40
const SHOWN = 12

const Scroll = styled.div`
  overflow-x: auto;
  table {
    border-collapse: collapse;
    font-size: 15px;
    min-width: 100%;
  }
  th,
  td {
    text-align: left;
    padding: 6px 18px 6px 0;
    border-bottom: 1px solid var(--hairline);
    white-space: nowrap;
    vertical-align: top;
  }
  th {
    font-size: 13px;
    color: var(--quiet);
    font-weight: 600;
  }
`
const Questions = styled.ul`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(280px, 1fr));
  gap: 16px 24px;
  small {
    display: block;
    color: var(--quiet);
    font-size: 13px;
    overflow-wrap: anywhere;
  }
`
const counted = (n: number, word = 'reading') => `${n} ${word}${n === 1 ? '' : 's'}`

interface Chosen {
  readonly name: string
  readonly bytes: Uint8Array
}

const ANSWER_WORDS: Readonly<Record<string, string>> = {
  dmy: 'day, month, year',
  mdy: 'month, day, year',
  ymd: 'year, month, day',
  point: 'the point (1.025 is a little over one)',
  comma: 'the comma (1,025 is a little over one)',
  'by-size': 'each by its size',
  ignore: 'nothing of it',
  'ppb P': 'µg/L of phosphorus',
}
const answerWord = (choice: string): string =>
  ANSWER_WORDS[choice] ?? (choice in ANALYTES ? ANALYTES[choice as Analyte].word : choice)

/** A question with its test as the keeper calls it. */
function askWords(id: string, words: string): string {
  const analyte = id.split(':')[1] ?? ''
  return /^(?:unit|scale):/.test(id) && analyte in ANALYTES
    ? words
        .replace(`“${analyte}”`, `“${analyteWord(analyte as Analyte)}”`)
        .replace(` ${analyte} `, ` ${analyteWord(analyte as Analyte)} `)
    : words
}

export function TablePage() {
  const { vesselId = '' } = useParams()
  const { record } = useRecord()
  const vessel = record.vessels.get(vesselId)
  if (!vessel) return <NotFound />
  return <TableForm key={vesselId} vesselId={vesselId} name={vessel.body.name} />
}

function TableForm({ vesselId, name }: { readonly vesselId: string; readonly name: string }) {
  const { record } = useRecord()
  const { zone } = record.settings
  const { nowMs } = useThePlans()
  const input = useRef<HTMLInputElement>(null)
  const [chosen, setChosen] = useState<Chosen | null>(null)
  const [pasted, setPasted] = useState('')
  const [tooLarge, setTooLarge] = useState<string | null>(null)
  const [answers, setAnswers] = useState<TableAnswers>({})
  const [settled, setSettled] = useState<readonly TableAsk[]>([])
  const answer = (ask: TableAsk, value: string) => {
    setAnswers({ ...answers, [ask.id]: value })
    setSettled([...settled.filter(({ id }) => id !== ask.id), ask])
  }
  const anew = () => {
    setAnswers({})
    setSettled([])
  }
  const [openedMs] = useState(nowMs)
  const [stopped, setStopped] = useState(0)
  const asked = useQuery({
    queryKey: ['table', chosen?.name, chosen?.bytes, answers, stopped],
    queryFn: ({ signal }) =>
      tables.run('table', { bytes: chosen!.bytes, kind: 'readings', zone, nowMs: openedMs, answers }, signal),
    enabled: chosen !== null,
    // What was asked stands until the answer to it is worked out: the page does not jump.
    placeholderData: (before) => before,
    staleTime: Infinity,
    gcTime: 0,
    retry: false,
  })
  const choose = async (file: File) => {
    anew()
    if (file.size > MOST_MB * 1_048_576) {
      setTooLarge(`${file.name} is ${Math.round(file.size / 1_048_576)} MB; the largest we read is ${MOST_MB} MB.`)
      return
    }
    setTooLarge(null)
    setChosen({ name: file.name, bytes: new Uint8Array(await file.arrayBuffer()) })
  }
  const result = chosen === null ? undefined : asked.data
  const said = result ? settled.filter(({ id }) => !result.asks.some((ask) => ask.id === id)) : []
  return (
    <Page $aside>
      <Stack $gap={16}>
        <p>
          <Link to={`/vessels/${vesselId}`}>{name}</Link>
        </p>
        <h1>Readings from a table</h1>
        <Tray>
          <Stack>
            <Row>
              <Button look={chosen === null ? 'main' : undefined} onPress={() => input.current?.click()}>
                {chosen === null ? 'Choose a file' : 'Choose another file'}
              </Button>
              {chosen !== null && <strong style={{ overflowWrap: 'anywhere' }}>{chosen.name}</strong>}
              {asked.isFetching && (
                <>
                  <Quiet role="status">Reading it…</Quiet>
                  <Button
                    look="bare"
                    onPress={() => {
                      setChosen(null)
                      setStopped((n) => n + 1)
                    }}
                  >
                    Stop
                  </Button>
                </>
              )}
            </Row>
            <input
              ref={input}
              type="file"
              hidden
              accept=".csv,.tsv,.txt,text/csv,text/plain,text/tab-separated-values"
              aria-label="A table as a file"
              onChange={(event) => {
                const file = event.target.files?.[0]
                event.target.value = ''
                if (file) void choose(file)
              }}
            />
            {chosen === null && (
              <>
                <Field
                  label="Or paste the table"
                  multiline
                  value={pasted}
                  onChange={setPasted}
                  hint="With its heads: date, time, and what was tested."
                />
                {pasted.trim() !== '' && (
                  <Row>
                    <Button
                      look="main"
                      onPress={() => {
                        anew()
                        setChosen({ name: 'a pasted table', bytes: new TextEncoder().encode(pasted) })
                      }}
                    >
                      Read what is pasted
                    </Button>
                  </Row>
                )}
              </>
            )}
            {tooLarge !== null && <p role="alert">{tooLarge}</p>}
            {asked.error && <p role="alert">{asked.error.message}</p>}
          </Stack>
        </Tray>
        {result && chosen && result.refused !== null && (
          <Tray $tone="danger" role="alert">
            <Stack>
              <h2>This cannot be read</h2>
              <p>{result.refused} Nothing was changed.</p>
            </Stack>
          </Tray>
        )}
        {result && result.asks.length > 0 && <Asks asks={result.asks} answers={answers} onAnswer={answer} />}
        {result && said.length > 0 && (
          <Tray>
            <Stack $gap={6}>
              <h2>As you said</h2>
              <ul>
                {said.map(({ id, words }) => (
                  <li key={id}>
                    <Row $gap={10}>
                      <span>
                        <Quiet>{askWords(id, words)}</Quiet> {answerWord(String(answers[id] ?? ''))}
                      </span>
                      <Button
                        look="bare"
                        aria-label={`Change: ${words}`}
                        onPress={() =>
                          setAnswers(Object.fromEntries(Object.entries(answers).filter(([key]) => key !== id)))
                        }
                      >
                        Change
                      </Button>
                    </Row>
                  </li>
                ))}
              </ul>
            </Stack>
          </Tray>
        )}
        {result && chosen && result.refused === null && (
          <Taken
            key={chosen.name}
            vesselId={vesselId}
            vesselName={name}
            file={chosen.name}
            result={result}
            stale={asked.isFetching}
            onTaken={() => {
              setChosen(null)
              setPasted('')
            }}
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

function Asks({
  asks,
  answers,
  onAnswer,
}: {
  readonly asks: readonly TableAsk[]
  readonly answers: TableAnswers
  readonly onAnswer: (ask: TableAsk, value: string) => void
}) {
  return (
    <Tray $tone="caution">
      <Stack>
        <h2>Only you can know</h2>
        <Questions>
          {asks.map((ask) => {
            const { id, choices, examples } = ask
            const words = askWords(id, ask.words)
            return (
              <li key={id}>
                {id === 'sampled' ? (
                  <DateTimeField
                    day
                    label={words}
                    value={String(answers[id] ?? '')}
                    onChange={(day) => onAnswer(ask, day)}
                  />
                ) : choices.length === 0 ? (
                  <Field
                    label={words}
                    value={String(answers[id] ?? '')}
                    onChange={(text) => onAnswer(ask, text)}
                    numeric
                  />
                ) : (
                  <Select
                    label={words}
                    value={String(answers[id] ?? '')}
                    onChange={(choice) => onAnswer(ask, choice)}
                    options={[
                      { value: '', label: 'choose' },
                      ...choices
                        .filter((choice) => !id.startsWith('column:') || choice === 'ignore' || choice in ANALYTES)
                        .map((choice) => ({ value: choice, label: answerWord(choice) })),
                    ]}
                  />
                )}
                {examples.length > 0 && <small>as in {examples.map((one) => `“${one}”`).join(', ')}</small>}
              </li>
            )
          })}
        </Questions>
        <Quiet>What hangs on an open question is not read until it is answered.</Quiet>
      </Stack>
    </Tray>
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
        {asking.failure !== null && <p role="alert">{asking.failure}</p>}
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

function LeftOut({ result }: { readonly result: TableResult }) {
  const [all, setAll] = useState(false)
  const { skipped } = result
  if (skipped.length === 0) return null
  const shown = all ? skipped : skipped.slice(0, 20)
  return (
    <Tray>
      <Stack>
        <h2>Left out</h2>
        <Scroll tabIndex={0} role="region" aria-label="Lines left out">
          <table>
            <tbody>
              {shown.map(({ line, why }, i) => (
                <tr key={i}>
                  <td>line {line}</td>
                  <td style={{ whiteSpace: 'normal' }}>{why}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </Scroll>
        {!all && skipped.length > shown.length && (
          <Row>
            <Button onPress={() => setAll(true)}>Show all {skipped.length}</Button>
          </Row>
        )}
      </Stack>
    </Tray>
  )
}

const DELIMITERS: Readonly<Record<string, string>> = { ',': 'commas', ';': 'semicolons', '\t': 'tabs', '|': 'bars' }
function Columns({ result }: { readonly result: TableResult }) {
  return (
    <Tray>
      <Stack $gap={8}>
        <h2 style={{ fontSize: 17 }}>How it is read</h2>
        <Quiet>
          Cells parted by {DELIMITERS[result.delimiter ?? ','] ?? 'commas'}
          {result.decimal === null ? '' : `, decimals with a ${result.decimal}`}, {result.encoding}.
        </Quiet>
        <Scroll tabIndex={0} role="region" aria-label="Columns">
          <table>
            <thead>
              <tr>
                <th>Head</th>
                <th>Taken for</th>
              </tr>
            </thead>
            <tbody>
              {result.columns.map(({ head, taken }, i) => (
                <tr key={i}>
                  <td style={{ whiteSpace: 'normal' }}>{head}</td>
                  <td style={{ whiteSpace: 'normal' }}>
                    {taken
                      .split(', ')
                      .map((part) => answerWord(part))
                      .join(', ')}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </Scroll>
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
