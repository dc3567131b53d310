// The bodies of the stand-ins: a probe head, a doser, a lamp and a photometer on a simulated tank, with the faults that
// real ones have. They know nothing of how they are judged.
import { chanceFrom, hour, tankOf, trulyIn, type Chance, type Tank, type Truth } from '@brinvo/core/world'

export type Fault = 'none' | 'stuck' | 'drift' | 'drop-out' | 'dry' | 'clock' | 'heater' | 'fourteen'

/** Sea water of a small holding tank, near what the demonstration calls Holding A. */
const TRUTH: Truth = {
  water: 'marine',
  netL: 62,
  evaporationLPerDay: 0.7,
  bindsPerDay: 0,
  releasesPerDay: 0,
  usePerDay: { alkalinity: 0.1, calcium: 2 },
  wasteMgPerDay: 40,
  filterMgPerDay: 400,
  roomC: 25.2,
  swingC: 0.2,
}
const HOUR = 3_600_000
const DKH_PER_MEQ = 2.804

export interface Sample {
  readonly at: number
  readonly quantity: string
  readonly value: number
}

/** One tank that all stand-ins hang in; its time is the time of the clock it is given. */
export class StandInTank {
  readonly tank: Tank
  readonly chance: Chance
  private lastMs: number
  levelCm = 0
  heaterStuck = false
  constructor(
    seed: number,
    startMs: number,
    readonly fault: Fault = 'none',
  ) {
    this.chance = chanceFrom(seed)
    this.tank = tankOf(TRUTH, this.chance)
    this.lastMs = startMs
    this.heaterStuck = fault === 'heater'
  }
  /** Lets the water live up to an instant, in steps of an hour; the rest is carried on. */
  to(nowMs: number): void {
    while (nowMs - this.lastMs >= HOUR) {
      if (this.heaterStuck) this.tank.heaterC = 33
      hour(this.tank)
      this.lastMs += HOUR
    }
    this.levelCm = -((nowMs - this.lastMs) / HOUR) * (TRUTH.evaporationLPerDay / 24) * 0.5
  }
  /** Alkalinity and others that a stock brings. */
  pour(solute: 'alkalinity' | 'calcium' | 'magnesium', perL: number): void {
    this.tank.solutes[solute] += perL
  }
}

/** Temperature, pH, conductivity, oxygen and level, once a second. */
export class ProbeHead {
  private stuckAt: Sample[] | null = null
  private readonly born: number
  constructor(
    private readonly water: StandInTank,
    startMs: number,
    private readonly fault: Fault = 'none',
  ) {
    this.born = startMs
  }
  sample(nowMs: number): readonly Sample[] {
    const { water, fault } = this
    water.to(nowMs)
    const { chance, tank } = water
    // A stretch of every ninth minute is lost on the wire.
    if (fault === 'drop-out' && Math.floor(nowMs / 60_000) % 9 < 4) return []
    const days = (nowMs - this.born) / 86_400_000
    const at = fault === 'clock' ? nowMs + 3 * HOUR : nowMs
    const warm = water.heaterStuck
      ? Math.min(33, trulyIn(tank, 'temperature') + (nowMs - this.born) / (0.25 * HOUR))
      : trulyIn(tank, 'temperature')
    const fresh: Sample[] = [
      { at, quantity: 'temperature', value: round(warm + chance.normal(0, 0.02), 2) },
      {
        at,
        quantity: 'ph',
        value:
          fault === 'fourteen'
            ? 14
            : round(
                8.1 +
                  0.08 * Math.sin((2 * Math.PI * nowMs) / 86_400_000) +
                  (fault === 'drift' ? 0.02 * days : 0) +
                  chance.normal(0, 0.01),
                2,
              ),
      },
      {
        at,
        quantity: 'conductivity',
        value: Math.round(53_000 * (trulyIn(tank, 'salinity') / 35) + chance.normal(0, 60)),
      },
      { at, quantity: 'oxygen', value: round(trulyIn(tank, 'oxygen') + chance.normal(0, 0.03), 2) },
      { at, quantity: 'level', value: round(water.levelCm + chance.normal(0, 0.05), 2) },
    ]
    if (fault === 'stuck') {
      this.stuckAt ??= fresh
      return this.stuckAt.map((one) => ({ ...one, at }))
    }
    return fresh
  }
}

/** A peristaltic pump: its true flow is a little off, its canister runs empty, and it does not always notice. */
export class Doser {
  leftMl: number
  readonly trueMlPerMinute: number
  constructor(
    private readonly water: StandInTank,
    private readonly fault: Fault = 'none',
    canisterMl = 2000,
  ) {
    this.leftMl = fault === 'dry' ? 0 : canisterMl
    this.trueMlPerMinute = 38 * (1 + water.chance.normal(0, 0.04))
  }
  /** What truly comes out in so many seconds, mL. */
  run(seconds: number): number {
    const mL = Math.min(this.leftMl, (this.trueMlPerMinute * seconds) / 60)
    this.leftMl -= mL
    return mL
  }
  /** Pours by its own idea of its flow; says what it meant to pour, dry or not. */
  pour(
    mL: number,
    mlPerMinute: number,
  ): { readonly seconds: number; readonly trulyMl: number; readonly saysMl: number; readonly saysDry: boolean } {
    const seconds = (60 * mL) / mlPerMinute
    const trulyMl = this.run(seconds)
    // Sodium bicarbonate of 50 g/L: a millilitre is 0.6 meq.
    this.water.pour('alkalinity', (trulyMl * 0.595) / this.water.tank.litres)
    return { seconds, trulyMl, saysMl: mL, saysDry: this.fault !== 'dry' && trulyMl < 0.5 * mL }
  }
}

/** A photometer: reads what is truly there, with an error of its own. */
export function photometer(water: StandInTank, analyte: string): number {
  const truth = trulyIn(water.tank, analyte) * (analyte === 'alkalinity' ? DKH_PER_MEQ : 1)
  return round(Math.max(0, truth * (1 + water.chance.normal(0, 0.03))), 2)
}
/** Per cent of a lamp's light at an hour of the day: from ten to eight, with an hour of dawn and of dusk. */
export function lampAt(hourOfDay: number): number {
  if (hourOfDay < 9 || hourOfDay > 21) return 0
  return Math.round(100 * Math.min(1, hourOfDay - 9, 21 - hourOfDay))
}

const round = (value: number, digits: number): number => Number(value.toFixed(digits))
