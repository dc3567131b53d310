import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import {
  activeEntries,
  addDays,
  agentForms,
  atHourOfDay,
  checkProduct,
  concernsOf,
  courseInputs,
  coursePreview,
  dayOf,
  daysBetween,
  documentsOf,
  estimateCourse,
  gravest,
  groups,
  hazardOf,
  instantOf,
  newCourseBody,
  plan,
  protocolHash,
  protocolLibrary,
  protocolOf,
  recordOf,
  sensitivity,
  species,
  type CourseEstimate,
  type Entry,
  type KeeperRecord,
} from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import { ask, checkDose, type Dosing } from './asked.ts'

const ZONE = 'Europe/Berlin'
const NOW = Date.parse('2026-11-23T18:20:00Z')
const HOUR = 3_600_000
const demo = demoRecord({ seed: 7, anchorMs: NOW, zone: ZONE })

let sequence = 0
const entry = (ms: number, fields: object): Entry =>
  ({
    id: `test-${String(++sequence).padStart(4, '0')}`,
    at: instantOf(ms),
    zone: ZONE,
    recordedAt: instantOf(ms),
    vesselId: 'holding-a',
    courseId: 'copper-holding-a',
    ...fields,
  }) as unknown as Entry
const withEntries = (record: KeeperRecord, ...added: Entry[]) =>
  recordOf(record.settings, documentsOf(record), [...record.entries, ...added])

function look(record: KeeperRecord, nowMs = NOW, gridSize = 20) {
  const active = activeEntries(record.entries)
  const estimates = new Map<string, CourseEstimate>()
  for (const course of record.courses.values()) {
    const found = courseInputs(record, active, course, nowMs, gridSize)
    if (found) estimates.set(course.id, estimateCourse(found.inputs))
  }
  const plans = plan({ record, active, estimates, nowMs })
  return {
    record,
    active,
    estimates,
    nowMs,
    plans,
    copper: plans.find(({ courseId }) => courseId === 'copper-holding-a')!,
  }
}
const shown = look(demo)

/** A course at its very start: everything of the demonstration's course before its first dose. */
function freshCourse(variant = 'ramp-slow', school: 'strict' | 'pause' = 'strict'): KeeperRecord {
  const course = demo.courses.get('copper-holding-a')!
  const started = {
    ...course,
    body: { ...course.body, variant, clockSchool: school, startedAt: instantOf(NOW - 60_000) },
  }
  const documents = documentsOf(demo).map((document) => (document.id === course.id ? started : document))
  return recordOf(
    demo.settings,
    documents,
    demo.entries.filter(({ courseId }) => courseId !== course.id),
  )
}
const gates = (ms: number) =>
  ['media-out', 'no-invertebrates', 'baseline', 'reserve'].map((gate) =>
    entry(ms, { kind: 'gate', gate, passed: true }),
  )

