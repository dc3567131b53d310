// Who lives in a vessel, and adding or moving one.
import { groups, instantOf, species, type ResidentDocument } from '@brinvo/core'
import { useState } from 'react'
import { Link } from 'react-router'
import { useActions, useRecord } from '../../data/queries.tsx'
import { Dialog } from '../../design/Dialog.tsx'
import { Field, Select } from '../../design/fields.tsx'
import { Button, LinkButton, Quiet, Row, Stack, Tag, Tray } from '../../design/primitives.tsx'
import { useLog } from '../../shell/LogContext.tsx'
import { useNotice } from '../../shell/Notices.tsx'

export function ResidentsPanel({ vesselId, residents }: { vesselId: string; residents: readonly ResidentDocument[] }) {
  const [adding, setAdding] = useState(false)
  const log = useLog()
  return (
    <Tray>
      <Stack $gap={8}>
        <Row $between>
          <h3>Residents</h3>
          <Row $gap={0}>
            {residents.length > 0 && (
              <>
                <LinkButton to={`/findings?vessel=${vesselId}`} $look="bare">
                  Something wrong?
                </LinkButton>
                <LinkButton to={`/watch/${vesselId}`} $look="bare">
                  Watch
                </LinkButton>
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
        <ul>
          {residents.map((resident) => (
            <li key={resident.id}>
              <Link to={`/residents/${resident.id}`}>{resident.body.name}</Link>
              {resident.body.count > 1 && ` × ${resident.body.count}`}{' '}
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
  const { create } = useActions()
  const notice = useNotice()
  const water = record.vessels.get(vesselId)?.body.water ?? 'marine'
  const fitting = species.filter((kind) => {
    const place = groups.find(({ id }) => id === kind.group)?.water
    return place === water || place === 'both'
  })
  const [speciesId, setSpeciesId] = useState(fitting[0]?.id ?? 'other')
  const [group, setGroup] = useState('hg-fish-unknown')
  const [name, setName] = useState('')
  const [count, setCount] = useState('1')
  const [error, setError] = useState<string | null>(null)
  const known = fitting.find(({ id }) => id === speciesId)
  const save = async () => {
    const number = Number(count)
    if (!Number.isInteger(number) || number < 1) return setError('How many? A whole number, at least 1.')
    if (!known && name.trim() === '') return setError('What is it called? Type its common name.')
    try {
      await create('resident', {
        name: name.trim() || known!.common,
        commonName: known?.common ?? name.trim(),
        ...(known ? { scientificName: known.scientific } : {}),
        group: known?.group ?? group,
        count: number,
        vesselId,
        arrivedAt: instantOf(Date.now()),
      })
      notice({ text: `${name.trim() || known?.common} is now registered here.`, tone: 'done' })
      onClose()
    } catch (cause) {
      setError((cause as Error).message)
    }
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
      <Row>
        <Button look="main" onPress={() => void save()}>
          Add
        </Button>
      </Row>
    </Dialog>
  )
}
