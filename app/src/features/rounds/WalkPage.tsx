// The walk along the corals: twenty in five minutes. How each stood last stands beside it; only what changed is pressed,
// and what was looked at and found as before is said so. Silence says nothing.
import {
  coralNow,
  coralStates,
  groupOf,
  isPast,
  residentsIn,
  stateWords,
  walkAspects,
  walkDays,
  walkSums,
  WELL,
  type CoralState,
  type ResidentDocument,
  type WalkSum,
} from '@brinvo/core'
import { useState } from 'react'
import { Link, useParams, useSearchParams } from 'react-router'
import { styled } from 'styled-components'
import { useRecord, type Draft } from '../../data/queries.tsx'
import { useKept } from '../../data/useKept.ts'
import { Button, DayTable, Empty, LinkButton, Page, Quiet, Row, Stack, Tray, Well } from '../../design/primitives.tsx'
import { NARROW } from '../../design/theme.ts'
import { dayText, plural, whenText } from '../../design/words.ts'
import { entryWords } from '../../parts/entryWords.ts'
import { Photos } from '../../parts/Photos.tsx'
import { SignPicture } from '../../parts/Drawings.tsx'
import { useSave } from '../../parts/StepActions.tsx'
import { LEVEL_PLATES, plateOfState } from '../../plates/walk.ts'
import { NotFound } from '../../shell/NotFound.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { useGoOn } from '../../shell/useGoOn.ts'

const Coral = styled.li`
  display: grid;
  grid-template-columns: minmax(150px, 290px) minmax(0, 1fr) auto;
  gap: 6px 16px;
  align-items: center;
  padding: 10px 0;
  & + & {
    border-top: 1px solid var(--hairline);
  }
  &[data-looked] {
    background: linear-gradient(90deg, var(--water), transparent 40%);
  }
  ${NARROW} {
    grid-template-columns: minmax(0, 1fr) auto;
    > :nth-child(2) {
      grid-row: 2;
      grid-column: 1 / -1;
    }
  }
`
const Who = styled.div`
  display: flex;
  gap: 10px;
  align-items: center;
  > svg {
    flex: none;
  }
`
const Level = styled.span`
  display: grid;
  gap: 2px;
  justify-items: center;
`
const Chip = styled.button`
  min-height: 44px;
  padding: 4px 10px;
  border: 1.5px solid var(--hairline);
  border-radius: 9px;
  background: var(--tray);
  color: inherit;
  cursor: pointer;
  font-size: 14px;
  line-height: 1.15;
  text-align: left;
  small {
    display: block;
    color: var(--quiet);
    font-size: 12px;
  }
  &[data-past] {
    border-color: var(--acriflavine-ink);
    font-weight: 700;
  }
  &[data-changed] {
    background: var(--caution-tint);
  }
  &[aria-pressed='true'],
  &[aria-expanded='true'] {
    border-color: var(--rim);
    border-width: 2.5px;
  }
`

/** Levels pressed so far, by coral; an empty one was looked at and found as before. */
type Pressed = Readonly<Record<string, CoralState>>

