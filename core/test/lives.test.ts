// A sample of lives: what a keeper was told made sense at every look, and the course came to its end.
import { describe, expect, test } from '@jest/globals'
import { protocolOf, toFile, type Step } from '@brinvo/core'
import { readFile } from '@brinvo/core/file'
import { KEEPERS } from '../lives/keepers.ts'
import { live } from '../lives/life.ts'
import { pressOf } from '../src/practice/press.ts'
import { sceneFor, START } from '../lives/scene.ts'
import { chanceFrom } from '../src/world/random.ts'
import { readWith } from '../src/world/instruments.ts'
import { grow } from '../src/world/life.ts'
import { change, hour, pour, tankOf, trulyIn } from '../src/world/tank.ts'

/** Courses without a level estimate: each is lived in about a second. */
const SAMPLE = [
  ['praziquantel-twice', 'forgetful'],
  ['dark-3', 'exact'],
  ['jar-fenbendazole-planaria', 'exact'],
  ['tank-transfer-72', 'late'],
  ['methylene-blue-bath', 'exact'],
] as const

describe('lived to its end', () => {
  test.each(SAMPLE)('%s, by a keeper who is %s', (id, who) => {
    const life = live({ protocol: protocolOf(id)!, keeper: KEEPERS[who], seed: 3 })
    expect(life.violations).toEqual([])
    expect(life.days).not.toBeNull()
  })
  test('the lived record is exported and read back as it was, and the same life is lived twice', () => {
    const once = live({ protocol: protocolOf('praziquantel-twice')!, keeper: KEEPERS.sloppy, seed: 5 })
    const twice = live({ protocol: protocolOf('praziquantel-twice')!, keeper: KEEPERS.sloppy, seed: 5 })
    expect(twice.days).toBe(once.days)
    expect(twice.record.entries).toEqual(once.record.entries)
    const back = readFile(JSON.stringify(toFile(once.record, '2026-06-01T00:00:00.000Z')))
    expect([back.ok, back.problems]).toEqual([true, []])
    expect(back.file!.entries).toEqual(once.record.entries)
  })
  test('hours of lowered salinity are earned by readings: a month read too high earns nothing', () => {
    const life = live({ protocol: protocolOf('hyposalinity-30')!, keeper: KEEPERS.exact, seed: 2, maxDays: 90 })
    const held = life.record.entries.flatMap((entry) =>
      entry.kind === 'reading' && entry.analyte === 'salinity' ? [entry.value] : [],
    )
    expect(Math.min(...held)).toBeLessThanOrEqual(13)
    expect(life.days).toBeGreaterThan(55)
  })
})

describe('the world, by hand', () => {
  const truth = {
    water: 'marine' as const,
    netL: 100,
    evaporationLPerDay: 0,
    bindsPerDay: 0,
    releasesPerDay: 0,
    usePerDay: { alkalinity: 0.24 },
    wasteMgPerDay: 0,
    filterMgPerDay: 0,
    roomC: 25,
    swingC: 0,
  }
  test('a dose is mass over volume, a half change halves it, salt stays when water goes', () => {
    const tank = tankOf(truth, chanceFrom(1))
    pour(tank, 'copper', 200)
    expect(trulyIn(tank, 'copper')).toBeCloseTo(2, 9)
    change(tank, 50)
    expect(trulyIn(tank, 'copper')).toBeCloseTo(1, 9)
    const dry = tankOf({ ...truth, evaporationLPerDay: 2.4 }, chanceFrom(1))
    for (let i = 0; i < 10; i++) hour(dry)
    // 1 L of 100 went: 35 becomes 35.35.
    expect(trulyIn(dry, 'salinity')).toBeCloseTo(35 / 0.99, 6)
  })
  test('use adds up', () => {
    const tank = tankOf(truth, chanceFrom(4))
    for (let i = 0; i < 240; i++) hour(tank)
    expect(trulyIn(tank, 'alkalinity')).toBeCloseTo(2.9 - 2.4, 6)
  })
  test.each([
    // Published half-lives, days: in water 1 to 6, out of food half a day to one; copper as amine 20 to 40, ionic 2 to 5.
    ['praziquantel', 'praziquantel', 1, 6],
    ['praziquantel', 'praziquantel-food', 0.5, 1],
    ['copper', 'copper-amine', 20, 40],
    ['copper', 'copper-ionic', 2, 5],
  ])('%s as %s halves within its own half-lives', (agent, form, low, high) => {
    for (let seed = 1; seed <= 8; seed++) {
      const tank = tankOf(truth, chanceFrom(seed))
      pour(tank, agent, 250, form)
      const before = trulyIn(tank, agent)
      for (let i = 0; i < 24; i++) hour(tank)
      const left = trulyIn(tank, agent) / before
      expect(left).toBeGreaterThanOrEqual(2 ** (-1 / low) - 1e-9)
      expect(left).toBeLessThanOrEqual(2 ** (-1 / high) + 1e-9)
    }
  })
  test('a kit with a bias is off by it however often it is asked; below its floor it says so', () => {
    const chance = chanceFrom(9)
    const kit = { step: 0.01, relative: 0.02, bias: 1.1, floor: 0.05 }
    const mean = Array.from({ length: 400 }, () => readWith(kit, 2, chance).value).reduce((a, b) => a + b, 0) / 400
    expect(mean).toBeGreaterThan(2.18)
    expect(mean).toBeLessThan(2.22)
    expect(readWith(kit, 0.001, chance)).toEqual({ value: 0.05, bound: 'below' })
  })
})

