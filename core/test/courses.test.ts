// Every shipped protocol, followed to its end by a keeper who is late, forgets and skips; and the schools side by side.
import { describe, expect, test } from '@jest/globals'
import {
  activeContent,
  actContext,
  answer,
  spoken,
  activeEntries,
  agentForm,
  agentForms,
  compareSchools,
  fearedIn,
  documentsOf,
  planCourse,
  protocolLibrary,
  protocolOf,
  randomFrom,
  recordOf,
  vesselVolume,
  type CourseDocument,
  type Entry,
  type KeeperRecord,
  type ProductDocument,
  type Protocol,
  type RegisterDocument,
  type Step,
} from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import { courseDocument, entryAt, ZONE as zone } from './entries.ts'

const NOW = Date.parse('2026-03-20T08:20:00Z')
const HOUR = 3_600_000
const DAY = 24 * HOUR
const demo = demoRecord({ seed: 7, anchorMs: NOW, zone })
const BOTTLES: Readonly<Record<string, ProductDocument['body']['strength']>> = {
  praziquantel: { basis: 'w/v', percent: 5 },
  fenbendazole: { basis: 'w/v', percent: 10 },
  levamisole: { basis: 'mg-per-mL', mgPerMl: 10 },
  chloroquine: { basis: 'mg-per-mL', mgPerMl: 10 },
  'peroxide-bath': { basis: 'w/v', percent: 3 },
  'methylene-blue-bath': { basis: 'w/v', percent: 1 },
  'methylene-blue-tank': { basis: 'w/v', percent: 1 },
  'formalin-bath': { basis: 'w/w', percent: 37, densityGPerMl: 1.09 },
  'formalin-tank': { basis: 'w/w', percent: 37, densityGPerMl: 1.09 },
  'metronidazole-tank': { basis: 'powder', mgPerG: 1000 },
  'metronidazole-food': { basis: 'per-tablet', mgPerTablet: 250 },
  'praziquantel-food': { basis: 'powder', mgPerG: 1000 },
  'fenbendazole-food': { basis: 'powder', mgPerG: 222 },
  'florfenicol-food': { basis: 'powder', mgPerG: 1000 },
  'oxytetracycline-food': { basis: 'powder', mgPerG: 1000 },
  'nitrofurazone-tank': { basis: 'powder', mgPerG: 1000 },
  'nitrofurazone-short': { basis: 'powder', mgPerG: 1000 },
  'kanamycin-tank': { basis: 'powder', mgPerG: 1000 },
  'kanamycin-bath': { basis: 'powder', mgPerG: 1000 },
  'salt-tank': { basis: 'powder', mgPerG: 1000 },
  'salt-dip': { basis: 'powder', mgPerG: 1000 },
  'peroxide-spot-marine': { basis: 'w/v', percent: 3 },
  'peroxide-spot-fresh': { basis: 'w/v', percent: 3 },
  'fenbendazole-shrimp': { basis: 'w/v', percent: 10 },
  'coral-iodine': { basis: 'mg-per-mL', mgPerMl: 50 },
  'coral-povidone': { basis: 'mg-per-mL', mgPerMl: 10 },
  'coral-peroxide': { basis: 'w/v', percent: 3 },
  'coral-peroxide-strong': { basis: 'w/v', percent: 3 },
  'malachite-green': { basis: 'mg-per-mL', mgPerMl: 1 },
  'acriflavine-bath': { basis: 'mg-per-mL', mgPerMl: 5 },
  'coral-potassium': { basis: 'powder', mgPerG: 1000 },
}
const bottle = (form: string): ProductDocument => ({
  register: 'product',
  id: `bottle-${form}`,
  revision: 1,
  savedAt: '2026-01-01T00:00:00.000Z',
  history: [],
  body: { name: form, form, strength: BOTTLES[form]!, confirmedAt: '2026-01-01T00:00:00.000Z' },
})
const bottles = Object.keys(BOTTLES).map(bottle)

