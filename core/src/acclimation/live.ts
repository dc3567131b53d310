// A run at the tank, derived from what was pressed and when: nothing ticks, so a reload or a sleeping phone loses
// nothing. The past is replayed with its readings, the future is laid out again from where things stand.
import { limitOf } from '../knowledge/limits.ts'
import type { ContainerEntry } from '../record/types.ts'
import { entryMs } from '../time/time.ts'
import {
  CLOSED_STEP_C,
  dripActions,
  floatStages,
  methodActions,
  scoopActions,
  HORIZON_MIN,
  type MethodSettings,
} from './methods.ts'
import {
  floatTimeConstant,
  runAcclimation,
  type RunAction,
  type RunEnvironment,
  type RunSeries,
  type WaterState,
} from './run.ts'
import { largestChange } from './change.ts'
import type { AcclimationKind, MethodId } from './kinds.ts'

export interface LiveInputs {
  readonly method: MethodId
  readonly settings: MethodSettings
  readonly kind: AcclimationKind
  readonly bag: WaterState & { readonly volumeL: number }
  readonly tank: WaterState
  /** Salinity that the tank stands at by its readings, where it is to be brought to the bag's first, PSU. */
  readonly matchFromPsu?: number
  readonly environment: RunEnvironment
  /** Active entries of this container, in order. */
  readonly entries: readonly ContainerEntry[]
  readonly nowMs: number
}

export type LivePhase = 'ready' | 'floating' | 'open' | 'moved' | 'stopped'
export interface LiveStep {
  readonly act: 'float' | 'open' | 'add' | 'pour' | 'drip' | 'air' | 'bind' | 'move' | 'look'
  readonly dueMs: number
  readonly title: string
  readonly detail: string
  readonly litres?: number
  readonly litresPerH?: number
  readonly overflow?: boolean
  readonly share?: number
}
export interface LiveRun {
  readonly phase: LivePhase
  readonly startedMs: number | null
  readonly openedMs: number | null
  readonly movedMs: number | null
  /** The animal's water now. */
  readonly now: WaterState & { readonly freeMgN: number; readonly volumeL: number; readonly tankShare: number }
  readonly next: LiveStep | null
  /** Steps after the next one. */
  readonly later: readonly LiveStep[]
  /** What the elapsed time means, in sentences: an hour away, a reading long past, a limit crossed. */
  readonly warnings: readonly string[]
  /** Past and future; minutes since the start. */
  readonly series: RunSeries
  readonly nowMin: number
  /** Change of salinity in the last hour, PSU. */
  readonly lastHourPsu: number
  /** Over the hourly limit, but no faster than the method was laid out: nothing to slow down. */
  readonly asLaidOut: boolean
  readonly cups: number
}

const OPEN_LOOK_MIN = 15
const DRIP_CHECK_MIN = 15
/** Two waters are one within what a meter tells apart, PSU. */
export const MATCHED_PSU = 0.5

/** The pressed acts as actions of the model; minutes since the start. */
export function actionsOf(entries: readonly ContainerEntry[], startMs: number): RunAction[] {
  return entries.flatMap((entry): RunAction[] => {
    const min = (entryMs(entry) - startMs) / 60_000
    if (min < 0) return []
    switch (entry.act) {
      case 'open':
        return [{ kind: 'open', min }]
      case 'add':
        return entry.litres === undefined ? [] : [{ kind: 'add', min, litres: entry.litres }]
      case 'pour':
        return entry.toL === undefined ? [] : [{ kind: 'pour', min, toL: entry.toL }]
      case 'drip':
        return [
          {
            kind: 'drip',
            min,
            litresPerH: entry.litresPerH ?? 0,
            ...(entry.overflow === true && entry.toL !== undefined ? { overflowAtL: entry.toL } : {}),
          },
        ]
      case 'air':
        return [{ kind: 'air', min, on: entry.on ?? true }]
      case 'bind':
        return [{ kind: 'bind', min, share: entry.share ?? 0 }]
      case 'move':
        return [{ kind: 'move', min }]
      case 'measured': {
        const { tempC, salinityPsu, phNbs, tanMgN, alkalinityDkh } = entry
        const water = Object.fromEntries(
          Object.entries({ tempC, salinityPsu, phNbs, tanMgN, alkalinityDkh }).filter(
            ([, value]) => value !== undefined,
          ),
        ) as Partial<WaterState>
        return Object.keys(water).length === 0 ? [] : [{ kind: 'measured', min, water }]
      }
      default:
        return []
    }
  })
}

