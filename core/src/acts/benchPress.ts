// What speaks against a press at the bench: a lift past the time in air, more of an agent or of putty than is planned.
import { airKindOf } from '../knowledge/air.ts'
import type { RuleOf } from '../knowledge/protocols.ts'
import { vesselVolume } from '../level/fromRecord.ts'
import { benchPieces, liftRefusals, puttyMost, type BenchPress } from '../protocols/bench.ts'
import { ask, block, type Refusal } from '../safety/refusal.ts'
import { entryMs } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import { protocolOfCourse } from './place.ts'
import type { ActContext } from './types.ts'

interface BenchDraft {
  readonly vesselId: string
  readonly courseId?: string
  readonly step?: string
  readonly atMs?: number
  readonly bench: BenchPress
}

export function benchRefusals(
  context: ActContext,
  { bench, courseId = '', step = '', vesselId, atMs }: BenchDraft,
): Refusal[] {
  const course = context.record.courses.get(courseId)
  const rules = course ? protocolOfCourse(course).phases.flatMap(({ rules: all }) => all) : []
  const rule = rules.find((one): one is RuleOf<'bench'> => one.kind === 'bench' && step.split('/')[1] === one.id)
  if (!rule) return []
  const nowMs = atMs ?? context.nowMs
  const { piece } = bench
  const found = benchPieces(rule.stages, step.split('/').slice(0, 3).join('/'), context.active, nowMs).find(
    (one) => one.piece === piece,
  )
  const stage = rule.stages.find(({ id }) => id === bench.stage)
  const out: Refusal[] = []
  if (bench.act === 'lift') {
    const kind = found?.kind ?? airKindOf(bench.air ?? '')
    if (kind) out.push(...liftRefusals(kind, found?.dayS ?? 0, piece))
    else out.push(ask('bench-kind', `What ${piece} is was not said: how long it bears the air is not known.`))
  }
  const spentMin = found ? (nowMs - found.stageMs) / 60_000 : 0
  if (bench.act === 'stage' && found && stage?.minutes && spentMin < stage.minutes.min - 0.1)
    out.push(
      ask(
        'bench-short',
        `“${stage.title}” has run for ${Math.floor(spentMin)} min of at least ${stage.minutes.min}. Is it really done, or was it passed over?`,
      ),
    )
  if (stage?.spot && bench.ml !== undefined && bench.ml + (found?.ml ?? 0) > stage.spot.ml.most + 1e-9)
    out.push(
      block(
        'bench-ml',
        `${piece} would have had ${Number((bench.ml + (found?.ml ?? 0)).toFixed(2))} mL; no more than ${stage.spot.ml.most} mL go on one piece.`,
      ),
    )
  if (bench.grams !== undefined && bench.grams > 0) {
    const vessel = context.record.vessels.get(vesselId)
    const litres = vessel ? vesselVolume(vessel)?.litres : undefined
    if (litres !== undefined) {
      const today = context.active.reduce(
        (sum, entry) =>
          entry.kind === 'done' && entry.vesselId === vesselId && nowMs - entryMs(entry) < 24 * MS_PER_HOUR
            ? sum + (entry.bench?.grams ?? 0)
            : sum,
        0,
      )
      const most = puttyMost(litres)
      if (today + bench.grams > most + 1e-9)
        out.push(
          block(
            'bench-putty',
            `${Number((today + bench.grams).toFixed(1))} g of putty in a day; ${Number(most.toFixed(1))} g are the most for ${Math.round(litres)} L. The rest tomorrow, or it stays in a tub to cure.`,
          ),
        )
    }
  }
  return out
}
