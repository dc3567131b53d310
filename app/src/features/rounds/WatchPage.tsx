// A watching round: every resident with its marks; only what changed needs a press. Breathing is counted by tapping.
import { clockMs } from '../../data/clock.ts'
import {
  typedNumber,
  breathingOf,
  EXTENSION,
  groupOf,
  openSigns,
  quickSigns,
  residentsIn,
  signOf,
  looksLeft,
  watchOfDay,
  zonedOf,
  type ResidentDocument,
  type Sign,
} from '@brinvo/core'
import { Link, useParams, useSearchParams } from 'react-router'
import { styled } from 'styled-components'
import { useNow, useRecord, type Draft } from '../../data/queries.tsx'
import { useKept } from '../../data/useKept.ts'
import { Field } from '../../design/fields.tsx'
import { Button, Empty, LinkButton, Page, Quiet, Row, Stack, Tag, Tray, Well } from '../../design/primitives.tsx'
import { BreathCounter } from '../../parts/BreathCounter.tsx'
import { useSave } from '../../parts/StepActions.tsx'
import { useWatchDays, WatchStrip } from '../../parts/WatchStrip.tsx'
import { NotFound } from '../../shell/NotFound.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { useGoOn } from '../../shell/useGoOn.ts'
import { isDrawn, SignPicture } from '../../parts/Drawings.tsx'

const Mark = styled.button`
  min-height: 44px;
  padding: 6px 14px;
  border: 1.5px solid var(--hairline);
  border-radius: 10px;
  background: var(--tray);
  cursor: pointer;
  &[aria-pressed='true'] {
    border-color: var(--acriflavine-ink);
    background: var(--caution-tint);
    font-weight: 700;
  }
`
/** What was pressed so far, by resident. */
interface Round {
  readonly startedMs: number
  readonly seen: Readonly<Record<string, readonly string[]>>
  readonly gone: Readonly<Record<string, readonly string[]>>
  readonly beats: Readonly<Record<string, number>>
  readonly meals: Readonly<Record<string, 'took' | 'tried' | 'ignored'>>
  readonly extension: Readonly<Record<string, number>>
  /** Look of the day, and minutes where they were typed instead of timed. */
  readonly look: string | null
  readonly minutes: string | null
}

