// A life as one line: where it lived, what it went through, what was seen, pictures; and any two of its days side by side.
import {
  atHourOfDay,
  dayOf,
  groupOf,
  isPast,
  lifeOf,
  signOf,
  standingOn,
  stateWords,
  walkAspects,
  type CoralState,
  type Life,
  type LifeKind,
  type ResidentDocument,
} from '@brinvo/core'
import { useState } from 'react'
import { Link } from 'react-router'
import { styled } from 'styled-components'
import { useRecord, type Draft } from '../../data/queries.tsx'
import { Choice, Select } from '../../design/fields.tsx'
import { Button, Facts, Quiet, Row, Stack, Tag, Tray } from '../../design/primitives.tsx'
import { NARROW } from '../../design/theme.ts'
import { dayText, longDayText, plural, whenText, sentenceCase } from '../../design/words.ts'
import { entryWords, MARK_WORDS } from '../../parts/entryWords.ts'
import { Photos, Picture } from '../../parts/Photos.tsx'
import { useSave } from '../../parts/StepActions.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'

const Line = styled.svg`
  display: block;
  width: 100%;
  height: auto;
  text {
    fill: var(--quiet);
    font-size: 13px;
  }
  .lane {
    stroke: var(--hairline);
  }
  .place {
    fill: var(--water);
    stroke: var(--rim);
    stroke-width: 1.5;
  }
  .course {
    fill: var(--tray);
    stroke: var(--quiet);
    stroke-width: 1.5;
    stroke-dasharray: 5 3;
  }
  .name {
    fill: var(--ink);
    font-weight: 650;
  }
  .mark {
    stroke: var(--ink);
    stroke-width: 2;
    fill: var(--tray);
  }
  .bad {
    fill: var(--acriflavine-ink);
    stroke: none;
  }
`
const Two = styled.div`
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 14px 22px;
  ${NARROW} {
    grid-template-columns: minmax(0, 1fr);
  }
  img {
    max-width: 100%;
    border-radius: 8px;
  }
  ul {
    list-style: none;
    padding: 0;
  }
`
const DAY = 86_400_000
const WIDE = 760
const LEFT = 92
const LANES: readonly { readonly title: string; readonly kinds: readonly LifeKind[] }[] = [
  { title: 'signs', kinds: ['sign'] },
  { title: 'walks', kinds: ['state'] },
  { title: 'food', kinds: ['meal'] },
  { title: 'hands on', kinds: ['handled', 'moved'] },
  { title: 'pictures', kinds: ['picture'] },
  { title: 'turns', kinds: ['mark', 'ended'] },
]
/** Past the line of any aspect: paler, receding, bare, shut, slimy. */
const amiss = (state: CoralState): boolean =>
  walkAspects.some((aspect) => state[aspect.id] !== undefined && isPast(aspect, state[aspect.id]!))
const times = (count: number): string => (count === 1 ? 'once' : count === 0 ? 'never' : `${count} times`)
const MARKS = ['recovery-spot', 'fell-over', 'shed', 'polyps-back', 'placed', 'cut', 'returned'] as const

export function LifePanel({ resident, place }: { resident: ResidentDocument; place: string | null }) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const life = lifeOf(record, active, resident, nowMs)
  const sessile = ['coral', 'plant'].includes(groupOf(resident.body.group)?.kind ?? '')
  return (
    <>
      <Tray>
        <Stack $gap={8}>
          <Row $between>
            <h2>Its life here</h2>
            <Quiet>
              {sentenceCase(plural(Math.max(1, Math.round((life.toMs - life.fromMs) / DAY)), 'day'))},{' '}
              {life.handledAll === 0
                ? 'never handled'
                : `handled ${times(life.handledAll)}${life.handledMonth === life.handledAll ? '' : `, ${times(life.handledMonth)} in thirty days`}`}
            </Quiet>
          </Row>
          <LifeLine life={life} name={resident.body.name} />
          {life.heads.length > 1 && (
            <p>
              Heads: {life.heads.map(({ atMs, count }) => `${count} (${dayText(atMs, record.settings)})`).join(', ')}
            </p>
          )}
        </Stack>
      </Tray>
      {place !== null && <Turns resident={resident} place={place} sessile={sessile} />}
      <SideBySide life={life} resident={resident} />
      <Tray>
        <Stack $gap={8}>
          <h2>Pictures of it</h2>
          <Photos subject={{ ...(place === null ? {} : { vesselId: place }), residentId: resident.id }} />
        </Stack>
      </Tray>
      <Told life={life} />
    </>
  )
}

