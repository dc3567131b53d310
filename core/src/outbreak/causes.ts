// Root causes of growth and slime: answered by the record where it can, asked where it cannot.
import { limitOf } from '../knowledge/limits.ts'
import { causes as TABLES } from '../generated/knowledge/causes.ts'
import type { CauseTable } from '../generated/causeTypes.ts'
import { changedShare, vesselVolume } from '../level/fromRecord.ts'
import type { ActiveLedger, Entry, KeeperRecord, ReadingEntry } from '../record/types.ts'
import { entryMs, instantMs } from '../time/time.ts'

export type Cause = CauseTable['causes'][number]
export const causes: readonly Cause[] = TABLES.find(({ id }) => id === 'causes')!.causes
export const causeSources = TABLES[0]!.sources

export interface CauseAnswer {
  readonly cause: Cause
  readonly answer: 'yes' | 'no' | 'ask'
  /** Who says so: the record, with numbers and units, or the keeper. */
  readonly words: string
  readonly entryIds: readonly string[]
  readonly by: 'record' | 'keeper' | null
}

const DAY = 86_400_000
/** A reading of this age no longer speaks of now. EST */
const FRESH_DAYS = limitOf('cause-reading-stands')

/**
 * The checklist for a vessel, gravest first: flagged, then to be asked, then clear. The keeper's own answer rules over
 * what the record says. @source handbook 60 §3
 */
export function causeChecklist(
  record: KeeperRecord,
  active: ActiveLedger,
  vesselId: string,
  nowMs: number,
  ids?: readonly string[],
): CauseAnswer[] {
  const vessel = record.vessels.get(vesselId)
  const fresh = vessel?.body.water === 'fresh'
  const own = active.filter((entry) => 'vesselId' in entry && entry.vesselId === vesselId && entryMs(entry) <= nowMs)
  const lastOf = (analyte: string) =>
    own.findLast(
      (entry): entry is ReadingEntry =>
        entry.kind === 'reading' && entry.analyte === analyte && nowMs - entryMs(entry) <= FRESH_DAYS * DAY,
    )
  const list = causes.filter(
    ({ id, water }) =>
      (ids === undefined || ids.includes(id)) &&
      (water === undefined || water === 'both' || (water === 'fresh') === fresh),
  )
  const answers = list.map((cause): CauseAnswer => {
    const told = own.findLast((entry) => entry.kind === 'check' && entry.what === cause.id)
    if (told?.kind === 'check')
      return {
        cause,
        answer: told.answers.includes('yes') ? 'yes' : 'no',
        words: 'Your own answer.',
        entryIds: [told.id],
        by: 'keeper',
      }
    return fromRecord(cause)
  })
  const order = { yes: 0, ask: 1, no: 2 }
  return answers.sort((a, b) => order[a.answer] - order[b.answer] || b.cause.weight - a.cause.weight)

  function fromRecord(cause: Cause): CauseAnswer {
    const say = (answer: 'yes' | 'no' | 'ask', words: string, found: readonly Entry[] = []): CauseAnswer => ({
      cause,
      answer,
      words,
      entryIds: found.map(({ id }) => id),
      by: answer === 'ask' ? null : 'record',
    })
    const { reads } = cause
    if (!reads) return say('ask', 'The record cannot say this.')
    switch (reads.kind) {
      case 'above': {
        const reading = lastOf(reads.analyte)
        const limit = fresh ? (reads.aboveFresh ?? reads.above) : reads.above
        if (!reading) return say('ask', `No ${reads.analyte} was read in the last ${FRESH_DAYS} days.`)
        return say(
          reading.value > limit ? 'yes' : 'no',
          `${reads.analyte} ${reading.value} ${reading.unit}, limit ${limit}.`,
          [reading],
        )
      }
      case 'bottomed': {
        const found = Object.entries(reads.analytes).map(([analyte, below]) => ({
          analyte,
          below,
          reading: lastOf(analyte),
        }))
        const missing = found.filter(({ reading }) => !reading)
        const words = found
          .flatMap(({ analyte, reading }) =>
            reading ? [`${analyte} ${reading.bound === 'below' ? '<' : ''}${reading.value} ${reading.unit}`] : [],
          )
          .join(', ')
        const readings = found.flatMap(({ reading }) => (reading ? [reading] : []))
        if (found.some(({ reading, below }) => reading && reading.bound !== 'below' && reading.value >= below))
          return say('no', `${words}.`, readings)
        if (missing.length > 0)
          return say('ask', `No ${missing.map(({ analyte }) => analyte).join(' and ')} was read lately.`)
        return say('yes', `${words}.`, readings)
      }
      case 'ratio': {
        const nitrate = lastOf('nitrate')
        const phosphate = lastOf('phosphate')
        if (!nitrate || !phosphate || !(phosphate.value > 0))
          return say('ask', 'Both nitrate and phosphate are needed.')
        const ratio = nitrate.value / phosphate.value
        return say(
          ratio < reads.below || ratio > reads.above ? 'yes' : 'no',
          `Nitrate to phosphate ${Math.round(ratio)} to 1 by mass.`,
          [nitrate, phosphate],
        )
      }
      case 'young': {
        if (!vessel) return say('ask', 'The vessel is not known.')
        const weeks = (nowMs - instantMs(vessel.body.startedAt)) / (7 * DAY)
        return say(weeks <= reads.weeks ? 'yes' : 'no', `Started ${Math.round(weeks)} weeks ago, by its register.`)
      }
      case 'disturbed': {
        const since = nowMs - reads.days * DAY
        const volumeL = vessel ? (vesselVolume(vessel)?.litres ?? null) : null
        const found = own.filter(
          (entry) =>
            entryMs(entry) >= since &&
            (entry.kind === 'dose' ||
              (entry.kind === 'equipment' &&
                ['phosphate-media', 'uv', 'light', 'carbon', 'skimmer'].includes(entry.item)) ||
              (entry.kind === 'change' && volumeL !== null && changedShare(entry, volumeL) > 0.25)),
        )
        return found.length === 0
          ? say('ask', 'Nothing of the kind is on the ledger; sand, rock and filter are not.')
          : say('yes', `${found.length} on the ledger: doses, large changes or equipment.`, found.slice(-5))
      }
      case 'arrivals': {
        const since = nowMs - reads.days * DAY
        const came = [...record.residents.values()].filter(
          ({ body }) =>
            body.vesselId === vesselId && instantMs(body.arrivedAt) >= since && instantMs(body.arrivedAt) <= nowMs,
        )
        const moved = own.filter(
          (entry) => entry.kind === 'move' && entry.toVesselId === vesselId && entryMs(entry) >= since,
        )
        const count = came.length + moved.length
        return count > 0
          ? say('yes', `${count} came in the last ${reads.days} days.`, moved)
          : say('no', `Nothing came in the last ${reads.days} days, by the record.`)
      }
    }
  }
}
