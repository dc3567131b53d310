// The library: what is shipped, with sources and the strength of each.
import { agentForms, groups, hazards, protocolLibrary } from '@brinvo/core'
import { useState } from 'react'
import { styled } from 'styled-components'
import { Choice, Field } from '../../design/fields.tsx'
import { Facts, LinkButton, Page, Quiet, Row, Stack, Tag, Tray } from '../../design/primitives.tsx'
import { HazardCard } from '../../parts/HazardCard.tsx'

const Codes = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
`
const GRADES = {
  LIT: 'literature',
  EXT: 'extension sheet',
  KP: 'keeper practice',
  EST: 'estimate',
  label: 'label',
  handbook: 'handbook',
} as const

export function LibraryPage() {
  const [shelf, setShelf] = useState<'protocols' | 'agents'>('protocols')
  const [find, setFind] = useState('')
  const hit = (text: string) => text.toLowerCase().includes(find.trim().toLowerCase())
  return (
    <Page>
      <Row $between style={{ alignItems: 'flex-end' }}>
        <h1>Library</h1>
        <Row $gap={14} style={{ alignItems: 'flex-end' }}>
          <Choice
            label="Shelf"
            hideLabel
            value={shelf}
            onChange={setShelf}
            options={[
              { value: 'protocols', label: 'Protocols' },
              { value: 'agents', label: 'Agents and forms' },
            ]}
          />
          <Field label="Find" value={find} onChange={setFind} size={18} />
        </Row>
      </Row>
      {shelf === 'protocols' &&
        protocolLibrary
          .filter((protocol) => hit(JSON.stringify(protocol)))
          .map((protocol) => (
            <Tray key={protocol.id}>
              <Stack $gap={8}>
                <Row $between>
                  <h2>{protocol.title}</h2>
                  <LinkButton to={`/courses/new?protocol=${protocol.id}`}>Start it</LinkButton>
                </Row>
                <p>{protocol.summary}</p>
                <p>
                  <strong>{protocol.school.question}</strong> {protocol.school.position}{' '}
                  <Quiet>{protocol.school.tradeOff}</Quiet>
                </p>
                <p>
                  <strong>Phases</strong>{' '}
                  {protocol.phases.map(({ title, typicalDays }) => `${title} (${typicalDays} d)`).join(' → ')}
                </p>
                <p>
                  <strong>Covers</strong> {protocol.covers.join(', ')}. <strong>Misses</strong>{' '}
                  {protocol.misses.join(', ')}.
                </p>
                <Sources sources={protocol.sources} />
              </Stack>
            </Tray>
          ))}
      {shelf === 'agents' &&
        agentForms
          .filter((form) => hit(JSON.stringify(form)))
          .map((form) => (
            <Tray key={form.id}>
              <Stack $gap={8}>
                <h2>{form.label}</h2>
                <HazardCard hazardIds={form.hazards} short />
                <Facts style={{ maxWidth: 460 }}>
                  <dt>band</dt>
                  <dd>
                    {form.band.min}–{form.band.max} mg/L
                  </dd>
                  <dt>target</dt>
                  <dd>{form.target} mg/L</dd>
                  <dt>hard maximum</dt>
                  <dd>{form.hardMax} mg/L</dd>
                  <dt>half-life in a bare vessel</dt>
                  <dd>
                    {form.halfLifeDays.low}–{form.halfLifeDays.high} d
                  </dd>
                  <dt>longest gap without a test</dt>
                  <dd>{form.maxGapHours} h</dd>
                </Facts>
                <p>
                  <strong>Test</strong> {form.testMethod}. <strong>Stop</strong> {form.abort}
                </p>
                <p>
                  <strong>Never with</strong> {form.neverWith.map(({ what }) => what).join('; ')}.
                </p>
                <Codes aria-label="How groups stand it">
                  {groups
                    .filter(({ column }) => column in form.sensitivity)
                    .map((group) => {
                      const code = form.sensitivity[group.column]
                      return (
                        <Tag key={group.id} $tone={code === 'X' ? 'danger' : code === 'O' ? 'good' : 'plain'}>
                          {group.label}: {code === 'X' ? 'never' : code === 'O' ? 'normal' : 'caution'}
                        </Tag>
                      )
                    })}
                </Codes>
                <Sources sources={form.sources} />
              </Stack>
            </Tray>
          ))}
      <Quiet>
        {hazards.length} hazard card, {agentForms.length} forms, {protocolLibrary.length} protocols, {groups.length}{' '}
        groups of animals. Grades:{' '}
        {Object.entries(GRADES)
          .map(([key, word]) => `${key} ${word}`)
          .join(', ')}
        .
      </Quiet>
    </Page>
  )
}

const Sources = ({
  sources,
}: {
  sources: readonly { readonly text: string; readonly grade: keyof typeof GRADES }[]
}) => <Quiet>Sources: {sources.map(({ text, grade }) => `${text} [${GRADES[grade]}]`).join('; ')}</Quiet>
