// The handbook's safety tables typed in by hand, and held against the gate: every form, every group of animals, alone,
// after an earlier dose, after a change, moved in, bathed elsewhere. Nothing here is read from the product's own data.
import { describe, expect, test } from '@jest/globals'
import {
  actContext,
  agentForms,
  answer,
  groups,
  recordOf,
  spoken,
  verdictOf,
  type Entry,
  type Intent,
  type RegisterDocument,
} from '../src/index.ts'
import { NOW, recordOfCase, type ActCase } from './acts/runActs.ts'
import { entryAt } from './entries.ts'

const HOUR = 3_600_000

/** Handbook 31 T6, typed by hand: a string of codes by column. */
const COLUMNS = 'WR AN BF DR PU EL SR SY TA LF SC MO TE LB GF SH SN CO RO PL BI'.split(' ')
const T6: Readonly<Record<string, string>> = {
  'copper-ionic': 'C C C C C C X C O C X X X C C X X X X X C',
  'copper-chelated': 'C C C C C C X C O C X X X X X X X X X X C',
  'copper-chelated-high': 'C C C C C C X C O C X X X X X X X X X X C',
  'copper-amine': 'C C C C C C X C O C X X X X X X X X X X C',
  chloroquine: 'C O O C C ? X C O O ? ? ? O O X X X X X C',
  praziquantel: 'C O O O O O C O O O C X O O O C C C X O C',
  'praziquantel-food': 'O O O O O O C O O O C ? O O O – – – – – –',
  fenbendazole: 'O O O O O O C O O O C ? O O O C X X X O O',
  'fenbendazole-food': 'O O O O O O C O O O C ? O O O – C C – – –',
  levamisole: '– – – – – – X – – – C ? O O O C C X X O O',
  'metronidazole-tank': 'O O O O O O ? O O O C ? O O O C O C C O C',
  'metronidazole-food': 'O O O O O O ? O O O O ? O O O – – – – – –',
  'formalin-bath': 'C C C C C C X C C C C X C C O X X X X X –',
  'formalin-tank': 'C C C C C C X C C C C X C C O X X X X C C',
  'malachite-green': '– – – – – – X – – – C X C C O X X X X C C',
  'peroxide-bath': 'C C C C C ? ? C O C C X C C O X X X X X –',
  'methylene-blue-bath': 'O O O C O C ? O O O C ? O O O X X X X X –',
  'methylene-blue-tank': '– – – – – – X – – – C ? O O O X X X X X X',
  'acriflavine-bath': 'C C C C C ? ? C C C C ? C O O X X X X X C',
  'nitrofurazone-tank': 'O O O O O C ? O O O C ? O O O X C X X C C',
  'kanamycin-tank': 'O O O O O C ? O O O O ? O O O C C X X O C',
  'salt-tank': '– – – – – – X – – – C C C O O C C – – C O',
  'salt-dip': '– – – – – – X – – – C X C C O X X – – X –',
}
/** Columns of the host groups, and the three agents for which clownfish and damsels count as wrasses. 31 T6, last note. */
const COLUMN_OF: Readonly<Record<string, string>> = {
  'hg-clown-damsel': 'TA',
  'hg-anthias': 'WR',
  'hg-goby-blenny': 'WR',
  'hg-wrasse': 'WR',
  'hg-tang': 'TA',
  'hg-angel-large': 'AN',
  'hg-angel-dwarf': 'AN',
  'hg-butterfly': 'BF',
  'hg-puffer-trigger': 'PU',
  'hg-dragonet': 'DR',
  'hg-predator': 'LF',
  'hg-eel': 'EL',
  'hg-syngnathid': 'SY',
  'hg-shark-ray': 'SR',
  'hg-small-fresh': 'TE',
  'hg-cichlid': 'LB',
  'hg-labyrinth': 'LB',
  'hg-goldfish': 'GF',
  'hg-scaleless': 'SC',
  'hg-shrimp': 'SH',
  'hg-snail': 'SN',
  'hg-coral': 'CO',
  'hg-plant': 'PL',
}
const AS_WRASSE = new Set(['formalin-bath', 'formalin-tank', 'peroxide-bath', 'acriflavine-bath'])
const codeOf = (form: string, group: string): string => {
  const column = group === 'hg-clown-damsel' && AS_WRASSE.has(form) ? 'WR' : COLUMN_OF[group]!
  return T6[form]!.split(' ')[COLUMNS.indexOf(column)]!
}

