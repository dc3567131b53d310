// Dosing pumps of the house: what each pours, whether it is paused and for what, and how its stock is made.
import type { ActiveLedger, DeviceDocument, KeeperRecord } from '../record/types.ts'
import { entryMs } from '../time/time.ts'
import { correctionOf, saltGrams, type Correction, type Salt } from './steerState.ts'
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
