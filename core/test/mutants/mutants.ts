// Mutated record files through the import path: what is accepted must open every page's functions, in time, without NaN.
import {
  activeOf,
  actContext,
  answer,
  ammoniaWatchOf,
  breathingOf,
  concernsOf,
  courseInputs,
  createPlanner,
  estimateCourse,
  instantOf,
  levelsIn,
  randomFrom,
  recordOf,
  residentDays,
  residentVessels,
  runningCourses,
  toFile,
  vesselVolume,
  type KeeperRecord,
} from '../../src/index.ts'
import { demoRecord } from '../../src/demo.ts'
import { readFile } from '../../src/file.ts'
import { NOW } from '../acts/runActs.ts'

type Random = () => number
const DAY = 86_400_000
const STRANGE: readonly unknown[] = [
  0,
  -1,
  -0,
  1e308,
  -1e308,
  5e-324,
  1e21,
  0.1,
  37,
  null,
  true,
  '',
  ' ',
  'x'.repeat(5000),
  '1e999',
  'NaN',
  '2026-02-30T00:00:00.000Z',
  '0000-01-01T00:00:00.000Z',
  '9999-12-31T23:59:59.999Z',
  '2026-11-27',
  'Europe/Atlantis',
  '\u0000',
  '\ud800',
  '__proto__',
  [],
  {},
  [[[[[[[[]]]]]]]],
]

/** One fault somewhere in a file's value: a value swapped, a key gone, a line doubled, two lines exchanged. */
function hurt(root: unknown, random: Random): void {
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!
  let at = root as Record<string, unknown> | unknown[]
  for (let depth = 0; depth < 12; depth++) {
    const keys = Object.keys(at)
    if (keys.length === 0) return
    const key = pick(keys) as never
    const value = (at as Record<string, unknown>)[key] as unknown
    const deeper = typeof value === 'object' && value !== null
    if (deeper && random() < 0.85) {
      at = value as Record<string, unknown>
      continue
    }
    const kind = random()
    const list = Array.isArray(at) ? at : null
    if (list && kind < 0.25) list.push(structuredClone(pick(list)))
    else if (list && kind < 0.4) list.splice(Number(key), 1)
    else if (list && kind < 0.5) list.push(...list.splice(Number(key), 1))
    else if (kind < 0.15) delete (at as Record<string, unknown>)[key]
    else if (typeof value === 'number' && kind < 0.6)
      (at as Record<string, unknown>)[key] = value * pick([-1, 0, 10, 1e3, 1e-3, 1e12, 1e300]) + pick([0, 1, -1])
    else if (typeof value === 'string' && kind < 0.5) {
      const ms = Date.parse(value)
      ;(at as Record<string, unknown>)[key] = Number.isFinite(ms)
        ? new Date(
            Math.max(-6e13, Math.min(2e14, ms + (random() - 0.5) * pick([1e5, DAY, 400 * DAY, 4e12]))),
          ).toISOString()
        : value.slice(0, Math.floor(random() * value.length))
    } else (at as Record<string, unknown>)[key] = structuredClone(pick(STRANGE))
    return
  }
}

/** A text as a disk or a hand hurts it: a piece cut off, doubled, or other letters in it. */
function tear(text: string, random: Random): string {
  const at = Math.floor(random() * text.length)
  const kind = random()
  if (kind < 0.3) return text.slice(0, at)
  if (kind < 0.5) return text.slice(0, at) + text.slice(at + Math.floor(random() * 200))
  if (kind < 0.7)
    return `${text.slice(0, at)}${String.fromCharCode(Math.floor(random() * 0x3000))}${text.slice(at + 1)}`
  const number = [...text.matchAll(/-?\d+(\.\d+)?/g)]
  const hit = number[Math.floor(random() * number.length)]!
  const next = ['1e999', '-1e999', '1e-400', '00', '-', '0x10', '1e5'][Math.floor(random() * 7)]!
  return text.slice(0, hit.index) + next + text.slice(hit.index + hit[0].length)
}