/** 31 T2 hard maxima, mg/L (formalin 0.403 mg for each µL), and T6 dose caps for code C. */
const HARD_MAX: Readonly<Record<string, number>> = {
  'copper-ionic': 0.25,
  'copper-chelated': 2.2,
  'copper-chelated-high': 2.8,
  'copper-amine': 0.6,
  chloroquine: 21,
  praziquantel: 5,
  fenbendazole: 4,
  levamisole: 5,
  'metronidazole-tank': 15,
  'formalin-tank': 10.1,
  'malachite-green': 0.1,
  'methylene-blue-tank': 3,
  'nitrofurazone-tank': 20,
  'kanamycin-tank': 100,
  'salt-tank': 5000,
}
const CAP_C: Readonly<Record<string, number>> = {
  chloroquine: 10,
  praziquantel: 2,
  levamisole: 1,
  'formalin-tank': 5.37,
  'malachite-green': 0.04,
  'salt-tank': 1000,
}
/** 31 T2 temperature rules: no dose above so many degrees. */
const NEVER_ABOVE: Readonly<Record<string, number>> = {
  chloroquine: 28,
  levamisole: 28,
  'formalin-tank': 27,
  'malachite-green': 28,
  'methylene-blue-tank': 28,
  'nitrofurazone-tank': 28,
}
const FRESH = new Set([
  'levamisole',
  'formalin-tank',
  'malachite-green',
  'methylene-blue-tank',
  'salt-tank',
  'salt-dip',
])
const waterFor = (form: string, group: string): 'marine' | 'fresh' | null => {
  const home = groups.find(({ id }) => id === group)!.water
  const own = FRESH.has(form) ? 'fresh' : form.startsWith('copper') ? 'marine' : null
  if (home === 'both') return own ?? 'marine'
  return own === null || own === home ? home : null
}

const doc = (register: string, id: string, body: object): RegisterDocument =>
  ({ register, id, revision: 1, savedAt: '2026-01-01T00:00:00.000Z', body, history: [] }) as unknown as RegisterDocument

interface Scene {
  readonly form: string
  readonly group: string
  readonly water: 'marine' | 'fresh'
  readonly warmth?: number | null
  readonly lives?: 'q' | 'd'
  readonly entries?: readonly Entry[]
  readonly extra?: readonly RegisterDocument[]
}
/** 100 L known to three per cent, one animal, one confirmed bottle of 10 mg in a mL: the act cases' own record. */
function scene({ form, group, water, warmth = 24, lives = 'q', entries = [], extra = [] }: Scene) {
  const one: ActCase = {
    id: 'x',
    title: '',
    record: {
      vessels: [
        { id: 'q', water, use: 'quarantine', litres: 100 },
        { id: 'd', water, use: 'quarantine', litres: 100 },
        { id: 'b', water, use: 'bath', litres: 10 },
      ],
      residents: [{ id: 'animal', vessel: lives, group }],
      bottles: [{ id: 'bottle', form, strength: '10 mg/mL', confirmed: true }],
    },
    act: { kind: 'dose' },
    expect: {},
  }
  const record = recordOfCase(one)
  const read =
    warmth === null
      ? []
      : ['q', 'd', 'b'].map((vesselId) =>
          entryAt(NOW - 2 * HOUR, {
            kind: 'reading',
            vesselId,
            analyte: 'temperature',
            value: warmth,
            unit: '°C',
            bound: 'exact',
          }),
        )
  const registers = [
    ...record.vessels.values(),
    ...record.residents.values(),
    ...record.products.values(),
    ...record.instruments.values(),
    ...extra,
  ]
  return recordOf(record.settings, registers, [...read, ...entries])
}
const dose = (form: string, mgPerL: number): Intent => ({
  kind: 'dose',
  vesselId: 'q',
  productId: 'bottle',
  form,
  // 100 L at 10 mg in a mL.
  amounts: [`${mgPerL * 10} mL`],
})
const told = (record: ReturnType<typeof scene>, intent: Intent) => {
  const made = answer(actContext(record, NOW), intent)
  return { verdict: verdictOf(made), rules: spoken(made).map(({ rule, level }) => `${level} ${rule}`), made }
}
const poured = (hoursAgo: number, mgPerL: number, form: string, vesselId = 'q') =>
  entryAt(NOW - hoursAgo * HOUR, { kind: 'dose', vesselId, productId: 'bottle', form, amount: mgPerL * 10, unit: 'mL' })

