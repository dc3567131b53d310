// Starts that were planned and have their day.
import { atHourOfDay, protocolOf, type PlannedDocument } from '@brinvo/core'
import { useRecord } from '../../data/queries.tsx'
import { LinkButton, Quiet, Row, Tray } from '../../design/primitives.tsx'
import { dayText } from '../../design/words.ts'

/** What was planned to begin and has its day: it waits here until it begins or is let go. */
export function Beginnings({ starts }: { starts: readonly PlannedDocument[] }) {
  const { record } = useRecord()
  const { settings } = record
  return starts.map(({ id, body }) => (
    <Tray key={id} aria-label="A planned start">
      <Row $between>
        <span>
          <strong>{protocolOf(body.protocolId)?.title ?? body.protocolId}</strong>{' '}
          {body.vesselId !== undefined && `in ${record.vessels.get(body.vesselId)?.body.name ?? 'a vessel'} `}
          <Quiet>
            was planned for {dayText(atHourOfDay(body.startsOn, 12, settings.zone), settings)}. Nothing of it has begun.
          </Quiet>
        </span>
        <Row>
          <LinkButton
            to={`/courses/new?protocol=${body.protocolId}&planned=${id}${body.vesselId === undefined ? '' : `&vessel=${body.vesselId}`}`}
          >
            Begin it
          </LinkButton>
          <LinkButton to="/calendar" $look="bare">
            Move it
          </LinkButton>
        </Row>
      </Row>
    </Tray>
  ))
}
