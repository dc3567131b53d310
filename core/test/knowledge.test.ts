// The tables of the handbook as they were meant: encoded once more by hand, so that a slip in the JSON shows.
import { describe, expect, test } from '@jest/globals'
import {
  agentForm,
  agentForms,
  groups,
  handlingHazards,
  hazards,
  protocolLibrary,
  protocolOf,
  sensitivity,
  species,
} from '@brinvo/core'

describe('copper, handbook 31 T2, T4, T5', () => {
  test.each`
    form                      | target  | min     | max     | hardMax | gap   | low   | high  | out
    ${'copper-ionic'}         | ${0.18} | ${0.15} | ${0.2}  | ${0.25} | ${24} | ${2}  | ${5}  | ${0.05}
    ${'copper-chelated'}      | ${1.75} | ${1.5}  | ${2}    | ${2.2}  | ${48} | ${20} | ${40} | ${0.1}
    ${'copper-chelated-high'} | ${2.25} | ${2}    | ${2.5}  | ${2.8}  | ${48} | ${20} | ${40} | ${0.1}
    ${'copper-amine'}         | ${0.5}  | ${0.45} | ${0.55} | ${0.6}  | ${24} | ${20} | ${40} | ${0.1}
  `('$form', ({ form, target, min, max, hardMax, gap, low, high, out }) => {
    expect(agentForm(form as string)).toMatchObject({
      target,
      band: { min, max },
      hardMax,
      maxGapHours: gap,
      halfLifeDays: { low, high },
      removedBelow: out,
      heldAtLevel: true,
      water: 'marine',
    })
  })
  test('a hard maximum under twice the target is measured, never dropped', () => {
    for (const form of agentForms) if (form.hardMax / form.target < 2) expect(form.measuredNotDropped).toBe(true)
  })
})

describe('ramps, handbook 31 §4', () => {
  const variants = protocolOf('copper-in-place-30')!.variants
  test.each`
    form                      | variant           | levels
    ${'copper-chelated-high'} | ${'ramp-slow'}    | ${[0.75, 1.25, 1.75, 2.25]}
    ${'copper-chelated-high'} | ${'ramp-at-once'} | ${[1.15, 2.25]}
    ${'copper-chelated-high'} | ${'ramp-low-end'} | ${[0.5, 1, 1.5, 2]}
    ${'copper-amine'}         | ${'ramp-slow'}    | ${[0.15, 0.3, 0.4, 0.5]}
    ${'copper-amine'}         | ${'ramp-at-once'} | ${[0.25, 0.5]}
    ${'copper-amine'}         | ${'ramp-low-end'} | ${[0.1, 0.2, 0.3, 0.4, 0.45]}
    ${'copper-chelated'}      | ${'ramp-slow'}    | ${[0.5, 1, 1.4, 1.75]}
    ${'copper-chelated'}      | ${'ramp-at-once'} | ${[0.9, 1.75]}
    ${'copper-chelated'}      | ${'ramp-low-end'} | ${[0.4, 0.8, 1.2, 1.5]}
    ${'copper-ionic'}         | ${'ramp-slow'}    | ${[0.06, 0.12, 0.18]}
    ${'copper-ionic'}         | ${'ramp-at-once'} | ${[0.1, 0.18]}
    ${'copper-ionic'}         | ${'ramp-low-end'} | ${[0.04, 0.08, 0.12, 0.15]}
  `('$form $variant', ({ form, variant, levels }) => {
    expect(variants.find(({ id }) => id === variant)!.levels![form as string]).toEqual(levels)
  })
  test('one variant is the default, one is for cautious animals, at even odds and with 28 days of watching', () => {
    expect(variants.filter((variant) => variant.default)).toHaveLength(1)
    expect(variants.find(({ forCautious }) => forCautious)).toMatchObject({ confidence: 0.5, watchDays: 28 })
  })
})

describe('who stands copper, handbook 31 T6', () => {
  test.each`
    group                  | bound  | ionic
    ${'hg-clown-damsel'}   | ${'O'} | ${'O'}
    ${'hg-anthias'}        | ${'C'} | ${'C'}
    ${'hg-tang'}           | ${'O'} | ${'O'}
    ${'hg-angel-large'}    | ${'C'} | ${'C'}
    ${'hg-angel-dwarf'}    | ${'C'} | ${'C'}
    ${'hg-butterfly'}      | ${'C'} | ${'C'}
    ${'hg-wrasse'}         | ${'C'} | ${'C'}
    ${'hg-puffer-trigger'} | ${'C'} | ${'C'}
    ${'hg-goby-blenny'}    | ${'C'} | ${'C'}
    ${'hg-dragonet'}       | ${'C'} | ${'C'}
    ${'hg-predator'}       | ${'C'} | ${'C'}
    ${'hg-eel'}            | ${'C'} | ${'C'}
    ${'hg-syngnathid'}     | ${'C'} | ${'C'}
    ${'hg-shark-ray'}      | ${'X'} | ${'X'}
    ${'hg-small-fresh'}    | ${'X'} | ${'X'}
    ${'hg-cichlid'}        | ${'X'} | ${'C'}
    ${'hg-labyrinth'}      | ${'X'} | ${'C'}
    ${'hg-goldfish'}       | ${'X'} | ${'C'}
    ${'hg-scaleless'}      | ${'X'} | ${'X'}
    ${'hg-shrimp'}         | ${'X'} | ${'X'}
    ${'hg-snail'}          | ${'X'} | ${'X'}
    ${'hg-coral'}          | ${'X'} | ${'X'}
    ${'hg-invertebrate'}   | ${'X'} | ${'X'}
    ${'hg-plant'}          | ${'X'} | ${'X'}
  `('$group', ({ group, bound, ionic }) => {
    for (const form of ['copper-chelated', 'copper-chelated-high', 'copper-amine'])
      expect(sensitivity(agentForm(form)!, group as string, 'marine')).toBe(bound)
    expect(sensitivity(agentForm('copper-ionic')!, group as string, 'marine')).toBe(ionic)
  })
  test('no invertebrate is ever anything but X', () => {
    for (const form of agentForms.filter(({ agent }) => agent === 'copper'))
      for (const group of groups.filter(({ kind }) => kind !== 'fish'))
        expect(sensitivity(form, group.id, 'marine')).toBe('X')
  })
})

