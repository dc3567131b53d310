// What a schema cannot say of a value: instants that are none, years no aquarium has, zones nobody knows, numbers without
// an end. Cheap enough for every load.

export interface Fault {
  readonly path: string
  readonly message: string
}

const fault = (path: string, message: string): Fault => ({ path, message })
const INSTANT = /^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}:\d{2}\.\d{3}Z$/
/** Years an instant of a keeper's record may bear: no aquarium is older, and no plan of ours reaches further. */
const FIRST_YEAR = 1950
const LAST_YEAR = 2150

const MONTH_DAYS = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31]
/** Two digits at a place of a text that has them there. */
const digits = (text: string, at: number): number => (text.charCodeAt(at) - 48) * 10 + text.charCodeAt(at + 1) - 48

/** Whether a text is a real instant ("2026-02-30T…" matches the pattern and is none). */
export function isInstant(text: unknown): text is string {
  if (typeof text !== 'string' || !INSTANT.test(text)) return false
  const year = digits(text, 0) * 100 + digits(text, 2)
  const month = digits(text, 5)
  const day = digits(text, 8)
  if (year < FIRST_YEAR || year > LAST_YEAR || month < 1 || month > 12) return false
  // By the calendar, and not by a date made and written out again: a load asks this some hundred thousand times.
  const leap = month === 2 && year % 4 === 0 && (year % 100 !== 0 || year % 400 === 0)
  if (day < 1 || day > MONTH_DAYS[month - 1]! + (leap ? 1 : 0)) return false
  return digits(text, 11) < 24 && digits(text, 14) < 60 && digits(text, 17) < 60
}
export function isDay(text: unknown): boolean {
  return typeof text === 'string' && /^\d{4}-\d{2}-\d{2}$/.test(text) && isInstant(`${text}T12:00:00.000Z`)
}
/** Zones asked for before: making a formatter is the dearest thing a load does, and a record names few zones. */
const zones = new Map<string, boolean>()
export function isZone(text: unknown): boolean {
  if (typeof text !== 'string' || text === '') return false
  const known = zones.get(text)
  if (known !== undefined) return known
  let real = true
  try {
    new Intl.DateTimeFormat('en', { timeZone: text })
  } catch {
    real = false
  }
  if (zones.size < 1000) zones.set(text, real)
  return real
}
export function isLocale(text: unknown): boolean {
  if (typeof text !== 'string') return false
  try {
    new Intl.DateTimeFormat(text)
    return true
  } catch {
    return false
  }
}

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** The first number without an end, or instant-like field that is none, anywhere inside a value. */
function deepFault(value: unknown, path: string, depth = 0): Fault | null {
  if (typeof value === 'number') return Number.isFinite(value) ? null : fault(path, 'is a number without an end')
  if (depth > 40) return fault(path, 'is nested deeper than anything we write')
  if (Array.isArray(value)) {
    for (let i = 0; i < value.length; i++) {
      const found = deepFault(value[i], `${path}/${i}`, depth + 1)
      if (found) return found
    }
    return null
  }
  if (!isObject(value)) return null
  for (const key in value) {
    const one = value[key]
    const here = `${path}/${key}`
    if (typeof one === 'string') {
      if (one.length === 24 && INSTANT.test(one) && !isInstant(one)) return fault(here, `"${one}" is no real instant`)
      if (key === 'zone' && !isZone(one)) return fault(here, `"${one.slice(0, 40)}" is no time zone we know`)
      if (key === 'expiresOn' || key === 'expectedOn' || key === 'startsOn') {
        if (!isDay(one)) return fault(here, `"${one}" is no real day`)
      }
    } else if (typeof one === 'number' || typeof one === 'object') {
      const found = deepFault(one, here, depth + 1)
      if (found) return found
    }
  }
  return null
}

const ENTRY_ID = /^[a-z0-9][a-z0-9-]{2,79}$/
const REGISTERS = new Set([
  'vessel',
  'resident',
  'product',
  'instrument',
  'course',
  'arrival',
  'gear',
  'sample',
  'device',
  'finding',
  'planned',
  'protocol',
])

/** Whether a stored value can stand on the ledger at all; the schema says more. */
export function unsoundEntry(value: unknown): Fault | null {
  if (!isObject(value)) return fault('', 'is no entry')
  if (typeof value.id !== 'string' || !ENTRY_ID.test(value.id)) return fault('/id', 'is no id')
  if (typeof value.kind !== 'string') return fault('/kind', 'is missing')
  if (!isInstant(value.at)) return fault('/at', `"${String(value.at).slice(0, 40)}" is no real instant`)
  if (!isInstant(value.recordedAt)) return fault('/recordedAt', 'is no real instant')
  return deepFault(value, '')
}

/** Whether a stored value can stand in a register at all. */
export function unsoundRegister(value: unknown): Fault | null {
  if (!isObject(value)) return fault('', 'is no register document')
  if (typeof value.register !== 'string' || !REGISTERS.has(value.register))
    return fault('/register', 'is no register we know')
  if (typeof value.id !== 'string' || !ENTRY_ID.test(value.id)) return fault('/id', 'is no id')
  if (!Number.isInteger(value.revision) || (value.revision as number) < 1) return fault('/revision', 'is no revision')
  if (!isObject(value.body)) return fault('/body', 'is missing')
  if (!Array.isArray(value.history)) return fault('/history', 'is missing')
  if (!isInstant(value.savedAt)) return fault('/savedAt', 'is no real instant')
  if (value.register === 'course') {
    const { protocol } = value.body
    if (!isObject(protocol)) return fault('/body/protocol', 'is missing')
    for (const key of ['phases', 'variants', 'productRoles', 'instrumentRoles'])
      if (!Array.isArray(protocol[key])) return fault(`/body/protocol/${key}`, 'is missing')
  }
  return deepFault(value, '')
}

/** Whether settings can be worked with. */
export function unsoundSettings(value: unknown): Fault | null {
  if (!isObject(value)) return fault('', 'are missing')
  if (!isZone(value.zone)) return fault('/zone', `"${String(value.zone).slice(0, 40)}" is no time zone we know`)
  if (!isLocale(value.locale)) return fault('/locale', `"${String(value.locale).slice(0, 40)}" is no language we know`)
  if (!Array.isArray(value.syringesMl)) return fault('/syringesMl', 'are missing')
  return deepFault(value, '')
}
