// One model of a bag, a bowl or a tub on its way to tank water. Methods differ only in their list of actions.
//
// Water is counted by mass; salt, alkalinity, carbon, ammonia and heat ride on it and are conserved: what goes in,
// less what is poured out, less what the air takes, is what is left. Left out, on the careful side: the carbon dioxide
// that the animal breathes out (it would hold pH, and with it free ammonia, down).
import { freeAmmoniaShare, ammoniaPka } from '../water/ammonia.ts'
import {
  alkalinityFromDkh,
  carbonateConstants,
  carbonFromPh,
  co2InBalance,
  dkhFromAlkalinity,
  nbsOffset,
  phFromCarbon,
} from '../water/carbonate.ts'
import { seawaterDensity } from '../water/seawater.ts'

/** A water as a keeper tells it. pH on the NBS scale, ammonia total as mg N/L. */
export interface WaterState {
  readonly tempC: number
  readonly salinityPsu: number
  readonly phNbs: number
  readonly alkalinityDkh: number
  readonly tanMgN: number
}

export interface RunEnvironment {
  readonly roomTempC: number
  /** Time constant of the open tub towards the room, minutes. */
  readonly roomCoolingMin: number
  readonly roomCo2Uatm: number
  /** Gas exchange of open water, per hour: stirred by cups or a drip line, and with an air stone. */
  readonly gasOpenPerH: number
  readonly gasAiredPerH: number
  /** Ammonia given off, mg N per hour, all animals of the container. */
  readonly excretionMgNPerH: number
  readonly nbsMinusTotalAtSea: number
}

/** Something done at a minute of the run. Minute 0 is when the closed bag starts to float. */
export type RunAction =
  /** The bag is opened: gas exchange and room cooling begin. */
  | { readonly kind: 'open'; readonly min: number }
  | { readonly kind: 'add'; readonly min: number; readonly litres: number }
  /** Poured down to so many litres. */
  | { readonly kind: 'pour'; readonly min: number; readonly toL: number }
  /** Inflow of receiving water from now on, L/h; 0 stops it. `overflowAtL`: what is above runs out. */
  | { readonly kind: 'drip'; readonly min: number; readonly litresPerH: number; readonly overflowAtL?: number }
  | { readonly kind: 'air'; readonly min: number; readonly on: boolean }
  /** A binder takes a share of the ammonia out of reach, over ten minutes. */
  | { readonly kind: 'bind'; readonly min: number; readonly share: number }
  /** A reading replaces what the model thought. */
  | { readonly kind: 'measured'; readonly min: number; readonly water: Partial<WaterState> }
  /** The animal goes into the receiving water. */
  | { readonly kind: 'move'; readonly min: number }

export interface RunInputs {
  readonly bag: WaterState & { readonly volumeL: number }
  /** The water that is added, and into which the animal goes. */
  readonly tank: WaterState
  readonly environment: RunEnvironment
  readonly actions: readonly RunAction[]
  readonly untilMin: number
  /** Time constant of the floating bag towards the tank, minutes. */
  readonly floatMin: number
  /** The closed bag floats in this water first, until the minute; then in the tank. */
  readonly firstFloat?: { readonly tempC: number; readonly untilMin: number }
  /** Longest tick, minutes. */
  readonly tickMin?: number
}

/** The animal's water over time: parallel columns. A jump stands twice at one minute. */
export interface RunSeries {
  readonly min: number[]
  readonly salinityPsu: number[]
  readonly tempC: number[]
  readonly phNbs: number[]
  /** Free ammonia, mg N/L. */
  readonly freeMgN: number[]
  readonly volumeL: number[]
  /** Share of the water that came from the tank, 0..1. */
  readonly tankShare: number[]
}
/** Sums for the proof of conservation: kg·PSU, µmol, µmol, mg N, kg. */
export interface RunBalance {
  readonly salt: number
  readonly alkalinity: number
  readonly carbon: number
  readonly ammonia: number
  readonly water: number
}
export interface Run {
  readonly series: RunSeries
  readonly openedMin: number | null
  readonly movedMin: number | null
  readonly tankWaterL: number
  readonly pouredOutL: number
  /** The container at the end (or when the animal left it). */
  readonly end: WaterState & { readonly volumeL: number; readonly tankShare: number }
  /** start + added + excreted − poured out − given to the air − end; zero but for rounding. */
  readonly imbalance: RunBalance
}

interface Mix {
  /** kg */
  mass: number
  /** per-mass amounts times mass */
  salt: number
  ta: number
  dic: number
  tan: number
  bound: number
  heat: number
  /** kg of it that were bag water */
  bag: number
}

/** Time constant of a floating bag, minutes: 6 for a litre, growing with its size. @source handbook 40.4 float times, EST */
export const floatTimeConstant = (volumeL: number): number => 6 * Math.max(0.3, volumeL) ** 0.6

