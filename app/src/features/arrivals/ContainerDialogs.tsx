// What is done with one bag before it is opened: measured, looked over, refused.
import {
  TDS_PER_US,
  checkMeasured,
  type ArrivalDocument,
  type Container,
  type ContainerEntry,
  type Inspection,
} from '@brinvo/core'
import { useState } from 'react'
import { styled } from 'styled-components'
import { useRecord, type Draft } from '../../data/queries.tsx'
import { Dialog } from '../../design/Dialog.tsx'
import { Check, Choice, Field } from '../../design/fields.tsx'
import { Button, Quiet, Row, Stack, Well } from '../../design/primitives.tsx'
import { useQuantities, type QuantitySpec } from '../../parts/QuantityFields.tsx'
import { useSave } from '../../parts/StepActions.tsx'
import { useTold } from '../../parts/useTold.ts'

type Field7 = 'tempC' | 'salinityPsu' | 'conductivityUs' | 'phNbs' | 'tanMgN' | 'alkalinityDkh' | 'volumeL'
const SPECS: Readonly<Record<Field7, QuantitySpec<Field7>>> = {
  tempC: { id: 'tempC', label: 'Temperature', dimension: 'temperature' },
  salinityPsu: { id: 'salinityPsu', label: 'Salinity', dimension: 'salinity' },
  conductivityUs: { id: 'conductivityUs', label: 'Conductivity', dimension: 'conductivity', unit: 'µS/cm' },
  phNbs: { id: 'phNbs', label: 'pH', dimension: 'ph', unit: 'pH' },
  tanMgN: {
    id: 'tanMgN',
    label: 'Total ammonia',
    dimension: 'concentration',
    unit: 'mg/L',
    hint: 'As nitrogen, by drop test.',
  },
  alkalinityDkh: { id: 'alkalinityDkh', label: 'Alkalinity', dimension: 'alkalinity' },
  volumeL: { id: 'volumeL', label: 'Water in the bag', dimension: 'volume' },
}

/** Everything is optional: what is left out stays a range. */
export function MeasureDialog({
  arrival,
  container,
  entries,
  onClose,
  live = false,
}: {
  arrival: ArrivalDocument
  container: Container
  entries: readonly ContainerEntry[]
  onClose: () => void
  /** At the tank: the tub's water now, which corrects the curve. */
  live?: boolean
}) {
  const told = useTold()
  const { record } = useRecord()
  const save = useSave()
  const fresh = record.vessels.get(container.vesselId)?.body.water === 'fresh'
  const wanted: readonly Field7[] = live
    ? ['tempC', fresh ? 'conductivityUs' : 'salinityPsu', 'phNbs', 'tanMgN']
    : ['tempC', fresh ? 'conductivityUs' : 'salinityPsu', 'phNbs', 'tanMgN', 'volumeL', 'alkalinityDkh']
  const form = useQuantities(
    wanted.map((id) => SPECS[id]),
    record.settings,
  )
  const [fouled, setFouled] = useState(entries.some((entry) => entry.fouled === true))
  const impossible = checkMeasured(form.values)
  const keep = async () => {
    form.ask()
    if (!form.sound || impossible.length > 0 || (!form.any && !fouled)) return
    const done = await save(
      [
        {
          kind: 'container',
          arrivalId: arrival.id,
          containerId: container.id,
          act: 'measured',
          ...Object.fromEntries(Object.entries(form.values).map(([key, value]) => [key, Number(value.toPrecision(8))])),
          ...(fresh && form.values.conductivityUs !== undefined
            ? { salinityPsu: (form.values.conductivityUs * TDS_PER_US) / 1000 }
            : {}),
          ...(live ? {} : { fouled }),
        } as Draft,
      ],
      live ? 'Measured: the curve is corrected.' : `${container.label} measured.`,
    )
    if (done) onClose()
  }
  return (
    <Dialog
      title={live ? `${container.label}: the tub now` : `Measure ${container.label}`}
      isOpen
      onClose={onClose}
      wide
    >
      {!live && (
        <Quiet>
          Through a small cut, with clean probes, before anything else. What you leave out is taken as a range and said
          so.
        </Quiet>
      )}
      {form.fields}
      {impossible.map(({ rule, message }) => (
        <p key={rule} role="alert" style={{ color: 'var(--danger)', fontWeight: 600 }}>
          {told(message)}
        </p>
      ))}
      {!live && (
        <Check isSelected={fouled} onChange={setFouled}>
          Fouled: smell of rot, brown or milky water, foam that stays, loose tissue, a dead bag-mate
        </Check>
      )}
      <Row>
        <Button look="main" onPress={() => void keep()}>
          Note it
        </Button>
      </Row>
    </Dialog>
  )
}