const inTank = Object.keys(HARD_MAX)
const pairs = inTank.flatMap((form) =>
  Object.keys(COLUMN_OF).flatMap((group) => {
    const water = waterFor(form, group)
    return water === null ? [] : [[form, group, water] as const]
  }),
)

describe('every form, every group', () => {
  test('the copy covers the shipped forms that the handbook knows', () => {
    const known = new Set(Object.keys(T6))
    const spots =
      /^(coral-|peroxide-spot|peroxide-empty|fenbendazole-shrimp|kanamycin-bath|nitrofurazone-short|florfenicol|oxytetracycline)/
    expect(agentForms.map(({ id }) => id).filter((id) => !known.has(id) && !spots.test(id))).toEqual([])
  })
  test.each(Object.keys(COLUMN_OF).filter((group) => group !== 'hg-plant' && waterFor('salt-tank', group) === 'fresh'))(
    'the whole tank in peroxide: never poured on %s, whatever is written',
    (group) => {
      const alone = told(
        scene({ form: 'peroxide-empty-fresh', group, water: 'fresh' }),
        dose('peroxide-empty-fresh', 60),
      )
      expect(alone.verdict).toBe('forbid')
      expect(alone.rules).toContain('forbid empty-tank')
    },
  )
  test.each(pairs)('%s with %s in %s water', (form, group, water) => {
    const code = codeOf(form, group)
    const fish = groups.find(({ id }) => id === group)!.kind === 'fish'
    const plant = group === 'hg-plant'
    const stops = code === 'X' ? (form.startsWith('copper') && !fish && !plant ? 'forbid' : 'block') : null
    // Fenbendazole with shrimps: 0.6 mg/L and no more (31 T6, 50.13).
    const shrimps = form === 'fenbendazole' && group === 'hg-shrimp' ? 0.6 : Infinity
    const low = Math.min(0.2 * HARD_MAX[form]!, 0.9 * shrimps)
    // Alone.
    const alone = told(scene({ form, group, water }), dose(form, low))
    if (stops) expect([form, group, alone.verdict]).toEqual([form, group, stops])
    else {
      expect(alone.rules.filter((rule) => /^(block|forbid)/.test(rule))).toEqual([])
      expect(alone.rules.includes('warn caution')).toBe(code === 'C' || code === '?')
    }
    if (!stops) {
      const cap =
        code === 'C' || code === '?' ? Math.min(HARD_MAX[form]!, CAP_C[form] ?? Infinity, shrimps) : HARD_MAX[form]!
      const blocked = (record: ReturnType<typeof scene>, mgPerL: number) =>
        told(record, dose(form, mgPerL)).rules.includes('block safe-ceiling')
      // The ceiling: 3 % of doubt in the volume takes 3.9 % off the hard maximum at its low end.
      const inside = Math.min(cap, 0.955 * HARD_MAX[form]!)
      expect([form, group, blocked(scene({ form, group, water }), inside * 0.999)]).toEqual([form, group, false])
      expect([form, group, blocked(scene({ form, group, water }), cap * 1.01)]).toEqual([form, group, true])
      // After an earlier dose of the same an hour ago: what is there counts.
      const after = scene({ form, group, water, entries: [poured(1, inside * 0.6, form)] })
      expect([form, group, 'after a dose', blocked(after, cap * 0.5)]).toEqual([form, group, 'after a dose', true])
      // After a change of half of it: it counts by half.
      const changed = scene({
        form,
        group,
        water,
        entries: [poured(2, inside * 0.6, form), entryAt(NOW - HOUR, { kind: 'change', vesselId: 'q', fraction: 0.9 })],
      })
      expect([form, group, 'after a change', blocked(changed, inside * 0.8)]).toEqual([
        form,
        group,
        'after a change',
        false,
      ])
    }
    // Moved in a day ago: treated as sensitive as it is.
    const move = entryAt(NOW - 24 * HOUR, { kind: 'move', vesselId: 'd', residentId: 'animal', toVesselId: 'q' })
    const movedIn = told(scene({ form, group, water, lives: 'd', entries: [move] }), dose(form, low))
    expect([form, group, 'moved in', movedIn.verdict]).toEqual([form, group, 'moved in', alone.verdict])
    // And moved into water that holds the form already.
    const into = told(scene({ form, group, water, lives: 'd', entries: [poured(1, low, form)] }), {
      kind: 'move',
      vesselId: 'd',
      residents: [{ id: 'animal' }],
      toVesselId: 'q',
    })
    if (stops) expect([form, group, 'into it', into.verdict]).toEqual([form, group, 'into it', stops])
    else expect(into.rules.filter((rule) => /(contraindicated|cu-invertebrates)/.test(rule))).toEqual([])
  })
})

