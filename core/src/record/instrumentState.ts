// Instruments over time: when each was set or held against a standard, what it is off by, what others say of it, and
// how long its reagents last.
import { limitOf } from '../knowledge/limits.ts'
import { usualPrecision } from '../knowledge/ranges.ts'
import { entryMs } from '../time/time.ts'
import type { Working } from '../working.ts'
import { instrumentSd } from './compared.ts'
import { besidesReadings, indexOf } from './ledgerIndex.ts'
import type {
  ActiveLedger,
  Analyte,
  CalibrationEntry,
  InstrumentDocument,
  KeeperRecord,
  ReadingEntry,
} from './types.ts'

const DAY = 86_400_000
const HOUR = 3_600_000

const known = new WeakMap<ActiveLedger, ReadonlyMap<string, readonly CalibrationEntry[]>>()
/** Calibrations and checks of each instrument, oldest first. */
function checksIn(active: ActiveLedger): ReadonlyMap<string, readonly CalibrationEntry[]> {
  let found = known.get(active)
  if (!found) {
    const lists = new Map<string, CalibrationEntry[]>()
    for (const entry of besidesReadings(active)) {
      if (entry.kind !== 'calibration') continue
      const list = lists.get(entry.instrumentId)
      if (list) list.push(entry)
      else lists.set(entry.instrumentId, [entry])
    }
    known.set(active, (found = lists))
  }
  return found
}

/** What an instrument said more than its standard was; null where nobody wrote both down. */
const offBy = ({ standard, read }: CalibrationEntry): number | null =>
  standard === undefined || read === undefined ? null : read - standard

/**
 * What an instrument read too much at an instant, by the nearest check against a standard; 0 where none tells. A check
 * speaks for sixty days on either side, and never across a calibration: what is set anew begins at nothing.
 * @source handbook 65 §5 dis-third
 */
export function offsetAt(active: ActiveLedger, instrumentId: string, ms: number): number {
  const checks = checksIn(active).get(instrumentId)
  if (!checks) return 0
  const reach = limitOf('offset-stands') * DAY
  // Between two calibrations the instrument was left as it is.
  let from = -Infinity
  let to = Infinity
  for (const check of checks) {
    if (check.act !== 'calibrated') continue
    const at = entryMs(check)
    if (at <= ms) from = at
    else {
      to = at
      break
    }
  }
  let best: { off: number; far: number } | null = null
  for (const check of checks) {
    const at = entryMs(check)
    const off = offBy(check)
    // A calibration tells what was wrong before it, a check what is wrong on both sides.
    const speaks = check.act === 'calibrated' ? at === to : at >= from && at <= to
    if (off === null || !speaks || Math.abs(at - ms) > reach) continue
    if (best === null || Math.abs(at - ms) < best.far) best = { off, far: Math.abs(at - ms) }
  }
  return best?.off ?? 0
}

/** A reading's value with what its instrument is off by taken away; never below nothing where there is no less. */
export function valueOf(active: ActiveLedger, entry: ReadingEntry): number {
  if (entry.instrumentId === undefined || entry.bound !== 'exact') return entry.value
  const off = offsetAt(active, entry.instrumentId, entryMs(entry))
  return off === 0 ? entry.value : entry.analyte === 'temperature' ? entry.value - off : Math.max(0, entry.value - off)
}

/**
 * Standard deviation of a reading: of its laboratory, its instrument, or what a drop test usually shows.
 * @source handbook 65 §5
 */
export function scatterOf(
  record: Pick<KeeperRecord, 'instruments'>,
  entry: Pick<ReadingEntry, 'analyte' | 'value' | 'instrumentId' | 'sampleId'>,
  otherwise?: { readonly step: number; readonly relativeError: number },
): number {
  if (entry.sampleId !== undefined) {
    const fine = MAJORS.has(entry.analyte) ? limitOf('lab-major-error') : limitOf('lab-trace-error')
    return Math.max(fine * Math.abs(entry.value), 1e-6)
  }
  const kit = entry.instrumentId === undefined ? undefined : record.instruments.get(entry.instrumentId)?.body
  const usual =
    usualPrecision(entry.analyte, 'drop-kit') ??
    usualPrecision(entry.analyte, 'probe') ??
    usualPrecision(entry.analyte, 'refractometer')
  const step = kit?.step ?? otherwise?.step ?? usual?.step ?? 0
  const relativeError = kit?.relativeError ?? otherwise?.relativeError ?? (usual ? usual.relativePercent / 100 : 0.1)
  return Math.max(instrumentSd({ step, relativeError }, entry.value), 1e-6)
}
const MAJORS: ReadonlySet<Analyte> = new Set([
  'calcium',
  'magnesium',
  'potassium',
  'alkalinity',
  'salinity',
  'conductivity',
])

/** Two instruments on one water, over several sittings. */
export interface Drift {
  readonly otherId: string
  /** Middle of the differences, this less the other, canonical unit. */
  readonly off: number
  readonly pairs: number
  /** Standard deviations of one pair that the middle is apart. */
  readonly z: number
  readonly working: Working
}
export interface InstrumentState {
  readonly instrument: InstrumentDocument
  readonly checks: readonly CalibrationEntry[]
  readonly lastCheckMs: number | null
  /** What it reads too much by its last check; null where none tells. */
  readonly off: number | null
  /** The last check no longer speaks for it. */
  readonly stale: boolean
  /** Days until its last check no longer speaks for it; null where it was never checked or need not be. */
  readonly staleInDays: number | null
  readonly drift: Drift | null
  /** Days until its reagents are over; negative where they are; null where no day was given. */
  readonly reagentDays: number | null
  /** Readings of the last sixty days that hang on it alone. */
  readonly hangs: number
}

