// Holds every vector of a folder against core and says how many agree.
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { ADAPTERS, type Inputs } from './adapters.ts'

interface Tolerance {
  abs?: number
  rel?: number
  by_key?: Record<string, Tolerance>
}
export interface Vector {
  id: string
  kind: string
  inputs: Inputs
  expected: Record<string, unknown>
  tolerance: Tolerance
}
export interface VectorFile {
  topic: string
  vectors: Vector[]
}
export interface TopicResult {
  topic: string
  passed: number
  failures: string[]
}

/** |got − expected| <= max(abs, rel × |expected|), element by element; text, booleans and null exactly. */
export function differs(got: unknown, expected: unknown, tolerance: Tolerance, path: string): string | null {
  if (typeof expected === 'number') {
    if (typeof got !== 'number' || !Number.isFinite(got)) return `${path}: got ${String(got)}, expected ${expected}`
    const allowed = Math.max(tolerance.abs ?? 0, (tolerance.rel ?? 0) * Math.abs(expected))
    return Math.abs(got - expected) <= allowed ? null : `${path}: got ${got}, expected ${expected}`
  }
  if (Array.isArray(expected)) {
    if (!Array.isArray(got) || got.length !== expected.length) return `${path}: lists differ in length`
    for (let i = 0; i < expected.length; i++) {
      const found = differs(got[i], expected[i], tolerance, `${path}[${i}]`)
      if (found) return found
    }
    return null
  }
  if (expected && typeof expected === 'object') {
    for (const [key, value] of Object.entries(expected)) {
      const found = differs(
        (got as Record<string, unknown> | null)?.[key],
        value,
        tolerance.by_key?.[key] ?? tolerance,
        `${path}.${key}`,
      )
      if (found) return found
    }
    return null
  }
  return got === expected ? null : `${path}: got ${String(got)}, expected ${String(expected)}`
}

/** One vector: null when it agrees, else where it does not. Unknown kinds fail. */
export function checkVector(topic: string, vector: Vector): string | null {
  const adapter = ADAPTERS[topic]?.[vector.kind]
  if (!adapter) return `${vector.id}: unknown kind "${vector.kind}" in topic "${topic}"`
  try {
    const found = differs(adapter(vector.inputs), vector.expected, vector.tolerance, vector.id)
    return found
  } catch (cause) {
    return `${vector.id}: ${(cause as Error).message}`
  }
}

/** Every JSON file of a folder. @throws Error when it holds none. */
export function runFolder(folder: string): TopicResult[] {
  const files = readdirSync(folder)
    .filter((name) => name.endsWith('.json'))
    .sort()
  if (files.length === 0) throw new Error(`no vector files in ${folder}`)
  return files.map((name) => {
    const file = JSON.parse(readFileSync(join(folder, name), 'utf8')) as VectorFile
    if (!ADAPTERS[file.topic]) {
      return {
        topic: file.topic,
        passed: 0,
        failures: file.vectors.map(({ id }) => `${id}: unknown topic "${file.topic}"`),
      }
    }
    const failures = file.vectors.map((vector) => checkVector(file.topic, vector)).filter((found) => found !== null)
    return { topic: file.topic, passed: file.vectors.length - failures.length, failures }
  })
}
