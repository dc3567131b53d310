// The gate of an intake, piece by piece: how many looks in a row found nothing, and what stands in the way.
import { besidesReadings } from '../record/ledgerIndex.ts'
import { groupOf } from '../knowledge/agents.ts'
import type { Condition, Protocol } from '../knowledge/protocols.ts'
import type { ActiveLedger, CourseDocument, KeeperRecord } from '../record/types.ts'
import { openSigns } from '../record/observation.ts'
import { coralNow, isPast } from '../record/walk.ts'
import { walkAspects } from '../knowledge/watch.ts'
import { residentsIn } from '../record/whereabouts.ts'
import { entryMs } from '../time/time.ts'

export interface PieceLook {
  readonly atMs: number
  readonly mobiles: number
  readonly eggs: number
}
/** A piece of an intake and what its looks say. */
export interface GatePiece {
  readonly name: string
  readonly residentId: string | null
  readonly looks: readonly PieceLook[]
  /** Looks in a row, up to the last, that found nothing. */
  readonly clean: number
  readonly openSigns: readonly string[]
  /** Loses tissue or shows bare skeleton by its last walk. */
  readonly recedes: boolean
  /** Something was found at its last look, or a sign stands open. */
  readonly suspect: boolean
}
type Clean = Extract<Condition, { kind: 'pieces-clean' }>

/** The condition of an intake that asks for clean looks; null where it has none. */
export function piecesAsked(protocol: Protocol): Clean | null {
  const parts = (condition: Condition): readonly Condition[] =>
    condition.kind === 'all' || condition.kind === 'any' ? condition.of.flatMap(parts) : [condition]
  return (
    protocol.phases.flatMap(({ exit }) => parts(exit)).find((one): one is Clean => one.kind === 'pieces-clean') ?? null
  )
}

/**
 * Every piece that is in the course's vessel: registered animals of the protocol's kinds, and pieces that came to its
 * bench under a name of their own. One that was moved away or broken off for good no longer counts.
 */
export function gatePieces(
  record: KeeperRecord,
  active: ActiveLedger,
  course: CourseDocument,
  ruleId: string,
  nowMs: number,
): GatePiece[] {
  const protocol = course.body.protocol as unknown as Protocol
  const looks = new Map<string, PieceLook[]>()
  const gone = new Map<string, boolean>()
  for (const entry of besidesReadings(active)) {
    if (entry.kind !== 'done' || !entry.bench || entryMs(entry) > nowMs) continue
    if (entry.step?.startsWith(`${course.id}/${ruleId}/`) !== true) continue
    const { piece, act, finds } = entry.bench
    gone.set(piece, act === 'abort')
    if (!looks.has(piece)) looks.set(piece, [])
    if (finds) looks.get(piece)!.push({ atMs: entryMs(entry), ...finds })
  }
  const here = residentsIn(record, active, course.body.vesselId, nowMs).filter(
    ({ body }) => protocol.hosts?.includes((groupOf(body.group)?.kind ?? 'fish') as never) === true,
  )
  const known = new Set([...record.residents.values()].map(({ body }) => body.name))
  const unnamed = [...looks.keys()].filter((name) => !known.has(name) && gone.get(name) !== true)
  const pieceOf = (name: string, residentId: string | null): GatePiece => {
    const own = looks.get(name) ?? []
    const dirty = own.findLastIndex(({ mobiles, eggs }) => mobiles + eggs > 0)
    const signs = residentId === null ? [] : openSigns(active, residentId).map(({ sign }) => sign)
    const state = residentId === null ? null : coralNow(active, residentId, nowMs)
    const last = own.at(-1)
    return {
      name,
      residentId,
      looks: own,
      clean: own.length - 1 - dirty,
      openSigns: signs,
      recedes: walkAspects.some(
        (aspect) =>
          (aspect.id === 'tissue' || aspect.id === 'bare') &&
          state?.[aspect.id] !== undefined &&
          isPast(aspect, state[aspect.id]!),
      ),
      suspect: (last !== undefined && last.mobiles + last.eggs > 0) || signs.length > 0,
    }
  }
  return [...here.map(({ id, body }) => pieceOf(body.name, id)), ...unnamed.map((name) => pieceOf(name, null))]
}

/** When every piece that is here had its clean looks in a row; null while one has not, or while nothing is here. */
export function piecesCleanMs(pieces: readonly GatePiece[], times: number): number | null {
  if (pieces.length === 0 || pieces.some(({ clean }) => clean < times)) return null
  return Math.max(...pieces.map(({ looks, clean }) => looks[looks.length - clean + times - 1]!.atMs))
}
