// Every head of a vessel ticked off by its name: there, or not found; how many of a group. Nobody is assumed to be there.
import { groupOf, headsAt, residentsIn, type CampaignMeasure, type ResidentDocument } from '@brinvo/core'
import { useState } from 'react'
import { Link } from 'react-router'
import { useRecord, type Draft } from '../../data/queries.tsx'
import { Choice } from '../../design/fields.tsx'
import { Button, Quiet, Row, Stack, Tray, Well } from '../../design/primitives.tsx'
import { Photos } from '../../parts/Photos.tsx'
import { useSave } from '../../parts/StepActions.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { Counter, countOf } from './Counter.tsx'
import { useGoOn } from '../../shell/useGoOn.ts'

interface Head {
  readonly resident: ResidentDocument
  readonly of: number
}

export function HeadCount({
  courseId,
  vesselId,
  measure,
  step,
}: {
  readonly courseId: string
  readonly vesselId: string
  readonly measure: CampaignMeasure
  readonly step: string | null
}) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const save = useSave()
  const goOn = useGoOn()
  const { there, gone } = measure.byAnimal!
  const heads: Head[] = residentsIn(record, active, vesselId, nowMs).flatMap((resident) => {
    const of = headsAt(active, resident, nowMs)
    return resident.body.leftAt === undefined && of > 0 ? [{ resident, of }] : []
  })
  /** How many of each were found, as typed; nothing while nobody looked. */
  const [found, setFound] = useState<Readonly<Record<string, string>>>({})
  const foundOf = ({ resident, of }: Head) => countOf(found[resident.id] ?? '', { max: of })
  const open = heads.filter((head) => foundOf(head) === null)
  const counted = heads.flatMap((head) => {
    const here = foundOf(head)
    return here === null ? [] : [{ residentId: head.resident.id, there: here, gone: head.of - here }]
  })
  const missing = counted.filter((one) => one.gone > 0)
  const last = active.findLast(
    (entry) => entry.kind === 'tally' && entry.courseId === courseId && entry.animals !== undefined,
  )
  const before = new Map((last?.kind === 'tally' ? (last.animals ?? []) : []).map((one) => [one.residentId, one]))
  const keep = async () => {
    const sum = (of: 'there' | 'gone') => counted.reduce((all, one) => all + one[of], 0)
    const draft = {
      kind: 'tally',
      vesselId,
      courseId,
      measure: measure.id,
      values: { [there]: sum('there'), [gone]: sum('gone') },
      animals: counted,
      ...(step === null ? {} : { step }),
    } as unknown as Draft
    if (await save([draft], `${measure.title}: noted.`)) goOn(`/courses/${courseId}`)
  }
  if (heads.length === 0)
    return (
      <Well>
        Nobody is on the register of this vessel. <Link to={`/vessels/${vesselId}`}>Put in who lives there</Link>,
        snails and corals too, and count them here.
      </Well>
    )
  return (
    <Tray role="region" aria-label="Heads, one by one">
      <Stack>
        <Row $between>
          <h2>
            {counted.length} of {heads.length} answered
          </h2>
          <Button
            onPress={() => setFound(Object.fromEntries(heads.map(({ resident, of }) => [resident.id, String(of)])))}
          >
            All seen, and all well
          </Button>
        </Row>
        {heads.map((head) => {
          const { resident, of } = head
          const was = before.get(resident.id)
          const value = found[resident.id] ?? ''
          const set = (next: string) => setFound((now) => ({ ...now, [resident.id]: next }))
          return (
            <Row key={resident.id} $between role="group" aria-label={resident.body.name}>
              <span style={{ flex: '1 1 180px' }}>
                <strong>{resident.body.name}</strong>
                {of > 1 && ` × ${of}`}{' '}
                <Quiet>
                  {groupOf(resident.body.group)?.label.toLowerCase()}
                  {was && (was.gone === 0 ? ', all there last time' : `, ${was.gone} missing last time`)}
                </Quiet>
              </span>
              {of === 1 ? (
                <Choice
                  label={resident.body.name}
                  hideLabel
                  value={value}
                  onChange={set}
                  options={[
                    { value: '1', label: 'There and well' },
                    { value: '0', label: 'Missing, dead or peeling' },
                  ]}
                />
              ) : (
                <div style={{ width: 220 }}>
                  <Counter
                    field={{ id: there, label: `There, of ${of}`, max: of }}
                    of={resident.body.name}
                    value={value}
                    onChange={set}
                  />
                </div>
              )}
            </Row>
          )
        })}
        {missing.length > 0 && (
          <Well role="status">
            {missing
              .map(({ residentId, gone: lost, there: here }) => {
                const name = record.residents.get(residentId)?.body.name ?? ''
                return lost + here > 1 ? `${name}: ${lost} of ${lost + here}` : name
              })
              .join(', ')}{' '}
            not found or not well. Look under every rock; what died is noted on its own page.
          </Well>
        )}
        <Row>
          <Button look="main" isDisabled={open.length > 0} onPress={() => void keep()}>
            Save the count
          </Button>
          {open.length > 0 && <Quiet>Still open: {open.map(({ resident }) => resident.body.name).join(', ')}</Quiet>}
        </Row>
        <h3>Pictures</h3>
        <Photos subject={{ vesselId }} note={measure.title} only={measure.title} />
      </Stack>
    </Tray>
  )
}
