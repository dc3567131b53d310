// Safety as a table: every form against every group of animals, every dose against its ceiling, every rule with its words.
import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import {
  actContext,
  answer,
  mayPass,
  spoken,
  type Analyte,
  checkLaw,
  lawOf,
  activeContent,
  activeEntries,
  agentForms,
  checkArrival,
  checkContainer,
  checkMeasured,
  checkProduct,
  gravest,
  groups,
  newCourseBody,
  protocolOf,
  documentsOf,
  recordOf,
  resultingLevel,
  sensitivity,
  vesselVolume,
  type AgentForm,
  type ContainerEntry,
  type CourseDocument,
  type Entry,
  type KeeperRecord,
  type ProductDocument,
  type Refusal,
  type RefusalLevel,
  type ResidentDocument,
  type VesselDocument,
} from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import { ask, checkDose, warmAt, type Dosing } from './asked.ts'
import { entryAt, ZONE } from './entries.ts'

const NOW = Date.parse('2026-11-23T18:20:00Z')
const HOUR = 3_600_000
const DAY = 24 * HOUR
const demo = demoRecord({ seed: 7, anchorMs: NOW, zone: ZONE })
const GRAVITY: Readonly<Record<RefusalLevel | 'none', number>> = { none: 0, warn: 1, ask: 2, block: 3, forbid: 4 }
const weight = (found: readonly Refusal[]) => GRAVITY[gravest(found) ?? 'none']
const rules = (found: readonly Refusal[]) => found.map(({ rule }) => rule)

/** A confirmed bottle of a form, 10 mg in each mL. */
const bottleOf = (form: AgentForm, fields: Partial<ProductDocument['body']> = {}): ProductDocument => ({
  ...demo.products.get('copper-drawer')!,
  id: 'bottle',
  body: {
    name: 'The bottle',
    form: form.id,
    strength: { basis: 'mg-per-mL', mgPerMl: 10 },
    confirmedAt: '2026-11-01T10:00:00.000Z',
    ...fields,
  } as ProductDocument['body'],
})
const vesselOf = (fields: Partial<VesselDocument['body']> = {}): VesselDocument => {
  const model = demo.vessels.get('holding-b')!
  return { ...model, id: 'box', body: { ...model.body, name: 'The box', bindingMedia: undefined, ...fields } as never }
}
const residentOf = (group: string): ResidentDocument => {
  const model = demo.residents.get('gramma')!
  return {
    ...model,
    id: 'animal',
    body: {
      ...model.body,
      name: 'Somebody',
      commonName: 'an animal',
      group,
      vesselId: 'box',
      arrivedAt: '2026-11-01T10:00:00.000Z',
    } as never,
  }
}
/** One vessel, perhaps one animal and one bottle: nothing else. */
const scene = (
  parts: { vessel?: VesselDocument; product?: ProductDocument; resident?: ResidentDocument; entries?: Entry[] } = {},
): KeeperRecord =>
  recordOf(
    demo.settings,
    [
      parts.vessel ?? vesselOf(),
      ...(parts.product ? [parts.product] : []),
      ...(parts.resident ? [parts.resident] : []),
    ],
    // Read today: what depends on warmth is not asked for it again.
    [warmAt('box', NOW - 2 * HOUR, 24, entryAt), ...(parts.entries ?? [])],
  )
const dosing = (record: KeeperRecord, amount: number, fields: Partial<Dosing> = {}) =>
  checkDose({
    record,
    vesselId: 'box',
    productId: 'bottle',
    form: record.products.get('bottle')!.body.form,
    amount,
    atMs: NOW,
    nowMs: NOW,
    levelMgPerL: 0,
    ...fields,
  })
const inTank = agentForms.filter(({ route }) => route === 'in-tank')
/** A dose that ends in the middle of the band. */
const middling = (form: AgentForm, record: KeeperRecord) =>
  (((form.band.min + form.band.max) / 2) * vesselVolume(record.vessels.get('box')!)!.litres) / 10

