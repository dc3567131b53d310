// One piece or rock out of the water: a clock that outlives a reload, when it must be back, and what comes after.
import { limitOf, type BathEntry } from '@brinvo/core'
import { useNow, useRecord, type Draft } from '../../data/queries.tsx'
import { Button, Row, Stack, Tray } from '../../design/primitives.tsx'
import { timeText } from '../../design/words.ts'
import { useSave } from '../../parts/StepActions.tsx'
import { Clock, clockText } from './bench.tsx'

export interface AirClockProps {
  readonly courseId: string
  readonly vesselId: string
  readonly pieces: readonly string[]
  /** Name under which its entries stand on the ledger. */
  readonly rule: string
  readonly minutes: { readonly min: number; readonly usual: number; readonly max: number }
  readonly about: string
  /** What to do while it is out, and what when it was long enough. */
  readonly meanwhile: string
  readonly enough: string
  readonly back: string
  /** Told how long it was out in this sitting, minutes. */
  readonly onBack?: (minutes: number) => void
}

/** Within so long what a piece was out adds up. */
const SITTING_MS = limitOf('air-sitting') * 3_600_000

export function AirClock({
  courseId,
  vesselId,
  pieces,
  rule,
  minutes,
  about,
  meanwhile,
  enough,
  back,
  onBack,
}: AirClockProps) {
  const { record, active } = useRecord()
  const save = useSave()
  const nowMs = useNow(500)
  const runs = active.filter(
    (entry): entry is BathEntry => entry.kind === 'bath' && entry.courseId === courseId && entry.rule === rule,
  )
  const last = runs.at(-1)
  const running = last?.act === 'start' ? last : null
  const done = new Set(runs.flatMap(({ act, note }) => (act === 'end' ? [note] : [])))
  const base = { kind: 'bath', vesselId, courseId, rule }
  // Out twice in one sitting is one stay in air: what a break gives back is not known, so nothing is taken off.
  const before = runs
    .filter(({ act, note, at }) => act === 'end' && note === running?.note && nowMs - Date.parse(at) < SITTING_MS)
    .reduce((sum, { minutes: out = 0 }) => sum + out, 0)
  const thisTime = running ? Math.max(0, (nowMs - Date.parse(running.at)) / 1000) : 0
  const seconds = thisTime + 60 * before
  const over = seconds > minutes.max * 60
  return (
    <Tray $tone={over ? 'danger' : 'plain'} role="region" aria-label="Out of the water">
      <Stack $gap={8}>
        <h2>Out of the water</h2>
        {running ? (
          <>
            <Clock data-over={over || undefined}>{clockText(seconds)}</Clock>
            <p>
              <strong>
                {running.note}, back by{' '}
                {timeText(Date.parse(running.at) + Math.max(0, minutes.max - before) * 60_000, record.settings)}:
              </strong>{' '}
              {over
                ? `over ${minutes.max} min. Back into the water now.`
                : seconds < minutes.usual * 60
                  ? `${meanwhile}; ${minutes.usual} min is usual.`
                  : enough}
            </p>
            {before > 0 && <p>{before} min of it before the break.</p>}
            <Row>
              <Button
                look="main"
                onPress={() => {
                  const out = Math.round(thisTime / 6) / 10
                  onBack?.(Math.round((out + before) * 10) / 10)
                  void save(
                    [{ ...base, act: 'end', minutes: out, note: running.note } as Draft],
                    `${running.note}: back in the water.`,
                  )
                }}
              >
                {back}
              </Button>
            </Row>
          </>
        ) : (
          <>
            <p>{about}</p>
            <Row>
              {pieces.map((piece) => (
                <Button
                  key={piece}
                  onPress={() =>
                    void save([{ ...base, act: 'start', note: piece } as Draft], `${piece} is out: the clock runs.`)
                  }
                >
                  {piece} is out{done.has(piece) ? ' again' : ''}
                </Button>
              ))}
            </Row>
          </>
        )}
      </Stack>
    </Tray>
  )
}