function started(protocol: Protocol, startMs: number, vesselId = 'holding-b'): CourseDocument {
  return courseDocument('the-course', {
    protocol,
    vesselId,
    startMs,
    zone,
    residents: ['gramma'],
    dailyHour: 19,
    // What has no preset the keeper types: the lowest that is allowed.
    parameters: Object.fromEntries(
      (protocol.parameters ?? []).flatMap(({ id, min, default: usual }) => (usual === undefined ? [[id, min]] : [])),
    ),
    products: Object.fromEntries(protocol.productRoles.map(({ id, forms }) => [id, `bottle-${forms[0]}`])),
    vessels: Object.fromEntries((protocol.vesselRoles ?? []).map(({ id }) => [id, 'tub'])),
  })
}
const base = documentsOf(demo).filter(({ register }) => register !== 'course')
const recordWith = (course: CourseDocument, entries: readonly Entry[]): KeeperRecord =>
  recordOf(
    LAWFUL,
    [...base.filter(({ register }) => register !== 'product').map((one) => fitted(one, course)), ...bottles, course],
    entries,
  )
const LAWFUL = {
  ...demo.settings,
  law: { country: 'Here', answers: Object.fromEntries(agentForms.map(({ agent }) => [agent, 'lawful' as const])) },
}
/** The vessel and its fish as the protocol wants its water. */
function fitted(document: RegisterDocument, course: CourseDocument): RegisterDocument {
  const { id, water } = course.body.protocol as unknown as Protocol
  // Corals are taken in without a fish among them: with one nothing counts.
  if (id.startsWith('coral-intake') && document.register === 'resident' && document.body.vesselId === 'holding-b')
    return { ...document, body: { ...document.body, vesselId: 'longshore' } }
  if (water !== 'fresh') return document
  if (document.register === 'vessel' && document.id === 'holding-b')
    return { ...document, body: { ...document.body, water: 'fresh' } }
  if (document.register === 'resident' && document.body.vesselId === 'holding-b') {
    const { scientificName: _, ...body } = document.body
    return { ...document, body: { ...body, group: 'hg-labyrinth' } }
  }
  return document
}
const made = (ms: number, fields: object): Entry =>
  entryAt(ms, { vesselId: 'holding-b', courseId: 'the-course', ...fields })
const READS: Readonly<Record<string, number>> = {
  temperature: 27.2,
  salinity: 12,
  'ammonia-total': 0.1,
  alkalinity: 8.4,
  calcium: 425,
  magnesium: 1320,
  potassium: 400,
  nitrate: 10,
}

/** Tallies of a keeper who found nothing, or all well: what fulfils the measure. */
function tallied(protocol: Protocol, measureId: string, ms: number, step: string): Entry[] {
  const measure = protocol.campaign!.measures.find(({ id }) => id === measureId)!
  const best = measure.better === 'more'
  const values = Object.fromEntries(
    measure.fields.map(({ id, max }) => {
      const counts = measure.value.fields.includes(id)
      if (measure.value.of === 'share') return [id, counts === best ? 100 : 0]
      return [id, counts && best ? (max ?? 100) : 0]
    }),
  )
  const pieces = measure.per === 'jar' ? ['dosed', 'undosed'] : [measure.per === undefined ? undefined : 'one']
  return pieces.map((piece, i) =>
    made(ms + i, {
      kind: 'tally',
      measure: measureId,
      // The undosed jar lives.
      values: piece === 'undosed' ? { 'small-alive': 5 } : values,
      ...(piece === undefined ? {} : { piece }),
      ...(measure.arms ? { arm: measure.arms[0]!.id } : {}),
      step,
    }),
  )
}

