// Steps as a calendar file: instants in UTC, an alarm on each, ids that stay the same when it is exported again.
import { atHourOfDay, minutesOf, type sitterPlan, type Step } from '@brinvo/core'
import type { EventAttributes } from 'ics'

/** A day of watching and feeding fills no calendar: those stay on the round. */
const LEFT_OUT: readonly Step['kind'][] = ['observe', 'feed']

/** Steps that are still to come, as the text of an .ics file; kinds left out stay on the round. @throws Error when the calendar library refuses one. */
export function calendarOf(
  steps: readonly Step[],
  where: (step: Step) => string,
  leftOut: readonly Step['kind'][] = LEFT_OUT,
): Promise<string> {
  const events = steps
    .filter(({ state, kind }) => (state === 'ahead' || state === 'due' || state === 'late') && !leftOut.includes(kind))
    .map((step): EventAttributes => {
      const at = new Date(step.dueMs)
      return {
        uid: `${step.key.replaceAll('/', '-')}@brinvo`,
        start: [at.getUTCFullYear(), at.getUTCMonth() + 1, at.getUTCDate(), at.getUTCHours(), at.getUTCMinutes()],
        startInputType: 'utc',
        startOutputType: 'utc',
        duration: { minutes: minutesOf(step) },
        title: `${where(step)}: ${step.title}`,
        description: step.detail,
        productId: 'brinvo',
        alarms: [{ action: 'display', description: step.title, trigger: { before: true, minutes: 10 } }],
      }
    })
  return written(events)
}

/** A sitter's days: one entry a day and vessel, at an hour of the keeper's zone, that says all there is to do. */
export function sitterCalendar(
  plan: ReturnType<typeof sitterPlan>,
  hour: number,
  zone: string,
  call: string,
): Promise<string> {
  return written(
    plan.days.flatMap(({ day, vessels }) =>
      vessels.map(({ vessel, lines }): EventAttributes => {
        const at = new Date(atHourOfDay(day, hour, zone))
        return {
          uid: `sitter-${day}-${vessel.id}@brinvo`,
          start: [at.getUTCFullYear(), at.getUTCMonth() + 1, at.getUTCDate(), at.getUTCHours(), at.getUTCMinutes()],
          startInputType: 'utc',
          startOutputType: 'utc',
          duration: { minutes: 15 },
          title: `${vessel.body.name}: feed, look, top up`,
          description: [
            ...lines.map(({ title, detail }) => `${title}. ${detail}`),
            ...(call === '' ? [] : [`Call: ${call}`]),
          ].join('\n'),
          productId: 'brinvo',
        }
      }),
    ),
  )
}

async function written(events: EventAttributes[]): Promise<string> {
  const { createEvents } = await import('ics')
  const { error, value } = createEvents(events)
  if (error || typeof value !== 'string') throw error ?? new Error('The calendar could not be written.')
  return value
}
