// Steps as a calendar file: instants in UTC, an alarm on each, ids that stay the same when it is exported again.
import { minutesOf, type Step } from '@brinvo/core'
import type { EventAttributes } from 'ics'

/** A day of watching and feeding fills no calendar: those stay on the round. */
const LEFT_OUT: readonly Step['kind'][] = ['observe', 'feed']

/** Steps that are still to come, as the text of an .ics file. @throws Error when the calendar library refuses one. */
export async function calendarOf(steps: readonly Step[], where: (step: Step) => string): Promise<string> {
  const { createEvents } = await import('ics')
  const events = steps
    .filter(({ state, kind }) => (state === 'ahead' || state === 'due' || state === 'late') && !LEFT_OUT.includes(kind))
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
  const { error, value } = createEvents(events)
  if (error || typeof value !== 'string') throw error ?? new Error('The calendar could not be written.')
  return value
}
