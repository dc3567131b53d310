// What stands over a column, beside a row or behind a number: analyte, species, unit, or another part of a table.
import { tableWords } from './words.ts'

export type TableKind = 'readings' | 'laboratory'
export type UnitId =
  | 'mg/L'
  | 'µg/L'
  | 'g/L'
  | 'mg/kg'
  | 'µg/kg'
  | 'dKH'
  | 'dGH'
  | 'meq/L'
  | 'ppm CaCO3'
  | 'ppt'
  | 'SG'
  | '°C'
  | '°F'
  | 'mS/cm'
  | 'µS/cm'
  | 'µmol/m²/s'
  | 'lux'
  | 'pH'
  | '%'
export type Species =
  'N' | 'NH3' | 'NH4' | 'NO2' | 'NO2-N' | 'NO3' | 'NO3-N' | 'PO4' | 'P' | 'Si' | 'SiO2' | 'CaCO3' | 'K2O' | 'SO4'
export type Fraction = 'total' | 'dissolved'
/** What is counted, of an element too, and in which of its forms. */
export interface Named {
  readonly id: string
  readonly kind:
    | 'temperature'
    | 'salinity'
    | 'ph'
    | 'alkalinity'
    | 'hardness'
    | 'mass'
    | 'species'
    | 'conductivity'
    | 'light'
    | 'element'
  readonly species: Species | null
  readonly unit: UnitId | null
}
export type Role =
  | 'date'
  | 'sampled'
  | 'time'
  | 'otherDate'
  | 'vessel'
  | 'sample'
  | 'parameter'
  | 'symbol'
  | 'value'
  | 'unit'
  | 'limit'
  | 'fraction'
  | 'note'
  | 'ignored'
export type Head =
  | { readonly role: 'analyte'; readonly named: Named; readonly fraction: Fraction | null }
  | { readonly role: Role; readonly unit: UnitId | null; readonly fraction: Fraction | null }
  /** A column or row of what is given: a target, a range, an earlier value. */
  | { readonly role: 'given' }
  | { readonly role: 'unknown' }
  | { readonly role: 'blank' }

/** Lower case without accents; one sign for micro, one for degrees. */
export const plain = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .toLowerCase()
    .replaceAll('ß', 'ss')
    .replace(/[µμ]/g, 'u')
    .replaceAll('º', '°')
    .replace(/[‐‑−]/g, '-')
    .replace(/° +(?=[cf]\b)/g, '°')
    .replace(/\s+/g, ' ')
    .trim()

const UNITS: Readonly<Record<string, UnitId>> = Object.fromEntries(
  (
    [
      ['mg/L', 'mg/l mgl mg/liter mg/litre mg/ltr mg·l-1 mg.l-1 mgl-1 mg*l-1 ppm'],
      ['µg/L', 'ug/l ugl mcg/l ppb ug/liter ug/litre ugl-1 ug·l-1'],
      ['g/L', 'g/l'],
      ['mg/kg', 'mg/kg'],
      ['µg/kg', 'ug/kg'],
      ['dKH', 'dkh °dkh °kh °dh dh kh° °d'],
      ['dGH', 'dgh °dgh °gh'],
      ['meq/L', 'meq/l meq meql mval/l mmol/l meq·l-1'],
      ['ppt', 'ppt psu ‰ o/oo 0/00 g/kg psu/ppt ppt/psu'],
      ['SG', 'sg s.g. d25/25'],
      ['°C', '°c c celsius degc deg.c grad °celsius'],
      ['°F', '°f f fahrenheit degf °fahrenheit'],
      ['mS/cm', 'ms/cm ms mscm'],
      ['µS/cm', 'us/cm us uscm'],
      ['µmol/m²/s', 'umol/m2/s umol/m2s umol umol/(m2s) umolm-2s-1 umol/m2/sec'],
      ['lux', 'lux lx'],
      ['pH', 'ph'],
      ['%', '% %sat'],
    ] as const
  ).flatMap(([id, spellings]) => spellings.split(' ').map((spelling) => [spelling, id])),
)
const SPECIES: Readonly<Record<string, Species>> = {
  n: 'N',
  'no3-n': 'NO3-N',
  'no2-n': 'NO2-N',
  'nh3-n': 'N',
  'nh4-n': 'N',
  tan: 'N',
  no3: 'NO3',
  no2: 'NO2',
  nh3: 'NH3',
  nh4: 'NH4',
  'nh4+': 'NH4',
  po4: 'PO4',
  'po4-p': 'P',
  p: 'P',
  si: 'Si',
  'sio2-si': 'Si',
  sio2: 'SiO2',
  caco3: 'CaCO3',
  k2o: 'K2O',
  so4: 'SO4',
  nitrogen: 'N',
  phosphorus: 'P',
  silicon: 'Si',
}
const FRACTIONS: Readonly<Record<string, Fraction>> = {
  total: 'total',
  gesamt: 'total',
  unfiltered: 'total',
  unfiltriert: 'total',
  dissolved: 'dissolved',
  gelost: 'dissolved',
  filtered: 'dissolved',
  filtriert: 'dissolved',
  soluble: 'dissolved',
}