describe('the film', () => {
  // Logistic, by hand: cover + cover × (rate × room − loss) ÷ 24; Monod with halves of 1, 0.02 and 0.5 mg/L.
  const tank = (nitrate: number, phosphate: number, silicate: number) =>
    ({ solutes: { nitrate, phosphate, silicate } }) as never
  const after = (film: object, water: never, light: number) => {
    const made = { diatoms: 0, dinoflagellates: 0, cyanobacteria: 0, greens: 0, ...film }
    grow(made, water, light)
    return made
  }
  test('diatoms need silicate, light and food', () => {
    const rich = after({ diatoms: 0.1 }, tank(1, 0.02, 0.5), 1)
    expect(rich.diatoms).toBeCloseTo(0.1 + (0.1 * (0.9 * 0.5 * 0.5 * 0.9 - 0.12)) / 24, 9)
    expect(after({ diatoms: 0.1 }, tank(1, 0.02, 0), 1).diatoms).toBeCloseTo(0.1 - (0.1 * 0.12) / 24, 9)
    expect(after({ diatoms: 0.1 }, tank(1, 0.02, 0.5), 0).diatoms).toBeCloseTo(0.1 - (0.1 * 0.12) / 24, 9)
    expect(after({ diatoms: 0.1 }, tank(0, 0.02, 0.5), 1).diatoms).toBeCloseTo(0.1 - (0.1 * 0.12) / 24, 9)
  })
  test('dinoflagellates grow where food is short, and a full rock leaves room for nothing', () => {
    const poor = after({ dinoflagellates: 0.1 }, tank(0, 0, 0), 1).dinoflagellates
    expect(poor).toBeCloseTo(0.1 + (0.1 * (0.5 * 1 * 0.9 - 0.12)) / 24, 9)
    expect(poor).toBeGreaterThan(after({ dinoflagellates: 0.1 }, tank(20, 0.5, 0), 1).dinoflagellates)
    const full = after({ dinoflagellates: 0.5, greens: 0.5 }, tank(5, 0.1, 1), 1)
    expect(full.dinoflagellates).toBeCloseTo(0.5 - (0.5 * 0.12) / 24, 9)
  })
})

test('what is done where a moved animal lives now is done to that water, and not to the one it left', () => {
  const protocol = protocolOf('copper-14-move')!
  const scene = sceneFor({ protocol, seed: 1, messy: false })
  const { tank, other } = scene.world
  for (const one of [tank, other]) pour(one, 'copper', 2 * one.litres, 'copper-amine')
  const step = { key: 'c/out/1', kind: 'change', state: 'due', change: { fraction: 0.5 } }
  const done = (vesselId: string) =>
    pressOf(scene, scene.record, protocol, { ...step, vesselId } as unknown as Step, false, START)!.act!()
  done('elsewhere')
  expect(trulyIn(tank, 'copper')).toBeCloseTo(2, 6)
  expect(trulyIn(other, 'copper')).toBeLessThan(1.2)
  done(scene.vesselId)
  expect(trulyIn(tank, 'copper')).toBeLessThan(1.2)
})
