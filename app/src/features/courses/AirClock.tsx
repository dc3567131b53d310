// One piece or rock out of the water: a clock that outlives a reload, when it must be back, and what comes after.
import type { BathEntry } from '@brinvo/core'
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
  /** Told how long it was out, minutes. */
  readonly onBack?: (minutes: number) => void
}

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
  const seconds = running ? Math.max(0, (nowMs - Date.parse(running.at)) / 1000) : 0
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
                {running.note}, back by {timeText(Date.parse(running.at) + minutes.max * 60_000, record.settings)}:
              </strong>{' '}
              {over
                ? `over ${minutes.max} min. Back into the water now.`
                : seconds < minutes.usual * 60
                  ? `${meanwhile}; ${minutes.usual} min is usual.`
                  : enough}
            </p>
            <Row>
              <Button
                look="main"
                onPress={() => {
                  const out = Math.round(seconds / 6) / 10
                  onBack?.(out)
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