const namesOf = (list: readonly { readonly names: readonly string[] }[]) => list.flatMap(({ names }) => names)
const readingsByName = new Map<string, Named>()
for (const { id, kind, names, unit = null, species = null } of tableWords.analytes)
  for (const name of names) readingsByName.set(name, { id, kind, species, unit } as Named)
const laboratoryByName = new Map(readingsByName)
for (const { id, names, species = null } of tableWords.laboratory)
  for (const name of names) laboratoryByName.set(name, { id, kind: 'element', species, unit: null } as Named)
/** Every id an answer may name. */
export const NAMED_IDS: ReadonlySet<string> = new Set([
  ...tableWords.analytes.map(({ id }) => id),
  ...tableWords.laboratory.map(({ id }) => id),
])
/** The analyte of an id, none of its species and units said. */
export function namedById(id: string): Named | null {
  const found = tableWords.analytes.find((one) => one.id === id)
  if (found) return { id, kind: found.kind, species: null, unit: null } as Named
  return tableWords.laboratory.some((one) => one.id === id) ? { id, kind: 'element', species: null, unit: null } : null
}

const roles = new Map<string, Role>()
for (const [role, names] of Object.entries(tableWords.roles))
  for (const name of names) if (!roles.has(name)) roles.set(name, role as Role)
const GIVEN = new Set(tableWords.given)
const DOSED = new Set(tableWords.dosed)
const QUALIFIERS = new Set(tableWords.qualifiers)
const longest = Math.max(...[...namesOf(tableWords.analytes), ...roles.keys()].map((name) => name.split(' ').length))

/** A unit with the species it counts, "ppm NO3-N"; null where the text is none. */
export function unitOf(text: string): { readonly unit: UnitId; readonly species: Species | null } | null {
  const words = plain(text)
    .replace(/[()[\]]/g, ' ')
    .trim()
    .replace(/([a-z])\s*\/\s*l\b/g, '$1/l')
    .split(/[\s,]+/)
    .filter((word) => word !== 'as' && word !== 'als')
  if (words.length === 0 || words[0] === '') return null
  const unit = UNITS[words[0]!.replace(/\.$/, '')]
  if (unit === undefined) return null
  if (words.length === 1) return { unit, species: null }
  if (unit === '%' && /^sat/.test(words[1]!)) return { unit, species: null }
  const species = SPECIES[words[1]!]
  return species !== undefined && words.length === 2 ? { unit, species } : null
}

type Item =
  | { readonly kind: 'named'; readonly named: Named }
  | { readonly kind: 'unit'; readonly unit: UnitId }
  | { readonly kind: 'species'; readonly species: Species }
  | { readonly kind: 'role'; readonly role: Role }
  | { readonly kind: 'fraction'; readonly fraction: Fraction }
  | { readonly kind: 'given' | 'dosed' | 'qualifier' | 'unknown' }

function itemOf(name: string, byName: ReadonlyMap<string, Named>, after: readonly Item[]): Item | null {
  const unitSaid = after.some(({ kind }) => kind === 'unit')
  const namedSaid = after.some(({ kind }) => kind === 'named')
  if (DOSED.has(name)) return { kind: 'dosed' }
  // Behind a unit or a name, "N", "P", "Si" and the like are what is counted.
  if ((unitSaid || namedSaid) && SPECIES[name] !== undefined) return { kind: 'species', species: SPECIES[name] }
  if (namedSaid && UNITS[name] !== undefined) return { kind: 'unit', unit: UNITS[name] }
  if (namedSaid && FRACTIONS[name] !== undefined) return { kind: 'fraction', fraction: FRACTIONS[name] }
  if (namedSaid && QUALIFIERS.has(name)) return { kind: 'qualifier' }
  // "Ca2+" and "K+" are the ions of what is named.
  const named = byName.get(name) ?? byName.get(name.replace(/(?<=^[a-z]{1,2})\d?[+-]$/, ''))
  if (named) return { kind: 'named', named }
  if (GIVEN.has(name) && !roles.has(name)) return { kind: 'given' }
  const role = roles.get(name)
  if (role !== undefined) return { kind: 'role', role }
  if (UNITS[name] !== undefined) return { kind: 'unit', unit: UNITS[name] }
  if (FRACTIONS[name] !== undefined) return { kind: 'fraction', fraction: FRACTIONS[name] }
  if (QUALIFIERS.has(name)) return { kind: 'qualifier' }
  return null
}

function itemsOf(words: readonly string[], byName: ReadonlyMap<string, Named>): Item[] {
  const items: Item[] = []
  for (let i = 0; i < words.length;) {
    let took = 0
    for (let n = Math.min(longest, words.length - i); n > 0 && took === 0; n--) {
      const name = words.slice(i, i + n).join(' ')
      const item = itemOf(name, byName, items) ?? (n === 1 ? itemOf(name.replace(/[.:]+$/, ''), byName, items) : null)
      if (item) {
        items.push(item)
        took = n
      }
    }
    if (took === 0) {
      items.push({ kind: 'unknown' })
      took = 1
    }
    i += took
  }
  return items
}

