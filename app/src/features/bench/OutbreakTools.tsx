// Two instruments for outbreaks: what a lamp does at a flow, and how many rounds end a pest that lays eggs.
import {
  conditionOf,
  lampOfPlate,
  lampShare,
  maxFlowForDose,
  passKill,
  pestOf,
  pests,
  pestSources,
  treatedShare,
  ultravioletDose,
  vesselVolume,
  type Rounds,
} from '@brinvo/core'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useSearchParams } from 'react-router'
import { useState } from 'react'
import { useRecord } from '../../data/queries.tsx'
import { shelvedVessels } from '../../data/shelf.ts'
import { Select } from '../../design/fields.tsx'
import { Facts, Quiet, Stack, Tray, Well } from '../../design/primitives.tsx'
import { plural } from '../../design/words.ts'
import { compute } from '../../workers/client.ts'
import { Big, Fields, Split } from './layout.tsx'
import { volumeText } from '../../design/words.ts'
import { useTyped, useTypedIn } from './useTyped.tsx'
import { useUnits } from '../../parts/useUnits.ts'

/** Dose for one power of ten, mJ/cm²: planning values. @source EST, handbook 60 §12 */
const TARGETS = [
  { value: '10', label: 'Bacteria, green water (10 mJ/cm² for a tenth left)' },
  { value: '35', label: 'Dinoflagellates that swim at night (35)' },
  { value: '100', label: 'Swimming stages of fish parasites (100)' },
] as const

/** Turnovers an hour under which swimmers settle faster than they pass the lamp. @source EST, handbook 60 §12 */
const LEAST_TURNOVER = 1