/** What a keeper writes down who did a step. */
function doing(step: Step, ms: number, protocol: Protocol): Entry[] {
  const carried = { step: step.key }
  switch (step.kind) {
    case 'gate':
      return [made(ms, { kind: 'gate', gate: step.gate, passed: true })]
    case 'bench':
      return [
        made(ms, {
          kind: 'done',
          step: `${step.key}/0`,
          what: 'one',
          bench: { piece: 'one', act: 'stage', stage: 'count', air: 'rock', finds: { mobiles: 0, eggs: 0 } },
        }),
        made(ms + 1, { kind: 'done', ...carried, what: step.title }),
      ]
    case 'test':
      return [
        made(ms, {
          kind: 'reading',
          analyte: step.test!.analyte,
          // Heat is held at 30 °C, and its hours are earned by that.
          value:
            protocol.id === 'heat-salt-10' && step.test!.analyte === 'temperature'
              ? 30
              : (READS[step.test!.analyte] ?? 1),
          unit: 'mg/L',
          bound: 'exact',
        }),
      ]
    case 'change':
      return [made(ms, { kind: 'change', fraction: step.change!.fraction, ...carried })]
    case 'equipment':
      return [made(ms, { kind: 'equipment', item: step.equipment!.item, on: step.equipment!.on })]
    case 'feed':
      return [made(ms, { kind: 'meal', took: 'took', ...carried })]
    case 'check':
      return [made(ms, { kind: 'check', what: step.check!.what, answers: ['fine'], ...carried })]
    case 'dose':
      return step.dose
        ? [
            made(ms, {
              kind: 'dose',
              productId: step.dose.productId,
              amount: step.dose.amount,
              unit: step.dose.unit,
              ...carried,
            }),
          ]
        : []
    case 'bath':
      return [made(ms, { kind: 'bath', act: 'end', rule: step.ruleId, minutes: step.bath!.minutes.usual, ...carried })]
    case 'tally':
      return tallied(protocol, step.tally!.measure, ms, step.key)
    case 'round':
      return tallied(protocol, step.round!.measure, ms, step.key)
    case 'spot':
      return step.spot
        ? [
            made(ms, {
              kind: 'dose',
              productId: step.spot.productId,
              amount: Math.min(step.spot.wishMl, step.spot.mostMl),
              unit: 'mL',
              ...carried,
            }),
          ]
        : []
    case 'transfer':
      return [made(ms, { kind: 'done', what: step.title, ...carried })]
    default:
      return [made(ms, { kind: 'done', what: step.title, ...carried })]
  }
}

/** What may be left of a form in the water by hand: every dose halved by its slowest half-life, every change taken off. */
function leftByHand(entries: readonly Entry[], formId: string, litres: number, atMs: number): number {
  const { agent, halfLifeDays } = agentForm(formId)!
  let level = 0
  let lastMs = NOW
  for (const entry of [...entries].sort((a, b) => (a.at < b.at ? -1 : 1))) {
    const ms = Date.parse(entry.at)
    if (ms > atMs || (entry.kind !== 'dose' && entry.kind !== 'change')) continue
    level *= 0.5 ** ((ms - lastMs) / DAY / halfLifeDays.high)
    lastMs = ms
    if (entry.kind === 'change') level *= 1 - (entry.fraction ?? 0)
    else {
      const { body } = bottles.find(({ id }) => id === entry.productId)!
      if (agentForm(body.form)!.agent !== agent) continue
      const strength = body.strength as { mgPerMl?: number; mgPerG?: number; percent?: number; densityGPerMl?: number }
      const mg = strength.mgPerMl ?? strength.mgPerG ?? strength.percent! * 10 * (strength.densityGPerMl ?? 1)
      level += (entry.amount * mg) / litres
    }
  }
  return level * 0.5 ** ((atMs - lastMs) / DAY / halfLifeDays.high)
}

