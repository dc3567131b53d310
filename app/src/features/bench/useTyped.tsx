// A number that is typed at the bench, with its field.
import { parseQuantity } from '@brinvo/core'
import { useState } from 'react'
import { Field } from '../../design/fields.tsx'
import { useUnits, type Shown } from '../../parts/useUnits.ts'

/** The same for what the keeper has a unit for: typed and shown in it, answered as it is kept. */
export function useTypedIn(of: Shown, label: string, initial: number, min: number, max: number) {
  const units = useUnits()
  const shown = (value: number) => units.number(of, value)
  const digits = of === 'salinity' ? 5 : 3
  const typed = useTyped(
    label,
    units.unit(of),
    units.plain(of, initial, digits),
    Number(shown(min).toPrecision(digits)),
    Number(shown(max).toPrecision(digits)),
  )
  return { ...typed, value: typed.value === null ? null : units.kept(of, typed.value) }
}

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
        error={
          sound || text.trim() === ''
            ? null
            : parsed.ok
              ? `${label}: between ${min} and ${max} ${unit}.`
              : parsed.error.message
        }
        numeric
      />
    ),
  }
}