/** Analytes that a unit alone names. */
const BY_UNIT: Partial<Record<UnitId, string>> = {
  dKH: 'alkalinity',
  dGH: 'gh',
  '°C': 'temperature',
  '°F': 'temperature',
  SG: 'salinity',
  'mS/cm': 'conductivity',
  'µS/cm': 'conductivity',
  lux: 'par',
}

/** What is no test, whatever unit follows: "Feed (g)". */
const PLAINLY_NONE =
  /^(?:feed|feeding|fed|food|futter|futterung|water changed?|wasserwechsel|litres|liters|evaporation|top-?off|initials|weather)\b/

const memory = new Map<string, Head>()
/** What a head's text says. Remembered: a long table asks for the same few again and again. */
export function headOf(text: string, kind: TableKind): Head {
  const key = `${kind} ${text}`
  let head = memory.get(key)
  if (!head) {
    if (memory.size > 2000) memory.clear()
    memory.set(key, (head = workedOut(text, kind)))
  }
  return head
}
function workedOut(text: string, kind: TableKind): Head {
  const byName = kind === 'laboratory' ? laboratoryByName : readingsByName
  const whole = plain(text).replace(/[:]+$/, '')
  if (whole === '') return { role: 'blank' }
  const exact = byName.get(whole)
  if (exact) return { role: 'analyte', named: exact, fraction: null }
  const exactRole = roles.get(whole)
  if (exactRole !== undefined) return { role: exactRole, unit: null, fraction: null }
  if (GIVEN.has(whole)) return { role: 'given' }
  if (PLAINLY_NONE.test(whole)) return { role: 'ignored', unit: null, fraction: null }
  const split = (pattern: RegExp) => whole.split(pattern).filter((word) => word !== '')
  const readings = [itemsOf(split(/[\s()[\],;:_|]+/), byName), itemsOf(split(/[\s()[\],;:_|/]+/), byName)]
  for (const items of readings) {
    const head = headFrom(items, byName)
    if (head.role !== 'unknown') return head
  }
  return { role: 'unknown' }
}

function headFrom(items: readonly Item[], byName: ReadonlyMap<string, Named>): Head {
  const has = (kind: Item['kind']) => items.some((item) => item.kind === kind)
  const first = <K extends Item['kind']>(kind: K) =>
    items.find((item) => item.kind === kind) as Extract<Item, { kind: K }> | undefined
  if (has('dosed')) return { role: 'ignored', unit: null, fraction: null }
  const roleItems = items.flatMap((item) => (item.kind === 'role' ? [item.role] : []))
  if (has('given') || (has('named') && roleItems.includes('limit'))) return { role: 'given' }
  const unit = first('unit')?.unit ?? null
  const fraction = first('fraction')?.fraction ?? null
  const names = items.flatMap((item) => (item.kind === 'named' ? [item.named] : []))
  const unknowns = items.filter(({ kind }) => kind === 'unknown').length
  if (names.length > 0) {
    if (new Set(names.map(({ id }) => id)).size > 1) return { role: 'unknown' }
    if (unknowns > 1 || (unknowns === 1 && items[0]!.kind !== 'named')) return { role: 'unknown' }
    if (
      roleItems.some(
        (role) => role === 'note' || role === 'ignored' || role === 'otherDate' || role === 'date' || role === 'time',
      )
    )
      return { role: 'ignored', unit: null, fraction: null }
    const named = names[0]!
    const species =
      first('species')?.species ??
      names.find((one) => one.species !== null && one.species !== named.species)?.species ??
      named.species
    return {
      role: 'analyte',
      named: {
        ...named,
        species: saidSpecies(named, species),
        unit: unit ?? names.find((one) => one.unit !== null)?.unit ?? null,
      },
      fraction,
    }
  }
  for (const role of [
    'otherDate',
    'sampled',
    'date',
    'time',
    'vessel',
    'sample',
    'note',
    'limit',
    'value',
    'unit',
    'parameter',
    'symbol',
    'fraction',
    'ignored',
  ] as const)
    if (roleItems.includes(role) && (unknowns === 0 || ['date', 'sampled', 'time', 'otherDate', 'note'].includes(role)))
      return { role, unit, fraction }
  if (unknowns === 0 && fraction !== null) return { role: 'value', unit, fraction }
  if (unknowns === 0 && unit !== null && BY_UNIT[unit] !== undefined) {
    const named = byName.get(BY_UNIT[unit]) ?? namedById(BY_UNIT[unit])!
    return { role: 'analyte', named: { ...named, unit }, fraction: null }
  }
  if (unknowns === 0 && unit !== null) return { role: 'unit', unit, fraction: null }
  return { role: 'unknown' }
}

/** "N" behind nitrate is nitrate as nitrogen; behind ammonia it is the nitrogen itself. */
export function saidSpecies(named: Named, species: Species | null): Species | null {
  if (species === 'N' || species === 'NO3-N' || species === 'NO2-N') {
    if (named.id === 'nitrate') return 'NO3-N'
    if (named.id === 'nitrite') return 'NO2-N'
    return 'N'
  }
  return species
}
