// Who lives in a vessel, and adding or moving one.
import { groupOf, groups, headsAt, species, type ResidentDocument } from '@brinvo/core'
import { useState } from 'react'
import { Link } from 'react-router'
import { v7 } from 'uuid'
import { useRecord } from '../../data/queries.tsx'
import { Dialog } from '../../design/Dialog.tsx'
import { Field, Select } from '../../design/fields.tsx'
import { Button, LinkButton, Quiet, Row, Stack, Tag, Tray } from '../../design/primitives.tsx'
import { useLog } from '../../shell/LogContext.tsx'
import { DateTimeField } from '../../parts/DateTimeField.tsx'
import { noonOf } from '../../parts/noonOf.ts'
import { Asked } from '../../parts/Refusals.tsx'
import { useAct } from '../../parts/useAct.ts'
import { useThePlans } from '../../shell/PlansContext.tsx'

export function ResidentsPanel({ vesselId, residents }: { vesselId: string; residents: readonly ResidentDocument[] }) {
  const [adding, setAdding] = useState(false)
  const { active } = useRecord()
  const { nowMs } = useThePlans()
  const log = useLog()
  return (
    <Tray>
      <Stack $gap={8}>
        <Row $between>
          <h2 data-small="">Residents</h2>
          <Row $gap={0}>
            {residents.length > 0 && (
              <>
                <LinkButton to={`/findings?vessel=${vesselId}`} $look="bare">
                  Something wrong?
                </LinkButton>
                <LinkButton to={`/watch/${vesselId}`} $look="bare">
                  Watch
                </LinkButton>
                {residents.some(({ body }) => groupOf(body.group)?.kind === 'coral') && (
                  <LinkButton to={`/walk/${vesselId}`} $look="bare">
                    Walk
                  </LinkButton>
                )}
                <Button look="bare" onPress={() => log({ kind: 'move', vesselId })}>
                  Move
                </Button>
              </>
            )}
            <Button look="bare" onPress={() => setAdding(true)}>
              Add
            </Button>
          </Row>
        </Row>
        {residents.length === 0 && <Quiet>Nobody is registered here.</Quiet>}
        <ul style={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(250px, 1fr))', gap: '6px 18px' }}>
          {residents.map((resident) => (
            <li key={resident.id}>
              <Link to={`/residents/${resident.id}`}>{resident.body.name}</Link>
              {resident.body.count > 1 && ` × ${headsAt(active, resident, nowMs)}`}{' '}
              <Quiet>{resident.body.scientificName ?? resident.body.commonName}</Quiet>{' '}
              {resident.body.sentinel === true && <Tag>sentinel</Tag>}
            </li>
          ))}
        </ul>
      </Stack>
      {adding && <AddResident vesselId={vesselId} onClose={() => setAdding(false)} />}
    </Tray>
  )
}

function AddResident({ vesselId, onClose }: { vesselId: string; onClose: () => void }) {
  const { record } = useRecord()
  const water = record.vessels.get(vesselId)?.body.water ?? 'marine'
  const fitting = species.filter((kind) => {
    const place = groups.find(({ id }) => id === kind.group)?.water
    return place === water || place === 'both'
  })
  const [speciesId, setSpeciesId] = useState(fitting[0]?.id ?? 'other')
  const [group, setGroup] = useState('hg-fish-unknown')
  const [name, setName] = useState('')
  const [count, setCount] = useState('1')
  const known = fitting.find(({ id }) => id === speciesId)
  const [residentId] = useState(() => v7())
  // Empty: it comes now. A day: it has lived here since then.
  const [since, setSince] = useState('')
  const sinceMs = since === '' ? NaN : noonOf(since, record.settings.zone)
  const asking = useAct({
    kind: 'resident',
    vesselId,
    residentId,
    count,
    ...(Number.isNaN(sinceMs) ? {} : { atMs: sinceMs }),
    body: {
      name: name.trim() || (known?.common ?? ''),
      commonName: (known?.common ?? name.trim()).slice(0, 80),
      ...(known ? { scientificName: known.scientific } : {}),
      group: known?.group ?? group,
    },
  })
  const [tried, setTried] = useState(false)
  const error = tried ? asking.answer.problem : null
  const save = async () => {
    setTried(true)
    if (asking.may && (await asking.commit(`${name.trim() || known?.common} is now registered here.`))) onClose()
  }
  return (
    <Dialog title="Add a resident" isOpen onClose={onClose}>
      <Select
        label="Kind"
        value={speciesId}
        onChange={setSpeciesId}
        options={[
          ...fitting.map(({ id, common, scientific }) => ({ value: id, label: `${common} (${scientific})` })),
          { value: 'other', label: 'Another kind' },
        ]}
      />
      {speciesId === 'other' && (
        <Select
          label="Group"
          value={group}
          onChange={setGroup}
          options={groups
            .filter((candidate) => candidate.water === water || candidate.water === 'both')
            .map(({ id, label }) => ({ value: id, label }))}
          hint="Decides what it tolerates. An unknown kind counts as the most sensitive."
        />
      )}
      <Field label="Your name for it" value={name} onChange={setName} placeholder={known?.common} />
      <Field label="How many" value={count} onChange={setCount} numeric error={error} />
      <DateTimeField day label="Here since" value={since} onChange={setSince} hint="Empty: it comes in now." />
      {asking.answer.problem === null && <Asked asking={asking} />}
      <Row>
        <Button look="main" isDisabled={asking.busy || asking.held} onPress={() => void save()}>
          Add
        </Button>
      </Row>
    </Dialog>
  )
}