describe('breathing, handbook 30 §2.2', () => {
  test.each`
    group                | low   | high   | alarm
    ${'hg-clown-damsel'} | ${70} | ${120} | ${150}
    ${'hg-tang'}         | ${60} | ${100} | ${130}
    ${'hg-eel'}          | ${20} | ${50}  | ${80}
    ${'hg-shark-ray'}    | ${20} | ${50}  | ${70}
    ${'hg-small-fresh'}  | ${90} | ${150} | ${180}
    ${'hg-goldfish'}     | ${40} | ${80}  | ${110}
  `('$group', ({ group, low, high, alarm }) =>
    expect(groups.find(({ id }) => id === group)?.breathing).toEqual({ low, high, alarm }),
  )
})

describe('what goes with every record', () => {
  test('hazards name first aid, gear, waste and law', () => {
    for (const hazard of hazards) {
      expect(hazard.before.length).toBeGreaterThan(1)
      expect(hazard.firstAid.length).toBeGreaterThan(1)
      // What an animal does to a hand is no poison that could be swallowed, and leaves no waste.
      if (groups.some(({ hazards: own }) => own?.includes(hazard.id))) {
        expect(hazard.firstAid.join(' ')).toMatch(/a doctor|emergency number/i)
        continue
      }
      expect(hazard.firstAid.join(' ')).toMatch(/15 minutes/)
      expect(hazard.firstAid.join(' ')).toMatch(/do not make the person vomit/)
      expect(hazard.disposal).toMatch(/never/)
      expect(hazard.legal.length).toBeGreaterThan(10)
    }
  })
  test('whoever stings, cuts or bites says so before it is moved, each hazard once', () => {
    expect(handlingHazards(['hg-tang', 'hg-predator', 'hg-tang'])).toEqual(['fish-spines', 'fish-bite'])
    expect(handlingHazards(['hg-anemone'])).toEqual(['stinging-animals'])
    expect(handlingHazards(['hg-clown-damsel', 'nobody'])).toEqual([])
    for (const id of handlingHazards(groups.map((group) => group.id)))
      expect(hazards.map((hazard) => hazard.id)).toContain(id)
  })
  test('protocols state what they miss, their school against another, and sources with a grade', () => {
    for (const protocol of protocolLibrary) {
      expect(protocol.misses.length).toBeGreaterThan(0)
      // A dispute names the other side; settling in and adjusting water have none, and a campaign may stand alone.
      if (!['settling', 'adjustment', 'campaign', 'fallow'].includes(protocol.purpose))
        expect([protocol.id, protocol.school.against.length > 0]).toEqual([protocol.id, true])
      for (const { grade } of protocol.sources)
        expect(['LIT', 'EXT', 'KP', 'EST', 'label', 'handbook']).toContain(grade)
      const ids = protocol.phases.flatMap(({ rules }) => rules.map(({ id }) => id))
      expect(new Set(ids).size).toBe(ids.length)
    }
  })
  test('every condition that names a gate, a rule or a role names one that exists', () => {
    for (const protocol of protocolLibrary) {
      const text = JSON.stringify(protocol.phases.map(({ exit }) => exit))
      const rules = protocol.phases.flatMap(({ rules: list }) => list)
      for (const [, list] of text.matchAll(/"gates":\[([^\]]*)\]/g)) {
        for (const gate of list!.split(','))
          expect(rules.filter(({ kind }) => kind === 'gate').map(({ id }) => `"${id}"`)).toContain(gate)
      }
      for (const [, role] of text.matchAll(/"role":"([^"]+)"/g))
        expect(protocol.instrumentRoles.map(({ id }) => id)).toContain(role)
      for (const [, rule] of text.matchAll(/"rule":"([^"]+)"/g)) expect(rules.map(({ id }) => id)).toContain(rule)
    }
  })
  test('species stand once, by common and scientific name', () => {
    expect(new Set(species.map(({ scientific }) => scientific)).size).toBe(species.length)
    expect(new Set(species.map(({ id }) => id)).size).toBe(species.length)
    for (const { scientific } of species) expect(scientific).toMatch(/^[A-Z][a-z]+ [a-z]+$/)
  })
})
