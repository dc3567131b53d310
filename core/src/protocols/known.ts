// Levels that the estimates of running courses vouch for: only of agents a test can read.
import type { CourseEstimate } from '../level/estimate.ts'
import type { ActiveLedger, KeeperRecord } from '../record/types.ts'
import type { KnownLevel } from '../safety/level.ts'
import { courseContext } from './courseContext.ts'
import { courseBand } from './courseInputs.ts'

/**
 * Where no test exists at home an estimate may not be used to redose: there the slowest loss of what was poured counts.
 * @source handbook 31 `calc-decay`
 */
export function knownLevels(
  record: KeeperRecord,
  active: ActiveLedger,
  estimates: ReadonlyMap<string, CourseEstimate>,
  nowMs: number,
): KnownLevel[] {
  return [...estimates].flatMap(([id, { now, volume }]) => {
    const course = record.courses.get(id)
    if (!course || course.body.endedAt !== undefined) return []
    const band = courseBand(courseContext(record, active, course, nowMs, null))
    if (!band?.form.heldAtLevel) return []
    return [
      {
        vesselId: course.body.vesselId,
        agent: band.form.agent,
        atMs: nowMs,
        mgPerL: now.p50,
        lowMgPerL: now.p10,
        highMgPerL: now.p90,
        volume: { litres: volume.meanL, sdLitres: volume.sdL },
      },
    ]
  })
}