/** Where a container's run stands and what comes next. Pure: the same entries at the same time give the same answer. */
export function liveRun(inputs: LiveInputs): LiveRun {
  const { settings, bag, tank, environment, nowMs } = inputs
  const entries = inputs.entries.filter((entry) => entryMs(entry) <= nowMs)
  const first = entries.find(({ act }) => act === 'float' || act === 'open')
  const opened = entries.find(({ act }) => act === 'open')
  const moved = entries.find(({ act }) => act === 'move')
  const stopped = entries.find(({ act }) => act === 'stop')
  const startMs = first ? entryMs(first) : nowMs
  const nowMin = (nowMs - startMs) / 60_000
  const acted = first ? actionsOf(entries, startMs) : []
  const floatMin = floatTimeConstant(bag.volumeL)
  const stages = floatStages(bag.tempC, tank.tempC, bag.volumeL, settings.longestFloatMin)
  // Of two stages the first lasts until the bag is noted on the tank itself.
  const onTank = entries.filter(({ act }) => act === 'float')[1]
  const firstFloat =
    stages.length > 1
      ? {
          tempC: stages[0]!.tempC,
          untilMin: onTank
            ? (entryMs(onTank) - startMs) / 60_000
            : Math.max(stages[0]!.minutes, (nowMs - startMs) / 60_000),
        }
      : undefined
  const common = { bag, tank, environment, floatMin, ...(firstFloat ? { firstFloat } : {}) }
  // Ticks of one minute at the most, however long ago the start lies; a run of days is looked at for its first day.
  const pastMin = Math.min(nowMin, 24 * 60)
  const past = runAcclimation({ ...common, actions: acted, untilMin: pastMin })
  const at = past.series.min.length - 1
  const phase: LivePhase = moved ? 'moved' : stopped ? 'stopped' : opened ? 'open' : first ? 'floating' : 'ready'
  const standing = { min: nowMin, volumeL: past.end.volumeL, tankShare: past.end.tankShare }
  const steps = laidOut(inputs, phase, startMs, nowMin, entries, standing)
  const future = steps.flatMap(({ dueMs, ...step }): RunAction[] => {
    const min = Math.max(nowMin, (dueMs - startMs) / 60_000)
    switch (step.act) {
      case 'open':
        return [{ kind: 'open', min }]
      case 'add':
        return [{ kind: 'add', min, litres: step.litres ?? 0 }]
      case 'pour':
        return [{ kind: 'pour', min, toL: step.litres ?? 0 }]
      case 'drip':
        return [
          {
            kind: 'drip',
            min,
            litresPerH: step.litresPerH ?? 0,
            ...(step.overflow === true ? { overflowAtL: settings.capL } : {}),
          },
        ]
      case 'air':
        return [{ kind: 'air', min, on: true }]
      case 'bind':
        return [{ kind: 'bind', min, share: step.share ?? 0 }]
      case 'move':
        return [{ kind: 'move', min }]
      case 'float':
      case 'look':
        return []
    }
  })
  const lastMin = future.reduce((max, { min }) => Math.max(max, min), nowMin)
  const whole = runAcclimation({
    ...common,
    actions: [...acted, ...future],
    untilMin: Math.min(24 * 60, Math.max(nowMin + 15, lastMin + 5)),
  })
  const hourAgo = past.series.min.findIndex((min) => min >= nowMin - 60)
  const lastHourPsu = past.series.salinityPsu[at]! - past.series.salinityPsu[Math.max(0, hourAgo)]!
  const now = {
    tempC: past.series.tempC[at]!,
    salinityPsu: past.series.salinityPsu[at]!,
    phNbs: past.series.phNbs[at]!,
    alkalinityDkh: past.end.alkalinityDkh,
    tanMgN: past.end.tanMgN,
    freeMgN: past.series.freeMgN[at]!,
    volumeL: past.end.volumeL,
    tankShare: past.series.tankShare[at]!,
  }
  const pace = paceOf(inputs, common, phase, lastHourPsu)
  return {
    phase,
    startedMs: first ? startMs : null,
    openedMs: opened ? entryMs(opened) : null,
    movedMs: moved ? entryMs(moved) : null,
    now,
    next: steps[0] ?? null,
    later: steps.slice(1),
    warnings: warningsOf(inputs, phase, entries, now.freeMgN, pace, lastHourPsu),
    series: whole.series,
    nowMin,
    lastHourPsu,
    asLaidOut: pace === 'as-laid-out',
    cups: entries.filter(({ act }) => act === 'add').length,
  }
}

