// A number that is typed at the bench, with its field.
import { parseQuantity } from '@brinvo/core'
import { useState } from 'react'
import { Field } from '../../design/fields.tsx'

/** A typed number within limits: its value, or the sentence why there is none. */
export function useTyped(label: string, unit: string, initial: string, min: number, max: number) {
  const [text, setText] = useState(initial)
  const parsed = parseQuantity(text, { dimension: 'count', label, allowBound: false })
  const value = parsed.ok ? parsed.value.value : NaN
  const sound = value >= min && value <= max
  return {
    value: sound ? value : null,
    set: setText,
    field: (
      <Field
        key={label}
        label={label}
        unit={unit}
        value={text}
        onChange={setText}
        error={sound ? null : parsed.ok ? `${label}: between ${min} and ${max} ${unit}.` : parsed.error.message}
        numeric
      />
    ),
  }
}