export function UltravioletTool() {
  const units = useUnits()
  const { record } = useRecord()
  const vessels = shelvedVessels(record)
  const [params] = useSearchParams()
  const [vesselId, setVessel] = useState(params.get('vessel') ?? vessels[0]?.id ?? '')
  const vessel = record.vessels.get(vesselId)
  const net = vessel ? vesselVolume(vessel) : null
  const [known, setKnown] = useState<string>('plate')
  const plateDose = useTyped('Dose on its plate', 'mJ/cm²', '90', 1, 2000)
  const plateFlow = useTypedIn('flow', 'at a flow of', 400, 1, 20_000)
  const irradiance = useTyped('Irradiance inside, new lamp', 'mW/cm²', '10', 0.1, 200)
  const chamber = useTypedIn('volume', 'Water in the chamber', 0.6, 0.01, 50)
  const flow = useTypedIn('flow', 'Flow', 600, 1, 20_000)
  const run = useTyped('Lamp has run', 'h', '0', 0, 30_000)
  const water = useTypedIn('volume', 'Net water', 100, 1, 20_000)
  const [target, setTarget] = useState<string>('35')
  const tankL = net?.litres ?? water.value
  const byPlate = known === 'plate'
  const asked = byPlate ? [plateDose.value, plateFlow.value] : [irradiance.value, chamber.value]
  const sound = [...asked, flow.value, run.value, tankL].every((value) => value !== null)
  const age = lampShare(run.value ?? 0)
  const lamp = byPlate
    ? { ...lampOfPlate(plateDose.value ?? 1, plateFlow.value ?? 1, age), tankL: tankL ?? 1 }
    : { irradianceMwPerCm2: (irradiance.value ?? 1) * age, chamberL: chamber.value ?? 1, tankL: tankL ?? 1 }
  const wanted = Number(target)
  const dose = ultravioletDose({ ...lamp, flowLPerH: flow.value ?? 1 })
  const kill = passKill(dose.doseMjPerCm2, Number(target))
  const treated = treatedShare(flow.value ?? 1, lamp.tankL, 24)
  // Dose first: the fastest flow at which this lamp still gives it, and what that turns over.
  const flowForDose = maxFlowForDose(lamp.irradianceMwPerCm2, lamp.chamberL, wanted)
  const turnover = flowForDose / lamp.tankL
  return (
    <Split>
      <Tray>
        <Stack>
          {vessels.length > 0 && (
            <Select
              label="Vessel"
              value={vesselId}
              onChange={setVessel}
              options={[
                ...vessels.map(({ id, body }) => ({ value: id, label: body.name })),
                { value: '', label: 'another water' },
              ]}
            />
          )}
          <Fields>
            {net ? <Well>Net water {volumeText(net, record.settings)}</Well> : water.field}
            <Select
              label="The lamp is known by"
              value={known}
              onChange={setKnown}
              options={[
                { value: 'plate', label: 'its plate: a dose at a flow' },
                { value: 'chamber', label: 'irradiance and chamber' },
              ]}
            />
            {byPlate ? plateDose.field : irradiance.field}
            {byPlate ? plateFlow.field : chamber.field}
            {flow.field}
            {run.field}
          </Fields>
          <Select label="Against" value={target} onChange={setTarget} options={TARGETS.map((one) => ({ ...one }))} />
        </Stack>
      </Tray>
      <Tray aria-live="polite" aria-label="Result">
        {!sound ? (
          <Quiet>Type lamp, chamber and flow; the answer stands here.</Quiet>
        ) : (
          <Stack>
            <Big>
              {dose.doseMjPerCm2.toFixed(dose.doseMjPerCm2 < 10 ? 1 : 0)} <small style={{ fontSize: 21 }}>mJ/cm²</small>
            </Big>
            <Facts>
              <dt>killed in one pass</dt>
              <dd>{(100 * kill.killed).toFixed(1)} %</dd>
              <dt>turnover of the tank</dt>
              <dd>{dose.turnoversPerH.toFixed(2)} an hour</dd>
              <dt>95 % of the water passed once</dt>
              <dd>{treated.hoursTo95.toFixed(1)} h</dd>
              <dt>killed of what swims</dt>
              <dd>{(100 * (1 - Math.exp(-dose.turnoversPerH * kill.killed))).toFixed(0)} % an hour</dd>
              <dt>flow for {wanted} mJ/cm²</dt>
              <dd>{units.text('flow', flowForDose, 2)} at most</dd>
              <dt>turnover there</dt>
              <dd>{turnover.toFixed(2)} an hour</dd>
              <dt>lamp gives now</dt>
              <dd>{Math.round(100 * lampShare(run.value!))} % of new</dd>
            </Facts>
            <Well>
              {flow.value! > 1.05 * flowForDose
                ? `Too fast: it gives ${dose.doseMjPerCm2.toFixed(0)} of the ${wanted} mJ/cm² wanted. Slow it to ${units.text('flow', flowForDose, 2)}${turnover < LEAST_TURNOVER ? `; there it turns the tank over only ${turnover.toFixed(2)} times an hour: this lamp is too small, ${(LEAST_TURNOVER / turnover).toFixed(1)} of it are wanted` : ''}.`
                : turnover < LEAST_TURNOVER
                  ? `The dose is right, the lamp is small: at ${turnover.toFixed(2)} turnovers an hour what swims grows back. ${(LEAST_TURNOVER / turnover).toFixed(1)} of it are wanted for one an hour.`
                  : 'Dose and turnover are right for this water.'}{' '}
              It meets only what swims: nothing on fish, sand or rock.
            </Well>
            <Quiet>
              Irradiance × chamber ÷ flow; survival 10^(−dose ÷ dose for a tenth); well-mixed tank. Never look into the
              lamp; unplug it before the sleeve is opened.
            </Quiet>
          </Stack>
        )}
      </Tray>
    </Split>
  )
}

const every = (days: readonly number[]): string =>
  days.length < 2 ? '' : days[1] === 1 ? 'every day' : `every ${days[1]} days`

