// Ammonia of one vessel: what counts, by which instruments, what to do about it, and why it is watched.
import {
  ammoniaAct,
  madeUpOf,
  changedEnough,
  ammoniaOf,
  ammoniaWatchOf,
  type AmmoniaAct,
  type AmmoniaMethod,
  type AmmoniaWatch,
  type Sitting,
} from '@brinvo/core'
import { useMemo } from 'react'
import { Link, useLocation } from 'react-router'
import { styled } from 'styled-components'
import { useRecord } from '../data/queries.tsx'
import { Button, Quiet, Row, Stack, Tray } from '../design/primitives.tsx'
import { dayText, whenText } from '../design/words.ts'
import { useLog } from '../shell/LogContext.tsx'
import { useThePlans } from '../shell/PlansContext.tsx'
import { Compared } from './Compared.tsx'

const WORD: Readonly<Record<AmmoniaMethod, string>> = { total: 'drop test', free: 'badge' }
const ANALYTE = { total: 'ammonia-total', free: 'ammonia-free' } as const

const Two = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(100%, 310px), 1fr));
  gap: 14px 28px;
  align-items: start;
`
const Week = styled.ol`
  display: grid;
  grid-template-columns: repeat(7, minmax(0, 1fr));
  gap: 4px;
  text-align: center;
  font-size: 13px;
  li > span {
    display: block;
    border-radius: 5px;
    padding: 2px 0;
    border: 1.5px solid var(--hairline);
  }
  li > span + span {
    margin-top: 3px;
  }
  li > span[data-read='no'] {
    border-style: dashed;
    color: var(--quiet);
  }
  li > span[data-read='yes'] {
    border-color: var(--rim);
    font-weight: 650;
  }
`

/** Ammonia of a vessel as it counts now; `urgent` where water has to be changed today. */
export function useAmmonia(vesselId: string): {
  readonly comparison: Sitting | null
  readonly watch: AmmoniaWatch | null
  readonly act: AmmoniaAct | null
  /** Share of the water that was changed since, where that is what was asked for. */
  readonly changed: number | null
} {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  return useMemo(() => {
    const comparison = ammoniaOf(record, active, vesselId, nowMs)
    const fresh = comparison !== null && nowMs - comparison.newestMs < 86_400_000
    const act = comparison && fresh ? ammoniaAct(record, active, comparison, vesselId, nowMs) : null
    // What it asked for was done: the reading is of the water before.
    const changed = act && comparison ? changedEnough(record, active, vesselId, act, comparison.newestMs, nowMs) : null
    return {
      comparison,
      changed,
      watch: ammoniaWatchOf(record, active, vesselId, nowMs),
      act: act && act.band !== 'calm' && changed === null ? act : null,
    }
  }, [record, active, vesselId, nowMs])
}

/** Nothing where no ammonia was read within a week and nothing asks for it. */
export function AmmoniaPanel({ vesselId }: { vesselId: string }) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const { pathname } = useLocation()
  const log = useLog()
  const { comparison, watch, act, changed } = useAmmonia(vesselId)
  if (!comparison && !watch) return null
  const { settings } = record
  const methods: readonly AmmoniaMethod[] = ['total', 'free']
  const without = methods.filter(
    (method) =>
      ![...record.instruments.values()].some(
        ({ body }) => body.analyte === ANALYTE[method] && body.retiredAt === undefined,
      ),
  )
  return (
    <Tray role="region" aria-label="Ammonia" $tone={act ? (act.band === 'watch' ? 'caution' : 'danger') : 'plain'}>
      <Stack $gap={10}>
        <Row $between>
          <h2>{act ? `Ammonia: ${act.title.toLowerCase()}` : 'Ammonia'}</h2>
          {comparison && <Quiet>{whenText(comparison.newestMs, nowMs, settings)}</Quiet>}
        </Row>
        {changed !== null && (
          <p>
            <strong>{Math.round(100 * changed)} % was changed since.</strong> Read it again an hour after: what stands
            below is the water before.
          </p>
        )}
        {act && (
          <ol style={{ listStyle: 'decimal', paddingLeft: 22 }}>
            {act.acts.map((one) => (
              <li key={one}>{one}</li>
            ))}
          </ol>
        )}
        {act?.fraction !== undefined && (
          <Row>
            <Button
              look="main"
              onPress={() =>
                log({ kind: 'change', vesselId, fraction: act.fraction!, ...madeUpOf(record, active, vesselId, nowMs) })
              }
            >
              Log the change
            </Button>
          </Row>
        )}
        <Two>
          {comparison && <Compared comparison={comparison} />}
          {watch && (
            <Stack $gap={6}>
              <h3>
                {watch.asked.length === 2 ? 'Both methods' : `By ${WORD[watch.asked[0]!]}`}{' '}
                {watch.everyDays === 1 ? 'every day' : 'every second day'}{' '}
                <Quiet>
                  {watch.untilMs === null ? 'until it is over' : `until ${dayText(watch.untilMs, settings)}`}
                </Quiet>
              </h3>
              <ul>
                {watch.reasons.map(({ id, words }) => (
                  <li key={id}>{words}.</li>
                ))}
              </ul>
              <Week aria-label="Ammonia read in the last seven days">
                {watch.days.map(({ day, methods: read, asked }) => (
                  <li key={day} title={asked ? undefined : 'Not asked for'}>
                    {Number(day.slice(8))}
                    {methods.map((method) => (
                      <span
                        key={method}
                        data-read={read.includes(method) ? 'yes' : 'no'}
                        aria-label={`${WORD[method]} ${read.includes(method) ? 'read' : 'not read'}`}
                      >
                        {WORD[method].split(' ')[0]}
                      </span>
                    ))}
                  </li>
                ))}
              </Week>
            </Stack>
          )}
        </Two>
        <Row>
          {methods.map((method) => (
            <Button
              key={method}
              look={watch?.missing[0] === method ? 'main' : 'plain'}
              onPress={() => log({ kind: 'reading', vesselId, analyte: ANALYTE[method] })}
            >
              Enter the {WORD[method]}
            </Button>
          ))}
        </Row>
        {watch && without.length > 0 && (
          <Quiet>
            No {without.map((method) => WORD[method]).join(' and no ')} in the{' '}
            <Link to={`/cupboard?add=kit&analyte=${ANALYTE[without[0]!]}&then=${encodeURIComponent(pathname)}`}>
              cupboard
            </Link>{' '}
            yet: its usual error is taken.
          </Quiet>
        )}
      </Stack>
    </Tray>
  )
}
