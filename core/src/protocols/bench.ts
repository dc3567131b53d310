// Work on single pieces beside the tank, rebuilt from the ledger at any instant: which stage each is at, since when, how
// long it was in air in this lift and in a day, and what went on it. Nothing of it lives in a page.
import { besidesReadings } from '../record/ledgerIndex.ts'
import { AIR_WARN_SHARE, airKindOf, type AirKind } from '../knowledge/air.ts'
import { limitOf } from '../knowledge/limits.ts'
import type { RuleOf } from '../knowledge/protocols.ts'
import type { DoneEntry, Entry } from '../record/types.ts'
import { block, forbid, warn, type Refusal } from '../safety/refusal.ts'
import { entryMs } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'

export type BenchStage = RuleOf<'bench'>['stages'][number]
export type BenchPress = NonNullable<DoneEntry['bench']>

/** Hours within which seconds in air of one piece add up. */
const WINDOW_MS = limitOf('air-window') * MS_PER_HOUR

/** A piece that came to the bench in one session. */
export interface BenchPiece {
  readonly piece: string
  readonly residentId?: string
  readonly kind: AirKind | null
  /** Index of the stage it is at; the number of stages once all are done. */
  readonly stage: number
  /** How often this stage was done already; 0 but for a repeated one. */
  readonly turn: number
  /** When it came to this stage, or to this turn of it. */
  readonly stageMs: number
  readonly startMs: number
  /** Since when it is in air; null in water. */
  readonly airMs: number | null
  /** Seconds of this lift, and of all lifts within 24 hours, those of other sessions too. */
  readonly airS: number
  readonly dayS: number
  readonly state: 'open' | 'back' | 'aborted'
  readonly endMs: number | null
  readonly ml: number
  readonly spots: number
  readonly grams: number
}

interface Press {
  readonly bench: BenchPress
  readonly atMs: number
  readonly step: string
  readonly vesselId: string
}
const pressesIn = (active: readonly Entry[]): Press[] =>
  besidesReadings(active).flatMap((entry) =>
    entry.kind === 'done' && entry.bench !== undefined && entry.step !== undefined
      ? [{ bench: entry.bench, atMs: entryMs(entry), step: entry.step, vesselId: entry.vesselId }]
      : [],
  )
/** Lifts of a piece, one after the other; the last is open while it is out. */
function liftsOf(presses: readonly Press[], nowMs: number): { fromMs: number; toMs: number; open: boolean }[] {
  const lifts: { fromMs: number; toMs: number; open: boolean }[] = []
  for (const { bench, atMs } of presses) {
    const last = lifts.at(-1)
    if (bench.act === 'lift') {
      if (!last?.open) lifts.push({ fromMs: atMs, toMs: nowMs, open: true })
    } else if (bench.act !== 'stage' && last?.open) {
      last.toMs = atMs
      last.open = false
    }
  }
  return lifts
}

/** Stages of a rule that a piece of this kind goes through. */
export const stagesFor = (stages: readonly BenchStage[], kind: string | undefined): readonly BenchStage[] =>
  stages.filter(({ unlessKind }) => kind === undefined || unlessKind?.includes(kind) !== true)

/**
 * The pieces of one session in the order in which they came.
 * @param key the session's step; @param active the whole ledger up to now
 */
