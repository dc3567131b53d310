// What worked here: campaigns that ended, with what they cost and how long they held.
import {
  campaignState,
  instantMs,
  lostBetween,
  type CourseBody,
  type CourseDocument,
  type Protocol,
} from '@brinvo/core'
import { useMemo } from 'react'
import { Link } from 'react-router'
import { styled } from 'styled-components'
import { useRecord } from '../../data/queries.tsx'
import { Quiet, Stack, Tag, Tray } from '../../design/primitives.tsx'
import { longDayText, plural } from '../../design/words.ts'
import { useThePlans } from '../../shell/PlansContext.tsx'

const DAY = 86_400_000
const List = styled.ul`
  > li {
    padding: 12px 0;
    display: grid;
    grid-template-columns: 92px minmax(0, 1fr);
    gap: 4px 14px;
  }
  > li + li {
    border-top: 1px solid var(--hairline);
  }
`
const TONES: Partial<Record<NonNullable<CourseBody['outcome']>, 'good' | 'due' | 'plain'>> = {
  cured: 'good',
  finished: 'good',
  improved: 'plain',
  failed: 'due',
  lost: 'due',
}

/** Ended campaigns, newest first; nothing at all before the first one ended. */
export function OutcomeBoard() {
  const { record } = useRecord()
  const { nowMs } = useThePlans()
  const ended = [...record.courses.values()]
    .filter(({ body }) => body.endedAt !== undefined && instantMs(body.endedAt) <= nowMs)
    .filter(({ body }) => (body.protocol as unknown as Protocol).campaign)
    .sort((a, b) => (a.body.endedAt! < b.body.endedAt! ? 1 : -1))
  if (ended.length === 0) return null
  return (
    <Stack>
      <h2>
        What worked here <Quiet>campaigns that ended</Quiet>
      </h2>
      <Tray>
        <List>
          {ended.map((course) => (
            <Result key={course.id} course={course} again={againOf(course, [...record.courses.values()])} />
          ))}
        </List>
      </Tray>
    </Stack>
  )
}

/** The next campaign against the same thing in the same vessel: how long the result held. */
function againOf(course: CourseDocument, all: readonly CourseDocument[]): CourseDocument | undefined {
  const targets = (course.body.protocol as unknown as Protocol).campaign!.targets
  return all
    .filter(
      ({ id, body }) =>
        id !== course.id &&
        body.vesselId === course.body.vesselId &&
        body.startedAt > course.body.endedAt! &&
        (body.protocol as unknown as Protocol).campaign?.targets.some((target) => targets.includes(target)),
    )
    .sort((a, b) => (a.body.startedAt < b.body.startedAt ? -1 : 1))[0]
}

function Result({ course, again }: { course: CourseDocument; again: CourseDocument | undefined }) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const endMs = instantMs(course.body.endedAt!)
  const state = useMemo(() => campaignState(record, active, course, endMs), [record, active, course, endMs])
  const protocol = course.body.protocol as unknown as Protocol
  const days = Math.round((endMs - instantMs(course.body.startedAt)) / DAY)
  const held = Math.round(((again ? instantMs(again.body.startedAt) : nowMs) - endMs) / DAY)
  const lost = lostBetween(record, active, course.body.vesselId, instantMs(course.body.startedAt), endMs)
  const main = state?.measures[0]
  const first = main?.points[0]
  const last = main?.points.at(-1)
  return (
    <li>
      <span>
        <Tag $tone={TONES[course.body.outcome ?? 'unknown'] ?? 'plain'}>{course.body.outcome ?? 'unknown'}</Tag>
      </span>
      <div>
        <p>
          <Link to={`/courses/${course.id}`}>
            <strong>{protocol.title}</strong>
          </Link>{' '}
          <Quiet>
            in {record.vessels.get(course.body.vesselId)?.body.name}, ended {longDayText(endMs, record.settings)}
          </Quiet>
        </p>
        <p>
          {days} days, {plural(state?.effort.sessions ?? 0, 'session')}
          {(state?.effort.minutes ?? 0) > 0 && `, ${Math.round(state!.effort.minutes / 6) / 10} hours of work`}
          {first && last && main && first !== last
            ? `; ${main.measure.title.toLowerCase()} from ${trim(first.value)} to ${trim(last.value)} ${main.measure.unit}`
            : ''}
          . {again ? `Came back after ${held} days.` : `Has held for ${held} days.`}
        </p>
        {lost.length > 0 && <Quiet>Lost on the way: {lost.join(', ')}. </Quiet>}
        {course.body.outcomeNote !== undefined && <Quiet>{course.body.outcomeNote}</Quiet>}
      </div>
    </li>
  )
}
const trim = (value: number): string => String(Number(value.toPrecision(3)))
