// Whatever the schema lets be written, of every kind, is exported and read back the same. The generator reads the schema,
// not the code.
import { readFileSync } from 'node:fs'
import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { instantOf, recordOf, toFile, type Entry } from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import { faultOfEntry, readFile } from '@brinvo/core/file'

const NOW = Date.parse('2026-11-23T18:20:00Z')
const demo = demoRecord({ seed: 7, anchorMs: NOW, zone: 'Europe/Berlin' })
interface Schema {
  readonly $ref?: string
  readonly const?: unknown
  readonly enum?: readonly unknown[]
  readonly type?: string
  readonly pattern?: string
  readonly minLength?: number
  readonly maxLength?: number
  readonly minimum?: number
  readonly maximum?: number
  readonly exclusiveMinimum?: number
  readonly exclusiveMaximum?: number
  readonly minItems?: number
  readonly maxItems?: number
  readonly items?: Schema
  readonly properties?: Readonly<Record<string, Schema>>
  readonly required?: readonly string[]
  readonly additionalProperties?: boolean | Schema
  readonly oneOf?: readonly Schema[]
  readonly anyOf?: readonly Schema[]
  readonly propertyNames?: Schema
}
const { $defs } = JSON.parse(readFileSync(new URL('../schema/record.schema.json', import.meta.url), 'utf8')) as {
  $defs: Readonly<Record<string, Schema>>
}
const first = (register: ReadonlyMap<string, unknown>): string => [...register.keys()][0]!
const box = [...demo.arrivals.values()][0]!
/** What an id must lead to. */
const LEADS: Readonly<Record<string, string>> = {
  vesselId: first(demo.vessels),
  toVesselId: [...demo.vessels.keys()][1]!,
  residentId: first(demo.residents),
  byResidentId: first(demo.residents),
  otherId: first(demo.residents),
  productId: first(demo.products),
  courseId: first(demo.courses),
  instrumentId: first(demo.instruments),
  gearId: first(demo.gear),
  sampleId: first(demo.samples),
  deviceId: first(demo.devices),
  findingId: first(demo.findings),
  arrivalId: box.id,
  containerId: box.body.containers[0]!.id,
  voids: demo.entries[0]!.id,
  zone: 'Pacific/Chatham',
  at: instantOf(NOW - 5_000),
  recordedAt: instantOf(NOW - 4_000),
}

function arbitrary(schema: Schema, key = ''): fc.Arbitrary<unknown> {
  if (key in LEADS) return fc.constant(LEADS[key])
  if (schema.$ref !== undefined) return arbitrary($defs[schema.$ref.slice('#/$defs/'.length)]!, key)
  if ('const' in schema) return fc.constant(schema.const)
  if (schema.enum) return fc.constantFrom(...schema.enum)
  const ways = schema.oneOf ?? schema.anyOf
  if (ways) return fc.oneof(...ways.map((way) => arbitrary(way, key)))
  switch (schema.type) {
    case 'number':
    case 'integer': {
      const min = schema.minimum ?? schema.exclusiveMinimum ?? -1e6
      const max = schema.maximum ?? schema.exclusiveMaximum ?? 1e6
      if (schema.type === 'integer') return fc.integer({ min: Math.ceil(min), max: Math.floor(max) })
      const inside = (value: number) => value > min && value < max
      return fc.double({ min, max, noNaN: true }).filter((value) => inside(value) && !Object.is(value, -0))
    }
    case 'boolean':
      return fc.boolean()
    case 'array':
      return fc.array(arbitrary(schema.items ?? {}, `${key}[]`), {
        minLength: schema.minItems ?? 0,
        maxLength: Math.min(schema.maxItems ?? 3, 3),
      })
    case 'object': {
      const { properties = {}, required = [], additionalProperties } = schema
      const own = fc.record(
        Object.fromEntries(Object.entries(properties).map(([name, one]) => [name, arbitrary(one, name)])),
        {
          requiredKeys: [...required] as never[],
        },
      )
      return typeof additionalProperties === 'object'
        ? fc.dictionary(fc.stringMatching(/^[a-z]{3,8}$/), arbitrary(additionalProperties), { minKeys: 1, maxKeys: 3 })
        : own
    }
    case 'string':
      if (schema.pattern !== undefined && /[a-z0-9]/i.test(schema.pattern))
        return fc.stringMatching(/^[a-z][a-z0-9-]{3,12}[a-z0-9]$/)
      return fc
        .string({ unit: 'grapheme', minLength: schema.minLength ?? 0, maxLength: Math.min(schema.maxLength ?? 60, 60) })
        .filter((text) => [...text].length >= (schema.minLength ?? 0))
    default:
      return fc.constant(null)
  }
}

const KINDS = Object.entries($defs).flatMap(([name, schema]) =>
  name.endsWith('Entry') && schema.properties?.['kind']?.const !== undefined ? [[name, schema] as const] : [],
)

describe('every kind', () => {
  test('of register stands in the record that is written', () => {
    expect(KINDS.length).toBeGreaterThan(18)
    for (const register of [
      'vessels',
      'residents',
      'products',
      'instruments',
      'courses',
      'arrivals',
      'gear',
      'findings',
      'samples',
      'devices',
    ] as const)
      expect([register, demo[register].size > 0]).toEqual([register, true])
  })
  test.each(KINDS)('%s: what the schema allows is exported and read back', (_name, schema) => {
    // What the interface cannot make (an entry that fails the schema's rules between fields) is not asked here.
    const made = fc.sample(arbitrary(schema), { numRuns: 40, seed: 5 }).flatMap((one, i) => {
      const entry = { ...(one as object), id: `made-for-this-test-${i}` } as Record<string, unknown>
      delete entry['corrects']
      return faultOfEntry(entry) === null ? [entry] : []
    })
    expect(made.length).toBeGreaterThan(0)
    const record = recordOf(demo.settings, documents, [...demo.entries, ...(made as unknown as Entry[])])
    const report = readFile(JSON.stringify(toFile(record, instantOf(NOW))))
    expect(report.problems).toEqual([])
    expect(report.changed).toBe(false)
    const back = new Map(report.file!.entries.map((entry) => [entry.id, entry]))
    for (const entry of made) expect(back.get(String(entry['id']))).toEqual(JSON.parse(JSON.stringify(entry)))
  })
})
const documents = [
  demo.vessels,
  demo.residents,
  demo.products,
  demo.instruments,
  demo.courses,
  demo.arrivals,
  demo.gear,
  demo.samples,
  demo.devices,
  demo.findings,
  demo.protocols,
].flatMap((register) => [...register.values()])
