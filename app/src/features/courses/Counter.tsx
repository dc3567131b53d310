// A number that a wet thumb can count up and down, or that is typed; words where each value has one.
import { typedNumber } from '@brinvo/core'
import type { CampaignMeasure } from '@brinvo/core'
import { styled } from 'styled-components'
import { Choice, Field } from '../../design/fields.tsx'
import { Button } from '../../design/primitives.tsx'

type CountField = CampaignMeasure['fields'][number]

const Line = styled.div`
  display: grid;
  grid-template-columns: 52px minmax(64px, 1fr) 52px;
  gap: 8px;
  align-items: end;
  > button {
    padding: 8px 0;
    font-size: 21px;
  }
`

/** The number of a text, or null: digits, a comma or a point. */
export function countOf(text: string, field: Pick<CountField, 'max' | 'decimal'>): number | null {
  const value = typedNumber(text)
  if (!Number.isFinite(value) || value < 0 || (field.max !== undefined && value > field.max)) return null
  return field.decimal || Number.isInteger(value) ? value : null
}

export const countError = (text: string, field: CountField): string | null =>
  text.trim() === '' || countOf(text, field) !== null
    ? null
    : `${field.label}: ${field.decimal ? 'a number' : 'a whole number'} from 0${field.max === undefined ? ' up' : ` to ${field.max}`}.`

export function Counter({
  field,
  of,
  value,
  onChange,
}: {
  field: CountField
  /** Whose count it is, read with the buttons. */
  of: string
  value: string
  onChange: (value: string) => void
}) {
  if (field.levels)
    return (
      <Choice
        label={field.label}
        value={value}
        onChange={onChange}
        wide
        options={field.levels.map((label, i) => ({ value: String(i), label }))}
      />
    )
  const now = countOf(value, field) ?? 0
  const name = of === '' ? field.label : `${field.label}, ${of}`
  return (
    <Line>
      <Button aria-label={`One less: ${name}`} onPress={() => onChange(String(Math.max(0, now - 1)))}>
        −
      </Button>
      <Field label={field.label} value={value} onChange={onChange} numeric error={countError(value, field)} />
      <Button
        aria-label={`One more: ${name}`}
        onPress={() => onChange(String(Math.min(field.max ?? Infinity, now + 1)))}
      >
        +
      </Button>
    </Line>
  )
}
