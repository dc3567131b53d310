import { describe, expect, test } from '@jest/globals'
import { defaultSettings, recordOf, type CoursePlan, type Step } from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import {
  betweenDays,
  countWord,
  dayText,
  dueText,
  levelText,
  temperatureText,
  litresText,
  localInput,
  longDayText,
  partOfDay,
  percentText,
  plural,
  preferencesOf,
  timeText,
  volumeText,
  weekdayText,
  whenText,
} from '../src/design/words.ts'
import { prepareDemo, repositoryOf, storedMode, storeMode } from '../src/data/database.ts'
import { shelfState } from '../src/shell/Shelf.tsx'
import { entryWords } from '../src/parts/entryWords.ts'

const NOW = Date.parse('2026-11-23T18:20:00Z')
const HOUR = 3_600_000
const settings = defaultSettings('Europe/Berlin')

describe('time in words', () => {
  test.each([
    [NOW, 'today 19:20'],
    [NOW - 24 * HOUR, 'yesterday 19:20'],
    [NOW + 24 * HOUR, 'tomorrow 19:20'],
    [NOW - 5 * 24 * HOUR, 'Wed, 18 Nov 19:20'],
    [Date.parse('2026-11-22T23:30:00Z'), 'today 00:30'],
  ])('%p is %s', (ms, text) => expect(whenText(ms, NOW, settings).replace('Wed 18', 'Wed, 18')).toBe(text))
  test('a zone has its own day', () => {
    expect(whenText(Date.parse('2026-11-22T23:30:00Z'), NOW, { ...settings, zone: 'America/New_York' })).toMatch(
      /^yesterday/,
    )
    expect(timeText(NOW, { ...settings, zone: 'Asia/Tokyo' })).toBe('03:20')
  })
  test.each([
    [3, 'night'],
    [8, 'morning'],
    [14, 'afternoon'],
    [20, 'evening'],
  ])("%p o'clock is %s", (hour, word) =>
    expect(
      partOfDay(Date.parse(`2026-11-23T${String(hour).padStart(2, '0')}:00:00Z`), { ...settings, zone: 'UTC' }),
    ).toBe(word),
  )
  test('late and ahead', () => {
    expect(dueText(NOW - 2 * HOUR, NOW)).toBe('2 h late')
    expect(dueText(NOW + HOUR / 2, NOW)).toBe('in 30 min')
  })
  test('days, weekdays and the value of a time field', () => {
    expect(weekdayText(NOW, settings)).toBe('Monday')
    expect(dayText(NOW, settings)).toMatch(/Mon,? 23 Nov/)
    expect(longDayText(NOW, settings)).toBe('23 November 2026')
    expect(localInput(NOW, 'Europe/Berlin')).toBe('2026-11-23T19:20')
    expect(longDayText(NOW, { ...settings, locale: 'de-DE' })).toBe('23 November 2026')
  })
})

describe('numbers in words', () => {
  test.each([
    [1, 'one stop'],
    [2, 'two stops'],
    [13, '13 stops'],
    [0, 'no stops'],
  ])('%p', (count, text) => expect(plural(count, 'stop')).toBe(text))
  test('levels, shares and volumes', () => {
    expect(countWord(12)).toBe('twelve')
    expect(levelText(2.049)).toBe('2.05')
    expect(levelText(0.05)).toBe('0.05')
    // No zero behind: 2.50 is read as 250 by tired eyes.
    expect(temperatureText(25, { ...defaultSettings('Europe/Berlin', 'en-GB'), temperature: '°F' })).toBe('77.0 °F')
    expect(temperatureText(25.44, defaultSettings('Europe/Berlin', 'en-GB'))).toBe('25.4 °C')
    expect(levelText(2.5)).toBe('2.5')
    expect(levelText(75)).toBe('75')
    expect(levelText(0.0153)).toBe('0.015')
    expect(percentText(0.37)).toBe('37 %')
    expect(percentText(0.9999)).toBe('> 99 %')
    expect(percentText(1)).toBe('100 %')
    expect(percentText(0.001)).toBe('< 1 %')
    expect(litresText(66.5, settings)).toBe('67 L')
    expect(volumeText({ litres: 66.5, sdLitres: 2 }, settings)).toBe('67 ± 2 L')
    expect(volumeText({ litres: 8.2, sdLitres: 0.31 }, settings)).toBe('8.2 ± 0.3 L')
    expect(volumeText({ litres: 66.5, sdLitres: 2 }, { ...settings, volume: 'US gal' })).toBe('17.6 ± 0.5 US gal')
    expect(preferencesOf({ ...settings, temperature: '°F' }).temperature).toBe('°F')
  })
})