export function WatchPage() {
  const { vesselId = '' } = useParams()
  const [params] = useSearchParams()
  const { record, active } = useRecord()
  const { plans, nowMs } = useThePlans()
  const save = useSave()
  const goOn = useGoOn()
  const vessel = record.vessels.get(vesselId)
  // The sentinel is looked at first: it shows trouble before the others.
  const residents = residentsIn(record, active, vesselId, nowMs).sort(
    (a, b) => Number(b.body.sentinel === true) - Number(a.body.sentinel === true),
  )
  const now = useNow(10_000)
  const [round, change, clear] = useKept<Round>(`round-${vesselId}`, () => ({
    startedMs: clockMs(),
    seen: {},
    gone: {},
    beats: {},
    meals: {},
    extension: {},
    look: null,
    minutes: null,
  }))
  const { startedMs, seen, gone, beats, meals, extension } = round
  const today = useWatchDays(vesselId).at(-1)
  if (!vessel) return <NotFound />
  const key = params.get('step')
  const step = plans.flatMap((plan) => plan.steps).find((candidate) => candidate.key === key) ?? null
  const anyFish = residents.some(({ body }) => groupOf(body.group)?.kind === 'fish')
  const left = looksLeft(today?.looks ?? [], zonedOf(startedMs, record.settings.zone).hour)
  const look = watchOfDay.looks.find(({ id }) => id === round.look) ?? left[0] ?? watchOfDay.looks[0]!
  const wanted = anyFish ? look.minutes : (step?.minutes ?? 10)
  const timed = Math.max(0, (now - startedMs) / 60_000)
  const typed = round.minutes === null ? null : typedNumber(round.minutes)
  const wrong = typed !== null && !(typed > 0 && typed <= 600)
  const minutes = typed ?? Math.max(1, Math.round(timed))
  const toggle = (list: 'seen' | 'gone', resident: string, sign: string) =>
    change((before) => {
      const had = before[list][resident] ?? []
      const next = had.includes(sign) ? had.filter((one) => one !== sign) : [...had, sign]
      return { ...before, [list]: { ...before[list], [resident]: next } }
    })
  const marks = Object.values(seen).reduce((sum, list) => sum + list.length, 0)
  const keep = async () => {
    if (wrong) return
    const base = { vesselId, ...(step ? { courseId: step.courseId } : {}) }
    const drafts: Draft[] = [
      ...Object.entries(seen).flatMap(([residentId, list]) =>
        list.map((sign) => ({ kind: 'sign', ...base, sign, present: true, residentId }) as Draft),
      ),
      ...Object.entries(gone).flatMap(([residentId, list]) =>
        list.map((sign) => ({ kind: 'sign', ...base, sign, present: false, residentId }) as Draft),
      ),
      ...Object.entries(beats).map(
        ([residentId, count]) => ({ kind: 'count', ...base, what: 'gill-beats', count, residentId }) as Draft,
      ),
      ...Object.entries(meals).map(([residentId, took]) => ({ kind: 'meal', ...base, took, residentId }) as Draft),
      ...Object.entries(extension).map(
        ([residentId, count]) => ({ kind: 'count', ...base, what: EXTENSION, count, residentId }) as Draft,
      ),
      {
        kind: 'done',
        ...base,
        what: `${anyFish ? `${look.title} look, watched` : 'Watched'} ${minutes} min, ${marks === 0 ? 'nothing odd' : `${marks} ${marks === 1 ? 'sign' : 'signs'}`}`,
        ...(anyFish ? { watched: { look: look.id, minutes } } : {}),
        ...(step && !step.watch ? { step: step.key } : {}),
      } as Draft,
    ]
    if (await save(drafts, `Round in ${vessel.body.name}: noted.`)) {
      clear()
      goOn('/')
    }
  }
  return (
    <Page $aside>
      <Stack $gap={16}>
        <Row $between>
          <h1>Watch {vessel.body.name}</h1>
          <Quiet>
            {Math.floor(timed)} of {wanted} min
          </Quiet>
        </Row>
        {anyFish && (
          <Tray>
            <Stack $gap={10}>
              <Row $gap={8} role="group" aria-label="Look of the day">
                {watchOfDay.looks.map(({ id, title, minutes: usual }) => (
                  <Mark
                    key={id}
                    aria-pressed={look.id === id}
                    onClick={() => change((before) => ({ ...before, look: id }))}
                  >
                    {title} <Quiet>{today?.looks.includes(id) ? 'done today' : `${usual} min`}</Quiet>
                  </Mark>
                ))}
              </Row>
              <p>
                {look.when.charAt(0).toUpperCase() + look.when.slice(1)}, {look.distance}: {look.log}.
              </p>
            </Stack>
          </Tray>
        )}
        {residents.length === 0 && (
          <Empty
            title="Nobody lives here"
            action={<LinkButton to={`/vessels/${vesselId}`}>Open the vessel</LinkButton>}
          >
            Add who lives there, and each has its marks here.
          </Empty>
        )}
        {residents.map((resident) => (
          <ResidentTray
            key={resident.id}
            resident={resident}
            seen={seen[resident.id] ?? []}
            gone={gone[resident.id] ?? []}
            beats={beats[resident.id] ?? null}
            meal={meals[resident.id] ?? null}
            extension={extension[resident.id] ?? null}
            onExtension={(score) =>
              change((before) => ({ ...before, extension: { ...before.extension, [resident.id]: score } }))
            }
            onSeen={(sign) => toggle('seen', resident.id, sign)}
            onGone={(sign) => toggle('gone', resident.id, sign)}
            onBeats={(count) => change((before) => ({ ...before, beats: { ...before.beats, [resident.id]: count } }))}
            onMeal={(took) => change((before) => ({ ...before, meals: { ...before.meals, [resident.id]: took } }))}
          />
        ))}
        {residents.length > 0 && (
          <Row $gap={14} style={{ alignItems: 'flex-end' }}>
            <div style={{ width: 150 }}>
              <Field
                label="Watched"
                unit="min"
                value={round.minutes ?? String(Math.max(1, Math.round(timed)))}
                onChange={(text) => change((before) => ({ ...before, minutes: text }))}
                numeric
                error={wrong ? 'Minutes from 1 to 600.' : null}
              />
            </div>
            <Button
              look="main"
              onPress={() => void keep()}
              isDisabled={wrong}
              style={{ minHeight: 60, fontSize: 19, flex: '1 1 260px' }}
            >
              {marks === 0
                ? 'Nothing new: note the round'
                : `Note the round with ${marks} ${marks === 1 ? 'sign' : 'signs'}`}
            </Button>
          </Row>
        )}
      </Stack>
      <Stack $gap={16}>
        {anyFish && (
          <Tray>
            <WatchStrip vesselId={vesselId} />
          </Tray>
        )}
        <Tray>
          <Stack $gap={8}>
            <h3>How to look</h3>
            <p>
              From a step back for five minutes, then close.{' '}
              {anyFish
                ? 'Dawn shows spots, feeding shows appetite, a torch after dark shows dust.'
                : 'The same light each time: colour and extension are compared with the animal’s own days before.'}
            </p>
            <Quiet>
              Only what changed needs a press: an unpressed mark says nothing, “gone” says it was looked for in vain.
            </Quiet>
          </Stack>
        </Tray>
      </Stack>
    </Page>
  )
}