/** Follows a protocol with a keeper of a seed. Answers how it went; every dose is held against its ceiling. */
function follow(protocol: Protocol, seed: number): { finishedDay: number | null; doses: number; baths: number } {
  const random = randomFrom(seed)
  const course = started(protocol, NOW)
  const entries: Entry[] = []
  let doses = 0
  let baths = 0
  const volume = vesselVolume(demo.vessels.get('holding-b')!)!
  // Looks of a jar and of an emergency lie hours apart; every other campaign is met twice a day.
  const often = protocol.campaign === undefined || ['jar', 'run'].includes(protocol.campaign.kind)
  for (let ms = NOW; ms < NOW + 200 * DAY; ms += (often ? 6 : 12) * HOUR) {
    const record = recordWith(course, entries)
    const active = activeEntries(record.entries)
    const plan = planCourse(course, { record, active, estimates: new Map(), nowMs: ms, aheadDays: 3 })
    if (plan.progress.finishedMs !== null) return { finishedDay: (ms - NOW) / DAY, doses, baths }
    let waitingChange = false
    // The keeper reads the warmth when the screen asks for it, and not otherwise.
    if (plan.steps.some(({ needs }) => needs === 'temperature'))
      entries.push(made(ms, { kind: 'reading', analyte: 'temperature', value: 24.5, unit: '°C', bound: 'exact' }))
    for (const step of plan.steps) {
      if (step.state === 'waiting' && /Change \d+ % of the water first/.test(step.detail)) waitingChange = true
      if (step.state !== 'due' && step.state !== 'late') continue
      const careful = step.kind === 'transfer' || step.kind === 'bath' || step.kind === 'gate'
      if (!careful && random() < 0.35) continue
      if (step.kind === 'observe' && random() < 0.2) {
        entries.push(made(ms, { kind: 'skip', reason: 'away', step: step.key }))
        continue
      }
      const wet = step.bath ?? step.round
      // What waits for a reading is done once the reading stands.
      if (wet && step.needs === 'temperature') continue
      if (wet && step.dose) {
        baths++
        const wetForm = bottles.find(({ id }) => id === step.dose!.productId)!.body.form
        const asked = answer(actContext(recordWith(course, entries), ms), {
          kind: 'bath',
          vesselId: 'holding-b',
          courseId: course.id,
          rule: step.ruleId,
          // A coral dip takes pieces of coral; a bath takes the fish.
          residentIds: step.bath && !wetForm.startsWith('coral-') ? course.body.residents.slice(0, 1) : [],
          litres: wet.litres,
          productId: step.dose.productId,
          amount: `${step.dose.amount} ${step.dose.unit}`,
          minutes: wet.minutes.usual,
        })
        expect([
          protocol.id,
          step.key,
          asked.problem,
          ...asked.refusals.filter(({ level }) => level !== 'warn').map(({ message }) => message),
        ]).toEqual([protocol.id, step.key, null])
      }
      for (const entry of doing(step, ms + 1000 * entries.length, protocol)) {
        if (entry.kind === 'dose') {
          doses++
          const form = agentForm(bottles.find(({ id }) => id === entry.productId)!.body.form)!
          const content = activeContent(bottles.find(({ id }) => id === entry.productId)!.body.strength)
          const mg = content.ok ? content.value.mg * entry.amount : NaN
          const left = leftByHand(entries, form.id, volume.litres, ms)
          expect(left + mg / volume.litres).toBeLessThanOrEqual(form.hardMax * (1 + 1e-6))
          // What the plan offers is never refused.
          const at = Date.parse(entry.at)
          const asked = answer(actContext(recordWith(course, entries), at), {
            kind: 'dose',
            vesselId: 'holding-b',
            productId: entry.productId,
            amounts: [`${entry.amount} ${entry.unit}`],
            step: step.key,
          })
          expect([
            protocol.id,
            step.key,
            ...spoken(asked)
              .filter(({ level }) => level !== 'warn')
              .map(({ message }) => message),
          ]).toEqual([protocol.id, step.key])
          expect(mg / volume.litres).toBeGreaterThan(
            0.6 * Math.min(form.band.min, form.cautionMax ?? Infinity) * (form.agent === 'salt' ? 1 / 3 : 1),
          )
        }
        entries.push(entry)
      }
    }
    if (waitingChange) entries.push(made(ms + 500, { kind: 'change', fraction: 0.8 }))
  }
  return { finishedDay: null, doses, baths }
}

/** Copper has its own tests: its clock needs the estimate of a worker. */
const FOLLOWED = protocolLibrary.filter(
  ({ clock, residents, purpose }) => clock === undefined && residents !== 'none' && purpose !== 'introduction',
)
describe('a keeper who is late, forgets and skips', () => {
  test.each(FOLLOWED.map((protocol) => [protocol.id, protocol] as const))('comes to the end of %s', (_id, protocol) => {
    const { finishedDay, doses, baths } = follow(protocol, 3)
    expect(finishedDay).not.toBeNull()
    // The least days are a floor, but for hours lost to rounding and phases that have no days of their own; a campaign
    // ends by its own stop rule, here with nothing found from the first look on.
    const least = protocol.phases.reduce((sum, { typicalDays }) => sum + typicalDays, 0)
    // What is read where it should be is over with that test.
    const soonest = protocol.campaign?.kind === 'correction' ? 0 : protocol.campaign ? 1 : 0.3 * least - 1
    expect(finishedDay!).toBeGreaterThanOrEqual(soonest)
    const asked = protocol.phases.flatMap(({ rules }) => rules).filter(({ kind }) => kind === 'dose')
    if (asked.length > 0) expect(doses).toBeGreaterThan(0)
    const bathed = protocol.phases
      .flatMap(({ rules }) => rules)
      .some((rule) => (rule.kind === 'bath' || rule.kind === 'round') && rule.role !== undefined)
    if (bathed) expect(baths).toBeGreaterThan(0)
  })
})

