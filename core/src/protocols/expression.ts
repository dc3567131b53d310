// The arithmetic of a protocol: a value is a number of its place, a table, a parameter, something read or counted in the
// record, or a sum, product, quotient of such. Units are held; what the record does not tell is not made up.
import type { Protocol, Value } from '../knowledge/protocols.ts'

/** What a value may ask of the record. What is left out is unknown. */
export interface Given {
  /** Forms of the bottles, by role. */
  readonly forms: Readonly<Record<string, string>>
  readonly parameters: Readonly<Record<string, number>>
  readonly variant?: Protocol['variants'][number] | undefined
  /** Mean temperature of the vessel, °C. */
  readonly temperatureC?: number
  /** Net volume, L. */
  readonly netL?: number
  /** The last reading of an analyte in its canonical unit, not older than so many hours. */
  readonly reading?: (analyte: string, withinHours: number) => number | null
  /** Change of an analyte per day over the last days; null where there are fewer than three readings. */
  readonly trend?: (analyte: string, overDays: number) => number | null
  /** How often a rule was done. */
  readonly count?: (ruleId: string) => number
}

type Node = Exclude<Value, number>
/** Hours a reading answers for, where a value does not say. @source EST: the usual test interval of the courses */
const READING_HOURS = 72

/** A unit as powers of mass (mg), volume (L), time (d) and one base of its own (°C, PSU, dKH), with its factor. */
interface Unit {
  readonly factor: number
  readonly powers: Readonly<Record<string, number>>
}
const BASES: Readonly<Record<string, Unit>> = {
  '': { factor: 1, powers: {} },
  µg: { factor: 1e-3, powers: { mass: 1 } },
  mg: { factor: 1, powers: { mass: 1 } },
  g: { factor: 1e3, powers: { mass: 1 } },
  kg: { factor: 1e6, powers: { mass: 1 } },
  mL: { factor: 1e-3, powers: { volume: 1 } },
  L: { factor: 1, powers: { volume: 1 } },
  min: { factor: 1 / 1440, powers: { time: 1 } },
  h: { factor: 1 / 24, powers: { time: 1 } },
  d: { factor: 1, powers: { time: 1 } },
  '°C': { factor: 1, powers: { warmth: 1 } },
  PSU: { factor: 1, powers: { salt: 1 } },
  dKH: { factor: 1, powers: { hardness: 1 } },
  '%': { factor: 0.01, powers: {} },
}
const times = (a: Unit, b: Unit, sign: 1 | -1): Unit => {
  const powers: Record<string, number> = { ...a.powers }
  for (const [base, power] of Object.entries(b.powers)) {
    powers[base] = (powers[base] ?? 0) + sign * power
    if (powers[base] === 0) delete powers[base]
  }
  return { factor: sign === 1 ? a.factor * b.factor : a.factor / b.factor, powers }
}
/** Reads "mg/L", "mg/kg", "h", ""; null for what is none. */
export function unitOf(text: string): Unit | null {
  const [over = '', ...under] = text.split('/')
  let unit = BASES[over.trim()]
  for (const part of under) {
    const next = BASES[part.trim()]
    if (!unit || !next) return null
    unit = times(unit, next, -1)
  }
  return unit ?? null
}
const same = (a: Unit, b: Unit): boolean => {
  const keys = new Set([...Object.keys(a.powers), ...Object.keys(b.powers)])
  return [...keys].every((key) => (a.powers[key] ?? 0) === (b.powers[key] ?? 0))
}
const named = ({ powers }: Unit): string => {
  const NAMES: Readonly<Record<string, string>> = {
    mass: 'mg',
    volume: 'L',
    time: 'd',
    warmth: '°C',
    salt: 'PSU',
    hardness: 'dKH',
  }
  const side = (sign: number) =>
    Object.entries(powers)
      .filter(([, power]) => Math.sign(power) === sign)
      .map(([base, power]) => `${NAMES[base]}${Math.abs(power) === 1 ? '' : Math.abs(power)}`)
  const [over, under] = [side(1), side(-1)]
  if (over.length === 0 && under.length === 0) return 'a plain number'
  return `${over.join(' ') || '1'}${under.length > 0 ? `/${under.join('/')}` : ''}`
}
/** Canonical units of readings. */
export const unitOfAnalyte = (analyte: string): string =>
  ({ temperature: '°C', salinity: 'PSU', alkalinity: 'dKH', ph: '' })[analyte] ?? 'mg/L'

