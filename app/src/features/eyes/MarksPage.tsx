// Measured by marks on a picture: bare skeleton along a drawn line, a length against a scale, spots counted. Kept with the
// animal's name, so that this week stands beside the last.
import { residentsIn, typedNumber } from '@brinvo/core'
import { bareShare, lengthMm, type Mark, type Stretch } from '@brinvo/core/pictures'
import { useRef, useState } from 'react'
import { Link, useParams, useSearchParams } from 'react-router'
import { v7 } from 'uuid'
import { photosOf } from '../../data/photos.ts'
import { useDatabase, useRecord, type Draft } from '../../data/queries.tsx'
import { Check, Choice, Field, Select } from '../../design/fields.tsx'
import { Button, Page, Quiet, Row, Stack, Tray } from '../../design/primitives.tsx'
import { plural, whenText } from '../../design/words.ts'
import { useSave } from '../../parts/StepActions.tsx'
import { NotFound } from '../../shell/NotFound.tsx'
import { Board, pressedAt } from './Board.tsx'
import { openPicture, type OpenPicture } from './openPicture.ts'

type Tool = 'line' | 'length' | 'spots'
/** Measures under which the marks stand on the ledger. */
const MEASURES = { line: 'marked-bare', length: 'marked-length', spots: 'marked-spots' } as const

export function MarksPage() {
  const { vesselId = '' } = useParams()
  const { record } = useRecord()
  if (!record.vessels.get(vesselId)) return <NotFound />
  return <Marks key={vesselId} vesselId={vesselId} />
}

