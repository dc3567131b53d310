import { useSearchParams } from 'react-router'
// The library: what is shipped, with sources and the strength of each.
import {
  agentForms,
  conditions,
  groups,
  hazards,
  limitTables,
  protocolLibrary,
  signs,
  type Protocol,
} from '@brinvo/core'
import { checkProtocolText } from '@brinvo/core/file'
import { useMemo, useRef, useState } from 'react'
import { styled } from 'styled-components'
import { useProtocols } from '../../data/protocols.ts'
import { useActions } from '../../data/queries.tsx'
import { Choice, Field } from '../../design/fields.tsx'
import { Button, Facts, LinkButton, Page, Quiet, Row, Stack, Tag, Tray } from '../../design/primitives.tsx'
import { Covers } from '../../parts/Covers.tsx'
import { HazardCard } from '../../parts/HazardCard.tsx'
import { sourcesText } from '../../design/sources.ts'
import { useNotice } from '../../shell/Notices.tsx'
import { ConditionShelf, conditionText } from './ConditionShelf.tsx'
import { finderOf, saidBy } from './finder.ts'
import { LimitShelf, limitText } from './LimitShelf.tsx'
import { SignShelf, signText } from './SignShelf.tsx'
import { useGoOn } from '../../shell/useGoOn.ts'

