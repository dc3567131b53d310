// What goes onto the ledger: the same press twice, what happened in another tab meanwhile, and clocks that run ahead.
import { describe, expect, test } from '@jest/globals'
import {
  actContext,
  answer,
  commitAct,
  instantOf,
  instantMs,
  recordOf,
  type Commit,
  type Intent,
  type KeeperRecord,
  type RegisterDocument,
} from '../src/index.ts'
import { NOW, intentOf, recordOfCase, type ActCase } from './acts/runActs.ts'

const START: ActCase = {
  id: 'x',
  title: 'a tank with a fish and a bottle',
  record: {
    vessels: [
      { id: 'q', water: 'marine', use: 'quarantine', litres: 100 },
      { id: 'r', water: 'marine', use: 'display', litres: 200 },
    ],
    residents: [
      { id: 'f', vessel: 'q', group: 'hg-clown-damsel' },
      { id: 's', vessel: 'r', group: 'hg-shrimp', count: 240 },
    ],
    bottles: [{ id: 'cu', form: 'copper-chelated', strength: '10 mg/mL', confirmed: true }],
    done: [
      { kind: 'reading', hoursAgo: 2, vessel: 'q', analyte: 'temperature', value: 25, unit: '°C' },
      { kind: 'reading', hoursAgo: 2, vessel: 'r', analyte: 'temperature', value: 25, unit: '°C' },
    ],
  },
  act: { kind: 'dose' },
  expect: {},
}
const start = () => recordOfCase(START)
const NONE = { words: '', confirmed: false }
const documentsOf = (record: KeeperRecord): RegisterDocument[] =>
  [record.vessels, record.residents, record.products, record.instruments, record.courses].flatMap(
    (register) => [...register.values()] as RegisterDocument[],
  )
const after = (record: KeeperRecord, made: Pick<Commit, 'documents' | 'entries'>): KeeperRecord =>
  recordOf(record.settings, [...documentsOf(record), ...made.documents], [...record.entries, ...made.entries])
const commit = (
  record: KeeperRecord,
  intent: Intent,
  more: { actId?: string; nowMs?: number; shown?: boolean } = {},
) => {
  const nowMs = more.nowMs ?? NOW
  return commitAct(actContext(record, nowMs), intent, {
    actId: more.actId ?? 'act',
    override: { words: '', confirmed: true },
    ...(more.shown === true ? { shown: answer(actContext(start(), nowMs), intent) } : {}),
  })
}
const done = (result: ReturnType<typeof commitAct>): Commit => {
  if (!result.ok) throw new Error(result.error.message)
  return result.value
}
const message = (result: ReturnType<typeof commitAct>): string => (result.ok ? '' : result.error.message)

const dose = (amount = 2): Intent => ({
  kind: 'dose',
  vesselId: 'q',
  productId: 'cu',
  amounts: [`${amount} mL`],
})

describe('one act, once', () => {
  test('the same press twice is one act, and says nothing was lost', () => {
    const first = done(commit(start(), dose()))
    expect(first.entries).toHaveLength(1)
    const again = done(commit(after(start(), first), dose()))
    expect(again).toMatchObject({ already: true, entries: first.entries, documents: [] })
  })
  test('another act of the same kind a moment later is asked about', () => {
    const one = after(start(), done(commit(start(), dose())))
    const second = commitAct(actContext(one, NOW + 20 * 60_000), dose(), { actId: 'other', override: NONE })
    expect(second.ok).toBe(false)
  })
  test('the same note twice within seconds stands once', () => {
    const note: Intent = {
      kind: 'note',
      drafts: [{ kind: 'note', vesselId: 'q', note: 'Lights out.' }],
      documents: [],
      said: '',
    } as never
    const one = after(start(), done(commit(start(), note)))
    expect(message(commit(one, note, { actId: 'b', nowMs: NOW + 800 }))).toMatch(/stands on the ledger once/)
    expect(done(commit(one, note, { actId: 'b', nowMs: NOW + 60_000 })).entries).toHaveLength(1)
  })
})