function Marks({ vesselId }: { readonly vesselId: string }) {
  const { record, active } = useRecord()
  const { mode } = useDatabase()
  const [params] = useSearchParams()
  const save = useSave()
  const vessel = record.vessels.get(vesselId)!
  const input = useRef<HTMLInputElement>(null)
  const [picture, setPicture] = useState<OpenPicture | null>(null)
  const [fault, setFault] = useState<string | null>(null)
  const [tool, setTool] = useState<Tool>('line')
  const [marks, setMarks] = useState<readonly Mark[]>([])
  const [stretches, setStretches] = useState<readonly Stretch[]>([])
  const [over, setOver] = useState<Stretch>('tissue')
  const [scale, setScale] = useState<readonly Mark[]>([])
  const [scaleMm, setScaleMm] = useState('10')
  const [keepIt, setKeepIt] = useState(true)
  const residents = residentsIn(record, active, vesselId, Date.now())
  const [who, setWho] = useState(params.get('resident') ?? residents[0]?.id ?? '')
  const resident = record.residents.get(who)
  const name = resident ? resident.body.name : vessel.body.name
  const begin = (next: Tool) => {
    setTool(next)
    setMarks([])
    setStretches([])
    setScale([])
  }
  const bare = tool === 'line' ? bareShare(marks, stretches) : null
  const length = tool === 'length' ? lengthMm(scale, typedNumber(scaleMm), marks) : null
  const value: Record<string, number> | null =
    tool === 'line'
      ? bare && { bare: Math.round(1000 * bare.share) / 10 }
      : tool === 'length'
        ? length && { mm: Math.round(100 * length.mm) / 100 }
        : { spots: marks.length }
  const words =
    tool === 'line'
      ? bare && `${Math.round(100 * bare.share)} ± ${Math.max(1, Math.round(100 * bare.doubt))} % of the line is bare`
      : tool === 'length'
        ? length && `${length.mm.toPrecision(3)} ± ${Math.max(0.1, length.doubt).toPrecision(1)} mm`
        : plural(marks.length, 'spot')
  const before = active.filter(
    (entry) =>
      entry.kind === 'tally' && entry.vesselId === vesselId && entry.measure === MEASURES[tool] && entry.piece === name,
  )
  const keep = async () => {
    if (!value || !words) return
    const drafts: Draft[] = [
      { kind: 'tally', vesselId, measure: MEASURES[tool], piece: name, values: value, note: words } as unknown as Draft,
    ]
    if (keepIt && picture) {
      const photoId = v7()
      await photosOf(mode).put(photoId, picture.blob)
      drafts.push({
        kind: 'photo',
        photoId,
        mime: 'image/jpeg',
        width: picture.picture.width,
        height: picture.picture.height,
        bytes: picture.blob.size,
        vesselId,
        ...(resident ? { residentId: resident.id } : {}),
        note: `Marked: ${words}`,
      } as Draft)
    }
    if (await save(drafts, `${name}: ${words}.`)) begin(tool)
  }
  return (
    <Page $aside>
      <Stack $gap={16}>
        <p>
          <Link to={`/vessels/${vesselId}`}>{vessel.body.name}</Link>
        </p>
        <h1>Measured by marks in {vessel.body.name}</h1>
        <Tray>
          <Stack>
            <Row $gap={12} style={{ alignItems: 'end' }}>
              <Button look={picture ? 'plain' : 'main'} onPress={() => input.current?.click()}>
                A picture from a file
              </Button>
              {residents.length > 0 && (
                <div style={{ width: 260 }}>
                  <Select
                    label="Of whom"
                    value={who}
                    onChange={setWho}
                    options={residents.map((one) => ({ value: one.id, label: one.body.name }))}
                  />
                </div>
              )}
            </Row>
            <input
              ref={input}
              type="file"
              accept="image/*"
              hidden
              aria-label="Picture to mark"
              onChange={(event) => {
                const file = event.target.files?.[0]
                event.target.value = ''
                if (!file) return
                openPicture(file)
                  .then((opened) => {
                    setPicture(opened)
                    setFault(null)
                    begin(tool)
                  })
                  .catch((cause: unknown) => setFault((cause as Error).message))
              }}
            />
            {fault !== null && <p role="alert">{fault}</p>}
            <Choice<Tool>
              label="What is measured"
              value={tool}
              onChange={begin}
              options={[
                { value: 'line', label: 'bare skeleton along a line' },
                { value: 'length', label: 'a length against a scale' },
                { value: 'spots', label: 'spots' },
              ]}
            />
            {tool === 'line' && (
              <Choice<Stretch>
                label="The next stretch runs over"
                value={over}
                onChange={setOver}
                options={[
                  { value: 'tissue', label: 'tissue' },
                  { value: 'bare', label: 'bare skeleton' },
                ]}
              />
            )}
            {tool === 'length' && (
              <div style={{ width: 220 }}>
                <Field label="Of the scale you mark" unit="mm" value={scaleMm} onChange={setScaleMm} numeric />
              </div>
            )}
            <Quiet>
              {tool === 'line'
                ? 'The same line each week: from the base to the tip of one branch. Press where it begins, then at each change.'
                : tool === 'length'
                  ? scale.length < 2
                    ? 'Press both ends of a stretch of the scale first.'
                    : 'Now along what is measured: a polyp from its cup to its tip.'
                  : 'Press each spot once; the same side of the fish each time.'}
            </Quiet>
            {picture && (
              <Board
                $pressed
                onClick={(event) => {
                  const at = pressedAt(event, picture.picture.width, picture.picture.height)
                  if (tool === 'length' && scale.length < 2) return setScale([...scale, at])
                  if (tool === 'line' && marks.length > 0) setStretches([...stretches, over])
                  setMarks([...marks, at])
                }}
              >
                <img src={picture.url} alt="What is marked" />
                <svg viewBox={`0 0 ${picture.picture.width} ${picture.picture.height}`} aria-hidden>
                  {scale.length === 2 && (
                    <line
                      x1={scale[0]!.x}
                      y1={scale[0]!.y}
                      x2={scale[1]!.x}
                      y2={scale[1]!.y}
                      stroke="#4FA3FF"
                      strokeWidth="3"
                    />
                  )}
                  {tool !== 'spots' &&
                    marks
                      .slice(1)
                      .map((mark, i) => (
                        <line
                          key={i}
                          x1={marks[i]!.x}
                          y1={marks[i]!.y}
                          x2={mark.x}
                          y2={mark.y}
                          stroke={tool === 'line' && stretches[i] === 'bare' ? '#fff' : '#E3B505'}
                          strokeWidth="3.5"
                          strokeDasharray={tool === 'line' && stretches[i] === 'bare' ? '7 5' : undefined}
                        />
                      ))}
                  {[...scale, ...marks].map(({ x, y }, i) => (
                    <circle key={i} cx={x} cy={y} r="6" fill="none" stroke="#B3261E" strokeWidth="2.4" />
                  ))}
                </svg>
              </Board>
            )}
            <Row $gap={12}>
              <p role="status">{words ?? 'Nothing is marked yet.'}</p>
              {(marks.length > 0 || scale.length > 0) && <Button onPress={() => begin(tool)}>Marks anew</Button>}
            </Row>
            <Row $gap={12}>
              <Check isSelected={keepIt} onChange={setKeepIt}>
                keep the picture with it
              </Check>
              <Button
                look="main"
                isDisabled={!picture || !value || (tool !== 'spots' && marks.length < 2)}
                onPress={() => void keep()}
              >
                Keep the measure
              </Button>
            </Row>
          </Stack>
        </Tray>
      </Stack>
      <Tray>
        <Stack $gap={8}>
          <h2 style={{ fontSize: 17 }}>{name} before</h2>
          {before.length === 0 && <Quiet>Nothing of this kind was measured yet.</Quiet>}
          <ul>
            {before
              .slice(-12)
              .reverse()
              .map((entry) => (
                <li key={entry.id}>
                  {entry.note ?? ''} <Quiet>{whenText(Date.parse(entry.at), Date.now(), record.settings)}</Quiet>
                </li>
              ))}
          </ul>
        </Stack>
      </Tray>
    </Page>
  )
}
