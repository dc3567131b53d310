// A concern with what can be done about it from where it is read.
import { analyteWord, type Concern } from '@brinvo/core'
import { styled } from 'styled-components'
import { Button, LinkButton, Row, TextLink, Tray } from '../design/primitives.tsx'
import { useLog } from '../shell/LogContext.tsx'
import { useTold } from './useTold.ts'

const Uneasy = styled.li`
  padding: 12px 0;
  & + & {
    border-top: 1px solid var(--hairline);
  }
`

export function ConcernItem({ concern }: { concern: Concern }) {
  const told = useTold()
  const log = useLog()
  const [asked, ...others] = concern.analytes ?? []
  const several = others.length > 0
  return (
    <Uneasy>
      <p>
        <strong style={{ color: concern.tone === 'danger' ? 'var(--danger)' : undefined }}>
          {told(concern.title)}
        </strong>{' '}
        {told(concern.detail)}
      </p>
      <Row style={{ paddingTop: 2 }}>
        {concern.change && (
          <Button
            look="main"
            onPress={() => log({ kind: 'change', vesselId: concern.vesselId, ...concern.change })}
            aria-label={`Log the change of ${Math.round(100 * concern.change.fraction)} %: ${concern.title}`}
          >
            Log the change
          </Button>
        )}
        {concern.action === 'test' && several && (
          <LinkButton to={`/tests/${concern.vesselId}`}>Enter the readings</LinkButton>
        )}
        {concern.action === 'test' && !several && (
          <Button
            onPress={() =>
              log({
                kind: 'reading',
                vesselId: concern.vesselId,
                ...(asked === undefined ? {} : { analyte: asked }),
                ...(concern.courseId === undefined ? {} : { courseId: concern.courseId }),
              })
            }
          >
            Enter a reading
          </Button>
        )}
        {concern.action === 'see-course' && concern.courseId !== undefined && (
          <TextLink to={`/courses/${concern.courseId}`}>See the course</TextLink>
        )}
        {concern.action === 'see-resident' && asked !== undefined && (
          <Button look="main" onPress={() => log({ kind: 'reading', vesselId: concern.vesselId, analyte: asked })}>
            Enter {analyteWord(asked)}
          </Button>
        )}
        {concern.action === 'see-resident' && (
          <LinkButton to={`/findings?vessel=${concern.vesselId}&resident=${concern.residentId}`}>
            What could it be?
          </LinkButton>
        )}
        {concern.action === 'see-ledger' && <TextLink to="/ledger">Open the ledger</TextLink>}
        {concern.action === 'see-vessel' && <TextLink to={`/vessels/${concern.vesselId}`}>Open the vessel</TextLink>}
        {concern.action === 'see-finding' && <TextLink to={`/findings/${concern.findingId}`}>Answer it</TextLink>}
        {concern.action === 'see-corrections' && (
          <TextLink to={`/water/${concern.vesselId}/corrections`}>Open its corrections</TextLink>
        )}
        {concern.action === 'see-device' && <TextLink to="/devices">Open the devices</TextLink>}
        {concern.action === 'see-sample' && <TextLink to={`/laboratory/${concern.sampleId}`}>Open the sample</TextLink>}
        {concern.action === 'see-cupboard' && <TextLink to="/cupboard">Open the cupboard</TextLink>}
        {concern.action === 'confirm-volume' && (
          <LinkButton to={`/vessels/${concern.vesselId}/edit`}>Look at the volume</LinkButton>
        )}
      </Row>
    </Uneasy>
  )
}

/** Danger, over everything that is only due; nothing where there is none. */
export function ActNow({ concerns }: { readonly concerns: readonly Concern[] }) {
  if (concerns.length === 0) return null
  return (
    <Tray $tone="danger" role="alert" aria-label="Act on this now">
      <ul>
        {concerns.map((concern) => (
          <ConcernItem key={concern.id} concern={concern} />
        ))}
      </ul>
    </Tray>
  )
}
