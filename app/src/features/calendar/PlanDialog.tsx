// A start that is meant for a day: which protocol, where, when. Nothing is dosed by it and nothing moves.
import { dayOf, addDays, protocolLibrary, protocolOf, wholeDays, type PlannedDocument } from '@brinvo/core'
import { useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import { useActions, useRecord } from '../../data/queries.tsx'
import { Dialog } from '../../design/Dialog.tsx'
import { Select } from '../../design/fields.tsx'
import { Button, Quiet, Row, Stack } from '../../design/primitives.tsx'
import { plural, sentenceCase } from '../../design/words.ts'
import { DateTimeField } from '../../parts/DateTimeField.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'

export function PlanDialog({
  planned,
  onClose,
  onDrop,
}: {
  planned: PlannedDocument | null
  onClose: () => void
  onDrop: (document: PlannedDocument) => void
}) {
  const { record } = useRecord()
  const { nowMs } = useThePlans()
  const { create, revise } = useActions()
  const navigate = useNavigate()
  const { zone } = record.settings
  const today = dayOf(nowMs, zone)
  const [protocolId, setProtocolId] = useState<string>(planned?.body.protocolId ?? '')
  const [vesselId, setVesselId] = useState<string>(planned?.body.vesselId ?? '')
  const [startsOn, setStartsOn] = useState<string>(planned?.body.startsOn ?? addDays(today, 7))
  const [wrong, setWrong] = useState<string | null>(null)
  const [busy, setBusy] = useState(false)
  const options = useMemo(
    () =>
      protocolLibrary
        .map((protocol) => ({ value: protocol.id, label: `${protocol.title} · ${plural(wholeDays(protocol), 'day')}` }))
        .sort((a, b) => a.label.localeCompare(b.label)),
    [],
  )
  const protocol = protocolOf(protocolId)
  const vessels = [...record.vessels.values()].filter(
    ({ body }) =>
      body.archivedAt === undefined && (!protocol || protocol.water === 'both' || body.water === protocol.water),
  )
  const save = async () => {
    if (!protocol) return setWrong('Choose what is to begin.')
    if (!/^\d{4}-\d\d-\d\d$/.test(startsOn)) return setWrong('The day is missing.')
    if (startsOn < today) return setWrong('That day has gone by. What has begun already is a course: start it now.')
    if (startsOn > addDays(today, 730)) return setWrong('Two years ahead at most.')
    const body = { protocolId, startsOn, ...(vesselId === '' ? {} : { vesselId }) }
    setBusy(true)
    try {
      if (planned) await revise(planned, { ...planned.body, ...body, vesselId: vesselId === '' ? undefined : vesselId })
      else await create('planned', body)
      onClose()
    } catch (cause) {
      setWrong((cause as Error).message)
    } finally {
      setBusy(false)
    }
  }
  return (
    <Dialog title={planned ? 'A planned start' : 'Plan a start'} isOpen onClose={onClose}>
      <Stack>
        <Select
          label="What is to begin"
          value={protocolId}
          onChange={setProtocolId}
          options={[{ value: '', label: 'please choose' }, ...options]}
        />
        <Select
          label="Where"
          value={vessels.some(({ id }) => id === vesselId) ? vesselId : ''}
          onChange={setVesselId}
          options={[
            { value: '', label: 'not known yet' },
            ...vessels.map(({ id, body }) => ({ value: id, label: body.name })),
          ]}
        />
        <DateTimeField label="Begins on" value={startsOn} onChange={setStartsOn} day />
        {protocol && (
          <Quiet>
            {sentenceCase(plural(wholeDays(protocol), 'day'))} with the watching that belongs to it. Nothing is dosed by
            a plan: on the day the start page asks for everything as ever.
          </Quiet>
        )}
        {wrong !== null && <p role="alert">{wrong}</p>}
        <Row>
          <Button look="main" isDisabled={busy} onPress={() => void save()}>
            {planned ? 'Keep it so' : 'Put it into the calendar'}
          </Button>
          {planned && (
            <>
              <Button
                onPress={() =>
                  void navigate(
                    `/courses/new?protocol=${planned.body.protocolId}&planned=${planned.id}${planned.body.vesselId === undefined ? '' : `&vessel=${planned.body.vesselId}`}`,
                  )
                }
              >
                Begin it now
              </Button>
              <Button look="bare" onPress={() => onDrop(planned)}>
                Let it go
              </Button>
            </>
          )}
        </Row>
      </Stack>
    </Dialog>
  )
}
