// Schools side by side on this vessel and these animals: what each takes, covers and misses; the default with its reason.
import {
  THREATS,
  compareSchools,
  fearedIn,
  groupOf,
  groups,
  residentsIn,
  type SchoolColumn,
  type ThreatId,
} from '@brinvo/core'
import { useMemo, useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import { styled } from 'styled-components'
import { useRecord } from '../../data/queries.tsx'
import { shelvedVessels } from '../../data/shelf.ts'
import { Check, Select } from '../../design/fields.tsx'
import { Empty, LinkButton, Page, Quiet, Row, Stack, Tag, Tray, Well } from '../../design/primitives.tsx'
import { litresText, longDayText, percent, plural } from '../../design/words.ts'
import { ticked } from '../../parts/Ticks.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { useWayThere } from '../../shell/wayBack.ts'

const Scroll = styled.div`
  overflow-x: auto;
  /* Hidden words inside are placed absolutely: they must scroll with the table. */
  position: relative;
`
const Table = styled.table`
  border-collapse: collapse;
  table-layout: fixed;
  width: 100%;
  min-width: 980px;
  th,
  td {
    text-align: left;
    vertical-align: top;
    padding: 9px 10px 9px 0;
    border-top: 1px solid var(--hairline);
  }
  thead th {
    border-top: 0;
    color: var(--quiet);
    font-weight: 500;
    font-size: 13px;
  }
  tr[data-suggested] {
    background: var(--well);
  }
  tbody th {
    font-weight: 650;
  }
  small {
    display: block;
    color: var(--quiet);
    font-weight: 400;
    font-size: 13px;
  }
  td[data-number] {
    white-space: nowrap;
  }
`
const Marks = styled.span`
  display: inline-flex;
  flex-wrap: wrap;
  gap: 4px 10px;
`
/** Full, in part, not: a shape and a word each, never colour alone. */
function Covered({ column, threats }: { column: SchoolColumn; threats: readonly ThreatId[] }) {
  const shown = column.coverage.filter(({ threat, degree }) => threats.includes(threat) || degree !== 'none')
  if (shown.length === 0) return <Quiet>what shows itself</Quiet>
  return (
    <Marks>
      {shown.map(({ threat, degree }) => (
        <span key={threat} style={{ whiteSpace: 'nowrap', color: degree === 'none' ? 'var(--quiet)' : undefined }}>
          <svg width="12" height="12" viewBox="-6 -6 12 12" aria-hidden>
            <circle r="4.6" fill="none" stroke="currentColor" strokeWidth="1.4" />
            {degree === 'full' && <circle r="4.6" fill="currentColor" />}
            {degree === 'part' && <path d="M0 -4.6A4.600 4.600 0 0 0 0 4.600Z" fill="currentColor" />}
          </svg>{' '}
          {THREATS.find(({ id }) => id === threat)?.label}
          <span className="sr">: {degree === 'full' ? 'in full' : degree === 'part' ? 'in part' : 'not'}</span>
        </span>
      ))}
    </Marks>
  )
}

const fitsWater = (group: string, water: 'marine' | 'fresh' | undefined) => {
  const own = groupOf(group)?.water
  return own === undefined || own === 'both' || own === water
}

export function SchoolsPage() {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const [params] = useSearchParams()
  const wayThere = useWayThere()
  const vessels = shelvedVessels(record)
  const [vesselId, setVessel] = useState(
    params.get('vessel') ?? vessels.find(({ body }) => body.purpose === 'quarantine')?.id ?? vessels[0]?.id ?? '',
  )
  const here = residentsIn(record, active, vesselId, nowMs)
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set())
  const chosen = here.filter(({ id }) => !left.has(id))
  const water = record.vessels.get(vesselId)?.body.water
  const [coming, setComing] = useState<readonly string[]>([])
  const expected = coming.filter((id) => fitsWater(id, water))
  // What open findings speak for is feared until the keeper says otherwise; another vessel has its own.
  const feared = useMemo(() => fearedIn(record, active, vesselId, nowMs), [record, active, vesselId, nowMs])
  const [said, setSaid] = useState<{ readonly of: string; readonly threats: readonly ThreatId[] } | null>(null)
  const threats = said?.of === vesselId ? said.threats : feared.map(({ threat }) => threat)
  const setThreats = (next: readonly ThreatId[]) => setSaid({ of: vesselId, threats: next })
  const comparison = compareSchools({
    record,
    active,
    vesselId,
    residentIds: chosen.map(({ id }) => id),
    expected,
    threats,
    nowMs,
  })
  const fishy = [...chosen.map(({ body }) => body.group), ...expected].some((group) => groupOf(group)?.kind === 'fish')
  const askable = THREATS.filter(({ hosts }) => (fishy ? hosts === 'fish' : hosts !== 'fish'))
  const ordered = [...comparison.columns].sort(
    (a, b) =>
      Number(b.protocol.id === comparison.suggested) - Number(a.protocol.id === comparison.suggested) ||
      a.forbidden.length - b.forbidden.length ||
      a.days - b.days,
  )
  const suggested = ordered.find(({ protocol }) => protocol.id === comparison.suggested)
  if (vessels.length === 0)
    return (
      <Page>
        <Empty title="Schools need a vessel" action={<LinkButton to="/vessels/new">Describe a vessel</LinkButton>}>
          Days, water and amounts are worked out on your own tank.
        </Empty>
      </Page>
    )
  return (
    <Page>
      <Stack $gap={16}>
        <Row $between>
          <h1>Schools side by side</h1>
          <LinkButton to={`/courses/new?vessel=${vesselId}`}>Straight to a course</LinkButton>
        </Row>
        <Tray>
          <Row $gap={24} style={{ alignItems: 'flex-start' }}>
            <div style={{ flex: '1 1 200px' }}>
              <Select
                label="Vessel"
                value={vesselId}
                onChange={setVessel}
                options={vessels.map(({ id, body }) => ({ value: id, label: body.name }))}
              />
            </div>
            <div style={{ flex: '2 1 300px' }} role="group" aria-label="For whom">
              <strong>For whom</strong>
              {here.length === 0 && (
                <p>
                  <Quiet>
                    Nobody lives there yet.{' '}
                    <Link to={wayThere(`/vessels/${vesselId}`, { vessel: vesselId })}>Add who does</Link>, or say what
                    is to come.
                  </Quiet>
                </p>
              )}
              <Row $gap={18}>
                {here.map(({ id, body }) => (
                  <Check
                    key={id}
                    isSelected={!left.has(id)}
                    onChange={(on) => setLeft((before) => ticked(before, id, !on))}
                  >
                    {body.name}
                  </Check>
                ))}
                {expected.map((id) => (
                  <Check key={id} isSelected onChange={() => setComing(coming.filter((one) => one !== id))}>
                    {groupOf(id)?.label} <Quiet>to come</Quiet>
                  </Check>
                ))}
              </Row>
              <Select
                label="To come"
                value=""
                onChange={(id) => setComing([...coming, id])}
                options={[
                  { value: '', label: 'choose a group' },
                  ...groups
                    .filter(({ id }) => fitsWater(id, water) && !expected.includes(id))
                    .map(({ id, label }) => ({ value: id, label })),
                ]}
              />
            </div>
            <div style={{ flex: '3 1 360px' }} role="group" aria-label="What is feared">
              <strong>What is feared</strong>{' '}
              <Quiet>{threats.length === 0 ? 'nothing yet: the usual is taken' : ''}</Quiet>
              {said?.of !== vesselId && feared.length > 0 && (
                <p>
                  <Quiet>from the </Quiet>
                  <Link to={`/findings/${feared[0]!.findingId}`}>open finding</Link>
                  <Quiet>: {feared.map(({ condition, p }) => `${condition.label} ${percent(p)}`).join(', ')}</Quiet>
                </p>
              )}
              <Row $gap={18}>
                {(chosen.length + expected.length === 0 ? [] : askable).map(({ id, label }) => (
                  <Check
                    key={id}
                    isSelected={threats.includes(id)}
                    onChange={(on) => setThreats(on ? [...threats, id] : threats.filter((one) => one !== id))}
                  >
                    {label}
                  </Check>
                ))}
              </Row>
            </div>
          </Row>
        </Tray>
        {suggested ? (
          <Tray>
            <Stack>
              <Row $between>
                <div>
                  <Quiet>Suggested here</Quiet>
                  <h2 style={{ fontSize: 28 }}>{suggested.protocol.title}</h2>
                </div>
                <LinkButton
                  to={`/courses/new?vessel=${vesselId}&protocol=${suggested.protocol.id}&variant=${suggested.variant.id}`}
                  $look="main"
                >
                  Look at it on this vessel
                </LinkButton>
              </Row>
              {comparison.reasons.map((reason) => (
                <p key={reason}>{reason}</p>
              ))}
              {comparison.tips.length > 0 && (
                <Well>
                  <strong>What would tip it</strong>
                  <ul>
                    {comparison.tips.map((tip) => (
                      <li key={tip}>{tip}</li>
                    ))}
                  </ul>
                </Well>
              )}
            </Stack>
          </Tray>
        ) : (
          comparison.reasons.length > 0 && (
            <Tray $tone="caution">
              {comparison.reasons.map((reason) => (
                <p key={reason}>{reason}</p>
              ))}
            </Tray>
          )
        )}
        {ordered.length === 0 ? (
          <Empty
            title={chosen.length + expected.length === 0 ? 'For whom?' : 'No school for these animals yet'}
            action={<LinkButton to="/library">Open the library</LinkButton>}
          >
            {chosen.length + expected.length === 0
              ? 'Schools differ by who is to bear them: choose a group above, and they stand here side by side.'
              : 'Choose who is meant, or another vessel.'}
          </Empty>
        ) : (
          <Tray>
            <SchoolTable
              columns={ordered.filter(({ protocol }) => protocol.strategy === true)}
              suggested={suggested}
              threats={threats}
              vesselId={vesselId}
              label="Whole quarantines"
            />
            <SchoolTable
              columns={ordered.filter(({ protocol }) => protocol.strategy !== true)}
              suggested={suggested}
              threats={threats}
              vesselId={vesselId}
              label="Single treatments and watching"
              folded
            />
            <p style={{ color: 'var(--quiet)', fontSize: 13, paddingTop: 8 }}>
              Full disc: covered in full when all rules hold; half disc: in part, or some strains; ring: not. No school
              covers bacteria or viruses; antibiotics need a cause and a veterinarian. Days run to the release, and are
              the fewest it takes.
            </p>
          </Tray>
        )}
      </Stack>
    </Page>
  )
}

