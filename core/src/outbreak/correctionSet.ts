// Several values to raise in one water: which goes first, what each day holds, what moves along, and when it is tested.
import { limitOf } from '../knowledge/limits.ts'
import { runningCourses } from '../record/running.ts'
import { valueOf } from '../record/instrumentState.ts'
import { indexOf } from '../record/ledgerIndex.ts'
import type { Protocol } from '../knowledge/protocols.ts'
import type { ActiveLedger, DeviceDocument, KeeperRecord } from '../record/types.ts'
import { entryMs } from '../time/time.ts'
import { dosersOf } from './dosers.ts'
import { CRUMB } from './steering.ts'
import { correctionOf, corrections, saltGrams, type Correction, type Salt } from './corrections.ts'
import {
  PACE_MS,
  portionsFor,
  raisedAlong,
  RETEST_EVERY,
  secondResult,
  steerState,
  type SteerState,
} from './steerState.ts'

export interface SetItem {
  readonly correction: Correction
  readonly salt: Salt
  readonly state: SteerState
  /** What is thought to be there now; null where it was not read lately. */
  readonly now: number | null
  /** To the target, in the unit of the analyte. */
  readonly delta: number
  /** Most that it may rise in a day here: half of it where a laboratory asks for it. */
  readonly perDay: number
  /** Day it begins, 0 is today; null while it waits for a test. */
  readonly fromDay: number | null
  readonly days: number
  readonly gramsInAll: number | null
  /** Why it does not begin today. */
  readonly waits: string | null
  /** A course that does it already. */
  readonly courseId: string | null
  /** Dosers that pour the same, or what its salt brings along. */
  readonly dosers: readonly { readonly device: DeviceDocument; readonly why: 'same' | 'along' }[]
}
export interface SetDay {
  readonly day: number
  readonly adds: readonly {
    readonly id: string
    readonly rise: number
    readonly grams: number
    readonly portions: number
  }[]
  /** What moves along with them, by analyte. */
  readonly along: readonly { readonly analyte: string; readonly rise: number; readonly unit: string }[]
  readonly tests: readonly string[]
}
export interface CorrectionSet {
  readonly items: readonly SetItem[]
  readonly days: readonly SetDay[]
}
export interface SetOptions {
  readonly salts?: Readonly<Record<string, string>>
  readonly targets?: Readonly<Record<string, number>>
  /** Corrections that a laboratory's report asks for: at half the pace. @source handbook 65 §9 lab-slow */
  readonly half?: readonly string[]
}

const DAY = 86_400_000
/** No plan looks further ahead. */
const MOST_DAYS = 60

/** Corrections that a vessel's water can have. */
export const correctionsFor = (water: 'marine' | 'fresh'): readonly Correction[] =>
  corrections.filter((one) => one.water === 'both' || one.water === water)

/**
 * A plan over several corrections: magnesium before alkalinity and calcium, what must hold first, no day over the pace of
 * any value with all that moves along, a test before each third step. Pure; nothing of it is stored.
 * @source handbook 65 §6, §7, §9
 */