export function benchPieces(
  stages: readonly BenchStage[],
  key: string,
  active: readonly Entry[],
  nowMs: number,
): BenchPiece[] {
  const all = pressesIn(active).filter(({ atMs }) => atMs <= nowMs)
  const own = all.filter(({ step }) => step.startsWith(`${key}/`))
  const names = [...new Set(own.map(({ bench }) => bench.piece))]
  return names.map((piece) => {
    const presses = own.filter(({ bench }) => bench.piece === piece)
    const { vesselId } = presses[0]!
    const kind = airKindOf(presses.findLast(({ bench }) => bench.air !== undefined)?.bench.air ?? '') ?? null
    const path = stagesFor(stages, kind?.id)
    let stage = 0
    let turn = 0
    let stageMs = presses[0]!.atMs
    let state: BenchPiece['state'] = 'open'
    let endMs: number | null = null
    for (const { bench, atMs } of presses) {
      if (bench.act === 'back' || bench.act === 'abort') {
        state = bench.act === 'back' ? 'back' : 'aborted'
        endMs = atMs
      } else if (state !== 'open') {
        // A piece that comes again starts over.
        state = 'open'
        endMs = null
        stage = 0
        turn = 0
        stageMs = atMs
      }
      if (bench.act === 'stage' && bench.stage === path[stage]?.id) {
        turn++
        if (turn >= (path[stage]!.times ?? 1)) {
          stage++
          turn = 0
        }
        stageMs = atMs
      }
    }
    // Going under or coming out is when the clock of a stage begins.
    const moved = presses.findLast(({ bench }) => bench.act === 'lift' || bench.act === 'lower')
    const lifts = liftsOf(
      all.filter(({ bench, vesselId: of }) => bench.piece === piece && of === vesselId),
      nowMs,
    )
    const out = lifts.at(-1)?.open === true && state === 'open' ? lifts.at(-1)! : null
    const seconds = (fromMs: number, toMs: number) => Math.max(0, toMs - fromMs) / 1000
    const sum = (of: 'ml' | 'spots' | 'grams') => presses.reduce((total, { bench }) => total + (bench[of] ?? 0), 0)
    const residentId = presses.findLast(({ bench }) => bench.residentId !== undefined)?.bench.residentId
    return {
      piece,
      ...(residentId === undefined ? {} : { residentId }),
      kind,
      stage,
      turn,
      stageMs: Math.max(stageMs, moved?.atMs ?? 0),
      startMs: presses[0]!.atMs,
      airMs: out?.fromMs ?? null,
      airS: out ? seconds(out.fromMs, nowMs) : 0,
      dayS: lifts.reduce((total, { fromMs, toMs }) => total + seconds(Math.max(fromMs, nowMs - WINDOW_MS), toMs), 0),
      state,
      endMs,
      ml: sum('ml'),
      spots: sum('spots'),
      grams: sum('grams'),
    }
  })
}

/** What is left of the time in air, and whether it is warned of; `over` once nothing is left. */
export interface AirBudget {
  readonly onceLeftS: number
  readonly dayLeftS: number
  readonly tone: 'calm' | 'near' | 'over'
}
export function airBudget(
  kind: AirKind,
  { airS, dayS, airMs }: Pick<BenchPiece, 'airS' | 'dayS' | 'airMs'>,
): AirBudget {
  const near = airS >= AIR_WARN_SHARE * kind.onceS || dayS >= AIR_WARN_SHARE * kind.dayS
  const over = (airMs !== null && airS >= kind.onceS) || dayS >= kind.dayS
  return {
    onceLeftS: Math.max(0, kind.onceS - airS),
    dayLeftS: Math.max(0, kind.dayS - dayS),
    tone: over ? 'over' : near ? 'near' : 'calm',
  }
}

/** What speaks against lifting a piece now. */
export function liftRefusals(kind: AirKind, dayS: number, piece: string): Refusal[] {
  if (kind.dayS <= 0)
    return [
      forbid(
        'bench-air',
        `${piece}: ${kind.label.toLowerCase()} dies in air. Work on it under water, with the work tub in the tank.`,
      ),
    ]
  if (dayS >= kind.dayS)
    return [
      block(
        'bench-air',
        `${piece} has been in air for ${clock(dayS)} within 24 hours; ${kind.label.toLowerCase()} bears ${clock(kind.dayS)}. Leave it in the water until tomorrow.`,
      ),
    ]
  if (dayS >= AIR_WARN_SHARE * kind.dayS)
    return [warn('bench-air', `Only ${clock(kind.dayS - dayS)} of the day's time in air are left for ${piece}.`)]
  return []
}
const clock = (seconds: number): string =>
  seconds < 120 ? `${Math.round(seconds)} s` : `${Number((seconds / 60).toFixed(1))} min`