/** What pressing a step writes down, beside the bag that it is about. A move writes nothing by itself: the animal is asked for. */
export function pressedStep(step: LiveStep): Partial<ContainerEntry> & Pick<ContainerEntry, 'act'> {
  const { act, litres, litresPerH, share } = step
  switch (act) {
    case 'add':
      return { act, ...(litres === undefined ? {} : { litres }) }
    case 'pour':
      return { act, ...(litres === undefined ? {} : { toL: litres }) }
    case 'drip':
      return {
        act,
        ...(litresPerH === undefined ? {} : { litresPerH }),
        // Where the tub overflows it stays as full as it is: without the mark the model would let it grow.
        ...(step.overflow === true && litres !== undefined ? { overflow: true, toL: litres } : {}),
      }
    case 'air':
      return { act, on: true }
    case 'bind':
      return { act, ...(share === undefined ? {} : { share }) }
    default:
      return { act }
  }
}

/** Degrees as a thermometer shows them. */
const figure = (tempC: number): string => String(Number(tempC.toFixed(1)))

const litresText = (litres: number): string =>
  litres < 1 ? `${Math.round(litres * 1000)} mL` : `${Number(litres.toPrecision(3))} L`

/** Milliseconds between two drops of a drip line, by the usual twenty drops to the millilitre. */
export const DROPS_PER_ML = 20
export const dropsPerSecond = (litresPerH: number, dropsPerMl = DROPS_PER_ML): number =>
  (litresPerH * 1000 * dropsPerMl) / 3600
export const litresPerHourOfDrops = (perSecond: number, dropsPerMl = DROPS_PER_ML): number =>
  (perSecond * 3600) / dropsPerMl / 1000

