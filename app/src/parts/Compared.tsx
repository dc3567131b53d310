// Several instruments on the same water, side by side on one scale with their errors, and what follows.
import { comparisonsOf, comparisonWords, type Sitting } from '@brinvo/core'
import { useMemo } from 'react'
import { styled } from 'styled-components'
import { useRecord } from '../data/queries.tsx'
import { Quiet, Stack, Tray } from '../design/primitives.tsx'
import { WorkingButton } from '../design/Working.tsx'
import { timeText, whenText } from '../design/words.ts'
import { useThePlans } from '../shell/PlansContext.tsx'

/** Bands of free ammonia on the scale, mg/L of N, with their colours. */
const AMMONIA_BANDS = [
  { to: 0.02, word: 'calm', colour: 'var(--malachite)' },
  { to: 0.05, word: 'today', colour: 'var(--acriflavine)' },
  { to: 0.2, word: 'within two hours', colour: 'var(--danger)' },
  { to: 1, word: 'now', colour: 'var(--danger)' },
] as const
const LOW = 0.002
const HIGH = 1

const Scale = styled.div`
  position: relative;
  height: 22px;
  border-radius: 6px;
  overflow: hidden;
  background: var(--well);
  i,
  b {
    position: absolute;
    top: 0;
    bottom: 0;
  }
  i {
    opacity: 0.25;
    border-left: 2px solid var(--tray);
  }
  b {
    width: 4px;
    margin-left: -2px;
    border-radius: 2px;
    background: var(--ink);
  }
  u {
    position: absolute;
    top: 9px;
    height: 4px;
    border-radius: 2px;
    background: var(--quiet);
  }
`
const Ticks = styled.div`
  position: relative;
  height: 34px;
  font-size: 13px;
  color: var(--quiet);
  span {
    position: absolute;
    white-space: nowrap;
    line-height: 1.25;
  }
`

const amount = (value: number): string => (value < 0.1 ? value.toFixed(3) : String(Number(value.toPrecision(3))))

/** Where a value stands on the scale of a comparison, percent. */
function scaleOf({ quantity, readings }: Sitting): (value: number) => number {
  if (quantity === 'ammonia')
    return (value) => Math.max(0, Math.min(100, (100 * Math.log(Math.max(value, LOW) / LOW)) / Math.log(HIGH / LOW)))
  const low = Math.min(...readings.map(({ value, sd }) => value - 2.5 * sd))
  const high = Math.max(...readings.map(({ value, sd }) => value + 2.5 * sd))
  return (value) => Math.max(0, Math.min(100, (100 * (value - low)) / Math.max(high - low, 1e-9)))
}

/** One quantity by all instruments of its newest sitting. */
export function Compared({ comparison }: { comparison: Sitting }) {
  const { record } = useRecord()
  const { settings } = record
  const at = scaleOf(comparison)
  const words = comparisonWords(comparison)
  return (
    <Stack $gap={8}>
      {comparison.readings.map(({ entry, ms, by, name, value, sd }) => (
        <div key={entry.id}>
          <div style={{ display: 'flex', justifyContent: 'space-between', gap: 10, flexWrap: 'wrap' }}>
            <span>
              <strong>{name}</strong>{' '}
              <Quiet>
                {timeText(ms, settings)} · read {entry.bound === 'below' ? '< ' : ''}
                {entry.entered ? `${entry.entered.value} ${entry.entered.unit}` : `${entry.value} ${entry.unit}`}
                {entry.analyte === 'ammonia-total' ? ' in all' : ''}
              </Quiet>
            </span>
            <span>
              <strong>{amount(value)}</strong>{' '}
              <Quiet>
                ± {amount(sd)} {comparison.unit}
              </Quiet>{' '}
              {comparison.suspects.includes(by) && <strong>not to be trusted</strong>}
            </span>
          </div>
          <Scale aria-hidden>
            {comparison.quantity === 'ammonia' &&
              AMMONIA_BANDS.map(({ to, word, colour }, i) => {
                const from = at(AMMONIA_BANDS[i - 1]?.to ?? LOW)
                const opacity = word === 'now' ? 0.5 : undefined
                return (
                  <i key={word} style={{ left: `${from}%`, width: `${at(to) - from}%`, background: colour, opacity }} />
                )
              })}
            <u style={{ left: `${at(value - sd)}%`, width: `${Math.max(1, at(value + sd) - at(value - sd))}%` }} />
            <b style={{ left: `${at(value)}%` }} />
          </Scale>
        </div>
      ))}
      {comparison.quantity === 'ammonia' && (
        <Ticks aria-hidden>
          {[LOW, 0.02, 0.05, 0.2].map((value, i) => (
            <span key={value} style={{ left: `${at(value)}%` }}>
              {i === 0 ? 'less' : value}
              <br />
              {['calm', 'today', 'in 2 h', 'now'][i]}
            </span>
          ))}
        </Ticks>
      )}
      {words !== '' && <p>{words}</p>}
      {[...new Set(comparison.readings.flatMap(({ assumed }) => assumed))].map((line) => (
        <Quiet key={line}>{line}</Quiet>
      ))}
      <div>
        <WorkingButton working={comparison.working} label={`Working of the ${comparison.label.toLowerCase()}`} />
      </div>
    </Stack>
  )
}

/** Everything that two instruments read in one sitting within a week; nothing where each stands alone. */
export function SideBySide({ vesselId, except }: { vesselId: string; except?: Sitting['quantity'] }) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const several = useMemo(
    () =>
      comparisonsOf(record, active, vesselId, nowMs).filter(
        ({ readings, quantity }) => readings.length > 1 && quantity !== except,
      ),
    [record, active, vesselId, nowMs, except],
  )
  if (several.length === 0) return null
  return (
    <Tray role="region" aria-label="Instruments side by side">
      <Stack>
        {several.map((comparison) => (
          <Stack key={comparison.quantity} $gap={8}>
            <h2>
              {comparison.label} by {comparison.readings.length === 2 ? 'two' : comparison.readings.length} instruments{' '}
              <Quiet>{whenText(comparison.newestMs, nowMs, record.settings)}</Quiet>
            </h2>
            <Compared comparison={comparison} />
          </Stack>
        ))}
      </Stack>
    </Tray>
  )
}
