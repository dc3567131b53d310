// Patches judged by eye without their names: pictures in no order, how much of each is grown over; then what was what.
import { clockMs } from '../../data/clock.ts'
import {
  armsOfPatches,
  markedPatches,
  PATCH_BY_EYE,
  typedNumber,
  type MarkedPatch,
  type PhotoEntry,
} from '@brinvo/core'
import { useState } from 'react'
import { photosOf } from '../../data/photos.ts'
import { useDatabase, useRecord, type Draft } from '../../data/queries.tsx'
import { Dialog } from '../../design/Dialog.tsx'
import { Field } from '../../design/fields.tsx'
import { Button, DayTable, Quiet, Row, Stack } from '../../design/primitives.tsx'
import { whenText } from '../../design/words.ts'
import { useSave } from '../../parts/StepActions.tsx'
import { useQuery } from '@tanstack/react-query'
import { ARM_WORDS } from './arms.ts'
import { Board } from './Board.tsx'
import { useUrl } from './useUrl.ts'

interface Shown {
  readonly patch: MarkedPatch
  readonly entry: PhotoEntry
}

/** Pictures that nobody has judged yet, in an order of chance. */
export function unjudged(patches: readonly MarkedPatch[]): readonly Shown[] {
  const all = patches.flatMap((patch) =>
    patch.pictures
      .filter((entry) => !patch.byEye.some(({ atMs }) => atMs === Date.parse(entry.at)))
      .map((entry) => ({ patch, entry })),
  )
  for (let i = all.length - 1; i > 0; i--) {
    const j = Math.floor(Math.random() * (i + 1))
    ;[all[i], all[j]] = [all[j]!, all[i]!]
  }
  return all
}

export function BlindDialog({ vesselId, onClose }: { readonly vesselId: string; readonly onClose: () => void }) {
  const { record, active } = useRecord()
  const save = useSave()
  // Drawn once: what is judged meanwhile does not shuffle the rest.
  const [order] = useState(() => unjudged(markedPatches(active, vesselId)))
  const [given, setGiven] = useState<readonly (number | null)[]>([])
  const [typed, setTyped] = useState('')
  const [told, setTold] = useState(order.length === 0)
  const now = order[given.length]
  const value = typedNumber(typed)
  const valid = typed.trim() !== '' && value >= 0 && value <= 100
  const finish = async (values: readonly (number | null)[]) => {
    const drafts = values.flatMap((points, i): Draft[] => {
      if (points === null) return []
      const { patch, entry } = order[i]!
      return [
        {
          kind: 'tally',
          vesselId,
          atMs: Date.parse(entry.at),
          measure: PATCH_BY_EYE,
          piece: patch.name,
          ...(patch.arm === null ? {} : { arm: patch.arm }),
          values: { points },
          note: 'by eye, without its name',
        } as unknown as Draft,
      ]
    })
    if (drafts.length > 0 && !(await save(drafts, 'What you judged without names is on the ledger.'))) return
    setTold(true)
  }
  const next = (one: number | null) => {
    const values = [...given, one]
    setGiven(values)
    setTyped('')
    if (values.length === order.length) void finish(values)
  }
  const patches = told ? markedPatches(active, vesselId) : []
  const arms = armsOfPatches(patches, ({ byEye }) => byEye)
  return (
    <Dialog title="By eye, without names" isOpen onClose={onClose} wide>
      {!told && now ? (
        <Stack>
          <Quiet>
            Picture {given.length + 1} of {order.length}, in no order: neither its day nor what was done there is told.
          </Quiet>
          <Blind entry={now.entry} />
          <Row $gap={12} style={{ alignItems: 'end' }}>
            <div style={{ width: 220 }}>
              <Field
                key={given.length}
                label="How much of it is grown over"
                unit="%"
                value={typed}
                onChange={setTyped}
                numeric
                autoFocus
              />
            </div>
            <Button look="main" isDisabled={!valid} onPress={() => next(value)}>
              Next
            </Button>
            <Button onPress={() => next(null)}>Skip it</Button>
            {given.some((one) => one !== null) && <Button onPress={() => void finish(given)}>Enough, tell me</Button>}
          </Row>
          {typed.trim() !== '' && !valid && <p role="alert">A number from 0 to 100.</p>}
        </Stack>
      ) : (
        <Stack>
          {order.length === 0 && <p>Every kept picture was judged without its name already.</p>}
          <DayTable>
            <thead>
              <tr>
                <th scope="col">Patch</th>
                <th scope="col">Picture</th>
                <th scope="col">By eye</th>
                <th scope="col">Measured</th>
              </tr>
            </thead>
            <tbody>
              {patches.flatMap((patch) =>
                patch.byEye.map(({ atMs, value: eye }) => {
                  const measured = patch.points.find((point) => point.atMs === atMs)
                  return (
                    <tr key={`${patch.name} ${atMs}`}>
                      <td>
                        {patch.name}
                        {patch.arm !== null && <Quiet>, {ARM_WORDS[patch.arm]}</Quiet>}
                      </td>
                      <td>{whenText(atMs, clockMs(), record.settings)}</td>
                      <td>{Math.round(eye)} %</td>
                      <td>{measured === undefined ? '–' : `${Math.round(measured.value)} %`}</td>
                    </tr>
                  )
                }),
              )}
            </tbody>
          </DayTable>
          {arms.map(({ arm, first, last }) => (
            <p key={arm}>
              <strong>{ARM_WORDS[arm]}</strong>:{' '}
              {first === null || last === null
                ? 'judged once only, no course yet'
                : `by eye from ${Math.round(first)} to ${Math.round(last)} %`}
            </p>
          ))}
          <Row>
            <Button look="main" onPress={onClose}>
              Close it
            </Button>
          </Row>
        </Stack>
      )}
    </Dialog>
  )
}

/** A picture and the outline of its patch, and nothing that says which. */
function Blind({ entry }: { readonly entry: PhotoEntry }) {
  const { mode } = useDatabase()
  const { data } = useQuery({
    queryKey: ['photo', mode, entry.photoId],
    queryFn: () => photosOf(mode).get(entry.photoId),
    staleTime: Infinity,
    networkMode: 'always',
  })
  const url = useUrl(data ?? null)
  if (data === null) return <p role="alert">This picture is not in this browser: skip it.</p>
  if (url === null) return <Quiet>…</Quiet>
  const corners = entry.patch?.corners ?? []
  return (
    <Board>
      <img src={url} alt="A patch without its name" />
      <svg viewBox={`0 0 ${entry.width} ${entry.height}`} aria-hidden>
        {corners.length > 2 && (
          <path
            d={`M0 0H${entry.width}V${entry.height}H0Z M${corners.map(([x, y]) => `${x} ${y}`).join('L')}Z`}
            fillRule="evenodd"
            fill="rgb(0 0 0 / 55%)"
          />
        )}
      </svg>
    </Board>
  )
}