/** The rest of the method from here. */
function laidOut(
  inputs: LiveInputs,
  phase: LivePhase,
  startMs: number,
  nowMin: number,
  entries: readonly ContainerEntry[],
  standing: { readonly min: number; readonly volumeL: number; readonly tankShare: number },
): LiveStep[] {
  const { method, settings, bag, tank, nowMs, kind } = inputs
  const msOf = (min: number) => startMs + min * 60_000
  if (phase === 'moved' || phase === 'stopped') return []
  const stages = floatStages(bag.tempC, tank.tempC, bag.volumeL, settings.longestFloatMin)
  if (phase === 'ready') {
    const [first] = stages
    return [
      {
        act: 'float',
        dueMs: nowMs,
        title: stages.length > 1 ? 'Float the closed bag in a bucket first' : 'Float the closed bag',
        detail: `${matchWords(inputs)}${
          first === undefined
            ? 'Bag and tank are within half a degree: wipe the bag and open it when you are ready.'
            : stages.length > 1
              ? `Bag and tank are further apart than ${CLOSED_STEP_C} °C, so in two stages. First about ${first.minutes} min in water of ${figure(first.tempC)} °C, lights off. Wipe the bag first.`
              : `About ${first.minutes} min, lights off, until both are within 0.5 °C. Wipe the bag first.`
        }`,
      },
    ]
  }
  const moveStep = (min: number): LiveStep => ({
    act: 'move',
    dueMs: msOf(min),
    title: kind.airSeconds === 0 ? 'Move it under water' : 'Move the animal',
    detail: `${kind.airSeconds === 0 ? 'Never in air: sink a cup.' : 'Net, cup or hand, no bag water.'} The bag water goes down the drain, never into a tank.`,
  })
  if (phase === 'floating') {
    const floats = entries.filter(({ act }) => act === 'float')
    const last = floats.at(-1)
    const stage = Math.min(floats.length, stages.length)
    const until = (last ? (entryMs(last) - startMs) / 60_000 : 0) + (stages[stage - 1]?.minutes ?? 0)
    const onTank: LiveStep[] =
      stage < stages.length
        ? [
            {
              act: 'float',
              dueMs: msOf(until),
              title: 'The closed bag onto the tank',
              detail: `Second stage, about ${stages[1]!.minutes} min, until both are within 0.5 °C. Still closed.`,
            },
          ]
        : []
    return [
      ...onTank,
      {
        act: 'open',
        dueMs: msOf(until + (onTank.length > 0 ? stages[1]!.minutes : 0)),
        title: 'Open the bag',
        detail:
          method === 'float-and-move' || method === 'matched-tank'
            ? 'Check the temperature, open, and move the animal at once.'
            : 'Check the temperature, open, and pour bag and animal into the tub.',
      },
    ]
  }
  const acts = entries.filter(({ act }) => act === 'add' || act === 'open' || act === 'drip' || act === 'bind')
  const last = acts.at(-1)
  const lastMin = last ? (entryMs(last) - startMs) / 60_000 : nowMin
  if (method === 'float-and-move' || method === 'matched-tank') return [moveStep(lastMin + 2)]
  if (method === 'dilute-and-bind' && !entries.some(({ act }) => act === 'bind')) {
    const steps: LiveStep[] = []
    if (!entries.some(({ act }) => act === 'air'))
      steps.push({ act: 'air', dueMs: msOf(lastMin), title: 'Air stone in', detail: 'A binder uses oxygen.' })
    steps.push({
      act: 'bind',
      dueMs: msOf(lastMin + 1),
      title: 'Binder once, by its label',
      detail: 'For the litres in the tub. Never with any copper in the water.',
      share: settings.binderShare,
    })
    return steps
  }
  if (method === 'drip') {
    const running = entries.findLast(({ act }) => act === 'drip')
    if (!running || (running.litresPerH ?? 0) === 0) {
      const perSecond = dropsPerSecond(settings.dripLPerH)
      return [
        {
          act: 'drip',
          dueMs: msOf(lastMin),
          title: `Drip line on: ${litresText(settings.dripLPerH)}/h`,
          detail: `About ${perSecond >= 1 ? `${perSecond.toFixed(perSecond < 3 ? 1 : 0)} drops a second` : `a drop every ${(1 / perSecond).toFixed(1)} s`}. Check it: ${Math.round((settings.dripLPerH * 1000) / 60)} mL in a minute.`,
          litresPerH: settings.dripLPerH,
          overflow: settings.overflow,
          ...(settings.overflow ? { litres: settings.capL } : {}),
        },
      ]
    }
    const rate = running.litresPerH ?? settings.dripLPerH
    // A line clogs or runs away: it is looked at every quarter of an hour, whatever else is due.
    const seen = entries.findLast(({ act }) => act !== 'measured')
    const check: LiveStep = {
      act: 'look',
      dueMs: (seen ? entryMs(seen) : nowMs) + DRIP_CHECK_MIN * 60_000,
      title: 'Check the drip and the animal',
      detail: `${Math.round((rate * 1000) / 60)} mL in a minute; upright, breathing, not pressed into a corner.`,
    }
    const rest = dripActions(standing, { ...settings, dripLPerH: rate })
      .slice(1)
      .map((action): LiveStep =>
        action.kind === 'pour'
          ? {
              act: 'pour',
              dueMs: msOf(action.min),
              title: `Pour out to ${litresText(action.toL)}`,
              detail: 'The tub is full. Down the drain.',
              litres: action.toL,
            }
          : moveStep(action.min),
      )
    return [check, ...rest].sort((a, b) => a.dueMs - b.dueMs)
  }
  // Cups: the next one is due an interval after the last, however late that is.
  const from = { ...standing, min: Math.max(lastMin, nowMin - settings.scoopEveryMin) }
  let cup = entries.filter(({ act }) => act === 'add').length
  return scoopActions({ ...from, min: Math.min(from.min, HORIZON_MIN - settings.scoopEveryMin) }, settings).map(
    (action, i): LiveStep => {
      const dueMs = i === 0 ? msOf(lastMin + settings.scoopEveryMin) : msOf(action.min)
      if (action.kind === 'add') {
        cup++
        return {
          act: 'add',
          dueMs,
          title: `Cup ${cup}: ${litresText(action.litres)} of tank water`,
          detail: 'Slowly, at the side of the tub.',
          litres: action.litres,
        }
      }
      if (action.kind === 'pour')
        return {
          act: 'pour',
          dueMs,
          title: `Pour out to ${litresText(action.toL)}`,
          detail: 'The tub is full. Down the drain, then the next cup.',
          litres: action.toL,
        }
      return moveStep(action.min)
    },
  )
}