/** What a press writes: the acts, in order. The piece moves by itself where the next stage is on the other side. */
export function nextActs(stages: readonly BenchStage[], piece: BenchPiece): readonly BenchPress['act'][] {
  const path = stagesFor(stages, piece.kind?.id)
  const now = path[piece.stage]
  if (piece.state !== 'open' || !now) return []
  if (now.in === 'air' && piece.airMs === null) return ['lift']
  if (now.in === 'water' && piece.airMs !== null) return ['lower']
  const again = piece.turn + 1 < (now.times ?? 1)
  const next = again ? now : path[piece.stage + 1]
  if (!next) return ['stage', 'back']
  if (next.in === now.in) return ['stage']
  return ['stage', next.in === 'air' ? 'lift' : 'lower']
}

/** How many times a bottle is thinned for drops of so many per cent; 1 where it is no stronger. */
export const thinningTo = (strengthMgPerMl: number, percent: number): number =>
  Math.max(1, Number((strengthMgPerMl / (percent * 10)).toPrecision(3)))
/** Putty that may go into this much water in a day, g. */
export const puttyMost = (litres: number): number => (limitOf('putty-most') * litres) / 100

/** What the keeper typed beside a press. */
export interface BenchTyped {
  readonly ml?: number
  readonly spots?: number
  readonly grams?: number
  readonly reason?: string
  readonly air?: string
  readonly residentId?: string
  readonly finds?: { readonly mobiles: number; readonly eggs: number }
}
/**
 * The entries of one press: each has a step of its own under the session's, so that three rinses are three.
 * @param noted how many presses the session has already
 */
export function benchDrafts(
  { vesselId, courseId }: { readonly vesselId: string; readonly courseId: string },
  key: string,
  noted: number,
  piece: string,
  stage: BenchStage | undefined,
  acts: readonly BenchPress['act'][],
  typed: BenchTyped = {},
) {
  return acts.map((act, i) => ({
    kind: 'done' as const,
    vesselId,
    courseId,
    step: `${key}/${noted + i}`,
    what: `${piece}: ${act === 'stage' ? (stage?.title ?? 'done').toLowerCase() : ACT_WORDS[act]}`.slice(0, 120),
    bench: {
      piece,
      act,
      ...(act === 'stage' && stage ? { stage: stage.id } : {}),
      ...(i === 0 ? typed : {}),
    } satisfies BenchPress,
  }))
}
const ACT_WORDS = {
  lift: 'lifted into the air',
  lower: 'under water',
  stage: 'done',
  back: 'back in its place',
  abort: 'broken off, under water',
} as const
/** How many presses a session has on record. */
export const benchNoted = (key: string, active: readonly Entry[]): number =>
  besidesReadings(active).filter(
    (entry) => entry.kind === 'done' && entry.bench !== undefined && entry.step?.startsWith(`${key}/`) === true,
  ).length

/**
 * Another piece was in hand: what the session wrote of one is written of the other, each press at its own hour, so that
 * air, millilitres and finds go to the one that had them. Empty where the session wrote nothing of it.
 * @param key the session's step; @param air what the right one is, which decides how long it bears the air
 */
export function benchRenamed(
  active: readonly Entry[],
  key: string,
  from: string,
  to: { readonly piece: string; readonly air: string; readonly residentId?: string },
) {
  return active.flatMap((entry): object[] => {
    const at = { atMs: entryMs(entry), corrects: entry.id }
    if (entry.kind === 'tally' && entry.piece === from && entry.step?.startsWith(`${key}/`) === true)
      return [{ ...written(entry), ...at, piece: to.piece }]
    if (entry.kind !== 'done' || entry.bench?.piece !== from || entry.step?.startsWith(`${key}/`) !== true) return []
    const { residentId: _, ...bench } = entry.bench
    return [
      {
        ...written(entry),
        ...at,
        what: `${to.piece}${entry.what.startsWith(from) ? entry.what.slice(from.length) : `: ${entry.what}`}`.slice(
          0,
          120,
        ),
        bench: {
          ...bench,
          piece: to.piece,
          ...(bench.air === undefined ? {} : { air: to.air, ...(to.residentId ? { residentId: to.residentId } : {}) }),
        } satisfies BenchPress,
      },
    ]
  })
}
/** What was written, without what the record added. */
function written<E extends Entry>(entry: E): Omit<E, 'id' | 'at' | 'zone' | 'recordedAt'> {
  const { id: _id, at: _at, zone: _zone, recordedAt: _recorded, ...rest } = entry
  return rest
}