const ARITHMETIC = ['sum', 'difference', 'product', 'quotient', 'least', 'greatest'] as const
type Operation = (typeof ARITHMETIC)[number]
const operationOf = (node: Node): Operation | null => ARITHMETIC.find((name) => name in node) ?? null
const termsOf = (node: Node, operation: Operation): readonly Value[] =>
  (node as unknown as Record<Operation, readonly Value[]>)[operation]
/** Parts of a value, with the place of each. */
function partsOf(value: Value): readonly { readonly part: Value; readonly path: readonly (string | number)[] }[] {
  if (typeof value === 'number') return []
  const operation = operationOf(value)
  return operation === null ? [] : termsOf(value, operation).map((part, i) => ({ part, path: [operation, i] }))
}

/** Rules a value counts. */
export const countsIn = (value: Value | undefined): readonly string[] =>
  value === undefined || typeof value === 'number'
    ? []
    : 'count' in value
      ? [value.count]
      : partsOf(value).flatMap(({ part }) => countsIn(part))

/**
 * A value in the unit of its place. Null where the record does not tell what it asks (no reading, no net volume).
 * @param unit unit of the place: "mg/L" for an aim, "h" or "d" for a time, the analyte's own for a limit
 */
export function evaluate(value: Value, given: Given, unit: string): number | null {
  const place = unitOf(unit) ?? BASES['']!
  const result = work(value, given)
  if (result === null) return null
  // A plain number is one of its place; anything else is turned into the place's unit.
  return Object.keys(result.unit.powers).length === 0 && result.plain
    ? result.value
    : (result.value * result.unit.factor) / place.factor
}

interface Worked {
  readonly value: number
  readonly unit: Unit
  /** No unit was written: the number takes that of its place. */
  readonly plain: boolean
}
const plain = (value: number): Worked => ({ value, unit: BASES['']!, plain: true })
const inUnit = (value: number, unit: string): Worked => ({ value, unit: unitOf(unit) ?? BASES['']!, plain: false })

function work(value: Value, given: Given): Worked | null {
  if (typeof value === 'number') return plain(value)
  if ('quantity' in value) return inUnit(value.quantity, value.unit)
  if ('byTemperature' in value) {
    const rows = value.byTemperature
    if (given.temperatureC === undefined) return null
    return plain((rows.findLast(({ fromC }) => given.temperatureC! >= fromC) ?? rows[0]!).value)
  }
  if ('param' in value) {
    const number = given.parameters[value.param]
    if (number === undefined) return null
    const scaled = number * (value.times ?? 1)
    return value.unit === undefined ? plain(scaled) : inUnit(scaled, value.unit)
  }
  if ('variant' in value)
    return plain(Math.max(value.atLeast ?? 0, (given.variant?.[value.variant] ?? 0) * (value.times ?? 1)))
  if ('byForm' in value) {
    for (const form of Object.values(given.forms)) {
      const found = value.byForm[form]
      if (found !== undefined) return plain(found)
    }
    return plain(Math.min(...Object.values(value.byForm)))
  }
  if ('reading' in value) {
    const read = given.reading?.(value.reading, value.withinHours ?? READING_HOURS) ?? null
    return read === null ? null : inUnit(read, unitOfAnalyte(value.reading))
  }
  if ('trend' in value) {
    const slope = given.trend?.(value.trend, value.overDays) ?? null
    return slope === null ? null : inUnit(slope, `${unitOfAnalyte(value.trend)}/d`)
  }
  if ('count' in value) return inUnit(given.count?.(value.count) ?? 0, '')
  if ('net' in value) return given.netL === undefined ? null : inUnit(given.netL, 'L')
  const operation = operationOf(value)!
  const terms: Worked[] = []
  for (const term of termsOf(value, operation)) {
    const one = work(term, given)
    if (one === null) return null
    terms.push(one)
  }
  return combine(operation, terms)
}

function combine(operation: Operation, terms: readonly Worked[]): Worked | null {
  const [first, ...rest] = terms as [Worked, ...Worked[]]
  if (operation === 'product' || operation === 'quotient') {
    const sign = operation === 'product' ? 1 : -1
    const value = rest.reduce((all, one) => (sign === 1 ? all * one.value : all / one.value), first.value)
    if (!Number.isFinite(value)) return null
    return {
      value,
      unit: rest.reduce((all, one) => times(all, one.unit, sign), first.unit),
      plain: terms.every((one) => one.plain),
    }
  }
  // In the first one's unit.
  const values = terms.map((one) => (one.value * one.unit.factor) / first.unit.factor)
  const of: Readonly<Record<'sum' | 'difference' | 'least' | 'greatest', () => number>> = {
    sum: () => values.reduce((all, one) => all + one, 0),
    difference: () => values.slice(1).reduce((all, one) => all - one, values[0]!),
    least: () => Math.min(...values),
    greatest: () => Math.max(...values),
  }
  return { value: of[operation](), unit: first.unit, plain: terms.every((one) => one.plain) }
}

