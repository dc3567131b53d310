// What is offered passes and one graduation more does not: random tanks, animals, warmth, earlier doses and changes. The
// largest rise is worked out a second time by hand, at the low end of the water.
import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { actContext, agentForms, answer, groups, type Intent } from '../src/index.ts'
import { mostInside } from '../src/safety/limits.ts'
import { roomIn } from '../src/safety/room.ts'
import { NOW, recordOfCase, type ActCase } from './acts/runActs.ts'

const POURED = agentForms.filter(({ route, band }) => route === 'in-tank' && band.max < 2000)
const FISH = groups.filter(({ kind }) => kind === 'fish').map(({ id }) => id)

const house = fc.record({
  form: fc.constantFrom(...POURED),
  group: fc.constantFrom(...FISH),
  litres: fc.integer({ min: 8, max: 900 }),
  /** Millilitres for a twentieth of the upper band: from a weak bottle to a strong one. */
  thickness: fc.double({ min: 0.02, max: 40, noNaN: true }),
  warmth: fc.integer({ min: 18, max: 31 }),
  earlier: fc.array(
    fc.record({ hoursAgo: fc.integer({ min: 3, max: 200 }), share: fc.double({ min: 0.05, max: 0.7, noNaN: true }) }),
    { maxLength: 2 },
  ),
  change: fc.option(fc.integer({ min: 10, max: 80 })),
})

describe('the ceiling of a dose', () => {
  test('the most that fits passes it, one graduation more does not, by a level kept by hand', () => {
    let fitted = 0
    let full = 0
    fc.assert(
      fc.property(house, ({ form, group, litres, thickness, warmth, earlier, change }) => {
        const water = form.water === 'fresh' ? 'fresh' : 'marine'
        // From very thin to as thick as a solution can be.
        const strength = Number(Math.min(400, Math.max(0.05, (form.band.max * litres) / thickness / 20)).toPrecision(3))
        const one: ActCase = {
          id: 'x',
          title: '',
          record: {
            vessels: [{ id: 'q', water, use: 'quarantine', litres }],
            residents: [{ id: 'f', vessel: 'q', group }],
            bottles: [{ id: 'b', form: form.id, strength: `${strength} mg/mL`, confirmed: true }],
            done: [
              ...earlier.map(({ hoursAgo, share }) => ({
                kind: 'dose',
                hoursAgo,
                vessel: 'q',
                bottle: 'b',
                amount: `${Number(((share * form.band.max * litres) / strength).toPrecision(3))} mL`,
              })),
              ...(change === null ? [] : [{ kind: 'change', hoursAgo: 2, vessel: 'q', share: change / 100 }]),
              { kind: 'reading', hoursAgo: 1, vessel: 'q', analyte: 'temperature', value: warmth, unit: '°C' },
            ],
          },
          act: { kind: 'dose' },
          expect: {},
        }
        const record = recordOfCase(one)
        const context = actContext(record, NOW)
        const room = roomIn({ record, active: context.active }, {
          vesselId: 'q',
          form,
          atMs: NOW,
          nowMs: NOW,
          contentMg: strength,
          known: [],
        } as never)!
        const { amount, step } = mostInside(room, 'mL', record.settings.syringesMl)
        const over = (millilitres: number) => {
          const intent: Intent = {
            kind: 'dose',
            vesselId: 'q',
            productId: 'b',
            form: form.id,
            amounts: [`${Number(millilitres.toPrecision(12))} mL`],
          }
          const said = answer(context, intent)
          expect(said.problem).toBeNull()
          return said.refusals.some(({ rule }) => rule === 'safe-ceiling')
        }
        if (amount > 0) {
          fitted++
          expect([form.id, group, amount, over(amount)]).toEqual([form.id, group, amount, false])
        } else full++
        expect([form.id, group, amount, step, over(amount + step)]).toEqual([form.id, group, amount, step, true])
        // By hand: what is added stays under the hard maximum, in three per cent less water too, whatever stood before.
        expect((amount * strength) / (0.97 * litres)).toBeLessThanOrEqual(form.hardMax * (1 + 1e-9))
      }),
      { numRuns: 400, seed: 29 },
    )
    expect(fitted).toBeGreaterThan(150)
    expect(full).toBeGreaterThan(5)
  })
})
