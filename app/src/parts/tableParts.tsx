// A table as a file or pasted, looked at in a worker, asked about, and handed on: the same for logbooks and reports.
import { ANALYTES, analyteWord, elementOf, type Analyte } from '@brinvo/core'
import type { TableAnswers, TableAsk, TableKind, TableResult } from '@brinvo/core/tables'
import { useQuery } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { styled } from 'styled-components'
import { useRecord } from '../data/queries.tsx'
import { Field, Select } from '../design/fields.tsx'
import { Button, Quiet, Row, Stack, Tray } from '../design/primitives.tsx'
import { DateTimeField } from './DateTimeField.tsx'
import { useThePlans } from '../shell/PlansContext.tsx'
import { tables } from '../workers/client.ts'

/** The largest table that is opened, MB: a hundred thousand lines of twenty tests are under it. */
const MOST_MB = 40
export const Scroll = styled.div`
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
/** An answer, an analyte or an element as a keeper calls it. */
export const answerWord = (choice: string): string =>
  ANSWER_WORDS[choice] ?? (choice in ANALYTES ? ANALYTES[choice as Analyte].word : (elementOf(choice)?.name ?? choice))

/** A question with its test as the keeper calls it. */
function askWords(id: string, words: string): string {
  const analyte = id.split(':')[1] ?? ''
  return /^(?:unit|scale):/.test(id) && analyte in ANALYTES
    ? words
        .replace(`“${analyte}”`, `“${analyteWord(analyte as Analyte)}”`)
        .replace(` ${analyte} `, ` ${analyteWord(analyte as Analyte)} `)
    : words
}

export interface OpenTable {
  readonly chosen: Chosen | null
  /** Undefined until it was read. */
  readonly result: TableResult | undefined
  readonly reading: boolean
  /** How far the reading is, 0 to 1. */
  readonly share: number
  readonly error: Error | null
  readonly tooLarge: string | null
  readonly answers: TableAnswers
  /** What was asked and answered. */
  readonly said: readonly TableAsk[]
  readonly choose: (file: File) => Promise<void>
  readonly paste: (text: string) => void
  readonly answer: (ask: TableAsk, value: string) => void
  readonly unsay: (id: string) => void
  readonly stop: () => void
  readonly close: () => void
}

/** A table of a kind, from the choice of its file to the last answer. */
export function useOpenTable(kind: TableKind): OpenTable {
  const { record } = useRecord()
  const { zone } = record.settings
  const { nowMs } = useThePlans()
  const [chosen, setChosen] = useState<Chosen | null>(null)
  const [tooLarge, setTooLarge] = useState<string | null>(null)
  const [answers, setAnswers] = useState<TableAnswers>({})
  const [settled, setSettled] = useState<readonly TableAsk[]>([])
  const [share, setShare] = useState(0)
  const [openedMs] = useState(nowMs)
  const [stopped, setStopped] = useState(0)
  const anew = () => {
    setAnswers({})
    setSettled([])
    setShare(0)
  }
  const asked = useQuery({
    queryKey: ['table', kind, chosen?.name, chosen?.bytes, answers, stopped],
    queryFn: ({ signal }) =>
      tables.run('table', { bytes: chosen!.bytes, kind, zone, nowMs: openedMs, answers }, signal, setShare),
    enabled: chosen !== null,
    // What was asked stands until the answer to it is worked out: the page does not jump.
    placeholderData: (before) => before,
    staleTime: Infinity,
    gcTime: 0,
    retry: false,
  })
  const result = chosen === null ? undefined : asked.data
  return {
    chosen,
    result,
    reading: asked.isFetching,
    share,
    error: asked.error,
    tooLarge,
    answers,
    said: result ? settled.filter(({ id }) => !result.asks.some((ask) => ask.id === id)) : [],
    choose: async (file) => {
      anew()
      if (file.size > MOST_MB * 1_048_576) {
        setTooLarge(`${file.name} is ${Math.round(file.size / 1_048_576)} MB; the largest we read is ${MOST_MB} MB.`)
        return
      }
      setTooLarge(null)
      setChosen({ name: file.name, bytes: new Uint8Array(await file.arrayBuffer()) })
    },
    paste: (text) => {
      anew()
      setChosen({ name: 'a pasted table', bytes: new TextEncoder().encode(text) })
    },
    answer: (ask, value) => {
      setAnswers({ ...answers, [ask.id]: value })
      setSettled([...settled.filter(({ id }) => id !== ask.id), ask])
    },
    unsay: (id) => setAnswers(Object.fromEntries(Object.entries(answers).filter(([key]) => key !== id))),
    stop: () => {
      setChosen(null)
      setStopped((n) => n + 1)
    },
    close: () => setChosen(null),
  }
}

/** Choosing, pasting, what cannot be read, and the questions; what comes of it is drawn by the caller. */
export function TableOpener({ table, hint }: { readonly table: OpenTable; readonly hint: string }) {
  const input = useRef<HTMLInputElement>(null)
  const [pasted, setPasted] = useState('')
  const { chosen, result, answers, said } = table
  return (
    <>
      <Tray>
        <Stack>
          <Row>
            <Button look={chosen === null ? 'main' : undefined} onPress={() => input.current?.click()}>
              {chosen === null ? 'Choose a file' : 'Choose another file'}
            </Button>
            {chosen !== null && <strong style={{ overflowWrap: 'anywhere' }}>{chosen.name}</strong>}
            {table.reading && (
              <>
                <Quiet role="status">Reading it{table.share > 0 ? `, ${Math.round(100 * table.share)} %` : ''}…</Quiet>
                <Button look="bare" onPress={table.stop}>
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
              if (file) void table.choose(file)
            }}
          />
          {chosen === null && (
            <>
              <Field label="Or paste the table" multiline value={pasted} onChange={setPasted} hint={hint} />
              {pasted.trim() !== '' && (
                <Row>
                  <Button look="main" onPress={() => table.paste(pasted)}>
                    Read what is pasted
                  </Button>
                </Row>
              )}
            </>
          )}
          {table.tooLarge !== null && <p role="alert">{table.tooLarge}</p>}
          {table.error && <p role="alert">{table.error.message}</p>}
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
      {result && result.asks.length > 0 && <Asks asks={result.asks} answers={answers} onAnswer={table.answer} />}
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
                    <Button look="bare" aria-label={`Change: ${words}`} onPress={() => table.unsay(id)}>
                      Change
                    </Button>
                  </Row>
                </li>
              ))}
            </ul>
          </Stack>
        </Tray>
      )}
    </>
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
                        .filter(
                          (choice) =>
                            !id.startsWith('column:') ||
                            choice === 'ignore' ||
                            choice in ANALYTES ||
                            elementOf(choice) !== undefined,
                        )
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

export function LeftOut({ result }: { readonly result: TableResult }) {
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
export function Columns({ result }: { readonly result: TableResult }) {
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
