// What is kept in litres, °C and PSU, shown and typed in the keeper's units.
import { fromCanonical, preferredUnit, toCanonical, type Dimension } from '@brinvo/core'
import { useMemo } from 'react'
import { useRecord } from '../data/queries.tsx'
import { preferencesOf } from '../design/words.ts'

/** What is converted: a flow is a volume in an hour. */
export type Shown = 'volume' | 'temperature' | 'salinity' | 'alkalinity' | 'length' | 'flow'

export interface Units {
  /** Unit of the keeper. */
  readonly unit: (of: Shown) => string
  /** A kept value as a number in that unit, to some significant places; specific gravity to four decimals. */
  readonly plain: (of: Shown, value: number, digits?: number) => string
  /** The same with its unit. */
  readonly text: (of: Shown, value: number, digits?: number) => string
  /** What was typed in that unit, as it is kept. */
  readonly kept: (of: Shown, typed: number) => number
  /** A kept value as a bare number in that unit, for axes. */
  readonly number: (of: Shown, value: number) => number
}

export function useUnits(): Units {
  const { settings } = useRecord().record
  return useMemo(() => {
    const dimension = (of: Shown): Dimension => (of === 'flow' ? 'volume' : of)
    const base = (of: Shown) => preferredUnit(dimension(of), preferencesOf(settings))
    const number = (of: Shown, value: number) => fromCanonical(dimension(of), value, base(of))
    const plain = (of: Shown, value: number, digits = 3) => {
      const shown = number(of, value)
      return base(of) === 'SG' ? shown.toFixed(4) : String(Number(shown.toPrecision(digits)))
    }
    const unit = (of: Shown) => (of === 'flow' ? `${base(of)}/h` : base(of))
    return {
      unit,
      number,
      plain,
      text: (of, value, digits) => `${plain(of, value, digits)} ${unit(of)}`,
      kept: (of, typed) => toCanonical(dimension(of), typed, base(of)),
    }
  }, [settings])
}
