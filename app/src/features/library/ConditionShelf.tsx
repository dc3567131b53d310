// Conditions, organisms and pests as they stand in the tables: what they are told by, what to do, where it comes from.
import { sourcesText } from '../../design/sources.ts'
import { saidBy } from './finder.ts'
import { POOLS, conditionTables, protocolOf, signOf, signPairs, type Condition } from '@brinvo/core'
import { useState } from 'react'
import { Link } from 'react-router'
import { styled } from 'styled-components'
import { Quiet, Row, Stack, Tag, Tray } from '../../design/primitives.tsx'
import { isDrawn, SignPicture } from '../../parts/Drawings.tsx'
import { LifeWheel } from '../../parts/LifeWheel.tsx'
import { typicalSigns } from './typical.ts'

const URGENCY = { 'act-now': 'within the hour', today: 'today', 'this-week': 'this week', watch: 'watch it' } as const
const label = (id: string) => signOf(id)?.label.toLowerCase() ?? id

export const conditionText = (condition: Condition): string => saidBy(condition)

export function ConditionShelf({ asked, hit }: { asked: string; hit: (text: string) => boolean }) {
  /** Asked for by its very name: it comes first, open, whatever else speaks of it. */
  const named = (condition: Condition) => condition.label.toLowerCase() === asked.trim().toLowerCase()
  const byName = (a: Condition, b: Condition) => Number(named(b)) - Number(named(a))
  const all = conditionTables
    .map((table) => ({
      table,
      shown: table.conditions.filter((condition) => hit(conditionText(condition))).sort(byName),
    }))
    .sort((a, b) => Number(b.shown.some(named)) - Number(a.shown.some(named)))
  // A few are read at once; many are a list to choose from.
  const few = all.reduce((sum, { shown }) => sum + shown.length, 0) <= 3
  return all.map(({ table, shown }) =>
    shown.length === 0 ? null : (
      <Stack key={table.id} $gap={10}>
        <h2>
          {table.label} <Quiet>{shown.length}</Quiet>
        </h2>
        {shown.map((condition) => (
          <One
            key={`${condition.id} ${few || named(condition)}`}
            condition={condition}
            open={few || named(condition)}
          />
        ))}
      </Stack>
    ),
  )
}

const Summary = styled.summary`
  min-height: 44px;
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 12px;
  cursor: pointer;
  list-style: none;
  h3 {
    flex: 1;
  }
`

const Plates = styled.ul`
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  padding: 4px 0;
  li {
    flex: 0 1 200px;
    display: flex;
    flex-direction: column;
    gap: 2px;
    font-size: 14px;
  }
`

function One({ condition, open }: { condition: Condition; open: boolean }) {
  const [isOpen, setOpen] = useState(open)
  const first = typicalSigns(condition)[0]
  return (
    <Tray
      as="details"
      open={isOpen}
      onToggle={(event) => setOpen((event.target as HTMLDetailsElement).open)}
      // A hundred of them with a plate each: what is out of sight is not drawn.
      style={{ padding: '4px 18px', contentVisibility: 'auto', containIntrinsicSize: 'auto 56px' }}
    >
      <Summary>
        <span style={{ flex: '0 0 72px' }} aria-hidden>
          {first !== undefined && <SignPicture id={first} />}
        </span>
        <h3>{condition.label}</h3>
        <Tag $tone={condition.urgency === 'act-now' ? 'danger' : 'plain'}>{URGENCY[condition.urgency]}</Tag>
      </Summary>
      {isOpen && <Entry condition={condition} />}
    </Tray>
  )
}

/** What stands in an entry; made when it is opened, for a hundred of them are a long page. */
function Entry({ condition }: { condition: Condition }) {
  const strong = Object.entries(condition.likelihood).sort((a, b) => b[1] - a[1])
  const often = strong.filter(([, p]) => p >= 0.5)
  const seldom = strong.filter(([, p]) => p <= 0.01)
  const shown = typicalSigns(condition)
  return (
    <Stack $gap={6} style={{ paddingBottom: 12 }}>
      <Quiet>
        {condition.pools.map((pool) => POOLS.find(({ id }) => id === pool)!.label.toLowerCase()).join(', ')}
        {condition.pools[0]!.endsWith('fresh') ? ', fresh water' : ''}
        {condition.hosts === undefined ? '' : ` · ${condition.hosts}`}
      </Quiet>
      {shown.length > 0 && (
        <Plates aria-label={`What “${condition.label}” looks like`}>
          {shown.map((id) => (
            <li key={id}>
              <SignPicture id={id} size={112} />
              <strong>{signOf(id)?.label}</strong>
              <Quiet>{signOf(id)?.definition}</Quiet>
            </li>
          ))}
        </Plates>
      )}
      {condition.cause !== undefined && <p>{condition.cause}</p>}
      <p>
        <strong>Told by</strong> {condition.separating}
        {condition.lookAlikes === undefined ? '' : `. Taken for: ${condition.lookAlikes}`}
      </p>
      {often.length > 0 && (
        <p>
          <strong>Often</strong> {often.map(([id, p]) => `${label(id)} (${Math.round(100 * p)} %)`).join(', ')}
        </p>
      )}
      {seldom.length > 0 && (
        <p>
          <strong>Hardly ever</strong> {seldom.map(([id]) => label(id)).join(', ')}
        </p>
      )}
      {condition.tenMinutes && (
        <p>
          <strong>First ten minutes</strong> {condition.tenMinutes.join('. ')}.
        </p>
      )}
      <p>
        <strong>Do</strong> {[...condition.today, ...condition.week].join('; ')}.{' '}
        {condition.doNot.length > 0 && (
          <>
            <strong>Do not</strong> {condition.doNot.join('; ')}.
          </>
        )}
      </p>
      <LifeWheel condition={condition.id} title={condition.label} />
      <Taken condition={condition} />
      {condition.courses.length > 0 && (
        <p>
          <strong>Courses</strong>{' '}
          {condition.courses.map((id, i) => (
            <span key={id}>
              {i > 0 && ', '}
              <Link to={`/courses/new?protocol=${id}`}>{protocolOf(id)?.title ?? id}</Link>
            </span>
          ))}
        </p>
      )}
      <Quiet>Sources: {sourcesText(condition.sources)}</Quiet>
    </Stack>
  )
}

/** Pairs of signs that are taken for each other, one of which is its own: what tells them apart, drawn. */
function Taken({ condition }: { condition: Condition }) {
  const own = new Set(typicalSigns(condition, 6))
  const pairs = signPairs.filter(({ a, b }) => own.has(a) !== own.has(b) && isDrawn(a) && isDrawn(b)).slice(0, 2)
  if (pairs.length === 0) return null
  return (
    <Stack $gap={6}>
      <h4>Easily taken for each other</h4>
      {pairs.map(({ a, b, tell }) => (
        <Row key={`${a} ${b}`} $gap={10} style={{ alignItems: 'center' }}>
          {(own.has(a) ? [a, b] : [b, a]).map((id) => (
            <figure key={id} style={{ margin: 0, flex: '0 0 auto', fontSize: 13 }}>
              <SignPicture id={id} size={72} />
              <figcaption>{signOf(id)?.label}</figcaption>
            </figure>
          ))}
          <p style={{ flex: '1 1 220px' }}>{tell}</p>
        </Row>
      ))}
    </Stack>
  )
}
