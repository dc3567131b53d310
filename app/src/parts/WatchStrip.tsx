// The last days of watching a vessel, each a bar that fills with its minutes: a missed day stays in sight.
import {
  typedNumber,
  atHourOfDay,
  instantMs,
  residentsIn,
  rotaOf,
  watchDays,
  watchOfDay,
  WHOLE_DAY,
  type Protocol,
  type WatchDay,
} from '@brinvo/core'
import { useMemo, useState } from 'react'
import { styled } from 'styled-components'
import { useRecord, type Draft } from '../data/queries.tsx'
import { Dialog } from '../design/Dialog.tsx'
import { Field } from '../design/fields.tsx'
import { Button, Quiet, Row, Stack } from '../design/primitives.tsx'
import { dayText, plural } from '../design/words.ts'
import { useThePlans } from '../shell/PlansContext.tsx'
import { useSave } from './StepActions.tsx'

const DAYS = 14
const DAY_MS = 86_400_000

const Days = styled.ol`
  display: grid;
  grid-template-columns: repeat(7, minmax(0, 1fr));
  gap: 6px;
`
const Bar = styled.button<{ $share: number; $complete: boolean }>`
  width: 100%;
  min-height: 46px;
  padding: 0;
  border-radius: 6px;
  border: 1.5px ${({ $share }) => ($share === 0 ? 'dashed' : 'solid')} var(--quiet);
  background: ${({ $share, $complete }) =>
    `linear-gradient(to top, var(${$complete ? '--malachite' : '--acriflavine'}) ${$share * 100}%, var(--well) ${$share * 100}%)`};
  cursor: pointer;
  &:disabled {
    cursor: default;
  }
`

/** Whether an entry notes the watching of a day as a whole, by the step it carries. */
function useWholeDays() {
  const { record } = useRecord()
  return useMemo(() => {
    const rules = new Map<string, ReadonlySet<string>>()
    for (const course of record.courses.values()) {
      const protocol = course.body.protocol as unknown as Protocol
      rules.set(
        course.id,
        new Set(
          protocol.phases.flatMap((phase) => phase.rules.flatMap(({ kind, id }) => (kind === 'observe' ? [id] : []))),
        ),
      )
    }
    return (entry: { courseId?: string; step?: string }) =>
      rules.get(entry.courseId ?? '')?.has(entry.step?.split('/')[1] ?? '') === true
  }, [record.courses])
}

/** Days of watching since somebody lives there, or since the course that runs there began; at most two weeks. */
export function useWatchDays(vesselId: string): readonly WatchDay[] {
  const { record, active } = useRecord()
  const { nowMs, plans } = useThePlans()
  const whole = useWholeDays()
  const courses = plans.flatMap(({ courseId }) => {
    const course = record.courses.get(courseId)
    return course && course.body.residents.length > 0 && rotaOf(course).includes(vesselId) ? [course] : []
  })
  const residents = residentsIn(record, active, vesselId, nowMs)
  // What is asked for begins with the course that asks; without one, with the first who came.
  const began =
    courses.length > 0
      ? courses.map(({ body }) => instantMs(body.startedAt))
      : residents.map(({ body }) => instantMs(body.arrivedAt))
  if (began.length === 0) return []
  const fromMs = Math.max(Math.min(...began), nowMs - (DAYS - 1) * DAY_MS)
  const vessels = [...new Set([vesselId, ...courses.flatMap(rotaOf)])]
  return watchDays(active, vessels, record.settings.zone, { fromMs, toMs: nowMs }, whole)
}

const saysOf = ({ minutes, looks, complete }: WatchDay, today: boolean): string =>
  complete
    ? 'watched in full'
    : minutes === 0
      ? today
        ? 'not watched yet'
        : 'missed'
      : `${Math.round(minutes)} of ${watchOfDay.minutes} min, ${plural(looks.length, 'look')}`

export function WatchStrip({ vesselId }: { vesselId: string }) {
  const { record } = useRecord()
  const days = useWatchDays(vesselId)
  const [late, setLate] = useState<WatchDay | null>(null)
  const { settings } = record
  if (days.length === 0) return null
  const noon = (day: string) => atHourOfDay(day, 12, settings.zone)
  // The day somebody arrived is not theirs to fill.
  const past = days.slice(days.length < DAYS ? 1 : 0, -1)
  const missed = past.filter(({ complete }) => !complete)
  return (
    <Stack $gap={8}>
      <Row $between>
        <h3>Watching, day by day</h3>
        <Quiet>
          {watchOfDay.minutes} min over {watchOfDay.least} looks fill a day
        </Quiet>
      </Row>
      <Days aria-label="Days of watching">
        {days.map((day, i) => {
          const today = i === days.length - 1
          const share = day.complete ? 1 : Math.min(0.92, day.minutes / watchOfDay.minutes)
          return (
            <li key={day.day}>
              <Bar
                type="button"
                $share={share}
                $complete={day.complete}
                disabled={day.complete || today}
                aria-label={`${dayText(noon(day.day), settings)}: ${saysOf(day, today)}`}
                title={`${dayText(noon(day.day), settings)}: ${saysOf(day, today)}`}
                onClick={() => setLate(day)}
              />
              <Quiet aria-hidden style={{ display: 'block', textAlign: 'center', fontSize: 13 }}>
                {today ? 'now' : Number(day.day.slice(8))}
              </Quiet>
            </li>
          )
        })}
      </Days>
      <p>
        {missed.length === 0 ? (
          past.length === 0 ? (
            'The first day.'
          ) : (
            'No day is missing.'
          )
        ) : (
          <>
            <strong>{missed.length === 1 ? 'One day' : `${missed.length} days`}</strong> not watched in full:{' '}
            {missed.length === 1 ? 'it does' : 'they do'} not count as {missed.length === 1 ? 'a day' : 'days'} without
            signs. Press one that was watched but not noted.
          </>
        )}
      </p>
      {late && <LateDialog vesselId={vesselId} day={late} atMs={noon(late.day)} onClose={() => setLate(null)} />}
    </Stack>
  )
}

function LateDialog({
  vesselId,
  day,
  atMs,
  onClose,
}: {
  vesselId: string
  day: WatchDay
  atMs: number
  onClose: () => void
}) {
  const { record } = useRecord()
  const save = useSave()
  const [minutes, setMinutes] = useState(String(watchOfDay.minutes))
  const [error, setError] = useState<string | null>(null)
  const name = dayText(atMs, record.settings)
  const keep = async () => {
    const number = typedNumber(minutes)
    if (!(number > 0 && number <= 600)) return setError('Minutes from 1 to 600.')
    const draft = {
      kind: 'done',
      vesselId,
      what: 'Watched that day, noted later',
      watched: { look: WHOLE_DAY, minutes: number },
      atMs,
    } as Draft
    if (await save([draft], `${name}: noted as watched.`)) onClose()
  }
  return (
    <Dialog title={`Watched on ${name}?`} isOpen onClose={onClose}>
      <p>
        On record: {saysOf(day, false)}. Signs that were seen that day belong on the ledger too, with their own time.
      </p>
      <Field label="Watched in all" unit="min" value={minutes} onChange={setMinutes} numeric error={error} />
      <Row>
        <Button look="main" onPress={() => void keep()}>
          Note it
        </Button>
      </Row>
    </Dialog>
  )
}