describe('the plan', () => {
  test('is deterministic and idempotent', () => {
    expect(look(demo).plans).toEqual(shown.plans)
  })
  test('does not depend on the order of entries', () => {
    fc.assert(
      fc.property(fc.shuffledSubarray([...demo.entries], { minLength: demo.entries.length }), (shuffled) => {
        const record = recordOf(demo.settings, documentsOf(demo), shuffled)
        const again = plan({ record, active: activeEntries(record.entries), estimates: shown.estimates, nowMs: NOW })
        expect(again).toEqual(shown.plans)
      }),
      { numRuns: 3 },
    )
  })
  test('the demonstration: day 9, holding, with a top-up by chance constraint', () => {
    expect(shown.copper.day).toBe(9)
    expect(shown.copper.progress.phases[shown.copper.progress.current!]!.phase.id).toBe('hold')
    const step = shown.copper.steps.find(({ kind, state }) => kind === 'hold' && state !== 'done')!
    expect(step.dose).toMatchObject({ productId: 'copper-main', unit: 'mL' })
    expect(step.dose!.holdsChance).toBeGreaterThanOrEqual(0.9)
    expect(step.dose!.toMgPerL).toBeLessThanOrEqual(shown.copper.band!.ceilingMgPerL)
    // The test is due too: it stands first, and the step says so.
    expect(step.detail).toMatch(/^Test first/)
    const kinds = shown.copper.steps.filter(({ state }) => state === 'due' || state === 'late').map(({ kind }) => kind)
    expect(kinds.indexOf('test')).toBeLessThan(kinds.indexOf('hold'))
  })
  test('a change in a held level waits until the amount for its new water is known, and undosed water is asked about', () => {
    const changeOf = (estimates: ReadonlyMap<string, CourseEstimate>, nowMs = NOW) =>
      plan({ record: demo, active: activeEntries(demo.entries), estimates, nowMs, aheadDays: 14 })
        .find(({ courseId }) => courseId === 'copper-holding-a')!
        .steps.find(({ kind, state }) => kind === 'change' && state !== 'done')!
    expect(changeOf(new Map())).toMatchObject({ state: 'ahead' })
    const hold = plan({ record: demo, active: activeEntries(demo.entries), estimates: new Map(), nowMs: NOW })
      .find(({ courseId }) => courseId === 'copper-holding-a')!
      .steps.find(({ kind, state }) => kind === 'hold' && state !== 'done')
    // Nothing shown would read as nothing to do.
    expect(hold).toMatchObject({ state: 'waiting', detail: 'The level is being worked out.' })
    // The same after something was written: an amount from before it would be poured.
    const stale = new Map([['copper-holding-a', { ...shown.estimates.get('copper-holding-a')!, stale: true as const }]])
    const after = plan({ record: demo, active: activeEntries(demo.entries), estimates: stale, nowMs: NOW })
      .find(({ courseId }) => courseId === 'copper-holding-a')!
      .steps.find(({ kind, state }) => kind === 'hold' && state !== 'done')!
    expect(after).toMatchObject({ state: 'waiting' })
    expect(after.dose).toBeUndefined()
    const dueMs = changeOf(shown.estimates).dueMs
    const pending = changeOf(new Map(), dueMs)
    expect(pending).toMatchObject({ state: 'waiting', detail: 'The amount for the new water is being worked out.' })
    expect(pending.change).toBeUndefined()
    expect(changeOf(shown.estimates, dueMs)).toMatchObject({ state: 'due' })
    expect(changeOf(shown.estimates, dueMs).change!.makeUp!.amount).toBeGreaterThan(0)
    const undosed = (step?: string) =>
      ask(
        demo,
        {
          kind: 'change',
          vesselId: 'holding-a',
          courseId: 'copper-holding-a',
          text: '30 %',
          ...(step ? { step } : {}),
        },
        NOW,
      ).find(({ rule }) => rule === 'undosed-change')?.level
    expect(undosed()).toBe('ask')
    expect(undosed(pending.key)).toBe('ask')
    // Taking the copper out is what that step is for.
    expect(undosed('copper-holding-a/out-change/0')).toBeUndefined()
    // What the same course pours, and nothing holds, is thinned without a question about it.
    const documents = documentsOf(demo).map((one) =>
      one.register === 'course' && one.id === 'copper-holding-a'
        ? { ...one, body: { ...one.body, products: { ...one.body.products, dewormer: 'wormer' } } }
        : one,
    )
    const wormer = {
      ...demo.products.get('copper-main')!,
      id: 'wormer',
      body: { name: 'Wormer', form: 'praziquantel', strength: { basis: 'powder', mgPerG: 1000 } },
    }
    const poured = recordOf(demo.settings, [...documents, wormer] as typeof documents, [
      ...demo.entries,
      entry(NOW - HOUR, { kind: 'dose', productId: 'wormer', amount: 0.16, unit: 'g', measureStep: 0.01 }),
    ])
    const asked = ask(
      poured,
      { kind: 'change', vesselId: 'holding-a', courseId: 'copper-holding-a', text: '50 %' },
      NOW,
    ).filter(({ rule }) => rule === 'undosed-change')
    expect(asked.map(({ message }) => message.slice(0, 45))).toEqual(['Undosed new water takes Chelated copper, 2–2.'])
  })
  test('a course that has run through is named until it is ended, with what belongs to it', () => {
    const own = shown.plans.find(({ courseId }) => courseId === 'copper-holding-a')!
    const over = (finishedMs: number | null) =>
      concernsOf(
        demo,
        activeEntries(demo.entries),
        [{ ...own, progress: { ...own.progress, finishedMs } }],
        shown.estimates,
        NOW,
      ).filter(({ id }) => id === 'run-through')
    expect(over(null)).toEqual([])
    expect(over(Date.parse('2026-11-22T09:00:00Z'))).toEqual([
      expect.objectContaining({
        title: 'Copper, 30 days in one tank in Holding A has run through since 2026-11-22.',
        detail:
          'End it and note what came of it. What belongs to it comes after: two doses of praziquantel, with the copper out (about 10 days), then 14 days of watching.',
        action: 'see-course',
      }),
    ])
  })
  test('a doubt that no dose can lift asks for the next reading within twelve hours of the last', () => {
    const own = shown.estimates.get('copper-holding-a')!
    const next = (dose: CourseEstimate['dose']) =>
      plan({
        record: demo,
        active: activeEntries(demo.entries),
        estimates: new Map([['copper-holding-a', { ...own, dose, test: null }]]),
        nowMs: NOW,
      })
        .find(({ courseId }) => courseId === 'copper-holding-a')!
        .steps.find(({ kind, state, test }) => kind === 'test' && state !== 'done' && test?.analyte === 'copper')!
    const last = activeEntries(demo.entries).findLast(
      (one) => one.kind === 'reading' && one.analyte === 'copper' && one.vesselId === 'holding-a',
    )!
    const refused = (kind: 'too-uncertain' | 'above-band') =>
      ({ ok: false, error: { kind, message: 'None.', remedies: [], best: null } }) as unknown as CourseEstimate['dose']
    expect(next(refused('too-uncertain')).dueMs).toBe(Date.parse(last.at) + 12 * HOUR)
    expect(next(refused('above-band')).dueMs).toBeGreaterThan(Date.parse(last.at) + 12 * HOUR)
  })
  test('the clock of the demonstration lost its dip, not its past', () => {
    const { clock } = shown.estimates.get('copper-holding-a')!
    expect(clock!.creditedH).toBeGreaterThan(90)
    expect(clock!.resets).toEqual([])
    expect(clock!.intervals.some(({ reason, toH, fromH }) => reason === 'below' && toH - fromH > 24)).toBe(true)
  })
  test('the same dip under the strict school sets the count back to zero', () => {
    const course = demo.courses.get('copper-holding-a')!
    const strict = recordOf(
      demo.settings,
      documentsOf(demo).map((d) =>
        d.id === course.id ? { ...course, body: { ...course.body, clockSchool: 'strict' as const } } : d,
      ),
      demo.entries,
    )
    const { clock } = look(strict).estimates.get('copper-holding-a')!
    expect(clock!.resets.length).toBeGreaterThan(0)
    expect(clock!.creditedH).toBeLessThan(shown.estimates.get('copper-holding-a')!.clock!.creditedH)
  })
  test('undoing an entry gives the plan of the record without it', () => {
    const reading = entry(NOW - HOUR, {
      kind: 'reading',
      analyte: 'copper',
      value: 1.4,
      unit: 'mg/L',
      bound: 'exact',
      instrumentId: 'copper-meter',
    })
    const undone = withEntries(demo, reading, { ...entry(NOW, { kind: 'void', voids: reading.id, reason: 'undo' }) })
    expect(look(undone).plans).toEqual(shown.plans)
  })
  test('a corrected label re-reads history', () => {
    const bottle = demo.products.get('copper-main')!
    const weaker = recordOf(
      demo.settings,
      documentsOf(demo).map((d) =>
        d.id === bottle.id
          ? { ...bottle, body: { ...bottle.body, strength: { basis: 'mg-per-mL' as const, mgPerMl: 9 } } }
          : d,
      ),
      demo.entries,
    )
    const before = shown.estimates.get('copper-holding-a')!.volume.meanL
    expect(look(weaker).estimates.get('copper-holding-a')!.volume.meanL / before).toBeCloseTo(0.92, 1)
  })
})

