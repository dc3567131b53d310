// Where a course stands by days: the day of at least so many, and for a vessel kept free of fish since its last host, with its end.
import type { CoursePlan } from '@brinvo/core'
import { useRecord } from '../data/queries.tsx'
import { Quiet } from '../design/primitives.tsx'
import { longDayText } from '../design/words.ts'

export function DayOf({ plan: { courseId, day, leastDays, fallow, progress } }: { plan: CoursePlan }) {
  const { courses, settings } = useRecord().record
  if (progress.finishedMs !== null)
    return (
      <>
        run through <Quiet>since {longDayText(progress.finishedMs, settings)}</Quiet>
      </>
    )
  // One step brings it there: nothing to count.
  if (!fallow && leastDays === 0) return <>for today</>
  if (!fallow)
    return (
      <>
        day {day} <Quiet>of at least {leastDays}</Quiet>
      </>
    )
  if (fallow.inside.length > 0) return <>{fallow.inside.join(' and ')} inside: nothing counts</>
  return (
    <>
      day {day}{' '}
      <Quiet>
        {(courses.get(courseId)?.body.protocol as { purpose?: string } | undefined)?.purpose === 'intake'
          ? 'apart'
          : 'without fish'}
        {fallow.endMs === null
          ? `, of at least ${leastDays}`
          : `, ends ${longDayText(fallow.endMs, settings)} if nothing goes in`}
      </Quiet>
    </>
  )
}
