// Who waits elsewhere while a campaign runs, who may come back and from when, and which pieces are kept as insurance.
import { besidesReadings } from '../record/ledgerIndex.ts'
import { groupOf } from '../knowledge/agents.ts'
import { residentVessels } from '../record/whereabouts.ts'
import type { ActiveLedger, CourseDocument, KeeperRecord, ResidentDocument } from '../record/types.ts'
import { entryMs, instantMs } from '../time/time.ts'
import type { Protocol } from '../knowledge/protocols.ts'
import { waitsForHosts } from '../knowledge/hosts.ts'
import type { Campaign } from './measures.ts'

const DAY = 86_400_000

export type BackKind = 'grazer' | 'coral' | 'sensitive-coral' | 'insurance'
export interface Waiting {
  readonly resident: ResidentDocument
  /** Where it lives now; null: off the shelf. */
  readonly vesselId: string | null
  readonly kind: BackKind
  /** From when it may come back; null while something else has to happen first. */
  readonly fromMs: number | null
  /** What it waits for, in a sentence. */
  readonly words: string
  /** The course that has to end first: that course releases it, or keeps its home free of fish. */
  readonly courseId?: string
}

/** Smallest appetite first. @source handbook 60 §13 "livestock back" */
const ORDER: readonly string[] = ['hg-snail', 'hg-shrimp', 'hg-clam', 'hg-anemone', 'hg-echinoderm']
const orderOf = ({ body }: ResidentDocument): number => {
  const at = ORDER.indexOf(body.group)
  return at >= 0 ? at : groupOf(body.group)?.kind === 'fish' ? ORDER.length + 1 : ORDER.length
}

/** Whether a resident lives elsewhere because of this course: moved out of its vessel since the start and not back. */
function waitingIds(active: ActiveLedger, vesselId: string, startMs: number, nowMs: number): Set<string> {
  const out = new Set<string>()
  for (const entry of besidesReadings(active)) {
    if (entry.kind !== 'move') continue
    const ms = entryMs(entry)
    if (ms > nowMs) break
    if (entry.toVesselId === vesselId) out.delete(entry.residentId)
    else if (entry.vesselId === vesselId && ms >= startMs) out.add(entry.residentId)
  }
  return out
}

/**
 * Animals that wait elsewhere, in the order in which they come back: behind the gate one kind of grazer at a time,
 * smallest first, hardy corals, then sensitive ones, insurance pieces last of all. Pure.
 */
export function livestockBack(
  back: NonNullable<Campaign['back']>,
  record: KeeperRecord,
  active: ActiveLedger,
  course: CourseDocument,
  nowMs: number,
): Waiting[] {
  const { vesselId } = course.body
  const startMs = instantMs(course.body.startedAt)
  const where = residentVessels(record, active, nowMs)
  const out = waitingIds(active, vesselId, startMs, nowMs)
  const alive = [...record.residents.values()].filter(({ body }) => body.leftAt === undefined)
  const gate = active.findLast(
    (entry) =>
      entry.kind === 'gate' && entry.courseId === course.id && entry.gate === back.gate && entryMs(entry) <= nowMs,
  )
  const gateMs = gate?.kind === 'gate' && gate.passed ? entryMs(gate) : null
  const isInsurance = ({ body }: ResidentDocument) => body.insuranceFor === vesselId
  const elsewhere = (one: ResidentDocument) => where.get(one.id) !== vesselId
  const insurance = alive.filter((one) => isInsurance(one) && elsewhere(one))
  const waiting = alive.filter((one) => out.has(one.id) && elsewhere(one) && !isInsurance(one))
  const isCoral = ({ body }: ResidentDocument) => groupOf(body.group)?.kind === 'coral'
  const isSensitive = ({ body }: ResidentDocument) =>
    back.sensitive.some((genus) => (body.scientificName ?? '').toLowerCase().startsWith(genus.toLowerCase()))
  const corals = waiting.filter(isCoral)
  const grazers = waiting.filter((one) => !isCoral(one)).sort((a, b) => orderOf(a) - orderOf(b))
  // The last grazer that came back sets the pace for the next.
  const returned =
    gateMs === null
      ? []
      : besidesReadings(active).flatMap((entry) =>
          entry.kind === 'move' &&
          entry.toVesselId === vesselId &&
          entryMs(entry) >= gateMs &&
          entryMs(entry) <= nowMs &&
          groupOf(record.residents.get(entry.residentId)?.body.group ?? '')?.kind !== 'coral'
            ? [entryMs(entry)]
            : [],
        )
  const firstMs = gateMs === null ? null : Math.max(gateMs, ...returned.map((ms) => ms + back.everyDays * DAY))
  const closed = 'First one hardy snail in a cage has to live and eat for seven days.'
  const kindOf = ({ body }: ResidentDocument) => body.scientificName ?? body.commonName ?? body.name
  const kinds = [...new Set(grazers.map(kindOf))]
  const open = [...record.courses.values()].filter(({ id, body }) => id !== course.id && body.endedAt === undefined)
  const title = ({ body }: CourseDocument) => (body.protocol as unknown as Protocol).title
  const name = (id: string) => record.vessels.get(id)?.body.name ?? 'its vessel'
  const fallow = open.find(({ body }) => body.vesselId === vesselId && waitsForHosts(body.protocol))
  const line = (resident: ResidentDocument, kind: BackKind, fromMs: number | null, words: string): Waiting => {
    const base = { resident, vesselId: where.get(resident.id) ?? null, kind }
    // A course of its home says nothing about where it is now.
    const own = open.find(({ body }) => body.vesselId !== vesselId && body.residents.includes(resident.id))
    if (own)
      return {
        ...base,
        fromMs: null,
        courseId: own.id,
        words: `${title(own)} runs in ${name(own.body.vesselId)}: that course releases it.`,
      }
    if (fallow && groupOf(resident.body.group)?.kind === 'fish')
      return {
        ...base,
        fromMs: null,
        courseId: fallow.id,
        words: `${name(vesselId)} is kept free of fish: ${title(fallow)}.`,
      }
    return { ...base, fromMs: gateMs === null ? null : fromMs, words: gateMs === null ? closed : words }
  }
  return [
    ...grazers.map((one) =>
      line(
        one,
        'grazer',
        firstMs === null ? null : firstMs + kinds.indexOf(kindOf(one)) * back.everyDays * DAY,
        `One kind every ${back.everyDays} days, smallest first.`,
      ),
    ),
    ...corals.map((one) =>
      isSensitive(one)
        ? line(
            one,
            'sensitive-coral',
            gateMs === null ? null : gateMs + back.sensitiveDays * DAY,
            `${Math.round(back.sensitiveDays / 7)} weeks after the hardy ones.`,
          )
        : line(one, 'coral', gateMs === null ? null : gateMs + back.coralDays * DAY, 'Hardy corals come back first.'),
    ),
    ...insurance.map((one) =>
      line(
        one,
        'insurance',
        waiting.length > 0 ? null : firstMs,
        waiting.length > 0 ? 'Insurance: last of all, when everything else is back and well.' : 'Insurance: the last.',
      ),
    ),
  ]
}
