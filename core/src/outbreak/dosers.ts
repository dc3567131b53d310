// Dosing pumps of the house: what each pours, whether it is paused and for what, and how its stock is made.
import { limitOf } from '../knowledge/limits.ts'
import type { ActiveLedger, DeviceDocument, Entry, KeeperRecord } from '../record/types.ts'
import { entryMs, instantMs } from '../time/time.ts'
import { addedMeasure } from './measures.ts'
import { correctionOf, corrections, saltGrams, type Correction, type Salt } from './corrections.ts'
import { vesselVolume } from '../level/fromRecord.ts'

/** Dosers of a vessel that are not put away. */
export const dosersOf = (record: KeeperRecord, vesselId: string): readonly DeviceDocument[] =>
  [...record.devices.values()].filter(
    ({ body }) => body.sort === 'doser' && body.vesselId === vesselId && body.retiredAt === undefined,
  )

export interface DoserState {
  readonly device: DeviceDocument
  readonly correction: Correction | null
  readonly salt: Salt | null
  /** Rise of one mL in this vessel, in the unit of the correction; null where the volume or the salt is not known. */
  readonly risePerMl: number | null
  /** What it is set to, a day. */
  readonly risePerDay: number | null
  readonly pausedMs: number | null
  /** Both limits were confirmed: it may be told to pour. */
  readonly confirmed: boolean
}

/** A doser as it stands: its last switch on the ledger, and what a millilitre of it does. */
export function doserState(
  record: KeeperRecord,
  active: ActiveLedger,
  device: DeviceDocument,
  nowMs: number,
): DoserState {
  const { doser } = device.body
  const correction = doser ? (correctionOf(doser.correction) ?? null) : null
  const salt = correction?.salts.find(({ id }) => id === doser?.salt) ?? null
  const vessel = record.vessels.get(device.body.vesselId)
  const volumeL = vessel ? (vesselVolume(vessel)?.litres ?? null) : null
  const risePerMl = doser && salt && volumeL !== null ? doser.gramsPerL / 1000 / saltGrams(1, salt, volumeL) : null
  const last = active.findLast(
    (entry) => entry.kind === 'equipment' && entry.deviceId === device.id && entryMs(entry) <= nowMs,
  )
  return {
    device,
    correction,
    salt,
    risePerMl,
    risePerDay: risePerMl === null || doser?.mlPerDay === undefined ? null : risePerMl * doser.mlPerDay,
    pausedMs: last?.kind === 'equipment' && !last.on ? entryMs(last) : null,
    confirmed:
      doser?.confirmedAt !== undefined && doser.mostPerPortionMl !== undefined && doser.mostPerDayMl !== undefined,
  }
}

const HOUR = 3_600_000
const DAY = 24 * HOUR
/** Hours within which a portion that a doser told of stands for what it pours: its setting is not counted beside it. EST */
const TOLD_H = limitOf('doser-told')
/** Hours for which what a doser pours by its setting is counted as one portion. EST */
const STEP_H = limitOf('doser-step')

/** What a doser poured, told by itself or reckoned by its setting. */
export interface Pour {
  readonly atMs: number
  readonly deviceId: string
  readonly correction: Correction
  readonly salt: Salt | null
  /** In the unit of its correction. */
  readonly rise: number
}

/** From when to when a doser was set to what: each revision until the next, the newest where two speak of one time. */
function settingsOf({ body, history, savedAt }: DeviceDocument) {
  const endMs = body.retiredAt === undefined ? Infinity : instantMs(body.retiredAt)
  const found: { readonly fromMs: number; readonly toMs: number; readonly body: DeviceDocument['body'] }[] = []
  let toMs = endMs
  for (const one of [{ savedAt, body }, ...history.toReversed()]) {
    const set = one.body as DeviceDocument['body']
    const fromMs = instantMs(set.doser?.sinceAt ?? one.savedAt)
    if (fromMs < toMs) {
      found.push({ fromMs, toMs, body: set })
      toMs = fromMs
    }
  }
  return found.toReversed()
}

/**
 * What the dosers of a vessel poured between two instants, in order of time: the portions that they told of, and where a
 * doser tells nothing, what it is set to while it is not paused. One that has a wire and is silent pours nothing.
 */
