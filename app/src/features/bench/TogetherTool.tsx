// Planned backwards: what must end together, the latest day each may begin, and what slips when one slips.
import {
  daysToRelease,
  endTogether,
  protocolLibrary,
  protocolOf,
  variantFor,
  type Protocol,
  type TogetherItem,
} from '@brinvo/core'
import { useState } from 'react'
import { useRecord } from '../../data/queries.tsx'
import { Select } from '../../design/fields.tsx'
import { Button, DayTable, LinkButton, Quiet, Row, Stack, Tray } from '../../design/primitives.tsx'
import { noonOf } from '../../parts/noonOf.ts'
import { longDayText, plural } from '../../design/words.ts'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { Big, Split } from './layout.tsx'
import { DateTimeField } from '../../parts/DateTimeField.tsx'

const PURPOSES: readonly Protocol['purpose'][] = ['intake', 'treatment', 'prevention', 'observation', 'fallow']
/** What is over within a day needs no planning backwards, days. */
const SHORTEST_DAYS = 2
/** What a newcomer goes through at most: more is no plan. */
const MOST = 6
const whole = (protocol: Protocol): number => daysToRelease(protocol, variantFor(protocol, false)).days

export function TogetherTool() {
  const { record } = useRecord()
  const { plans, nowMs } = useThePlans()
  const { settings } = record
  const [chosen, setChosen] = useState<readonly string[]>([])
  const [next, setNext] = useState('')
  const [day, setDay] = useState('')
  const running = plans.flatMap(({ courseId, title, fallow, progress, leastDays: least, vesselId }): TogetherItem[] => {
    const course = record.courses.get(courseId)
    if (!course || course.body.endedAt !== undefined || progress.finishedMs !== null) return []
    const protocol = course.body.protocol as unknown as Protocol
    if (!PURPOSES.includes(protocol.purpose)) return []
    const startMs = Date.parse(course.body.startedAt)
    const days = Math.max(least, protocol.purpose === 'fallow' ? 0 : whole(protocol))
    const where = record.vessels.get(vesselId)?.body.name ?? ''
    return [
      {
        id: courseId,
        title: `${title}, ${where}`,
        endMs: fallow?.endMs ?? Math.max(nowMs, startMs + days * 86_400_000),
      },
    ]
  })
  const coming = chosen.flatMap((id, i): TogetherItem[] => {
    const protocol = protocolOf(id)
    return protocol ? [{ id: `${id}-${i}`, title: protocol.title, days: whole(protocol) }] : []
  })
  const wishedMs = day === '' ? null : noonOf(day, settings.zone)
  const result = endTogether([...running, ...coming], nowMs, wishedMs !== null && wishedMs > nowMs ? wishedMs : null)
  const options = protocolLibrary
    .filter((protocol) => PURPOSES.includes(protocol.purpose) && whole(protocol) >= SHORTEST_DAYS)
    .map((protocol) => ({ value: protocol.id, label: `${protocol.title}, ${whole(protocol)} days with watching` }))
    .sort((a, b) => a.label.localeCompare(b.label))
  const slips = result.lines.filter(({ lateDays }) => lateDays > 0)
  return (
    <Split>
      <Tray>
        <Stack>
          <Select
            label="What is to come in, or to begin"
            value={next}
            onChange={setNext}
            options={[{ value: '', label: 'please choose' }, ...options]}
          />
          <Row>
            <Button
              isDisabled={next === '' || chosen.length >= MOST}
              onPress={() => {
                setChosen([...chosen, next])
                setNext('')
              }}
            >
              Add it
            </Button>
            {chosen.length > 0 && (
              <Button look="bare" onPress={() => setChosen(chosen.slice(0, -1))}>
                Take the last away
              </Button>
            )}
          </Row>
          <DateTimeField
            label="To be over on"
            day
            value={day}
            onChange={setDay}
            hint="Left empty: as soon as all of it can."
          />
          <Quiet>
            Days are the usual ones of each protocol with the watching that belongs to it; what goes wrong comes on top.
          </Quiet>
        </Stack>
      </Tray>
      <Tray aria-live="polite" aria-label="Result">
        {result.lines.length === 0 ? (
          <Quiet>Nothing runs. Add what is to come in; the latest day to begin stands here.</Quiet>
        ) : (
          <Stack>
            <Big>{longDayText(result.endMs, settings)}</Big>
            <p>
              All of it can be over then
              {result.endMs > result.wishedMs + 3_600_000 && `, not on ${longDayText(result.wishedMs, settings)}`}.
            </p>
            <DayTable>
              <thead>
                <tr>
                  <th scope="col">what</th>
                  <th scope="col">begin by</th>
                  <th scope="col">over</th>
                </tr>
              </thead>
              <tbody>
                {result.lines.map((line) => (
                  <tr key={line.id}>
                    <td>{line.title}</td>
                    <td>
                      {line.latestMs === null
                        ? 'runs'
                        : line.latestMs <= nowMs + 3_600_000
                          ? 'today'
                          : longDayText(line.latestMs, settings)}
                    </td>
                    <td>{longDayText(line.runs ? line.endMs : result.endMs, settings)}</td>
                  </tr>
                ))}
              </tbody>
            </DayTable>
            {slips.map((line) => (
              <p key={line.id}>
                <strong>{line.title}</strong> holds the others up by {plural(line.lateDays, 'day')},{' '}
                {line.runs ? 'as it runs' : 'begun today'}.
              </p>
            ))}
            <Quiet>
              One that begins a day after its line moves the common day by a day. A host or wet gear in a fallow starts
              it anew.
            </Quiet>
            <Row>
              <LinkButton to="/courses/new">Start a course</LinkButton>
            </Row>
          </Stack>
        )}
      </Tray>
    </Split>
  )
}
