// A removal session: how long it has gone on, when to rest, and when to be back.
import { limitOf, entryMs } from '@brinvo/core'
import { useNow, useRecord, type Draft } from '../../data/queries.tsx'
import { Button, Quiet, Row, Stack, Tag, Tray } from '../../design/primitives.tsx'
import { plural, timeText } from '../../design/words.ts'
import { useSave } from '../../parts/StepActions.tsx'

const MINUTE = 60_000
/** An hour of bent work, then ten minutes; a session is over after three hours without an entry. EST */
const WORK_MINUTES = limitOf('work-minutes')
const REST_MINUTES = limitOf('rest-minutes')
const GAP_MINUTES = limitOf('session-gap')
const BREAK = 'Break'

export function SessionPanel({ courseId, vesselId }: { courseId: string; vesselId: string }) {
  const { record, active } = useRecord()
  const save = useSave()
  const nowMs = useNow(10_000)
  const entries = active.filter(
    (entry) =>
      'courseId' in entry &&
      entry.courseId === courseId &&
      (entry.kind === 'tally' || entry.kind === 'bath' || (entry.kind === 'done' && entry.what === BREAK)),
  )
  // Back from now, as long as no gap is longer than a session bears.
  let startMs: number | null = null
  let beforeMs = nowMs
  for (const entry of [...entries].reverse()) {
    const ms = entryMs(entry)
    if (beforeMs - ms > GAP_MINUTES * MINUTE) break
    startMs = ms
    beforeMs = ms
  }
  if (startMs === null) return null
  const lastBreak = entries.findLast((entry) => entry.kind === 'done' && entryMs(entry) >= startMs)
  const resting = lastBreak !== undefined && nowMs - entryMs(lastBreak) < REST_MINUTES * MINUTE
  const sinceMs = lastBreak === undefined ? startMs : entryMs(lastBreak) + REST_MINUTES * MINUTE
  const worked = Math.max(0, Math.round((nowMs - sinceMs) / MINUTE))
  const counted = entries.filter((entry) => entry.kind === 'tally' && entryMs(entry) >= startMs).length
  return (
    <Tray role="region" aria-label="Session">
      <Stack $gap={8}>
        <h3>This session</h3>
        <p>
          Since {timeText(startMs, record.settings)}, {plural(counted, 'count')}.{' '}
          {resting ? (
            <strong>Rest: be back by {timeText(entryMs(lastBreak) + REST_MINUTES * MINUTE, record.settings)}.</strong>
          ) : worked >= WORK_MINUTES ? (
            <>
              <Tag $tone="due">rest</Tag> {worked} min without a break.
            </>
          ) : (
            `A break at ${timeText(sinceMs + WORK_MINUTES * MINUTE, record.settings)}.`
          )}
        </p>
        {!resting && (
          <Row>
            <Button
              onPress={() =>
                void save([{ kind: 'done', vesselId, courseId, what: BREAK } as Draft], `Rest ${REST_MINUTES} minutes.`)
              }
            >
              Break of {REST_MINUTES} minutes
            </Button>
          </Row>
        )}
        <Quiet>Corals under water, lids on, hands washed. The clock goes on when this page is shut.</Quiet>
      </Stack>
    </Tray>
  )
}