/** Steps of a course that began at NOW, without a level estimate. */
function stepsAt(protocol: Protocol, entries: readonly Entry[], nowMs: number): readonly Step[] {
  const course = started(protocol, NOW)
  const record = recordWith(course, entries)
  return planCourse(course, {
    record,
    active: activeEntries(record.entries),
    estimates: new Map(),
    nowMs,
    aheadDays: 20,
  }).steps
}
describe('doses without a level test', () => {
  const protocol = protocolOf('praziquantel-twice')!
  const at = (entries: readonly Entry[], nowMs: number) =>
    stepsAt(protocol, [...off, ...entries], nowMs).filter(({ kind }) => kind === 'dose')
  const off = ['skimmer', 'uv', 'carbon'].map((item) => made(NOW - HOUR, { kind: 'equipment', item, on: false }))
  const temperature = (value: number) =>
    made(NOW - HOUR, { kind: 'reading', analyte: 'temperature', value, unit: '°C', bound: 'exact' })
  test('the first amount is aim times volume over strength, in what the syringe shows', () => {
    const [first] = at([], NOW + HOUR)
    const litres = vesselVolume(demo.vessels.get('holding-b')!)!.litres
    // A gramma needs caution: 2 mg/L and no more, rounded down to what a 5 mL syringe shows.
    expect(first!.dose!.amount).toBeCloseTo(Math.floor((2 * litres) / 50 / 0.2) * 0.2, 9)
    expect(first!.detail).toMatch(/To 1.92 mg\/L in \d+ L/)
  })
  test('the second falls by the temperature of the water, counted from the dose that was really poured', () => {
    const poured = (ms: number) =>
      made(ms, {
        kind: 'dose',
        productId: 'bottle-praziquantel',
        amount: 2.6,
        unit: 'mL',
        step: 'the-course/praziquantel/0',
      })
    const warm = at([temperature(26.5), poured(NOW + 5 * HOUR)], NOW + DAY)
    expect(warm[1]!.dueMs).toBe(NOW + 5 * HOUR + 7 * DAY)
    const cool = at([temperature(21), poured(NOW)], NOW + DAY)
    expect(cool[1]!.dueMs).toBe(NOW + 12 * DAY)
  })
  test('a repeat waits for its water change, and what may be left counts against the ceiling', () => {
    const first = made(NOW, {
      kind: 'dose',
      productId: 'bottle-praziquantel',
      amount: 2.6,
      unit: 'mL',
      step: 'the-course/praziquantel/0',
    })
    const waiting = at([temperature(25), first], NOW + 8 * DAY)[1]!
    expect(waiting).toMatchObject({ state: 'waiting' })
    expect(waiting.detail).toMatch(/Change 50 % of the water first/)
    const change = made(NOW + 3 * DAY, { kind: 'change', fraction: 0.5 })
    const open = at([temperature(25), first, change], NOW + 8 * DAY)[1]!
    expect(open.state).toBe('due')
    expect(open.dose!.amount).toBeGreaterThan(0)
    // Three doses in one day would pass the hard maximum of 5 mg/L.
    const twice = made(NOW + 8 * DAY - HOUR, {
      kind: 'dose',
      productId: 'bottle-praziquantel',
      amount: 4.5,
      unit: 'mL',
    })
    const refused = at([temperature(25), first, change, twice], NOW + 8 * DAY)[1]!
    expect(refused.state).toBe('waiting')
    expect(refused.detail).toMatch(/it would pass 2 mg\/L, the most here/)
  })
})

