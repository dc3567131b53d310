// Water changes from a value to a target, each no larger than its limits allow.
import { changesTo, vesselVolume } from '@brinvo/core'
import { useState } from 'react'
import { useRecord } from '../../data/queries.tsx'
import { shelvedVessels } from '../../data/shelf.ts'
import { Select } from '../../design/fields.tsx'
import { Facts, Quiet, Stack, Tray } from '../../design/primitives.tsx'
import { plural, sentenceCase } from '../../design/words.ts'
import { Big, Fields, Split } from './layout.tsx'
import { useTyped } from './useTyped.tsx'
import { useUnits } from '../../parts/useUnits.ts'

export function ChangesTool() {
  const units = useUnits()
  const { record } = useRecord()
  const vessels = shelvedVessels(record)
  const [vesselId, setVessel] = useState(vessels[0]?.id ?? '')
  const vessel = record.vessels.get(vesselId)
  const net = vessel ? vesselVolume(vessel) : null
  const now = useTyped('Value now', 'mg/L', '', 0, 5000)
  const target = useTyped('Target', 'mg/L', '', 0, 5000)
  const mix = useTyped('In the new water', 'mg/L', '0', 0, 5000)
  const most = useTyped('Largest single change', '%', '25', 1, 90)
  const alkalinity = useTyped('Alkalinity of new water is off by', 'dKH', '1', 0, 20)
  const temperature = useTyped('Temperature is off by', '°C', '0.5', 0, 20)
  const salinity = useTyped('Salinity is off by', 'ppt', '0.5', 0, 20)
  const all = [now, target, mix, most, alkalinity, temperature, salinity]
  const sound = all.every(({ value }) => value !== null)
  // Most that one change may move: 0.5 dKH, 1 °C, 1 ppt.
  const plan = sound
    ? changesTo(
        now.value!,
        target.value!,
        mix.value!,
        [
          { what: 'alkalinity', gap: alkalinity.value!, most: 0.5 },
          { what: 'temperature', gap: temperature.value!, most: 1 },
          { what: 'salinity', gap: salinity.value!, most: 1 },
        ],
        most.value! / 100,
      )
    : null
  return (
    <Split>
      <Tray>
        <Stack>
          {vessels.length > 0 && (
            <Select
              label="Vessel"
              value={vesselId}
              onChange={setVessel}
              options={vessels.map(({ id, body }) => ({ value: id, label: body.name }))}
            />
          )}
          <Fields>{all.map(({ field }) => field)}</Fields>
        </Stack>
      </Tray>
      <Tray aria-live="polite" aria-label="Result">
        {!sound ? (
          <Quiet>Type value, target and new water; the answer stands here.</Quiet>
        ) : plan === null ? (
          <p>
            New water at {mix.value} mg/L never brings {now.value} to {target.value} mg/L.
          </p>
        ) : (
          <Stack>
            <Big>
              {plan.changes} × {(100 * plan.fraction).toFixed(plan.fraction < 0.1 ? 1 : 0)} %
            </Big>
            <p>
              {sentenceCase(plural(plan.changes, 'equal change'))} {plan.changes === 1 ? 'brings' : 'bring'} {now.value}{' '}
              to {Number(plan.ends.toPrecision(3))} mg/L; their size is set by{' '}
              {plan.limitedBy === 'routine' ? 'the largest single change' : plan.limitedBy}.
            </p>
            <Facts>
              {net && (
                <>
                  <dt>each, of {units.text('volume', net.litres)} net</dt>
                  <dd>{units.text('volume', net.litres * plan.fraction)}</dd>
                  <dt>new water in all</dt>
                  <dd>{units.text('volume', net.litres * plan.fraction * plan.changes)}</dd>
                </>
              )}
            </Facts>
            <Quiet>
              C = mix + (C₀ − mix)(1 − f)ⁿ. One change moves at most 0.5 dKH, 1 °C and 1 ppt. New water aerated for two
              hours and tested. From our working notes, chapter 65 §8: keepers’ practice.
            </Quiet>
          </Stack>
        )}
      </Tray>
    </Split>
  )
}
