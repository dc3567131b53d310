// One finding: danger first, the next look, the drawn body with its signs, and the ranking that follows every press.
import {
  breathingOf,
  conditionOf,
  conditionsOf,
  diagnose,
  findingInput,
  instantOf,
  likelyCourses,
  MOST,
  notExcluded,
  residentsIn,
  sharedTrouble,
  signOf,
  signsOf,
  SPOTS,
  type Diagnosis,
  type Entry,
  type FindingDocument,
  type Look,
  type Ranked,
  type ResidentDocument,
  type Sign,
} from '@brinvo/core'
import { useMemo, useState } from 'react'
import { Link, useParams } from 'react-router'
import { styled } from 'styled-components'
import { useActions, useRecord, type Draft } from '../../data/queries.tsx'
import { Check, Field, Select } from '../../design/fields.tsx'
import { Button, LinkButton, Page, Quiet, Row, Stack, Tag, Tray, Well } from '../../design/primitives.tsx'
import { plural, whenText } from '../../design/words.ts'
import { BreathCounter } from '../../parts/BreathCounter.tsx'
import { NotFound } from '../../shell/NotFound.tsx'
import { useNotice } from '../../shell/Notices.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { BodyDrawing, SignPicture } from '../../parts/Drawings.tsx'
import { SideBySide } from '../../parts/Compared.tsx'
import { LookAlikes } from './LookAlikes.tsx'
import { SlidePanel } from './SlidePanel.tsx'
import { TimedTests } from './TimedTests.tsx'
import { LOOKS, zoneOf, zonesOf } from '../../parts/zones.ts'

const Answers = styled.div`
  display: flex;
  gap: 6px;
  button {
    min-height: 44px;
    min-width: 64px;
    padding: 4px 12px;
    border: 1.5px solid var(--hairline);
    border-radius: 10px;
    background: var(--tray);
    cursor: pointer;
  }
  button[aria-pressed='true'] {
    border-color: var(--rim);
    background: var(--rim);
    color: var(--on-rim);
    font-weight: 700;
  }
`
const SignRow = styled.li`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 14px;
  padding: 8px 0;
  & + & {
    border-top: 1px solid var(--hairline);
  }
  > div:nth-last-child(2) {
    flex: 1 1 220px;
  }
`
const Bar = styled.div`
  height: 10px;
  border-radius: 5px;
  background: var(--well);
  overflow: hidden;
  i {
    display: block;
    height: 100%;
    background: var(--methylene);
  }
`
const Zones = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  button {
    min-height: 44px;
    padding: 4px 14px;
    border: 1.5px solid var(--hairline);
    border-radius: 22px;
    background: var(--tray);
    cursor: pointer;
  }
  button[aria-pressed='true'] {
    border-color: var(--rim);
    font-weight: 700;
  }