/** What the gate says of the animals of the box against a form that goes in. */
const meeting = (record: KeeperRecord, form: AgentForm) =>
  ask(
    { ...record, products: new Map([['bottle', bottleOf(form)]]) },
    { kind: 'dose', vesselId: 'box', productId: 'bottle', form: form.id, amounts: ['0.001 mL'] },
    NOW,
  ).filter(({ rule }) => ['cu-invertebrates', 'contraindicated', 'caution', 'empty-tank'].includes(rule))

describe('animals against agents', () => {
  test.each(agentForms.map((form) => [form.id, form] as const))(
    '%s: what must not meet it stops a dose, what it is hard on is said, what bears it is left alone',
    (_, form) => {
      for (const water of ['marine', 'fresh'] as const) {
        for (const group of groups) {
          const record = scene({ vessel: vesselOf({ water }), resident: residentOf(group.id) })
          const found = meeting(record, form)
          const code = sensitivity(form, group.id, water)
          const at = [water, group.id, code, gravest(found)]
          if (code === 'X')
            expect(at).toEqual([
              water,
              group.id,
              code,
              form.emptyTankOnly || (form.agent === 'copper' && group.kind !== 'fish' && group.kind !== 'plant')
                ? 'forbid'
                : 'block',
            ])
          else expect(at).toEqual([water, group.id, code, code === 'C' || code === '?' ? 'warn' : null])
          for (const { message } of found) expect(message).toMatch(/Somebody/)
        }
      }
    },
  )
  test('a group nobody knows is never let through where any animal would be stopped', () => {
    for (const form of agentForms) {
      const record = scene({ resident: residentOf('nobody-knows') })
      const worst = Math.max(
        ...Object.values(form.sensitivity).map((code) => (code === 'X' ? 3 : code === 'C' || code === '?' ? 1 : 0)),
      )
      expect(weight(meeting(record, form))).toBeGreaterThanOrEqual(worst)
    }
  })
  test('an animal that has been moved out no longer stands in the way', () => {
    const form = agentForms.find(({ id }) => id === 'copper-chelated-high')!
    const resident = { ...residentOf('hg-coral') }
    const move = entryAt(NOW - HOUR, { kind: 'move', residentId: 'animal', vesselId: 'box', toVesselId: 'elsewhere' })
    const record = scene({ resident, entries: [move] })
    expect(gravest(meeting(scene({ resident }), form))).toBe('forbid')
    expect(meeting(record, form)).toEqual([])
  })
})