describe('a course from its first minute', () => {
  const start = freshCourse()
  test('asks its checks first and doses nothing before they are passed', () => {
    const { copper } = look(start)
    expect(copper.steps.filter(({ kind, state }) => kind === 'gate' && state === 'due')).toHaveLength(4)
    expect(copper.steps.some(({ dose }) => dose !== undefined)).toBe(false)
  })
  const checked = withEntries(start, ...gates(NOW - 30_000))
  test('then the first dose of the ramp, by the arithmetic of the handbook', () => {
    const step = look(checked).copper.steps.find(({ kind, state }) => kind === 'ramp' && state === 'due')!
    // 0.75 mg/L × about 66 L ÷ 10 mg/mL, rounded to 0.2 mL.
    expect(step.dose!.amount).toBeCloseTo(5, 5)
    expect(step.dose!.toMgPerL).toBeCloseTo(0.75, 1)
    expect(step.title).toMatch(/0.75 mg\/L, step 1 of 4/)
  })
  const dosed = withEntries(
    checked,
    entry(NOW - 20_000, { kind: 'dose', productId: 'copper-main', amount: 5, unit: 'mL' }),
  )
  test('waits for the reading that confirms it', () => {
    const later = NOW + 24 * HOUR
    const { copper } = look(dosed, later)
    expect(copper.steps.find(({ kind, state }) => kind === 'ramp' && state === 'waiting')?.detail).toMatch(
      /Waits for a reading/,
    )
    expect(copper.steps.find(({ kind, test: t }) => kind === 'test' && t?.analyte === 'copper')?.state).toMatch(
      /due|late/,
    )
  })
  const confirmed = (value: number) =>
    withEntries(
      dosed,
      entry(NOW + 23 * HOUR, {
        kind: 'reading',
        analyte: 'copper',
        value,
        unit: 'mg/L',
        bound: 'exact',
        instrumentId: 'copper-meter',
      }),
    )
  test('and for a meal before the second step', () => {
    expect(
      look(confirmed(0.76), NOW + 25 * HOUR).copper.steps.find(
        ({ kind, state }) => kind === 'ramp' && state === 'waiting',
      )?.detail,
    ).toMatch(/Waits for a meal/)
    expect(look(confirmed(0.76), NOW + 25 * HOUR).copper.steps.some(({ dose }) => dose !== undefined)).toBe(false)
    const fed = withEntries(confirmed(0.76), entry(NOW + 20 * HOUR, { kind: 'meal', took: 'took' }))
    const step = look(fed, NOW + 25 * HOUR).copper.steps.find(
      ({ kind, dose }) => kind === 'ramp' && dose !== undefined,
    )!
    expect(step.title).toMatch(/1.25 mg\/L, step 2 of 4/)
  })
  test('a reading short of the level asks for the same level again, not for the next', () => {
    const fed = withEntries(confirmed(0.6), entry(NOW + 20 * HOUR, { kind: 'meal', took: 'took' }))
    const { copper } = look(fed, NOW + 25 * HOUR)
    expect(copper.progress.ramp!.confirmed).toBe(0)
    expect(copper.steps.find(({ kind, dose }) => kind === 'ramp' && dose !== undefined)!.title).toMatch(
      /0.75 mg\/L, step 1/,
    )
  })
  test('two signs of intolerance within a day abort', () => {
    const sick = withEntries(
      dosed,
      entry(NOW + HOUR, { kind: 'sign', sign: 'intolerance-darkens', present: true }),
      entry(NOW + 2 * HOUR, { kind: 'sign', sign: 'intolerance-tilts', present: true }),
    )
    const seen = look(sick, NOW + 3 * HOUR)
    expect(seen.copper.progress.aborts).toMatchObject([{ id: 'ramp-abort' }])
    expect(concernsOf(seen.record, seen.active, seen.plans, seen.estimates, seen.nowMs)[0]).toMatchObject({
      tone: 'danger',
    })
  })
  test.each(protocolOf('copper-in-place-30')!.variants.map(({ id }) => id))(
    'variant %s previews a ramp that ends in its band',
    (variant) => {
      const protocol = protocolOf('copper-in-place-30')!
      const level = protocol.productRoles!.flatMap(({ forms }) => forms)
      for (const form of agentForms.filter(({ id }) => level.includes(id))) {
        const preview = coursePreview({
          protocol,
          variant: protocol.variants.find(({ id }) => id === variant)!,
          form,
          volumeL: 66.5,
          content: { mg: 5, per: 'mL', working: {} as never },
          measures: [{ capacity: 60, step: 0.01 }],
        })
        expect(preview.doses.at(-1)!.toMgPerL).toBeGreaterThanOrEqual(form.band.min * 0.99)
        expect(preview.doses.at(-1)!.toMgPerL).toBeLessThanOrEqual(form.band.max)
        expect(preview.leastDays).toBe(36)
      }
    },
  )
})

