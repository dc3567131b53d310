// Five methods as lists of actions for the one model. Volumes alone decide when a cup is due or a tub is full, so a
// method can be laid out before the chemistry runs, and again from any moment of a live run.
import { floatTimeConstant, type RunAction } from './run.ts'
import { acclimationModel, type AcclimationKind, type MethodId } from './kinds.ts'

export interface MethodSettings {
  readonly scoopL: number
  readonly scoopEveryMin: number
  readonly dripLPerH: number
  /** The tub overflows at its size instead of being poured out. */
  readonly overflow: boolean
  /** The tub is full at so many litres and is then poured out to `pourToL`. */
  readonly capL: number
  readonly pourToL: number
  /** Share of tank water at which the animal moves. */
  readonly finishShare: number
  readonly binderShare: number
  /** The bag may float for at most so long. */
  readonly longestFloatMin: number
}

/** Runs are looked at for three hours; a method that is not done by then is said to be so. */
export const HORIZON_MIN = 180
const LIFT_MIN = 2
const WITHIN_C = 0.5

/** Where a stepped method stands. */
export interface Standing {
  readonly min: number
  readonly volumeL: number
  readonly tankShare: number
}

/** Litres of tank water that bring a tub to the finishing share. */
export function waterToFinish(
  volumeL: number,
  settings: Pick<MethodSettings, 'capL' | 'pourToL' | 'finishShare' | 'overflow'>,
): number {
  const { capL, pourToL, finishShare, overflow } = settings
  let volume = volumeL
  let bag = volumeL
  let used = 0
  if (overflow) {
    const grow = Math.max(0, capL - volume)
    if (1 - bag / (volume + grow) >= finishShare) return bag / (1 - finishShare) - bag
    volume += grow
    used += grow
    return used + volume * Math.log(bag / volume / (1 - finishShare))
  }
  for (let i = 0; i < 200; i++) {
    const toFinish = bag / (1 - finishShare) - volume
    if (toFinish <= capL - volume + 1e-9) return used + Math.max(0, toFinish)
    used += capL - volume
    bag *= pourToL / capL
    volume = pourToL
  }
  return Infinity
}

/** Settings that suit a bag and a kind: an eighth of an hour's limit at a time, a tub of at least three bags. */
export function settingsFor(kind: AcclimationKind, bagL: number, tubL: number, gapPsu: number): MethodSettings {
  const capL = tubL
  const pourToL = Math.min(Math.max(bagL, capL / 2), capL * 0.8)
  const base = { capL, pourToL, finishShare: 0.9, overflow: false }
  const hourly = kind.salinityPerHour ? (gapPsu < 0 ? kind.salinityPerHour.down : kind.salinityPerHour.up) : Infinity
  const usual = kind.dripMinutes ? (kind.dripMinutes.low + kind.dripMinutes.high) / 2 : 40
  // Slow enough for the hourly limit; where that would take longer than the animal bears, both are missed alike.
  const bySalt = (Math.abs(gapPsu) / hourly) * 60 * 1.25
  const byLimit = bySalt > kind.handlingMinutes ? Math.sqrt(bySalt * kind.handlingMinutes) : bySalt
  const minutes = Math.min(150, Math.max(Math.min(usual, kind.handlingMinutes * 0.8), byLimit))
  const water = waterToFinish(bagL, base)
  const scoopEveryMin = 5
  const cups = Math.max(4, Math.round(Math.min(minutes, Math.max(30, byLimit)) / scoopEveryMin))
  return {
    ...base,
    scoopL: tidy(water / cups),
    scoopEveryMin,
    dripLPerH: tidy((water / minutes) * 60),
    binderShare: 0.8,
    longestFloatMin: 45,
  }
}
/** Two figures are what a cup and a clamp can do. */
const tidy = (value: number): number => Number(value.toPrecision(2))

/** A closed bag may float across so many degrees; a larger gap is closed in two stages. @source handbook 20 (40.4) */
export const CLOSED_STEP_C = acclimationModel.closedFloatStepC

/** Water a closed bag floats in, and for how long. */
export interface FloatStage {
  readonly tempC: number
  readonly minutes: number
}
/**
 * The waters a closed bag floats in one after another, the receiving water last: none within half a degree, one across
 * up to 5 °C, else two, the first half-way between. A stage ends within half a degree, or at the setting's longest.
 */
export function floatStages(bagC: number, tankC: number, volumeL: number, longestMin: number): readonly FloatStage[] {
  const gap = Math.abs(bagC - tankC)
  if (gap <= WITHIN_C) return []
  const waters = gap <= CLOSED_STEP_C + 1e-9 ? [tankC] : [(bagC + tankC) / 2, tankC]
  const minutes = Math.min(
    longestMin,
    Math.max(5, Math.ceil(floatTimeConstant(volumeL) * Math.log(gap / waters.length / WITHIN_C))),
  )
  return waters.map((tempC) => ({ tempC, minutes }))
}