describe('doses against ceilings', () => {
  test('a dose into the band from a confirmed bottle into a confirmed volume is free to go', () => {
    for (const form of inTank) {
      const vessel = vesselOf({ water: form.water === 'fresh' ? 'fresh' : 'marine' })
      const record = scene({ product: bottleOf(form), vessel })
      const found = dosing(record, middling(form, record)).filter(({ rule }) => rule !== 'ramp-speed')
      // Nobody has said yet whether the law allows it: that alone stands in the way, until it is answered.
      const asked = form.legal === 'asked' ? ['safe-law'] : []
      expect([form.id, found.map(({ rule }) => rule)]).toEqual([form.id, asked])
    }
  })
  test('the law is asked once per country: unanswered blocks, no refuses, yes lets go', () => {
    const form = agentForms.find(({ id }) => id === 'kanamycin-tank')!
    const under = (answer?: 'lawful' | 'not-lawful') => ({
      ...demo.settings,
      ...(answer === undefined ? {} : { law: { country: 'Here', answers: { kanamycin: answer } } }),
    })
    expect([lawOf(under(), form), lawOf(under('lawful'), form)]).toEqual(['ask', 'lawful'])
    expect(
      lawOf(
        under(),
        agentForms.find(({ id }) => id === 'salt-tank')!,
      ),
    ).toBe('open')
    const levels = (of: 'course' | 'dose', answer?: 'lawful' | 'not-lawful') =>
      checkLaw(under(answer), form.id, of).map(({ level }) => level)
    expect([levels('course'), levels('dose')]).toEqual([['forbid'], ['block']])
    expect([levels('course', 'not-lawful'), levels('dose', 'not-lawful')]).toEqual([['forbid'], ['forbid']])
    expect([levels('course', 'lawful'), levels('dose', 'lawful')]).toEqual([[], []])
    expect(checkLaw(under('not-lawful'), form.id, 'dose')[0]!.message).toMatch(/no lawful source in Here/)
    expect(checkLaw(under(), 'nothing-known', 'dose')).toEqual([])
  })
  test('no amount that leads over the hard maximum passes, in any form, from any level', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...inTank),
        fc.double({ min: 0, max: 1.2, noNaN: true }),
        fc.double({ min: 0.001, max: 4, noNaN: true }),
        (form, share, over) => {
          const record = scene({ product: bottleOf(form) })
          const volume = vesselVolume(record.vessels.get('box')!)!
          const before = share * form.hardMax
          const amount = (over * form.hardMax * volume.litres) / 10
          const content = activeContent(bottleOf(form).body.strength)
          const per = content.ok ? content.value.mg : NaN
          const found = dosing(record, amount, { levelMgPerL: before })
          const middle = resultingLevel(before, amount, per, volume.litres)
          const worst = resultingLevel(before, amount, per, volume.litres - 1.2816 * volume.sdLitres)
          expect(rules(found).includes('safe-ceiling')).toBe(middle > form.hardMax || worst > form.hardMax)
        },
      ),
      { numRuns: 300 },
    )
  })
  test('more of the same is never less grave', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...inTank),
        fc.double({ min: 0.01, max: 60, noNaN: true }),
        fc.double({ min: 1, max: 10, noNaN: true }),
        (form, amount, factor) => {
          const record = scene({ product: bottleOf(form) })
          expect(weight(dosing(record, amount * factor))).toBeGreaterThanOrEqual(weight(dosing(record, amount)))
        },
      ),
      { numRuns: 200 },
    )
  })
  test('a volume that was never confirmed, an agent for a bath, carbon that runs: each blocks with its sentence', () => {
    const form = agentForms.find(({ id }) => id === 'chloroquine')!
    const bath = agentForms.find(({ route }) => route === 'bath')!
    const unsure = scene({ product: bottleOf(form), vessel: vesselOf({ volumeConfirmedAt: undefined }) })
    expect(dosing(unsure, 1)).toContainEqual(
      expect.objectContaining({
        rule: 'volume-unconfirmed',
        level: 'block',
        message: expect.stringMatching(/never confirmed. Check \d+ ± \d+ L/),
      }),
    )
    expect(dosing(scene({ product: bottleOf(bath) }), 1)).toContainEqual(
      expect.objectContaining({ rule: 'bath-not-tank', level: 'forbid' }),
    )
    for (const [item, words] of [
      ['carbon', 'Carbon'],
      ['resin', 'Resin'],
      ['uv', 'The UV lamp'],
      ['ozone', 'Ozone'],
      ['light', 'The strong light'],
    ] as const) {
      const on = entryAt(NOW - DAY, { kind: 'equipment', vesselId: 'box', item, on: true })
      const off = entryAt(NOW - HOUR, { kind: 'equipment', vesselId: 'box', item, on: false })
      const running = scene({ product: bottleOf(form), entries: [on] })
      expect(dosing(running, 1)).toContainEqual(
        expect.objectContaining({
          level: 'block',
          message: expect.stringMatching(new RegExp(`^${words} is still at work`)),
        }),
      )
      expect(rules(dosing(scene({ product: bottleOf(form), entries: [on, off] }), 1))).not.toContain('cx-cq-light')
    }
  })
  test('rock and shell block copper, and nothing else for that reason', () => {
    const rock = vesselOf({ bindingMedia: 'rock' })
    for (const form of inTank) {
      const found = dosing(scene({ product: bottleOf(form), vessel: rock }), 0.1)
      expect([form.id, rules(found).includes('cu-materials')]).toEqual([form.id, form.agent === 'copper'])
    }
  })
  test('two forms of copper never meet; another agent may', () => {
    const copper = agentForms.filter(({ agent }) => agent === 'copper')
    const [first, second] = copper
    const poured = entryAt(NOW - DAY, {
      kind: 'dose',
      vesselId: 'box',
      productId: 'other',
      amount: 1,
      unit: 'mL',
    })
    const other = { ...bottleOf(first!), id: 'other' }
    const record = (form: AgentForm) => recordOf(demo.settings, [vesselOf(), bottleOf(form), other], [poured])
    expect(rules(dosing(record(second!), 0.1))).toContain('cx-cu-cu')
    expect(rules(dosing(record(first!), 0.1))).not.toContain('cx-cu-cu')
    const prazi = agentForms.find(({ id }) => id === 'praziquantel')!
    expect(rules(dosing(record(prazi), 0.1))).not.toContain('cx-cu-cu')
  })
  test('the same bottle twice within ten minutes is asked about, an hour later it is not', () => {
    const form = agentForms.find(({ id }) => id === 'chloroquine')!
    const poured = (ms: number) =>
      entryAt(ms, { kind: 'dose', vesselId: 'box', productId: 'bottle', amount: 1.5, unit: 'mL' })
    const again = dosing(scene({ product: bottleOf(form), entries: [poured(NOW - 60_000)] }), 1.5)
    expect(again).toContainEqual(
      expect.objectContaining({ level: 'ask', message: '1.5 mL went in a minute away from this. Really twice?' }),
    )
    expect(rules(dosing(scene({ product: bottleOf(form), entries: [poured(NOW - HOUR)] }), 1.5))).not.toContain('twice')
  })
  test.each([0, -3, NaN])('an amount of %p is refused', (amount) => {
    const record = scene({ product: bottleOf(agentForms[0]!) })
    expect(dosing(record, amount)).toEqual([expect.objectContaining({ rule: 'problem', level: 'forbid' })])
  })
})