function LifeLine({ life, name }: { life: Life; name: string }) {
  const { record } = useRecord()
  const { nowMs } = useThePlans()
  const { settings } = record
  const span = Math.max(2 * DAY, life.toMs - life.fromMs)
  const x = (ms: number) =>
    LEFT + ((WIDE - LEFT - 14) * (Math.min(life.toMs, Math.max(life.fromMs, ms)) - life.fromMs)) / span
  const lanes = LANES.filter(({ kinds }) => life.events.some(({ kind }) => kinds.includes(kind)))
  const top = 4
  const courseTop = top + 32
  const rows = courseTop + Math.max(life.vessels.length === 0 ? 1 : 0, life.courses.length) * 26
  const height = rows + lanes.length * 24 + 26
  const words = [
    `${name} since ${longDayText(life.fromMs, settings)}.`,
    `Lived in ${life.vessels.map(({ id }) => record.vessels.get(id)?.body.name ?? 'a vessel').join(', then ')}.`,
    ...lanes.map(({ title, kinds }) => `${title}: ${life.events.filter(({ kind }) => kinds.includes(kind)).length}`),
  ].join(' ')
  return (
    <Line viewBox={`0 0 ${WIDE} ${height}`} role="img" aria-label={words}>
      <text x={0} y={top + 15}>
        lives in
      </text>
      {life.vessels.map(({ id, fromMs, toMs }, i) => {
        const from = x(fromMs)
        const to = Math.max(from + 3, x(toMs ?? life.toMs))
        const label = record.vessels.get(id)?.body.name ?? ''
        return (
          <g key={`${id}-${i}`}>
            <rect className="place" x={from} y={top} width={to - from} height={22} rx={4} />
            {to - from > label.length * 7.5 + 12 && (
              <text className="name" x={from + 7} y={top + 16}>
                {label}
              </text>
            )}
          </g>
        )
      })}
      {life.courses.length > 0 && (
        <text x={0} y={courseTop + 13}>
          courses
        </text>
      )}
      {life.courses.map(({ id, fromMs, toMs }, i) => {
        const course = record.courses.get(id)
        const title = (course?.body.protocol as { title?: string } | undefined)?.title ?? 'a course'
        const y = courseTop + i * 26
        const from = x(fromMs)
        const to = Math.max(from + 4, x(toMs ?? life.toMs))
        const wide = title.length * 7.2 + 12
        // Inside where it fits, else to its right, else to its left; a name that fits nowhere is in the title.
        const [at, anchor] =
          to - from > wide
            ? ([from + 7, 'start'] as const)
            : to + wide < WIDE
              ? ([to + 6, 'start'] as const)
              : from - wide > LEFT
                ? ([from - 6, 'end'] as const)
                : ([null, 'start'] as const)
        return (
          <g key={id}>
            <title>{title}</title>
            <rect className="course" x={from} y={y} width={to - from} height={20} rx={4} />
            {at !== null && (
              <text x={at} y={y + 15} textAnchor={anchor}>
                {title}
              </text>
            )}
          </g>
        )
      })}
      {lanes.map(({ title, kinds }, i) => {
        const y = rows + i * 24 + 14
        return (
          <g key={title}>
            <text x={0} y={y + 4}>
              {title}
            </text>
            <line className="lane" x1={LEFT} x2={WIDE - 14} y1={y} y2={y} />
            {life.events
              .filter(({ kind }) => kinds.includes(kind))
              .map(({ kind, atMs, entry }, j) =>
                kind === 'sign' || (entry?.kind === 'state' && amiss(entry.aspects)) ? (
                  <circle key={j} className="bad" cx={x(atMs)} cy={y} r={5} />
                ) : (
                  <circle key={j} className="mark" cx={x(atMs)} cy={y} r={4} />
                ),
              )}
          </g>
        )
      })}
      <text x={LEFT} y={height - 6}>
        {dayText(life.fromMs, settings)}
      </text>
      <text x={WIDE - 14} y={height - 6} textAnchor="end">
        {life.toMs >= nowMs - DAY ? 'now' : dayText(life.toMs, settings)}
      </text>
    </Line>
  )
}

/** Turns in a life that are no signs; one press each. */
function Turns({ resident, place, sessile }: { resident: ResidentDocument; place: string; sessile: boolean }) {
  const save = useSave()
  const marks = sessile ? MARKS : (['returned', 'placed'] as const)
  return (
    <Row $gap={8} role="group" aria-label={`What happened to ${resident.body.name}`}>
      {marks.map((mark) => (
        <Button
          key={mark}
          onPress={() =>
            void save(
              [{ kind: 'note', vesselId: place, residentId: resident.id, mark } as unknown as Draft],
              `${resident.body.name}: ${MARK_WORDS[mark]}.`,
            )
          }
        >
          {MARK_WORDS[mark]}
        </Button>
      ))}
    </Row>
  )
}