describe('warmth', () => {
  test.each(Object.entries(NEVER_ABOVE))(
    '%s is never given above %d degrees, and asked without a reading of the day',
    (form, top) => {
      const water = FRESH.has(form) ? 'fresh' : 'marine'
      const group = water === 'fresh' ? 'hg-goldfish' : 'hg-tang'
      const low = dose(form, 0.2 * HARD_MAX[form]!)
      expect(told(scene({ form, group, water, warmth: top - 0.5 }), low).rules).not.toContain('block safe-ceiling')
      expect(told(scene({ form, group, water, warmth: top + 0.5 }), low).rules).toContain('block safe-ceiling')
      const unread = told(scene({ form, group, water, warmth: null }), low)
      expect([form, unread.verdict, unread.rules.includes('ask temperature-unknown')]).toEqual([form, 'ask', true])
      const old = entryAt(NOW - 25 * HOUR, {
        kind: 'reading',
        vesselId: 'q',
        analyte: 'temperature',
        value: 24,
        unit: '°C',
        bound: 'exact',
      })
      expect(told(scene({ form, group, water, warmth: null, entries: [old] }), low).verdict).toBe('ask')
      // A temperature typed on the spot answers it, and is logged with the dose.
      const typed = told(scene({ form, group, water, warmth: null }), { ...low, temperature: '24' } as Intent)
      expect(typed.rules).not.toContain('ask temperature-unknown')
      expect(typed.made.drafts.map(({ kind }) => kind)).toEqual(['reading', 'dose'])
    },
  )
  test('ionic copper stays at the low end above 27 degrees, malachite at half above 26', () => {
    const at = (form: string, group: string, water: 'marine' | 'fresh', warmth: number, mgPerL: number) =>
      told(scene({ form, group, water, warmth }), dose(form, mgPerL)).rules.includes('block safe-ceiling')
    expect([
      at('copper-ionic', 'hg-tang', 'marine', 26, 0.18),
      at('copper-ionic', 'hg-tang', 'marine', 27.5, 0.18),
    ]).toEqual([false, true])
    expect(at('copper-ionic', 'hg-tang', 'marine', 27.5, 0.155)).toBe(false)
    expect([
      at('malachite-green', 'hg-goldfish', 'fresh', 25, 0.08),
      at('malachite-green', 'hg-goldfish', 'fresh', 26.5, 0.08),
    ]).toEqual([false, true])
  })
})