describe('a stay that lasts too long', () => {
  const protocol = protocolOf('tank-transfer-72')!
  const startMs = Date.parse('2026-03-01T09:00:00Z')
  const course = started(protocol, startMs)
  const gates = ['two-sets', 'water'].map((gate) => made(startMs, { kind: 'gate', gate, passed: true }))
  const moved = (i: number, hours: number) =>
    made(startMs + hours * HOUR, { kind: 'done', what: 'Transfer', step: `the-course/transfer/${i}` })
  const plan = (entries: readonly Entry[], hours: number) => {
    const record = recordWith(course, [...gates, ...entries])
    return planCourse(course, {
      record,
      active: activeEntries(record.entries),
      estimates: new Map(),
      nowMs: startMs + hours * HOUR,
      aheadDays: 20,
    })
  }
  const inStays = (entries: readonly Entry[], hours: number) => plan(entries, hours).progress.current === 1
  test('four moves of at most 76 hours end the stays', () => {
    expect(inStays([moved(0, 72), moved(1, 148), moved(2, 220)], 221)).toBe(true)
    expect(inStays([moved(0, 72), moved(1, 148), moved(2, 220), moved(3, 292)], 293)).toBe(false)
  })
  test('167 hours for 72 begin the count anew: four more moves after it, and the step says so', () => {
    const late = [moved(0, 72), moved(1, 239)]
    const [, second, third] = plan(late, 240).steps.filter(({ kind }) => kind === 'transfer')
    expect(second).toMatchObject({
      title: expect.stringMatching(/after a stay too long/),
      detail: expect.stringMatching(/^167 h in one stay/),
    })
    expect(third!.title).toMatch(/1 of 4/)
    expect(third!.dueMs - startMs).toBe((239 + 72) * HOUR)
    const more = [moved(2, 311), moved(3, 383), moved(4, 455)]
    expect(inStays([...late, ...more], 456)).toBe(true)
    expect(inStays([...late, ...more, moved(5, 527)], 528)).toBe(false)
  })
  test('a stay that still lasts says what the move will do', () => {
    const open = plan([moved(0, 72)], 72 + 80).steps.find(({ state, kind }) => kind === 'transfer' && state === 'late')!
    expect(open.detail).toMatch(/the count begins anew with this move, 4 more after it, 12 days\./)
  })
  test.each([
    // Where the line is, while in time; the risk past the hour; the count past the line. By hand: 72 + 76 = 148.
    [[moved(0, 72)], 100, /After 76 h in one stay the count begins anew and the move so far is lost: 4 more/],
    [[moved(0, 72)], 145, /Late: the first cysts may hatch\. For 3 h more this move still counts/],
    [[], 80, /begins anew with this move, 4 more after it/],
    [[], 10, /After 76 h in one stay the count begins anew: 4 more after it, 12 days\./],
  ])('what a late move costs, by the hour of the stay: %#', (entries, hours, words) => {
    const open = plan(entries, hours).steps.find(
      ({ kind, state }) => kind === 'transfer' && state !== 'done' && state !== 'skipped',
    )!
    expect(open.detail).toMatch(words)
  })
  test('what is asked follows the animal: tests, looks and meals stand for the tub it is in', () => {
    const resident = course.body.residents[0]!
    const vessels = Object.values(course.body.vessels ?? {})
    const there = made(startMs + 72 * HOUR, {
      kind: 'move',
      vesselId: course.body.vesselId,
      residentId: resident,
      toVesselId: vessels[0]!,
      step: 'the-course/transfer/0',
    })
    const asked = plan([there], 73)
      .steps.filter(({ state, kind }) => kind === 'test' && (state === 'due' || state === 'ahead'))
      .map(({ vesselId }) => vesselId)
    expect(asked.length).toBeGreaterThan(0)
    expect(new Set(asked)).toEqual(new Set([vessels[0]]))
  })
})

describe('moves in elapsed hours', () => {
  const protocol = protocolOf('tank-transfer-36')!
  test('36 hours across the start of summer time are 36 hours, and a late move shifts the ones behind it', () => {
    // 29 March 2026 at 02:00 the clocks in Berlin jump an hour.
    const startMs = Date.parse('2026-03-28T09:00:00Z')
    const course = started(protocol, startMs)
    const gates = ['two-sets', 'water'].map((gate) => made(startMs, { kind: 'gate', gate, passed: true }))
    const moves = (entries: readonly Entry[], nowMs: number) => {
      const record = recordWith(course, [...gates, ...entries])
      return planCourse(course, {
        record,
        active: activeEntries(record.entries),
        estimates: new Map(),
        nowMs,
        aheadDays: 12,
      }).steps.filter(({ kind }) => kind === 'transfer')
    }
    const [first, second] = moves([], startMs + HOUR)
    expect(first!.dueMs - startMs).toBe(36 * HOUR)
    expect(first!.title).toMatch(/1 of 6: to Tub/)
    expect(second!.title).toMatch(/to Holding B/)
    const late = made(startMs + 40 * HOUR, { kind: 'done', what: 'Transfer', step: 'the-course/transfer/0' })
    expect(moves([late], startMs + 41 * HOUR)[1]!.dueMs - startMs).toBe(76 * HOUR)
  })
})

