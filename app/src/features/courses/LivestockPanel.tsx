// Who waits elsewhere while a campaign runs: in which order they come back, from when, and the pieces kept as insurance.
import { groupOf, livestockBack, residentVessels, type CourseDocument, type Protocol, type Waiting } from '@brinvo/core'
import { useMemo, useState } from 'react'
import { Link } from 'react-router'
import { useActions, useRecord } from '../../data/queries.tsx'
import { Dialog } from '../../design/Dialog.tsx'
import { Select } from '../../design/fields.tsx'
import { Button, LinkButton, Quiet, Row, Stack, Tag, Tray } from '../../design/primitives.tsx'
import { dayText } from '../../design/words.ts'
import { Asked } from '../../parts/Refusals.tsx'
import { useAct } from '../../parts/useAct.ts'
import { useNotice } from '../../shell/Notices.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'

export function LivestockPanel({ course }: { course: CourseDocument }) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const { revise } = useActions()
  const notice = useNotice()
  const [bringing, setBringing] = useState<Waiting | null>(null)
  const { back } = (course.body.protocol as unknown as Protocol).campaign!
  const { waiting, pieces } = useMemo(() => {
    if (!back) return { waiting: [], pieces: [] }
    const where = residentVessels(record, active, nowMs)
    const list = livestockBack(back, record, active, course, nowMs)
    const listed = new Set(list.map(({ resident }) => resident.id))
    return {
      waiting: list,
      pieces: [...record.residents.values()].filter(
        ({ id, body }) =>
          body.leftAt === undefined &&
          groupOf(body.group)?.kind === 'coral' &&
          where.get(id) !== course.body.vesselId &&
          !listed.has(id),
      ),
    }
  }, [back, record, active, course, nowMs])
  if (!back) return null
  const home = record.vessels.get(course.body.vesselId)?.body.name ?? 'the vessel'
  const insure = (id: string, on: boolean) => {
    const resident = record.residents.get(id)
    if (!resident) return
    const { insuranceFor: _, ...rest } = resident.body
    revise(resident, on ? { ...rest, insuranceFor: course.body.vesselId } : rest)
      .then(() =>
        notice({
          text: on
            ? `${resident.body.name}: kept as insurance for ${home}.`
            : `${resident.body.name}: no insurance any more.`,
          tone: 'done',
        }),
      )
      .catch((cause: unknown) => notice({ text: (cause as Error).message, tone: 'failed' }))
  }
  return (
    <Tray role="region" aria-label="Animals back, one by one">
      <Stack $gap={8}>
        <h3>Animals back, one by one</h3>
        {waiting.length === 0 && (
          <Quiet>
            Nobody from {home} waits elsewhere. Move grazers out before they eat what poisons them; each is listed here
            with the day it may come back.
          </Quiet>
        )}
        <ul>
          {waiting.map((one) => (
            <li
              key={one.resident.id}
              style={{ display: 'flex', flexWrap: 'wrap', gap: '4px 12px', alignItems: 'center', padding: '8px 0' }}
            >
              <div style={{ flex: '1 1 220px' }}>
                <Link to={`/residents/${one.resident.id}`}>{one.resident.body.name}</Link>{' '}
                <Quiet>
                  {one.vesselId === null ? 'off the shelf' : `in ${record.vessels.get(one.vesselId)?.body.name ?? ''}`}
                </Quiet>{' '}
                {one.kind === 'insurance' && <Tag>insurance</Tag>}
                <br />
                <strong>
                  {one.fromMs === null
                    ? 'Not yet'
                    : one.fromMs <= nowMs
                      ? 'Now'
                      : `From ${dayText(one.fromMs, record.settings)}`}
                  .
                </strong>{' '}
                <Quiet>{one.words}</Quiet>
              </div>
              <Row $gap={6}>
                {one.courseId === undefined ? (
                  <Button
                    look={one.fromMs !== null && one.fromMs <= nowMs ? 'main' : 'plain'}
                    onPress={() => setBringing(one)}
                  >
                    Bring it back
                  </Button>
                ) : (
                  <LinkButton to={`/courses/${one.courseId}`} $look="bare">
                    See that course
                  </LinkButton>
                )}
                {one.kind === 'insurance' && (
                  <Button look="bare" onPress={() => insure(one.resident.id, false)}>
                    No insurance
                  </Button>
                )}
              </Row>
            </li>
          ))}
        </ul>
        {pieces.length > 0 && (
          <Select
            label={`A piece kept elsewhere as insurance for ${home}`}
            value=""
            onChange={(id) => insure(id, true)}
            options={[
              { value: '', label: 'Choose a coral' },
              ...pieces.map(({ id, body }) => ({ value: id, label: `${body.name} (${body.commonName})` })),
            ]}
          />
        )}
      </Stack>
      {bringing && <BringBack one={bringing} course={course} onClose={() => setBringing(null)} />}
    </Tray>
  )
}

function BringBack({ one, course, onClose }: { one: Waiting; course: CourseDocument; onClose: () => void }) {
  const { record } = useRecord()
  const { nowMs } = useThePlans()
  const { vesselId } = course.body
  const home = record.vessels.get(vesselId)?.body.name ?? 'the vessel'
  const early = one.fromMs === null || one.fromMs > nowMs
  const asking = useAct({
    kind: 'move',
    vesselId: one.vesselId ?? vesselId,
    courseId: course.id,
    residents: [{ id: one.resident.id }],
    toVesselId: vesselId,
    ...(early
      ? {
          early: `${one.resident.body.name} is not to come back ${one.fromMs === null ? 'yet' : `before ${dayText(one.fromMs, record.settings)}`}. ${one.words}`,
        }
      : {}),
  })
  const bring = async () => {
    if (await asking.commit(`${one.resident.body.name}: back in ${home}.`)) onClose()
  }
  return (
    <Dialog title={`${one.resident.body.name} back to ${home}`} isOpen onClose={onClose}>
      <Stack>
        <p>
          By net or bowl, none of its water along; acclimate it as it would be at arrival. Look at it the same evening.
        </p>
        {asking.answer.problem !== null ? <Quiet>{asking.answer.problem}</Quiet> : <Asked asking={asking} />}
        <Row>
          <Button look="main" isDisabled={!asking.may || asking.busy} onPress={() => void bring()}>
            It is back
          </Button>
          <Button onPress={onClose}>Not now</Button>
        </Row>
      </Stack>
    </Dialog>
  )
}
