// Water that harms, read where no course watches it: copper, oxygen, salinity. Never passed over in silence.
import { describe, expect, test } from '@jest/globals'
import { activeOf, documentsOf, recordOf, waterConcerns, type Entry, type KeeperRecord } from '../src/index.ts'
import { documentOf, NOW, read, reefWith } from './reef.ts'

const fish = documentOf('resident', 'tang', {
  name: 'Tang',
  commonName: 'Tang',
  group: 'hg-tang',
  count: 1,
  vesselId: 'reef',
  arrivedAt: '2025-01-01T00:00:00.000Z',
})
const shrimp = documentOf('resident', 'shrimp', {
  name: 'Cleaner shrimp',
  commonName: 'Cleaner shrimp',
  group: 'hg-shrimp',
  count: 1,
  vesselId: 'reef',
  arrivedAt: '2025-01-01T00:00:00.000Z',
})
const bottle = (id: string, form: string) =>
  documentOf('product', id, { name: id, form, strength: { basis: 'mg-per-mL', mgPerMl: 10 } })
const told = (record: KeeperRecord) =>
  waterConcerns(record, activeOf(record.entries), [], NOW).filter(({ id }) => id.startsWith('copper-'))
const house = (residents: Parameters<typeof reefWith>[0], entries: readonly Entry[]) => {
  const record = reefWith(residents, entries)
  return recordOf(record.settings, documentsOf(record), record.entries)
}

describe('copper without a course', () => {
  test('twelve milligrams are over every maximum, whatever the bottle: danger, air and half changes first', () => {
    const [concern] = told(house([fish], [read('copper', 12, 1)]))
    expect(concern).toMatchObject({ tone: 'danger', vesselId: 'reef' })
    expect(concern!.detail).toMatch(/^12 mg\/L, over the maximum of every form, 2.8 mg\/L. Now: more air/)
  })
  test('what is right for one form is asked about where the form is not known, and judged by the bottle where it is', () => {
    expect(told(house([fish], [read('copper', 2.2, 1)]))[0]).toMatchObject({ tone: 'caution' })
    expect(told(house([fish, bottle('own', 'copper-chelated-high')], [read('copper', 2.2, 1)]))).toEqual([])
    expect(told(house([fish, bottle('own', 'copper-amine')], [read('copper', 2.2, 1)]))[0]!.detail).toMatch(
      /0.6 mg\/L of its bottle/,
    )
    expect(
      told(house([fish, bottle('a', 'copper-amine'), bottle('b', 'copper-chelated')], [read('copper', 1, 1)]))[0],
    ).toMatchObject({
      tone: 'caution',
    })
  })
  test('beside a shrimp any copper at all is an alarm; a kit’s own noise is none', () => {
    expect(told(house([fish, shrimp], [read('copper', 0.3, 1)]))[0]).toMatchObject({ tone: 'danger' })
    expect(told(house([fish, shrimp], [read('copper', 0.3, 1)]))[0]!.title).toMatch(/with Cleaner shrimp/)
    expect(told(house([fish, shrimp], [read('copper', 0.05, 1)]))).toEqual([])
    expect(told(house([fish, shrimp], [read('copper', 0.3, 1, { bound: 'below' })]))).toEqual([])
  })
  test('the newest reading speaks; one of three weeks ago speaks no more', () => {
    expect(told(house([fish], [read('copper', 12, 5), read('copper', 0.05, 1)]))).toEqual([])
    expect(told(house([fish], [read('copper', 12, 21)]))).toEqual([])
  })
})

describe('water that nothing lives in', () => {
  const concerns = (record: KeeperRecord) => waterConcerns(record, activeOf(record.entries), [], NOW)
  const inQuarantine = (water: 'marine' | 'fresh', ...entries: Entry[]) => {
    const record = reefWith([fish], entries)
    const [reef] = record.vessels.values()
    return recordOf(
      record.settings,
      documentsOf(record).map((one) =>
        one.id === reef!.id ? ({ ...one, body: { ...one.body, water, purpose: 'quarantine' } } as typeof one) : one,
      ),
      record.entries,
    )
  }
  test.each([
    ['marine', 'oxygen', 2, 'danger', /Too little oxygen/],
    ['fresh', 'oxygen', 4.9, 'danger', /Too little oxygen/],
    ['marine', 'salinity', 54, 'danger', /High salinity/],
    ['marine', 'salinity', 39, 'caution', /High salinity/],
    ['marine', 'salinity', 20, 'caution', /Low salinity/],
    ['marine', 'salinity', 2, 'danger', /Low salinity/],
    ['fresh', 'salinity', 8, 'caution', /Salt in fresh water/],
    ['fresh', 'salinity', 30, 'danger', /Salt in fresh water/],
  ] as const)('%s quarantine, %s %d: %s', (water, analyte, value, tone, title) => {
    const [found, ...more] = concerns(inQuarantine(water, read(analyte, value, 1))).filter(({ id }) =>
      id.startsWith('life-'),
    )
    expect(more).toEqual([])
    expect(found).toMatchObject({ tone })
    expect(found!.title).toMatch(title)
  })
  test.each([
    ['marine', 'oxygen', 6.5],
    ['marine', 'salinity', 30],
    ['fresh', 'salinity', 1],
  ] as const)('%s quarantine, %s %d: nothing', (water, analyte, value) => {
    expect(concerns(inQuarantine(water, read(analyte, value, 1))).filter(({ id }) => id.startsWith('life-'))).toEqual(
      [],
    )
  })
})
