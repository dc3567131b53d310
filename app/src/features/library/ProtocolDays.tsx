// The calendar a protocol yields, drawn: phases across the top, a row per rule, a mark per day it falls on.
import type { ProtocolCalendar } from '@brinvo/core'
import { styled } from 'styled-components'
import { Quiet, Stack } from '../../design/primitives.tsx'

const Grid = styled.div`
  display: grid;
  grid-template-columns: minmax(96px, 30%) minmax(0, 1fr);
  row-gap: 2px;
  column-gap: 8px;
  font-size: 13px;
  align-items: center;
`
const Lane = styled.div`
  position: relative;
  height: 22px;
  background: var(--well);
  border-radius: 4px;
  overflow: hidden;
`
const Phase = styled.span`
  position: absolute;
  top: 0;
  bottom: 0;
  padding: 1px 5px;
  border-left: 2px solid var(--rim);
  background: var(--water);
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
`
const Mark = styled.span`
  position: absolute;
  top: 4px;
  width: 14px;
  height: 14px;
  margin-left: -7px;
  border-radius: 3px;
  background: var(--methylene);
`
const Through = styled.span`
  position: absolute;
  top: 9px;
  height: 4px;
  border-radius: 2px;
  background: repeating-linear-gradient(90deg, var(--quiet) 0 3px, transparent 3px 6px);
`
const Name = styled.span`
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
`
const Axis = styled.div`
  position: relative;
  height: 18px;
  color: var(--quiet);
  span {
    position: absolute;
    transform: translateX(-50%);
  }
  span:first-child {
    transform: none;
  }
  span:last-child {
    transform: translateX(-100%);
  }
`
const every = (days: number): string =>
  days < 0.3
    ? `${Math.round(24 * days)} h apart`
    : days < 1
      ? `${Math.round(1 / days)} times a day`
      : days === 1
        ? 'daily'
        : `every ${Math.round(10 * days) / 10} days`

export function ProtocolDays({ calendar }: { calendar: ProtocolCalendar }) {
  const days = Math.max(1, calendar.days)
  const at = (day: number) => `${(100 * Math.min(days, day)) / days}%`
  const width = (from: number, to: number) => `${(100 * Math.max(0, Math.min(days, to) - from)) / days}%`
  const rules = [...new Set([...calendar.items, ...calendar.daily].map(({ ruleId }) => ruleId))]
  const ticks = [0, 0.25, 0.5, 0.75, 1].map((share) => Math.round(share * days))
  return (
    <Stack $gap={8}>
      <Grid
        role="img"
        aria-label={`${Math.round(days)} days: ${calendar.phases.map((phase) => `${phase.title} ${phase.days} days`).join(', then ')}`}
      >
        <Quiet>Phases</Quiet>
        <Lane>
          {calendar.phases.map((phase) => (
            <Phase
              key={phase.id}
              title={phase.title}
              style={{ left: at(phase.fromDay), width: width(phase.fromDay, phase.fromDay + phase.days) }}
            >
              {phase.title}
            </Phase>
          ))}
        </Lane>
        {rules.map((ruleId) => {
          const items = calendar.items.filter((item) => item.ruleId === ruleId)
          const through = calendar.daily.filter((item) => item.ruleId === ruleId)
          return [
            <Name key={`${ruleId}-name`} title={(through[0] ?? items[0])!.title}>
              {(through[0] ?? items[0])!.title.replace(/, 1 of \d+$/, '')}
            </Name>,
            <Lane key={ruleId}>
              {through.map((item) => (
                <Through key={item.day} style={{ left: at(item.day), width: width(item.day, item.untilDay) }} />
              ))}
              {items.map((item) => (
                <Mark key={item.day} style={{ left: `max(7px, min(calc(100% - 7px), ${at(item.day)}))` }} />
              ))}
            </Lane>,
          ]
        })}
        <Quiet>Day</Quiet>
        <Axis>
          {[...new Set(ticks)].map((day) => (
            <span key={day} style={{ left: at(day) }}>
              {day}
            </span>
          ))}
        </Axis>
      </Grid>
      <Quiet>
        A square is done once, a dotted line again and again. Late steps move what follows once the course runs.
      </Quiet>
      <details>
        <summary style={{ minHeight: 44, display: 'flex', alignItems: 'center', cursor: 'pointer', fontWeight: 600 }}>
          The same as a list
        </summary>
        <ol style={{ display: 'grid', gap: 2 }}>
          {calendar.items.map((item) => (
            <li key={`${item.ruleId}-${item.day}`}>
              day {Math.round(100 * item.day) / 100}: {item.title}
            </li>
          ))}
          {calendar.daily.map((item) => (
            <li key={`${item.ruleId}-${item.day}-daily`}>
              day {item.day} to {item.untilDay}: {item.title}, {every(item.everyDays)}
            </li>
          ))}
        </ol>
      </details>
    </Stack>
  )
}
