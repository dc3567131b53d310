// Act cases, and one check that their records are what the format says.
import { readFileSync } from 'node:fs'
import { describe, expect, test } from '@jest/globals'
import { vesselVolume } from '../src/index.ts'
import { recordOfCase, runCase, type ActCase } from './acts/runActs.ts'

const file = JSON.parse(readFileSync(new URL('./acts/cases.json', import.meta.url), 'utf8')) as { cases: ActCase[] }

describe('what must be told before it is done', () => {
  test.each(file.cases.map((one) => [one.id, one.title, one] as const))('%s %s', (_id, _title, one) => {
    const outcome = runCase(one)
    expect(outcome.passed ? '' : outcome.words).toBe('')
  })

  test('a vessel of a case holds its litres; measured ever so well it is never known better than to three per cent', () => {
    const record = recordOfCase(file.cases[0]!)
    const volume = vesselVolume(record.vessels.get('q')!)!
    expect(volume.litres).toBeCloseTo(100, 6)
    expect(volume.sdLitres).toBeCloseTo(3, 6)
  })

  test('an unknown id fails and is named', () => {
    const one = structuredClone(file.cases[0]!) as unknown as { record: { bottles: { form: string }[] } }
    one.record.bottles[0]!.form = 'no-such-form'
    const outcome = runCase(one as unknown as ActCase)
    expect(outcome.passed).toBe(false)
    expect(outcome.words).toContain('unknown form no-such-form')
  })
})