export function WalkPage() {
  const { vesselId = '' } = useParams()
  const [params] = useSearchParams()
  const { record, active } = useRecord()
  const { plans, nowMs } = useThePlans()
  const save = useSave()
  const goOn = useGoOn()
  const [pressed, change, clear] = useKept<Pressed>(`walk-${vesselId}`, () => ({}))
  const [open, setOpen] = useState<string | null>(null)
  const vessel = record.vessels.get(vesselId)
  if (!vessel) return <NotFound />
  const corals = residentsIn(record, active, vesselId, nowMs).filter(
    ({ body }) => groupOf(body.group)?.kind === 'coral',
  )
  const key = params.get('step')
  const step = plans.flatMap((plan) => plan.steps).find((candidate) => candidate.key === key) ?? null
  const looked = corals.filter(({ id }) => pressed[id] !== undefined)
  const left = corals.filter(({ id }) => pressed[id] === undefined)
  const press = (id: string, aspects: CoralState) => {
    change((before) => ({ ...before, [id]: { ...before[id], ...aspects } }))
    setOpen(null)
  }
  const keep = async (rest: readonly ResidentDocument[]) => {
    const all: Pressed = { ...pressed, ...Object.fromEntries(rest.map(({ id }) => [id, pressed[id] ?? {}])) }
    const base = { vesselId, ...(step ? { courseId: step.courseId } : {}) }
    const drafts = corals.flatMap(({ id }): Draft[] => {
      const aspects = all[id]
      if (aspects === undefined) return []
      const last = coralNow(active, id)
      const changed = Object.entries(aspects).filter(([aspect, level]) => last?.[aspect] !== level)
      return [
        {
          kind: 'state',
          ...base,
          residentId: id,
          aspects: last === null ? { ...WELL, ...aspects } : { ...last, ...aspects },
          ...(last !== null && changed.length === 0 ? { asBefore: true } : {}),
        } as unknown as Draft,
      ]
    })
    const missed = corals.length - drafts.length
    const words = `Walked along ${plural(drafts.length, 'coral')}${missed > 0 ? `, ${missed} not looked at` : ''}`
    drafts.push({ kind: 'done', ...base, what: words, ...(step ? { step: step.key } : {}) } as unknown as Draft)
    if (await save(drafts, `${words}.`)) {
      clear()
      goOn(step ? `/courses/${step.courseId}` : `/vessels/${vesselId}`)
    }
  }
  return (
    <Page $aside>
      <Stack $gap={16}>
        <Row $between>
          <h1>Walk along the corals</h1>
          <Quiet>
            {looked.length} of {corals.length}
          </Quiet>
        </Row>
        <p>
          <Link to={`/vessels/${vesselId}`}>{vessel.body.name}</Link>
        </p>
        {corals.length === 0 ? (
          <Empty
            title="No coral lives here"
            action={<LinkButton to={`/vessels/${vesselId}`}>Open the vessel</LinkButton>}
          >
            Register each coral with a name, and the walk goes along them.
          </Empty>
        ) : (
          <Tray>
            <ul>
              {corals.map((coral) => (
                <CoralRow
                  key={coral.id}
                  coral={coral}
                  pressed={pressed[coral.id]}
                  open={open?.startsWith(`${coral.id}/`) === true ? open.slice(coral.id.length + 1) : null}
                  onOpen={(aspect) => setOpen(aspect === null ? null : `${coral.id}/${aspect}`)}
                  onPress={(aspects) => press(coral.id, aspects)}
                />
              ))}
            </ul>
          </Tray>
        )}
        {corals.length > 0 && (
          <Row $gap={10}>
            {left.length > 0 && (
              <Button look={looked.length > 0 ? 'main' : 'plain'} onPress={() => void keep(left)}>
                {looked.length === 0 ? 'All looked at' : 'The rest looked at'}:{' '}
                {left.every(({ id }) => coralNow(active, id) === null) ? 'well' : 'as before'}
              </Button>
            )}
            {looked.length > 0 && (
              <Button look={left.length === 0 ? 'main' : 'plain'} onPress={() => void keep([])}>
                {left.length === 0 ? 'Note the walk' : `Note without ${plural(left.length, 'coral')}`}
              </Button>
            )}
          </Row>
        )}
      </Stack>
      <Stack $gap={16}>
        <WalkSumTray vesselId={vesselId} />
        <Well>
          <p>
            “As before” says that it was looked at. What was never looked at says nothing: it is left out of every sum.
            The first walk counts as well what is not pressed.
          </p>
        </Well>
      </Stack>
    </Page>
  )
}

