// Measured by marks on a picture: bare skeleton along a drawn line, a length against a scale, spots counted. Kept with the
// animal's name, so that this week stands beside the last.
import { clockMs } from '../../data/clock.ts'
import { MARK_MEASURES, markedPoints, OFF_FIELD, residentsIn, typedNumber, type MarkTool } from '@brinvo/core'
import { bareShare, lengthMm, type Mark, type Stretch } from '@brinvo/core/pictures'
import { lazy, Suspense, useRef, useState } from 'react'
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
import { blobOf } from '../../parts/slides/frameSource.ts'
import { openPicture, type OpenPicture } from './openPicture.ts'
import { canvasWith, practiceWorker, type FishScene } from '../../parts/slides/standIn.ts'
import { patches } from '../../workers/client.ts'

const MeasuredChart = lazy(async () => ({ default: (await import('../../parts/MeasuredChart.tsx')).MeasuredChart }))
/** A spot that was proposed carries its own size. */
type Spot = Mark & { readonly r?: number }
/** A press so near to a spot takes it away, px of the screen: half a fingertip. */
const NEAR_PX = 11

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
  const [tool, setTool] = useState<MarkTool>('line')
  const [marks, setMarks] = useState<readonly Spot[]>([])
  const [outline, setOutline] = useState<readonly Mark[]>([])
  const [pressing, setPressing] = useState<'spots' | 'outline'>('spots')
  const [busy, setBusy] = useState(false)
  const [drawn, setDrawn] = useState<number | null>(null)
  const [done, setDone] = useState(false)
  const [stretches, setStretches] = useState<readonly Stretch[]>([])
  const [over, setOver] = useState<Stretch>('tissue')
  const [scale, setScale] = useState<readonly Mark[]>([])
  const [scaleMm, setScaleMm] = useState('10')
  const [keepIt, setKeepIt] = useState(true)
  const residents = residentsIn(record, active, vesselId, clockMs())
  const [who, setWho] = useState(params.get('resident') ?? residents[0]?.id ?? '')
  const resident = record.residents.get(who)
  const name = resident ? resident.body.name : vessel.body.name
  const begin = (next: MarkTool) => {
    setTool(next)
    setMarks([])
    setStretches([])
    // Each line begins on tissue: what the last one ended on is not the next one's.
    setOver('tissue')
    setScale([])
    setOutline([])
    setPressing('spots')
    setDrawn(null)
    setDone(false)
  }
  const bare = tool === 'line' ? bareShare(marks, stretches) : null
  const length = tool === 'length' ? lengthMm(scale, typedNumber(scaleMm), marks) : null
  const value: Record<string, number> | null =
    tool === 'line'
      ? bare && {
          bare: Math.round(1000 * bare.share) / 10,
          [OFF_FIELD]: Math.max(1, Math.round(1000 * bare.doubt) / 10),
        }
      : tool === 'length'
        ? length && {
            mm: Math.round(100 * length.mm) / 100,
            [OFF_FIELD]: Math.round(100 * Math.max(0.1, length.doubt)) / 100,
          }
        : { spots: marks.length }
  const words =
    tool === 'line'
      ? bare && `${Math.round(100 * bare.share)} ± ${Math.max(1, Math.round(100 * bare.doubt))} % of the line is bare`
      : tool === 'length'
        ? length && `${length.mm.toPrecision(3)} ± ${Math.max(0.1, length.doubt).toPrecision(1)} mm`
        : plural(marks.length, 'spot')
  const before = markedPoints(
    active,
    tool,
    resident ? { residentId: resident.id, name } : { vesselId, name: vessel.body.name },
  )
  const press = ({ per, ...at }: Mark & { readonly per: number }) => {
    if (tool === 'length' && scale.length < 2) return setScale([...scale, at])
    if (tool === 'spots') {
      if (pressing === 'outline') return setOutline([...outline, at])
      const far = (one: Spot) => Math.hypot(one.x - at.x, one.y - at.y)
      const [nearest] = [...marks].sort((a, b) => far(a) - far(b))
      const hit = nearest !== undefined && far(nearest) <= Math.max(NEAR_PX * per, nearest.r ?? 0)
      return setMarks(hit ? marks.filter((one) => one !== nearest) : [...marks, at])
    }
    if (tool === 'line' && marks.length > 0) setStretches([...stretches, over])
    setMarks([...marks, at])
  }
  const propose = async () => {
    if (!picture) return
    setBusy(true)
    try {
      const found = await patches.run('spots', {
        picture: picture.picture,
        question: { polygon: outline.map(({ x, y }) => [x, y] as const) },
      })
      setMarks(found)
      setPressing('spots')
      setFault(found.length === 0 ? 'Nothing paler and round stands out there. Press what you see yourself.' : null)
    } catch (cause) {
      setFault((cause as Error).message)
    } finally {
      setBusy(false)
    }
  }
  const practise = async () => {
    const { ask, close } = practiceWorker()
    try {
      const scene = await ask<FishScene>({
        kind: 'fish',
        plan: {
          seed: Math.floor(Math.random() * 1e6),
          width: 800,
          height: 560,
          spots: Math.floor(4 + 26 * Math.random()),
        },
      })
      setPicture(await openPicture(await blobOf(canvasWith(scene.picture))))
      setFault(null)
      begin('spots')
      setOutline(scene.outline.map(([x, y]) => ({ x, y })))
      setDrawn(scene.spots.length)
    } catch (cause) {
      setFault((cause as Error).message)
    } finally {
      close()
    }
  }
  const keep = async () => {
    if (!value || !words) return
    const drafts: Draft[] = [
      {
        kind: 'tally',
        vesselId,
        measure: MARK_MEASURES[tool].id,
        piece: name.slice(0, 60),
        ...(resident ? { residentId: resident.id } : {}),
        values: value,
        note: words,
      } as unknown as Draft,
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
            <Choice<MarkTool>
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
            {tool === 'spots' && (
              <Row $gap={12} style={{ alignItems: 'end' }}>
                <Choice<'spots' | 'outline'>
                  label="Pressing the picture"
                  value={pressing}
                  onChange={setPressing}
                  options={[
                    { value: 'outline', label: 'goes around the fish' },
                    { value: 'spots', label: 'marks a spot' },
                  ]}
                />
                <Button
                  isDisabled={!picture || busy || (outline.length > 0 && outline.length < 3)}
                  onPress={() => void propose()}
                >
                  {busy ? 'Looking …' : 'Propose the spots'}
                </Button>
                {outline.length > 0 && <Button onPress={() => setOutline([])}>Outline anew</Button>}
              </Row>
            )}
            <Quiet>
              {tool === 'line'
                ? 'The same line each week: from the base to the tip of one branch. Press where it begins, then at each change.'
                : tool === 'length'
                  ? scale.length < 2
                    ? 'Press both ends of a stretch of the scale first.'
                    : 'Now along what is measured: a polyp from its cup to its tip.'
                  : pressing === 'outline'
                    ? 'Around the fish from behind its gill cover to its tail, eye and fins left out.'
                    : 'Press each spot once, and one too many away again; the same side of the fish each time.'}
            </Quiet>
            {picture && (
              <Board
                $pressed
                onClick={(event) => press(pressedAt(event, picture.picture.width, picture.picture.height))}
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
                  {tool === 'spots' && outline.length > 0 && (
                    <polygon
                      points={outline.map(({ x, y }) => `${x},${y}`).join(' ')}
                      fill="none"
                      stroke="#fff"
                      strokeWidth="2"
                      strokeDasharray="8 5"
                    />
                  )}
                  {[...scale, ...marks].map(({ x, y, r }: Spot, i) => (
                    <g key={i}>
                      <circle cx={x} cy={y} r={Math.max(6, (r ?? 0) + 3)} fill="none" stroke="#000" strokeWidth="4" />
                      <circle
                        cx={x}
                        cy={y}
                        r={Math.max(6, (r ?? 0) + 3)}
                        fill="none"
                        stroke="#FF7A6B"
                        strokeWidth="2.2"
                      />
                    </g>
                  ))}
                </svg>
              </Board>
            )}
            <Row $gap={12}>
              <p role="status">{words ?? 'Nothing is marked yet.'}</p>
              {(marks.length > 0 || scale.length > 0) && <Button onPress={() => begin(tool)}>Marks anew</Button>}
            </Row>
            {drawn !== null &&
              (done ? (
                <p>Drawn were {plural(drawn, 'spot')}. A practice fish is not kept.</p>
              ) : (
                <Row>
                  <Button isDisabled={marks.length === 0} onPress={() => setDone(true)}>
                    I am done: how many had it?
                  </Button>
                </Row>
              ))}
            <Row $gap={12}>
              <Check isSelected={keepIt} onChange={setKeepIt}>
                keep the picture with it
              </Check>
              <Button
                look="main"
                isDisabled={!picture || drawn !== null || !value || (tool !== 'spots' && marks.length < 2)}
                onPress={() => void keep()}
              >
                Keep the measure
              </Button>
            </Row>
          </Stack>
        </Tray>
      </Stack>
      <Stack $gap={14}>
        <Tray>
          <Stack $gap={8}>
            <h2 style={{ fontSize: 17 }}>{name} before</h2>
            {before.length === 0 && <Quiet>Nothing of this kind was measured yet.</Quiet>}
            {before.length > 1 && (
              <Suspense fallback={<div style={{ height: 200 }} />}>
                <MeasuredChart
                  title={MARK_MEASURES[tool].title}
                  unit={MARK_MEASURES[tool].unit}
                  settings={record.settings}
                  lines={[{ id: tool, label: name, points: before }]}
                />
              </Suspense>
            )}
            <ul>
              {before
                .slice(-12)
                .reverse()
                .map(({ entry }) => (
                  <li key={entry.id}>
                    {entry.note ?? ''} <Quiet>{whenText(Date.parse(entry.at), clockMs(), record.settings)}</Quiet>
                  </li>
                ))}
            </ul>
          </Stack>
        </Tray>
        <Tray>
          <Stack $gap={8}>
            <h2 style={{ fontSize: 17 }}>Practise</h2>
            <Quiet>
              A drawn fish with pale spots: let them be proposed, put right what is wrong, and hear how many it had.
            </Quiet>
            <Row>
              <Button onPress={() => void practise()}>A drawn fish</Button>
            </Row>
          </Stack>
        </Tray>
      </Stack>
    </Page>
  )
}