/** Minutes a closed bag floats in all, 0 when it is within half a degree. */
export const floatMinutes = (bagC: number, tankC: number, volumeL: number, longestMin: number): number =>
  floatStages(bagC, tankC, volumeL, longestMin).reduce((sum, { minutes }) => sum + minutes, 0)

/** Cups of tank water every few minutes, poured out when the tub is full, and the move at the end. */
export function scoopActions(from: Standing, settings: MethodSettings): RunAction[] {
  const { scoopL, scoopEveryMin, capL, pourToL, finishShare } = settings
  const actions: RunAction[] = []
  let { min, volumeL } = from
  let bag = volumeL * (1 - from.tankShare)
  while (1 - bag / volumeL < finishShare - 1e-9 && min + scoopEveryMin <= HORIZON_MIN) {
    min += scoopEveryMin
    // The tub is poured out before a cup that would not fit.
    if (volumeL + scoopL > capL + 1e-9) {
      const to = Math.max(0, Math.min(pourToL, capL - scoopL))
      actions.push({ kind: 'pour', min, toL: to })
      bag *= to / volumeL
      volumeL = to
    }
    actions.push({ kind: 'add', min, litres: scoopL })
    volumeL += scoopL
  }
  if (1 - bag / volumeL >= finishShare - 1e-9) actions.push({ kind: 'move', min: min + scoopEveryMin })
  return actions
}

/** A drip line from now on, pour-outs or an overflow, and the move at the end. */
export function dripActions(from: Standing, settings: MethodSettings): RunAction[] {
  const { dripLPerH, capL, pourToL, finishShare, overflow } = settings
  const actions: RunAction[] = [
    { kind: 'drip', min: from.min, litresPerH: dripLPerH, ...(overflow ? { overflowAtL: capL } : {}) },
  ]
  let { min, volumeL } = from
  let bag = volumeL * (1 - from.tankShare)
  const minutes = (litres: number) => (litres / dripLPerH) * 60
  if (overflow) {
    const end = min + minutes(waterAhead(from, settings))
    if (end <= HORIZON_MIN) actions.push({ kind: 'move', min: end })
    return actions
  }
  for (let i = 0; i < 200 && min <= HORIZON_MIN; i++) {
    const toFinish = bag / (1 - finishShare) - volumeL
    if (toFinish <= capL - volumeL + 1e-9) {
      min += minutes(Math.max(0, toFinish))
      if (min <= HORIZON_MIN) actions.push({ kind: 'move', min })
      break
    }
    min += minutes(capL - volumeL)
    if (min > HORIZON_MIN) break
    actions.push({ kind: 'pour', min, toL: pourToL })
    bag *= pourToL / capL
    volumeL = pourToL
  }
  return actions
}
function waterAhead(from: Standing, settings: MethodSettings): number {
  const bag = from.volumeL * (1 - from.tankShare)
  const { capL, finishShare } = settings
  if (from.volumeL < capL) {
    const alone = bag / (1 - finishShare) - from.volumeL
    if (alone <= capL - from.volumeL) return Math.max(0, alone)
    return capL - from.volumeL + capL * Math.log(bag / capL / (1 - finishShare))
  }
  return Math.max(0, from.volumeL * Math.log(bag / from.volumeL / (1 - finishShare)))
}

/** The method from the closed bag to the move. */
export function methodActions(
  method: MethodId,
  options: { readonly bagL: number; readonly bagC: number; readonly tankC: number; readonly settings: MethodSettings },
): RunAction[] {
  const { bagL, bagC, tankC, settings } = options
  const floated = floatMinutes(bagC, tankC, bagL, settings.longestFloatMin)
  const opened: RunAction = { kind: 'open', min: floated }
  const standing = { min: floated + 1, volumeL: bagL, tankShare: 0 }
  switch (method) {
    case 'float-and-move':
    case 'matched-tank':
      return [opened, { kind: 'move', min: floated + LIFT_MIN }]
    case 'scoops':
      return [opened, ...scoopActions(standing, settings)]
    case 'drip':
      return [opened, ...dripActions(standing, settings)]
    case 'dilute-and-bind':
      return [
        opened,
        { kind: 'air', min: floated + 1, on: true },
        { kind: 'bind', min: floated + 1, share: settings.binderShare },
        ...scoopActions({ ...standing, min: floated + 6 }, settings),
      ]
  }
}
