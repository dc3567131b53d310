// What speaks against an act: told, asked, blocked until it is worded, or forbidden.
import { OVERRIDE_LETTERS, preferredUnit, type Override, type Refusal, type RefusalLevel } from '@brinvo/core'
import { styled } from 'styled-components'
import { useRecord } from '../data/queries.tsx'
import { Check, Field } from '../design/fields.tsx'
import { Stack } from '../design/primitives.tsx'
import { preferencesOf } from '../design/words.ts'
import type { Asking } from './useAct.ts'
import { useTold } from './useTold.ts'
import { Failure } from './Failure.tsx'

const grave = (level: RefusalLevel) => level === 'forbid' || level === 'block'
const Item = styled.li<{ $level: RefusalLevel }>`
  padding: 8px 12px;
  border-radius: 8px;
  border-left: 5px solid ${({ $level }) => (grave($level) ? 'var(--danger)' : 'var(--acriflavine)')};
  background: ${({ $level }) => (grave($level) ? 'var(--danger-tint)' : 'var(--caution-tint)')};
  b {
    display: block;
  }
`
const TITLES: Readonly<Record<RefusalLevel, string>> = {
  forbid: 'Refused. There is no override.',
  block: 'Blocked.',
  ask: 'Please look again.',
  warn: 'Know this.',
}

interface Props {
  readonly refusals: readonly Refusal[]
  readonly override: Override
  readonly onOverride: (next: Override) => void
  /** A temperature typed to answer a question on the spot. */
  readonly temperature?: string
  readonly onTemperature?: (text: string) => void
}

export function Refusals({ refusals, override, onOverride, temperature, onTemperature }: Props) {
  const told = useTold()
  if (refusals.length === 0 && (temperature ?? '') === '') return null
  const has = (level: RefusalLevel) => refusals.some((refusal) => refusal.level === level)
  const needed = refusals.find(({ needs }) => needs === 'temperature')
  const ticked = refusals.some(({ level, needs }) => level === 'ask' && needs === undefined)
  return (
    <Stack $gap={8} role="group" aria-label="What speaks against this">
      <ul style={{ display: 'grid', gap: 6 }} aria-live="polite">
        {refusals.map((refusal) => (
          <Item key={refusal.rule + refusal.message} $level={refusal.level}>
            <b>{TITLES[refusal.level]}</b>
            {told(refusal.message)}
          </Item>
        ))}
      </ul>
      {(needed || (temperature ?? '') !== '') && onTemperature && (
        <TemperatureField vesselId={needed?.vesselId ?? ''} value={temperature ?? ''} onChange={onTemperature} />
      )}
      {!has('forbid') && has('block') && (
        <Field
          label="To go on all the same, write why"
          value={override.words}
          onChange={(words) => onOverride({ ...override, words })}
          hint={`At least ${OVERRIDE_LETTERS} letters. They are recorded on the ledger with the entry.`}
          multiline
        />
      )}
      {!has('forbid') && ticked && (
        <Check isSelected={override.confirmed} onChange={(confirmed) => onOverride({ ...override, confirmed })}>
          Yes, it is really so.
        </Check>
      )}
    </Stack>
  )
}

function TemperatureField({
  vesselId,
  value,
  onChange,
}: {
  vesselId: string
  value: string
  onChange: (text: string) => void
}) {
  const { record } = useRecord()
  return (
    <Field
      label={`Temperature now, ${record.vessels.get(vesselId)?.body.name ?? 'this water'}`}
      unit={preferredUnit('temperature', preferencesOf(record.settings))}
      value={value}
      onChange={onChange}
      numeric
      hint="It is logged as a reading of its own."
    />
  )
}

/** The same, straight from an act that is being asked. */
export const Asked = ({
  asking,
  temperature,
  onTemperature,
}: {
  asking: Asking
  temperature?: string
  onTemperature?: (text: string) => void
}) => (
  <>
    <Refusals
      refusals={asking.spoken}
      override={asking.override}
      onOverride={asking.setOverride}
      {...(temperature === undefined ? {} : { temperature })}
      {...(onTemperature ? { onTemperature } : {})}
    />
    <Failure words={asking.failure} />
  </>
)
