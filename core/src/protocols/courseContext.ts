// What the rules of a course look at, and the small questions they ask of it.
import { asTimed } from './settingValues.ts'
import type { ClockState } from '../clock/therapeutic.ts'
import { asChosen, type Protocol, type Value, type Variant } from '../knowledge/protocols.ts'
import { formAmong, formGiven } from '../knowledge/uses.ts'
import { vesselVolume } from '../level/fromRecord.ts'
import { indexOf, ledgerOf, vesselLedger } from '../record/ledgerIndex.ts'
import { residentVessels } from '../record/whereabouts.ts'
import type {
  ActiveLedger,
  CourseDocument,
  DoseEntry,
  Entry,
  GateEntry,
  KeeperRecord,
  ReadingEntry,
  VesselEntries,
} from '../record/types.ts'
import { entryMs, instantMs } from '../time/time.ts'
import { theilSen } from '../trends/theilSen.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import { evaluate, unitOfAnalyte, type Given } from './expression.ts'

/** What the rules look at; built once per course. */
export interface CourseContext {
  readonly record: KeeperRecord
  readonly course: CourseDocument
  readonly protocol: Protocol
  readonly variant: Variant
  /** Form of the bottle in each product role. */
  readonly forms: Readonly<Record<string, string>>
  /** Active entries of the course's vessel, in order, up to now. */
  readonly entries: VesselEntries
  /** The whole ledger, for everything that reaches across vessels. */
  readonly allActive: ActiveLedger
  /** Instants of `entries`, same order. */
  readonly times: Float64Array
  /** Entries of this vessel by the step they carry, and skips apart. */
  readonly byStep: ReadonlyMap<string, Entry>
  readonly skips: ReadonlyMap<string, Entry>
  readonly startMs: number
  readonly nowMs: number
  /** Vessel the course's animals are in now: its own, or another of its rota that they were moved to. */
  readonly placeId: string
  readonly zone: string
  readonly clock: ClockState | null
}

/** @throws RangeError when the course's protocol has no variant of that name: a damaged file. */
export function courseContext(
  record: KeeperRecord,
  active: ActiveLedger,
  course: CourseDocument,
  nowMs: number,
  clock: ClockState | null,
): CourseContext {
  const written = course.body.protocol as unknown as Protocol
  const variant = written.variants.find(({ id }) => id === course.body.variant) ?? written.variants[0]
  if (!variant) throw new RangeError(`courseContext: ${written.id} has no variants`)
  const protocol = asTimed(asChosen(written, variant.id), course.body.parameters)
  const forms = Object.fromEntries(
    Object.entries(course.body.products).map(([role, productId]) => {
      const product = record.products.get(productId)
      const allowed = protocol.productRoles.find(({ id }) => id === role)?.forms ?? []
      return [role, formAmong(product?.body, allowed)?.id ?? product?.body.form ?? '']
    }),
  )
  const places = new Set(rotaOf(course))
  const all = ledgerOf(active, places)
  const length = lowerBound(all.times, nowMs + 1)
  const ledger = length === all.entries.length ? all : vesselLedger(all.entries.slice(0, length))
  return {
    record,
    course,
    protocol,
    variant,
    forms,
    allActive: active,
    ...ledger,
    startMs: instantMs(course.body.startedAt),
    nowMs,
    placeId: placeOf(record, active, course, nowMs),
    zone: record.settings.zone,
    clock,
  }
}

/** Where the animals of a course are now, among the vessels it takes turns in; its own where they are elsewhere or none. */
function placeOf(record: KeeperRecord, active: ActiveLedger, course: CourseDocument, nowMs: number): string {
  const rota = rotaOf(course)
  if (rota.length === 1 || course.body.residents.length === 0) return course.body.vesselId
  const where = residentVessels(record, indexOf(active).moves, nowMs)
  const here = rota.map((id) => course.body.residents.filter((resident) => where.get(resident) === id).length)
  const most = Math.max(...here)
  return most === 0 ? course.body.vesselId : rota[here.indexOf(most)]!
}

/** Vessels a course takes turns in, its own first. */
export const rotaOf = ({ body }: CourseDocument): readonly string[] => [
  body.vesselId,
  ...Object.values(body.vessels ?? {}),
]