/** Amounts in a volume of water. @throws RangeError when the alkalinity cannot carry the pH. */
function mixOf(water: WaterState, volumeL: number, offsetAtSea: number): Mix {
  const mass = (volumeL * seawaterDensity(water.salinityPsu, water.tempC)) / 1000
  const k = carbonateConstants(water.salinityPsu, water.tempC)
  const ta = alkalinityFromDkh(water.alkalinityDkh, water.salinityPsu, water.tempC)
  const dic = carbonFromPh(k, ta, water.phNbs - nbsOffset(water.salinityPsu, offsetAtSea))
  return {
    mass,
    salt: mass * water.salinityPsu,
    ta: mass * ta,
    dic: mass * dic,
    tan: water.tanMgN * volumeL,
    bound: 0,
    heat: mass * water.tempC,
    bag: mass,
  }
}
const scaled = (mix: Mix, factor: number): Mix => ({
  mass: mix.mass * factor,
  salt: mix.salt * factor,
  ta: mix.ta * factor,
  dic: mix.dic * factor,
  tan: mix.tan * factor,
  bound: mix.bound * factor,
  heat: mix.heat * factor,
  bag: mix.bag * factor,
})
const KEYS = ['mass', 'salt', 'ta', 'dic', 'tan', 'bound', 'heat', 'bag'] as const
function into(target: Mix, part: Mix): void {
  for (const key of KEYS) target[key] += part[key]
}
const volumeOf = (mix: Mix): number => (mix.mass * 1000) / seawaterDensity(mix.salt / mix.mass, mix.heat / mix.mass)