test('an animal that breathes over its alarm is told first, and no longer when it is calm or a day has gone', () => {
  const told = (record: KeeperRecord, nowMs = NOW) =>
    concernsOf(record, activeEntries(record.entries), [], new Map(), nowMs).filter(({ id }) =>
      id.startsWith('breathing'),
    )
  expect(told(demo)).toEqual([expect.objectContaining({ residentId: 'gramma', vesselId: 'holding-b', tone: 'danger' })])
  expect(told(demo)[0]!.detail).toMatch(/^156 a minute in Holding B/)
  const beats = (ms: number, count: number) =>
    entry(ms, { kind: 'count', what: 'gill-beats', vesselId: 'holding-b', residentId: 'gramma', count })
  expect(told(withEntries(demo, beats(NOW - 60_000, 92)))).toEqual([])
  expect(told(demo, NOW + 25 * HOUR)).toEqual([])
})

describe('fallow as data alone', () => {
  test('counts while no fish is in, and starts again when one goes in', () => {
    // Without estimates: months of an abandoned copper course beside it would be reckoned for nothing.
    const fallow = (record: KeeperRecord, nowMs: number) =>
      plan({ record, active: activeEntries(record.entries), estimates: new Map(), nowMs }).find(
        ({ courseId }) => courseId === 'fallow-longshore',
      )!
    const end = NOW + 65 * 24 * HOUR
    expect(fallow(demo, end).progress.finishedMs).not.toBeNull()
    const broken = withEntries(
      demo,
      entry(NOW + HOUR, { kind: 'move', vesselId: 'holding-b', residentId: 'gramma', toVesselId: 'longshore' }),
      entry(NOW + 25 * HOUR, { kind: 'move', vesselId: 'longshore', residentId: 'gramma', toVesselId: 'holding-b' }),
    )
    expect(fallow(broken, end).progress.finishedMs).toBeNull()
    expect(fallow(broken, NOW + (25 + 76 * 24 + 1) * HOUR).progress.finishedMs).not.toBeNull()
  })
})

