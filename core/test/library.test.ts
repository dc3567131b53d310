// The library as data that a keeper will follow: every amount within its ceiling, every word in step with its number.
import { describe, expect, test } from '@jest/globals'
import {
  THREATS,
  agentForm,
  agentForms,
  hazardOf,
  leastDays,
  protocolLibrary,
  protocolOf,
  type AgentForm,
  type Protocol,
} from '@brinvo/core'

const DAY_H = 24
const each = protocolLibrary.map((protocol) => [protocol.id, protocol] as const)
const rulesOf = (protocol: Protocol) => protocol.phases.flatMap((phase) => phase.rules.map((rule) => ({ phase, rule })))
/** The forms a role of a protocol may pour. */
const formsOf = (protocol: Protocol, role: string): readonly AgentForm[] =>
  (protocol.productRoles.find(({ id }) => id === role)?.forms ?? []).map((id) => agentForm(id)!)
/** Every value an aim may take: itself, or the limits of the parameter it names. */
function aims(protocol: Protocol, aim: unknown): readonly number[] {
  if (typeof aim === 'number') return [aim]
  const { param } = aim as { param: string }
  const found = protocol.parameters?.find(({ id }) => id === param)
  expect([protocol.id, param, found !== undefined]).toEqual([protocol.id, param, true])
  return [found!.min, found!.default ?? found!.min, found!.max]
}

