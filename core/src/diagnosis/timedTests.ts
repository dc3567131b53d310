// Small tests of a finding that take time: begun, and answered when there is something to see.
import { besidesReadings } from '../record/ledgerIndex.ts'
import { limitOf } from '../knowledge/limits.ts'
import { signsOf, type Pool } from '../knowledge/conditions.ts'
import { timedTests, type TimedTest } from '../knowledge/signs.ts'
import type { Concern } from '../protocols/concerns.ts'
import type { ActiveLedger, FindingDocument, KeeperRecord } from '../record/types.ts'
import { entryMs } from '../time/time.ts'

const MINUTE = 60_000
/** A test nobody looked at for so long after its end is over without an answer, hours. */
const FORGOTTEN_H = limitOf('timed-test-forgotten')

/** Step that the beginning of a test carries. */
export const testStep = (findingId: string, testId: string): string => `${findingId}/test/${testId}`

/** Tests that a pool's signs can answer. */
export function testsOf(pool: Pool): readonly TimedTest[] {
  const known = new Set(signsOf(pool).map(({ id }) => id))
  return timedTests.filter(({ present }) => present.every((id) => known.has(id)))
}

export interface TestState {
  readonly startedMs: number
  /** From when it is worth a look, and from when a no is one. */
  readonly lookMs: number
  readonly noMs: number
  readonly state: 'waiting' | 'look' | 'over'
}

/** A test that runs; null where it was never begun, was answered since, or was forgotten. */
export function testState(
  active: ActiveLedger,
  finding: FindingDocument,
  test: TimedTest,
  nowMs: number,
): TestState | null {
  const step = testStep(finding.id, test.id)
  const begun = besidesReadings(active).findLast(
    (entry) => entry.kind === 'check' && entry.step === step && entryMs(entry) <= nowMs,
  )
  if (!begun) return null
  const startedMs = entryMs(begun)
  const signs = new Set([...test.present, ...test.absent, ...test.otherwise])
  const answered = besidesReadings(active).some(
    (entry) =>
      entry.kind === 'sign' && entry.findingId === finding.id && signs.has(entry.sign) && entryMs(entry) > startedMs,
  )
  const lookMs = startedMs + test.fromMin * MINUTE
  const noMs = startedMs + test.untilMin * MINUTE
  if (answered || nowMs - noMs > FORGOTTEN_H * 60 * MINUTE) return null
  return { startedMs, lookMs, noMs, state: nowMs < lookMs ? 'waiting' : nowMs < noMs ? 'look' : 'over' }
}

/** What an answer says about the signs of a finding. */
export const testAnswers = (test: TimedTest, yes: boolean): Readonly<Record<string, 'yes' | 'no'>> =>
  Object.fromEntries(
    yes
      ? test.present.map((id) => [id, 'yes' as const])
      : [...test.absent.map((id) => [id, 'no' as const]), ...test.otherwise.map((id) => [id, 'yes' as const])],
  )

/** Tests that wait for a look, of all open findings. */
export function testConcerns(record: KeeperRecord, active: ActiveLedger, nowMs: number): Concern[] {
  const told = besidesReadings(active).filter(({ kind }) => kind === 'check' || kind === 'sign')
  return [...record.findings.values()].flatMap((finding) => {
    if (finding.body.endedAt !== undefined) return []
    return testsOf(finding.body.pool).flatMap((test): Concern[] => {
      const running = testState(told, finding, test, nowMs)
      if (!running || running.state === 'waiting') return []
      return [
        {
          id: `test-${finding.id}-${test.id}`,
          vesselId: finding.body.vesselId,
          findingId: finding.id,
          title: `${test.title}, ${record.vessels.get(finding.body.vesselId)?.body.name ?? 'a vessel'}:`,
          detail:
            running.state === 'over'
              ? 'its time is over, what do you see?'
              : 'look now, there may be something to see.',
          tone: 'plain',
          action: 'see-finding',
        },
      ]
    })
  })
}