describe('interlocks', () => {
  const base = {
    record: demo,
    vesselId: 'holding-a',
    productId: 'copper-main',
    amount: 1,
    atMs: NOW,
    nowMs: NOW,
    levelMgPerL: 2.05,
  }
  const rules = (more: Partial<Dosing>) => checkDose({ ...base, ...more })
  test('a sound dose meets nothing graver than advice', () => expect(gravest(rules({}))).toBeNull())
  test.each([
    ['over the hard maximum', { amount: 9 }, 'safe-ceiling', 'block'],
    ['at the low end of the volume', { amount: 4.9 }, 'safe-ceiling', 'block'],
    ['shrimps in the water', { vesselId: 'longshore', levelMgPerL: 0 }, 'cu-invertebrates', 'forbid'],
    ['an unconfirmed bottle', { productId: 'copper-drawer' }, 'cu-band-of-the-bottle', 'forbid'],
    ['another form in the same water', { productId: 'copper-drawer' }, 'cx-cu-cu', 'forbid'],
    ['fresh water', { vesselId: 'fernwater', levelMgPerL: 0 }, 'water', 'block'],
    ['the future', { atMs: NOW + HOUR }, 'time-future', 'forbid'],
    ['nothing poured', { amount: 0 }, 'problem', 'forbid'],
    ['an unknown bottle', { productId: 'none' }, 'problem', 'forbid'],
  ])('%s', (_name, more, rule, level) => expect(rules(more)).toContainEqual(expect.objectContaining({ rule, level })))
  test('carbon still in blocks; two doses a minute apart are asked about', () => {
    const withCarbon = withEntries(demo, entry(NOW - HOUR, { kind: 'equipment', item: 'carbon', on: true }))
    expect(checkDose({ ...base, record: withCarbon })).toContainEqual(
      expect.objectContaining({ rule: 'cx-cu-carbon', level: 'block' }),
    )
    const twice = withEntries(
      demo,
      entry(NOW - 60_000, { kind: 'dose', productId: 'copper-main', amount: 1, unit: 'mL' }),
    )
    expect(checkDose({ ...base, record: twice })).toContainEqual(
      expect.objectContaining({ rule: 'too-soon', level: 'ask' }),
    )
  })
  test('a volume never confirmed blocks every dose', () => {
    const vessel = demo.vessels.get('holding-a')!
    const { volumeConfirmedAt: _gone, ...body } = vessel.body
    const record = recordOf(
      demo.settings,
      documentsOf(demo).map((d) => (d.id === vessel.id ? { ...vessel, body } : d)),
      demo.entries,
    )
    expect(checkDose({ ...base, record })).toContainEqual(
      expect.objectContaining({ rule: 'volume-unconfirmed', level: 'block' }),
    )
  })
  test('a bottle past its date is blocked, one whose label belongs to another form refused', () => {
    const { body } = demo.products.get('copper-main')!
    expect(checkProduct({ ...body, expiresOn: '2020-01-01' }, NOW, ZONE)).toMatchObject([{ level: 'block' }])
    expect(checkProduct({ ...body, labelBand: { minMgPerL: 0.5, maxMgPerL: 0.5 } }, NOW, ZONE)).toMatchObject([
      { rule: 'cu-band-of-the-bottle', level: 'forbid' },
    ])
  })
  test('a reading: wrong kit, before the vessel, far off', () => {
    const check = (more: { text?: string; instrumentId?: string }) =>
      ask(
        demo,
        {
          kind: 'reading',
          vesselId: 'holding-a',
          analyte: 'copper',
          text: '2.1',
          instrumentId: 'copper-meter',
          ...more,
        },
        NOW,
        [
          {
            vesselId: 'holding-a',
            agent: 'copper',
            atMs: NOW,
            mgPerL: 2.06,
            lowMgPerL: 2,
            highMgPerL: 2.12,
            volume: { litres: 66, sdLitres: 2 },
          },
        ],
      )
    expect(check({})).toEqual([])
    expect(check({ instrumentId: 'ammonia-drops' })).toContainEqual(
      expect.objectContaining({ rule: 'instrument', level: 'forbid' }),
    )
    expect(check({ text: '19.8' })).toContainEqual(
      expect.objectContaining({ rule: 'far-off', message: expect.stringMatching(/Did you mean 1.98/) }),
    )
    expect(check({ text: '3' })).toContainEqual(expect.objectContaining({ rule: 'over-hard-max' }))
    const at = (atMs: number) => ask(demo, { kind: 'equipment', vesselId: 'tub', item: 'carbon', on: false, atMs }, NOW)
    expect(at(NOW - 400 * 24 * HOUR)).toMatchObject([{ rule: 'time-before-vessel' }])
    expect(at(NaN)).toMatchObject([{ rule: 'time' }])
  })
  test('a course start names all that is missing', () => {
    const protocol = protocolOf('copper-in-place-30')!
    const start = ask(
      demo,
      {
        kind: 'course',
        id: 'new-one',
        vesselId: 'tub',
        instrumentId: null,
        body: newCourseBody({
          protocol,
          vesselId: 'tub',
          startMs: NOW,
          zone: ZONE,
          residents: [],
          products: { [protocol.productRoles[0]!.id]: 'copper-drawer' },
        }),
      },
      NOW,
    )
    expect(start.map(({ rule }) => rule)).toEqual(
      expect.arrayContaining(['no-residents', 'cu-band-of-the-bottle', 'cu-invertebrates', 'no-kit']),
    )
    expect(gravest(start)).toBe('forbid')
  })
  test('an unknown fish counts as the most sensitive of its water', () => {
    const form = agentForms.find(({ id }) => id === 'copper-chelated-high')!
    expect(sensitivity(form, 'hg-clown-damsel', 'marine')).toBe('O')
    expect(sensitivity(form, 'hg-goby-blenny', 'marine')).toBe('C')
    expect(sensitivity(form, 'hg-fish-unknown', 'marine')).toBe('X')
    expect(sensitivity(form, 'nobody-knows', 'marine')).toBe('X')
  })
})