describe('schools side by side', () => {
  const compare = (
    vesselId: string,
    residentIds: string[],
    threats: Parameters<typeof compareSchools>[0]['threats'] = [],
    record = demo,
  ) => compareSchools({ record, active: activeEntries(record.entries), vesselId, residentIds, threats, nowMs: NOW })
  test('a marine fish with a second vessel at hand gets the shorter copper course, with days, water and what it misses', () => {
    const tang = new Map(demo.residents)
    const gramma = tang.get('gramma')!
    tang.set('gramma', { ...gramma, body: { ...gramma.body, group: 'hg-tang' } })
    expect(compare('holding-b', ['gramma'], [], { ...demo, residents: tang }).suggested).toBe('copper-14-move')
    // A gramma takes copper badly: the low end, thirty days in place, and four weeks of watching.
    const found = compare('holding-b', ['gramma'])
    expect(found.suggested).toBe('copper-in-place-30')
    expect(found.columns.find(({ protocol }) => protocol.id === 'copper-in-place-30')).toMatchObject({
      variant: { id: 'ramp-low-end' },
      days: 74,
    })
    const column = found.columns.find(({ protocol }) => protocol.id === found.suggested)!
    expect(column.days).toBeGreaterThan(35)
    expect(column.waterL!).toBeGreaterThan(100)
    expect(column.cautions.join()).toMatch(/Royal gramma/)
    expect(found.reasons[0]).toMatch(/white spot, velvet/)
  })
  test('what an open finding speaks for is feared in its vessel, once each, until it is closed', () => {
    const feared = (vesselId: string, record = demo) => fearedIn(record, activeEntries(record.entries), vesselId, NOW)
    const found = feared('holding-b')
    expect(found.map(({ threat }) => threat)).toEqual(expect.arrayContaining(['ich']))
    expect(new Set(found.map(({ threat }) => threat)).size).toBe(found.length)
    expect(found.every(({ findingId, p }) => findingId === 'finding-gramma' && p >= 0.1)).toBe(true)
    expect([...found].sort((a, b) => b.p - a.p)).toEqual(found)
    // The film of the display is nothing a school of quarantine covers.
    expect(feared('longshore')).toEqual([])
    const findings = new Map(demo.findings)
    const gramma = findings.get('finding-gramma')!
    findings.set(gramma.id, { ...gramma, body: { ...gramma.body, endedAt: gramma.body.startedAt } })
    expect(feared('holding-b', { ...demo, findings })).toEqual([])
  })
  test('what is feared moves the suggestion, and no school stands that kills a bystander', () => {
    expect(compare('holding-b', ['gramma'], ['round worms']).suggested).toBe('fenbendazole-food-twice')
    const reef = compare('longshore', ['hammer'])
    expect(reef.columns.every(({ protocol }) => protocol.hosts!.includes('coral'))).toBe(true)
    expect(protocolOf(reef.suggested!)!.purpose).toBe('intake')
    const fish = new Map(demo.residents)
    fish.set('gramma', { ...fish.get('gramma')!, body: { ...fish.get('gramma')!.body, vesselId: 'longshore' } })
    const display = compare('longshore', ['gramma'], [], { ...demo, residents: fish })
    const copper = display.columns.find(({ protocol }) => protocol.id === 'copper-in-place-30')!
    expect(copper.forbidden.join()).toMatch(/Cleaner shrimp|Trochus|Hammer/)
    expect(display.suggested).not.toMatch(/copper/)
  })
  test('fresh water has its own schools, and a missing bottle is named', () => {
    const fresh = compare('fernwater', ['rasboras'])
    expect(fresh.columns.map(({ protocol }) => protocol.water)).not.toContain('marine')
    expect(fresh.columns.find(({ protocol }) => protocol.id === 'fresh-standard')!.needs).toEqual([
      'praziquantel bottle',
      'fenbendazole',
    ])
  })
  test('nothing asked of an empty choice', () => {
    expect(compare('nowhere', [])).toEqual({ columns: [], suggested: null, reasons: [], tips: [] })
  })
})