/** Entries of the vessel from one instant (included) to another (not), by binary search. */
export function entriesBetween(context: CourseContext, fromMs: number, toMs: number): readonly Entry[] {
  const first = lowerBound(context.times, fromMs)
  return context.entries.slice(first, lowerBound(context.times, toMs))
}
/** The last answer to a gate of this course; a week before its start is looked at too, for what came off paper. */
export function gateAnswer(context: CourseContext, gate: string): GateEntry | undefined {
  return entriesBetween(context, context.startMs - 7 * 24 * MS_PER_HOUR, Infinity).findLast(
    (entry): entry is GateEntry => entry.kind === 'gate' && entry.gate === gate && entry.courseId === context.course.id,
  )
}
function lowerBound(times: Float64Array, ms: number): number {
  let low = 0
  let high = times.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (times[middle]! < ms) low = middle + 1
    else high = middle
  }
  return low
}

type ValueContext = Pick<CourseContext, 'forms' | 'course'> &
  Partial<Pick<CourseContext, 'record' | 'entries' | 'nowMs' | 'variant' | 'byStep' | 'startMs'>>

/**
 * A protocol value for the bottle, the parameters and the record at hand, in the unit of its place.
 * NaN where the record does not tell what the value asks (no reading, no net volume): every comparison with it is false.
 */
export function valueFor(value: Value, context: ValueContext, unit = ''): number {
  return typeof value === 'number' ? value : (evaluate(value, givenIn(context), unit) ?? NaN)
}

function givenIn(context: ValueContext): Given {
  const { course, variant } = context
  const entries = context.entries ?? []
  const nowMs = context.nowMs ?? Infinity
  const vessel = context.record?.vessels.get(course.body.vesselId)
  const volume = vessel ? vesselVolume(vessel) : null
  const readings = (analyte: string, withinHours: number): ReadingEntry[] =>
    entries.filter(
      (entry): entry is ReadingEntry =>
        entry.kind === 'reading' &&
        entry.analyte === analyte &&
        entry.doubt !== 'typo' &&
        entryMs(entry) >= nowMs - withinHours * MS_PER_HOUR,
    )
  return {
    forms: context.forms,
    parameters: course.body.parameters,
    ...(variant === undefined ? {} : { variant }),
    temperatureC: meanTemperature(context),
    ...(volume === null ? {} : { netL: volume.litres }),
    reading: (analyte, withinHours) => readings(analyte, withinHours).at(-1)?.value ?? null,
    trend: (analyte, overDays) => {
      const found = readings(analyte, overDays * 24)
      return found.length < 3
        ? null
        : (theilSen(found.map((entry) => ({ t: entryMs(entry) / (24 * MS_PER_HOUR), value: entry.value })))?.slope ??
            null)
    },
    count: (ruleId) =>
      [...(context.byStep?.keys() ?? [])].filter((key) => key.startsWith(`${course.id}/${ruleId}/`)).length,
  }
}

const USUAL_TEMPERATURE_C = 25
/** Mean of the vessel's temperature readings of the last fourteen days; 25 °C where there are none. */
export function meanTemperature(context: Partial<Pick<CourseContext, 'entries' | 'nowMs'>>): number {
  const since = (context.nowMs ?? 0) - 14 * 24 * MS_PER_HOUR
  const entries = context.entries ?? []
  let sum = 0
  let count = 0
  // From the newest back: the ledger is in order, and years of it lie before.
  for (let i = entries.length - 1; i >= 0 && entryMs(entries[i]!) >= since; i--) {
    const entry = entries[i]!
    if (entry.kind !== 'reading' || entry.analyte !== 'temperature') continue
    sum += entry.value
    count++
  }
  return count > 0 ? sum / count : USUAL_TEMPERATURE_C
}

/** Canonical unit of what an instrument role reads. */
export const roleUnit = ({ protocol }: Pick<CourseContext, 'protocol'>, role: string): string =>
  unitOfAnalyte(protocol.instrumentRoles.find(({ id }) => id === role)?.analyte ?? '')

/** Readings of an instrument role's analyte in the vessel, since an instant. */
export function roleReadings(context: CourseContext, role: string, sinceMs: number): ReadingEntry[] {
  const analyte = context.protocol.instrumentRoles.find(({ id }) => id === role)?.analyte
  return entriesBetween(context, sinceMs, Infinity).filter(
    (entry): entry is ReadingEntry => entry.kind === 'reading' && entry.analyte === analyte && entry.doubt !== 'typo',
  )
}

/**
 * Whether an entry is a dose of a role: from its bottle, or from another one of the same form, as when the first ran
 * empty. Pure.
 */
export function isDoseOf(
  context: Pick<CourseContext, 'course' | 'record' | 'forms'>,
  entry: Entry,
  role: string,
): entry is DoseEntry {
  if (entry.kind !== 'dose') return false
  if (entry.productId === context.course.body.products[role]) return true
  const form = context.forms[role]
  return (
    form !== undefined && form !== '' && formGiven(entry, context.record.products.get(entry.productId))?.id === form
  )
}
