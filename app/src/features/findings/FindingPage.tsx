// One finding: danger first, the next look, the drawn body with its signs, and the ranking that follows every press.
import {
  diagnose,
  findingInput,
  notExcluded,
  signOf,
  signsOf,
  type Diagnosis,
  type Entry,
  type FindingDocument,
  type Look,
  type Ranked,
} from '@brinvo/core'
import { useMemo } from 'react'
import { Link, useParams } from 'react-router'
import { useActions, useRecord, type Draft } from '../../data/queries.tsx'
import { Button, Page, Quiet, Row, Stack, Tray, Well } from '../../design/primitives.tsx'
import { plural, whenText, percent } from '../../design/words.ts'
import { SideBySide } from '../../parts/Compared.tsx'
import { SignPicture } from '../../parts/Drawings.tsx'
import { LOOKS } from '../../parts/zones.ts'
import { NotFound } from '../../shell/NotFound.tsx'
import { useNotice } from '../../shell/Notices.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { Closing, CountPanel, Others, RecordSays } from './FindingPanels.tsx'
import { LookAlikes } from './LookAlikes.tsx'
import { Actions, RankingPanel } from './RankingPanel.tsx'
import { SignPicker } from './SignPicker.tsx'
import { SlidePanel } from './SlidePanel.tsx'
import { TimedTests } from './TimedTests.tsx'

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
  const refuse = (signs: readonly string[]) =>
    revise(finding, { ...body, refused: [...new Set([...body.refused, ...signs])] }).catch(failed)
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
        <NextLook diagnosis={diagnosis} onAnswer={answer} onRefuse={(signs) => void refuse(signs)} />
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

/** All that only a microscope shows, in the order of the table. */
const slideSigns = ({ subject }: Diagnosis) =>
  signsOf(subject.pool)
    .filter(({ look }) => look === 'SLIDE')
    .map(({ id }) => id)

function NextLook({
  diagnosis,
  onAnswer,
  onRefuse,
}: {
  diagnosis: Diagnosis
  onAnswer: (sign: string, answer: 'yes' | 'no') => void
  onRefuse: (signs: readonly string[]) => void
}) {
  const { best, safest, quick, stop } = diagnosis.looks
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
        <SignPicture id={look.sign.id} size={110} />
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
        {look.sign.look === 'SLIDE' ? (
          <Button look="bare" onPress={() => onRefuse(slideSigns(diagnosis))}>
            No microscope
          </Button>
        ) : (
          <Button look="bare" onPress={() => onRefuse([look.sign.id])}>
            Cannot look
          </Button>
        )}
      </Row>
    </Stack>
  )
  return (
    <Tray role="region" aria-label="Next look">
      <Stack>
        <Quiet>{stop ? 'Nearly sure; one more look if you like' : 'The look that tells most'}</Quiet>
        {card(best, tells(best.bits))}
        {quick && (
          <div style={{ borderTop: '1px solid var(--hairline)', paddingTop: 12 }}>
            <Quiet>In five minutes or less</Quiet>
            {card(quick, tells(quick.bits))}
          </div>
        )}
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