describe('bottles', () => {
  const check = (form: AgentForm, fields: Partial<ProductDocument['body']> = {}) =>
    checkProduct(bottleOf(form, fields).body, NOW, ZONE)
  test('an unconfirmed bottle is refused where forms look alike, and blocked elsewhere', () => {
    for (const form of agentForms)
      expect([form.id, gravest(check(form, { confirmedAt: undefined }))]).toEqual([
        form.id,
        form.agent === 'copper' ? 'forbid' : 'block',
      ])
  })
  test('a narrow margin is measured, not dropped', () => {
    const dropped = agentForms.map((form) => {
      const found = check(form, { strength: { basis: 'per-drop', mgPerDrop: 0.5 } })
      expect([form.id, rules(found).includes('drops-not-measured')]).toEqual([
        form.id,
        form.measuredNotDropped === true,
      ])
      return form.measuredNotDropped === true
    })
    expect(new Set(dropped)).toEqual(new Set([true, false]))
  })
  test('a bottle serves through its last day and not after', () => {
    const form = agentForms[0]!
    expect(check(form, { expiresOn: '2026-11-23' })).toEqual([])
    expect(check(form, { expiresOn: '2026-11-22' })).toEqual([
      expect.objectContaining({ level: 'block', message: '"The bottle" expired on 2026-11-22.' }),
    ])
  })
  test('the level of another form on the label is refused, its own is taken', () => {
    for (const form of agentForms) {
      const own = form.labelLevels[0]
      if (!own) continue
      expect([form.id, check(form, { labelBand: { minMgPerL: own.min, maxMgPerL: own.max } })]).toEqual([form.id, []])
      expect(check(form, { labelBand: { minMgPerL: own.min * 7, maxMgPerL: own.max * 7 } })).toContainEqual(
        expect.objectContaining({ rule: 'cu-band-of-the-bottle', level: 'forbid' }),
      )
    }
  })
})

