// The ledger sorted by vessel, once per state of the ledger; an append moves it on without reading all of it again.
import { entryMs } from '../time/time.ts'
import { activeEntries, compareEntries } from './account.ts'
import type { ActiveLedger, Entry, VesselEntries } from './types.ts'

export interface VesselLedger {
  readonly entries: VesselEntries
  /** Instants of `entries`, same order. */
  readonly times: Float64Array
  /** First entry of each step, and skips apart. */
  readonly byStep: ReadonlyMap<string, Entry>
  readonly skips: ReadonlyMap<string, Entry>
}
export interface LedgerIndex {
  readonly byVessel: ReadonlyMap<string, VesselLedger>
  /** Moves of residents and uses of gear, in order: they reach across vessels. */
  readonly moves: readonly Entry[]
}

const EMPTY: VesselLedger = { entries: [], times: new Float64Array(), byStep: new Map(), skips: new Map() }
const known = new WeakMap<readonly Entry[], LedgerIndex>()
const crosses = ({ kind }: Entry): boolean => kind === 'move' || kind === 'gear'

/** Notes the first entry of each step, skips apart. */
function noteSteps(entries: readonly Entry[], byStep: Map<string, Entry>, skips: Map<string, Entry>): void {
  for (const entry of entries) {
    if (entry.step === undefined) continue
    const map = entry.kind === 'skip' ? skips : byStep
    if (!map.has(entry.step)) map.set(entry.step, entry)
  }
}

/** The ledger of entries in order. */
export function vesselLedger(entries: readonly Entry[]): VesselLedger {
  const byStep = new Map<string, Entry>()
  const skips = new Map<string, Entry>()
  noteSteps(entries, byStep, skips)
  return { entries, times: Float64Array.from(entries, entryMs), byStep, skips }
}

/** Index of active entries; the same array gives the same index. */
export function indexOf(active: ActiveLedger): LedgerIndex {
  let index = known.get(active)
  if (!index) {
    const lists = new Map<string, Entry[]>()
    for (const entry of active) {
      if (!('vesselId' in entry) || entry.vesselId === undefined) continue
      const list = lists.get(entry.vesselId)
      if (list) list.push(entry)
      else lists.set(entry.vesselId, [entry])
    }
    index = {
      byVessel: new Map([...lists].map(([id, entries]) => [id, vesselLedger(entries)])),
      moves: active.filter(crosses),
    }
    known.set(active, index)
  }
  return index
}

/** The ledger of some vessels together, in order. */
export function ledgerOf(active: ActiveLedger, vesselIds: ReadonlySet<string>): VesselLedger {
  const { byVessel } = indexOf(active)
  const found = [...vesselIds].flatMap((id) => byVessel.get(id) ?? [])
  if (found.length === 0) return EMPTY
  return found.reduce((all, one) => merged(all, one))
}

/** Two ledgers in order as one, in one pass: their instants are known already. */
function merged(a: VesselLedger, b: VesselLedger): VesselLedger {
  const length = a.entries.length + b.entries.length
  const entries = new Array<Entry>(length)
  const times = new Float64Array(length)
  for (let i = 0, j = 0, k = 0; k < length; k++) {
    const first =
      j >= b.entries.length ||
      (i < a.entries.length &&
        (a.times[i]! < b.times[j]! || (a.times[i] === b.times[j] && compareEntries(a.entries[i]!, b.entries[j]!) <= 0)))
    times[k] = first ? a.times[i]! : b.times[j]!
    entries[k] = first ? a.entries[i++]! : b.entries[j++]!
  }
  return { entries, times, byStep: firstOf(a.byStep, b.byStep), skips: firstOf(a.skips, b.skips) }
}
/** The earlier entry of each step. */
function firstOf(a: ReadonlyMap<string, Entry>, b: ReadonlyMap<string, Entry>): ReadonlyMap<string, Entry> {
  if (b.size === 0) return a
  const all = new Map(a)
  for (const [step, entry] of b) {
    const before = all.get(step)
    if (!before || compareEntries(entry, before) < 0) all.set(step, entry)
  }
  return all
}

/**
 * Active entries after an append, equal to `activeEntries(all)`. Where the new entries correct or void others the
 * whole ledger is read again; otherwise each goes to its place and only its own vessel's index is made anew.
 * @param all every entry ever made, the added ones included
 */