describe('knowledge', () => {
  test('no plan aims above its band, and every form has hazards and sources', () => {
    for (const form of agentForms) {
      expect(form.band.min).toBeLessThan(form.band.max)
      expect(form.target).toBeLessThanOrEqual(form.band.max)
      expect(form.band.max).toBeLessThanOrEqual(form.hardMax)
      for (const id of form.hazards) expect(hazardOf(id)?.firstAid.length).toBeGreaterThan(0)
      expect(form.sources.length).toBeGreaterThan(0)
    }
    for (const protocol of protocolLibrary) {
      for (const variant of protocol.variants) {
        for (const [id, levels] of Object.entries(variant.levels ?? {})) {
          const form = agentForms.find((candidate) => candidate.id === id)!
          expect([...levels].sort((a, b) => a - b)).toEqual(levels)
          expect(levels.at(-1)!).toBeLessThanOrEqual(form.band.max)
          expect(levels.at(-1)!).toBeGreaterThanOrEqual(form.band.min)
          expect(variant.holdBand?.[id]?.max ?? 0).toBeLessThanOrEqual(form.band.max)
        }
      }
      expect(protocolHash(protocol)).toBe(protocolHash(structuredClone(protocol)))
      expect(protocolHash({ ...protocol, title: 'x' })).not.toBe(protocolHash(protocol))
    }
  })
  test('every species belongs to a group that exists', () => {
    for (const { group } of species) expect(groups.map(({ id }) => id)).toContain(group)
  })
})

describe('time', () => {
  test('days belong to the zone, also across both summer-time changes', () => {
    for (const [from, hours] of [
      ['2026-03-28', 23],
      ['2026-10-24', 25],
    ] as const) {
      const a = atHourOfDay(addDays(from, 1), 0, ZONE)
      const b = atHourOfDay(addDays(from, 2), 0, ZONE)
      expect((b - a) / HOUR).toBe(hours)
      expect(daysBetween(a, b, ZONE)).toBe(1)
      expect(dayOf(b - 1, ZONE)).toBe(addDays(from, 1))
    }
  })
  test('an elapsed limit does not move with summer time', () => {
    const start = Date.parse('2026-03-28T18:00:00Z')
    expect(start + 36 * HOUR).toBe(Date.parse('2026-03-30T06:00:00Z'))
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 364 }), fc.integer({ min: 0, max: 23 }), (day, hour) => {
        const date = addDays('2026-01-01', day)
        const ms = atHourOfDay(date, hour, ZONE)
        expect(dayOf(ms, ZONE)).toBe(date)
      }),
    )
  })
})