export function correctionSet(
  record: KeeperRecord,
  active: ActiveLedger,
  vesselId: string,
  ids: readonly string[],
  nowMs: number,
  options: SetOptions = {},
): CorrectionSet {
  const chosen = ids.flatMap((id) => correctionOf(id) ?? []).sort((a, b) => (a.place ?? 9) - (b.place ?? 9))
  const dosers = dosersOf(record, vesselId)
  const own = indexOf(active).byVessel.get(vesselId)?.entries ?? []
  const courses = runningCourses(record, nowMs).filter(({ body }) => body.vesselId === vesselId)
  const values = new Map<string, number | null>()
  const items = chosen.flatMap((correction): SetItem[] => {
    const state = steerState(record, active, vesselId, correction.id, nowMs, options.targets?.[correction.id])
    if (!state) return []
    const salt =
      correction.salts.find(({ id }) => id === options.salts?.[correction.id]) ??
      correction.salts.find(({ usual }) => usual) ??
      correction.salts[0]!
    const target = options.targets?.[correction.id] ?? state.wanted.target
    const now = state.dose?.now ?? (state.reading === null ? null : state.reading.value)
    values.set(correction.analyte, now)
    const perDay = options.half?.includes(correction.id) ? correction.perDay / 2 : correction.perDay
    const delta = now === null ? 0 : Math.max(0, target - now)
    const fresh = state.reading !== null && nowMs - entryMs(state.reading) <= limitOf('reading-stands') * DAY
    const again = delta > 0 ? secondResult(state) : null
    const course = courses.find(({ body }) =>
      (body.protocol as unknown as Protocol).campaign?.corrections?.includes(correction.id),
    )
    return [
      {
        correction,
        salt,
        state,
        now,
        delta,
        perDay,
        fromDay: fresh && again === null ? 0 : null,
        days: Math.ceil(delta / perDay - 1e-9),
        gramsInAll: state.volumeL === null ? null : saltGrams(delta, salt, state.volumeL),
        waits: fresh ? again : 'It was not read in the last two weeks: test it first.',
        courseId: course?.id ?? null,
        dosers: dosers.flatMap((device): SetItem['dosers'] => {
          const other = correctionOf(device.body.doser?.correction ?? '')
          if (!other) return []
          const why = other.id === correction.id ? ('same' as const) : ('along' as const)
          if (why === 'same') return [{ device, why }]
          return (salt.side ?? []).some(({ analyte }) => analyte === other.analyte) ? [{ device, why }] : []
        }),
      },
    ]
  })
  const days: SetDay[] = []
  const left = new Map(items.map(({ correction, delta }) => [correction.id, delta]))
  const steps = new Map(items.map(({ correction, state }) => [correction.id, state.steps]))
  const begun = new Map<string, number>()
  const ended = new Map<string, number>()
  const waits = new Map<string, string>()
  for (let day = 0; day < MOST_DAYS; day++) {
    // What went in within the last 24 hours is part of today, net of what is used up in it; later, what dosers pour over it.
    const rises = new Map<string, number>(
      items.map(({ correction, state }) => [
        correction.analyte,
        day > 0
          ? Math.max(0, -state.putBack)
          : Math.max(
              0,
              raisedAlong(record, own, vesselId, correction.analyte, nowMs, PACE_MS) -
                Math.max(0, state.use?.perDay ?? 0),
            ),
      ]),
    )
    const before = new Map(rises)
    for (const { correction, state, fromDay } of items) {
      const rest = left.get(correction.id)!
      const more = Math.max(0, -state.putBack)
      if (fromDay === null || more === 0 || rest <= 1e-9) continue
      left.set(correction.id, Math.max(0, rest - more))
      const was = values.get(correction.analyte)
      if (was !== undefined && was !== null) values.set(correction.analyte, was + more)
      if (rest <= more) ended.set(correction.id, day)
    }
    const adds: SetDay['adds'][number][] = []
    const tests = new Set<string>(
      day > 0 ? [] : items.filter(({ state }) => state.endDue).map(({ correction }) => correction.analyte),
    )
    for (const { correction, salt, state, perDay, fromDay } of items) {
      const rest = left.get(correction.id)!
      if (fromDay === null || rest <= 1e-9) continue
      const hindered = firstOf(correction, (analyte) =>
        values.has(analyte) ? values.get(analyte)! : readLately(active, vesselId, analyte, nowMs),
      )
      if (hindered !== null) {
        if (!waits.has(correction.id)) waits.set(correction.id, hindered)
        continue
      }
      // Arithmetic is no reading: what it waited for is tested before the first portion goes in.
      const unread =
        day > 0 ? null : firstOf(correction, (analyte) => readLately(active, vesselId, analyte, nowMs), true)
      if (unread !== null) {
        waits.set(correction.id, unread)
        for (const { analyte } of correction.first ?? []) tests.add(analyte)
        continue
      }
      const room = Math.max(0, perDay - (rises.get(correction.analyte) ?? 0))
      let rise = Math.min(rest, room)
      // What is used up is put back on top, and brings along what it brings: that has a pace of its own.
      const use = Math.max(0, state.putBack - (day > 0 ? 0 : state.raisedToday))
      for (const { analyte, perUnit } of salt.side ?? []) {
        const other = corrections.find((one) => one.analyte === analyte)
        if (other && perUnit > 0)
          rise = Math.min(rise, Math.max(0, other.perDay - (rises.get(analyte) ?? 0)) / perUnit - use)
      }
      if (rise <= CRUMB * perDay) {
        // Too little to weigh is none, and no reason to come back.
        if (rest <= CRUMB * perDay) left.set(correction.id, 0)
        continue
      }
      if (!begun.has(correction.id)) {
        begun.set(correction.id, day)
        // What it waited for is read before it begins: a plan is no reading.
        if (waits.has(correction.id)) for (const { analyte } of correction.first ?? []) tests.add(analyte)
      }
      for (const { analyte } of correction.watch ?? []) tests.add(analyte)
      const step = (steps.get(correction.id) ?? 0) + 1
      steps.set(correction.id, step)
      if (step > 1 && (step - 1) % RETEST_EVERY === 0) tests.add(correction.analyte)
      left.set(correction.id, rest - rise)
      rises.set(correction.analyte, (rises.get(correction.analyte) ?? 0) + rise)
      for (const { analyte, perUnit } of salt.side ?? [])
        rises.set(analyte, (rises.get(analyte) ?? 0) + perUnit * (rise + use))
      const before = day > 0 ? 0 : state.raisedToday
      const portions = Math.max(
        1,
        portionsFor(correction, salt, before + rise + use) - (day > 0 ? 0 : state.poured),
        salt.portionMost === undefined ? 1 : Math.ceil((rise + use) / salt.portionMost - 1e-9),
      )
      adds.push({
        id: correction.id,
        rise: rise + use,
        grams: state.volumeL === null ? 0 : saltGrams(rise + use, salt, state.volumeL),
        portions,
      })
      if (rest - rise <= 1e-9) ended.set(correction.id, day)
    }
    // What was raised over a day is there the next.
    for (const [analyte, rise] of rises) {
      const was = values.get(analyte)
      if (was !== undefined && was !== null) values.set(analyte, was + rise - (before.get(analyte) ?? 0))
    }
    // Each is tested when it should be there, by the days its test takes to tell.
    for (const { correction } of items)
      if (ended.get(correction.id) === day - Math.max(1, Math.round(correction.retestDays ?? 1)))
        tests.add(correction.analyte)
    if (adds.length > 0 || tests.size > 0) {
      const own = new Set(items.map(({ correction }) => correction.analyte))
      days.push({
        day,
        adds,
        along: [...rises].flatMap(([analyte, rise]) => {
          const added = items
            .filter(({ correction }) => correction.analyte === analyte)
            .reduce(
              (sum, { correction, state }) =>
                sum +
                Math.max(0, (adds.find(({ id }) => id === correction.id)?.rise ?? 0) - Math.max(0, state.putBack)),
              0,
            )
          const more = rise - (before.get(analyte) ?? 0) - added
          return more > 1e-6 && (!own.has(analyte) || more > 0)
            ? [{ analyte, rise: more, unit: corrections.find((one) => one.analyte === analyte)?.unit ?? 'mg/L' }]
            : []
        }),
        tests: [...tests],
      })
    }
  }
  return {
    items: items.map((item) => {
      const { id } = item.correction
      const from = begun.get(id)
      return {
        ...item,
        fromDay: item.fromDay === null || item.delta <= 1e-9 ? item.fromDay : (from ?? null),
        days: from === undefined ? item.days : (ended.get(id) ?? MOST_DAYS) - from + 1,
        waits: item.waits ?? (from === 0 ? null : (waits.get(id) ?? null)),
      }
    }),
    days,
  }
}

