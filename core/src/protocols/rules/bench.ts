// A bench session: pieces lifted one after the other through the same stages. Due at the beginning of its phase, and again
// after every count that still finds something.
import type { RuleOf } from '../../knowledge/protocols.ts'
import { measureFor, roundToStep } from '../../dosing/dose.ts'
import { vesselVolume } from '../../level/fromRecord.ts'
import { entryMs } from '../../time/time.ts'
import { MS_PER_HOUR } from '../../units/quantity.ts'
import { airKindOf } from '../../knowledge/air.ts'
import { puttyMost, thinningTo } from '../bench.ts'
import { gatePieces, piecesCleanMs } from '../pieces.ts'
import { bottleOf, minutesWith, stepEntry } from '../offers.ts'
import { make, type BenchAgent, type BenchWork, type Builder, type Step } from '../stepBuilder.ts'
import type { RuleKind } from './kind.ts'
import { checkForms, never } from './kind.ts'

const DAY = 24 * MS_PER_HOUR

function steps(rule: RuleOf<'bench'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  if (rule.days) return sessionsOn(rule, rule.days, builder, phaseMs, exitMs)
  const steps: Step[] = []
  let dueMs: number | null = phaseMs
  let why = ''
  for (let i = 0; dueMs !== null; i++) {
    const entry = stepEntry(builder, rule.id, i)
    const title = i === 0 ? rule.title : `${rule.title}, session ${i + 1}`
    if (!entry) {
      if (exitMs === null)
        steps.push(
          make(
            rule,
            builder,
            i,
            {
              title,
              detail: [why, `${rule.stages.length} stages, one piece after the other.`]
                .filter((one) => one !== '')
                .join(' '),
              dueMs,
              bench: workOf(rule, builder),
              ...(rule.minutes === undefined ? {} : { minutes: rule.minutes }),
            },
            48,
          ),
        )
      break
    }
    const doneMs = entryMs(entry)
    steps.push(
      make(rule, builder, i, {
        title,
        detail: entry.kind === 'skip' ? 'Left out.' : 'Done.',
        dueMs,
        ...(entry.kind === 'skip' ? {} : { state: 'done' as const, doneMs, entryId: entry.id }),
      }),
    )
    const found = foundSince(rule, builder, doneMs)
    dueMs = found?.atMs ?? null
    why = found ? `The count after the last session found ${found.count}.` : ''
  }
  return steps
}

/** Sessions on the days that are written, each until it is done or left out; then at the last rhythm while a piece is not clean. */
function sessionsOn(
  rule: RuleOf<'bench'>,
  days: readonly number[],
  builder: Builder,
  phaseMs: number,
  exitMs: number | null,
): Step[] {
  const gap = days.length > 1 ? days.at(-1)! - days.at(-2)! : 7
  const work = workOf(rule, builder)
  const steps: Step[] = []
  for (let i = 0; ; i++) {
    const day = days[i] ?? days.at(-1)! + (i - days.length + 1) * gap
    const dueMs = phaseMs + day * DAY
    if (dueMs > builder.aheadMs || (exitMs !== null && dueMs > exitMs)) return steps
    const entry = stepEntry(builder, rule.id, i)
    if (!entry && exitMs !== null) continue
    // What comes after the written days is for the pieces that have not passed, and for nobody else.
    if (!entry && i >= days.length && allClean(rule, builder)) return steps
    // What comes after the written days is asked once at a time.
    if (i > days.length && !stepEntry(builder, rule.id, i - 1)) return steps
    steps.push(
      make(
        rule,
        builder,
        i,
        {
          title: `${rule.title}, day ${day}`,
          detail: entry
            ? entry.kind === 'skip'
              ? 'Left out.'
              : 'Done.'
            : i >= days.length
              ? 'Not every piece has its clean looks in a row yet.'
              : `${rule.stages.length} stages, one piece after the other.`,
          dueMs,
          fromMs: dueMs - DAY / 2,
          ...(entry ? {} : { bench: work }),
          ...(rule.minutes === undefined ? {} : { minutes: rule.minutes }),
          ...(entry && entry.kind !== 'skip'
            ? { state: 'done' as const, doneMs: entryMs(entry), entryId: entry.id }
            : {}),
        },
        24,
      ),
    )
  }
}

/** Whether every piece has the clean looks in a row that the way out of this phase asks for. */
function allClean(rule: RuleOf<'bench'>, { context }: Builder): boolean {
  const asked = context.protocol.phases
    .flatMap(({ exit }) => (exit.kind === 'all' ? exit.of : [exit]))
    .find((part) => part.kind === 'pieces-clean' && part.rule === rule.id)
  if (asked?.kind !== 'pieces-clean') return false
  return (
    piecesCleanMs(
      gatePieces(context.record, context.allActive, context.course, rule.id, context.nowMs),
      asked.times,
    ) !== null
  )
}