describe('times and readings', () => {
  const switched = (vesselId: string, atMs: number) =>
    ask(scene(), { kind: 'equipment', vesselId, item: 'carbon', on: false, atMs }, NOW)
  test.each([
    [NaN, 'time'],
    [NOW + HOUR, 'time-future'],
    [Date.parse('1999-01-01T00:00:00Z'), 'time-before-vessel'],
  ])('%p is refused as %s', (ms, rule) => {
    expect(rules(switched('box', ms))).toEqual([rule])
  })
  test('a clock five minutes ahead is forgiven, a vessel that is not there is not', () => {
    expect(switched('box', NOW + 4 * 60_000)).toEqual([])
    expect(switched('nowhere', NOW)).toEqual([expect.objectContaining({ level: 'forbid' })])
  })
  const reading = (text: string) =>
    ask(demo, { kind: 'reading', vesselId: 'holding-a', analyte: 'copper', text }, NOW, [
      {
        vesselId: 'holding-a',
        agent: 'copper',
        atMs: NOW,
        mgPerL: 2,
        lowMgPerL: 1.9,
        highMgPerL: 2.1,
        volume: { litres: 66, sdLitres: 2 },
      },
    ])
  test('a reading near the record is taken; one with its point misplaced is asked about, with the likely number', () => {
    expect(reading('2.05')).toEqual([])
    expect(reading('0.2')).toContainEqual(
      expect.objectContaining({ rule: 'far-off', level: 'ask', message: expect.stringMatching(/Did you mean 2\?/) }),
    )
    expect(rules(reading('<0.2'))).not.toContain('far-off')
  })
  test('a new fish is held back from a vessel that lies without fish, a new snail is not', () => {
    const into = (group: string) =>
      rules(
        ask(
          demo,
          {
            kind: 'resident',
            vesselId: 'longshore',
            residentId: 'new-one',
            body: { name: 'New one', commonName: 'New one', group },
            count: '1',
          },
          NOW,
        ),
      )
    expect(into('hg-clown-damsel')).toContain('fallow')
    expect(into('hg-snail')).not.toContain('fallow')
  })
  test('what the reading before has borne out is not asked about a second time: the record is what is wrong', () => {
    const again = (value: number, hoursAgo: number, text: string) => {
      const atMs = NOW - hoursAgo * 3_600_000
      const before = {
        ...demo.entries.findLast((one) => one.kind === 'reading' && one.analyte === 'copper')!,
        id: 'borne-out-0001',
        at: new Date(atMs).toISOString(),
        recordedAt: new Date(atMs).toISOString(),
        vesselId: 'holding-a',
        value,
      } as (typeof demo.entries)[number]
      const record = recordOf(demo.settings, documentsOf(demo), [...demo.entries, before])
      const known = { vesselId: 'holding-a', agent: 'copper', atMs: NOW, mgPerL: 0.2, lowMgPerL: 0.1, highMgPerL: 0.3 }
      return rules(
        ask(record, { kind: 'reading', vesselId: 'holding-a', analyte: 'copper', text }, NOW, [
          { ...known, volume: { litres: 66, sdLitres: 2 } },
        ]),
      )
    }
    expect(again(0.92, 18, '0.86')).toEqual(['borne-out'])
    expect(again(0.92, 18, '0.74')).toEqual(['borne-out'])
    // A fifth of 0.92 is 0.184: below 0.736 it is news again; so it is when the one before is four days old.
    expect(again(0.92, 18, '0.73')).toEqual(['far-off'])
    expect(again(0.92, 73, '0.92')).not.toContain('borne-out')
  })
  test('over the hard maximum it says how much water to change', () => {
    const [first] = reading('4').filter(({ rule }) => rule === 'over-hard-max')
    expect(first?.message).toMatch(/Change water to target: 44 % with undosed water/)
  })
})

