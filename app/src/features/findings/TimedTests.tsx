// Tests that take time: how to do one, its clock from the record, and the answer when there is something to see.
import {
  formatDuration,
  testAnswers,
  testsOf,
  testState,
  testStep,
  type FindingDocument,
  type TimedTest,
} from '@brinvo/core'
import { useRecord, type Draft } from '../../data/queries.tsx'
import { Button, Quiet, Row, Stack, Tag, Tray } from '../../design/primitives.tsx'
import { whenText } from '../../design/words.ts'
import { useSave } from '../../parts/StepActions.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'

const HOUR = 3_600_000

export function TimedTests({
  finding,
  answers,
  onAnswer,
}: {
  finding: FindingDocument
  answers: ReadonlyMap<string, 'yes' | 'no'>
  onAnswer: (answers: Readonly<Record<string, 'yes' | 'no'>>) => void
}) {
  const { active } = useRecord()
  const { nowMs } = useThePlans()
  const tests = testsOf(finding.body.pool)
  if (tests.length === 0) return null
  // What runs comes first, what was answered last.
  const rank = (test: TimedTest) =>
    testState(active, finding, test, nowMs) ? 0 : test.present.some((id) => answers.has(id)) ? 2 : 1
  return (
    <Tray role="region" aria-label="Tests that take time">
      <Stack $gap={6}>
        <h2>Tests that take time</h2>
        <ul>
          {[...tests]
            .sort((a, b) => rank(a) - rank(b))
            .map((test) => (
              <Test key={test.id} test={test} finding={finding} answers={answers} onAnswer={onAnswer} />
            ))}
        </ul>
      </Stack>
    </Tray>
  )
}

function Test({
  test,
  finding,
  answers,
  onAnswer,
}: {
  test: TimedTest
  finding: FindingDocument
  answers: ReadonlyMap<string, 'yes' | 'no'>
  onAnswer: (answers: Readonly<Record<string, 'yes' | 'no'>>) => void
}) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const save = useSave()
  const running = testState(active, finding, test, nowMs)
  const said = answers.get(test.present[0]!)
  const begin = () =>
    save(
      [
        {
          kind: 'check',
          vesselId: finding.body.vesselId,
          ...(finding.body.residentId === undefined ? {} : { residentId: finding.body.residentId }),
          what: `test-${test.id}`,
          answers: ['begun'],
          step: testStep(finding.id, test.id),
        } as unknown as Draft,
      ],
      `${test.title}: begun.`,
    )
  return (
    <li style={{ padding: '10px 0', borderTop: '1px solid var(--hairline)' }}>
      <Row $between>
        <h3>{test.title}</h3>
        {running ? (
          <Tag $tone={running.state === 'waiting' ? 'plain' : 'due'}>
            {running.state === 'waiting'
              ? `look in ${formatDuration((running.lookMs - nowMs) / HOUR)}`
              : running.state === 'look'
                ? 'look now'
                : 'time is over'}
          </Tag>
        ) : (
          said !== undefined && <Tag>{said === 'yes' ? test.yes : test.no}</Tag>
        )}
      </Row>
      <p>{test.how}</p>
      {running && (
        <Quiet>
          Begun {whenText(running.startedMs, nowMs, record.settings)}. A no counts from{' '}
          {whenText(running.noMs, nowMs, record.settings)}.
        </Quiet>
      )}
      <Row style={{ paddingTop: 6 }}>
        {running ? (
          <>
            <Button
              look={running.state === 'waiting' ? 'plain' : 'main'}
              onPress={() => onAnswer(testAnswers(test, true))}
            >
              {test.yes}
            </Button>
            <Button isDisabled={running.state !== 'over'} onPress={() => onAnswer(testAnswers(test, false))}>
              {test.no}
            </Button>
          </>
        ) : (
          <Button onPress={() => void begin()}>{test.begin}</Button>
        )}
      </Row>
    </li>
  )
}