const Looks = styled.ul`
  display: grid;
  gap: 0;
  li {
    padding: 8px 0;
  }
  li + li {
    border-top: 1px solid var(--hairline);
  }
`
type Answer = 'good' | 'doubtful' | 'bad'
type Verdict = 'accept' | 'hold' | 'refuse'

/** Sixty seconds with each bag: every look answered, then a verdict that follows from them and may be overruled. */
export function InspectDialog({
  arrival,
  container,
  inspection,
  onClose,
}: {
  arrival: ArrivalDocument
  container: Container
  inspection: Inspection
  onClose: () => void
}) {
  const save = useSave()
  const [answers, setAnswers] = useState<Readonly<Record<string, Answer>>>({})
  const open = inspection.looks.filter((look) => answers[look] === undefined)
  // What was not looked at is not good: nothing is suggested before the worst of it is known.
  const suggested: Verdict | null = Object.values(answers).includes('bad')
    ? 'refuse'
    : Object.values(answers).includes('doubtful')
      ? 'hold'
      : open.length === 0
        ? 'accept'
        : null
  const [chosen, setChosen] = useState<Verdict | null>(null)
  const verdict = chosen ?? suggested
  const keep = async () => {
    if (verdict === null) return
    const done = await save(
      [
        {
          kind: 'container',
          arrivalId: arrival.id,
          containerId: container.id,
          act: 'inspected',
          verdict,
          // Only what was looked at is written: the rest stays open.
          looks: inspection.looks.flatMap((look) => (answers[look] ? [{ look, answer: answers[look] }] : [])),
        } as Draft,
      ],
      `${container.label} looked over.`,
    )
    if (done) onClose()
  }
  return (
    <Dialog title={`Look ${container.label} over`} isOpen onClose={onClose} wide>
      <Quiet>
        Before the bag is opened, in the same white light each time. What is left open is written as not looked at.
      </Quiet>
      <Looks>
        {inspection.looks.map((look) => (
          <li key={look}>
            <Choice
              label={look.charAt(0).toUpperCase() + look.slice(1)}
              value={answers[look] ?? null}
              onChange={(answer) => setAnswers((before) => ({ ...before, [look]: answer }))}
              options={[
                { value: 'good', label: 'Good' },
                { value: 'doubtful', label: 'Doubtful' },
                { value: 'bad', label: 'Bad' },
              ]}
            />
          </li>
        ))}
      </Looks>
      {open.length > 1 && (
        <Row>
          <Button
            onPress={() =>
              setAnswers((before) => ({
                ...Object.fromEntries(open.map((look) => [look, 'good' as const])),
                ...before,
              }))
            }
          >
            {open.length === inspection.looks.length ? 'All of it is good' : 'The rest is good'}
          </Button>
        </Row>
      )}
      <Choice
        label="Verdict"
        value={verdict}
        onChange={setChosen}
        wide
        options={[
          { value: 'accept', label: 'Take it', note: inspection.accept },
          { value: 'hold', label: 'Hold it alone', note: inspection.hold },
          { value: 'refuse', label: 'Do not take it', note: inspection.refuse },
        ]}
      />
      {verdict === 'refuse' && (
        <Well>
          Noted as not to be taken. “Refuse or return” closes the bag with its reason; an animal that still lives is
          never released into the wild.
        </Well>
      )}
      <Row>
        <Button look="main" isDisabled={verdict === null} onPress={() => void keep()}>
          Note it
        </Button>
      </Row>
    </Dialog>
  )
}

export function RefuseDialog({
  arrival,
  container,
  onClose,
}: {
  arrival: ArrivalDocument
  container: Container
  onClose: () => void
}) {
  const save = useSave()
  const [how, setHow] = useState<'refused' | 'returned' | 'dead'>('refused')
  const [reason, setReason] = useState('')
  const [asked, setAsked] = useState(false)
  const keep = async () => {
    setAsked(true)
    if (reason.trim().length < 3) return
    const done = await save(
      [
        {
          kind: 'container',
          arrivalId: arrival.id,
          containerId: container.id,
          act: 'refuse',
          how,
          reason: reason.trim(),
        } as Draft,
      ],
      `${container.label}: noted.`,
    )
    if (done) onClose()
  }
  return (
    <Dialog title={`${container.label} is not taken`} isOpen onClose={onClose}>
      <Stack>
        <Choice
          label="What happens"
          value={how}
          onChange={setHow}
          options={[
            { value: 'refused', label: 'Refused' },
            { value: 'returned', label: 'Returned' },
            { value: 'dead', label: 'Dead on arrival' },
          ]}
        />
        <Field
          label="Why"
          value={reason}
          onChange={setReason}
          multiline
          error={
            asked && reason.trim().length < 3 ? 'A few words: the seller will ask, and so will you in a year.' : null
          }
          hint="Photograph it in the closed bag first."
        />
        <Row>
          <Button look="main" onPress={() => void keep()}>
            Note it
          </Button>
        </Row>
      </Stack>
    </Dialog>
  )
}