/** The first later day whose count of the measure is above nothing. */
function foundSince(rule: RuleOf<'bench'>, { context }: Builder, sinceMs: number) {
  const measure = context.protocol.campaign?.measures.find(({ id }) => id === rule.measure)
  const field = measure?.value.fields[0]
  if (field === undefined) return null
  for (const entry of context.entries)
    if (
      entry.kind === 'tally' &&
      entry.measure === rule.measure &&
      entry.courseId === context.course.id &&
      entryMs(entry) > sinceMs + DAY / 2 &&
      (entry.values[field] ?? 0) > 0
    )
      return { atMs: entryMs(entry), count: entry.values[field]! }
  return null
}

function workOf(rule: RuleOf<'bench'>, builder: Builder): BenchWork {
  const { context } = builder
  const { syringesMl } = context.record.settings
  const agents: Record<string, BenchAgent> = {}
  for (const { id, spot, soak } of rule.stages) {
    const bottle = bottleOf(context, (spot ?? soak)?.role)
    if (!bottle) continue
    const { productId, content } = bottle
    if (spot)
      agents[id] = {
        productId,
        strengthMg: content.mg,
        thinTimes: thinningTo(content.mg, spot.percent),
        unit: content.per,
      }
    if (soak) {
      const wish = ((soak.mgPerL ?? bottle.form.target) * soak.litres) / content.mg
      const { step } = measureFor(wish, content.per, syringesMl.length > 0 ? syringesMl : undefined)
      agents[id] = {
        productId,
        strengthMg: content.mg,
        thinTimes: 1,
        unit: content.per,
        mgPerL: soak.mgPerL ?? bottle.form.target,
        amount: roundToStep(wish, step, 'nearest'),
      }
    }
  }
  const vessel = context.record.vessels.get(context.course.body.vesselId)
  const litres = vessel ? (vesselVolume(vessel)?.litres ?? null) : null
  return {
    stages: rule.stages.map((stage) => {
      // A weaker tub has its own minutes; at the bottle's own level the bottle says how long.
      const bottle =
        stage.soak && stage.soak.mgPerL === undefined && stage.minutes ? bottleOf(context, stage.soak.role) : null
      return bottle && stage.minutes ? { ...stage, minutes: minutesWith(stage.minutes, bottle.form, null) } : stage
    }),
    ready: rule.ready,
    abortSigns: rule.abortSigns,
    kinds: rule.kinds ?? null,
    agents,
    puttyMostG: litres === null ? null : puttyMost(litres),
  }
}

export const bench: RuleKind<'bench'> = {
  steps,
  leavesOut: true,
  occurrences: (rule) => (rule.days ? rule.days.map((_, i) => i) : rule.measure === undefined ? [0] : never()),
  calendar: (rule, pen) => (rule.days ?? [0]).forEach((day) => pen.item(day)),
  problems(rule, check) {
    if (rule.measure !== undefined) check.measure(rule.measure)
    rule.stages.forEach(({ count, spot, soak }, i) => {
      for (const measure of count ?? []) check.measure(measure)
      const role = (spot ?? soak)?.role
      if (role !== undefined) {
        check.bottle(role, ['stages', i])
        checkForms(check, role, 'bath')
      }
      if (soak) {
        const ceiling = Math.min(...check.formsOf(soak.role).map(({ hardMax }) => hardMax))
        if (soak.mgPerL !== undefined && soak.mgPerL > ceiling)
          check.say(['stages', i, 'soak'], `${soak.mgPerL} mg/L is over the hard maximum of ${ceiling} mg/L.`)
      }
      if (spot && spot.ml.least > spot.ml.most)
        check.say(['stages', i, 'spot'], 'It asks for at least more than at most.')
    })
    if (new Set(rule.stages.map(({ id }) => id)).size < rule.stages.length)
      check.say(['stages'], 'Two stages have one name.')
    if (rule.stages.at(-1)?.in !== 'water') check.say(['stages'], 'The last stage leaves the piece in the air.')
    for (const kind of [...(rule.kinds ?? []), ...rule.stages.flatMap(({ unlessKind }) => unlessKind ?? [])])
      if (!airKindOf(kind)) check.say(['kinds'], `“${kind}” is no kind of piece whose time in air is known.`)
  },
  presses: () => [{ to: 'page', label: 'Open the bench', page: 'bench' }],
}
