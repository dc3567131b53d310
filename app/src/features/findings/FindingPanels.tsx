// What stands beside the signs of a finding: the record's own answers, counts, who else shows it, and its end.
import { clockMs } from '../../data/clock.ts'
import {
  typedNumber,
  breathingOf,
  conditionOf,
  conditionsFor,
  instantOf,
  residentsIn,
  sharedTrouble,
  signOf,
  SPOTS,
  type Diagnosis,
  type FindingDocument,
  type ResidentDocument,
} from '@brinvo/core'
import { useState } from 'react'
import { useActions, useRecord, type Draft } from '../../data/queries.tsx'
import { Check, Field, Select } from '../../design/fields.tsx'
import { Button, Quiet, Row, Stack, Tag, Tray } from '../../design/primitives.tsx'
import { whenText } from '../../design/words.ts'
import { BreathCounter } from '../../parts/BreathCounter.tsx'
import { useNotice } from '../../shell/Notices.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { times } from './findingWords.ts'
import { SignRow } from './SignRow.tsx'

/** What readings, arrivals and changes say by themselves; each can be struck out. */
export function RecordSays({
  diagnosis,
  struck,
  onStrike,
}: {
  diagnosis: Diagnosis
  struck: readonly string[]
  onStrike: (sign: string) => void
}) {
  const { flows, background } = diagnosis
  if (flows.length + background.length === 0) return null
  return (
    <Tray role="region" aria-label="What the record says">
      <Stack $gap={6}>
        <h2>What the record says</h2>
        {background.length > 0 && (
          <>
            <h3>
              Before anything is seen <Quiet>× so many times likelier, ÷ so many times less likely</Quiet>
            </h3>
            <ul>
              {background.map(({ id, words, moves }) => (
                <SignRow key={id}>
                  <div style={struck.includes(id) ? { textDecoration: 'line-through' } : undefined}>
                    <strong>{words}</strong>
                    <br />
                    <Quiet>{moves.map(({ condition, factor }) => movesWords(condition, factor)).join('; ')}</Quiet>
                  </div>
                  <Button look="bare" onPress={() => onStrike(id)}>
                    {struck.includes(id) ? 'Count it' : 'Strike it out'}
                  </Button>
                </SignRow>
              ))}
            </ul>
          </>
        )}
        {flows.length > 0 && background.length > 0 && <h3>Answered by the record</h3>}
        <ul>
          {flows.map(({ sign, answer, words }) => (
            <SignRow key={sign}>
              <div style={struck.includes(sign) ? { textDecoration: 'line-through' } : undefined}>
                <strong>
                  {signOf(sign)?.label}: {answer === 'yes' ? 'yes' : 'no'}
                </strong>
                <br />
                {words}
              </div>
              <Button look="bare" onPress={() => onStrike(sign)}>
                {struck.includes(sign) ? 'Count it' : 'Strike it out'}
              </Button>
            </SignRow>
          ))}
        </ul>
      </Stack>
    </Tray>
  )
}

/** "Marine velvet × 1.8": how much a fact moves a condition before anything is seen. */
const movesWords = (condition: string, factor: number): string =>
  `${conditionOf(condition)?.label ?? condition} ${factor >= 1 ? '×' : '÷'} ${times(Math.abs(Math.log(factor)))}`

/** Counts that become answers: breathing by tapping, spots by number. */
export function CountPanel({ finding, resident }: { finding: FindingDocument; resident: ResidentDocument }) {
  const { record, active } = useRecord()
  const { append } = useActions()
  const notice = useNotice()
  const [spots, setSpots] = useState('')
  const [error, setError] = useState<string | null>(null)
  const breathing = breathingOf(active, resident, record.settings.zone)
  const last = breathing.counts.at(-1)
  const note = (what: string, count: number, said: string) =>
    append([
      { kind: 'count', vesselId: finding.body.vesselId, residentId: resident.id, what, count } as unknown as Draft,
    ])
      .then(() => notice({ text: said, tone: 'done' }))
      .catch((cause: unknown) => notice({ text: (cause as Error).message, tone: 'failed' }))
  const keepSpots = () => {
    const count = typedNumber(spots)
    if (spots.trim() === '' || !Number.isInteger(count) || count < 0 || count > 5000)
      return setError('A whole number, 0 where there is none.')
    setError(null)
    setSpots('')
    void note(SPOTS, count, `${count} spots counted.`)
  }
  return (
    <Tray role="region" aria-label="Counts">
      <Stack>
        <Row $between>
          <h2>Count</h2>
          {last && <Quiet>last {last.perMinute} beats a minute; two counts make an answer</Quiet>}
        </Row>
        <BreathCounter
          alarm={breathing.normal?.alarm ?? null}
          value={null}
          onCount={(perMinute) => void note('gill-beats', perMinute, `${perMinute} beats a minute: noted.`)}
          name={resident.body.name}
        />
        <Row style={{ alignItems: 'flex-end' }}>
          <div style={{ width: 220 }}>
            <Field label="White spots you can count" value={spots} onChange={setSpots} numeric error={error} />
          </div>
          <Button onPress={keepSpots}>Note the spots</Button>
        </Row>
      </Stack>
    </Tray>
  )
}

