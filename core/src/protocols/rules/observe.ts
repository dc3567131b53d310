// Watching, every day; where it is spread over the day, by the looks that were noted.
import type { RuleOf } from '../../knowledge/protocols.ts'
import { limitOf } from '../../knowledge/limits.ts'
import { looksLeft, watchOfDay } from '../../knowledge/watch.ts'
import { watchDays } from '../../record/observation.ts'
import { entryMs, zonedOf } from '../../time/time.ts'
import { entriesBetween, rotaOf } from '../courseContext.ts'
import { make, type Builder, type Step } from '../stepBuilder.ts'
import { dailySteps, dayState, type DaySpan } from './daily.ts'
import type { RuleKind } from './kind.ts'
import { never } from './kind.ts'

function steps(rule: RuleOf<'observe'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  return dailySteps(rule, builder, phaseMs, exitMs, {
    everyDays: 1,
    made: { detail: `Spread over the day. Look at ${rule.look.join(', ')}.`, minutes: rule.minutes },
    // Ten minutes in which the chases were counted are this watching, wherever they were noted.
    ...(rule.look.includes('chases')
      ? {
          doneIn: ({ dayStart, dayEnd }: DaySpan) =>
            entriesBetween(builder.context, dayStart, dayEnd).findLast(
              (entry) => entry.kind === 'count' && entry.what === CHASES,
            ),
        }
      : {}),
    ...(rule.split === true ? { open: (i: number, span: DaySpan) => splitWatch(rule, builder, i, span) } : {}),
  })
}

/** What ten minutes of counted chases stand under on the ledger. */
const CHASES = 'chases-10min'

/** A day's watching that is spread over its looks: what was looked at, and what is left. */
function splitWatch(rule: RuleOf<'observe'>, builder: Builder, occurrence: number, span: DaySpan): Step {
  const { context } = builder
  const { dueMs, dayStart, dayEnd } = span
  const { nowMs, zone } = context
  const entries = entriesBetween(context, dayStart, dayEnd)
  const [day] = watchDays(
    entries,
    rotaOf(context.course),
    zone,
    { fromMs: dayStart, toMs: Math.max(dayStart, dayEnd - 1) },
    () => false,
  )
  const { minutes, looks, complete } = day!
  const left = looksLeft(looks, zonedOf(nowMs, zone).hour)
  const last = entries.findLast((entry) => entry.kind === 'done' && entry.watched !== undefined)
  const over = nowMs >= dayEnd
  const words =
    minutes === 0
      ? over
        ? 'Nobody noted a look. The day does not count towards the days without signs.'
        : `${watchOfDay.minutes} min over at least ${watchOfDay.least} looks: ${left.map(({ title }) => title.toLowerCase()).join(', ')}.`
      : `${Math.round(minutes)} of ${watchOfDay.minutes} min in ${looks.length} of ${watchOfDay.least} looks. ${
          over
            ? 'The day does not count towards the days without signs.'
            : `Left: ${left.map(({ title, when }) => `${title.toLowerCase()} (${when})`).join(', ')}.`
        }`
  return make(rule, builder, occurrence, {
    detail: complete ? 'Watched.' : words,
    dueMs,
    fromMs: dayStart,
    untilMs: dayEnd,
    // What is left of the day's watching, one look at the least.
    minutes: Math.max(limitOf('hands-observe'), rule.minutes - minutes),
    watch: { minutes, looks, left: left.map(({ id }) => id) },
    ...(complete && last ? { state: 'done' as const, doneMs: entryMs(last), entryId: last.id } : dayState(nowMs, span)),
  })
}

export const observe: RuleKind<'observe'> = {
  steps,
  leavesOut: true,
  occurrences: never,
  calendar: (rule, pen) => pen.through(1 / rule.perDay),
  presses(step) {
    const { watch } = step
    if (!watch)
      return [
        { to: 'page', label: 'Watch', page: 'watch' },
        {
          to: 'write',
          label: 'Nothing odd',
          said: `${step.title}: noted.`,
          drafts: [{ kind: 'done', what: step.title }],
        },
      ]
    // A day that is over can only be noted on its vessel's strip.
    if (step.state === 'late') return [{ to: 'page', label: 'See the days', page: 'days' }]
    const next = watchOfDay.looks.find(({ id }) => id === watch.left[0]) ?? watchOfDay.looks[0]!
    return [
      { to: 'page', label: 'Watch', page: 'days' },
      {
        to: 'write',
        label: `${next.title}: nothing odd`,
        said: `${next.title} look: noted.`,
        // It belongs to the day, not to this step: the day fills with its looks.
        ofDay: true,
        drafts: [
          {
            kind: 'done',
            what: `${next.title} look, ${next.minutes} min: nothing odd`,
            watched: { look: next.id, minutes: next.minutes },
          },
        ],
      },
    ]
  },
}
