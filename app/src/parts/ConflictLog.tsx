// Ten minutes in front of the glass: chases, bites, hiding, fins; and whether it is getting better.
import { conflictState, residentsIn } from '@brinvo/core'
import { useState } from 'react'
import { styled } from 'styled-components'
import { useRecord, type Draft } from '../data/queries.tsx'
import { Choice, Select } from '../design/fields.tsx'
import { Button, Quiet, Row, Stack, Tag, Tray } from '../design/primitives.tsx'
import { useThePlans } from '../shell/PlansContext.tsx'
import { useSave } from './StepActions.tsx'

const Stepper = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto auto auto;
  gap: 8px;
  align-items: center;
  output {
    min-width: 34px;
    text-align: center;
    font-size: 21px;
    font-weight: 750;
  }
  button {
    min-width: 52px;
  }
`
function Count({
  label,
  value,
  onChange,
  by = 1,
}: {
  label: string
  value: number
  onChange: (value: number) => void
  by?: number
}) {
  return (
    <Stepper role="group" aria-label={label}>
      <span>{label}</span>
      <Button aria-label={`${label}: fewer`} onPress={() => onChange(Math.max(0, value - by))}>
        −
      </Button>
      <output>{value}</output>
      <Button aria-label={`${label}: more`} onPress={() => onChange(value + by)}>
        +
      </Button>
    </Stepper>
  )
}

export function ConflictLog({ vesselId, courseId, sinceMs }: { vesselId: string; courseId: string; sinceMs: number }) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const save = useSave()
  const fish = residentsIn(record, active, vesselId, nowMs)
  const state = conflictState(active, vesselId, sinceMs, nowMs)
  const [victim, setVictim] = useState('')
  const [by, setBy] = useState('')
  const [chases, setChases] = useState(0)
  const [bites, setBites] = useState(0)
  const [hidden, setHidden] = useState(0)
  const [fins, setFins] = useState<'0' | '1' | '2' | '3'>('0')
  const keep = async () => {
    const base = {
      kind: 'count',
      vesselId,
      courseId,
      ...(victim === '' ? {} : { residentId: victim }),
      ...(by === '' ? {} : { byResidentId: by }),
    }
    const done = await save(
      [
        { ...base, what: 'chases-10min', count: chases } as Draft,
        ...(bites > 0 ? [{ ...base, what: 'bites', count: bites } as Draft] : []),
        ...(hidden > 0 ? [{ ...base, what: 'minutes-hidden', count: hidden } as Draft] : []),
        ...(fins !== '0' ? [{ ...base, what: 'fin-state', count: Number(fins) } as Draft] : []),
      ],
      `${chases} chases in ten minutes: noted.`,
    )
    if (done) {
      setChases(0)
      setBites(0)
      setHidden(0)
      setFins('0')
    }
  }
  const options = [
    { value: '', label: 'nobody in particular' },
    ...fish.map(({ id, body }) => ({ value: id, label: body.name })),
  ]
  return (
    <Tray aria-label="Conflicts">
      <Stack $gap={10}>
        <Row $between>
          <h3>Conflicts</h3>
          {state.trend !== 'unknown' && (
            <Tag $tone={state.trend === 'rising' ? 'due' : state.trend === 'falling' ? 'good' : 'plain'}>
              {state.trend}
              {state.slopePerDay !== null && Math.abs(state.slopePerDay) >= 0.5
                ? `, ${Math.abs(state.slopePerDay).toFixed(1)} chases a day`
                : ''}
            </Tag>
          )}
        </Row>
        {state.alerts.map((alert) => (
          <p key={alert} style={{ fontWeight: 650 }}>
            {alert}
          </p>
        ))}
        <Quiet>
          {state.lastChases === null
            ? 'Nothing counted yet. Ten minutes from a distance, every pursuit over a body length.'
            : `Last count: ${state.lastChases}. ${state.sessions < 3 ? 'Three counts make a trend.' : ''}`}
        </Quiet>
        <Row $gap={10}>
          <div style={{ flex: '1 1 130px' }}>
            <Select label="Who chases" value={by} onChange={setBy} options={options} />
          </div>
          <div style={{ flex: '1 1 130px' }}>
            <Select label="Who is chased" value={victim} onChange={setVictim} options={options} />
          </div>
        </Row>
        <Count label="Chases in 10 min" value={chases} onChange={setChases} />
        <Count label="Bites" value={bites} onChange={setBites} />
        <Count label="Minutes hidden of 30" value={hidden} onChange={setHidden} by={5} />
        <Choice
          label="Fins"
          value={fins}
          onChange={setFins}
          options={[
            { value: '0', label: 'whole' },
            { value: '1', label: 'nick' },
            { value: '2', label: 'torn' },
            { value: '3', label: 'half gone' },
          ]}
        />
        <Row>
          <Button look="main" onPress={() => void keep()}>
            Note the ten minutes
          </Button>
        </Row>
      </Stack>
    </Tray>
  )
}
