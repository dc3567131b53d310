import { residentsIn, vesselVolume } from '@brinvo/core'
import { Link } from 'react-router'
import { styled } from 'styled-components'
import { useRecord } from '../../data/queries.tsx'
import { VesselOutline } from '../../design/marks.tsx'
import { Empty, LinkButton, Page, Quiet, Row, Stack, Tag, Tray } from '../../design/primitives.tsx'
import { NARROW } from '../../design/theme.ts'
import { litresText, plural, volumeText } from '../../design/words.ts'
import { useThePlans } from '../../shell/PlansContext.tsx'

const Item = styled.li`
  display: grid;
  grid-template-columns: 120px minmax(0, 1.2fr) minmax(0, 1fr) auto;
  gap: 6px 18px;
  align-items: center;
  padding: 12px 0;
  & + & {
    border-top: 1px solid var(--hairline);
  }
  > :first-child {
    justify-self: center;
  }
  h2 a {
    text-decoration: none;
  }
  ${NARROW} {
    grid-template-columns: 72px minmax(0, 1fr);
    > :nth-child(3) {
      grid-column: 2;
    }
    > :nth-child(4) {
      grid-column: 2;
      justify-self: start;
    }
  }
`
const PURPOSES = {
  display: 'display',
  quarantine: 'quarantine',
  observation: 'observation',
  hospital: 'hospital',
  bath: 'bath',
  transfer: 'transfer tub',
  intake: 'coral intake',
  mixing: 'mixing bin',
} as const

/** The whole shelf, with what each vessel holds. */
export function VesselsPage() {
  const { record, active } = useRecord()
  const { plans, nowMs } = useThePlans()
  const vessels = [...record.vessels.values()].sort((a, b) => a.body.sortOrder - b.body.sortOrder)
  const largest = Math.max(1, ...vessels.map((vessel) => vesselVolume(vessel)?.litres ?? vessel.body.nominalL))
  if (vessels.length === 0) {
    return (
      <Page>
        <Empty
          title="No vessel yet"
          action={
            <LinkButton to="/vessels/new" $look="main">
              Describe a vessel
            </LinkButton>
          }
        >
          A vessel is any body of water you keep track of: a display, a quarantine tank, a tub. Everything else divides
          by its net volume.
        </Empty>
      </Page>
    )
  }
  return (
    <Page>
      <Row $between>
        <h1>Vessels</h1>
        <Row>
          <LinkButton to="/sitter">For a sitter</LinkButton>
          <LinkButton to="/vessels/new" $look="main">
            Describe another
          </LinkButton>
        </Row>
      </Row>
      <Tray>
        <ul>
          {vessels.map((vessel) => {
            const volume = vesselVolume(vessel)
            const course = plans.find(({ vesselId }) => vesselId === vessel.id)
            const residents = residentsIn(record, active, vessel.id, nowMs)
            return (
              <Item key={vessel.id}>
                <VesselOutline litres={volume?.litres ?? vessel.body.nominalL} largest={largest} height={52} />
                <Stack $gap={2}>
                  <h2 data-small="">
                    <Link to={`/vessels/${vessel.id}`}>{vessel.body.name}</Link>
                  </h2>
                  <Quiet>
                    {PURPOSES[vessel.body.purpose]}, {vessel.body.water === 'marine' ? 'marine' : 'fresh water'} ·{' '}
                    {residents.length === 0
                      ? 'nobody in it'
                      : plural(residents.length, 'resident or group', 'residents or groups')}
                  </Quiet>
                </Stack>
                <Stack $gap={2}>
                  {volume ? (
                    <strong>
                      {volumeText(volume, record.settings)}{' '}
                      <Quiet>net, of {litresText(vessel.body.nominalL, record.settings)}</Quiet>
                    </strong>
                  ) : (
                    <Tag $tone="due">volume unclear</Tag>
                  )}
                  {vessel.body.volumeConfirmedAt === undefined && <Tag $tone="due">never confirmed</Tag>}
                  {course && (
                    <Link to={`/courses/${course.courseId}`}>
                      {course.title}, day {course.day}
                    </Link>
                  )}
                </Stack>
                <LinkButton to={`/vessels/${vessel.id}`}>Open</LinkButton>
              </Item>
            )
          })}
        </ul>
      </Tray>
    </Page>
  )
}