export function PestTool() {
  const units = useUnits()
  const [pestId, setPest] = useState('montipora-nudibranch')
  const pest = pestOf(pestId)!
  const temp = useTypedIn('temperature', 'Temperature', 25, 15, 32)
  const kill = useTyped('A round takes of the mobile ones', '%', String(100 * pest.killPerRound), 5, 100)
  const eggs = useTyped('and of the eggs', '%', String(100 * pest.eggsRemoved), 0, 100)
  const mobiles = useTyped('Mobile ones found', 'animals', '5', 1, 1000)
  const eggCount = useTyped('Eggs found', 'eggs', '20', 0, 5000)
  const inputs = {
    pestId,
    tempC: temp.value ?? 25,
    kill: (kill.value ?? 80) / 100,
    eggs: (eggs.value ?? 0) / 100,
    mobiles: mobiles.value ?? 1,
    eggCount: eggCount.value ?? 0,
    wanted: 0.98,
  }
  const sound = [temp, kill, eggs, mobiles, eggCount].every(({ value }) => value !== null)
  const rounds = useQuery<Rounds>({
    queryKey: ['rounds', inputs],
    queryFn: ({ signal }: { signal: AbortSignal }) => compute.run('rounds', inputs, signal),
    enabled: sound,
    staleTime: Infinity,
    networkMode: 'always',
    retry: false,
    placeholderData: keepPreviousData,
  })
  const found = rounds.data
  return (
    <Split>
      <Tray>
        <Stack>
          <Select
            label="Pest"
            value={pestId}
            onChange={(id) => {
              setPest(id)
              const next = pestOf(id)!
              kill.set(String(100 * next.killPerRound))
              eggs.set(String(100 * next.eggsRemoved))
            }}
            options={pests.map(({ id }) => ({ value: id, label: conditionOf(id)?.label ?? id }))}
          />
          <Fields>
            {temp.field}
            {kill.field}
            {eggs.field}
            {mobiles.field}
            {eggCount.field}
          </Fields>
          <Quiet>Eggs: no dip kills them dependably. What is written for them is brushing, scraping and cutting.</Quiet>
        </Stack>
      </Tray>
      <Tray aria-live="polite" aria-label="Result">
        {rounds.error ? (
          <p role="alert">{rounds.error.message}</p>
        ) : !sound || !found ? (
          <Quiet>{sound ? 'It is being worked out.' : 'Type what a round does; the answer stands here.'}</Quiet>
        ) : found.days === null ? (
          <Stack>
            <h2>No number of rounds up to twelve will do</h2>
            <p>
              At this strength the numbers only hold steady. Take the host out: {plural(found.fallowDays, 'day')}{' '}
              without it at {units.text('temperature', inputs.tempC)} starve what is left. Or choose a round that takes
              more.
            </p>
          </Stack>
        ) : (
          <Stack>
            <Big>
              {found.days.length} {found.days.length === 1 ? 'round' : 'rounds'}{' '}
              <small style={{ fontSize: 21 }}>{every(found.days)}</small>
            </Big>
            <p>
              Days {found.days.join(', ')}: {Math.round(100 * found.chance)} % chance that none is left, if{' '}
              {found.slackH === 0 ? 'every round comes on its day' : `no round is more than ${found.slackH} h late`}.
            </p>
            <Facts>
              <dt>eggs hatch after</dt>
              <dd>
                {found.hatchDays[0]}–{found.hatchDays[1]} d
              </dd>
              <dt>young lay after</dt>
              <dd>{found.layDays.toFixed(0)} d</dd>
              <dt>clean looks before it is over</dt>
              <dd>
                {found.cleanLooks} (
                {found.overChance >= 0.995 ? '99 % or more' : `${Math.round(100 * found.overChance)} %`})
              </dd>
              <dt>least course</dt>
              <dd>{pest.leastCourseDays} d</dd>
              <dt>free of it before release</dt>
              <dd>{pest.freeDays} d</dd>
            </Facts>
            <Quiet>
              An exact branching process over eggs, young and layers at {units.text('temperature', inputs.tempC)}.{' '}
              {pestSources.map(({ text, grade }) => `${text} [${grade}]`).join('; ')}
            </Quiet>
          </Stack>
        )}
      </Tray>
    </Split>
  )
}