/** Timed baths: 31 T2, T4, T6, §7. Level, minutes, warmth, group, and the verdict that is due at the least or at the most. */
const BATHS: readonly (readonly [string, string, number, number, number, 'least' | 'most', string])[] = [
  ['peroxide-bath', 'hg-tang', 75, 30, 25, 'most', 'warn'],
  ['peroxide-bath', 'hg-tang', 75, 36, 25, 'least', 'block'],
  ['peroxide-bath', 'hg-tang', 75, 30, 27, 'least', 'block'],
  ['peroxide-bath', 'hg-tang', 50, 30, 27, 'most', 'warn'],
  ['peroxide-bath', 'hg-tang', 50, 30, 29, 'least', 'block'],
  ['peroxide-bath', 'hg-tang', 160, 30, 25, 'least', 'block'],
  ['peroxide-bath', 'hg-wrasse', 75, 30, 25, 'least', 'block'],
  ['peroxide-bath', 'hg-wrasse', 50, 30, 25, 'most', 'warn'],
  ['peroxide-bath', 'hg-clown-damsel', 75, 30, 25, 'least', 'block'],
  ['methylene-blue-bath', 'hg-tang', 30, 30, 25, 'most', 'warn'],
  ['methylene-blue-bath', 'hg-tang', 50, 30, 25, 'least', 'block'],
  ['methylene-blue-bath', 'hg-dragonet', 30, 30, 25, 'least', 'block'],
  ['methylene-blue-bath', 'hg-tang', 30, 30, 28.5, 'least', 'block'],
  ['formalin-bath', 'hg-tang', 60, 45, 23, 'least', 'block'],
  ['formalin-bath', 'hg-tang', 40, 45, 23, 'most', 'warn'],
  ['formalin-bath', 'hg-tang', 40, 30, 26, 'least', 'block'],
  ['formalin-bath', 'hg-tang', 27, 30, 26, 'most', 'warn'],
  ['formalin-bath', 'hg-tang', 27, 30, 27.5, 'least', 'block'],
  ['acriflavine-bath', 'hg-tang', 5, 60, 25, 'most', 'warn'],
  ['acriflavine-bath', 'hg-tang', 5, 60, 27.5, 'least', 'block'],
]
const GRAVITY = ['pass', 'warn', 'ask', 'block', 'forbid']
describe('timed baths', () => {
  const bath = (form: string, mgPerL: number, minutes: number): Intent => ({
    kind: 'bath',
    vesselId: 'b',
    rule: 'bath',
    residentIds: ['animal'],
    litres: 10,
    productId: 'bottle',
    form,
    mgPerL,
    minutes,
  })
  test.each(BATHS)(
    '%s, %s, %d mg/L for %d min at %d degrees: at %s %s',
    (form, group, mgPerL, minutes, warmth, which, verdict) => {
      const found = told(scene({ form, group, water: 'marine', warmth }), bath(form, mgPerL, minutes))
      const at = GRAVITY.indexOf(found.verdict)
      if (which === 'least') expect([found.rules, at >= GRAVITY.indexOf(verdict)]).toEqual([found.rules, true])
      else expect([found.rules, at <= GRAVITY.indexOf(verdict)]).toEqual([found.rules, true])
    },
  )
  test('formalin for cold goldfish may reach 250 µL/L, and no more than 150 above 21 degrees', () => {
    const at = (warmth: number, mgPerL: number) =>
      told(
        scene({ form: 'formalin-bath', group: 'hg-goldfish', water: 'fresh', warmth }),
        bath('formalin-bath', mgPerL, 45),
      ).rules
    expect(at(20, 80)).not.toContain('block safe-ceiling')
    expect(at(20, 110)).toContain('block safe-ceiling')
    expect(at(23, 80)).toContain('block safe-ceiling')
  })
  test('a bath anywhere counts for the same animal for a day, a dip for an hour before a bath', () => {
    const before = (hoursAgo: number, residentIds: string[]) => [
      entryAt(NOW - hoursAgo * HOUR - 0.5 * HOUR, {
        kind: 'bath',
        vesselId: 'b',
        act: 'start',
        rule: 'r',
        productId: 'bottle',
        amount: 75,
        unit: 'mL',
        residentIds,
      }),
      entryAt(NOW - hoursAgo * HOUR, { kind: 'bath', vesselId: 'b', act: 'end', rule: 'r', minutes: 30, residentIds }),
    ]
    const again = (hoursAgo: number, ids: string[]) =>
      told(
        scene({ form: 'peroxide-bath', group: 'hg-tang', water: 'marine', warmth: 25, entries: before(hoursAgo, ids) }),
        bath('peroxide-bath', 75, 30),
      ).rules
    expect(again(3, ['animal'])).toContain('block cx-bath-day')
    expect(again(25, ['animal'])).not.toContain('block cx-bath-day')
    expect(again(3, ['somebody-else'])).not.toContain('block cx-bath-day')
  })
})