export interface ExpressionFault {
  readonly path: readonly (string | number)[]
  readonly message: string
}
/** What a protocol knows, for a check of its values. */
export interface Known {
  readonly parameters: ReadonlyMap<string, string>
  readonly rules: ReadonlySet<string>
}

/** Faults of a value at its place: a unit that does not fit, a name that does not exist. */
export function expressionFaults(value: Value, known: Known, unit: string): ExpressionFault[] {
  const faults: ExpressionFault[] = []
  const found = checked(value, known, [], faults)
  const place = unitOf(unit)
  if (found && place && !found.plain && !same(found.unit, place))
    faults.push({
      path: [],
      message: `This is ${named(found.unit)}, and ${unit === '' ? 'a plain number' : unit} belongs here.`,
    })
  return faults
}

/** Unit of a value, its faults collected; null where it cannot be told. */
function checked(
  value: Value,
  known: Known,
  path: readonly (string | number)[],
  faults: ExpressionFault[],
): Omit<Worked, 'value'> | null {
  const say = (message: string, at: readonly (string | number)[] = path) => void faults.push({ path: at, message })
  const unitAt = (text: string, key: string) => {
    const unit = unitOf(text)
    if (!unit) say(`“${text}” is no unit that is known here.`, [...path, key])
    return unit ? { unit, plain: false } : null
  }
  const bare = { unit: BASES['']!, plain: true }
  if (typeof value === 'number' || 'byForm' in value || 'byTemperature' in value || 'variant' in value) return bare
  if ('quantity' in value) return unitAt(value.unit, 'unit')
  if ('param' in value) {
    if (!known.parameters.has(value.param)) {
      say(`No parameter is called “${value.param}”.`)
      return null
    }
    return value.unit === undefined ? bare : unitAt(value.unit, 'unit')
  }
  if ('reading' in value) return { unit: unitOf(unitOfAnalyte(value.reading))!, plain: false }
  if ('trend' in value) return { unit: unitOf(`${unitOfAnalyte(value.trend)}/d`)!, plain: false }
  if ('net' in value) return { unit: BASES.L!, plain: false }
  if ('count' in value) {
    if (!known.rules.has(value.count)) say(`No rule is called “${value.count}”: there is nothing to count.`)
    return { unit: BASES['']!, plain: false }
  }
  const operation = operationOf(value)!
  const terms = partsOf(value).map(({ part, path: more }) => ({
    at: [...path, ...more],
    unit: checked(part, known, [...path, ...more], faults),
  }))
  const first = terms[0]!.unit
  if (!first) return null
  const rest = terms.slice(1)
  if (operation === 'product' || operation === 'quotient') {
    if (rest.some(({ unit }) => unit === null)) return null
    return {
      unit: rest.reduce((all, { unit }) => times(all, unit!.unit, operation === 'product' ? 1 : -1), first.unit),
      plain: first.plain && rest.every(({ unit }) => unit!.plain),
    }
  }
  for (const { unit, at } of rest)
    if (unit && !same(unit.unit, first.unit))
      say(`This is ${named(unit.unit)}, and cannot stand in one ${operation} with ${named(first.unit)}.`, at)
  return { unit: first.unit, plain: first.plain && rest.every(({ unit }) => unit?.plain !== false) }
}

/**
 * What a value may come to, in the unit of its place: at the ends of its parameters, at no and at most so many doses.
 * Empty where it hangs on what is read.
 * @param most how often the rule it stands in may be done
 */
export function rangeOf(
  value: Value,
  parameters: ReadonlyMap<string, { readonly min: number; readonly max: number }>,
  unit: string,
  most = 1,
): readonly number[] {
  if (typeof value === 'number') return [value]
  if ('byTemperature' in value) return value.byTemperature.map((row) => row.value)
  if ('byForm' in value) return Object.values(value.byForm)
  const ends = (side: 'min' | 'max') => Object.fromEntries([...parameters].map(([id, one]) => [id, one[side]]))
  return (['min', 'max'] as const).flatMap((side) =>
    [0, most - 1].flatMap(
      (count) => evaluate(value, { forms: {}, parameters: ends(side), count: () => count }, unit) ?? [],
    ),
  )
}