/** Marks of one size, so that the same sign stands at the same place for every animal of a kind. */
const Signs = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(158px, 1fr));
  gap: 8px;
  > button {
    display: flex;
    align-items: center;
    text-align: left;
    line-height: 1.2;
  }
`

function ResidentTray({
  resident,
  seen,
  gone,
  beats,
  meal,
  onSeen,
  onGone,
  onBeats,
  onMeal,
  extension,
  onExtension,
}: {
  resident: ResidentDocument
  seen: readonly string[]
  gone: readonly string[]
  beats: number | null
  meal: 'took' | 'tried' | 'ignored' | null
  onSeen: (sign: string) => void
  onGone: (sign: string) => void
  onBeats: (count: number) => void
  onMeal: (took: 'took' | 'tried' | 'ignored') => void
  extension: number | null
  onExtension: (score: number) => void
}) {
  const { record, active } = useRecord()
  const kind = groupOf(resident.body.group)?.kind
  const fish = kind === 'fish'
  const standing = openSigns(active, resident.id)
  const breathing = breathingOf(active, resident, record.settings.zone)
  const quick = quickSigns(resident.body.group).filter(({ id }) => !standing.some(({ sign }) => sign === id))
  return (
    <Tray aria-label={resident.body.name}>
      <Stack $gap={10}>
        <Row $between>
          <h2>
            <Link to={`/residents/${resident.id}`}>{resident.body.name}</Link>{' '}
            {resident.body.count > 1 && <Quiet>× {resident.body.count}</Quiet>}{' '}
            {resident.body.sentinel === true && <Tag>sentinel</Tag>}
          </h2>
          {fish && (
            <Quiet>
              {breathing.counts.length > 0
                ? `last ${breathing.counts.at(-1)!.perMinute} beats a minute`
                : breathing.normal
                  ? `usual ${breathing.normal.low}–${breathing.normal.high} beats a minute`
                  : ''}
            </Quiet>
          )}
        </Row>
        {breathing.alarm && (
          <Well>
            <strong>Breathing alarm.</strong> Two counts over {breathing.normal?.alarm ?? '1.5 × its own'}
            {breathing.warmth > 1.05 && ' though the warmer water is allowed for'}: more air now, test ammonia, then
            look for velvet and flukes.
          </Well>
        )}
        {standing.length > 0 && (
          <Row $gap={8}>
            {standing.map((entry) => (
              <Mark key={entry.sign} aria-pressed={!gone.includes(entry.sign)} onClick={() => onGone(entry.sign)}>
                {gone.includes(entry.sign) ? 'Gone: ' : 'Still: '}
                {(signOf(entry.sign)?.label ?? entry.sign.replaceAll('-', ' ')).toLowerCase()}
              </Mark>
            ))}
          </Row>
        )}
        <Signs role="group" aria-label={`New signs of ${resident.body.name}`}>
          {quick.map((sign: Sign) => (
            <Mark
              key={sign.id}
              aria-pressed={seen.includes(sign.id)}
              title={sign.definition}
              onClick={() => onSeen(sign.id)}
            >
              {isDrawn(sign.id) && (
                <span aria-hidden style={{ flex: '0 0 72px', marginRight: 6 }}>
                  <SignPicture id={sign.id} />
                </span>
              )}
              {sign.label}
            </Mark>
          ))}
        </Signs>
        {seen.map((id) => {
          const sign = quick.find((one) => one.id === id)
          return (
            sign && (
              <p key={id}>
                <Quiet>{sign.label}: only if </Quiet>
                {sign.definition.charAt(0).toLowerCase() + sign.definition.slice(1)}.
              </p>
            )
          )
        })}
        {kind === 'coral' && (
          <Row $gap={6} role="group" aria-label={`Polyps of ${resident.body.name}`}>
            <Quiet>Polyps out</Quiet>
            {POLYPS.map((words, score) => (
              <Mark key={words} aria-pressed={extension === score} onClick={() => onExtension(score)}>
                {score} <Quiet>{words}</Quiet>
              </Mark>
            ))}
          </Row>
        )}
        {fish && (
          <Row $gap={14}>
            <BreathCounter
              alarm={breathing.normal?.alarm ?? null}
              value={beats}
              onCount={onBeats}
              name={resident.body.name}
            />
            <Row $gap={6} role="group" aria-label={`Meal of ${resident.body.name}`}>
              {(['took', 'tried', 'ignored'] as const).map((took) => (
                <Mark key={took} aria-pressed={meal === took} onClick={() => onMeal(took)}>
                  {{ took: 'Ate', tried: 'Tried', ignored: 'Ignored food' }[took]}
                </Mark>
              ))}
            </Row>
          </Row>
        )}
      </Stack>
    </Tray>
  )
}

const POLYPS = ['shut', 'tips', 'half', 'most', 'full'] as const
