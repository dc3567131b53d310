// Who uses the alkalinity, against numbers worked out by hand: skeleton 7.15 mg/L of calcium to a dKH, nitrate 0.0904 dKH to a mg/L.
import { describe, expect, test } from '@jest/globals'
import {
  activeEntries,
  alkalinityUsers,
  documentsOf,
  instantOf,
  recordOf,
  waterLines,
  type Entry,
  type RegisterDocument,
} from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import { entryAt, ZONE } from './entries.ts'

const NOW = Date.parse('2026-05-20T16:00:00Z')
const DAY = 86_400_000
const demo = demoRecord({ seed: 7, anchorMs: NOW, zone: ZONE })

interface Water {
  /** Start and change a day of each analyte that is tested every third day for three weeks. */
  readonly [analyte: string]: readonly [start: number, perDay: number]
}
const UNITS: Readonly<Record<string, string>> = { alkalinity: 'dKH', ph: 'pH' }
function users(
  water: Water,
  { corals = 3, months = 30, old = 0 }: { corals?: number; months?: number; old?: number } = {},
) {
  const entries = Object.entries(water).flatMap(([analyte, [start, perDay]]) =>
    [21, 18, 15, 12, 9, 6, 3, 0].map((days) =>
      entryAt(NOW - (days + (analyte === 'alkalinity' ? 0 : old)) * DAY - 3_600_000, {
        kind: 'reading',
        vesselId: 'longshore',
        analyte,
        value: Number((start + perDay * (21 - days)).toFixed(4)),
        unit: UNITS[analyte] ?? 'mg/L',
        bound: 'exact',
      }),
    ),
  ) as Entry[]
  entries.sort((a, b) => a.at.localeCompare(b.at))
  const documents = documentsOf(demo).flatMap((one): RegisterDocument[] => {
    if (one.register === 'vessel' && one.id === 'longshore')
      return [{ ...one, body: { ...one.body, startedAt: instantOf(NOW - months * 30 * DAY) } }]
    if (one.register === 'resident' && one.body.vesselId === 'longshore')
      return one.body.group === 'hg-coral' && corals > 0
        ? [{ ...one, body: { ...one.body, count: corals } }]
        : one.body.group === 'hg-coral'
          ? []
          : [one]
    return one.register === 'course' || one.register === 'device' ? [] : [one]
  })
  const record = recordOf(demo.settings, documents, entries)
  const active = activeEntries(record.entries)
  const found = alkalinityUsers(waterLines(record, active, 'longshore', NOW), record, active, 'longshore', NOW)
  return { found, of: (id: string) => found.find(({ cause }) => cause.id === `au-${id}`) }
}

describe('who uses the alkalinity', () => {
  test('nobody is asked for where nothing is used, and each user stands there once where something is', () => {
    expect(users({ alkalinity: [8, 0] }).found).toEqual([])
    expect(users({ alkalinity: [8, 0.1] }).found).toEqual([])
    expect(users({ calcium: [430, -3] }).found).toEqual([])
    const { found } = users({ alkalinity: [12, -0.2] })
    expect(found.map(({ cause }) => cause.id).sort()).toEqual([
      'au-coralline',
      'au-nitrification',
      'au-precipitation',
      'au-skeleton',
      'au-test',
    ])
    const order = found.map(({ speaks }) => speaks)
    expect(order).toEqual(
      [...order].sort((a, b) => ['for', 'open', 'against'].indexOf(a) - ['for', 'open', 'against'].indexOf(b)),
    )
  })
  test('calcium that goes with it speaks for skeleton; calcium that stands speaks against', () => {
    // 0.2 dKH a day: 1.43 mg/L of calcium; half and double of it are the lines.
    for (const [calcium, speaks] of [
      [1.43, 'for'],
      [0.75, 'for'],
      [0.68, 'against'],
      [2.8, 'for'],
      [2.95, 'against'],
      [0, 'against'],
    ] as const)
      expect([calcium, users({ alkalinity: [12, -0.2], calcium: [450, -calcium] }).of('skeleton')?.speaks]).toEqual([
        calcium,
        speaks,
      ])
    expect(users({ alkalinity: [12, -0.2] }).of('skeleton')).toMatchObject({ speaks: 'open' })
    expect(users({ alkalinity: [12, -0.2], calcium: [450, -1.43] }).of('skeleton')?.words).toMatch(
      /falls by 1\.4 mg\/L a day; skeleton would take 1\.4/,
    )
  })
  test('without a coral it is coralline, and in a young system it may be', () => {
    const water = { alkalinity: [12, -0.2], calcium: [450, -1.43] } as const
    expect(users(water, { corals: 0 }).of('skeleton')?.speaks).toBe('against')
    expect(users(water, { corals: 0 }).of('coralline')?.speaks).toBe('for')
    expect(users(water, { months: 17 }).of('coralline')?.speaks).toBe('for')
    expect(users(water, { months: 19 }).of('coralline')?.speaks).toBe('open')
    expect(users({ ...water, calcium: [450, 0] }, { months: 17 }).of('coralline')?.speaks).toBe('against')
  })
  test('nitrate that rises takes its share: three tenths of it name it', () => {
    // 0.2 × 0.3 ÷ 0.0904 = 0.664 mg/L a day.
    expect(users({ alkalinity: [12, -0.2], nitrate: [5, 0.68] }).of('nitrification')?.speaks).toBe('for')
    expect(users({ alkalinity: [12, -0.2], nitrate: [5, 0.64] }).of('nitrification')?.speaks).toBe('against')
    expect(users({ alkalinity: [12, -0.2], nitrate: [5, -0.1] }).of('nitrification')).toMatchObject({
      speaks: 'against',
      words: 'Nitrate does not rise.',
    })
    expect(users({ alkalinity: [12, -0.2] }).of('nitrification')?.speaks).toBe('open')
  })
  test('chalk is feared from pH 8.5, or where both are high', () => {
    expect(users({ alkalinity: [12, -0.2], ph: [8.5, 0] }).of('precipitation')?.speaks).toBe('for')
    expect(users({ alkalinity: [12, -0.2], ph: [8.49, 0] }).of('precipitation')?.speaks).toBe('against')
    expect(users({ alkalinity: [15.3, -0.2], calcium: [482, 0] }).of('precipitation')?.speaks).toBe('for')
    expect(users({ alkalinity: [15.3, -0.2], calcium: [470, 0] }).of('precipitation')?.speaks).toBe('against')
    expect(users({ alkalinity: [14, -0.2], calcium: [482, 0] }).of('precipitation')?.speaks).toBe('against')
    expect(users({ alkalinity: [12, -0.2] }).of('precipitation')?.speaks).toBe('open')
  })
  test('pH that nobody read for a fortnight says nothing of chalk now', () => {
    const water = { alkalinity: [12, -0.2], ph: [8.5, 0] } as const
    expect(users(water, { old: 13 }).of('precipitation')?.speaks).toBe('for')
    expect(users(water, { old: 14 }).of('precipitation')?.speaks).toBe('open')
  })
  test('what the kit scatters is said to be that', () => {
    expect(users({ alkalinity: [8, -0.035] }).of('test')?.speaks).toBe('for')
    expect(users({ alkalinity: [14, -0.3] }).of('test')?.speaks).toBe('against')
  })
})
