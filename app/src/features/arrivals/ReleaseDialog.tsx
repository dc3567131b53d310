// The animal is in the water: it becomes a resident, its bag is closed, and the first looks go onto the round.
import {
  typedNumber,
  DEFAULT_TARGET_PAR,
  groupOf,
  homeSalinity,
  kindOf,
  lightStart,
  liveInputsOf,
  newCourseBody,
  protocolOf,
  species,
  tankInputs,
  transitHours,
  containerEntries,
  type ArrivalDocument,
  type Container,
  type CourseBody,
  type LiveRun,
} from '@brinvo/core'
import { useState } from 'react'
import { v7 } from 'uuid'
import { useRecord, type Draft } from '../../data/queries.tsx'
import { Dialog } from '../../design/Dialog.tsx'
import { Check, Field } from '../../design/fields.tsx'
import { Button, Quiet, Row, Well } from '../../design/primitives.tsx'
import { Asked } from '../../parts/Refusals.tsx'
import { useAct } from '../../parts/useAct.ts'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { useUnits } from '../../parts/useUnits.ts'

export function ReleaseDialog({
  arrival,
  container,
  run,
  onClose,
}: {
  arrival: ArrivalDocument
  container: Container
  run: LiveRun
  onClose: () => void
}) {
  const units = useUnits()
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const vessel = record.vessels.get(container.vesselId)
  const water = vessel?.body.water ?? 'marine'
  const kind = kindOf(container.group, water)
  const known = species.find(({ common }) => common === container.commonName)
  const isFish = groupOf(container.group)?.kind === 'fish'
  const entries = containerEntries(active, arrival.id, container.id)
  const hours = transitHours(arrival, container, entries, nowMs)
  const inputs = liveInputsOf({ record, active, arrival, container, nowMs })
  // Where it is to go back to: what the tank stood at before it was brought to the bag.
  const home = homeSalinity(record, active, arrival, container, nowMs)
  const stands =
    inputs?.method === 'matched-tank'
      ? inputs.bag.salinityPsu
      : tankInputs(record, active, container.vesselId, nowMs).salinityPsu.value
  const matched = Math.abs(stands - home) > 0.3 ? stands : null
  const [name, setName] = useState(container.commonName ?? container.label)
  const [count, setCount] = useState(String(container.count))
  // An anemone's own looks come with the flow.
  const [looks, setLooks] = useState(kind.light !== 'anemone' && kind.id !== 'plant')
  const [hold, setHold] = useState(kind.light === 'anemone')
  const [light, setLight] = useState(kind.light !== 'none')
  const [target, setTarget] = useState(
    String(kind.light === 'anemone' ? DEFAULT_TARGET_PAR.anemone : DEFAULT_TARGET_PAR.coral),
  )
  const [clip, setClip] = useState(known?.herbivore === true)
  const [back, setBack] = useState(matched !== null)
  const early = run.next !== null && run.next.act !== 'move' && run.phase !== 'stopped'

  const [residentId] = useState(() => v7())
  const targetPar = typedNumber(target)
  const start = (id: string, parameters: Record<string, number> = {}): CourseBody =>
    newCourseBody({
      protocol: protocolOf(id)!,
      vesselId: container.vesselId,
      startMs: nowMs,
      zone: record.settings.zone,
      residents: [residentId],
      parameters,
      instruments: {},
    })
  /** Courses that begin as it is let go, or the sentence that says what is missing. */
  const courses = (): CourseBody[] | string => {
    if (light && !(targetPar >= 10 && targetPar <= 800)) return 'Light it is to live in: 10 to 800 µmol/m²/s.'
    const found: CourseBody[] = []
    if (looks) found.push(start(isFish ? 'after-release' : 'after-release-invertebrate'))
    if (hold) found.push(start('settle-anemone'))
    if (light) {
      const from = lightStart({ sourcePar: container.sourcePar ?? null, targetPar, transitH: hours ?? 12 })
      found.push(start('light-steps', { 'start-par': Math.max(5, Math.round(from)), 'target-par': targetPar }))
    }
    if (clip) found.push(start('seaweed-clip'))
    if (back && matched !== null)
      found.push(
        start('salinity-steps', {
          'from-psu': Number(matched.toFixed(1)),
          'to-psu': Number(home.toFixed(1)),
          'per-day': kind.id === 'echinoderm' ? 0.5 : 1,
          // Tonight it rests.
          'rest-days': 1,
        }),
      )
    return found
  }
  const begun = courses()
  const asking = useAct(
    typeof begun === 'string'
      ? begun
      : {
          kind: 'resident',
          vesselId: container.vesselId,
          residentId,
          count,
          body: {
            name: name.trim(),
            commonName: container.commonName ?? name.trim().slice(0, 80),
            ...(container.scientificName === undefined ? {} : { scientificName: container.scientificName }),
            group: container.group,
            arrivalId: arrival.id,
            ...(hours === null ? {} : { transitHours: Math.round(hours * 10) / 10 }),
            ...(arrival.body.source === undefined ? {} : { source: arrival.body.source }),
            ...(container.price === undefined ? {} : { price: container.price }),
          },
          courses: begun,
          with: [
            {
              kind: 'container',
              arrivalId: arrival.id,
              containerId: container.id,
              act: 'move',
              residentId,
              vesselId: container.vesselId,
            } as Draft,
          ],
        },
  )
  const [tried, setTried] = useState(false)
  const error = tried ? asking.answer.problem : null
  const keep = async () => {
    setTried(true)
    if (
      asking.may &&
      (await asking.commit(`${name.trim()} lives in ${vessel?.body.name} now. The first looks are on the round.`))
    )
      onClose()
  }
  return (
    <Dialog title={`${container.label} into ${vessel?.body.name ?? 'its vessel'}`} isOpen onClose={onClose}>
      {early && (
        <Well>
          <strong>Earlier than planned.</strong> That is right where the animal suffers or the water is foul. No bag
          water goes along.
        </Well>
      )}
      <Row $gap={12} style={{ alignItems: 'flex-start' }}>
        <div style={{ flex: '2 1 200px' }}>
          <Field label="Your name for it" value={name} onChange={setName} />
        </div>
        <div style={{ flex: '1 1 100px' }}>
          <Field label="How many went in" value={count} onChange={setCount} numeric />
        </div>
      </Row>
      <div>
        <Check isSelected={looks} onChange={setLooks}>
          Looks after 15 min, 1 h, 4 h and tomorrow; lights off for today
        </Check>
        {(kind.light === 'anemone' || hold) && (
          <Check isSelected={hold} onChange={setHold}>
            Flow down until the foot holds, guards on intakes
          </Check>
        )}
        {kind.light !== 'none' && (
          <Check isSelected={light} onChange={setLight}>
            Light in steps
          </Check>
        )}
        {light && kind.light !== 'none' && (
          <Field
            label="Light it is to live in"
            unit="µmol/m²/s"
            value={target}
            onChange={setTarget}
            numeric
            hint={
              container.sourcePar === undefined
                ? 'The source is not known: it starts at 45 % of this.'
                : `It came from ${container.sourcePar} µmol/m²/s.`
            }
          />
        )}
        {(known?.herbivore === true || clip) && (
          <Check isSelected={clip} onChange={setClip}>
            Train it to seaweed on a clip
          </Check>
        )}
        {matched !== null && (
          <Check isSelected={back} onChange={setBack}>
            Bring the tank back from {units.plain('salinity', matched)} to {units.text('salinity', home)}, at most{' '}
            {kind.id === 'echinoderm' ? '0.5' : '1'} PSU a day
          </Check>
        )}
      </div>
      {isFish && vessel?.body.purpose !== 'display' && (
        <Quiet>Its quarantine course is chosen next, from the arrival’s page.</Quiet>
      )}
      {asking.answer.problem === null && <Asked asking={asking} />}
      {error !== null && (
        <p role="alert" style={{ color: 'var(--danger)', fontWeight: 600 }}>
          {error}
        </p>
      )}
      <Row>
        <Button look="main" isDisabled={asking.busy || asking.held} onPress={() => void keep()}>
          It is in the water
        </Button>
      </Row>
    </Dialog>
  )
}