/** Runs the actions. Deterministic; ticks are at most `tickMin` (1) and shorter while carbon dioxide leaves fast. */
export function runAcclimation(inputs: RunInputs): Run {
  const { environment: env, tank } = inputs
  const offsetAtSea = env.nbsMinusTotalAtSea
  const mix = mixOf(inputs.bag, inputs.bag.volumeL, offsetAtSea)
  const perTankLitre = { ...mixOf(tank, 1, offsetAtSea), bag: 0 }
  const start = { ...mix }
  const added: Mix = scaled(mix, 0)
  const poured: Mix = scaled(mix, 0)
  let toAir = 0
  let excreted = 0
  const corrected: Mix = scaled(mix, 0)
  let open = false
  let aired = false
  let dripLPerH = 0
  let overflowAtL = Infinity
  let binding: { untilMin: number; perMin: number } | null = null
  let openedMin: number | null = null
  let movedMin: number | null = null
  let ph = inputs.bag.phNbs - nbsOffset(inputs.bag.salinityPsu, offsetAtSea)
  const series: RunSeries = { min: [], salinityPsu: [], tempC: [], phNbs: [], freeMgN: [], volumeL: [], tankShare: [] }

  const push = (
    min: number,
    salinityPsu: number,
    tempC: number,
    phNbs: number,
    tanMgN: number,
    volumeL: number,
    tankShare: number,
  ) => {
    series.min.push(min)
    series.salinityPsu.push(salinityPsu)
    series.tempC.push(tempC)
    series.phNbs.push(phNbs)
    series.freeMgN.push(tanMgN * freeAmmoniaShare(ammoniaPka(tempC, salinityPsu), phNbs))
    series.volumeL.push(volumeL)
    series.tankShare.push(tankShare)
  }
  const look = (min: number) => {
    if (movedMin !== null) {
      push(min, tank.salinityPsu, tank.tempC, tank.phNbs, tank.tanMgN, volumeOf(mix), 1)
      return
    }
    const salinity = mix.salt / mix.mass
    const temp = mix.heat / mix.mass
    ph = phFromCarbon(carbonateConstants(salinity, temp), mix.ta / mix.mass, mix.dic / mix.mass, ph)
    const volume = volumeOf(mix)
    push(min, salinity, temp, ph + nbsOffset(salinity, offsetAtSea), mix.tan / volume, volume, 1 - mix.bag / mix.mass)
  }
  const pourTo = (litres: number) => {
    const volume = volumeOf(mix)
    if (litres >= volume) return
    into(poured, scaled(mix, 1 - litres / volume))
    const kept = scaled(mix, litres / volume)
    for (const key of KEYS) mix[key] = kept[key]
  }
  const pourTank = (litres: number) => {
    const part = scaled(perTankLitre, litres)
    into(mix, part)
    into(added, part)
  }

  const act = (action: RunAction) => {
    switch (action.kind) {
      case 'open':
        open = true
        openedMin ??= action.min
        break
      case 'add':
        pourTank(action.litres)
        break
      case 'pour':
        pourTo(action.toL)
        break
      case 'drip':
        dripLPerH = action.litresPerH
        overflowAtL = action.overflowAtL ?? Infinity
        break
      case 'air':
        aired = action.on
        break
      case 'bind':
        binding = { untilMin: action.min + 10, perMin: -Math.log(1 - Math.min(0.999, action.share)) / 10 }
        break
      case 'measured': {
        const volume = volumeOf(mix)
        const salinityPsu = action.water.salinityPsu ?? mix.salt / mix.mass
        const tempC = action.water.tempC ?? mix.heat / mix.mass
        const before = { ...mix }
        const measured = mixOf(
          {
            salinityPsu,
            tempC,
            phNbs: action.water.phNbs ?? ph + nbsOffset(mix.salt / mix.mass, offsetAtSea),
            alkalinityDkh:
              action.water.alkalinityDkh ??
              dkhFromAlkalinity(mix.ta / mix.mass, mix.salt / mix.mass, mix.heat / mix.mass),
            tanMgN: action.water.tanMgN ?? mix.tan / volume,
          },
          volume,
          offsetAtSea,
        )
        measured.bag = (before.bag / before.mass) * measured.mass
        measured.bound = before.bound
        // Without a pH of its own the carbon stays what it was: only what was measured is changed.
        if (action.water.phNbs === undefined && action.water.alkalinityDkh === undefined)
          measured.dic = (before.dic / before.mass) * measured.mass
        for (const key of KEYS) mix[key] = measured[key]
        const change = scaled(before, -1)
        into(change, measured)
        into(corrected, change)
        break
      }
      case 'move':
        movedMin = action.min
        break
    }
  }

  const co2 = (dicPerKg: number, taPerKg: number, salinity: number, temp: number) => {
    const k = carbonateConstants(salinity, temp)
    const atPh = phFromCarbon(k, taPerKg, dicPerKg, ph)
    const h = 10 ** -atPh
    const free = (dicPerKg * h * h) / (h * h + k.k1 * h + k.k1 * k.k2)
    return { excess: free - co2InBalance(k, env.roomCo2Uatm, temp), ph: atPh }
  }
  /** One tick: heat, inflow, excretion, binding, then the gas that leaves, by the midpoint rule. */
  const tick = (fromMin: number, minutes: number) => {
    const hours = minutes / 60
    const temp = mix.heat / mix.mass
    const { firstFloat } = inputs
    const floating = firstFloat && fromMin < firstFloat.untilMin - 1e-9 ? firstFloat.tempC : tank.tempC
    const towards = open ? env.roomTempC : floating
    const tau = open ? env.roomCoolingMin : inputs.floatMin
    mix.heat = mix.mass * (towards + (temp - towards) * Math.exp(-minutes / tau))
    if (dripLPerH > 0) pourTank(dripLPerH * hours)
    if (Number.isFinite(overflowAtL)) pourTo(overflowAtL)
    mix.tan += env.excretionMgNPerH * hours
    excreted += env.excretionMgNPerH * hours
    if (binding && fromMin < binding.untilMin) {
      const taken = mix.tan * (1 - Math.exp(-binding.perMin * minutes))
      mix.tan -= taken
      mix.bound += taken
    }
    if (!open) return
    const k = aired ? env.gasAiredPerH : env.gasOpenPerH
    const salinity = mix.salt / mix.mass
    const warm = mix.heat / mix.mass
    const ta = mix.ta / mix.mass
    const dic = mix.dic / mix.mass
    const first = co2(dic, ta, salinity, warm)
    ph = first.ph
    const half = co2(dic - (k * first.excess * hours) / 2, ta, salinity, warm)
    const lost = k * half.excess * hours * mix.mass
    mix.dic -= lost
    toAir += lost
  }

  const actions = [...inputs.actions].sort((a, b) => a.min - b.min)
  const longest = inputs.tickMin ?? 1
  let now = 0
  let next = 0
  look(0)
  while (now < inputs.untilMin - 1e-9 || (next < actions.length && actions[next]!.min <= inputs.untilMin + 1e-9)) {
    let acted = false
    while (next < actions.length && actions[next]!.min <= now + 1e-9) {
      if (movedMin === null) act(actions[next]!)
      next++
      acted = true
    }
    if (acted) look(now)
    if (now >= inputs.untilMin - 1e-9) break
    const toAction = next < actions.length ? actions[next]!.min - now : Infinity
    // The first quarter of an hour in the open, and an aired tub, move fastest.
    const brisk = open && movedMin === null && (now - (openedMin ?? 0) < 15 || aired)
    const length = Math.min(brisk ? longest / 2 : longest, toAction, inputs.untilMin - now)
    if (movedMin === null) tick(now, length)
    now += length
    look(now)
  }

  const volume = volumeOf(mix)
  const salinityPsu = mix.salt / mix.mass
  const tempC = mix.heat / mix.mass
  const left = (key: keyof Mix) => start[key] + added[key] - poured[key] - mix[key] + corrected[key]
  return {
    series,
    openedMin,
    movedMin,
    tankWaterL: added.mass / perTankLitre.mass,
    pouredOutL: poured.mass === 0 ? 0 : volumeOf(poured),
    end: {
      volumeL: volume,
      salinityPsu,
      tempC,
      phNbs: ph + nbsOffset(salinityPsu, offsetAtSea),
      alkalinityDkh: dkhFromAlkalinity(mix.ta / mix.mass, salinityPsu, tempC),
      tanMgN: mix.tan / volume,
      tankShare: 1 - mix.bag / mix.mass,
    },
    imbalance: {
      water: left('mass'),
      salt: left('salt'),
      alkalinity: left('ta'),
      carbon: left('dic') - toAir,
      ammonia: left('tan') + left('bound') + excreted,
    },
  }
}
