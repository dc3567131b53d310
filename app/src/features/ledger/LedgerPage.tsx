// The ledger: everything ever entered, correct and void, and the whole record in and out of a file.
import { clockMs } from '../../data/clock.ts'
import {
  compareEntries,
  dayOf,
  defaultSettings,
  entryStatuses,
  instantMs,
  type Entry,
  type EntryStatus,
} from '@brinvo/core'
import { useMemo, useState } from 'react'
import { styled } from 'styled-components'
import { useActions, useCameIn, useDatabase, useRecord } from '../../data/queries.tsx'
import { EntryMark } from '../../design/marks.tsx'
import { Dialog } from '../../design/Dialog.tsx'
import { Field, Select } from '../../design/fields.tsx'
import { Button, Empty, Page, Quiet, Row, Stack, Tag, Tray } from '../../design/primitives.tsx'
import { NARROW } from '../../design/theme.ts'
import { dayText, longDayText, timeText } from '../../design/words.ts'
import { entryWords } from '../../parts/entryWords.ts'
import { useLog, type LogKind } from '../../shell/LogContext.tsx'
import { useNotice } from '../../shell/Notices.tsx'
import { BackupPanel } from './BackupPanel.tsx'
import { FilePanel } from './FilePanel.tsx'
import { HandOverPanel } from './HandOverPanel.tsx'
import { JoinPanel } from './JoinPanel.tsx'

const List = styled.ol`
  li {
    display: grid;
    grid-template-columns: 52px 26px minmax(0, 1fr) auto;
    gap: 2px 10px;
    align-items: center;
    padding: 5px 0;
    min-height: 44px;
  }
  li + li {
    border-top: 1px solid var(--hairline);
  }
  li[data-status='voided'] .words,
  li[data-status='corrected'] .words {
    text-decoration: line-through;
    color: var(--quiet);
  }
  ${NARROW} {
    li {
      grid-template-columns: 46px 22px minmax(0, 1fr);
    }
    li > :last-child {
      grid-column: 3;
      justify-self: start;
    }
  }
`
const DayHead = styled.h2`
  font-size: 17px;
  padding: 14px 0 2px;
`
const PAGE = 150

const CORRECTABLE: readonly string[] = ['reading', 'dose', 'change', 'meal', 'sign', 'note'] satisfies LogKind[]

export function LedgerPage() {
  const { record } = useRecord()
  const { mode } = useDatabase()
  const [vesselId, setVesselId] = useState('')
  const [kind, setKind] = useState('')
  const [shown, setShown] = useState(PAGE)
  const statuses = useMemo(() => entryStatuses(record.entries), [record.entries])
  const rows = useMemo(
    () =>
      [...record.entries]
        .sort(compareEntries)
        .reverse()
        .filter(
          (entry) =>
            entry.kind !== 'void' &&
            (vesselId === '' || ('vesselId' in entry && entry.vesselId === vesselId)) &&
            (kind === '' || entry.kind === kind),
        ),
    [record.entries, vesselId, kind],
  )
  const { came } = useCameIn()
  const marked = useMemo(() => new Set(came?.entries), [came])
  const thisYear = dayOf(clockMs(), record.settings.zone).slice(0, 4)
  // A day of another year says which.
  const dayOfYear = (ms: number) =>
    dayOf(ms, record.settings.zone).startsWith(thisYear)
      ? dayText(ms, record.settings)
      : longDayText(ms, record.settings)
  const days = new Map<string, Entry[]>()
  for (const entry of rows.slice(0, shown)) {
    const day = dayOfYear(instantMs(entry.at))
    days.set(day, [...(days.get(day) ?? []), entry])
  }
  return (
    <Page $aside>
      <Stack $gap={14}>
        <Row $between style={{ alignItems: 'flex-end' }}>
          <h1>Ledger</h1>
          <Row $gap={12}>
            <Select
              label="Vessel"
              value={vesselId}
              onChange={setVesselId}
              options={[
                { value: '', label: 'all' },
                ...[...record.vessels.values()].map(({ id, body }) => ({ value: id, label: body.name })),
              ]}
            />
            <Select
              label="Kind"
              value={kind}
              onChange={setKind}
              options={[
                '',
                'reading',
                'dose',
                'change',
                'meal',
                'sign',
                'equipment',
                'move',
                'gate',
                'done',
                'override',
                'note',
              ].map((value) => ({
                value,
                label: value === '' ? 'all' : value === 'change' ? 'water change' : value === 'gate' ? 'check' : value,
              }))}
            />
          </Row>
        </Row>
        <JoinPanel />
        {rows.length === 0 ? (
          <Empty title="Nothing here yet">
            Every reading, dose and change you log stands here for good. A correction replaces an entry, a void strikes
            it out; nothing is deleted.
          </Empty>
        ) : (
          <Tray>
            {[...days].map(([day, entries]) => (
              <section key={day} aria-label={day}>
                <DayHead>{day}</DayHead>
                <List>
                  {entries.map((entry) => (
                    <EntryRow
                      key={entry.id}
                      entry={entry}
                      status={statuses.get(entry.id) ?? 'active'}
                      cameIn={marked.has(entry.id)}
                    />
                  ))}
                </List>
              </section>
            ))}
            {rows.length > shown && (
              <Row style={{ paddingTop: 12 }}>
                <Button onPress={() => setShown(shown + PAGE * 2)}>
                  Show older entries ({rows.length - shown} more)
                </Button>
              </Row>
            )}
          </Tray>
        )}
      </Stack>
      {/* What is practised is no part of any file. */}
      {mode !== 'practice' && (
        <Stack $gap={14}>
          <FilePanel />
          <HandOverPanel />
          <BackupPanel />
          <WipePanel />
        </Stack>
      )}
    </Page>
  )
}

