// The keeper's vessels along the top, in true proportion of volume, each with one line that says how it stands.
import {
  containerEntries,
  containerStage,
  formatDuration,
  vesselVolume,
  type CoursePlan,
  type Entry,
  type KeeperRecord,
} from '@brinvo/core'
import { useMemo } from 'react'
import { NavLink } from 'react-router'
import { styled } from 'styled-components'
import { useRecord } from '../data/queries.tsx'
import { shelvedVessels } from '../data/shelf.ts'
import { VesselOutline } from '../design/marks.tsx'
import { NARROW } from '../design/theme.ts'
import { useConcerns } from './ConcernsContext.tsx'
import { useThePlans } from './PlansContext.tsx'

const Line = styled.nav`
  display: flex;
  gap: 6px;
  overflow-x: auto;
  min-width: 0;
  a {
    display: grid;
    grid-template-columns: auto auto;
    align-items: end;
    gap: 0 9px;
    padding: 4px 9px;
    border-radius: 10px;
    text-decoration: none;
    min-height: 44px;
    white-space: nowrap;
  }
  a:hover {
    background: var(--well);
  }
  a[aria-current='page'] {
    background: var(--well);
    box-shadow: inset 0 -3px 0 var(--rim);
  }
  b {
    font-weight: 700;
    line-height: 1.2;
    display: block;
    /* A long name leaves room for its neighbours; its own page says it whole. */
    max-width: 190px;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  small {
    font-size: 13px;
    color: var(--quiet);
    line-height: 1.2;
    display: block;
  }
  small[data-tone='danger'] {
    color: var(--danger);
    font-weight: 700;
  }
  small[data-tone='late'] {
    color: var(--acriflavine-ink);
    font-weight: 700;
  }
  ${NARROW} {
    svg {
      display: none;
    }
  }
`

/** One line on a vessel's state, from its courses' steps. */
export function shelfState(
  plans: readonly CoursePlan[],
  nowMs: number,
  bags = 0,
  danger = false,
): { text: string; tone: 'danger' | 'late' | 'due' | 'calm' } {
  // Whatever else is due there: the round says what it is.
  if (danger) return { text: 'act now', tone: 'danger' }
  if (bags > 0) return { text: bags === 1 ? 'a bag waits' : `${bags} bags wait`, tone: 'due' }
  const steps = plans.flatMap((plan) => plan.steps)
  const words = {
    gate: 'check due',
    ramp: 'dose',
    hold: 'dose',
    test: 'test',
    change: 'change',
    equipment: 'media',
    observe: 'watch',
    feed: 'feed',
    task: 'task',
    check: 'look',
    setting: 'step',
    dose: 'dose',
    bath: 'bath',
    transfer: 'move',
  } as const
  const late = steps.filter(({ state }) => state === 'late')
  const due = steps.filter(({ state }) => state === 'due')
  const first = [...late, ...due].sort((a, b) => rank(a.kind) - rank(b.kind))[0]
  if (
    first &&
    (first.kind === 'ramp' ||
      first.kind === 'hold' ||
      first.kind === 'test' ||
      first.kind === 'change' ||
      first.kind === 'gate' ||
      first.kind === 'check' ||
      first.kind === 'setting' ||
      first.kind === 'dose' ||
      first.kind === 'bath' ||
      first.kind === 'transfer')
  ) {
    return first.state === 'late'
      ? { text: `${words[first.kind]} ${formatDuration((nowMs - first.dueMs) / 3_600_000)} late`, tone: 'late' }
      : { text: `${words[first.kind]} due`.replace('due due', 'due'), tone: 'due' }
  }
  const plan = plans[0]
  if (plan?.fallow && plan.fallow.inside.length > 0) return { text: 'a fish in the fallow', tone: 'late' }
  const running = plans.find(({ progress }) => progress.finishedMs === null)
  if (plan && !running) return { text: 'run through', tone: 'calm' }
  if (running)
    return {
      text: running.leastDays === 0 ? 'for today' : `day ${running.day} of ${running.leastDays}`,
      tone: 'calm',
    }
  return { text: 'no course', tone: 'calm' }
}
const rank = (kind: string): number =>
  ['transfer', 'ramp', 'hold', 'dose', 'bath', 'check', 'test', 'change', 'gate', 'setting'].indexOf(kind) & 15

/** Bags that are being acclimated, by the vessel they go to. */
function bagsByVessel(record: KeeperRecord, active: readonly Entry[]): ReadonlyMap<string, number> {
  const found = new Map<string, number>()
  for (const arrival of record.arrivals.values()) {
    if (arrival.body.closedAt !== undefined) continue
    const entries = containerEntries(active, arrival.id)
    for (const { id, vesselId } of arrival.body.containers)
      if (containerStage(entries.filter(({ containerId }) => containerId === id)) === 'running')
        found.set(vesselId, (found.get(vesselId) ?? 0) + 1)
  }
  return found
}

export function Shelf() {
  const { record, active } = useRecord()
  const { plans, nowMs } = useThePlans()
  const { concerns } = useConcerns()
  const dangers = useMemo(
    () => new Set(concerns.flatMap(({ tone, vesselId }) => (tone === 'danger' ? [vesselId] : []))),
    [concerns],
  )
  const waiting = useMemo(() => bagsByVessel(record, active), [record, active])
  const vessels = shelvedVessels(record)
  const volumes = vessels.map((vessel) => vesselVolume(vessel)?.litres ?? vessel.body.nominalL)
  const largest = Math.max(1, ...volumes)
  if (vessels.length === 0) {
    return (
      <Line aria-label="Vessels">
        <NavLink to="/vessels/new">
          <VesselOutline litres={60} largest={100} height={34} />
          <span>
            <b>Empty shelf</b>
            <small>describe your first vessel</small>
          </span>
        </NavLink>
      </Line>
    )
  }
  return (
    <Line aria-label="Vessels">
      {vessels.map((vessel, i) => {
        const state = shelfState(
          plans.filter(({ vesselId }) => vesselId === vessel.id),
          nowMs,
          waiting.get(vessel.id),
          dangers.has(vessel.id),
        )
        return (
          <NavLink key={vessel.id} to={`/vessels/${vessel.id}`}>
            <VesselOutline litres={volumes[i]!} largest={largest} height={38} />
            <span>
              <b>{vessel.body.name}</b>
              <small data-tone={state.tone}>{state.text}</small>
            </span>
          </NavLink>
        )
      })}
    </Line>
  )
}