/** What a matched tank needs before the bag comes near it. */
function matchWords({ method, bag, matchFromPsu }: LiveInputs): string {
  if (method !== 'matched-tank' || matchFromPsu === undefined) return ''
  return Math.abs(matchFromPsu - bag.salinityPsu) <= MATCHED_PSU
    ? 'The tank stands at the bag’s salinity. '
    : `First the tank: bring it from ${figure(matchFromPsu)} to ${figure(bag.salinityPsu)} PSU and read it; the steps for it stand beside the comparison. `
}

type Pace = 'within' | 'as-laid-out' | 'too-fast'
/** A cup poured a little early is still the plan. */
const PLAN_SLACK = limitOf('pace-over-plan')

/**
 * How the last hour's change of salinity stands against the limit of the kind: where no method stays inside it, the one
 * that was offered is over it by its own plan, and only what is faster than that plan asks to slow down.
 */
function paceOf(
  { kind, method, settings, bag, tank }: LiveInputs,
  common: Omit<Parameters<typeof runAcclimation>[0], 'actions' | 'untilMin'>,
  phase: LivePhase,
  lastHourPsu: number,
): Pace {
  const hourly = kind.salinityPerHour
  if (!hourly || phase !== 'open') return 'within'
  const limit = lastHourPsu < 0 ? hourly.down : hourly.up
  if (Math.abs(lastHourPsu) <= limit + 1e-9) return 'within'
  const actions = methodActions(method, { bagL: bag.volumeL, bagC: bag.tempC, tankC: tank.tempC, settings })
  const { series, openedMin } = runAcclimation({ ...common, actions, untilMin: HORIZON_MIN })
  const open = series.min.findIndex((min) => min >= (openedMin ?? 0))
  const planned = largestChange(series.min, series.salinityPsu, 60, Math.max(0, open))
  return Math.abs(lastHourPsu) <= planned * PLAN_SLACK ? 'as-laid-out' : 'too-fast'
}

function warningsOf(
  inputs: LiveInputs,
  phase: LivePhase,
  entries: readonly ContainerEntry[],
  freeMgN: number,
  pace: Pace,
  lastHourPsu: number,
): string[] {
  const { nowMs, settings, method, kind } = inputs
  const warnings: string[] = []
  if (phase !== 'open' && phase !== 'floating') return warnings
  const last = entries.at(-1)
  const away = last ? (nowMs - entryMs(last)) / 60_000 : 0
  if (phase === 'open') {
    if (freeMgN >= limitOf('free-ammonia-today') && kind.id !== 'plant')
      warnings.push(`Free ammonia is about ${freeMgN.toFixed(2)} mg/L: stop and move now is the safer act.`)
    if ((method === 'scoops' || method === 'dilute-and-bind') && away > 2 * settings.scoopEveryMin) {
      const missed = Math.floor(away / settings.scoopEveryMin)
      warnings.push(
        `Nothing was pressed for ${Math.round(away)} min: ${missed} ${missed === 1 ? 'cup was' : 'cups were'} missed and the water stood. Do not catch up at once; add one cup now, and measure.`,
      )
    } else if (method === 'drip' && away > 60) {
      warnings.push(
        `Nothing was pressed for ${Math.round(away)} min. If the drip ran on, the tub has taken about ${litresText((away / 60) * (entries.findLast(({ act }) => act === 'drip')?.litresPerH ?? 0))}: look at the tub and measure.`,
      )
    } else if ((method === 'float-and-move' || method === 'matched-tank') && away > OPEN_LOOK_MIN) {
      warnings.push(`The bag has stood open for ${Math.round(away)} min. Move the animal now.`)
    }
    const limit = kind.salinityPerHour
    if (limit && pace === 'too-fast')
      warnings.push(
        `Salinity went ${lastHourPsu < 0 ? 'down' : 'up'} by ${Math.abs(lastHourPsu).toFixed(1)} PSU in the last hour; ${lastHourPsu < 0 ? limit.down : limit.up} is the limit, and the plan is slower too. Slow down.`,
      )
  } else if (away > settings.longestFloatMin + 15) {
    warnings.push(
      `The bag has floated for ${Math.round(away)} min. Temperature is long equal and the closed water only gets worse: open it.`,
    )
  }
  return warnings
}
