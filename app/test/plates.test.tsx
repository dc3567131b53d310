import { describe, expect, test } from '@jest/globals'
import { render } from '@testing-library/react'
import Ajv from 'ajv'
import { signOf, signsOf } from '@brinvo/core'
import schema from '../src/plates/plate.schema.json' with { type: 'json' }
import { GROUNDS, PlateView, SHELVES } from '../src/plates/Plate.tsx'
import { FIELD_UM, ORGANISMS, cellsOf, chanceOf, organismOf, swim } from '../src/plates/swim.ts'

const all = Object.values(SHELVES).flat()
const numbers = (d: string) => [...d.matchAll(/-?\d+(?:\.\d+)?/g)].map(([n]) => Number(n))

describe('plates', () => {
  test('hold to their schema, and name grounds and parts that there are', () => {
    const check = new Ajv({ strict: false }).compile(schema)
    for (const [shelf, plates] of Object.entries(SHELVES))
      expect([shelf, check(plates), check.errors]).toEqual([shelf, true, null])
    for (const { id, ground, without = [] } of all)
      for (const part of without)
        expect([id, part === 'outline' || GROUNDS[ground].parts[part] !== undefined]).toEqual([id, true])
  })
  test('as many as are wanted: thirty signs on fish, five forms of coral, twenty-five pests, fifteen growths, ten that move', () => {
    expect(SHELVES.fish.length).toBeGreaterThanOrEqual(30)
    expect(new Set(SHELVES.coral.map(({ ground }) => ground)).size).toBe(5)
    expect(SHELVES.pests.length).toBeGreaterThanOrEqual(25)
    expect(SHELVES.growths.length).toBeGreaterThanOrEqual(15)
    expect(ORGANISMS.length).toBeGreaterThanOrEqual(10)
  })
  test('each stands for one sign that there is, or for a form in health; none twice', () => {
    expect(new Set(all.map(({ id }) => id)).size).toBe(all.length)
    expect(all.filter(({ id }) => signOf(id) === undefined).map(({ id }) => id)).toEqual([
      'healthy-branch',
      'healthy-plate',
      'healthy-fleshy',
      'healthy-leather',
      'healthy-mat',
    ])
  })
  test('what is seen on a fish by eye or torch has a plate, and so has each of its pairs that are mixed up', () => {
    const drawn = new Set(all.map(({ id }) => id))
    const bare = [...new Set([...signsOf('fish-marine'), ...signsOf('fish-fresh')])]
      .filter(({ kind, look }) => kind === 'physical' && look !== 'DIP' && look !== 'LOG')
      .filter(({ id }) => !drawn.has(id))
      .map(({ id }) => id)
    expect(bare).toEqual([])
  })
  test('nothing is drawn far outside its sheet', () => {
    for (const { id, ground, layers } of all) {
      const [width, height] = GROUNDS[ground].box
      for (const { c, dots, d } of layers) {
        if (c) expect([id, c[0] > 0 && c[0] < width && c[1] > 0 && c[1] < height]).toEqual([id, true])
        if (dots) expect([id, dots[2] + dots[4] <= width && dots[3] + dots[5] <= height]).toEqual([id, true])
        if (d) expect([id, Math.max(...numbers(d).map(Math.abs)) <= width]).toEqual([id, true])
      }
    }
  })
  test('a plate leaves out what it draws itself, and a small one has a heavier line', () => {
    const { container } = render(<PlateView id="fins-clamped" width={220} />)
    const { container: small } = render(<PlateView id="fins-clamped" width={64} />)
    const strokes = (root: Element) =>
      [...root.querySelectorAll('path')].map((path) => Number(path.getAttribute('stroke-width')))
    expect(container.innerHTML).not.toContain(GROUNDS.fish.parts['dorsal'])
    expect(container.innerHTML).toContain(GROUNDS.fish.parts['gill'])
    expect(Math.max(...strokes(small))).toBeGreaterThan(Math.max(...strokes(container)))
  })
})

describe('what swims', () => {
  const HEIGHT = 280
  /** Ways of each cell over so many seconds in steps of a fiftieth, µm, through the walls of the field. */
  function followed(id: string, seconds: number) {
    const organism = organismOf(id)!
    const chance = chanceOf(5)
    const cells = cellsOf(organism, HEIGHT, chance)
    const ways = cells.map(() => 0)
    const turned = cells.map(() => 0)
    for (let t = 0; t < seconds; t += 0.02)
      cells.forEach((cell, i) => {
        const before = { ...cell }
        swim(cell, organism.motion, 0.02, HEIGHT, chance)
        const across = (a: number, b: number, size: number) => Math.min(Math.abs(a - b), size - Math.abs(a - b))
        ways[i]! += Math.hypot(across(cell.x, before.x, FIELD_UM), across(cell.y, before.y, HEIGHT))
        turned[i]! += Math.abs(cell.spin - before.spin)
        expect(cell.x >= 0 && cell.x < FIELD_UM && cell.y >= 0 && cell.y < HEIGHT).toBe(true)
      })
    return { organism, cells, ways, turned, seconds }
  }
  test.each(ORGANISMS.map(({ id }) => id))('%s keeps to its published size, aspect and speed', (id) => {
    const { organism, cells, ways, seconds } = followed(id, 20)
    for (const [i, { lengthUm, widthUm }] of cells.entries()) {
      expect(lengthUm).toBeGreaterThanOrEqual(organism.lengthUm[0])
      expect(lengthUm).toBeLessThanOrEqual(organism.lengthUm[1])
      expect(lengthUm / widthUm).toBeGreaterThanOrEqual(organism.aspect[0] - 1e-9)
      expect(lengthUm / widthUm).toBeLessThanOrEqual(organism.aspect[1] + 1e-9)
      // With its stops it is slower on the whole, and never faster than a shiver allows.
      expect(ways[i]! / seconds).toBeLessThanOrEqual(1.5 * organism.speedUmPerS[1] + 1e-9)
    }
    if (organism.motion === 'still') expect(Math.max(...ways)).toBe(0)
    else expect(Math.min(...ways)).toBeGreaterThan(0)
  })
  test('a teardrop spins about its point and stays there, then darts; a needle goes both ways along itself', () => {
    const { ways, turned } = followed('ostreopsis', 20)
    expect(Math.min(...turned)).toBeGreaterThan(4 * Math.PI)
    expect(Math.max(...ways)).toBeLessThan(0.6 * 20 * 250)
    const chance = chanceOf(3)
    const needle = organismOf('diatom')!
    const [cell] = cellsOf(needle, HEIGHT, chance)
    const heading = cell!.heading
    const along: number[] = []
    for (let t = 0; t < 20; t += 0.05) {
      const { x } = cell!
      swim(cell!, needle.motion, 0.05, HEIGHT, chance)
      along.push(Math.sign(cell!.x - x))
    }
    expect(cell!.heading).toBe(heading)
    expect(new Set(along.filter((way) => way !== 0)).size).toBe(2)
  })
  test('the same seed shows the same field', () => {
    const of = () => cellsOf(organismOf('coolia')!, HEIGHT, chanceOf(11)).map(({ x, y }) => [x, y])
    expect(of()).toEqual(of())
  })
})