function CoralRow({
  coral,
  pressed,
  open,
  onOpen,
  onPress,
}: {
  coral: ResidentDocument
  pressed: CoralState | undefined
  open: string | null
  onOpen: (aspect: string | null) => void
  onPress: (aspects: CoralState) => void
}) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const walks = coralStates(active, coral.id)
  const last = walks.at(-1)
  const state = { ...(last?.state ?? WELL), ...pressed }
  const aspect = walkAspects.find(({ id }) => id === open)
  const plate = plateOfState(state, coral.body.scientificName)
  const form = plateOfState(WELL, coral.body.scientificName)
  /** The picture of a level; of the one that is well, the coral's own form. */
  const drawn = (id: string, level: number) => LEVEL_PLATES[id]?.[level] ?? (WELL[id] === level ? form : null)
  const said = aspect ? 'Back' : pressed !== undefined ? 'Looked at' : last ? 'As before' : 'Well'
  return (
    <Coral {...(pressed ? { 'data-looked': '' } : {})}>
      <Who>
        {plate && <SignPicture id={plate} />}
        <div>
          <Link to={`/residents/${coral.id}`}>{coral.body.name}</Link>
          <br />
          <Quiet>
            {last ? `${whenText(last.atMs, nowMs, record.settings)}: ${stateWords(last.state)}` : 'never walked'}
          </Quiet>
        </div>
      </Who>
      {aspect ? (
        <Row $gap={6} role="group" aria-label={`${aspect.label} of ${coral.body.name}`}>
          {aspect.levels.map((word, level) => (
            <Chip
              key={word}
              type="button"
              aria-pressed={state[aspect.id] === level}
              onClick={() => onPress({ [aspect.id]: level })}
            >
              <Level>
                {drawn(aspect.id, level) && <SignPicture id={drawn(aspect.id, level)!} />}
                {word}
              </Level>
            </Chip>
          ))}
        </Row>
      ) : (
        <Row $gap={6}>
          {walkAspects.map((one) => {
            const level = state[one.id]!
            const moved =
              last !== undefined && pressed?.[one.id] !== undefined && pressed[one.id] !== last.state[one.id]
            return (
              <Chip
                key={one.id}
                type="button"
                aria-expanded={false}
                aria-label={`${one.label} ${one.levels[level]}, ${coral.body.name}`}
                {...(isPast(one, level) ? { 'data-past': '' } : {})}
                {...(moved || (last === undefined && pressed?.[one.id] !== undefined) ? { 'data-changed': '' } : {})}
                onClick={() => onOpen(one.id)}
              >
                <small>{one.label}</small> {one.levels[level]}
              </Chip>
            )
          })}
        </Row>
      )}
      <Button
        look={pressed === undefined ? 'plain' : 'bare'}
        aria-label={`${said}: ${coral.body.name}`}
        onPress={() => (aspect ? onOpen(null) : onPress({}))}
      >
        {said}
      </Button>
    </Coral>
  )
}

/** What the walks of a vessel sum up to: how many, since when, after what; and the last walks side by side. */
function WalkSumTray({ vesselId }: { vesselId: string }) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const { settings } = record
  const sums = walkSums(record, active, vesselId, nowMs)
  const days = walkDays(record, active, vesselId, nowMs)
  const last = days.at(-1)
  if (!last) return null
  const told = walkAspects.filter(({ id }) => days.some(({ past }) => (past[id] ?? 0) > 0))
  return (
    <Tray>
      <Stack $gap={10}>
        <h2>Over the vessel</h2>
        {sums.length === 0 ? (
          <p>
            Nothing amiss on the {last.of} that were walked, {whenText(last.atMs, nowMs, settings)}.
          </p>
        ) : (
          <ul style={{ display: 'grid', gap: 10 }}>
            {sums.map((sum) => (
              <Sum key={sum.aspect} sum={sum} />
            ))}
          </ul>
        )}
        {days.length > 1 && (
          <div style={{ overflowX: 'auto' }} tabIndex={0} role="group" aria-label="The last walks">
            <DayTable>
              <thead>
                <tr>
                  <th scope="col">walk</th>
                  <th scope="col">looked at</th>
                  {told.map(({ id, summed }) => (
                    <th key={id} scope="col">
                      {summed}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {[...days]
                  .reverse()
                  .slice(0, 8)
                  .map((day) => (
                    <tr key={day.day}>
                      <td style={{ whiteSpace: 'nowrap' }}>{dayText(day.atMs, settings)}</td>
                      <td>
                        {day.looked} of {day.of}
                      </td>
                      {told.map(({ id }) => (
                        <td key={id}>{day.past[id] === 0 ? '' : day.past[id]}</td>
                      ))}
                    </tr>
                  ))}
              </tbody>
            </DayTable>
          </div>
        )}
        <Photos subject={{ vesselId }} note="the walk" only="the walk" />
      </Stack>
    </Tray>
  )
}

function Sum({ sum }: { sum: WalkSum }) {
  const { record } = useRecord()
  const titles = sum.courses.flatMap((id) => {
    const course = record.courses.get(id)
    return course ? [`${(course.body.protocol as { title?: string }).title ?? 'a course'} begun`] : []
  })
  const events = [...titles, ...sum.before.slice(-3).map((entry) => entryWords(entry, record))]
  return (
    <li>
      <strong>
        {sum.names.length} of {sum.of} {sum.words}
      </strong>
      : {sum.names.slice(0, 6).join(', ')}
      {sum.names.length > 6 && ` and ${sum.names.length - 6} more`}.{' '}
      <Quiet>
        Since {dayText(sum.sinceMs, record.settings)}
        {events.length > 0 ? `; noted before that: ${events.join('; ')}.` : '; nothing was noted in the week before.'}
      </Quiet>
    </li>
  )
}