/** Who else shows it, and where it may have come from. */
export function Others({ finding }: { finding: FindingDocument }) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const { revise } = useActions()
  const notice = useNotice()
  const { body } = finding
  const others =
    body.residentId === undefined
      ? []
      : residentsIn(record, active, body.vesselId, nowMs).filter(({ id }) => id !== body.residentId)
  const shared = sharedTrouble(record, active, finding, nowMs)
  if (others.length === 0 && shared.length === 0) return null
  const also = new Set(body.alsoIds ?? [])
  const set = (id: string, on: boolean) => {
    const next = on ? [...also, id] : [...also].filter((one) => one !== id)
    revise(finding, { ...body, alsoIds: next }).catch((cause: unknown) =>
      notice({ text: (cause as Error).message, tone: 'failed' }),
    )
  }
  return (
    <Tray>
      <Stack $gap={8}>
        {others.length > 0 && (
          <>
            <h2>Who else shows it?</h2>
            {others.map(({ id, body: one }) => (
              <Check key={id} isSelected={also.has(id)} onChange={(on) => set(id, on)}>
                {one.name} {one.count > 1 && <Quiet>× {one.count}</Quiet>}
              </Check>
            ))}
          </>
        )}
        {shared.length > 0 && (
          <>
            <h3>It may have come along</h3>
            <ul>
              {shared.map((line) => (
                <li key={line}>{line}</li>
              ))}
            </ul>
            <Quiet>
              Where something catching is followed there, it counts as three times likelier here: an estimate, nobody
              knows how often it carries. Strike it out under what the record says.
            </Quiet>
          </>
        )}
      </Stack>
    </Tray>
  )
}

export function Closing({ finding }: { finding: FindingDocument }) {
  const { record } = useRecord()
  const { nowMs } = useThePlans()
  const { revise } = useActions()
  const notice = useNotice()
  const { body } = finding
  const group = body.residentId === undefined ? null : (record.residents.get(body.residentId)?.body.group ?? null)
  const [was, setWas] = useState('unknown')
  const save = (next: FindingDocument['body'], text: string) =>
    revise(finding, next)
      .then(() => notice({ text, tone: 'done' }))
      .catch((cause: unknown) => notice({ text: (cause as Error).message, tone: 'failed' }))
  if (body.endedAt !== undefined) {
    const { endedAt, was: found, ...open } = body
    return (
      <Tray>
        <Stack $gap={8}>
          <p>
            <Tag>closed</Tag> {found === undefined ? '' : (conditionOf(found)?.label ?? 'Never found out.')}{' '}
            <Quiet>{whenText(Date.parse(endedAt), nowMs, record.settings)}</Quiet>
          </p>
          <Button onPress={() => void save(open, 'The finding is open again.')}>Open it again</Button>
        </Stack>
      </Tray>
    )
  }
  return (
    <Tray>
      <Stack $gap={8}>
        <h3>Over?</h3>
        <Select
          label="What it was"
          value={was}
          onChange={setWas}
          options={[
            { value: 'unknown', label: 'Never found out' },
            ...conditionsFor(body.pool, group)
              .toSorted((a, b) => Number(b.rest === true) - Number(a.rest === true) || (a.label < b.label ? -1 : 1))
              .map(({ id, label, rest }) => ({ value: id, label: rest === true ? 'None of these' : label })),
          ]}
        />
        <Button onPress={() => void save({ ...body, endedAt: instantOf(clockMs()), was }, 'The finding is closed.')}>
          Close the finding
        </Button>
      </Stack>
    </Tray>
  )
}