export function advanceActive(active: ActiveLedger, added: readonly Entry[], all: readonly Entry[]): readonly Entry[] {
  if (added.length === 0) return active
  if (added.some((entry) => entry.kind === 'void' || entry.corrects !== undefined)) return activeEntries(all)
  const next = place(active, added)
  const rest = besides.get(active)
  if (rest) {
    const own = added.filter(({ kind }) => kind !== 'reading')
    besides.set(next, own.length === 0 ? rest : place(rest, own))
  }
  const before = known.get(active)
  if (before) {
    const byVessel = new Map(before.byVessel)
    for (const id of new Set(added.map((entry) => ('vesselId' in entry ? entry.vesselId : undefined)))) {
      if (id === undefined) continue
      const own = added.filter((entry) => 'vesselId' in entry && entry.vesselId === id)
      byVessel.set(id, advanceVessel(before.byVessel.get(id) ?? EMPTY, own))
    }
    known.set(next, {
      byVessel,
      moves: added.some(crosses) ? place(before.moves, added.filter(crosses)) : before.moves,
    })
  }
  return next
}

function advanceVessel(before: VesselLedger, added: readonly Entry[]): VesselLedger {
  const entries = place(before.entries, added)
  // At the end, as most entries are: the rest of the index stays as it is.
  const last = before.entries.at(-1)
  if (last !== undefined && added.some((entry) => compareEntries(entry, last) < 0)) return vesselLedger(entries)
  const steps = added.some(({ step }) => step !== undefined)
  const byStep = steps ? new Map(before.byStep) : (before.byStep as Map<string, Entry>)
  const skips = steps ? new Map(before.skips) : (before.skips as Map<string, Entry>)
  if (steps) noteSteps(entries.slice(before.entries.length), byStep, skips)
  const times = new Float64Array(entries.length)
  times.set(before.times)
  for (let i = before.times.length; i < entries.length; i++) times[i] = entryMs(entries[i]!)
  return { entries, times, byStep, skips }
}

/** A sorted list with a few more entries at their places. */
function place(sorted: readonly Entry[], added: readonly Entry[]): Entry[] {
  const next = sorted.slice()
  for (const entry of added) {
    let at = next.length
    while (at > 0 && compareEntries(entry, next[at - 1]!) < 0) at--
    next.splice(at, 0, entry)
  }
  return next
}

const besides = new WeakMap<readonly Entry[], readonly Entry[]>()
/**
 * Everything but readings, in order: of a ledger of years most entries are readings, and what looks for anything else
 * need not pass them. The same array gives the same answer.
 */
export function besidesReadings(active: readonly Entry[]): readonly Entry[] {
  let rest = besides.get(active)
  if (!rest) besides.set(active, (rest = active.filter(({ kind }) => kind !== 'reading')))
  return rest
}
/** Entries from an instant on (included), by binary search. @param sorted in order */
export function entriesSince(sorted: readonly Entry[], fromMs: number): readonly Entry[] {
  const first = firstFrom(sorted, fromMs)
  return first === 0 ? sorted : sorted.slice(first)
}
/** Entries up to an instant (included), by binary search. @param sorted in order */
export function entriesUntil(sorted: readonly Entry[], toMs: number): readonly Entry[] {
  const end = firstFrom(sorted, toMs + 1)
  return end === sorted.length ? sorted : sorted.slice(0, end)
}
function firstFrom(sorted: readonly Entry[], fromMs: number): number {
  let low = 0
  let high = sorted.length
  while (low < high) {
    const mid = (low + high) >> 1
    if (entryMs(sorted[mid]!) < fromMs) low = mid + 1
    else high = mid
  }
  return low
}

const actives = new WeakMap<readonly Entry[], readonly Entry[]>()
/** Active entries of a record's ledger, worked out once per ledger. */
export function activeOf(entries: readonly Entry[]): readonly Entry[] {
  let active = actives.get(entries)
  if (!active) actives.set(entries, (active = activeEntries(entries)))
  return active
}
/** Hands the active entries of one ledger on to the next, which holds a few entries more. */
export function carryActive(before: readonly Entry[], after: readonly Entry[], added: readonly Entry[]): void {
  const active = actives.get(before)
  if (active) actives.set(after, advanceActive(active, added, after))
}