describe('changes that are asked for so many times', () => {
  const whole = protocolOf('salt-only-14')!
  const protocol: Protocol = { ...whole, phases: whole.phases.filter(({ id }) => id === 'down') }
  const changesAt = (entries: readonly Entry[], nowMs: number) =>
    stepsAt(protocol, entries, nowMs)
      .filter(({ kind }) => kind === 'change')
      .map(({ state }) => state)
  const onDays = (...days: number[]) => days.map((day) => made(NOW + day * DAY, { kind: 'change', fraction: 0.2 }))
  test('as many as are left are to come, none after the last', () => {
    expect(changesAt([], NOW).filter((state) => state !== 'done')).toHaveLength(4)
    expect(changesAt(onDays(0.4), NOW + 0.5 * DAY).filter((state) => state !== 'done')).toHaveLength(3)
    expect(changesAt(onDays(0.4, 1.4, 2.4), NOW + 2.5 * DAY).filter((state) => state !== 'done')).toHaveLength(1)
    expect(changesAt(onDays(0.4, 1.4, 2.4, 3.4), NOW + 3.5 * DAY)).toEqual(['done', 'done', 'done', 'done'])
  })
  test('time alone takes none away: what is left stands, and is late', () => {
    expect(changesAt(onDays(0.4, 1.4), NOW + 5 * DAY)).toEqual(['done', 'done', 'late', 'ahead'])
    expect(changesAt(onDays(0.4, 1.4, 2.4, 5.1), NOW + 6 * DAY)).toEqual(['done', 'done', 'done', 'done'])
  })
})

describe('a held quantity that is read outside its limits', () => {
  const whole = protocolOf('hyposalinity-30')!
  const protocol: Protocol = { ...whole, phases: whole.phases.filter(({ id }) => id === 'hold') }
  const read = (hours: number, value: number) =>
    made(NOW + hours * HOUR, { kind: 'reading', analyte: 'salinity', value, unit: 'PSU', bound: 'exact' })
  const back = (entries: readonly Entry[], hours: number) =>
    stepsAt(protocol, entries, NOW + hours * HOUR).filter(({ ruleId }) => ruleId === 'hold-back')
  const litres = vesselVolume(demo.vessels.get('holding-b')!)!.litres
  test('is brought back: how much water, and the meter first', () => {
    expect(back([read(1, 13)], 2)).toEqual([])
    const [step] = back([read(1, 14)], 2)
    expect(step).toMatchObject({ state: 'due', kind: 'setting', setting: { from: 14, value: 13 } })
    // From 14 to 13 a fourteenth of the water is replaced.
    expect(step!.detail).toContain(`Replace ${(litres / 14).toFixed(1)} L of ${Math.round(litres)} L with fresh water`)
    expect(step!.detail).toMatch(/First hold the meter against a standard/)
  })
  test('once done it waits for the next reading, and asks again where that is outside too', () => {
    const [step] = back([read(1, 14)], 2)
    const done = made(NOW + 3 * HOUR, { kind: 'done', what: step!.title, step: step!.key })
    expect(back([read(1, 14), done], 4).map(({ state }) => state)).toEqual(['done'])
    expect(back([read(1, 14), done, read(6, 12.5)], 7).map(({ state }) => state)).toEqual(['done'])
    expect(back([read(1, 14), done, read(6, 13.5)], 7).map(({ state }) => state)).toEqual(['done', 'due'])
  })
  test('aims where the course itself turns to', () => {
    const lowered = whole.phases[0]!.rules.flatMap((rule) => (rule.kind === 'setting' ? (rule.values ?? []) : [])).map(
      (_, i) => made(NOW + (1 + i) * HOUR, { kind: 'done', what: 'set', step: `the-course/down/${i}` }),
    )
    const steps = stepsAt(whole, [...lowered, read(8, 14)], NOW + 9 * HOUR)
    expect(steps.find(({ ruleId }) => ruleId === 'hold-back')).toMatchObject({ setting: { from: 14, value: 12 } })
  })
})