describe.each(each)('%s', (id, protocol) => {
  test('pours nothing over a ceiling, whatever is chosen within its limits', () => {
    for (const { rule } of rulesOf(protocol)) {
      if ((rule.kind !== 'dose' && rule.kind !== 'bath') || rule.role === undefined || rule.aim === undefined) continue
      const forms = formsOf(protocol, rule.role)
      expect([id, rule.id, forms.length > 0]).toEqual([id, rule.id, true])
      for (const form of forms)
        for (const aim of aims(protocol, rule.aim)) {
          expect([rule.id, form.id, aim, aim > 0 && aim <= form.hardMax]).toEqual([rule.id, form.id, aim, true])
          expect([rule.id, form.id, aim, aim >= form.band.min && aim <= form.band.max]).toEqual([
            rule.id,
            form.id,
            aim,
            true,
          ])
        }
    }
  })
  test('an agent for a bath is only bathed in, one for the tank never', () => {
    for (const { rule } of rulesOf(protocol)) {
      if (rule.kind !== 'dose' && rule.kind !== 'bath' && rule.kind !== 'ramp') continue
      if (rule.role === undefined) continue
      for (const form of formsOf(protocol, rule.role))
        expect([rule.id, form.route]).toEqual([rule.id, rule.kind === 'bath' ? 'bath' : 'in-tank'])
    }
  })
  test('what goes into food is a form for food, within its band', () => {
    for (const { rule } of rulesOf(protocol)) {
      if (rule.kind !== 'feed' || !rule.mix) continue
      for (const form of formsOf(protocol, rule.mix.role)) {
        const mgPerKg = rule.mix.mgPerKg as number
        expect([rule.id, form.route, mgPerKg >= form.band.min && mgPerKg <= form.band.max]).toEqual([
          rule.id,
          'food',
          true,
        ])
      }
    }
  })
  test('everything it pours has hazards that can be read before the amount', () => {
    for (const { forms } of protocol.productRoles)
      for (const form of forms) {
        const found = agentForm(form)
        expect([form, found !== undefined]).toEqual([form, true])
        expect([form, found!.hazards.length > 0]).toEqual([form, true])
        for (const hazard of found!.hazards) expect(hazardOf(hazard)).toBeDefined()
      }
  })
  test('doses and moves fit into the days of their phase', () => {
    for (const { phase, rule } of rulesOf(protocol)) {
      if (rule.kind === 'transfer' || rule.kind === 'bath') {
        const last =
          ((rule.kind === 'bath' ? (rule.afterHours ?? 0) : 0) + (rule.everyHours as number) * (rule.times - 1)) / DAY_H
        expect([phase.id, rule.id, last <= phase.typicalDays]).toEqual([phase.id, rule.id, true])
      }
      if (rule.kind === 'dose' && typeof rule.everyDays === 'number') {
        const last = (rule.afterHours ?? 0) / DAY_H + rule.everyDays * (rule.times - 1)
        expect([phase.id, rule.id, last <= phase.typicalDays]).toEqual([phase.id, rule.id, true])
      }
    }
  })
  test('a count in words is the count in numbers', () => {
    const words = { one: 1, two: 2, three: 3, four: 4, five: 5, six: 6 } as const
    for (const { phase, rule } of rulesOf(protocol)) {
      const said = /^(one|two|three|four|five|six) doses?$/i.exec(phase.title)?.[1]?.toLowerCase()
      if (said !== undefined && rule.kind === 'dose')
        expect([phase.title, rule.times]).toEqual([phase.title, words[said as keyof typeof words]])
    }
    const days = /(\d+) days/.exec(protocol.title)?.[1]
    if (days !== undefined)
      expect([protocol.title, protocol.phases.some(({ typicalDays }) => typicalDays === Number(days))]).toEqual([
        protocol.title,
        true,
      ])
  })
  test('what it covers in a degree is a threat that can be ticked, and never also among what it misses', () => {
    const threats = THREATS.map((threat) => threat.id as string)
    for (const [threat, degree] of Object.entries(protocol.coverage ?? {})) {
      expect(threats).toContain(threat)
      expect([threat, degree]).toEqual([threat, expect.stringMatching(/^(full|part)$/)])
      if (degree === 'full') expect([id, protocol.misses]).toEqual([id, expect.not.arrayContaining([threat])])
    }
  })
  test('the schools it stands against are others, of a water it shares', () => {
    for (const other of protocol.school.against) {
      const found = protocolOf(other)
      expect([id, other, found !== undefined && other !== id]).toEqual([id, other, true])
      expect([
        id,
        other,
        protocol.water === 'both' || found!.water === 'both' || found!.water === protocol.water,
      ]).toEqual([id, other, true])
    }
  })
  test('one variant is the default, and every parameter’s usual value lies within its limits', () => {
    expect(protocol.variants.filter((variant) => variant.default === true)).toHaveLength(1)
    for (const { id: name, min, max, default: usual } of protocol.parameters ?? [])
      if (usual !== undefined) expect([name, min <= usual && usual <= max]).toEqual([name, true])
  })
  test('a move needs a second vessel, and water that is prepared', () => {
    const moves = rulesOf(protocol).filter(({ rule }) => rule.kind === 'transfer')
    if (moves.length === 0) return
    expect([id, protocol.vesselRoles?.length ?? 0]).toEqual([id, 1])
    const times = moves.reduce((sum, { rule }) => sum + (rule.kind === 'transfer' ? rule.times : 0), 0)
    expect([id, protocol.handling! >= times]).toEqual([id, true])
    // Rivals that meet go from tank to tank, each of which runs already.
    if (protocol.purpose !== 'introduction') expect([id, protocol.waterShare! > 1]).toEqual([id, true])
  })
  test('it is told how long it lasts at least, and that is no more than its usual days', () => {
    const usual = protocol.phases.reduce((sum, { typicalDays }) => sum + typicalDays, 0)
    expect([id, leastDays(protocol) <= usual]).toEqual([id, true])
    expect(protocol.summary.length).toBeGreaterThan(20)
  })
})

describe('the whole library', () => {
  test('stands under one name each, and shows every agent form in use somewhere', () => {
    expect(new Set(protocolLibrary.map(({ title }) => title)).size).toBe(protocolLibrary.length)
    const used = new Set(protocolLibrary.flatMap(({ productRoles }) => productRoles.flatMap(({ forms }) => forms)))
    expect(agentForms.filter(({ id }) => !used.has(id)).map(({ id }) => id)).toEqual([])
  })
  test('every threat that can be ticked is met by some school', () => {
    for (const { id } of THREATS)
      expect([id, protocolLibrary.some(({ coverage }) => coverage?.[id] !== undefined)]).toEqual([id, true])
  })
  test('every course that holds a level or feeds a cloud of bacteria watches ammonia', () => {
    for (const protocol of protocolLibrary) {
      const forms = protocol.productRoles.flatMap(({ forms: list }) => list.map((form) => agentForm(form)!))
      if (
        !forms.some(
          (form) =>
            form.route === 'in-tank' &&
            (form.heldAtLevel || form.agent === 'chloroquine' || form.agent === 'praziquantel'),
        )
      )
        continue
      expect([protocol.id, protocol.instrumentRoles.map(({ analyte }) => analyte)]).toEqual([
        protocol.id,
        expect.arrayContaining(['ammonia-total']),
      ])
    }
  })
})
