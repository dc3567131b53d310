// What is in the water of one agent: by an estimate where a course makes one, else by readings, doses, changes and the
// slowest loss. Never silently zero: what went in counts until it is proved gone.
import type { AgentForm } from '../knowledge/agents.ts'
import { agentForm } from '../knowledge/agents.ts'
import { formGiven } from '../knowledge/uses.ts'
import { rateOfHalfLife } from '../level/curve.ts'
import { changedShare, kitOf, pouredMass, vesselVolume } from '../level/fromRecord.ts'
import { indexOf } from '../record/ledgerIndex.ts'
import type { Entry, House, VesselEntries } from '../record/types.ts'
import { entryMs } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'

/** A level some estimate vouches for at `atMs`, mg/L. */
export interface KnownLevel {
  readonly vesselId: string
  readonly agent: string
  readonly atMs: number
  readonly mgPerL: number
  readonly lowMgPerL?: number
  readonly highMgPerL: number
  readonly volume: { readonly litres: number; readonly sdLitres: number }
}

export interface AgentLevel {
  /** Middle, and the high side that ceilings are held against. */
  readonly mgPerL: number
  readonly highMgPerL: number
  readonly from: 'estimate' | 'reading' | 'residue' | 'none'
  /** Entries behind the number. */
  readonly entryIds: readonly string[]
  /** Forms given, each with the instant of its last dose. */
  readonly forms: ReadonlyMap<string, number>
}
const NOTHING: AgentLevel = { mgPerL: 0, highMgPerL: 0, from: 'none', entryIds: [], forms: new Map() }

/** A level may be taken from an estimate made this close to the act, ms. */
const SAME_TIME_MS = MS_PER_HOUR

/** One vessel's standing entries. */
export const entriesOf = ({ active }: House, vesselId: string): VesselEntries =>
  indexOf(active).byVessel.get(vesselId)?.entries ?? []

/** Entries that move a level, once per state of a vessel's ledger. */
const movers = new WeakMap<VesselEntries, readonly Entry[]>()
function moversOf(entries: VesselEntries): readonly Entry[] {
  let found = movers.get(entries)
  if (!found) {
    found = entries.filter(({ kind }) => kind === 'dose' || kind === 'change' || kind === 'reading')
    // Before the first dose or made-up water nothing is there to read or to thin.
    const first = found.findIndex(
      (entry) => entry.kind === 'dose' || (entry.kind === 'change' && entry.replacement !== undefined),
    )
    found = first < 0 ? [] : found.slice(first)
    movers.set(entries, found)
  }
  return found
}

interface Run {
  mg: number
  highMg: number
  lastMs: number | null
  ratePerH: number
  from: AgentLevel['from']
  entryIds: string[]
  forms: Map<string, number>
}

/** Milligrams left of every agent in a vessel, walked through its entries once. */
function runsOf(
  house: House,
  vesselId: string,
  atMs: number,
  litres: number,
  entries: readonly Entry[],
): Map<string, Run> {
  const { record } = house
  const runs = new Map<string, Run>()
  const decay = (run: Run, ms: number) => {
    if (run.lastMs !== null) {
      const kept = Math.exp((-run.ratePerH * (ms - run.lastMs)) / MS_PER_HOUR)
      run.mg *= kept
      run.highMg *= kept
    }
    run.lastMs = ms
  }
  const runFor = (form: AgentForm, ms: number): Run => {
    let run = runs.get(form.agent)
    if (!run) {
      run = { mg: 0, highMg: 0, lastMs: null, ratePerH: Infinity, from: 'residue', entryIds: [], forms: new Map() }
      runs.set(form.agent, run)
    }
    decay(run, ms)
    // The slowest loss of all forms given so far.
    run.ratePerH = Math.min(run.ratePerH, rateOfHalfLife(form.halfLifeDays.high * 24))
    run.forms.set(form.id, ms)
    return run
  }
  for (const entry of entries) {
    const ms = entryMs(entry)
    if (ms > atMs) break
    if (entry.kind === 'dose') {
      const form = formGiven(entry, record.products.get(entry.productId))
      if (!form || form.route === 'food') continue
      const run = runFor(form, ms)
      const mass = pouredMass(record, entry) ?? 0
      run.mg += mass
      run.highMg += mass
      run.entryIds.push(entry.id)
      if (run.from === 'none') run.from = 'residue'
    } else if (entry.kind === 'change') {
      const share = changedShare(entry, litres)
      for (const run of runs.values()) {
        decay(run, ms)
        run.mg *= 1 - share
        run.highMg *= 1 - share
        run.entryIds.push(entry.id)
      }
      for (const made of entry.replacement ?? []) {
        const form = formGiven(made, record.products.get(made.productId))
        if (!form || made.mgPerL <= 0) continue
        const run = runFor(form, ms)
        run.mg += made.mgPerL * share * litres
        run.highMg += made.mgPerL * share * litres
        run.entryIds.push(entry.id)
      }
    } else if (entry.kind === 'reading') {
      const run = runs.get(entry.analyte)
      if (!run || entry.doubt === 'typo') continue
      const given = [...run.forms].sort((a, b) => b[1] - a[1])[0]
      const form = given && agentForm(given[0])
      if (!form || entry.bound === 'above') continue
      decay(run, ms)
      const kit = kitOf(record, form, entry.instrumentId)
      const value = entry.bound === 'below' ? Math.min(run.mg / litres, entry.value) : entry.value
      run.mg = value * litres
      run.highMg = (value + Math.max(kit.step / 2, kit.relativeError * value)) * litres
      run.from = 'reading'
      run.entryIds = [entry.id]
    }
  }
  for (const run of runs.values()) decay(run, atMs)
  return runs
}

