// Conditions, organisms and pests as they stand in the tables: what they are told by, what to do, where it comes from.
import { POOLS, conditionTables, protocolOf, signOf, type Condition } from '@brinvo/core'
import { Link } from 'react-router'
import { Quiet, Row, Stack, Tag, Tray } from '../../design/primitives.tsx'

const URGENCY = { 'act-now': 'within the hour', today: 'today', 'this-week': 'this week', watch: 'watch it' } as const
const label = (id: string) => signOf(id)?.label.toLowerCase() ?? id

export function ConditionShelf({ hit }: { hit: (text: string) => boolean }) {
  return conditionTables.map((table) => {
    const shown = table.conditions.filter((condition) => hit(`${condition.label} ${JSON.stringify(condition)}`))
    if (shown.length === 0) return null
    return (
      <Stack key={table.id} $gap={12}>
        <h2>
          {table.label} <Quiet>{shown.length}</Quiet>
        </h2>
        {shown.map((condition) => (
          <One key={condition.id} condition={condition} />
        ))}
      </Stack>
    )
  })
}

function One({ condition }: { condition: Condition }) {
  const strong = Object.entries(condition.likelihood).sort((a, b) => b[1] - a[1])
  const often = strong.filter(([, p]) => p >= 0.5)
  const seldom = strong.filter(([, p]) => p <= 0.01)
  return (
    <Tray>
      <Stack $gap={6}>
        <Row $between>
          <h3>{condition.label}</h3>
          <Tag $tone={condition.urgency === 'act-now' ? 'danger' : 'plain'}>{URGENCY[condition.urgency]}</Tag>
        </Row>
        <Quiet>
          {condition.pools.map((pool) => POOLS.find(({ id }) => id === pool)!.label.toLowerCase()).join(', ')}
          {condition.pools[0]!.endsWith('fresh') ? ', fresh water' : ''}
          {condition.hosts === undefined ? '' : ` · ${condition.hosts}`}
        </Quiet>
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
        <Quiet>Sources: {condition.sources.map(({ text, grade }) => `${text} [${grade}]`).join('; ')}</Quiet>
      </Stack>
    </Tray>
  )
}