/** The first number that is none, anywhere in a value. */
function firstNaN(value: unknown, path = '', depth = 0): string | null {
  if (typeof value === 'number') return Number.isNaN(value) ? path : null
  if (typeof value !== 'object' || value === null || depth > 12) return null
  const inner: Iterable<[unknown, unknown]> = value instanceof Map ? value : Object.entries(value)
  for (const [key, item] of inner) {
    const found = firstNaN(item, `${path}/${String(key)}`, depth + 1)
    if (found !== null) return found
  }
  return null
}

/** What the pages work out of a record. A course that cannot be worked out is allowed to say so and stand alone. */
function openPages(record: KeeperRecord, nowMs: number): Record<string, unknown> {
  const active = activeOf(record.entries)
  const { plans, faults } = createPlanner()({ record, active, estimates: new Map(), nowMs })
  const shown: Record<string, unknown> = { plans, faults }
  shown['concerns'] = concernsOf(record, active, plans, new Map(), nowMs)
  for (const vessel of record.vessels.values()) {
    shown[`ammonia ${vessel.id}`] = ammoniaWatchOf(record, active, vessel.id, nowMs)
    shown[`volume ${vessel.id}`] = vesselVolume(vessel)
    shown[`levels ${vessel.id}`] = levelsIn({ record, active }, vessel.id, nowMs)
    const [bottle] = record.products.keys()
    if (bottle !== undefined)
      shown[`dose ${vessel.id}`] = answer(actContext(record, nowMs), {
        kind: 'dose',
        vesselId: vessel.id,
        productId: bottle,
        amounts: ['1 mL'],
      })
  }
  const where = residentVessels(record, active, nowMs)
  for (const [id] of where) {
    const resident = record.residents.get(id)!
    shown[`breath ${id}`] = breathingOf(active, resident, record.settings.zone)
    shown[`days ${id}`] = residentDays(active, id, record.settings.zone, { fromMs: nowMs - 7 * DAY, toMs: nowMs })
  }
  const [course] = runningCourses(record, nowMs).filter(({ id }) => !faults.some(({ courseId }) => courseId === id))
  const inputs = course ? courseInputs(record, active, course, nowMs, 8) : null
  if (inputs) shown['estimate'] = estimateCourse(inputs.inputs)
  return shown
}

export interface Tally {
  files: number
  refused: number
  taken: number
  slowestMs: number
  readonly bad: string[]
}

/** Makes and opens so many mutants. `clock` measures; nothing is judged by it but the limit of two seconds. */
export function runMutants(count: number, seed: number, clock: () => number): Tally {
  const random = randomFrom(seed)
  const base = JSON.stringify(toFile(demoRecord({ seed: 7, anchorMs: NOW, zone: 'Europe/Berlin' }), instantOf(NOW)))
  const tally: Tally = { files: 0, refused: 0, taken: 0, slowestMs: 0, bad: [] }
  for (let i = 0; i < count; i++) {
    let text = base
    if (random() < 0.3) text = tear(text, random)
    else {
      const value = JSON.parse(text) as Record<string, unknown>
      // The sum is left out, so that it is the lines that are asked and not the sum.
      delete value['checksum']
      const times = 1 + Math.floor(random() * 3)
      for (let n = 0; n < times; n++) hurt(value, random)
      text = JSON.stringify(value)
    }
    const started = clock()
    tally.files++
    try {
      const report = readFile(text, undefined, undefined, { leaveOut: random() < 0.5 })
      if (!report.file) {
        tally.refused++
        if (report.problems.length === 0) tally.bad.push(`${seed}/${i}: refused without a word`)
      } else {
        tally.taken++
        const record = recordOf(report.file.settings, report.file.registers, report.file.entries)
        const nan = firstNaN(openPages(record, NOW))
        if (nan !== null) tally.bad.push(`${seed}/${i}: NaN at ${nan}`)
      }
    } catch (cause) {
      tally.bad.push(
        `${seed}/${i}: ${String((cause as Error).stack)
          .split('\n')
          .slice(0, 4)
          .join(' | ')}`,
      )
    }
    const took = clock() - started
    tally.slowestMs = Math.max(tally.slowestMs, took)
    if (took > 2000) tally.bad.push(`${seed}/${i}: took ${Math.round(took)} ms`)
  }
  return tally
}