const Codes = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
`
/** What a keeper looks for first stands first. */
const ORDER: readonly Protocol['purpose'][] = [
  'prevention',
  'treatment',
  'intake',
  'observation',
  'fallow',
  'introduction',
  'settling',
  'adjustment',
]

type Shelf = 'protocols' | 'agents' | 'conditions' | 'signs' | 'limits'
const SHELVES: readonly { readonly id: Shelf; readonly label: string; readonly texts: readonly string[] }[] = [
  { id: 'protocols', label: 'Protocols', texts: protocolLibrary.map(saidBy) },
  { id: 'agents', label: 'Agents and forms', texts: agentForms.map(saidBy) },
  { id: 'conditions', label: 'Conditions', texts: conditions.map(conditionText) },
  { id: 'signs', label: 'Signs', texts: signs.map(signText) },
  {
    id: 'limits',
    label: 'Limits',
    texts: limitTables.flatMap(({ title, limits }) => limits.map((limit) => `${title} ${limitText(limit)}`)),
  },
]
let made: ReturnType<typeof finderOf> | undefined
/** Indexed at the first word that is asked for. */
const find = (asked: string) =>
  asked.trim() === '' ? null : (made ??= finderOf(SHELVES.flatMap(({ texts }) => texts)))(asked)
/** What a shelf holds of a word. */
const hits = (shelf: Shelf, hit: (text: string) => boolean): number =>
  SHELVES.find(({ id }) => id === shelf)!.texts.filter(hit).length

export function LibraryPage() {
  const [params] = useSearchParams()
  const [shelf, setShelf] = useState<Shelf>(params.has('find') ? 'conditions' : 'protocols')
  const [asked, setAsked] = useState(params.get('find') ?? '')
  const found = useMemo(() => find(asked), [asked])
  const hit = (text: string) => found === null || found.has(text)
  const { own } = useProtocols()
  const { create } = useActions()
  const notice = useNotice()
  const goOn = useGoOn()
  const picker = useRef<HTMLInputElement>(null)
  const bring = async (file: File) => {
    if (file.size > 200_000)
      return notice({ text: `${file.name} is too large for a protocol. Nothing was changed.`, tone: 'failed' })
    const text = await file.text()
    const { protocol, faults } = checkProtocolText(text)
    try {
      const made = await create('protocol', { title: (protocol?.title ?? file.name).slice(0, 120), text })
      notice({
        text:
          protocol !== null
            ? `${protocol.title} was read.`
            : `${file.name} was read as unfinished. Line ${faults[0]?.line ?? 1}: ${faults[0]?.message ?? ''}`,
        tone: 'done',
      })
      goOn(`/library/write/${made.id}`)
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
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
            options={SHELVES.map(({ id, label }) => ({
              value: id,
              label: asked.trim() === '' ? label : `${label} ${hits(id, hit)}`,
            }))}
          />
          <Field label="Find" value={asked} onChange={setAsked} size={18} />
          <LinkButton to="/library/plates">Plates</LinkButton>
        </Row>
      </Row>
      {shelf === 'protocols' && (
        <Tray>
          <Stack $gap={8}>
            <Row $between>
              <h2>Your own</h2>
              <Button onPress={() => picker.current?.click()}>Bring in a file</Button>
            </Row>
            <input
              ref={picker}
              type="file"
              accept="application/json,.json"
              className="sr"
              tabIndex={-1}
              aria-label="Protocol file"
              onChange={(event) => {
                const file = event.target.files?.[0]
                event.target.value = ''
                if (file) void bring(file)
              }}
            />
            {own.length === 0 && (
              <Quiet>None yet. Press “Copy and change” beside a protocol that comes near to how you do it.</Quiet>
            )}
            {own.map(({ document, check }) => (
              <Row key={document.id} $between>
                <span>
                  <strong>{document.body.title}</strong> {check.protocol === null && <Tag $tone="due">unfinished</Tag>}
                </span>
                <Row>
                  <LinkButton to={`/library/write/${document.id}`}>Change it</LinkButton>
                  {check.protocol && (
                    <LinkButton to={`/courses/new?protocol=${check.protocol.id}`}>Start it</LinkButton>
                  )}
                </Row>
              </Row>
            ))}
          </Stack>
        </Tray>
      )}
      {shelf === 'protocols' &&
        [...protocolLibrary]
          .sort((a, b) => ORDER.indexOf(a.purpose) - ORDER.indexOf(b.purpose) || (a.title < b.title ? -1 : 1))
          .filter((protocol) => hit(saidBy(protocol)))
          .map((protocol) => (
            <Tray key={protocol.id}>
              <Stack $gap={8}>
                <Row $between>
                  <h2>{protocol.title}</h2>
                  <Row>
                    <LinkButton to={`/library/write/new?from=${protocol.id}`}>Copy and change</LinkButton>
                    <LinkButton to={`/courses/new?protocol=${protocol.id}`}>Start it</LinkButton>
                  </Row>
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
                <Covers protocol={protocol} />
                <Sources sources={protocol.sources} />
              </Stack>
            </Tray>
          ))}
      {shelf === 'limits' && <LimitShelf hit={hit} />}
      {shelf === 'conditions' && <ConditionShelf asked={asked} hit={hit} />}
      {shelf === 'signs' && (
        <SignShelf
          hit={hit}
          onCondition={(label) => {
            setAsked(label)
            setShelf('conditions')
          }}
        />
      )}
      {asked.trim() !== '' && hits(shelf, hit) === 0 && (
        <Tray>
          <Row $between>
            <span>Nothing on this shelf holds “{asked.trim()}”.</span>
            <Row>
              {SHELVES.filter(({ id }) => hits(id, hit) > 0).map(({ id, label }) => (
                <Button key={id} onPress={() => setShelf(id)}>
                  {label} {hits(id, hit)}
                </Button>
              ))}
            </Row>
          </Row>
        </Tray>
      )}
      {shelf === 'agents' &&
        agentForms
          .filter((form) => hit(saidBy(form)))
          .map((form) => (
            <Tray key={form.id}>
              <Stack $gap={8}>
                <h2>{form.label}</h2>
                <HazardCard hazardIds={form.hazards} short />
                <Facts style={{ maxWidth: 460 }}>
                  <dt>band</dt>
                  <dd>
                    {form.band.min}–{form.band.max} {form.unit}
                  </dd>
                  <dt>target</dt>
                  <dd>
                    {form.target} {form.unit}
                  </dd>
                  <dt>hard maximum</dt>
                  <dd>
                    {form.hardMax} {form.unit}
                    {form.cautionMax !== undefined && `; ${form.cautionMax} ${form.unit} where an animal needs caution`}
                    {form.ceilings !== undefined &&
                      `; ${form.ceilings
                        .slice(1)
                        .map(
                          ({ fromC, max }) =>
                            `${max === 0 ? 'never' : max + ' ' + form.unit} from ${Math.round(fromC)} °C`,
                        )
                        .join(', ')}`}
                  </dd>
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
        {hazards.length} hazard cards, {agentForms.length} forms, {protocolLibrary.length} protocols,{' '}
        {conditions.length} conditions, {groups.length} groups of animals.
      </Quiet>
    </Page>
  )
}

const Sources = ({ sources }: { sources: readonly { readonly text: string; readonly grade: string }[] }) => (
  <Quiet>Sources: {sourcesText(sources)}</Quiet>
)