/** Handbook 30 §5.7 with both parties in one water: what is there, what comes, the verdict it means here. */
const PAIRS: readonly (readonly [string, string, 'forbid' | 'block' | 'warn' | 'none'])[] = [
  ['copper-chelated-high', 'copper-amine', 'forbid'],
  ['copper-chelated-high', 'chloroquine', 'block'],
  ['copper-chelated-high', 'praziquantel', 'warn'],
  ['copper-chelated-high', 'nitrofurazone-tank', 'warn'],
  ['copper-chelated-high', 'peroxide-spot-marine', 'forbid'],
  ['chloroquine', 'praziquantel', 'warn'],
  ['chloroquine', 'kanamycin-tank', 'warn'],
  ['praziquantel', 'fenbendazole', 'warn'],
  ['kanamycin-tank', 'nitrofurazone-tank', 'warn'],
  ['metronidazole-tank', 'praziquantel', 'block'],
]
const FRESH_PAIRS: readonly (readonly [string, string, 'forbid' | 'block' | 'warn' | 'none'])[] = [
  ['formalin-tank', 'malachite-green', 'none'],
  ['formalin-tank', 'peroxide-spot-fresh', 'forbid'],
  ['praziquantel', 'formalin-tank', 'block'],
  ['praziquantel', 'levamisole', 'warn'],
  ['levamisole', 'fenbendazole', 'warn'],
  ['salt-tank', 'kanamycin-tank', 'none'],
  ['formalin-tank', 'salt-tank', 'none'],
]
describe('what may meet what in one water', () => {
  const meet = (first: string, second: string, water: 'marine' | 'fresh') => {
    const group = water === 'marine' ? 'hg-tang' : 'hg-goldfish'
    const agent = agentForms.find(({ id }) => id === first)!.agent
    const record = scene({ form: first, group, water, entries: [poured(2, 0.5 * (HARD_MAX[first] ?? 1), first)] })
    const other = doc('product', 'other', { ...record.products.get('bottle')!.body, name: 'other', form: second })
    const lawful = {
      ...record.settings,
      law: { country: 'Here', answers: Object.fromEntries(agentForms.map((one) => [one.agent, 'lawful' as const])) },
    }
    const whole = recordOf(
      lawful,
      [...record.vessels.values(), ...record.residents.values(), ...record.products.values(), other],
      record.entries,
    )
    const intent: Intent = {
      kind: 'dose',
      vesselId: 'q',
      productId: 'other',
      form: second,
      amounts: [`${0.1 * (HARD_MAX[second] ?? 1)} mL`],
    }
    return told(whole, intent).rules.filter(
      (rule) => / cx-/.test(rule) || (rule.includes('other-bottle') && agent === ''),
    )
  }
  const cases = [
    ...PAIRS.map((pair) => [...pair, 'marine'] as const),
    ...FRESH_PAIRS.map((pair) => [...pair, 'fresh'] as const),
  ]
  test.each(cases)('%s in the water, then %s: %s', (first, second, verdict, water) => {
    const levels = meet(first, second, water).map((rule) => rule.split(' ')[0])
    expect([first, second, levels]).toEqual([first, second, verdict === 'none' ? [] : [verdict]])
  })

  const switched = (form: string, water: 'marine' | 'fresh', item: string) =>
    told(
      scene({
        form,
        group: water === 'marine' ? 'hg-tang' : 'hg-goldfish',
        water,
        entries: [poured(2, 0.5 * HARD_MAX[form]!, form)],
      }),
      {
        kind: 'equipment',
        vesselId: 'q',
        item: item as never,
        on: true,
      },
    ).verdict
  test.each([
    ['copper-chelated-high', 'marine', 'binder', 'forbid'],
    ['copper-chelated-high', 'marine', 'carbon', 'block'],
    ['copper-chelated-high', 'marine', 'uv', 'block'],
    ['copper-chelated-high', 'marine', 'skimmer', 'pass'],
    ['chloroquine', 'marine', 'light', 'block'],
    ['chloroquine', 'marine', 'carbon', 'block'],
    ['praziquantel', 'marine', 'skimmer', 'block'],
    ['praziquantel', 'marine', 'carbon', 'block'],
    ['salt-tank', 'fresh', 'zeolite', 'block'],
    ['methylene-blue-tank', 'fresh', 'carbon', 'warn'],
    ['kanamycin-tank', 'fresh', 'biofilter', 'warn'],
  ] as const)('%s in %s water, then %s on: %s', (form, water, item, verdict) =>
    expect([form, item, switched(form, water, item)]).toEqual([form, item, verdict]),
  )
  test('low salt and low alkalinity are parties too', () => {
    const read = (analyte: string, value: number, unit: string) =>
      entryAt(NOW - HOUR, { kind: 'reading', vesselId: 'q', analyte, value, unit, bound: 'exact' })
    const copper = (form: string, entry: Entry) =>
      told(scene({ form, group: 'hg-tang', water: 'marine', entries: [entry] }), dose(form, 0.1 * HARD_MAX[form]!))
        .verdict
    expect(copper('copper-chelated-high', read('salinity', 12, 'PSU'))).toBe('block')
    expect(copper('copper-chelated-high', read('salinity', 26, 'PSU'))).toBe('warn')
    expect(copper('copper-chelated-high', read('salinity', 34, 'PSU'))).toBe('pass')
    expect(copper('copper-ionic', read('alkalinity', 5.5, 'dKH'))).toBe('block')
    expect(copper('copper-chelated', read('alkalinity', 5.5, 'dKH'))).toBe('warn')
    expect(copper('copper-ionic', read('alkalinity', 7.5, 'dKH'))).toBe('pass')
    expect(
      told(
        scene({ form: 'chloroquine', group: 'hg-tang', water: 'marine', entries: [read('salinity', 12, 'PSU')] }),
        dose('chloroquine', 5),
      ).verdict,
    ).toBe('block')
  })
  test('formalin with malachite lowers both for animals that need caution, and stops above 26 degrees', () => {
    const beside = (group: string, warmth: number, mgPerL: number) => {
      const record = scene({
        form: 'malachite-green',
        group,
        water: 'fresh',
        warmth,
        entries: [poured(1, 0.03, 'malachite-green')],
      })
      const formalin = doc('product', 'other', {
        ...record.products.get('bottle')!.body,
        name: 'formalin',
        form: 'formalin-tank',
      })
      const whole = recordOf(
        record.settings,
        [...record.vessels.values(), ...record.residents.values(), ...record.products.values(), formalin],
        record.entries,
      )
      return told(whole, {
        kind: 'dose',
        vesselId: 'q',
        productId: 'other',
        amounts: [`${mgPerL * 10} mL`],
      }).rules.includes('block safe-ceiling')
    }
    expect([beside('hg-goldfish', 24, 5), beside('hg-scaleless', 24, 5), beside('hg-scaleless', 24, 3.9)]).toEqual([
      false,
      true,
      false,
    ])
    expect(beside('hg-goldfish', 26.5, 5)).toBe(true)
  })
})