/**
 * Level of every agent that was ever given to a vessel, at an instant, mg/L. Null while its volume cannot be worked out.
 * Where entries lie after `atMs` (an act noted late), the higher of then and now counts.
 */
export function levelsIn(
  house: House,
  vesselId: string,
  atMs: number,
  known: readonly KnownLevel[] = [],
  nowMs: number = atMs,
): ReadonlyMap<string, AgentLevel> | null {
  const vessel = house.record.vessels.get(vesselId)
  const volume = vessel ? vesselVolume(vessel) : null
  const entries = moversOf(entriesOf(house, vesselId))
  if (!volume) return entries.length > 0 ? null : new Map()
  if (entries.length === 0 && known.length === 0) return new Map()
  const at = (ms: number) =>
    new Map(
      [...runsOf(house, vesselId, ms, volume.litres, entries)].map(([agent, run]): [string, AgentLevel] => [
        agent,
        {
          mgPerL: run.mg / volume.litres,
          highMgPerL: run.highMg / volume.litres,
          from: run.from,
          entryIds: run.entryIds,
          forms: run.forms,
        },
      ]),
    )
  const levels = at(atMs)
  if (nowMs > atMs)
    for (const [agent, later] of at(nowMs)) {
      const then = levels.get(agent)
      if (!then || later.highMgPerL > then.highMgPerL) levels.set(agent, later)
    }
  for (const one of known) {
    if (one.vesselId !== vesselId || Math.abs(one.atMs - nowMs) > SAME_TIME_MS) continue
    const then = levels.get(one.agent) ?? NOTHING
    if (Math.abs(atMs - one.atMs) > SAME_TIME_MS && one.highMgPerL <= then.highMgPerL) continue
    levels.set(one.agent, { ...then, mgPerL: one.mgPerL, highMgPerL: one.highMgPerL, from: 'estimate' })
  }
  return levels
}

/** Level of one agent; nothing of it was ever given: zero, and that is known. Null: the volume is not known. */
export function levelOf(
  house: House,
  vesselId: string,
  agent: string,
  atMs: number,
  known: readonly KnownLevel[] = [],
  nowMs: number = atMs,
): AgentLevel | null {
  const levels = levelsIn(house, vesselId, atMs, known, nowMs)
  return levels === null ? null : (levels.get(agent) ?? NOTHING)
}

/** Volume of a vessel for doses of one agent: as readings support it where an estimate does, else its geometry. */
export function volumeFor(
  house: House,
  vesselId: string,
  agent: string,
  known: readonly KnownLevel[] = [],
): { readonly litres: number; readonly sdLitres: number } | null {
  const estimated = known.find((one) => one.vesselId === vesselId && one.agent === agent)
  if (estimated) return estimated.volume
  const vessel = house.record.vessels.get(vesselId)
  return vessel ? vesselVolume(vessel) : null
}
