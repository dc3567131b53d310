// A protocol of one's own: plain fields for what is changed most, the whole text for the rest, faults with their lines,
// and the calendar it yields at every keystroke.
import { typedNumber, protocolCalendar, protocolLibrary, protocolOf, type Protocol } from '@brinvo/core'
import { checkProtocolText, editProtocolText, isShippedId, type ProtocolFault } from '@brinvo/core/file'
import { useMemo, useRef, useState } from 'react'
import { useParams, useSearchParams } from 'react-router'
import { styled } from 'styled-components'
import { useActions, useRecord } from '../../data/queries.tsx'
import { Choice, Field } from '../../design/fields.tsx'
import { Button, Empty, LinkButton, Page, Quiet, Row, Stack, Tray, Well } from '../../design/primitives.tsx'
import { NARROW } from '../../design/theme.ts'
import { saveFile } from '../../parts/saveFile.ts'
import { useNotice } from '../../shell/Notices.tsx'
import { ProtocolDays } from './ProtocolDays.tsx'
import { useGoOn } from '../../shell/useGoOn.ts'

const Split = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 16px;
  align-items: start;
  ${NARROW} {
    grid-template-columns: minmax(0, 1fr);
  }
`
const Paper = styled.div`
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  height: 520px;
  border: 1.5px solid var(--quiet);
  border-radius: 8px;
  overflow: hidden;
  background: var(--tray);
  font-size: 13px;
  line-height: 19px;
`
const Lines = styled.pre`
  margin: 0;
  padding: 10px 8px;
  overflow: hidden;
  text-align: right;
  color: var(--quiet);
  background: var(--well);
  user-select: none;
  line-height: 19px;
  b {
    color: var(--on-rim);
    background: var(--danger);
    border-radius: 3px;
    padding: 0 3px;
  }
`
const Text = styled.textarea`
  border: 0;
  padding: 10px;
  resize: none;
  white-space: pre;
  overflow: auto;
  line-height: 19px;
  background: transparent;
  tab-size: 2;
`
const Faults = styled.ol`
  display: grid;
  gap: 4px;
  button {
    width: 100%;
    min-height: 44px;
    padding: 6px 10px;
    text-align: left;
    border: 1.5px solid var(--hairline);
    border-left: 5px solid var(--danger);
    border-radius: 8px;
    background: var(--tray);
    cursor: pointer;
  }
  button[data-level='doubt'] {
    border-left-color: var(--acriflavine);
  }