describe('the shelf', () => {
  const step = (more: Partial<Step>): Step => ({
    key: 'k',
    courseId: 'c',
    vesselId: 'v',
    ruleId: 'r',
    kind: 'test',
    title: 't',
    detail: '',
    state: 'due',
    dueMs: NOW - HOUR,
    fromMs: NOW,
    untilMs: NOW,
    ...more,
  })
  const plan = (...steps: Step[]) => [
    { steps, day: 9, leastDays: 36, progress: { finishedMs: null } } as unknown as CoursePlan,
  ]
  const done = (leastDays: number, finishedMs: number | null) =>
    ({ steps: [], day: 0, leastDays, progress: { finishedMs } }) as unknown as CoursePlan
  test.each([
    [plan(step({ state: 'late', kind: 'hold' }), step({ state: 'due', kind: 'test' })), 'dose 1 h late', 'late'],
    [plan(step({ kind: 'test' })), 'test due', 'due'],
    [plan(step({ kind: 'gate' })), 'check due', 'due'],
    [plan(step({ kind: 'feed' })), 'day 9 of 36', 'calm'],
    [plan(), 'day 9 of 36', 'calm'],
    [[], 'no course', 'calm'],
    // One step that brings it there; a course that is over; and beside that one the one that runs.
    [[done(0, null)], 'for today', 'calm'],
    [[done(0, NOW)], 'run through', 'calm'],
    [[done(4, NOW), ...plan()], 'day 9 of 36', 'calm'],
  ])('says one thing about a vessel', (plans, text, tone) => expect(shelfState(plans, NOW)).toEqual({ text, tone }))
  test('danger before anything that is due', () =>
    expect(shelfState(plan(step({ state: 'late', kind: 'hold' })), NOW, 1, true)).toEqual({
      text: 'act now',
      tone: 'danger',
    }))
})

describe('two days', () => {
  test.each([
    ['21 December 2026', '23 December 2026', 'between 21 and 23 December 2026'],
    ['26 December 2026', '2 January 2027', 'between 26 December 2026 and 2 January 2027'],
    ['28 November 2026', '3 December 2026', 'between 28 November and 3 December 2026'],
    ['5 May 2026', '5 May 2027', 'between 5 May 2026 and 5 May 2027'],
  ])('%s and %s', (first, last, told) => expect(betweenDays(first, last)).toBe(told))
})