/** Meters that are set by a standard, and how long that stands, days. */
const STANDS: Partial<Record<InstrumentDocument['body']['method'], 'probe' | 'plain'>> = {
  probe: 'probe',
  refractometer: 'plain',
  photometer: 'plain',
  thermometer: 'plain',
}
const standsDays = ({ body }: InstrumentDocument): number | null =>
  STANDS[body.method] === undefined
    ? null
    : limitOf(body.analyte === 'ph' && body.method === 'probe' ? 'ph-stands' : 'probe-stands')

/** Differences to every other instrument on the same water within some hours; the worst that is told by enough pairs. */
function driftOf(record: KeeperRecord, active: ActiveLedger, own: InstrumentDocument, nowMs: number): Drift | null {
  const since = nowMs - limitOf('drift-days') * DAY
  const near = limitOf('drift-apart') * HOUR
  const pairs = new Map<string, { difference: number; sd: number }[]>()
  for (const { entries } of indexOf(active).byVessel.values()) {
    const readings: ReadingEntry[] = []
    for (let i = entries.length - 1; i >= 0; i--) {
      const entry = entries[i]!
      const ms = entryMs(entry)
      if (ms < since) break
      if (ms <= nowMs && entry.kind === 'reading' && entry.analyte === own.body.analyte && entry.bound === 'exact')
        readings.push(entry)
    }
    const mine = readings.filter(({ instrumentId }) => instrumentId === own.id)
    if (mine.length === 0) continue
    for (const other of readings) {
      const id = other.instrumentId ?? (other.sampleId === undefined ? null : 'laboratory')
      if (id === null || id === own.id) continue
      // One partner for each of the other's readings: the nearest in time.
      let best: ReadingEntry | null = null
      for (const one of mine)
        if (best === null || Math.abs(entryMs(one) - entryMs(other)) < Math.abs(entryMs(best) - entryMs(other)))
          best = one
      if (best === null || Math.abs(entryMs(best) - entryMs(other)) > near) continue
      const list = pairs.get(id) ?? []
      list.push({
        difference: valueOf(active, best) - valueOf(active, other),
        sd: Math.hypot(scatterOf(record, best), scatterOf(record, other)),
      })
      pairs.set(id, list)
    }
  }
  let worst: Drift | null = null
  for (const [otherId, list] of pairs) {
    if (list.length < limitOf('drift-pairs')) continue
    const middle = list.map(({ difference }) => difference).sort((a, b) => a - b)
    const off =
      middle.length % 2
        ? middle[middle.length >> 1]!
        : (middle[middle.length / 2 - 1]! + middle[middle.length / 2]!) / 2
    const sd = Math.sqrt(list.reduce((sum, one) => sum + one.sd ** 2, 0) / list.length)
    const z = Math.abs(off) / Math.max(sd, 1e-9)
    if (worst === null || z > worst.z)
      worst = {
        otherId,
        off,
        pairs: list.length,
        z,
        working: {
          title: 'Two instruments on one water',
          formula: 'middle of all differences ÷ scatter of one pair',
          inputs: [
            { label: 'pairs', value: list.length, unit: '' },
            { label: 'middle difference', value: off, unit: '' },
            { label: 'scatter of one pair', value: sd, unit: '' },
          ],
          result: { label: 'apart', value: z, unit: 'standard deviations' },
          notes: ['Two or more: they conflict; which of them is wrong a standard or a third tells.'],
          source: 'Handbook 65 §5 dis-z',
        },
      }
  }
  return worst
}

/** Pairs further apart than this many standard deviations conflict. @source handbook 65 §5 dis-z */
export const DRIFTED_Z = 2

export function instrumentState(
  record: KeeperRecord,
  active: ActiveLedger,
  instrument: InstrumentDocument,
  nowMs: number,
): InstrumentState {
  const checks = (checksIn(active).get(instrument.id) ?? []).filter((check) => entryMs(check) <= nowMs)
  const marked = instrument.body.checkedAt === undefined ? null : Date.parse(instrument.body.checkedAt)
  const last = checks.at(-1)
  const lastCheckMs = last === undefined ? marked : Math.max(entryMs(last), marked ?? 0)
  const stands = standsDays(instrument)
  const staleInDays = lastCheckMs === null || stands === null ? null : stands - (nowMs - lastCheckMs) / DAY
  const expires = instrument.body.expiresOn
  let hangs = 0
  for (const { entries } of indexOf(active).byVessel.values())
    for (let i = entries.length - 1; i >= 0; i--) {
      const entry = entries[i]!
      if (nowMs - entryMs(entry) > limitOf('offset-stands') * DAY) break
      if (entry.kind === 'reading' && entry.instrumentId === instrument.id) hangs++
    }
  return {
    instrument,
    checks,
    lastCheckMs,
    off: last === undefined || last.act === 'calibrated' ? null : offBy(last),
    stale: staleInDays !== null && staleInDays < 0,
    staleInDays,
    drift: driftOf(record, active, instrument, nowMs),
    reagentDays: expires === undefined ? null : Math.floor((Date.parse(`${expires}T23:59:59Z`) - nowMs) / DAY),
    hangs,
  }
}