/** Newest value of an analyte within the days that it speaks for the water. */
function readLately(active: ActiveLedger, vesselId: string, analyte: string, nowMs: number): number | null {
  const entry = indexOf(active)
    .byVessel.get(vesselId)
    ?.entries.findLast((one) => one.kind === 'reading' && one.analyte === analyte && entryMs(one) <= nowMs)
  return entry?.kind === 'reading' && nowMs - entryMs(entry) <= limitOf('reading-stands') * DAY
    ? valueOf(active, entry)
    : null
}

/** Why a correction cannot go in yet by what the plan has reached; null where nothing hinders. */
function firstOf(
  correction: Correction,
  valueOfNow: (analyte: string) => number | null,
  reached = false,
): string | null {
  for (const { analyte, min, max } of correction.first ?? []) {
    const known = valueOfNow(analyte)
    if (known === null)
      return `${analyte} must be read first: ${min === undefined ? `at most ${max}` : `at least ${min}`}.`
    if ((min !== undefined && known < min - 1e-9) || (max !== undefined && known > max + 1e-9))
      return reached
        ? `Test ${analyte} first: by arithmetic it is ${min === undefined ? `at most ${max}` : `at least ${min}`} by now.`
        : `After ${analyte}: it must be ${min === undefined ? `at most ${max}` : `at least ${min}`} first.`
  }
  return null
}
