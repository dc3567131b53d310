// Moves from vessel to vessel, or to a named place: elapsed hours, a limit that summer time does not move.
import type { RuleOf } from '../../knowledge/protocols.ts'
import { entryMs } from '../../time/time.ts'
import { MS_PER_HOUR } from '../../units/quantity.ts'
import { rotaOf, valueFor } from '../courseContext.ts'
import { placeIn, togetherMs } from '../together.ts'
import { transferProgress } from '../transferProgress.ts'
import { make, type Builder, type Step } from '../stepBuilder.ts'
import type { RuleKind } from './kind.ts'
import { timesOf } from './kind.ts'

function steps(rule: RuleOf<'transfer'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  const { context } = builder
  if (rule.to !== undefined) return [moveTo(rule, rule.to, builder, phaseMs, exitMs)].flatMap((step) => step ?? [])
  const everyMs = valueFor(rule.everyHours, context, 'h') * MS_PER_HOUR
  const { moves, needed, begunMs } = transferProgress(rule, context, phaseMs)
  const rota = rotaOf(context.course)
  const steps: Step[] = []
  let stayMs = phaseMs
  let counted = 0
  let anew = ''
  let open = false
  for (let i = 0; i < needed; i++) {
    const toId = rota[(i + 1) % rota.length]!
    const to = context.record.vessels.get(toId)?.body.name ?? 'the other vessel'
    const move = moves[i]
    if (move?.restarts === true) {
      counted = 0
      anew = `${Math.round(move.stayedH)} h in one stay: what fell off may have hatched, and the count began anew.`
    } else if (move?.moved !== false) counted++
    const title =
      counted === 0
        ? `${rule.title} after a stay too long: to ${to}`
        : `${rule.title} ${counted} of ${rule.times}: to ${to}`
    if (move) {
      const { entry } = move
      if (move.moved) stayMs = entryMs(entry)
      steps.push(
        make(rule, builder, i, {
          title,
          detail: move.restarts ? anew : 'Done.',
          dueMs: entryMs(entry),
          ...(entry.kind === 'skip' ? {} : { state: 'done' as const, doneMs: entryMs(entry), entryId: entry.id }),
        }),
      )
      continue
    }
    if (exitMs !== null) break
    const limitMs: number =
      stayMs + (i === 0 && rule.firstAfterHours !== undefined ? rule.firstAfterHours * MS_PER_HOUR : everyMs)
    const toleranceMs = (rule.toleranceHours ?? 6) * MS_PER_HOUR
    if (open && limitMs - toleranceMs > builder.aheadMs) break
    steps.push(
      make(rule, builder, i, {
        title,
        detail: [
          `${Math.round(everyMs / MS_PER_HOUR)} h at the most, never later.`,
          ...(open ? [] : [lateness(rule, { stayMs, limitMs, everyMs, nowMs: context.nowMs, moves: counted - 1 })]),
          anew !== '' && begunMs !== null && !open ? anew : '',
          rule.text ?? '',
        ]
          .filter((words) => words !== '')
          .join(' '),
        dueMs: limitMs,
        fromMs: limitMs - toleranceMs,
        untilMs: limitMs,
        transfer: { toVesselId: toId, mayMove: rule.mayMove },
        ...(open ? { state: 'ahead' as const } : {}),
      }),
    )
    open = true
    stayMs = Math.max(limitMs, context.nowMs)
  }
  return steps
}

/**
 * What a late move costs in this school: nothing while it is in time but a word of where the line is; past its hour the
 * risk that cysts hatch; past the line the whole count. Empty where the protocol draws no line.
 * @source handbook 30 §6.1, §6.2
 */
function lateness(
  rule: RuleOf<'transfer'>,
  at: {
    readonly stayMs: number
    readonly limitMs: number
    readonly everyMs: number
    readonly nowMs: number
    /** Moves that count so far. */
    readonly moves: number
  },
): string {
  if (rule.restartsAfterHours === undefined) return ''
  const lineMs = at.stayMs + rule.restartsAfterHours * MS_PER_HOUR
  const days = Math.round((rule.times * at.everyMs) / (24 * MS_PER_HOUR))
  const all = `${rule.times} more after it, ${days} days`
  if (at.nowMs > lineMs)
    return `This stay has lasted so long that what fell off may have hatched: the count begins anew with this move, ${all}.`
  if (at.nowMs > at.limitMs) {
    const hours = Math.max(1, Math.floor((lineMs - at.nowMs) / MS_PER_HOUR))
    return `Late: the first cysts may hatch. For ${hours} h more this move still counts; then the count begins anew, ${all}.`
  }
  const lost =
    at.moves === 0 ? '' : ` and ${at.moves === 1 ? 'the move so far is' : `the ${at.moves} moves so far are`} lost`
  return `After ${rule.restartsAfterHours} h in one stay the count begins anew${lost}: ${all}.`
}

/** One move to a named place: done by its step, or seen in the record once everybody is there. */
function moveTo(
  rule: RuleOf<'transfer'>,
  place: string,
  builder: Builder,
  phaseMs: number,
  exitMs: number | null,
): Step | null {
  const { context } = builder
  const toId = placeIn(context, place)
  const to = toId === null ? null : (context.record.vessels.get(toId)?.body.name ?? 'the other vessel')
  const key = `${context.course.id}/${rule.id}/0`
  const entry = context.byStep.get(key)
  const seenMs = entry ? entryMs(entry) : togetherMs(context, place, phaseMs, 0)
  const dueMs = phaseMs + (rule.firstAfterHours ?? 0) * MS_PER_HOUR
  const title = to === null ? rule.title : `${rule.title}: ${to}`
  if (seenMs !== null)
    return make(rule, builder, 0, {
      title,
      detail: 'Done.',
      dueMs: seenMs,
      state: 'done',
      doneMs: seenMs,
      ...(entry ? { entryId: entry.id } : {}),
    })
  if (exitMs !== null) return null
  if (toId === null)
    return make(rule, builder, 0, { title, detail: 'Choose the vessel first.', dueMs, state: 'waiting' })
  return make(
    rule,
    builder,
    0,
    {
      title,
      detail: `${rule.mayMove} ${rule.text ?? ''}`.trim(),
      dueMs,
      transfer: { toVesselId: toId, mayMove: rule.mayMove },
    },
    rule.toleranceHours ?? 24,
  )
}

export const transfer: RuleKind<'transfer'> = {
  steps,
  occurrences: timesOf,
  calendar(rule, pen) {
    const every = pen.number(rule.everyHours, 72, 'h') / 24
    pen.series(rule.times, rule.firstAfterHours === undefined ? every : rule.firstAfterHours / 24, every)
  },
  problems(rule, check) {
    if (rule.to !== undefined) check.place(rule.to, ['to'])
    if ((check.protocol.vesselRoles?.length ?? 0) === 0)
      check.say([], 'A move needs a second vessel: name one under “vesselRoles”.')
  },
  presses: () => [{ to: 'page', label: 'Open the move', page: 'transfer' }],
}