describe('a course at its start', () => {
  const protocol = protocolOf('praziquantel-twice')!
  const start = (record: KeeperRecord) =>
    ask(
      record,
      {
        kind: 'course',
        id: 'new-one',
        vesselId: 'box',
        instrumentId: null,
        body: newCourseBody({
          protocol,
          vesselId: 'box',
          startMs: NOW,
          zone: ZONE,
          residents: [],
          products: record.products.has('bottle') ? { [protocol.productRoles[0]!.id]: 'bottle' } : {},
        }),
      },
      NOW,
    )
  const fish = residentOf('hg-tang')
  const prazi = bottleOf(agentForms.find(({ id }) => id === 'praziquantel')!)
  test('nothing speaks against a sound one', () => {
    expect(start(scene({ product: prazi, resident: fish }))).toEqual([])
  })
  test('a second drug course in the same water is blocked', () => {
    const running = { ...demo.courses.get('copper-holding-a')! }
    const record = recordOf(
      demo.settings,
      [vesselOf(), prazi, fish, { ...running, body: { ...running.body, vesselId: 'box' } }, copper],
      [],
    )
    // Praziquantel beside copper is told; peroxide in the same water is what the table forbids.
    expect(start(record)).toContainEqual(
      expect.objectContaining({
        rule: 'cx-cu-prazi',
        level: 'warn',
        message: expect.stringMatching(/^The box already has/),
      }),
    )
    const formalin = bottleOf(agentForms.find(({ id }) => id === 'formalin-tank')!)
    const other = recordOf(
      demo.settings,
      [
        vesselOf({ water: 'fresh' }),
        { ...formalin, id: 'other' },
        fish,
        courseOf('formalin-tank-fresh', 'other'),
        prazi,
      ],
      [],
    )
    expect(start(other)).toContainEqual(expect.objectContaining({ rule: 'course-running', level: 'block' }))
    const over = { ...running, body: { ...running.body, vesselId: 'box', endedAt: '2026-11-20T10:00:00.000Z' } }
    expect(start(recordOf(demo.settings, [vesselOf(), prazi, fish, copper, over as never], []))).toEqual([])
  })
  const copper = demo.products.get('copper-main')!
  const courseOf = (id: string, productId: string): CourseDocument => ({
    ...demo.courses.get('copper-holding-a')!,
    id: 'running',
    body: newCourseBody({
      protocol: protocolOf(id)!,
      vesselId: 'box',
      startMs: NOW - DAY,
      zone: ZONE,
      residents: [],
      products: { [protocolOf(id)!.productRoles[0]!.id]: productId },
    }),
  })
  test('no bottle, the wrong bottle, no fish', () => {
    expect(rules(start(scene({ resident: fish })))).toEqual(['safe-strength'])
    const levamisole = bottleOf(agentForms.find(({ id }) => id === 'levamisole')!)
    expect(rules(start(scene({ product: levamisole, resident: fish })))).toContain('cu-band-of-the-bottle')
    expect(rules(start(scene({ product: prazi })))).toEqual(['no-residents'])
  })
})

describe('a bag', () => {
  test.each([
    [{ phNbs: 70 }, 'bag-ph'],
    [{ salinityPsu: -1 }, 'bag-salinity'],
    [{ tempC: 77 }, 'bag-temperature'],
    [{ tanMgN: 900 }, 'bag-ammonia'],
    [{ alkalinityDkh: 150 }, 'bag-alkalinity'],
    [{ volumeL: 0 }, 'bag-volume'],
    [{ volumeL: 501 }, 'bag-volume'],
  ])('%p cannot be', (values, rule) => {
    expect(rules(checkMeasured(values))).toEqual([rule])
    expect(checkMeasured(values)[0]!.level).toBe('forbid')
  })
  test('the ends of what can be are taken', () => {
    expect(checkMeasured({ phNbs: 4, salinityPsu: 0, tempC: 1, tanMgN: 0, alkalinityDkh: 0, volumeL: 500 })).toEqual([])
    expect(checkMeasured({ phNbs: 10.5, salinityPsu: 60, tempC: 40, tanMgN: 60, alkalinityDkh: 30 })).toEqual([])
    expect(checkMeasured({})).toEqual([])
  })
  const box = demo.arrivals.get('box-tonight')!
  const bag = box.body.containers[0]!
  const look = (fields: object, entries: ContainerEntry[] = []) =>
    checkContainer({
      record: demo,
      active: activeEntries(demo.entries),
      container: { ...bag, ...fields },
      entries,
      nowMs: NOW,
    })
  test('goes into its own kind of water only', () => {
    for (const group of groups) {
      const marine = look({ vesselId: 'holding-b', group: group.id }).some(({ rule }) => rule === 'wrong-water')
      expect([group.id, marine]).toEqual([group.id, group.water === 'fresh'])
    }
  })
  test('a vessel that is not on the shelf, a bag larger than its tub', () => {
    expect(rules(look({ vesselId: 'nowhere' }))).toEqual(['vessel'])
    const measured = entryAt<ContainerEntry>(NOW, {
      kind: 'container',
      arrivalId: box.id,
      containerId: bag.id,
      act: 'measured',
      volumeL: 9,
    })
    expect(look({ tubL: 8 }, [measured])).toContainEqual(
      expect.objectContaining({ rule: 'bag-larger-than-tub', level: 'block' }),
    )
    expect(rules(look({ tubL: 10 }, [measured]))).not.toContain('bag-larger-than-tub')
  })
  test('packed after it came, tomorrow, or two weeks ago is asked back', () => {
    const times = (packedAt: number, receivedAt?: number) =>
      rules(
        checkArrival(
          {
            body: {
              ...box.body,
              packedAt: new Date(packedAt).toISOString(),
              receivedAt: receivedAt === undefined ? undefined : new Date(receivedAt).toISOString(),
            } as never,
          },
          NOW,
        ),
      )
    expect(times(NOW, NOW - HOUR)).toEqual(['packed-after-received'])
    expect(times(NOW + DAY)).toEqual(['packed-in-future'])
    expect(times(NOW - 14 * DAY)).toEqual(['packed-long-ago'])
    expect(times(NOW - DAY, NOW - HOUR)).toEqual([])
  })
})