describe('entries in words', () => {
  const demo = demoRecord({ seed: 7, anchorMs: NOW, zone: 'Europe/Berlin' })
  test('every entry of the demonstration has words, none says undefined', () => {
    for (const entry of demo.entries) {
      const words = entryWords(entry, demo)
      expect(words.length).toBeGreaterThan(3)
      expect(words).not.toMatch(/undefined|null|NaN|\[object/)
    }
  })
  test.each([
    [{ kind: 'reading', analyte: 'copper', value: 0.02, unit: 'mg/L', bound: 'below' }, 'Copper < 0.02 mg/L'],
    [{ kind: 'change', removedL: 17 }, 'Water change 17 L'],
    [
      { kind: 'change', fraction: 0.25, replacement: [{ productId: 'copper-main', mgPerL: 2.2 }] },
      'Water change 25 %, new water at 2.2 mg/L',
    ],
    [{ kind: 'move', residentId: 'gramma', toVesselId: null }, 'Royal gramma moved to somewhere off the shelf'],
    [{ kind: 'sign', sign: 'dust-fine', present: false }, 'Looked for, not seen: fine dust'],
    [{ kind: 'topoff', addedL: 2 }, 'Topped up 2 L'],
    [{ kind: 'count', what: 'gill beats', count: 80, residentId: 'gramma' }, 'Count of gill beats: 80, Royal gramma'],
    [{ kind: 'gate', gate: 'media-out', passed: false }, 'Check media out: no'],
    [{ kind: 'skip', reason: 'away' }, 'Left out: away'],
    [
      { kind: 'override', rule: 'safe-ceiling', words: 'spilled' },
      'Done against a warning, in the keeper’s words: “spilled”',
    ],
    [{ kind: 'bath', courseId: 'tufts-fernwater', rule: 'spot', act: 'start' }, 'Pumps off'],
    [
      { kind: 'bath', courseId: 'tufts-fernwater', rule: 'spot', act: 'end', minutes: 20 },
      'Pumps on again after 20 min',
    ],
    [{ kind: 'bath', courseId: 'anemones-spring', rule: 'rock-in-air', act: 'start' }, 'Out of the water'],
    [
      { kind: 'bath', courseId: 'slugs-tub', rule: 'round', act: 'abort', reason: 'gasps' },
      'Dip begun, broken off: gasps',
    ],
    [{ kind: 'bath', rule: 'x', act: 'end', minutes: 30 }, 'Bath ended after 30 min'],
    [
      {
        kind: 'tally',
        courseId: 'tufts-fernwater',
        measure: 'patch-score',
        piece: 'fern',
        arm: 'control',
        values: { score: 0 },
      },
      expect.stringMatching(/, fern \(left alone\): /),
    ],
  ])('%j', (entry, text) => expect(entryWords(entry as never, demo)).toEqual(text))
  test.each([
    [{ kind: 'reading', analyte: 'temperature', value: 25.5555, unit: '°C', bound: 'exact' }, 'Temperature 78 °F'],
    [{ kind: 'topoff', addedL: 7.570823568 }, 'Topped up 2 US gal'],
    [
      { kind: 'container', act: 'measured', containerId: 'x', arrivalId: 'x', tempC: 20 },
      'A container: temperature 68 °F',
    ],
  ])('in the keeper’s units: %j', (entry, text) => {
    const settings = { ...demo.settings, temperature: '°F', volume: 'US gal' }
    expect(entryWords(entry as never, { ...demo, settings } as never)).toBe(text)
  })
})

describe("the demonstration's database", () => {
  const repository = repositoryOf('demo')
  test('is made anew each day while untouched, and left alone once touched', async () => {
    await prepareDemo(repository, NOW)
    const first = await repository.load()
    expect(first.vessels.size).toBe(6)
    await prepareDemo(repository, NOW + 26 * HOUR)
    const next = await repository.load()
    expect(next.entries.at(-1)!.at > first.entries.at(-1)!.at).toBe(true)
    await repository.setFact('touched', 'yes')
    await repository.commit(() => ({
      ok: true,
      value: { actId: 'mine', documents: [], entries: [{ ...next.entries[0]!, id: 'mine' }], said: '', already: false },
    }))
    await prepareDemo(repository, NOW + 80 * HOUR)
    expect((await repository.load()).entries.some(({ id }) => id === 'mine')).toBe(true)
  })
  test("never mixes with the keeper's own", async () => {
    await repositoryOf('keeper').replaceAll(recordOf(settings, [], []))
    await prepareDemo(repository, NOW)
    expect((await repositoryOf('keeper').load()).vessels.size).toBe(0)
  })
  test('the mode is remembered', () => {
    storeMode('demo')
    expect(storedMode()).toBe('demo')
    storeMode('keeper')
    expect(storedMode()).toBe('keeper')
  })
})