export function pouredByDosers(
  record: KeeperRecord,
  entries: readonly Entry[],
  vesselId: string,
  fromMs: number,
  toMs: number,
): readonly Pour[] {
  const found: Pour[] = []
  const toldMs = new Map<string, number[]>()
  const switches = new Map<string, { readonly atMs: number; readonly on: boolean }[]>()
  for (const entry of entries) {
    if ((entry.kind !== 'tally' && entry.kind !== 'equipment') || entry.deviceId === undefined) continue
    const atMs = entryMs(entry)
    if (entry.kind === 'equipment') {
      switches.set(entry.deviceId, [...(switches.get(entry.deviceId) ?? []), { atMs, on: entry.on }])
      continue
    }
    const correction = corrections.find(({ id }) => addedMeasure(id) === entry.measure)
    if (!correction) continue
    const told = toldMs.get(entry.deviceId)
    if (told) told.push(atMs)
    else toldMs.set(entry.deviceId, [atMs])
    if (atMs >= fromMs && atMs <= toMs)
      found.push({
        atMs,
        deviceId: entry.deviceId,
        correction,
        salt: correction.salts.find(({ label }) => label === entry.note) ?? null,
        rise: entry.values['rise'] ?? 0,
      })
  }
  const vessel = record.vessels.get(vesselId)
  const volumeL = vessel ? (vesselVolume(vessel)?.litres ?? null) : null
  for (const device of record.devices.values()) {
    if (device.body.sort !== 'doser' || volumeL === null) continue
    const told = toldMs.get(device.id) ?? []
    const switched = switches.get(device.id) ?? []
    for (const { body, ...set } of settingsOf(device)) {
      const { doser } = body
      const correction = doser ? correctionOf(doser.correction) : undefined
      const salt = correction?.salts.find(({ id }) => id === doser?.salt)
      if (body.vesselId !== vesselId || body.address !== undefined || !doser?.mlPerDay || !correction || !salt) continue
      const perMs = (doser.mlPerDay * (doser.gramsPerL / 1000 / saltGrams(1, salt, volumeL))) / DAY
      const until = Math.min(set.toMs, toMs)
      for (let atMs = Math.max(set.fromMs, fromMs); atMs < until;) {
        // A step ends where it is switched, so that no part of it is poured while it stands.
        const next = Math.min(
          until,
          atMs + STEP_H * HOUR,
          ...switched.flatMap((one) => (one.atMs > atMs ? [one.atMs] : [])),
        )
        const middle = (atMs + next) / 2
        const on = switched.findLast((one) => one.atMs <= atMs)?.on ?? true
        if (on && !told.some((ms) => Math.abs(ms - middle) <= TOLD_H * HOUR))
          found.push({ atMs: middle, deviceId: device.id, correction, salt, rise: perMs * (next - atMs) })
        atMs = next
      }
    }
  }
  return found.sort((a, b) => a.atMs - b.atMs)
}

/** What the dosers of a vessel raise a value by a day from now on, in the unit of the correction: none that is paused or silent. */
export function risePerDayByDosers(
  record: KeeperRecord,
  active: ActiveLedger,
  vesselId: string,
  correctionId: string,
  nowMs: number,
): number {
  let sum = 0
  for (const device of dosersOf(record, vesselId)) {
    const { correction, risePerDay, pausedMs } = doserState(record, active, device, nowMs)
    if (correction?.id !== correctionId || pausedMs !== null || risePerDay === null) continue
    const told = active.findLast(
      (entry) => entry.kind === 'tally' && entry.deviceId === device.id && entryMs(entry) <= nowMs,
    )
    const silent = told === undefined || nowMs - entryMs(told) > TOLD_H * HOUR
    if (device.body.address === undefined || !silent) sum += risePerDay
  }
  return sum
}

export interface StockRecipe {
  readonly grams: number
  readonly madeUpToMl: number
  readonly gramsPerL: number
  /** Rise of one millilitre and of one drop in the vessel, in the unit of the correction. */
  readonly risePerMl: number
  readonly risePerDrop: number
  /** Stronger than a litre of water readily takes up. */
  readonly tooStrong: boolean
}
/** Drops in a millilitre where nobody counted them. EST */
export const DROPS_PER_ML = 20

/** A stock solution: grams of a salt made up to a volume, and what a millilitre and a drop of it do in this water. */
export function stockRecipe(
  salt: Salt,
  gramsPerL: number,
  madeUpToMl: number,
  volumeL: number,
  dropsPerMl: number = DROPS_PER_ML,
): StockRecipe {
  const risePerMl = gramsPerL / 1000 / saltGrams(1, salt, volumeL)
  return {
    grams: (gramsPerL * madeUpToMl) / 1000,
    madeUpToMl,
    gramsPerL,
    risePerMl,
    risePerDrop: risePerMl / dropsPerMl,
    tooStrong: salt.solubleGPerL !== undefined && gramsPerL > salt.solubleGPerL,
  }
}
