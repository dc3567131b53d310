// Water for a laboratory: which samples are out, what came back, and one press to have another vial.
import { instantMs, instantOf, stageOf, type SampleDocument } from '@brinvo/core'
import { useState } from 'react'
import { Link, useNavigate, useSearchParams } from 'react-router'
import { styled } from 'styled-components'
import { useActions, useRecord } from '../../data/queries.tsx'
import { shelvedVessels } from '../../data/shelf.ts'
import { Field, Select } from '../../design/fields.tsx'
import { Button, Page, Quiet, Row, Stack, Tag, Tray, Well } from '../../design/primitives.tsx'
import { longDayText } from '../../design/words.ts'
import { useThePlans } from '../../shell/PlansContext.tsx'

const List = styled.ul`
  li {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 18px;
    justify-content: space-between;
    align-items: baseline;
    padding: 10px 0;
  }
  li + li {
    border-top: 1px solid var(--hairline);
  }
`
const DAY = 86_400_000
export const STAGE_WORDS = {
  ordered: 'vial at home, empty',
  drawn: 'drawn, not sent',
  sent: 'at the laboratory',
  reported: 'reported',
  lost: 'lost',
} as const

/** When a sample last moved on. */
export const movedAt = ({ body, savedAt }: SampleDocument): number =>
  instantMs(body.lostAt ?? body.reportedAt ?? body.sentAt ?? body.sampledAt ?? body.orderedAt ?? savedAt)

export function LaboratoryPage() {
  const { record } = useRecord()
  const { create } = useActions()
  const { nowMs } = useThePlans()
  const navigate = useNavigate()
  const [params] = useSearchParams()
  const vessels = shelvedVessels(record)
  const samples = [...record.samples.values()].sort((a, b) => movedAt(b) - movedAt(a))
  const [vesselId, setVessel] = useState(params.get('vessel') ?? vessels[0]?.id ?? '')
  const [laboratory, setLaboratory] = useState(samples[0]?.body.laboratory ?? '')
  const [bottle, setBottle] = useState('')
  const [error, setError] = useState<string | null>(null)
  const order = async () => {
    if (laboratory.trim() === '') return setError('Which laboratory? A name you will know it by.')
    if (laboratory.trim().length > 80) return setError('The name is longer than 80 letters: shorten it.')
    try {
      const sample = await create('sample', {
        vesselId,
        laboratory: laboratory.trim(),
        ...(bottle.trim() === '' ? {} : { bottle: bottle.trim().slice(0, 40) }),
        orderedAt: instantOf(nowMs),
      })
      void navigate(`/laboratory/${sample.id}`)
    } catch (cause) {
      setError((cause as Error).message)
    }
  }
  return (
    <Page $aside>
      <Stack $gap={16}>
        <h1>Laboratory</h1>
        <Tray>
          <Stack>
            <h2>A vial for {record.vessels.get(vesselId)?.body.name ?? 'a vessel'}</h2>
            <Row $gap={14} style={{ alignItems: 'flex-start' }}>
              <div style={{ flex: '1 1 150px' }}>
                <Select
                  label="Vessel"
                  value={vesselId}
                  onChange={setVessel}
                  options={vessels.map(({ id, body }) => ({ value: id, label: body.name }))}
                />
              </div>
              <div style={{ flex: '2 1 200px' }}>
                <Field label="Laboratory" value={laboratory} onChange={setLaboratory} error={error} />
              </div>
              <div style={{ flex: '1 1 120px' }}>
                <Field label="Number on the vial" value={bottle} onChange={setBottle} hint="if it has one" />
              </div>
            </Row>
            <Row>
              <Button look="main" isDisabled={vessels.length === 0} onPress={() => void order()}>
                I have the vial
              </Button>
              <Quiet>Nothing is sent anywhere by Brinvo; it keeps count of it for you.</Quiet>
            </Row>
          </Stack>
        </Tray>
        {samples.length > 0 && (
          <Tray>
            <h2>Samples</h2>
            <List>
              {samples.map((sample) => {
                const stage = stageOf(sample.body)
                const days = Math.floor((nowMs - movedAt(sample)) / DAY)
                return (
                  <li key={sample.id}>
                    <span>
                      <Link to={`/laboratory/${sample.id}`}>
                        {record.vessels.get(sample.body.vesselId)?.body.name ?? 'A vessel'},{' '}
                        {sample.body.sampledAt === undefined
                          ? 'not drawn yet'
                          : longDayText(instantMs(sample.body.sampledAt), record.settings)}
                      </Link>{' '}
                      <Quiet>
                        {sample.body.laboratory}
                        {sample.body.bottle === undefined ? '' : `, vial ${sample.body.bottle}`}
                      </Quiet>
                    </span>
                    <Row $gap={8}>
                      {stage === 'sent' && (
                        <Quiet>{days === 0 ? 'since today' : `for ${days} ${days === 1 ? 'day' : 'days'}`}</Quiet>
                      )}
                      <Tag $tone={stage === 'reported' ? 'good' : stage === 'drawn' ? 'due' : 'plain'}>
                        {STAGE_WORDS[stage]}
                      </Tag>
                    </Row>
                  </li>
                )
              })}
            </List>
          </Tray>
        )}
      </Stack>
      <Stack $gap={14}>
        <Well>
          A report says what the water was a week or two ago. It is brought to 35 ppt and to today before anything is
          done by it, and what is normally not seen is not chased.
        </Well>
        <Well>Element panels guide, they diagnose no animal. Ask an aquatic veterinarian where one is ill.</Well>
      </Stack>
    </Page>
  )
}