function SchoolTable({
  columns,
  suggested,
  threats,
  vesselId,
  label,
  folded = false,
}: {
  columns: readonly SchoolColumn[]
  suggested: SchoolColumn | undefined
  threats: readonly ThreatId[]
  vesselId: string
  label: string
  /** What covers nothing of what is feared stays folded. */
  folded?: boolean
}) {
  if (columns.length === 0) return null
  const meets = ({ coverage }: SchoolColumn) =>
    coverage.some(({ threat, degree }) => threats.includes(threat) && degree !== 'none')
  const open = folded ? columns.filter(meets) : columns
  const rest = folded ? columns.filter((column) => !meets(column)) : []
  const table = (shown: readonly SchoolColumn[]) => (
    <SchoolRows columns={shown} suggested={suggested} threats={threats} vesselId={vesselId} />
  )
  return (
    <section aria-label={label} style={{ paddingBottom: 18 }}>
      <h2 style={{ paddingBottom: 6 }}>{label}</h2>
      {open.length > 0 && table(open)}
      {rest.length > 0 && (
        <details>
          <summary>
            {plural(rest.length, 'single treatment')}{' '}
            {threats.length === 0 ? 'and what each covers' : 'that cover nothing of what is feared'}
          </summary>
          {table(rest)}
        </details>
      )}
    </section>
  )
}

