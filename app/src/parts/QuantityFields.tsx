// A handful of numbers typed side by side: each in its unit, each answered with a sentence when it cannot be read.
import { parseQuantity, preferredUnit, type Dimension, type Settings } from '@brinvo/core'
import { useState } from 'react'
import { styled } from 'styled-components'
import { Field } from '../design/fields.tsx'
import { preferencesOf } from '../design/words.ts'

export interface QuantitySpec<K extends string> {
  readonly id: K
  readonly label: string
  readonly dimension: Dimension
  /** The unit beside the field; the keeper's own where left out. */
  readonly unit?: string
  readonly hint?: string
  readonly placeholder?: string
}
const Grid = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: 12px 14px;
  align-items: start;
`
/** State of such a group: what was typed, what it means, what is wrong. */
export function useQuantities<K extends string>(
  specs: readonly QuantitySpec<K>[],
  settings: Settings,
  initial: Partial<Record<K, string>> = {},
) {
  const [texts, setTexts] = useState<Partial<Record<K, string>>>(initial)
  const [asked, setAsked] = useState(false)
  const units = (spec: QuantitySpec<K>) => spec.unit ?? preferredUnit(spec.dimension, preferencesOf(settings))
  const values: Partial<Record<K, number>> = {}
  const errors: Partial<Record<K, string>> = {}
  for (const spec of specs) {
    const text = texts[spec.id]?.trim() ?? ''
    if (text === '') continue
    const parsed = parseQuantity(text, {
      dimension: spec.dimension,
      fieldUnit: units(spec),
      label: spec.label,
      allowBound: false,
    })
    if (parsed.ok) values[spec.id] = parsed.value.value
    else errors[spec.id] = parsed.error.message
  }
  const sound = Object.keys(errors).length === 0
  return {
    texts,
    values,
    errors,
    sound,
    any: Object.keys(values).length > 0,
    set: (id: K, text: string) => setTexts((before) => ({ ...before, [id]: text })),
    ask: () => setAsked(true),
    fields: (
      <Grid>
        {specs.map((spec) => (
          <Field
            key={spec.id}
            label={spec.label}
            unit={units(spec)}
            value={texts[spec.id] ?? ''}
            onChange={(text) => setTexts((before) => ({ ...before, [spec.id]: text }))}
            error={asked || (texts[spec.id]?.length ?? 0) > 1 ? (errors[spec.id] ?? null) : null}
            hint={spec.hint}
            placeholder={spec.placeholder}
            numeric
          />
        ))}
      </Grid>
    ),
  }
}