`

const percent = (p: number): string =>
  p >= MOST ? `${Math.round(100 * MOST)} % or more` : p < 0.01 ? 'under 1 %' : `${Math.round(100 * p)} %`
const URGENCY = { 'act-now': 'within the hour', today: 'today', 'this-week': 'this week', watch: 'watch it' } as const

export function FindingPage() {
  const { id = '' } = useParams()
  const { record } = useRecord()
  const finding = record.findings.get(id)
  return finding ? <Following key={id} finding={finding} /> : <NotFound />
}

function Following({ finding }: { finding: FindingDocument }) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const { append, revise } = useActions()
  const notice = useNotice()
  const { body } = finding
  const vessel = record.vessels.get(body.vesselId)
  const resident = body.residentId === undefined ? undefined : record.residents.get(body.residentId)
  const diagnosis = useMemo(
    () => diagnose(findingInput(record, active, finding, nowMs)),
    [record, active, finding, nowMs],
  )
  const { ranking } = diagnosis
  const answers = new Map(diagnosis.evidence.map(({ sign, answer }) => [sign, answer]))
  const old = diagnosis.evidence.filter(({ ageDays }) => (ageDays ?? 0) > 7).length
  const unknownKind = resident !== undefined && /unknown/.test(resident.body.group)
  const failed = (cause: unknown) => notice({ text: (cause as Error).message, tone: 'failed' })

  const draft = (sign: string, next: 'yes' | 'no') =>
    ({
      kind: 'sign',
      vesselId: body.vesselId,
      ...(body.residentId === undefined ? {} : { residentId: body.residentId }),
      sign,
      present: next === 'yes',
      findingId: finding.id,
    }) as Draft
  const answer = (sign: string, next: 'yes' | 'no' | null) => {
    const own = ownEntries(active, finding.id, sign)
    const drafts: Draft[] =
      next === null
        ? own.map(({ id }) => ({ kind: 'void', voids: id, reason: 'Taken back' }) as unknown as Draft)
        : [draft(sign, next)]
    if (drafts.length > 0) append(drafts).catch(failed)
  }
  const answerAll = (all: Readonly<Record<string, 'yes' | 'no'>>) =>
    append(Object.entries(all).map(([sign, next]) => draft(sign, next))).catch(failed)
  const refuse = (sign: string) => revise(finding, { ...body, refused: [...body.refused, sign] }).catch(failed)
  const strike = (sign: string) =>
    revise(finding, {
      ...body,
      struck: body.struck.includes(sign) ? body.struck.filter((one) => one !== sign) : [...body.struck, sign],
    }).catch(failed)

  return (
    <Page $aside>
      <Stack $gap={16}>
        <Stack $gap={2}>
          <h1>{body.title}</h1>
          <span>
            {resident && (
              <>
                {resident.body.commonName} <Quiet>{resident.body.scientificName} ·</Quiet>{' '}
              </>
            )}
            <Link to={`/vessels/${body.vesselId}`}>{vessel?.body.name}</Link>{' '}
            <Quiet>since {whenText(Date.parse(body.startedAt), nowMs, record.settings)}</Quiet>
          </span>
        </Stack>
        {(old > 0 || unknownKind) && (
          <Well>
            {unknownKind && 'Its kind is not known: it counts as the most sensitive of its water. '}
            {old > 0 &&
              `${plural(old, 'answer')} ${old === 1 ? 'is' : 'are'} older than a week and ${old === 1 ? 'counts' : 'count'} for less: look again.`}
          </Well>
        )}
        <Danger diagnosis={diagnosis} />
        {ranking.contradictions.map((signs) => (
          <Tray key={signs.join()} $tone="caution" role="alert">
            <strong>Only one of these can be true:</strong> {signs.map((sign) => signOf(sign)?.label).join(' or ')}.
            Look again; until then neither counts.
          </Tray>
        ))}
        <NextLook diagnosis={diagnosis} onAnswer={answer} onRefuse={(sign) => void refuse(sign)} />
        <LookAlikes
          pool={body.pool}
          best={diagnosis.looks.best?.sign.id ?? null}
          answers={answers}
          onAnswer={(all) => void answerAll(all)}
        />
        {resident && body.pool.startsWith('fish') && <CountPanel finding={finding} resident={resident} />}
        {body.pool.startsWith('surface') && <SlidePanel finding={finding} />}
        <TimedTests finding={finding} answers={answers} onAnswer={(all) => void answerAll(all)} />
        <SignPicker finding={finding} answers={answers} onAnswer={answer} />
        <RecordSays diagnosis={diagnosis} struck={body.struck} onStrike={(sign) => void strike(sign)} />
        <SideBySide vesselId={body.vesselId} />
        <Others finding={finding} />
      </Stack>
      <Stack $gap={14}>
        <RankingPanel diagnosis={diagnosis} />
        <Actions diagnosis={diagnosis} finding={finding} groupId={resident?.body.group ?? null} />
        <Closing finding={finding} />
      </Stack>
    </Page>
  )
}

const ownEntries = (active: readonly Entry[], findingId: string, sign: string) =>
  active.filter((entry) => entry.kind === 'sign' && entry.findingId === findingId && entry.sign === sign)

/** Fast killers first, with their ten minutes, whatever leads. */
function Danger({ diagnosis }: { diagnosis: Diagnosis }) {
  const { danger, leader } = diagnosis.ranking
  const named = notExcluded(diagnosis.ranking).filter((one) => !danger.includes(one))
  if (danger.length === 0 && named.length === 0) return null
  return (
    <>
      {danger.length > 0 && (
        <Tray $tone="danger" role="region" aria-label="Danger">
          <Stack $gap={10}>
            <h2>
              {leader && leader.condition.urgency === 'act-now'
                ? 'Act within the hour'
                : 'Not ruled out, and fast: act as if it were'}
            </h2>
            <Stack $gap={4}>
              <strong>
                {danger[0]!.condition.label} <Quiet>{percent(danger[0]!.p)}</Quiet>
              </strong>
              <TenMinutes one={danger[0]!} />
            </Stack>
            {danger.slice(1, 4).map((one) => (
              <details key={one.condition.id}>
                <summary style={{ minHeight: 44, display: 'flex', gap: 8, alignItems: 'center', cursor: 'pointer' }}>
                  <strong>{one.condition.label}</strong> <Quiet>{percent(one.p)}; its first ten minutes</Quiet>
                </summary>
                <TenMinutes one={one} />
              </details>
            ))}
            {diagnosis.subject.pool.startsWith('fish') && (
              <Quiet>Before any drug: ammonia, oxygen and, where copper was dosed, copper. They look the same.</Quiet>
            )}
          </Stack>
        </Tray>
      )}
      {named.length > 0 && (
        <p>
          <Quiet>Rare, fast and not ruled out:</Quiet> {named.map(({ condition }) => condition.label).join(', ')}.
        </p>
      )}
    </>
  )
}

const TenMinutes = ({ one: { condition } }: { one: Ranked }) => (
  <ol style={{ listStyle: 'decimal', paddingLeft: 22 }}>
    {(condition.tenMinutes ?? condition.today).map((step) => (
      <li key={step}>{step}</li>
    ))}
  </ol>
)

/** How much a look is expected to tell, in words: bits mean nothing at the tank. */
const tells = (bits: number): string =>
  bits >= 0.6
    ? 'tells nearly as much as an answer can'
    : bits >= 0.3
      ? 'tells much'
      : bits >= 0.12
        ? 'tells something'
        : 'tells a little'

function NextLook({
  diagnosis,
  onAnswer,
  onRefuse,
}: {
  diagnosis: Diagnosis
  onAnswer: (sign: string, answer: 'yes' | 'no') => void
  onRefuse: (sign: string) => void
}) {
  const { best, safest, stop } = diagnosis.looks
  if (!best)
    return (
      <Tray>
        <h2>Looked at enough</h2>
        <p>
          {diagnosis.ranking.leader
            ? 'No further look would change the order. Go on to what to do.'
            : 'No further look at home would tell them apart. A photograph, a microscope or an aquatic veterinarian would.'}
        </p>
      </Tray>
    )
  const card = (look: Look, why: string) => (
    <Stack $gap={8}>
      <Row $gap={12} style={{ alignItems: 'center', flexWrap: 'nowrap' }}>
        <SignPicture id={look.sign.id} />
        <Stack $gap={2}>
          <h2>{look.sign.label}?</h2>
          <span>{look.sign.definition}</span>
          <Quiet>
            {LOOKS[look.sign.look]}, about {look.minutes} min · {why}
          </Quiet>
        </Stack>
      </Row>
      <Row>
        <Button look="main" onPress={() => onAnswer(look.sign.id, 'yes')}>
          Yes, it is so
        </Button>
        <Button onPress={() => onAnswer(look.sign.id, 'no')}>Looked, it is not</Button>
        <Button look="bare" onPress={() => onRefuse(look.sign.id)}>
          Cannot look
        </Button>
      </Row>
    </Stack>
  )
  return (
    <Tray role="region" aria-label="Next look">
      <Stack>
        <Quiet>{stop ? 'Nearly sure; one more look if you like' : 'The look that tells most'}</Quiet>
        {card(best, tells(best.bits))}
        {safest && safest.sign.id !== best.sign.id && safest.danger > best.danger + 0.01 && (
          <div style={{ borderTop: '1px solid var(--hairline)', paddingTop: 12 }}>
            <Quiet>The look that makes the dangerous surest</Quiet>
            {card(safest, `moves the danger by about ${Math.round(100 * safest.danger)} in 100`)}
          </div>
        )}
      </Stack>
    </Tray>
  )
}

function SignPicker({
  finding,
  answers,
  onAnswer,
}: {
  finding: FindingDocument
  answers: ReadonlyMap<string, 'yes' | 'no'>
  onAnswer: (sign: string, answer: 'yes' | 'no' | null) => void
}) {
  const { pool } = finding.body
  const zones = zonesOf(pool)
  const [zone, setZone] = useState(zones[0]!.id)
  const [find, setFind] = useState('')
  const words = find.trim().toLowerCase()
  const shown = signsOf(pool).filter((sign) =>
    words === '' ? zoneOf(pool, sign) === zone : `${sign.label} ${sign.definition}`.toLowerCase().includes(words),
  )
  const seen = [...answers].flatMap(([sign, answer]) => (answer === 'yes' ? (signOf(sign) ?? []) : []))
  return (
    <Tray>
      <Stack>
        <Row $between style={{ alignItems: 'flex-end' }}>
          <h2>What do you see?</h2>
          <Field label="Find a sign" value={find} onChange={setFind} size={16} />
        </Row>
        {seen.length > 0 && (
          <p>
            <Quiet>Seen:</Quiet> {seen.map(({ label }) => label).join(', ')}.
          </p>
        )}
        {words === '' && (
          <>
            <BodyDrawing pool={pool} zone={zone} onPick={setZone} />
            <Zones role="group" aria-label="Not on the body">
              {zones
                .filter(({ at }) => at === undefined)
                .map(({ id, label }) => (
                  <button key={id} type="button" aria-pressed={zone === id} onClick={() => setZone(id)}>
                    {label}
                  </button>
                ))}
            </Zones>
          </>
        )}
        <h3>{words === '' ? zones.find(({ id }) => id === zone)?.label : plural(shown.length, 'sign')}</h3>
        <ul>
          {shown.map((sign) => (
            <SignLine key={sign.id} sign={sign} answer={answers.get(sign.id) ?? null} onAnswer={onAnswer} />
          ))}
        </ul>
        {shown.length === 0 && <Quiet>No sign here is called so. Try a word of what you see.</Quiet>}
      </Stack>
    </Tray>
  )
}

function SignLine({
  sign,
  answer,
  onAnswer,
}: {
  sign: Sign
  answer: 'yes' | 'no' | null
  onAnswer: (sign: string, answer: 'yes' | 'no' | null) => void
}) {
  return (
    <SignRow>
      <SignPicture id={sign.id} />
      <div>
        <strong>{sign.label}</strong>
        <br />
        <span>{sign.definition}</span> <Quiet>{LOOKS[sign.look]}</Quiet>
      </div>
      <Answers role="group" aria-label={sign.label}>
        <button
          type="button"
          aria-pressed={answer === 'yes'}
          onClick={() => onAnswer(sign.id, answer === 'yes' ? null : 'yes')}
        >
          Seen
        </button>
        <button
          type="button"
          aria-pressed={answer === 'no'}
          onClick={() => onAnswer(sign.id, answer === 'no' ? null : 'no')}
        >
          Not there
        </button>
      </Answers>
    </SignRow>
  )
}

/** What readings, arrivals and changes say by themselves; each can be struck out. */
function RecordSays({
  diagnosis,
  struck,
  onStrike,
}: {
  diagnosis: Diagnosis
  struck: readonly string[]
  onStrike: (sign: string) => void
}) {
  const { flows, background } = diagnosis
  if (flows.length + background.length === 0) return null
  return (
    <Tray role="region" aria-label="What the record says">
      <Stack $gap={6}>
        <h2>What the record says</h2>
        {background.length > 0 && (
          <>
            <h3>
              Before anything is seen <Quiet>× so many times likelier, ÷ so many times less likely</Quiet>
            </h3>
            <ul>
              {background.map(({ id, words, moves }) => (
                <SignRow key={id}>
                  <div style={struck.includes(id) ? { textDecoration: 'line-through' } : undefined}>
                    <strong>{words}</strong>
                    <br />
                    <Quiet>{moves.map(({ condition, factor }) => movesWords(condition, factor)).join('; ')}</Quiet>
                  </div>
                  <Button look="bare" onPress={() => onStrike(id)}>
                    {struck.includes(id) ? 'Count it' : 'Strike it out'}
                  </Button>
                </SignRow>
              ))}
            </ul>
          </>
        )}
        {flows.length > 0 && background.length > 0 && <h3>Answered by the record</h3>}
        <ul>
          {flows.map(({ sign, answer, words }) => (
            <SignRow key={sign}>
              <div style={struck.includes(sign) ? { textDecoration: 'line-through' } : undefined}>
                <strong>
                  {signOf(sign)?.label}: {answer === 'yes' ? 'yes' : 'no'}
                </strong>
                <br />
                {words}
              </div>
              <Button look="bare" onPress={() => onStrike(sign)}>
                {struck.includes(sign) ? 'Count it' : 'Strike it out'}
              </Button>
            </SignRow>
          ))}
        </ul>
      </Stack>
    </Tray>
  )
}

/** "Marine velvet × 1.8": how much a fact moves a condition before anything is seen. */
const movesWords = (condition: string, factor: number): string =>
  `${conditionOf(condition)?.label ?? condition} ${factor >= 1 ? '×' : '÷'} ${times(Math.abs(Math.log(factor)))}`

/** Counts that become answers: breathing by tapping, spots by number. */
function CountPanel({ finding, resident }: { finding: FindingDocument; resident: ResidentDocument }) {
  const { record, active } = useRecord()
  const { append } = useActions()
  const notice = useNotice()
  const [spots, setSpots] = useState('')
  const [error, setError] = useState<string | null>(null)
  const breathing = breathingOf(active, resident, record.settings.zone)
  const last = breathing.counts.at(-1)
  const note = (what: string, count: number, said: string) =>
    append([
      { kind: 'count', vesselId: finding.body.vesselId, residentId: resident.id, what, count } as unknown as Draft,
    ])
      .then(() => notice({ text: said, tone: 'done' }))
      .catch((cause: unknown) => notice({ text: (cause as Error).message, tone: 'failed' }))
  const keepSpots = () => {
    const count = Number(spots)
    if (spots.trim() === '' || !Number.isInteger(count) || count < 0 || count > 5000)
      return setError('A whole number, 0 where there is none.')
    setError(null)
    setSpots('')
    void note(SPOTS, count, `${count} spots counted.`)
  }
  return (
    <Tray role="region" aria-label="Counts">
      <Stack>
        <Row $between>
          <h2>Count</h2>
          {last && <Quiet>last {last.perMinute} beats a minute; two counts make an answer</Quiet>}
        </Row>
        <BreathCounter
          alarm={breathing.normal?.alarm ?? null}
          value={null}
          onCount={(perMinute) => void note('gill-beats', perMinute, `${perMinute} beats a minute: noted.`)}
          name={resident.body.name}
        />
        <Row style={{ alignItems: 'flex-end' }}>
          <div style={{ width: 220 }}>
            <Field label="White spots you can count" value={spots} onChange={setSpots} numeric error={error} />
          </div>
          <Button onPress={keepSpots}>Note the spots</Button>
        </Row>
      </Stack>
    </Tray>
  )
}

/** Who else shows it, and where it may have come from. */
function Others({ finding }: { finding: FindingDocument }) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const { revise } = useActions()
  const notice = useNotice()
  const { body } = finding
  const others =
    body.residentId === undefined
      ? []
      : residentsIn(record, active, body.vesselId, nowMs).filter(({ id }) => id !== body.residentId)
  const shared = sharedTrouble(record, active, finding, nowMs)
  if (others.length === 0 && shared.length === 0) return null
  const also = new Set(body.alsoIds ?? [])
  const set = (id: string, on: boolean) => {
    const next = on ? [...also, id] : [...also].filter((one) => one !== id)
    revise(finding, { ...body, alsoIds: next }).catch((cause: unknown) =>
      notice({ text: (cause as Error).message, tone: 'failed' }),
    )
  }
  return (
    <Tray>
      <Stack $gap={8}>
        {others.length > 0 && (
          <>
            <h2>Who else shows it?</h2>
            {others.map(({ id, body: one }) => (
              <Check key={id} isSelected={also.has(id)} onChange={(on) => set(id, on)}>
                {one.name} {one.count > 1 && <Quiet>× {one.count}</Quiet>}
              </Check>
            ))}
          </>
        )}
        {shared.length > 0 && (
          <>
            <h3>It may have come along</h3>
            <ul>
              {shared.map((line) => (
                <li key={line}>{line}</li>
              ))}
            </ul>
            <Quiet>
              Where something catching is followed there, it counts as three times likelier here: an estimate, nobody
              knows how often it carries. Strike it out under what the record says.
            </Quiet>
          </>
        )}
      </Stack>
    </Tray>
  )
}

function RankingPanel({ diagnosis }: { diagnosis: Diagnosis }) {
  const { ranking, looks } = diagnosis
  const [all, setAll] = useState(false)
  const shown = ranking.entries.filter(({ p }, i) => i < 3 || (all && p >= 0.005))
  return (
    <Tray role="region" aria-label="Ranking">
      <Stack>
        <h2 aria-live="polite">
          {ranking.empty ? 'Nothing seen yet' : ranking.leader ? ranking.leader.condition.label : 'Cannot tell yet'}
        </h2>
        {!ranking.empty && !ranking.leader && (
          <p>
            {looks.best
              ? 'The next look would part them.'
              : 'These stay level: treat what fits both, watch twice a day.'}
          </p>
        )}
        {ranking.empty && <Quiet>Before anything is seen, this is how often each is the cause.</Quiet>}
        <ol style={{ display: 'grid', gap: 12 }}>
          {shown.map((one) => (
            <li key={one.condition.id}>
              <Row $between>
                <strong>{one.condition.label}</strong>
                <span>{percent(one.p)}</span>
              </Row>
              <Bar aria-hidden>
                <i style={{ width: `${100 * Math.min(MOST, one.p)}%` }} />
              </Bar>
              <Quiet>{URGENCY[one.condition.urgency]} · tell it by </Quiet>
              <span>{one.condition.separating}</span>
              <Reasons one={one} />
            </li>
          ))}
        </ol>
        <Button look="bare" onPress={() => setAll(!all)}>
          {all ? 'Only the first three' : 'All that are possible'}
        </Button>
        {ranking.pairs.length > 0 && (
          <Well>
            Perhaps two at once:{' '}
            {ranking.pairs.map(({ a, b, p }) => `${a.label} with ${b.label} (${percent(p)})`).join('; ')}.
          </Well>
        )}
        {looks.best && !ranking.empty && (
          <p>
            <Quiet>What would change this most:</Quiet> {looks.best.sign.label.toLowerCase()}.
          </p>
        )}
        <Quiet>
          Chances are expert-assigned, not counted from cases, and never shown above {Math.round(100 * MOST)} %. An
          aquatic veterinarian comes first.
        </Quiet>
      </Stack>
    </Tray>
  )
}

function Reasons({ one }: { one: Ranked }) {
  if (one.reasons.length === 0) return null
  const word = (reason: Ranked['reasons'][number]) =>
    `${reason.answer === 'no' ? 'no ' : ''}${signOf(reason.sign)?.label.toLowerCase() ?? reason.sign}`
  const pro = one.reasons.filter(({ weight }) => weight > 0)
  const contra = one.reasons.filter(({ weight }) => weight < 0)
  return (
    <details>
      <summary style={{ minHeight: 44, display: 'flex', alignItems: 'center', cursor: 'pointer' }}>
        Why {percent(one.p)}
      </summary>
      <p>Before: {percent(one.prior)}.</p>
      {pro.length > 0 && (
        <p>For it: {pro.map((reason) => `${word(reason)} (× ${times(reason.weight)})`).join(', ')}.</p>
      )}
      {contra.length > 0 && (
        <p>Against it: {contra.map((reason) => `${word(reason)} (÷ ${times(-reason.weight)})`).join(', ')}.</p>
      )}
      <Quiet>× and ÷: how much an answer moves it against all others together.</Quiet>
    </details>
  )
}
const times = (weight: number): string => {
  const factor = Math.exp(weight)
  return factor >= 10 ? String(Math.round(factor)) : factor.toFixed(1)
}

function Actions({
  diagnosis,
  finding,
  groupId,
}: {
  diagnosis: Diagnosis
  finding: FindingDocument
  groupId: string | null
}) {
  const { record } = useRecord()
  const { ranking } = diagnosis
  if (ranking.empty) return null
  const first = ranking.leader ?? ranking.entries[0]!
  const { condition } = first
  const water = record.vessels.get(finding.body.vesselId)?.body.water ?? 'marine'
  // Two that cannot be told apart and both kill fast: a school that covers both comes first.
  const likely = [condition, ...ranking.danger.map((one) => one.condition).filter((one) => one !== condition)].slice(
    0,
    3,
  )
  const courses = likelyCourses(likely, water, groupId)
  // A drug is proposed only when it is likely enough. @source handbook 30 lk-dose-gate
  const mayDose = first.p >= (condition.urgency === 'act-now' ? 0.3 : 0.6)
  return (
    <Tray role="region" aria-label="What to do">
      <Stack>
        <h2>
          What to do <Quiet>if it is {condition.label.toLowerCase()}</Quiet>
        </h2>
        <Part
          title={finding.body.pool.startsWith('fish') ? 'Ways to treat it, the first choice first' : 'Today'}
          items={condition.today}
        />
        <Part title={finding.body.pool.startsWith('fish') ? 'Around it' : 'This week'} items={condition.week} />
        <Part title="Do not" items={condition.doNot} />
        {courses.length > 0 && (
          <Stack $gap={6}>
            <h3>Courses</h3>
            {!mayDose && <Well>Not likely enough for a drug yet: take the next look first, or watch twice a day.</Well>}
            {courses.slice(0, 4).map(({ protocol, covers }) => (
              <LinkButton
                key={protocol.id}
                to={`/courses/new?protocol=${protocol.id}&vessel=${finding.body.vesselId}&finding=${finding.id}${protocol.variants.some(({ id }) => id === condition.id) ? `&variant=${condition.id}` : ''}`}
                $look={mayDose && protocol === courses[0]!.protocol ? 'main' : 'plain'}
              >
                {protocol.title}
                {covers.length > 1 ? ` (fits ${covers.length} of them)` : ''}
              </LinkButton>
            ))}
          </Stack>
        )}
        <Quiet>{condition.sources.map(({ text, grade }) => `${text} [${grade}]`).join('; ')}</Quiet>
      </Stack>
    </Tray>
  )
}
const Part = ({ title, items }: { title: string; items: readonly string[] }) =>
  items.length === 0 ? null : (
    <div>
      <h3>{title}</h3>
      <ul style={{ listStyle: 'disc', paddingLeft: 20 }}>
        {items.map((item) => (
          <li key={item}>{item}</li>
        ))}
      </ul>
    </div>
  )

function Closing({ finding }: { finding: FindingDocument }) {
  const { record } = useRecord()
  const { nowMs } = useThePlans()
  const { revise } = useActions()
  const notice = useNotice()
  const { body } = finding
  const [was, setWas] = useState('unknown')
  const save = (next: FindingDocument['body'], text: string) =>
    revise(finding, next)
      .then(() => notice({ text, tone: 'done' }))
      .catch((cause: unknown) => notice({ text: (cause as Error).message, tone: 'failed' }))
  if (body.endedAt !== undefined) {
    const { endedAt, was: found, ...open } = body
    return (
      <Tray>
        <Stack $gap={8}>
          <p>
            <Tag>closed</Tag> {found === undefined ? '' : (conditionOf(found)?.label ?? 'Never found out.')}{' '}
            <Quiet>{whenText(Date.parse(endedAt), nowMs, record.settings)}</Quiet>
          </p>
          <Button onPress={() => void save(open, 'The finding is open again.')}>Open it again</Button>
        </Stack>
      </Tray>
    )
  }
  return (
    <Tray>
      <Stack $gap={8}>
        <h3>Over?</h3>
        <Select
          label="What it was"
          value={was}
          onChange={setWas}
          options={[
            { value: 'unknown', label: 'Never found out' },
            ...conditionsOf(body.pool)
              .filter(({ id }) => id !== 'unclear-other')
              .map(({ id, label }) => ({ value: id, label }))
              .sort((a, b) => (a.label < b.label ? -1 : 1)),
          ]}
        />
        <Button onPress={() => void save({ ...body, endedAt: instantOf(Date.now()), was }, 'The finding is closed.')}>
          Close the finding
        </Button>
      </Stack>
    </Tray>
  )
}