function SchoolRows({
  columns,
  suggested,
  threats,
  vesselId,
}: {
  columns: readonly SchoolColumn[]
  suggested: SchoolColumn | undefined
  threats: readonly ThreatId[]
  vesselId: string
}) {
  const { record } = useRecord()
  const { settings } = record
  return (
    <Scroll>
      <Table>
        <colgroup>
          {['24%', '13%', '7%', '13%', '8%', '16%', '19%', '90px'].map((width, i) => (
            <col key={i} style={{ width }} />
          ))}
        </colgroup>
        <thead>
          <tr>
            <th scope="col">school</th>
            <th scope="col">days, earliest end</th>
            <th scope="col">caught</th>
            <th scope="col">water, product</th>
            <th scope="col">tests, doses, baths</th>
            <th scope="col">covers</th>
            <th scope="col">here</th>
            <th scope="col">
              <span className="sr">open</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {columns.map((column) => (
            <tr key={column.protocol.id} data-suggested={column === suggested ? '' : undefined}>
              <th scope="row">
                {column.protocol.title}
                <small>{column.protocol.school.tradeOff}</small>
                {column.afterwards.map((words) => (
                  <small key={words}>Then {words}.</small>
                ))}
              </th>
              <td data-number>
                <strong>{column.days} d</strong>
                <small>{longDayText(column.earliestMs, settings)}</small>
              </td>
              <td data-number>{column.handling === 0 ? 'never' : `${column.handling} ×`}</td>
              <td data-number>
                {column.waterL === null ? '–' : litresText(column.waterL, settings)}
                {column.products.map(({ productId, amount, unit }) => (
                  <small key={productId}>
                    {amount < 10 ? amount.toFixed(1) : Math.ceil(amount)} {unit} of{' '}
                    {record.products.get(productId)?.body.name}
                  </small>
                ))}
              </td>
              <td data-number>
                {column.tests}, {column.doses}, {column.baths}
              </td>
              <td>
                <Covered column={column} threats={threats} />
              </td>
              <td>
                {column.forbidden.length > 0 ? (
                  <>
                    <Tag $tone="danger">must not</Tag>
                    <small>{column.forbidden.join('; ')}</small>
                  </>
                ) : column.cautions.length > 0 ? (
                  <>
                    <Tag $tone="due">care</Tag>
                    <small>{column.cautions.join('; ')}</small>
                  </>
                ) : (
                  <Tag $tone="good">fits</Tag>
                )}
                {column.needs.length > 0 && <small>needs {column.needs.join(', ')}</small>}
              </td>
              <td>
                <LinkButton
                  to={`/courses/new?vessel=${vesselId}&protocol=${column.protocol.id}`}
                  aria-label={`Look at ${column.protocol.title}`}
                >
                  Look
                </LinkButton>
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </Scroll>
  )
}
