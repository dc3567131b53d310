// A reef of 200 L for tests of its water: entries some days ago, registers beside, and the acts asked of it.
import {
  actContext,
  activeEntries,
  answer,
  commitAct,
  instantOf,
  recordOf,
  type Analyte,
  type Entry,
  type Intent,
  type KeeperRecord,
  type RegisterDocument,
} from '../src/index.ts'
import { NOW, recordOfCase } from './acts/runActs.ts'

export { NOW }
export const DAY = 86_400_000
const base = recordOfCase({
  id: 'w',
  title: 'a reef',
  record: {
    vessels: [{ id: 'reef', water: 'marine', use: 'display', litres: 200 }],
    residents: [],
    bottles: [],
    done: [],
  },
  act: { kind: 'dose' },
  expect: {},
})
let made = 0
export const entryAgo = (fields: object, daysAgo: number): Entry =>
  ({
    id: `reef-${String(made++).padStart(5, '0')}`,
    at: instantOf(NOW - daysAgo * DAY),
    zone: base.settings.zone,
    recordedAt: instantOf(NOW - daysAgo * DAY),
    vesselId: 'reef',
    ...fields,
  }) as unknown as Entry
export const read = (analyte: Analyte, value: number, daysAgo: number, more: object = {}) =>
  entryAgo({ kind: 'reading', analyte, value, unit: '', bound: 'exact', ...more }, daysAgo)
export const documentOf = (register: RegisterDocument['register'], id: string, body: object): RegisterDocument =>
  ({
    register,
    id,
    revision: 1,
    savedAt: instantOf(NOW - 90 * DAY),
    body,
    history: [],
  }) as unknown as RegisterDocument

export const reefWith = (documents: readonly RegisterDocument[], entries: readonly Entry[]): KeeperRecord =>
  recordOf(
    base.settings,
    [...base.vessels.values(), ...base.instruments.values(), ...documents],
    [...base.entries, ...entries],
  )
export const activeOf = (record: KeeperRecord) => activeEntries(record.entries)
export const asked = (record: KeeperRecord, intent: Intent, nowMs = NOW) => answer(actContext(record, nowMs), intent)
/** The record after an act that may pass, asked and confirmed. */
export function after(record: KeeperRecord, intent: Intent, nowMs = NOW): KeeperRecord {
  const done = commitAct(actContext(record, nowMs), intent, {
    actId: `act-${made++}`,
    override: { words: '', confirmed: true },
  })
  if (!done.ok) throw new Error(done.error.message)
  const documents = [
    ...record.vessels.values(),
    ...record.instruments.values(),
    ...record.samples.values(),
    ...record.devices.values(),
    ...done.value.documents,
  ]
  return recordOf(record.settings, documents, [...record.entries, ...done.value.entries])
}
export const rules = (record: KeeperRecord, intent: Intent, nowMs = NOW) => {
  const said = asked(record, intent, nowMs)
  return [...said.questions, ...said.refusals].map(({ rule }) => rule)
}
