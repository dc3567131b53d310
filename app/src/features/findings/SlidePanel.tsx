// What a drop under the microscope shows, put together from drawings: outline, motion, size, share of the view.
import {
  CANNOT_TELL,
  protocolServing,
  typedNumber,
  moverShare,
  signOf,
  slideSigns,
  slideTable,
  type FindingDocument,
  type SlideClass,
} from '@brinvo/core'
import { useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import { styled } from 'styled-components'
import { useActions, type Draft } from '../../data/queries.tsx'
import { Check, Field } from '../../design/fields.tsx'
import { Button, LinkButton, Quiet, Row, Stack, Tray } from '../../design/primitives.tsx'
import { useNotice } from '../../shell/Notices.tsx'

const Choices = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(132px, 1fr));
  gap: 8px;
  button {
    min-height: 64px;
    display: flex;
    align-items: center;
    gap: 8px;
    padding: 6px 10px;
    border: 1.5px solid var(--hairline);
    border-radius: 10px;
    background: var(--tray);
    text-align: left;
    font-size: 14.5px;
    cursor: pointer;
  }
  button[aria-pressed='true'] {
    border-color: var(--rim);
    background: var(--well);
    font-weight: 700;
  }
  svg {
    flex: none;
  }
`
const Line = ({ children }: { children: ReactNode }) => (
  <svg
    width="44"
    height="34"
    viewBox="0 0 44 34"
    aria-hidden
    fill="none"
    stroke="currentColor"
    strokeWidth="1.6"
    strokeLinecap="round"
  >
    {children}
  </svg>
)
/** Own line drawings of what lies or moves on a slide. */
const DRAWN: Readonly<Record<string, ReactNode>> = {
  boat: <path d="M4 17 Q22 5 40 17 Q22 29 4 17 Z M10 17 H34" />,
  drop: <path d="M22 5 C34 12 33 28 22 29 C11 28 10 12 22 5 Z M18 9 H26" />,
  round: <circle cx="22" cy="17" r="11" />,
  oval: <ellipse cx="22" cy="17" rx="14" ry="9" />,
  lens: (
    <>
      <circle cx="22" cy="17" r="14" />
      <circle cx="22" cy="17" r="8" />
    </>
  ),
  chain: <path d="M4 22 C12 8 22 28 40 12 M9 17 l2 3 M15 16 l1 3 M22 18 l1 3 M30 17 l2 3" />,
  'green-thread': <path d="M5 11 H39 M5 23 H39 M14 11 V23 M24 11 V23 M33 11 V23" />,
  tube: <path d="M4 29 C14 24 18 18 22 4 M15 23 C24 24 30 20 40 22 M19 14 C26 12 30 8 36 6" />,
  'red-branch': <path d="M22 31 V4 M22 22 L10 12 M22 22 L34 12 M22 14 L14 6 M22 14 L30 6 M20 27 h4 M20 18 h4" />,
  'gold-dot': (
    <>
      <circle cx="12" cy="12" r="3" />
      <circle cx="22" cy="21" r="3" />
      <circle cx="32" cy="11" r="3" />
      <path d="M4 26 C12 32 32 32 40 26" strokeDasharray="2 3" />
    </>
  ),
  'green-dot': (
    <>
      <circle cx="13" cy="12" r="5" />
      <circle cx="30" cy="21" r="5" />
      <path d="M18 9 l4 -4 M35 18 l4 -4" />
    </>
  ),
  rod: <path d="M8 9 h6 M22 14 h7 M12 24 h6 M32 25 h5 M18 19 h.5 M33 10 h.5 M8 17 h.5" />,
  still: <path d="M10 27 H34 M22 7 V21" strokeDasharray="1 0" />,
  glides: <path d="M5 17 H38 M31 10 L38 17 L31 24" />,
  swims: <path d="M5 25 L16 9 L24 23 L38 8 M31 8 H38 V15" />,
  spins: <path d="M22 17 m-9 0 a9 9 0 1 1 4 7.4 M17 24 l.2 -6 M17 24 l6 -.6" />,
  tumbles: <path d="M8 17 a14 10 0 1 1 6 8 M14 25 l-1 -6 M14 25 l6 -1" />,
  wobbles: <path d="M8 12 Q14 7 20 12 T32 12 M12 22 Q18 17 24 22 T36 22" />,
  creeps: <path d="M5 20 C12 10 16 28 23 18 S34 14 39 18 M35 13 L39 18 L34 22" />,
  tiny: <circle cx="22" cy="17" r="1.5" />,
  small: <circle cx="22" cy="17" r="4" />,
  middle: <circle cx="22" cy="17" r="8.5" />,
  large: <circle cx="22" cy="17" r="14" />,
}
const AXES = [
  { id: 'outline', title: 'Outline', short: 'outline', options: slideTable.outlines },
  { id: 'motion', title: 'How it moves', short: 'motion', options: slideTable.motions },
  {
    id: 'size',
    title: 'Length, by the ruler of the eyepiece or the phone',
    short: 'length',
    options: slideTable.sizes,
  },
] as const
const UNASKED = '-'
const labelOf = (axis: (typeof AXES)[number], id: string) =>
  id === CANNOT_TELL ? `${axis.short} not to be told` : axis.options.find((one) => one.id === id)?.label.toLowerCase()

/** For films and growths: what a slide shows becomes answers. */
export function SlidePanel({ finding }: { finding: FindingDocument }) {
  const { append } = useActions()
  const notice = useNotice()
  const [open, setOpen] = useState(false)
  const [kinds, setKinds] = useState<readonly SlideClass[]>([])
  const [made, setMade] = useState<{ outline: string; motion: string; size: string }>({
    outline: UNASKED,
    motion: UNASKED,
    size: UNASKED,
  })
  const [share, setShare] = useState('')
  const [error, setError] = useState<string | null>(null)
  // What else lies there is not ruled out before somebody says so.
  const [all, setAll] = useState(false)
  const { yes, no } = slideSigns(finding.body.pool, kinds, all)
  const add = () => {
    const percent = typedNumber(share)
    if (Object.values(made).includes(UNASKED))
      return setError('Choose an outline, how it moves and a size, or that it cannot be told.')
    if (Object.values(made).every((id) => id === CANNOT_TELL))
      return setError('Nothing of it can be told: that says nothing, so leave it off the slide.')
    if (!(percent > 0 && percent <= 100)) return setError('Its share of what lies in view, from 1 to 100 %.')
    setError(null)
    setKinds([...kinds, { ...made, share: percent }])
    setMade({ outline: UNASKED, motion: UNASKED, size: UNASKED })
    setShare('')
  }
  const keep = () => {
    const base = { kind: 'sign', vesselId: finding.body.vesselId, findingId: finding.id }
    append([
      ...yes.map((sign) => ({ ...base, sign, present: true }) as Draft),
      ...no.map((sign) => ({ ...base, sign, present: false }) as Draft),
      {
        kind: 'note',
        vesselId: finding.body.vesselId,
        note: `Slide: ${kinds.map((kind) => `${AXES.map((axis) => labelOf(axis, kind[axis.id])).join(', ')}, ${kind.share} % of the view`).join('; ')}.`,
      } as Draft,
    ])
      .then(() => {
        notice({ text: 'The slide is noted.', tone: 'done' })
        setKinds([])
        setOpen(false)
      })
      .catch((cause: unknown) => notice({ text: (cause as Error).message, tone: 'failed' }))
  }
  return (
    <Tray role="region" aria-label="Slide">
      <Stack>
        <Row $between>
          <h2>Under the microscope</h2>
          <Button look={open ? 'bare' : 'plain'} onPress={() => setOpen(!open)}>
            {open ? 'Fold away' : 'Enter a slide'}
          </Button>
        </Row>
        {!open && (
          <Quiet>
            A drop from the film’s edge, fresh, a cover glass, forty to four hundred times. A toy microscope will do.{' '}
            <Link to={`/courses/new?protocol=${protocolServing('film-sample').id}&vessel=${finding.body.vesselId}`}>
              The sample, minute by minute
            </Link>
          </Quiet>
        )}
        {!open && (
          <Row>
            <LinkButton to={`/slide/${finding.body.vesselId}?finding=${finding.id}`}>Measure a clip of it</LinkButton>
          </Row>
        )}
        {open && (
          <>
            {kinds.length > 0 && (
              <ul>
                {kinds.map((kind, i) => (
                  <li key={`${kind.outline}-${i}`}>
                    <Row $between>
                      <span>
                        <strong>{kind.share} %</strong> {AXES.map((axis) => labelOf(axis, kind[axis.id])).join(', ')}
                      </span>
                      <Button look="bare" onPress={() => setKinds(kinds.filter((_, at) => at !== i))}>
                        Take it off
                      </Button>
                    </Row>
                  </li>
                ))}
              </ul>
            )}
            {AXES.map((axis) => (
              <Stack key={axis.id} $gap={6}>
                <h3>{axis.title}</h3>
                <Choices role="group" aria-label={axis.title}>
                  {axis.options.map(({ id, label }) => (
                    <button
                      key={id}
                      type="button"
                      aria-pressed={made[axis.id] === id}
                      onClick={() => setMade({ ...made, [axis.id]: id })}
                    >
                      <Line>{DRAWN[id]}</Line>
                      {label}
                    </button>
                  ))}
                  <button
                    type="button"
                    aria-pressed={made[axis.id] === CANNOT_TELL}
                    onClick={() => setMade({ ...made, [axis.id]: CANNOT_TELL })}
                  >
                    Cannot tell
                  </button>
                </Choices>
              </Stack>
            ))}
            <Row style={{ alignItems: 'flex-end' }}>
              <div style={{ width: 220 }}>
                <Field
                  label="Share of what lies in view"
                  unit="%"
                  value={share}
                  onChange={setShare}
                  numeric
                  error={error}
                />
              </div>
              <Button onPress={add}>Put it on the slide</Button>
            </Row>
            {kinds.length > 0 && (
              <>
                <Check isSelected={all} onChange={setAll}>
                  That is all there is in view
                </Check>
                <p>
                  {Math.round(moverShare(kinds))} % of it moves.{' '}
                  {yes.length === 0
                    ? 'None of this is a sign by itself.'
                    : `Signs: ${yes.map((sign) => signOf(sign)?.label.replace(/^Slide: /, '')).join(', ')}.`}
                  {no.length > 0 && (
                    <Quiet>
                      {' '}
                      {no.length} {no.length === 1 ? 'other' : 'others'} looked for and not there.
                    </Quiet>
                  )}
                </p>
                <Button look="main" onPress={keep}>
                  Note the slide
                </Button>
              </>
            )}
          </>
        )}
      </Stack>
    </Tray>
  )
}
