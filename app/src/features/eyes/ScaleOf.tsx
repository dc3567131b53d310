// What a pixel is: by two marks on something of known length, by the eyepiece and the objective, as last time, or as known.
import { fieldOf, channelsOf } from '@brinvo/core/imaging'
import { typedNumber } from '@brinvo/core'
import { useEffect, useRef, useState } from 'react'
import { Choice, Field } from '../../design/fields.tsx'
import { Quiet, Row, Stack } from '../../design/primitives.tsx'
import { Board, pressedAt } from './Board.tsx'

export interface Scale {
  readonly umPerPx: number
}
type Way = 'marks' | 'eyepiece' | 'known' | 'last'
/** No microscope shows a pixel finer or coarser than this, µm. */
const LEAST = 0.02
const MOST = 20

export function ScaleOf({
  picture,
  width,
  height,
  last,
  onScale,
}: {
  readonly picture: string
  readonly width: number
  readonly height: number
  readonly last: number | null
  readonly onScale: (scale: Scale | null) => void
}) {
  const [way, setWay] = useState<Way>('eyepiece')
  const [marks, setMarks] = useState<readonly { x: number; y: number }[]>([])
  const [um, setUm] = useState('')
  const [fieldNumber, setFieldNumber] = useState('18')
  const [objective, setObjective] = useState('40')
  const [share, setShare] = useState('')
  const [known, setKnown] = useState('')
  const [across, setAcross] = useState<number | null>(null)
  const image = useRef<HTMLImageElement>(null)
  const look = () => {
    // A bright circle in a dark surround is the eyepiece's whole field.
    const from = image.current
    if (!from) return
    const small = 320
    const canvas = document.createElement('canvas')
    canvas.width = small
    canvas.height = Math.max(1, Math.round((small * height) / width))
    const context = canvas.getContext('2d', { willReadFrequently: true })!
    context.drawImage(from, 0, 0, canvas.width, canvas.height)
    const { data } = context.getImageData(0, 0, canvas.width, canvas.height)
    const field = fieldOf([channelsOf({ width: canvas.width, height: canvas.height, channels: 4, data })])
    if (!field.round) return setAcross(null)
    let [left, right, top, bottom] = [canvas.width, 0, canvas.height, 0]
    field.mask.forEach((one, i) => {
      if (one === 0) return
      const x = i % canvas.width
      const y = Math.floor(i / canvas.width)
      left = Math.min(left, x)
      right = Math.max(right, x)
      top = Math.min(top, y)
      bottom = Math.max(bottom, y)
    })
    setAcross((Math.max(right - left, bottom - top) * width) / canvas.width)
  }
  const mm = typedNumber(fieldNumber)
  const times = typedNumber(objective)
  const percent = typedNumber(share)
  const fieldPx = across ?? (percent > 0 && percent <= 100 ? width / (percent / 100) : null)
  const found: number | null =
    way === 'last'
      ? last
      : way === 'known'
        ? typedNumber(known)
        : way === 'marks'
          ? marks.length === 2
            ? typedNumber(um) / Math.hypot(marks[1]!.x - marks[0]!.x, marks[1]!.y - marks[0]!.y)
            : null
          : mm > 0 && times > 0 && fieldPx !== null
            ? (1000 * mm) / times / fieldPx
            : null
  const good = found !== null && found >= LEAST && found <= MOST ? found : null
  useEffect(() => onScale(good === null ? null : { umPerPx: good }), [good, onScale])
  return (
    <Stack>
      <Choice<Way>
        label="By what"
        value={way}
        onChange={setWay}
        options={[
          { value: 'eyepiece', label: 'Eyepiece and objective' },
          { value: 'marks', label: 'Two marks' },
          { value: 'known', label: 'I know it' },
          ...(last === null ? [] : [{ value: 'last' as const, label: 'As last time' }]),
        ]}
      />
      {way === 'eyepiece' && (
        <>
          <Row $gap={12} style={{ alignItems: 'end' }}>
            <div style={{ width: 200 }}>
              <Field
                label="Field number, on the eyepiece"
                unit="mm"
                value={fieldNumber}
                onChange={setFieldNumber}
                numeric
              />
            </div>
            <div style={{ width: 150 }}>
              <Field label="Objective" unit="×" value={objective} onChange={setObjective} numeric />
            </div>
            {across === null && (
              <div style={{ width: 260 }}>
                <Field
                  label="Of the round field the picture shows"
                  unit="% of its width"
                  value={share}
                  onChange={setShare}
                  numeric
                />
              </div>
            )}
          </Row>
          <Quiet>
            {across === null
              ? 'No round edge is in sight: how much of the field’s width does the picture show? Better: two marks on a ruler.'
              : `The round field is ${Math.round(across)} pixels across.`}
          </Quiet>
        </>
      )}
      {way === 'known' && (
        <div style={{ width: 220 }}>
          <Field label="A pixel of the picture" unit="µm" value={known} onChange={setKnown} numeric />
        </div>
      )}
      {way === 'marks' && (
        <Row $gap={12} style={{ alignItems: 'end' }}>
          <div style={{ width: 220 }}>
            <Field label="From mark to mark" unit="µm" value={um} onChange={setUm} numeric />
          </div>
          <Quiet>
            {marks.length < 2
              ? `Press ${marks.length === 0 ? 'one end' : 'the other end'} of a ruler’s stretch, or of anything whose length is known.`
              : 'A third press begins anew.'}
          </Quiet>
        </Row>
      )}
      {found !== null && good === null && Number.isFinite(found) && (
        <p role="alert">
          A pixel of {Number(found.toPrecision(2))} µm is no microscope’s: it lies between {LEAST} and {MOST} µm.
        </p>
      )}
      {good !== null && (
        <p>
          A pixel is {Number(good.toPrecision(3))} µm; the picture is {Math.round(good * width)} µm wide.
        </p>
      )}
      <Board
        $pressed={way === 'marks'}
        onClick={(event) => {
          if (way !== 'marks') return
          const at = pressedAt(event, width, height)
          setMarks(marks.length === 1 ? [marks[0]!, at] : [at])
        }}
      >
        <img ref={image} src={picture} alt="The first frame of the clip" onLoad={look} />
        <svg viewBox={`0 0 ${width} ${height}`} aria-hidden>
          {way === 'marks' &&
            marks.map(({ x, y }, i) => (
              <g key={i} stroke="#B3261E" strokeWidth={width / 300}>
                <path d={`M${x - width / 60} ${y} H${x + width / 60} M${x} ${y - width / 60} V${y + width / 60}`} />
              </g>
            ))}
          {way === 'marks' && marks.length === 2 && (
            <line
              x1={marks[0]!.x}
              y1={marks[0]!.y}
              x2={marks[1]!.x}
              y2={marks[1]!.y}
              stroke="#B3261E"
              strokeWidth={width / 500}
            />
          )}
        </svg>
      </Board>
    </Stack>
  )
}
