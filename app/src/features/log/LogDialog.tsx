// Log something: a reading in three presses, or one typed line. Nothing typed is lost when something speaks against it.
import { useEffect, useState, type FormEvent } from 'react'
import { useRecord } from '../../data/queries.tsx'
import { Dialog } from '../../design/Dialog.tsx'
import { Choice, Field, Select } from '../../design/fields.tsx'
import { Button, Row, Stack } from '../../design/primitives.tsx'
import { localInput } from '../../design/words.ts'
import { Asked } from '../../parts/Refusals.tsx'
import { useAct } from '../../parts/useAct.ts'
import type { LogKind, LogPreset } from '../../shell/LogContext.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import {
  ChangeFields,
  DoseFields,
  EquipmentFields,
  MealFields,
  MoveFields,
  ReadingFields,
  SignFields,
} from './LogFields.tsx'
import { useLogForm } from './useLogForm.ts'
import { DateTimeField } from '../../parts/DateTimeField.tsx'

const KINDS: readonly { value: LogKind; label: string }[] = [
  { value: 'reading', label: 'Reading' },
  { value: 'dose', label: 'Dose' },
  { value: 'change', label: 'Water change' },
  { value: 'meal', label: 'Meal' },
  { value: 'sign', label: 'Sign' },
  { value: 'equipment', label: 'Media' },
  { value: 'move', label: 'Move' },
  { value: 'note', label: 'Note' },
]
/** Kinds whose field says itself what is wrong with it. */
const OWN_FIELD: ReadonlySet<LogKind> = new Set(['reading', 'dose', 'change', 'note'])

export function LogDialog({ preset, onClose }: { preset: LogPreset; onClose: () => void }) {
  const { record } = useRecord()
  const { nowMs, known, pending } = useThePlans()
  const form = useLogForm(preset)
  const asking = useAct(form.intent)
  const { zone } = record.settings
  const [tried, setTried] = useState(false)
  const [lineError, setLineError] = useState<string | null>(null)
  const [queued, setQueued] = useState(false)
  const byLine = form.line.trim() !== ''
  const { answer } = asking
  // Without the level a ceiling cannot be checked: hold the press until it is worked out.
  const holds =
    form.kind === 'dose' &&
    pending &&
    form.plan?.band?.form.heldAtLevel === true &&
    !known.some(({ vesselId }) => vesselId === form.vesselId)

  const save = async () => {
    setTried(true)
    if (answer.problem !== null) return
    if (holds) return setQueued(true)
    if (!asking.may) return
    if (await asking.commit(withVessel(answer.said, record.vessels.get(form.vesselId)?.body.name))) onClose()
  }
  const submit = (event?: FormEvent) => {
    event?.preventDefault()
    if (byLine) setLineError(form.readLine())
    else void save()
  }
  useEffect(() => {
    if (!queued || holds) return
    setQueued(false)
    void save()
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once, when the level has been worked out
  }, [queued, holds])

  const error = tried && !byLine ? answer.problem : null
  const fields = { form, error }
  return (
    <Dialog title={preset.corrects !== undefined ? 'Correct an entry' : 'Log something'} isOpen onClose={onClose} wide>
      <form onSubmit={submit}>
        <Stack $gap={14}>
          <Row $gap={14} style={{ alignItems: 'flex-start' }}>
            <div style={{ flex: '1 1 180px' }}>
              <Select
                label="Vessel"
                value={form.vesselId}
                onChange={form.setVesselId}
                options={form.vessels.map(({ id, body }) => ({ value: id, label: body.name }))}
              />
            </div>
            <DateTimeField
              label={form.when === '' ? 'When (now)' : 'When'}
              value={form.when === '' ? localInput(nowMs, zone) : form.when}
              max={localInput(nowMs, zone)}
              onChange={form.setWhen}
            />
          </Row>
          {preset.corrects === undefined && (
            <Choice
              label="What"
              hideLabel
              value={form.kind}
              onChange={(next) => {
                form.setKind(next)
                form.setValue('')
                setTried(false)
                asking.reset()
              }}
              options={KINDS}
            />
          )}
          {form.kind === 'reading' && (
            <ReadingFields {...fields} {...(preset.corrects === undefined ? {} : { corrects: preset.corrects })} />
          )}
          {form.kind === 'dose' && <DoseFields {...fields} answer={answer} />}
          {form.kind === 'change' && <ChangeFields {...fields} answer={answer} />}
          {form.kind === 'meal' && <MealFields form={form} />}
          {form.kind === 'sign' && <SignFields form={form} />}
          {form.kind === 'equipment' && <EquipmentFields form={form} />}
          {form.kind === 'move' && <MoveFields form={form} />}
          {(form.kind === 'note' || form.note !== '') && (
            <Field
              label="Note"
              value={form.note}
              onChange={form.setNote}
              multiline
              error={form.kind === 'note' ? error : null}
              autoFocus={form.kind === 'note'}
            />
          )}
          {answer.problem === null &&
            (tried ||
              asking.failure !== null ||
              form.kind === 'equipment' ||
              form.kind === 'move' ||
              form.value.trim() !== '') && (
              <Asked asking={asking} temperature={form.temperature} onTemperature={form.setTemperature} />
            )}
          {form.kind !== 'note' && form.note === '' && preset.corrects === undefined && (
            <Field
              label="Or type one line"
              value={form.line}
              onChange={(next) => {
                form.setLine(next)
                setLineError(null)
              }}
              placeholder={`${record.vessels.get(form.vesselId)?.body.name ?? 'Name of the vessel'} temperature 25.4, 20:10`}
              error={byLine ? lineError : null}
              hint={
                byLine ? 'Enter puts it into the fields above, where you can look at it before it is saved.' : undefined
              }
            />
          )}
          {error !== null && !OWN_FIELD.has(form.kind) && (
            <p role="alert" style={{ color: 'var(--danger)', fontWeight: 650 }}>
              {error}
            </p>
          )}
          <Row>
            <Button look="main" type="submit" isDisabled={asking.busy || asking.held}>
              {queued
                ? 'Working out the level…'
                : byLine
                  ? 'Read the line'
                  : preset.corrects !== undefined
                    ? 'Save the correction'
                    : 'Save'}
            </Button>
            {form.kind !== 'note' && form.note === '' && (
              <Button look="bare" onPress={() => form.setNote(' ')}>
                Add a note
              </Button>
            )}
          </Row>
        </Stack>
      </form>
    </Dialog>
  )
}

const withVessel = (said: string, name: string | undefined): string =>
  name === undefined || said.includes(name) ? said : `${said} ${name}`