/** Two days of its life, each as it stood then. */
function SideBySide({ life, resident }: { life: Life; resident: ResidentDocument }) {
  const { record, active } = useRecord()
  const { settings } = record
  const days = [...new Set(life.events.map(({ atMs }) => dayOf(atMs, settings.zone)))]
  const [left, setLeft] = useState<string | null>(null)
  const [right, setRight] = useState<string | null>(null)
  if (days.length < 2) return null
  const options = days.map((day) => ({ value: day, label: longDayText(atHourOfDay(day, 12, settings.zone), settings) }))
  const chosen = [left ?? days[0]!, right ?? days.at(-1)!] as const
  return (
    <Tray role="region" aria-label="Two days side by side">
      <Stack $gap={10}>
        <h2>Two days side by side</h2>
        <Two>
          {chosen.map((day, i) => {
            const stood = standingOn(life, active, resident.id, day, settings.zone)
            return (
              <Stack key={i === 0 ? 'then' : 'later'} $gap={8}>
                <Select
                  label={i === 0 ? 'This day' : 'Beside this'}
                  value={day}
                  onChange={i === 0 ? setLeft : setRight}
                  options={options}
                />
                <Facts>
                  <dt>in</dt>
                  <dd>{record.vessels.get(stood.vesselId ?? '')?.body.name ?? 'no vessel'}</dd>
                  {stood.courses.length > 0 && (
                    <>
                      <dt>course</dt>
                      <dd>
                        {stood.courses
                          .map((id) => (record.courses.get(id)?.body.protocol as { title?: string }).title ?? '')
                          .join(', ')}
                      </dd>
                    </>
                  )}
                  {stood.state && (
                    <>
                      <dt>stood</dt>
                      <dd>{stateWords(stood.state)}</dd>
                    </>
                  )}
                  <dt>open signs</dt>
                  <dd>
                    {stood.signs.length === 0
                      ? 'none noted'
                      : stood.signs.map((sign) => (signOf(sign)?.label ?? sign).toLowerCase()).join(', ')}
                  </dd>
                  {stood.beats !== null && (
                    <>
                      <dt>breaths a minute</dt>
                      <dd>{stood.beats}</dd>
                    </>
                  )}
                  {stood.meals.length > 0 && (
                    <>
                      <dt>food</dt>
                      <dd>{[...new Set(stood.meals)].join(', ')}</dd>
                    </>
                  )}
                  {stood.heads > 1 && (
                    <>
                      <dt>heads</dt>
                      <dd>{stood.heads}</dd>
                    </>
                  )}
                </Facts>
                {stood.pictures.length > 0 && (
                  <ul>
                    {stood.pictures.map((entry) => (
                      <Picture key={entry.id} entry={entry} />
                    ))}
                  </ul>
                )}
              </Stack>
            )
          })}
        </Two>
      </Stack>
    </Tray>
  )
}

const SHOWS = ['everything', 'turns'] as const
/** The same life told line by line, newest first. */
function Told({ life }: { life: Life }) {
  const { record } = useRecord()
  const { nowMs } = useThePlans()
  const [show, setShow] = useState<string>('turns')
  const told = [...life.events]
    .reverse()
    .filter(({ kind }) => show === 'everything' || (kind !== 'meal' && kind !== 'count'))
  if (life.events.length === 0) return null
  return (
    <Tray>
      <Stack $gap={8}>
        <Row $between>
          <h2>Told</h2>
          <Choice
            label="What is told"
            hideLabel
            value={show}
            onChange={setShow}
            options={SHOWS.map((one) => ({ value: one, label: one === 'turns' ? 'without meals' : 'everything' }))}
          />
        </Row>
        <ol style={{ display: 'grid', gap: 6 }}>
          {told.slice(0, 60).map(({ entry, atMs, kind }, i) => (
            <li key={entry?.id ?? `end-${i}`}>
              <Quiet>{whenText(atMs, nowMs, record.settings)}</Quiet>{' '}
              {entry ? entryWords(entry, record) : <Tag>{kind}</Tag>}
            </li>
          ))}
        </ol>
        {told.length > 60 && (
          <Quiet>
            {told.length - 60} older ones stand on the <Link to="/ledger">ledger</Link>.
          </Quiet>
        )}
      </Stack>
    </Tray>
  )
}