describe('what happened meanwhile', () => {
  test('a bottle that is gone refuses, in a sentence', () => {
    const gone = start()
    const left = recordOf(
      gone.settings,
      documentsOf(gone).filter(({ id }) => id !== 'cu'),
      gone.entries,
    )
    expect(message(commit(left, dose(), { shown: true }))).toMatch(/bottle|cupboard/i)
  })
  test('a fish that left meanwhile is not moved', () => {
    const move: Intent = { kind: 'move', vesselId: 'q', residents: [{ id: 'f' }], toVesselId: 'r' } as never
    const left = after(
      start(),
      done(commit(start(), { kind: 'leave', vesselId: 'q', residents: [{ id: 'f' }], how: 'died' }, { actId: 'd' })),
    )
    expect(commit(left, move, { nowMs: NOW + 60_000 }).ok).toBe(false)
  })
  test('a shrimp that came in meanwhile stops the dose that was shown as free', () => {
    const move: Intent = {
      kind: 'move',
      vesselId: 'r',
      residents: [{ id: 's', count: 3 }],
      toVesselId: 'q',
    } as never
    const moved = after(start(), done(commit(start(), move, { actId: 'm' })))
    const stopped = commit(moved, dose(), { shown: true, nowMs: NOW + 60_000 })
    expect(message(stopped)).toMatch(/changed meanwhile/)
  })
  test('a course ended in another tab is not ended twice', () => {
    const begun = withCourse(start())
    const end: Intent = { kind: 'course-end', id: 'c', outcome: 'stopped', words: '' } as never
    const ended = after(begun, done(commit(begun, end)))
    expect(message(commit(ended, end, { actId: 'second' }))).toMatch(/ended already/)
  })
})

function withCourse(record: KeeperRecord, aheadMs = 0): KeeperRecord {
  const one = {
    ...START,
    act: { kind: 'course', protocol: 'copper-in-place-30', vessel: 'q', bottle: 'cu' },
  } as ActCase
  const intent = intentOf(one.act, record, one)
  if (intent?.kind !== 'course') throw new Error('no course')
  const body = { ...intent.body, startedAt: instantOf(NOW + aheadMs) }
  return after(record, done(commit(record, { ...intent, id: 'c', body } as Intent, { actId: 'course' })))
}

describe('time', () => {
  test('a course begun by a page whose clock runs half a minute ahead holds its first dose', () => {
    const begun = withCourse(start(), 29_000)
    const poured = done(commit(begun, { ...dose(), courseId: 'c' } as Intent, { nowMs: NOW + 5_000 }))
    expect(instantMs(poured.entries[0]!.at)).toBeGreaterThanOrEqual(instantMs(begun.courses.get('c')!.body.startedAt))
    // Typed by the minute it is not before the course either.
    const typed = done(
      commit(begun, { ...dose(), courseId: 'c', atMs: Math.floor(NOW / 60_000) * 60_000 } as Intent, {
        nowMs: NOW + 5_000,
      }),
    )
    expect(instantMs(typed.entries[0]!.at)).toBeGreaterThanOrEqual(instantMs(begun.courses.get('c')!.body.startedAt))
  })
  test('nothing that is written lies in the future, however the clocks differ', () => {
    const made = done(commit(start(), { ...dose(), atMs: NOW + 4 * 60_000 } as Intent))
    expect(made.entries[0]!.at).toBe(instantOf(NOW))
    expect(commit(start(), { ...dose(), atMs: NOW + 6 * 60_000 } as Intent).ok).toBe(false)
  })
  test('a dose of yesterday evening and one after midnight add up across the day', () => {
    const before = Date.parse('2026-11-27T22:50:00.000Z')
    const one = after(start(), done(commit(start(), dose(), { nowMs: before })))
    const level = answer(actContext(one, before + 20 * 60_000), dose()).preview.level!
    // 2 mL × 10 mg/mL in 100 L each.
    expect(level.fromMgPerL).toBeCloseTo(0.2, 2)
    expect(level.toMgPerL).toBeCloseTo(0.4, 2)
  })
})