`

/** A free id near a wished one. */
export function freeId(wish: string, taken: ReadonlySet<string>): string {
  const base =
    wish
      .toLowerCase()
      .replaceAll(/[^a-z0-9]+/g, '-')
      .replaceAll(/^-+|-+$/g, '')
      .slice(0, 50) || 'my-protocol'
  if (!taken.has(base) && !isShippedId(base)) return base
  for (let i = 2; ; i++) if (!taken.has(`${base}-${i}`) && !isShippedId(`${base}-${i}`)) return `${base}-${i}`
}

/** Text of a copy of a shipped protocol, under a name of its own. */
export function copyText(protocol: Protocol, taken: ReadonlySet<string>): string {
  const id = freeId(`my-${protocol.id}`, taken)
  return JSON.stringify({ ...protocol, id, title: `${protocol.title}, my way`.slice(0, 120) }, null, 2)
}

/** What can be read as a protocol even while a value in it is at fault; null when the text itself is broken. */
function looseProtocol(text: string): Protocol | null {
  try {
    const value = JSON.parse(text) as Partial<Protocol> | null
    const whole = value?.phases?.every?.(({ rules, exit }) => Array.isArray(rules) && typeof exit?.kind === 'string')
    return whole === true ? (value as Protocol) : null
  } catch {
    return null
  }
}

const DRAFT = 'brinvo-protocol-draft-'

export function WriteProtocolPage() {
  const { id = 'new' } = useParams()
  const [params] = useSearchParams()
  const { record } = useRecord()
  const document = record.protocols.get(id)
  const from = params.get('from')
  if (id !== 'new' && !document)
    return (
      <Page>
        <Empty
          title="No protocol of yours has this name"
          action={<LinkButton to="/library">To the library</LinkButton>}
        >
          It may have been put away, or the record was replaced.
        </Empty>
      </Page>
    )
  return <Writer key={`${id}-${from ?? ''}`} documentId={document?.id ?? null} from={from} />
}

function Writer({ documentId, from }: { documentId: string | null; from: string | null }) {
  const { record } = useRecord()
  const { create, revise } = useActions()
  const notice = useNotice()
  const goOn = useGoOn()
  const document = documentId === null ? undefined : record.protocols.get(documentId)
  const draftKey = `${DRAFT}${documentId ?? `new-${from ?? ''}`}`
  const taken = useMemo(
    () =>
      new Set(
        [...record.protocols.values()]
          .filter(({ id }) => id !== documentId)
          .flatMap(({ body }) => checkProtocolText(body.text).protocol?.id ?? []),
      ),
    [record.protocols, documentId],
  )
  const stored = document?.body.text ?? copyText(protocolOf(from ?? '') ?? protocolLibrary[0]!, taken)
  const [text, setTextState] = useState(() => sessionStorage.getItem(draftKey) ?? stored)
  const [face, setFace] = useState<'plain' | 'text'>('plain')
  const area = useRef<HTMLTextAreaElement>(null)
  const lines = useRef<HTMLPreElement>(null)
  const setText = (next: string) => {
    setTextState(next)
    // What is typed outlives a closed tab.
    sessionStorage.setItem(draftKey, next)
  }
  const check = useMemo(() => {
    const found = checkProtocolText(text)
    const own = found.protocol
    if (own && (isShippedId(own.id) || taken.has(own.id))) {
      const fault: ProtocolFault = {
        line: 1,
        column: 1,
        offset: Math.max(0, text.indexOf('"id"')),
        length: 4,
        level: 'fault',
        message: `Another protocol is already called “${own.id}”. A copy needs an id of its own.`,
      }
      const line = text.slice(0, fault.offset).split('\n').length
      return { protocol: null, faults: [{ ...fault, line }] }
    }
    return found
  }, [text, taken])
  // While a fault stands, the last calendar that made sense stays in view.
  const [lastGood, setLastGood] = useState<Protocol | null>(null)
  if (check.protocol && check.protocol !== lastGood) setLastGood(check.protocol)
  const shown = check.protocol ?? lastGood
  const loose = useMemo(() => looseProtocol(text), [text])
  const calendar = useMemo(() => (shown ? protocolCalendar(shown) : null), [shown])
  const faults = check.faults.filter(({ level }) => level === 'fault')
  const bad = new Set(check.faults.map(({ line }) => line))
  const go = (fault: ProtocolFault) => {
    setFace('text')
    requestAnimationFrame(() => {
      const target = area.current
      if (!target) return
      target.focus()
      target.setSelectionRange(fault.offset, fault.offset + fault.length)
      target.scrollTop = Math.max(0, (fault.line - 6) * 19)
    })
  }
  const save = async () => {
    const title = check.protocol?.title ?? document?.body.title ?? 'Unfinished protocol'
    try {
      if (document) await revise(document, { ...document.body, title, text })
      else {
        const made = await create('protocol', { title, text, ...(from === null ? {} : { copiedFrom: from }) })
        goOn(`/library/write/${made.id}`, { replace: true })
      }
      sessionStorage.removeItem(draftKey)
      notice({
        text:
          faults.length === 0
            ? `${title} is kept and can be started.`
            : `Kept as unfinished: ${faults.length} ${faults.length === 1 ? 'fault' : 'faults'} to mend before it can be started.`,
        tone: 'done',
      })
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  const changed = text !== stored || document === undefined
  return (
    <Page>
      <Row $between>
        <Stack $gap={2}>
          <h1>{shown?.title ?? 'A protocol of your own'}</h1>
          <Quiet>
            {from === null && document?.body.copiedFrom === undefined
              ? 'Your own protocol.'
              : `Copied from ${protocolOf(from ?? document?.body.copiedFrom ?? '')?.title ?? 'the library'}. The library’s own stays as it is.`}
          </Quiet>
        </Stack>
        <Row>
          <Button
            onPress={() => saveFile(`${shown?.id ?? 'protocol'}.json`, new Blob([text], { type: 'application/json' }))}
          >
            Export
          </Button>
          {document && check.protocol && !changed && (
            <LinkButton to={`/courses/new?protocol=${check.protocol.id}`}>Start it</LinkButton>
          )}
          <Button look="main" onPress={() => void save()} isDisabled={!changed}>
            {faults.length === 0 ? 'Keep it' : 'Keep as unfinished'}
          </Button>
        </Row>
      </Row>
      <Split>
        <Tray>
          <Stack>
            <Choice
              label="How to change it"
              hideLabel
              value={face}
              onChange={setFace}
              options={[
                { value: 'plain', label: 'Plain fields' },
                { value: 'text', label: 'Whole text' },
              ]}
            />
            {face === 'plain' &&
              (loose ? (
                <PlainFields protocol={loose} text={text} onChange={setText} />
              ) : (
                <Well>The text has a fault. Press it in the list to mend it, then the fields come back.</Well>
              ))}
            {face === 'text' && (
              <Paper className="mono">
                <Lines ref={lines} aria-hidden>
                  {text.split('\n').map((_, i) => (
                    <span key={i}>
                      {bad.has(i + 1) ? <b>{i + 1}</b> : i + 1}
                      {'\n'}
                    </span>
                  ))}
                </Lines>
                <Text
                  ref={area}
                  className="mono"
                  aria-label="Protocol as text"
                  spellCheck={false}
                  value={text}
                  onChange={(event) => setText(event.target.value)}
                  onScroll={(event) => {
                    if (lines.current) lines.current.scrollTop = event.currentTarget.scrollTop
                  }}
                />
              </Paper>
            )}
          </Stack>
        </Tray>
        <Stack>
          {check.faults.length > 0 && (
            <Tray $tone={faults.length > 0 ? 'caution' : 'plain'}>
              <Stack $gap={8}>
                <h2 role="status">
                  {faults.length > 0
                    ? `${faults.length} ${faults.length === 1 ? 'fault' : 'faults'} to mend`
                    : 'A doubt'}
                </h2>
                <Faults>
                  {check.faults.map((fault) => (
                    <li key={`${fault.offset}-${fault.message}`}>
                      <button type="button" data-level={fault.level} onClick={() => go(fault)}>
                        <strong>Line {fault.line}.</strong> {fault.message}
                      </button>
                    </li>
                  ))}
                </Faults>
              </Stack>
            </Tray>
          )}
          <Tray>
            <Stack>
              <h2>
                The days it yields{' '}
                {calendar && (
                  <Quiet>
                    {Math.round(calendar.days)} days at the least{check.protocol ? '' : ', before the fault'}
                  </Quiet>
                )}
              </h2>
              {calendar ? (
                <ProtocolDays calendar={calendar} />
              ) : (
                <Quiet>The calendar stands here as soon as the text makes sense.</Quiet>
              )}
            </Stack>
          </Tray>
        </Stack>
      </Split>
    </Page>
  )
}

/** The values that are changed most, each written into the text at its place. */
function PlainFields({
  protocol,
  text,
  onChange,
}: {
  protocol: Protocol
  text: string
  onChange: (text: string) => void
}) {
  const set = (path: (string | number)[], value: unknown) => onChange(editProtocolText(text, path, value))
  return (
    <Stack>
      <Line label="Title" value={protocol.title ?? ''} onText={(next) => set(['title'], next)} />
      <Line label="In one sentence" value={protocol.summary ?? ''} onText={(next) => set(['summary'], next)} />
      {protocol.phases.map((phase, p) => (
        <Stack key={phase.id} $gap={8} style={{ borderTop: '1px solid var(--hairline)', paddingTop: 10 }}>
          <h2 data-small="">{phase.title}</h2>
          <Row $gap={12} style={{ alignItems: 'flex-start' }}>
            <Line
              label="Usual length"
              unit="days"
              value={phase.typicalDays}
              onNumber={(next) => set(['phases', p, 'typicalDays'], next)}
            />
            {exitHours(phase.exit, ['phases', p, 'exit']).map(({ path, hours }) => (
              <Line
                key={path.join('.')}
                label="Ends at the earliest after"
                unit="days"
                value={hours / 24}
                onNumber={(next) => set([...path], next * 24)}
              />
            ))}
          </Row>
          {phase.rules.map((rule, r) => {
            const path = ['phases', p, 'rules', r]
            const numbers: { key: string; label: string; unit: string; value: number }[] = []
            const add = (key: string, label: string, unit: string) => {
              const value = (rule as unknown as Record<string, unknown>)[key]
              if (typeof value === 'number') numbers.push({ key, label, unit, value })
            }
            add('aim', 'Level', 'mg/L')
            add('times', 'How often', 'times')
            add('everyDays', 'Every', 'days')
            add('everyHours', 'Every', 'hours')
            add('fraction', 'Share changed', 'of 1')
            add('changeBefore', 'Changed before each repeat', 'of 1')
            add('perDay', 'A day', 'times')
            if (numbers.length === 0) return null
            return (
              <Stack key={rule.id} $gap={4}>
                <strong>{rule.title}</strong>
                <Row $gap={12} style={{ alignItems: 'flex-start' }}>
                  {numbers.map(({ key, label, unit, value }) => (
                    <Line
                      key={key}
                      label={label}
                      unit={unit}
                      value={value}

                      onNumber={(next) => set([...path, key], next)}
                    />
                  ))}
                </Row>
              </Stack>
            )
          })}
        </Stack>
      ))}
    </Stack>
  )
}

/** Elapsed hours in a way out, wherever they stand in it. */
function exitHours(
  condition: Protocol['phases'][number]['exit'],
  path: (string | number)[],
): { path: (string | number)[]; hours: number }[] {
  if (condition.kind === 'elapsed' && typeof condition.hours === 'number')
    return [{ path: [...path, 'hours'], hours: condition.hours }]
  if (condition.kind === 'all' || condition.kind === 'any')
    return condition.of.flatMap((part, i) => exitHours(part, [...path, 'of', i]))
  return []
}

/** One value; what cannot be read stays in the field with its reason and changes nothing. */
function Line(props: {
  label: string
  unit?: string
  value: string | number
  onText?: (text: string) => void
  onNumber?: (value: number) => void
}) {
  const { label, unit, value, onText, onNumber } = props
  const [typed, setTyped] = useState<string | null>(null)
  const numberOf = (written: string) => typedNumber(written)
  const wrong = typed !== null && onNumber !== undefined && !(numberOf(typed) >= 0)
  // What was typed stays as typed while it means the value that stands in the text.
  const shown = typed !== null && (wrong || numberOf(typed) === value) ? typed : String(value)
  return (
    <div style={{ flex: onText ? '1 1 100%' : '1 1 130px' }}>
      <Field
        label={label}
        {...(unit === undefined ? {} : { unit })}
        value={shown}
        numeric={onNumber !== undefined}
        multiline={onText !== undefined && String(value).length > 60}
        error={wrong ? 'A number of zero or more.' : null}
        onChange={(next) => {
          if (onText) return onText(next)
          setTyped(next)
          if (numberOf(next) >= 0) onNumber!(numberOf(next))
        }}
      />
    </div>
  )
}