function EntryRow({
  entry,
  status,
  cameIn,
}: {
  entry: Entry
  status: EntryStatus
  /** From another device, by the last joining, and not seen yet. */
  cameIn: boolean
}) {
  const { record } = useRecord()
  const { settings } = record
  const { voidEntry } = useActions()
  const notice = useNotice()
  const log = useLog()
  const [asking, setAsking] = useState(false)
  const [reason, setReason] = useState('')
  const vessel =
    'vesselId' in entry && entry.vesselId !== undefined ? record.vessels.get(entry.vesselId)?.body.name : undefined
  const words = entryWords(entry, record)
  const correct = () =>
    log({
      kind: entry.kind as LogKind,
      corrects: entry.id,
      ...('vesselId' in entry && entry.vesselId !== undefined ? { vesselId: entry.vesselId } : {}),
      ...(entry.courseId === undefined ? {} : { courseId: entry.courseId }),
      ...(entry.step === undefined ? {} : { step: entry.step }),
      ...(entry.kind === 'reading'
        ? { analyte: entry.analyte, ...(entry.instrumentId === undefined ? {} : { instrumentId: entry.instrumentId }) }
        : {}),
      ...(entry.kind === 'dose' ? { productId: entry.productId, amount: entry.amount } : {}),
      ...(entry.kind === 'change' && entry.fraction !== undefined ? { fraction: entry.fraction } : {}),
      atMs: instantMs(entry.at),
    })
  const strike = async () => {
    try {
      await voidEntry(entry, reason.trim() === '' ? 'Struck out by the keeper' : reason.trim())
      setAsking(false)
      notice({ text: 'Struck out. It stays in sight.', tone: 'done' })
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  return (
    <li data-status={status}>
      <span className="mono">
        {entry.kind === 'reading' && entry.dayOnly ? '–' : timeText(instantMs(entry.at), settings)}
      </span>
      <EntryMark kind={entry.kind} />
      <span>
        <span className="words">{words}</span> {vessel !== undefined && <Quiet>{vessel}</Quiet>}
        {entry.kind !== 'note' && entry.note !== undefined && <Quiet> · {entry.note}</Quiet>}{' '}
        {status === 'corrected' && <Tag>corrected</Tag>} {status === 'voided' && <Tag>struck out</Tag>}
        {entry.corrects !== undefined && <Tag>correction</Tag>} {cameIn && <Tag $tone="due">came in</Tag>}
      </span>
      {status === 'active' ? (
        <Row $gap={0}>
          {CORRECTABLE.includes(entry.kind) && (
            <Button look="bare" onPress={correct} aria-label={`Correct: ${words}`}>
              Correct
            </Button>
          )}
          <Button look="bare" onPress={() => setAsking(true)} aria-label={`Void: ${words}`}>
            Void
          </Button>
        </Row>
      ) : (
        <span />
      )}
      {asking && (
        <Dialog title="Strike this entry out?" isOpen onClose={() => setAsking(false)}>
          <p>{words}. It no longer counts, and stays in sight with your reason.</p>
          <Field label="Why" value={reason} onChange={setReason} autoFocus />
          <Row>
            <Button look="danger" onPress={() => void strike()}>
              Strike it out
            </Button>
          </Row>
        </Dialog>
      )}
    </li>
  )
}

function WipePanel() {
  const { record } = useRecord()
  const { mode } = useDatabase()
  const { wipe } = useActions()
  const notice = useNotice()
  const [asking, setAsking] = useState(false)
  const [word, setWord] = useState('')
  const run = async () => {
    try {
      await wipe({
        ...defaultSettings(record.settings.zone, record.settings.locale),
        safetyReadAt: record.settings.safetyReadAt,
      })
      setAsking(false)
      notice({ text: 'The record is empty.', tone: 'done' })
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  return (
    <Tray>
      <Stack $gap={8}>
        <h3>Empty the record</h3>
        <Quiet>
          {mode === 'demo'
            ? 'Empties the demonstration; it is made anew tomorrow.'
            : 'Removes everything from this browser. Export first.'}
        </Quiet>
        <Button look="danger" onPress={() => setAsking(true)}>
          Empty it
        </Button>
      </Stack>
      {asking && (
        <Dialog title="Empty the whole record?" isOpen onClose={() => setAsking(false)}>
          <p>
            {record.vessels.size} vessels, {record.entries.length} entries and every course will be gone from this
            browser. There is no undo; an exported file brings them back.
          </p>
          <Field label='Type "empty" to go on' value={word} onChange={setWord} autoFocus />
          <Row>
            <Button look="danger" isDisabled={word.trim().toLowerCase() !== 'empty'} onPress={() => void run()}>
              Empty it now
            </Button>
          </Row>
        </Dialog>
      )}
    </Tray>
  )
}