describe('a course of dips', () => {
  const dips = (residents: ActCase['record']['residents']) => {
    const one: ActCase = {
      ...START,
      record: {
        vessels: START.record.vessels,
        residents,
        bottles: [{ id: 'dip', form: 'peroxide-bath', strength: '30 mg/mL', confirmed: true }],
      },
      act: { kind: 'course', protocol: 'rounds-montipora-slug', vessel: 'q', bottle: 'dip' },
    }
    const record = recordOfCase(one)
    return answer(actContext(record, NOW), intentOf(one.act, record, one)!).refusals
  }
  const graveFor = (group: string, others: ActCase['record']['residents']) =>
    dips([{ id: 'one', vessel: 'q', group }, ...others]).filter(
      ({ rule, level, message }) => level === 'block' && /not for/.test(message) && rule !== '',
    )
  test('a shrimp that stays in the tank is told of, and stops the dips only where nobody else is there', () => {
    const coral = [{ id: 'plate', vessel: 'q', group: 'hg-coral' }]
    expect(graveFor('hg-shrimp', coral)).toEqual([])
    expect(
      dips([{ id: 'one', vessel: 'q', group: 'hg-shrimp' }, ...coral]).map(({ message }) => message),
    ).toContainEqual(expect.stringMatching(/not for shrimps.*Leave them out of the bath/))
    expect(graveFor('hg-shrimp', [])).toHaveLength(1)
  })
})

describe('names of eighty letters fit, one more is told', () => {
  const problem = (intent: object) => answer(actContext(start(), NOW), intent as Intent).problem
  const named = (letters: number) => 'n'.repeat(letters)
  const bottle = (letters: number) => ({
    kind: 'bottle',
    newId: 'new',
    form: 'copper-chelated',
    name: named(letters),
    strength: { basis: 'mg-per-mL', mgPerMl: 10 },
    labelLow: '1.5',
    labelHigh: '2',
    confirmed: true,
  })
  test('of a bottle', () => {
    expect(problem(bottle(80))).toBeNull()
    expect(problem(bottle(81))).toMatch(/longer than 80 letters/)
  })
  test('of a vessel', () => {
    const { body } = start().vessels.get('q')!
    const vessel = (letters: number) => ({
      kind: 'vessel',
      vesselId: 'q',
      newId: 'q',
      body: { ...body, name: named(letters) },
    })
    expect(problem(vessel(81))).toMatch(/longer than 80 letters/)
    expect(problem(vessel(80)) ?? '').not.toMatch(/longer than 80 letters/)
  })
})

describe('the very same reading', () => {
  const read = (text: string, atMs?: number): Intent => ({
    kind: 'reading',
    vesselId: 'q',
    analyte: 'nitrate',
    text,
    ...(atMs === undefined ? {} : { atMs }),
  })
  const rulesOf = (record: KeeperRecord, intent: Intent, nowMs: number) =>
    answer(actContext(record, nowMs), intent).questions.map(({ rule }) => rule)
  test('is asked about a minute later, and not after three, with another value or at another time', () => {
    const record = after(start(), done(commit(start(), read('12'))))
    expect(rulesOf(record, read('12'), NOW + 60_000)).toContain('twice')
    expect(rulesOf(record, read('13'), NOW + 60_000)).not.toContain('twice')
    expect(rulesOf(record, read('12'), NOW + 180_000)).not.toContain('twice')
    // Typed in later for the time of the first: the same one again.
    expect(rulesOf(record, read('12', NOW), NOW + 3_600_000)).toContain('twice')
    expect(rulesOf(record, read('12', NOW - 3_600_000), NOW + 60_000)).not.toContain('twice')
  })
})
