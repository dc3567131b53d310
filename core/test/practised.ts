// A practice tank's record with entries by the hour, for tests that need a course with its bottles and kits.
import { activeEntries, documentsOf, instantOf, plan, recordOf, type Entry } from '@brinvo/core'
import { practiceRecord, practiceTanks, type Begun } from '@brinvo/core/practice'

export const START = Date.parse('2026-03-20T17:00:00Z')
export const HOUR = 3_600_000

export function practised(tankId: string) {
  const begun: Begun = {
    definition: practiceTanks.find(({ id }) => id === tankId)!,
    seed: 5,
    startMs: START,
    zone: 'Europe/Berlin',
  }
  const record = practiceRecord(begun)
  const [vesselId] = record.vessels.keys()
  const [courseId] = record.courses.keys()
  const [productId] = record.products.keys()
  const entry = (kind: string, hours: number, fields: object): Entry =>
    ({
      kind,
      id: `${kind}-${hours}-${JSON.stringify(fields)}`,
      at: instantOf(START + hours * HOUR),
      zone: 'Europe/Berlin',
      recordedAt: instantOf(START + hours * HOUR),
      vesselId,
      courseId,
      ...fields,
    }) as unknown as Entry
  const withEntries = (...entries: Entry[]) =>
    recordOf(record.settings, documentsOf(record), [...record.entries, ...entries])
  /** The course's plan at an hour. */
  const planAt = (hours: number, ...entries: Entry[]) => {
    const of = withEntries(...entries)
    return plan({
      record: of,
      active: activeEntries(of.entries),
      estimates: new Map(),
      nowMs: START + hours * HOUR,
    })[0]!
  }
  return { begun, record, vesselId: vesselId!, courseId: courseId!, productId: productId!, entry, withEntries, planAt }
}
