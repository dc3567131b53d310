// Nets, siphons, heaters: each with a home, where it was last wet, and one press to make it safe again.
import { gearState, type GearBody, type GearDocument } from '@brinvo/core'
import { useState } from 'react'
import { styled } from 'styled-components'
import { useActions, useRecord } from '../../data/queries.tsx'
import { shelvedVessels } from '../../data/shelf.ts'
import { Dialog } from '../../design/Dialog.tsx'
import { Choice, Field, Select } from '../../design/fields.tsx'
import { Button, Quiet, Row, Stack, Tag, Tray } from '../../design/primitives.tsx'
import { whenText } from '../../design/words.ts'
import { Asked } from '../../parts/Refusals.tsx'
import { useAct } from '../../parts/useAct.ts'
import { usePress } from '../../parts/useCommit.ts'
import { useNotice } from '../../shell/Notices.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'

const SORTS: readonly { readonly value: GearBody['sort']; readonly label: string }[] = [
  { value: 'net', label: 'Net' },
  { value: 'container', label: 'Bucket or tub' },
  { value: 'siphon', label: 'Siphon or hose' },
  { value: 'heater', label: 'Heater' },
  { value: 'probe', label: 'Probe' },
  { value: 'kit', label: 'Test kit' },
  { value: 'tool', label: 'Tool' },
  { value: 'other', label: 'Other' },
]
const List = styled.ul`
  li {
    display: flex;
    flex-wrap: wrap;
    gap: 6px 16px;
    justify-content: space-between;
    align-items: center;
    padding: 10px 0;
  }
  li + li {
    border-top: 1px solid var(--hairline);
  }
`

export function GearShelf() {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const press = usePress()
  const [form, setForm] = useState(false)
  const [using, setUsing] = useState<GearDocument | null>(null)
  const gear = [...record.gear.values()].filter(({ body }) => body.retiredAt === undefined)
  const name = (id: string) => record.vessels.get(id)?.body.name ?? 'another vessel'
  const makeSafe = (piece: GearDocument, act: 'disinfected' | 'dried') =>
    press({ kind: 'gear', gearId: piece.id, act }, `${piece.body.name} is safe again.`)
  return (
    <Tray>
      <Stack $gap={8}>
        <Row $between>
          <h2>Nets and gear</h2>
          <Button onPress={() => setForm(true)}>Register gear</Button>
        </Row>
        {gear.length === 0 && (
          <Quiet>
            A wet net carries more than a fish. Register what goes from vessel to vessel, and Brinvo tells you before it
            spoils a quarantine.
          </Quiet>
        )}
        <List>
          {gear.map((piece) => {
            const state = gearState(active, piece.id, nowMs)
            const { homeVesselId } = piece.body
            const strange = state.carries.filter((id) => id !== homeVesselId)
            return (
              <li key={piece.id}>
                <div style={{ flex: '1 1 280px' }}>
                  <strong>{piece.body.name}</strong>{' '}
                  <Quiet>{homeVesselId === null ? 'shared, kept dry' : `belongs to ${name(homeVesselId)}`}</Quiet>
                  <br />
                  {state.wetIn === null
                    ? state.safeSinceMs === null
                      ? 'Never noted wet.'
                      : `Made safe ${whenText(state.safeSinceMs, nowMs, record.settings)}.`
                    : `Wet in ${state.carries.map(name).join(', then ')}, last ${whenText(state.wetSinceMs!, nowMs, record.settings)}.`}
                </div>
                <Row>
                  {strange.length > 0 ? (
                    <Tag $tone="due">carries {strange.map(name).join(', ')}</Tag>
                  ) : (
                    state.wetIn === null && <Tag $tone="good">safe</Tag>
                  )}
                  <Button onPress={() => setUsing(piece)}>Used in …</Button>
                  {state.wetIn !== null && (
                    <>
                      <Button onPress={() => void makeSafe(piece, 'disinfected')}>Disinfected</Button>
                      <Button onPress={() => void makeSafe(piece, 'dried')}>Dry for a day</Button>
                    </>
                  )}
                </Row>
              </li>
            )
          })}
        </List>
      </Stack>
      {form && <GearForm onClose={() => setForm(false)} />}
      {using && <UseDialog piece={using} onClose={() => setUsing(null)} />}
    </Tray>
  )
}

const useVessels = () => {
  const { record } = useRecord()
  return shelvedVessels(record).map(({ id, body }) => ({ value: id, label: body.name }))
}

function GearForm({ onClose }: { onClose: () => void }) {
  const { create } = useActions()
  const notice = useNotice()
  const vessels = useVessels()
  const [name, setName] = useState('')
  const [sort, setSort] = useState<GearBody['sort']>('net')
  const [home, setHome] = useState(vessels[0]?.value ?? '')
  const [error, setError] = useState<string | null>(null)
  const save = async () => {
    if (name.trim() === '') return setError('Give it a name you would find it by: colour, size, place.')
    try {
      await create('gear', { name: name.trim(), sort, homeVesselId: home === 'shared' ? null : home })
      notice({ text: `${name.trim()} is on the shelf.`, tone: 'done' })
      onClose()
    } catch (cause) {
      setError((cause as Error).message)
    }
  }
  return (
    <Dialog title="Register gear" isOpen onClose={onClose}>
      <Field label="Name" value={name} onChange={setName} error={error} autoFocus />
      <Choice label="What it is" value={sort} onChange={setSort} options={SORTS} />
      <Select
        label="Belongs to"
        value={home}
        onChange={setHome}
        options={[...vessels, { value: 'shared', label: 'Shared, kept dry between uses' }]}
      />
      <Row>
        <Button look="main" onPress={() => void save()}>
          Save
        </Button>
      </Row>
    </Dialog>
  )
}

/** Where it was used: what it carries there is said before, and an override is recorded with its words. */
function UseDialog({ piece, onClose }: { piece: GearDocument; onClose: () => void }) {
  const { record } = useRecord()
  const vessels = useVessels()
  const [vesselId, setVesselId] = useState(piece.body.homeVesselId ?? vessels[0]?.value ?? '')
  const asking = useAct({ kind: 'gear', gearId: piece.id, act: 'wet', vesselId })
  const save = async () => {
    if (await asking.commit(`${piece.body.name}: used in ${record.vessels.get(vesselId)?.body.name}.`)) onClose()
  }
  return (
    <Dialog title={`${piece.body.name}: used where?`} isOpen onClose={onClose}>
      <Select
        label="Vessel"
        value={vesselId}
        onChange={(next) => {
          setVesselId(next)
          asking.reset()
        }}
        options={vessels}
      />
      <Asked asking={asking} />
      <Row>
        <Button look="main" isDisabled={!asking.may || asking.busy} onPress={() => void save()}>
          It was in the water
        </Button>
      </Row>
    </Dialog>
  )
}
