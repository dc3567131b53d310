// The gate of an intake: each piece with its looks, what holds it back, and the way out for one that is suspect.
import { gatePieces, leastDays, piecesAsked, protocolLibrary, type CourseDocument, type Protocol } from '@brinvo/core'
import { Link } from 'react-router'
import { styled } from 'styled-components'
import { useRecord } from '../../data/queries.tsx'
import { Button, DayTable, Quiet, Row, Stack, Tag, Tray, Well } from '../../design/primitives.tsx'
import { plural, whenText } from '../../design/words.ts'
import { useLog } from '../../shell/LogContext.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'

const Looks = styled.span`
  display: inline-flex;
  gap: 4px;
  i {
    width: 12px;
    height: 12px;
    border-radius: 3px;
    border: 1.5px solid var(--rim);
  }
  i[data-found] {
    background: var(--acriflavine-ink);
    border-color: var(--acriflavine-ink);
  }
`

export function GatePanel({ course }: { course: CourseDocument }) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const log = useLog()
  const protocol = course.body.protocol as unknown as Protocol
  const asked = piecesAsked(protocol)
  if (!asked) return null
  const pieces = gatePieces(record, active, course, asked.rule, nowMs)
  const receding = pieces.filter(({ recedes }) => recedes)
  const mine = leastDays(protocol)
  const shorter = protocolLibrary.filter(
    (other) => protocol.school.against.includes(other.id) && leastDays(other) < mine,
  )
  return (
    <Tray role="region" aria-label="The gate, piece by piece">
      <Stack $gap={10}>
        <h2>The gate, piece by piece</h2>
        <Quiet>
          Each piece goes on after {asked.times} looks in a row that find nothing, and not before the days are over.
        </Quiet>
        {pieces.length === 0 ? (
          <p>No piece is registered here and none came to the bench: nothing can be released.</p>
        ) : (
          <DayTable>
            <thead>
              <tr>
                <th scope="col">piece</th>
                <th scope="col">looks</th>
                <th scope="col">in a row</th>
                <th scope="col">what holds it</th>
              </tr>
            </thead>
            <tbody>
              {pieces.map((piece) => {
                const last = piece.looks.at(-1)
                const found = last ? last.mobiles + last.eggs : 0
                return (
                  <tr key={piece.residentId ?? piece.name}>
                    <td>
                      {piece.residentId === null ? (
                        piece.name
                      ) : (
                        <Link to={`/residents/${piece.residentId}`}>{piece.name}</Link>
                      )}
                    </td>
                    <td>
                      <Looks
                        role="img"
                        aria-label={`${plural(piece.looks.length, 'look')}, ${piece.looks.filter(({ mobiles, eggs }) => mobiles + eggs > 0).length} with finds`}
                      >
                        {piece.looks.slice(-12).map(({ atMs, mobiles, eggs }) => (
                          <i key={atMs} {...(mobiles + eggs > 0 ? { 'data-found': '' } : {})} />
                        ))}
                      </Looks>
                    </td>
                    <td>
                      {Math.min(piece.clean, asked.times)} of {asked.times}
                    </td>
                    <td>
                      {piece.looks.length === 0 ? (
                        'never looked over'
                      ) : piece.suspect ? (
                        <Row $gap={8}>
                          <Tag $tone="due">suspect</Tag>
                          <span>
                            {found > 0
                              ? `${found} found ${whenText(last!.atMs, nowMs, record.settings)}`
                              : plural(piece.openSigns.length, 'open sign')}
                          </span>
                          {piece.residentId !== null && course.body.endedAt === undefined && (
                            <Button
                              onPress={() =>
                                log({ kind: 'move', vesselId: course.body.vesselId, residentId: piece.residentId! })
                              }
                            >
                              Send back or set apart
                            </Button>
                          )}
                        </Row>
                      ) : piece.clean >= asked.times ? (
                        'its looks are clean'
                      ) : (
                        `${plural(asked.times - piece.clean, 'clean look')} more`
                      )}
                    </td>
                  </tr>
                )
              })}
            </tbody>
          </DayTable>
        )}
        {receding.length > 0 && (
          <Well>
            <strong>
              {receding.length} of {pieces.length} lose tissue here
            </strong>{' '}
            ({receding.map(({ name }) => name).join(', ')}). A shorter stay may be the smaller harm:{' '}
            {shorter.map((other) => `${other.title}, ${leastDays(other)} days: ${other.school.tradeOff}`).join(' ')} The
            risk of going on early is a pest or a fish parasite carried into the display.
          </Well>
        )}
      </Stack>
    </Tray>
  )
}
