// What a course pours, reads with and moves to, and how any of it is exchanged while it runs.
import { agentForm, formAmong, type CourseDocument, type CoursePlan, type Protocol } from '@brinvo/core'
import { useState } from 'react'
import { useSearchParams } from 'react-router'
import { useRecord } from '../../data/queries.tsx'
import { Dialog } from '../../design/Dialog.tsx'
import { Select } from '../../design/fields.tsx'
import { Button, Facts, LinkButton, Quiet, Row, Stack, Tray } from '../../design/primitives.tsx'
import { Asked } from '../../parts/Refusals.tsx'
import { HazardCard } from '../../parts/HazardCard.tsx'
import { useAct } from '../../parts/useAct.ts'
import { useWayThere } from '../../shell/wayBack.ts'
import { bottlesAmong, kitsFor, vesselsBeside } from './usable.ts'

export function UsesPanel({ course, plan }: { course: CourseDocument; plan: CoursePlan | null }) {
  const { record } = useRecord()
  const [params, setParams] = useSearchParams()
  const [open, setOpen] = useState(params.has('uses'))
  const protocol = course.body.protocol as unknown as Protocol
  const { products, instruments, vessels = {} } = course.body
  const first = protocol.productRoles[0]
  const bottle = record.products.get(products[first?.id ?? ''] ?? '')
  const roles = [
    ...protocol.productRoles.map(({ id, label }) => ({
      label,
      name: record.products.get(products[id] ?? '')?.body.name,
    })),
    ...protocol.instrumentRoles.map(({ id, label }) => ({
      label,
      name: record.instruments.get(instruments[id] ?? '')?.body.name,
    })),
    ...(protocol.vesselRoles ?? []).map(({ id, label }) => ({
      label,
      name: record.vessels.get(vessels[id] ?? '')?.body.name,
    })),
  ]
  if (roles.length === 0) return null
  const close = () => {
    setOpen(false)
    if (params.has('uses')) setParams({}, { replace: true })
  }
  return (
    <Tray role="region" aria-label="What it uses">
      <Stack $gap={8}>
        <h3>What it uses</h3>
        <Facts>
          {roles.map(({ label, name }) => (
            <div key={label} style={{ display: 'contents' }}>
              <dt>{label}</dt>
              <dd>{name ?? <Quiet>none yet</Quiet>}</dd>
            </div>
          ))}
          {plan?.band && !protocol.campaign && (
            <>
              <dt>band</dt>
              <dd>
                {plan.band.floorMgPerL}–{plan.band.ceilingMgPerL} mg/L
              </dd>
              <dt>hard maximum</dt>
              <dd>{plan.band.hardMaxMgPerL} mg/L</dd>
              <dt>longest gap without a test</dt>
              <dd>{plan.band.form.maxGapHours} h</dd>
            </>
          )}
        </Facts>
        {course.body.endedAt === undefined && (
          <Row>
            <Button onPress={() => setOpen(true)}>Use another</Button>
          </Row>
        )}
        {bottle && <HazardCard hazardIds={agentForm(bottle.body.form)?.hazards ?? []} short />}
      </Stack>
      {open && course.body.endedAt === undefined && <UsesDialog course={course} onClose={close} />}
    </Tray>
  )
}

function UsesDialog({ course, onClose }: { course: CourseDocument; onClose: () => void }) {
  const { record } = useRecord()
  const wayThere = useWayThere()
  const protocol = course.body.protocol as unknown as Protocol
  const [products, setProducts] = useState<Readonly<Record<string, string>>>(course.body.products)
  const [instruments, setInstruments] = useState<Readonly<Record<string, string>>>(course.body.instruments)
  const [vessels, setVessels] = useState<Readonly<Record<string, string>>>(course.body.vessels ?? {})
  const asking = useAct({
    kind: 'course-uses',
    vesselId: course.body.vesselId,
    id: course.id,
    products,
    instruments,
    vessels,
  })
  const [tried, setTried] = useState(false)
  const keep = async () => {
    setTried(true)
    if (asking.may && (await asking.commit())) onClose()
  }
  const there = (query: string) => wayThere(`/cupboard?${query}`, { uses: '1' })
  return (
    <Dialog title="What this course uses" isOpen onClose={onClose} wide>
      <p>
        A bottle that ran empty, a kit that broke, a tub that was chosen late: from now on the steps are worked out for
        what stands here. What was poured and read before stays as it was.
      </p>
      {protocol.productRoles.map((role) => (
        <RoleRow
          key={role.id}
          label={`${role.label}${role.optional === true ? ' (may wait)' : ''}`}
          value={products[role.id] ?? ''}
          chosen={record.products.get(products[role.id] ?? '')}
          among={bottlesAmong(record, role.forms)}
          onChange={(id) => setProducts({ ...products, [role.id]: id })}
          missing="Register a bottle"
          to={there(`add=bottle&form=${role.forms.join(',')}`)}
        />
      ))}
      {protocol.instrumentRoles.map((role) => {
        const bottle = record.products.get(products[role.readsFormOf ?? ''] ?? '')
        const forms = protocol.productRoles.find(({ id }) => id === role.readsFormOf)?.forms ?? []
        return (
          <RoleRow
            key={role.id}
            label={role.label}
            value={instruments[role.id] ?? ''}
            chosen={record.instruments.get(instruments[role.id] ?? '')}
            among={kitsFor(record, role, bottle ? (formAmong(bottle.body, forms)?.id ?? null) : null)}
            onChange={(id) => setInstruments({ ...instruments, [role.id]: id })}
            missing="Register a kit"
            to={there(`add=kit&analyte=${role.analyte}`)}
          />
        )
      })}
      {(protocol.vesselRoles ?? []).map((role) => (
        <Select
          key={role.id}
          label={role.label}
          value={vessels[role.id] ?? ''}
          onChange={(id) => setVessels({ ...vessels, [role.id]: id })}
          options={[
            { value: '', label: 'none yet' },
            ...vesselsBeside(record, record.vessels.get(course.body.vesselId)).map(({ id, body }) => ({
              value: id,
              label: body.name,
            })),
          ]}
        />
      ))}
      {asking.answer.problem === null ? (
        <Asked asking={asking} />
      ) : (
        tried && <p role="alert">{asking.answer.problem}</p>
      )}
      <Row>
        <Button look="main" isDisabled={asking.busy || asking.held} onPress={() => void keep()}>
          Use these from now on
        </Button>
      </Row>
    </Dialog>
  )
}

interface Named {
  readonly id: string
  readonly body: { readonly name: string }
}
/** One role: what serves it, what it has now even where that is used up, and the way to register what is missing. */
function RoleRow({
  label,
  value,
  chosen,
  among,
  onChange,
  missing,
  to,
}: {
  label: string
  value: string
  chosen: Named | undefined
  among: readonly Named[]
  onChange: (id: string) => void
  missing: string
  to: string
}) {
  const all = chosen && !among.some(({ id }) => id === chosen.id) ? [chosen, ...among] : among
  return (
    <Row style={{ alignItems: 'flex-end' }}>
      <div style={{ flex: '1 1 240px' }}>
        <Select
          label={label}
          value={value}
          onChange={onChange}
          options={[
            { value: '', label: all.length > 0 ? 'none yet' : 'none registered' },
            ...all.map(({ id, body }) => ({ value: id, label: body.name })),
          ]}
        />
      </div>
      <LinkButton to={to}>{missing}</LinkButton>
    </Row>
  )
}
