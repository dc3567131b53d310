// What it may be, with the reasons, and what to do about it.
import { Link } from 'react-router'
import { sourcesText } from '../../design/sources.ts'
import { percent } from '../../design/words.ts'
import { TrustLink } from '../../parts/TrustLink.tsx'
import { likelyCourses, MOST, signOf, type Diagnosis, type FindingDocument, type Ranked } from '@brinvo/core'
import { useState } from 'react'
import { styled } from 'styled-components'
import { useRecord } from '../../data/queries.tsx'
import { Button, LinkButton, Quiet, Row, Stack, Tray, Well } from '../../design/primitives.tsx'
import { times } from './findingWords.ts'

const Bar = styled.div`
  height: 10px;
  margin-bottom: 4px;
  border-radius: 5px;
  background: var(--well);
  overflow: hidden;
  i {
    display: block;
    height: 100%;
    background: var(--methylene);
  }
`
const URGENCY = { 'act-now': 'within the hour', today: 'today', 'this-week': 'this week', watch: 'watch it' } as const

export function RankingPanel({ diagnosis }: { diagnosis: Diagnosis }) {
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
                <Link to={`/library?find=${encodeURIComponent(one.condition.label)}`} style={{ fontWeight: 650 }}>
                  {one.condition.label}
                </Link>
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
      <Quiet>× and ÷: how much an answer moves it against all others together.</Quiet> <TrustLink part="diagnosis" />
    </details>
  )
}

export function Actions({
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
          What to do <Quiet>if it is “{condition.label}”</Quiet>
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
            {finding.body.pool.startsWith('fish') && (
              <LinkButton to={`/courses/compare?vessel=${finding.body.vesselId}`}>
                Compare the schools for it
              </LinkButton>
            )}
          </Stack>
        )}
        <Quiet>{sourcesText(condition.sources)}</Quiet>
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