describe('into water that holds something', () => {
  const form = agentForms.find(({ id }) => id === 'copper-chelated-high')!
  const other = { ...vesselOf(), id: 'other' }
  const moved = (amount: number, group: string) => {
    const dose = entryAt(NOW - HOUR, { kind: 'dose', vesselId: 'box', productId: 'bottle', amount, unit: 'mL' })
    const resident = residentOf(group)
    const record = recordOf(
      demo.settings,
      [vesselOf(), other, bottleOf(form), { ...resident, body: { ...resident.body, vesselId: 'other' } }],
      [warmAt('box', NOW - 2 * HOUR, 24, entryAt), dose],
    )
    return ask(record, { kind: 'move', vesselId: 'box', residents: [{ id: 'animal' }], toVesselId: 'box' }, NOW)
  }
  const litres = vesselVolume(vesselOf())!.litres
  test('nobody is put into water over the hard maximum but on a written word', () => {
    // 10 mg/mL: litres × mg/L ÷ 10 mL.
    expect(rules(moved((litres * 2.4) / 10, 'hg-clown-damsel'))).not.toContain('too-strong')
    const over = moved((litres * 3.2) / 10, 'hg-clown-damsel').find(({ rule }) => rule === 'too-strong')
    expect(over).toMatchObject({ level: 'block' })
    expect(over!.message).toMatch(/3\.\d\d mg\/L .* ends at 2\.80 mg\/L/)
  })
})

describe('several readings in one go', () => {
  const several = (...readings: readonly { readonly analyte: Analyte; readonly text: string }[]) =>
    answer(actContext(demo, NOW), { kind: 'readings', vesselId: 'longshore', readings })
  test('all are written together, each in its unit', () => {
    const made = several({ analyte: 'nitrate', text: '8' }, { analyte: 'alkalinity', text: '3 meq/L' })
    expect(made.problem).toBeNull()
    expect(made.drafts).toHaveLength(2)
    expect(made.drafts[0]).toMatchObject({ kind: 'reading', analyte: 'nitrate', value: 8 })
    // 1 meq/L is 2.804 dKH.
    expect((made.drafts[1] as { value: number }).value).toBeCloseTo(8.41, 1)
    expect(made.said).toBe('2 readings logged.')
  })
  test('one that cannot be read stops them all, and is named; nothing and twice are said', () => {
    expect(several({ analyte: 'nitrate', text: '8' }, { analyte: 'ph', text: 'x' }).problem).toMatch(/pH/)
    expect(several().problem).toMatch(/No value/)
    expect(several({ analyte: 'nitrate', text: '8' }, { analyte: 'nitrate', text: '9' }).problem).toMatch(
      /Nitrate stands there twice/,
    )
  })
  test('what can hardly be is asked about by name, and asks for all of them', () => {
    const made = several({ analyte: 'nitrate', text: '8' }, { analyte: 'temperature', text: '38' })
    expect(
      spoken(made)
        .map(({ message }) => message)
        .join(),
    ).toMatch(/emperature/)
    expect(mayPass(made, { words: '', confirmed: false })).toBe(false)
  })
})
