// Schemas → validators without eval and TypeScript types; knowledge JSON → checked TypeScript constants.
import { mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { root } from './lib/paths.mjs'
import Ajv from 'ajv'
import standaloneCode from 'ajv/dist/standalone/index.js'
import { compile } from 'json-schema-to-typescript'
import { rolldown } from 'rolldown'

const out = join(root, 'core/src/generated')
const schemaFolder = join(root, 'core/schema')
const knowledge = join(root, 'core/knowledge')
const read = (path) => JSON.parse(readFileSync(path, 'utf8'))

const schemas = Object.fromEntries(
  [
    'record',
    'agent',
    'hazard',
    'group',
    'protocol',
    'acclimation',
    'ranges',
    'sign',
    'watch',
    'interaction',
    'method',
    'condition',
    'pest',
    'correction',
    'cause',
    'limits',
    'threat',
    'air',
    'cycle',
    'table',
    'element',
    'genus',
    'practice',
  ].map((name) => [name, read(join(schemaFolder, `${name}.schema.json`))]),
)

rmSync(out, { recursive: true, force: true })
mkdirSync(join(out, 'knowledge'), { recursive: true })

// 1. Types
const banner = '// Generated from core/schema by scripts/generate.mjs. Do not edit.\n'
const wide = (schema) => ({ ...schema, $defs: undefined, definitions: schema.$defs })
for (const [name, schema] of Object.entries(schemas)) {
  const text = JSON.stringify(wide(schema))
    .replaceAll('#/$defs/', '#/definitions/')
    .replaceAll(/"maxItems":\d+/g, '"maxItems":1000000')
  const types = await compile(JSON.parse(text), schema.title, {
    bannerComment: banner,
    additionalProperties: false,
    ignoreMinAndMaxItems: true,
    unreachableDefinitions: true,
    style: { semi: false, singleQuote: true },
  })
  writeFileSync(join(out, `${name}Types.ts`), types)
}

// 2. Validators: standalone code, its runtime helper bundled in, so that nothing is evaluated in the browser.
const ajv = new Ajv({
  allErrors: false,
  discriminator: true,
  inlineRefs: false,
  strict: true,
  strictTypes: false,
  strictRequired: false,
  allowUnionTypes: true,
  code: { source: true, esm: true },
})
for (const schema of Object.values(schemas)) ajv.addSchema(schema)
for (const part of ['entry', 'registerDocument', 'settings']) {
  ajv.addSchema({ $id: `record-${part}`, $ref: `record-1#/$defs/${part}` })
}
const validators = {
  validateRecordFile: 'record-1',
  validateEntry: 'record-entry',
  validateRegister: 'record-registerDocument',
  validateSettings: 'record-settings',
  validateProtocol: 'protocol-1',
  validatePractice: 'practice-1',
}
const code = standaloneCode(ajv, validators)
const entry = '\0validators'
const bundle = await rolldown({
  input: entry,
  cwd: root,
  tsconfig: false,
  plugins: [
    {
      name: 'validators',
      resolveId: (id) => (id === entry ? entry : null),
      load: (id) => (id === entry ? code : null),
    },
  ],
  logLevel: 'silent',
})
const { output } = await bundle.generate({ format: 'esm' })
// Plain JavaScript beside its types: forty thousand lines that a compiler need not read to know what they answer.
writeFileSync(join(out, 'validators.js'), `${banner}${output[0].code}`)
writeFileSync(
  join(out, 'validators.d.ts'),
  `${banner}${Object.keys(validators)
    .map((name) => `export declare const ${name}: (value: unknown) => boolean\n`)
    .join('')}`,
)

// 3. Knowledge: every file is held against its schema; a fault stops the build with its place.
const kinds = {
  agents: ['agent', 'AgentForm'],
  hazards: ['hazard', 'Hazard'],
  groups: ['group', 'GroupTable'],
  protocols: ['protocol', 'Protocol'],
  acclimation: ['acclimation', 'AcclimationTable'],
  ranges: ['ranges', 'RangeTable'],
  signs: ['sign', 'SignTable'],
  watch: ['watch', 'WatchTable'],
  interactions: ['interaction', 'InteractionTable'],
  methods: ['method', 'MethodTable'],
  conditions: ['condition', 'ConditionTable'],
  pests: ['pest', 'PestTable'],
  corrections: ['correction', 'CorrectionTable'],
  causes: ['cause', 'CauseTable'],
  limits: ['limits', 'LimitTable'],
  threats: ['threat', 'ThreatTable'],
  air: ['air', 'AirTable'],
  cycles: ['cycle', 'CycleTable'],
  tables: ['table', 'TableWords'],
  elements: ['element', 'ElementTable'],
  genera: ['genus', 'GenusTable'],
  practice: ['practice', 'PracticeTank'],
  rates: ['limits', 'LimitTable'],
}
const problems = []
for (const [folder, [schemaName, typeName]] of Object.entries(kinds)) {
  const validate = ajv.getSchema(`${schemaName}-1`)
  const names = readdirSync(join(knowledge, folder))
    .filter((name) => name.endsWith('.json'))
    .sort()
  const records = names.map((name) => {
    const record = read(join(knowledge, folder, name))
    if (!validate(record)) {
      for (const error of validate.errors) problems.push(`${folder}/${name}${error.instancePath}: ${error.message}`)
    }
    return record
  })
  writeFileSync(
    join(out, 'knowledge', `${folder}.ts`),
    `${banner}import type { ${typeName} } from '../${schemaName}Types.ts'\n\nexport const ${folder}: readonly ${typeName}[] = ${JSON.stringify(records, null, 1)}\n`,
  )
}
// The numbers of limits and rates without their prose: the first view needs those of the limits.
for (const [folder, name] of [
  ['limits', 'LIMIT_VALUES'],
  ['rates', 'RATE_VALUES'],
]) {
  const values = readdirSync(join(knowledge, folder))
    .filter((file) => file.endsWith('.json'))
    .sort()
    .flatMap((file) => read(join(knowledge, folder, file)).limits)
  for (const { id } of values)
    if (values.filter((other) => other.id === id).length > 1) problems.push(`${folder}: “${id}” stands twice`)
  writeFileSync(
    join(out, `${folder.slice(0, -1)}Values.ts`),
    `${banner}export const ${name} = ${JSON.stringify(Object.fromEntries(values.map(({ id, value }) => [id, value])), null, 1)} as const\n`,
  )
}
// A course's copy may be older than the word for its method: this one word of each protocol, without the library.
const methods = Object.fromEntries(
  readdirSync(join(knowledge, 'protocols'))
    .filter((name) => name.endsWith('.json'))
    .map((name) => read(join(knowledge, 'protocols', name)))
    .filter(({ method }) => method !== undefined)
    .map(({ id, method }) => [id, method]),
)
writeFileSync(
  join(out, 'knowledge', 'protocolMethods.ts'),
  `${banner}export const protocolMethods: Readonly<Record<string, string>> = ${JSON.stringify(methods, null, 1)}\n`,
)
// Which protocols there is practice for, without the tanks: the page of a course that is about to start asks it.
const practised = [
  ...new Set(
    readdirSync(join(knowledge, 'practice'))
      .filter((name) => name.endsWith('.json'))
      .map((name) => read(join(knowledge, 'practice', name)))
      .flatMap(({ course, fits }) => [...(course ? [course.protocol] : []), ...(fits ?? [])]),
  ),
].sort()
writeFileSync(
  join(out, 'practisedProtocols.ts'),
  `${banner}export const PRACTISED: ReadonlySet<string> = new Set(${JSON.stringify(practised)})\n`,
)
if (problems.length > 0) {
  console.error(problems.join('\n'))
  process.exit(1)
}
