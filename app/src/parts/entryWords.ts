// An entry in words; the same words everywhere.
import {
  ANALYTES,
  addedMeasure,
  analyteWord,
  corrections,
  fromCanonical,
  METHOD_WORDS,
  preferredUnit,
  signOf,
  stateWords,
  type BathEntry,
  type ContainerEntry,
  type Dimension,
  type Entry,
  type CalibrationEntry,
  type EquipmentEntry,
  type KeeperRecord,
  type Protocol,
} from '@brinvo/core'
import { preferencesOf, sentenceCase } from '../design/words.ts'

/** A stored value in the keeper's own unit, to four places. */
function inUnitsOf(record: KeeperRecord, value: number, dimension: Dimension): string {
  const unit = preferredUnit(dimension, preferencesOf(record.settings))
  return `${Number(fromCanonical(dimension, value, unit).toPrecision(4))} ${unit}`
}
const litresIn = (litres: number, record: KeeperRecord): string => inUnitsOf(record, litres, 'volume')

const MEASURED: readonly (readonly [keyof ContainerEntry, string, string, Dimension?])[] = [
  ['tempC', 'temperature', '°C', 'temperature'],
  ['salinityPsu', 'salinity', 'PSU', 'salinity'],
  ['conductivityUs', 'conductivity', 'µS/cm'],
  ['phNbs', 'pH', ''],
  ['alkalinityDkh', 'alkalinity', 'dKH'],
  ['tanMgN', 'total ammonia', 'mg/L N'],
  ['volumeL', 'water', 'L', 'volume'],
]
function containerWords(entry: ContainerEntry, record: KeeperRecord): string {
  const container = record.arrivals.get(entry.arrivalId)?.body.containers.find(({ id }) => id === entry.containerId)
  const what = {
    measured: MEASURED.flatMap(([field, word, unit, dimension]) =>
      entry[field] === undefined
        ? []
        : dimension
          ? [`${word} ${inUnitsOf(record, Number(entry[field]), dimension)}`]
          : [`${word} ${String(entry[field])}${unit === '' ? '' : ` ${unit}`}`],
    ).join(', '),
    inspected: `inspected, ${entry.verdict ?? 'no verdict'}`,
    method: `method: ${entry.method === undefined ? 'none' : METHOD_WORDS[entry.method].toLowerCase()}`,
    float: 'closed bag floats',
    open: 'bag opened',
    add: `${litresIn(entry.litres ?? 0, record)} of tank water added`,
    pour: `poured out to ${litresIn(entry.toL ?? 0, record)}`,
    drip: (entry.litresPerH ?? 0) > 0 ? `drip at ${litresIn(entry.litresPerH ?? 0, record)} an hour` : 'drip stopped',
    air: entry.on === false ? 'air stone out' : 'air stone in',
    bind: 'ammonia binder given',
    move: 'moved into the vessel',
    stop: 'run stopped',
    look: 'drip and animal looked at',
    refuse: `${entry.how ?? 'refused'}: ${entry.reason ?? ''}`,
  }[entry.act]
  return `${container?.label ?? 'A container'}: ${what}`
}

export const MARK_WORDS: Readonly<Record<NonNullable<Extract<Entry, { kind: 'note' }>['mark']>, string>> = {
  'recovery-spot': 'put on the recovery spot',
  'fell-over': 'fell over',
  shed: 'shed its skin',
  'polyps-back': 'polyps are back',
  returned: 'back in its place',
  placed: 'placed anew',
  cut: 'cut',
}
const protocolIn = (record: KeeperRecord, courseId: string | undefined) =>
  courseId === undefined ? undefined : (record.courses.get(courseId)?.body.protocol as unknown as Protocol | undefined)
/** Title of a question, or of a measure, in the words of the course it belongs to. */
const askedIn = (record: KeeperRecord, courseId: string | undefined, gate: string) =>
  protocolIn(record, courseId)
    ?.phases.flatMap(({ rules }) => rules)
    .find(({ id }) => id === gate)?.title
const countedIn = (record: KeeperRecord, courseId: string | undefined, measure: string) =>
  protocolIn(record, courseId)?.campaign?.measures.find(({ id }) => id === measure)

/** Devices and media a vessel may have in or out. */
const HEADS: Readonly<Record<Extract<Entry, { kind: 'heads' }>['why'], string>> = {
  died: 'died',
  split: 'moved apart',
  joined: 'joined',
  rehomed: 'given away',
  born: 'born',
  recounted: 'counted anew',
  other: 'gone',
}
export const EQUIPMENT: Readonly<Record<EquipmentEntry['item'], string>> = {
  carbon: 'Activated carbon',
  resin: 'Resin',
  uv: 'UV lamp',
  ozone: 'Ozone',
  skimmer: 'Skimmer',
  'phosphate-media': 'Phosphate media',
  'binding-rock': 'Rock that binds',
  airstone: 'Air stone',
  light: 'Light',
  biofilter: 'Seeded filter',
  zeolite: 'Zeolite',
  binder: 'Ammonia binder',
  doser: 'Doser',
}

/** What a timed entry is the time of: of a bath, of pumps that stand still, or of a rock or plant in air. */
function bathWords(entry: BathEntry, record: KeeperRecord): string {
  const kind = protocolIn(record, entry.courseId)
    ?.phases.flatMap(({ rules }) => rules)
    .find(({ id }) => id === entry.rule)?.kind
  const broken = entry.act === 'abort'
  const [begun, ended] =
    kind === 'spot'
      ? ['Pumps off', 'Pumps on again']
      : entry.rule.endsWith('-in-air')
        ? ['Out of the water', 'Back in the water']
        : kind === 'round'
          ? ['Dip begun', 'Dip ended']
          : ['Bath begun', 'Bath ended']
  return broken ? `${begun}, broken off` : entry.act === 'start' ? begun! : ended!
}

function calibrationWords({ instrumentId, act, standard, read }: CalibrationEntry, record: KeeperRecord): string {
  const instrument = record.instruments.get(instrumentId)?.body
  const { dimension } = ANALYTES[instrument?.analyte ?? 'ph']
  const shown = (value: number) => inUnitsOf(record, value, dimension)
  return `${instrument?.name ?? 'An instrument'} ${act === 'calibrated' ? 'calibrated' : 'held against a standard'}${standard === undefined ? '' : ` of ${shown(standard)}`}${read === undefined ? '' : `, ${act === 'calibrated' ? 'before it ' : ''}read ${shown(read)}`}`
}

/** An entry in words; the same words everywhere. */
export function entryWords(entry: Entry, record: KeeperRecord): string {
  const resident = (id: string | undefined) =>
    id === undefined ? '' : `, ${record.residents.get(id)?.body.name ?? 'a resident'}`
  switch (entry.kind) {
    case 'reading': {
      const sign = entry.bound === 'below' ? '< ' : entry.bound === 'above' ? '> ' : ''
      const { word, dimension } = ANALYTES[entry.analyte]
      const unit = preferredUnit(dimension, preferencesOf(record.settings))
      const typed =
        entry.entered && entry.entered.unit !== entry.unit && entry.entered.unit !== unit
          ? ` (typed ${entry.entered.text})`
          : ''
      return `${word} ${sign}${inUnitsOf(record, entry.value, dimension)}${typed}`
    }
    case 'dose':
      return `Dose ${entry.amount} ${entry.unit} of ${record.products.get(entry.productId)?.body.name ?? 'a bottle'}`
    case 'change':
      return `Water change ${entry.fraction !== undefined ? `${Math.round(entry.fraction * 100)} %` : litresIn(entry.removedL ?? 0, record)}${entry.replacement?.[0] ? `, new water at ${entry.replacement[0].mgPerL} mg/L` : ''}`
    case 'topoff':
      return `Topped up${entry.addedL === undefined ? '' : ` ${litresIn(entry.addedL, record)}`}`
    case 'equipment':
      return entry.item === 'doser'
        ? `${record.devices.get(entry.deviceId ?? '')?.body.name ?? 'Doser'} ${entry.on ? 'runs again' : 'paused'}`
        : `${EQUIPMENT[entry.item]} ${entry.on ? 'in, or on' : 'out, or off'}`
    case 'calibration':
      return calibrationWords(entry, record)
    case 'move':
      return `${record.residents.get(entry.residentId)?.body.name ?? 'A resident'} moved to ${entry.toVesselId === null ? 'somewhere off the shelf' : (record.vessels.get(entry.toVesselId)?.body.name ?? 'a vessel')}`
    case 'heads':
      return `${record.residents.get(entry.residentId)?.body.name ?? 'A group'}: ${entry.change > 0 ? '+' : ''}${entry.change} (${HEADS[entry.why]})`
    case 'state':
      return `${record.residents.get(entry.residentId)?.body.name ?? 'A coral'}: ${stateWords(entry.aspects)}${entry.asBefore === true ? ' (as before)' : ''}`
    case 'sign':
      return `${entry.present ? 'Seen' : 'Looked for, not seen'}: ${(signOf(entry.sign)?.label ?? entry.sign.replaceAll('-', ' ')).toLowerCase()}${resident(entry.residentId)}`
    case 'meal':
      return `Meal ${entry.took === 'took' ? 'taken' : entry.took}${entry.food === undefined ? '' : ` (${entry.food})`}${resident(entry.residentId)}`
    case 'count':
      return `Count of ${entry.what.replaceAll('-', ' ')}: ${entry.count}${resident(entry.residentId)}${entry.byResidentId === undefined ? '' : ` by ${record.residents.get(entry.byResidentId)?.body.name ?? 'another'}`}`
    case 'gate':
      return `${askedIn(record, entry.courseId, entry.gate) ?? `Check ${entry.gate.replaceAll('-', ' ')}`}: ${entry.passed ? 'yes' : 'no'}`
    case 'done':
      return entry.what
    case 'skip':
      return `Left out: ${entry.reason}`
    case 'override':
      return `Done against a warning, in the keeper’s words: “${entry.words}”`
    case 'note':
      return entry.mark === undefined
        ? (entry.note ?? '')
        : `${record.residents.get(entry.residentId ?? '')?.body.name ?? 'An animal'}: ${MARK_WORDS[entry.mark]}${entry.note === undefined ? '' : `, ${entry.note}`}`
    case 'void':
      return `Void: ${entry.reason}`
    case 'check':
      return `Looked: ${entry.answers.map((answer) => answer.replaceAll('-', ' ')).join(', ')}${resident(entry.residentId)}`
    case 'photo':
      return `Photograph${entry.note === undefined ? '' : `: ${entry.note}`}${resident(entry.residentId)}`
    case 'container':
      return containerWords(entry, record)
    case 'tally': {
      const poured = corrections.find(({ id }) => addedMeasure(id) === entry.measure)
      if (poured)
        return `${sentenceCase(analyteWord(poured.analyte as never))}: ${Number((entry.values['grams'] ?? 0).toPrecision(3))} g added${entry.deviceId === undefined ? '' : ` by ${record.devices.get(entry.deviceId)?.body.name ?? 'a doser'}`}, about ${Number((entry.values['rise'] ?? 0).toPrecision(2))} ${poured.unit}`
      const measure = countedIn(record, entry.courseId, entry.measure)
      const values = Object.entries(entry.values).map(([key, value]) => {
        const field = measure?.fields.find(({ id }) => id === key)
        return `${field?.label.toLowerCase() ?? key.replaceAll('-', ' ')} ${field?.levels?.[value]?.toLowerCase() ?? value}`
      })
      return `${measure?.title ?? entry.measure.replaceAll('-', ' ')}${entry.piece === undefined ? '' : `, ${entry.piece}`}${entry.arm === undefined ? '' : ` (${(measure?.arms?.find(({ id }) => id === entry.arm)?.label ?? entry.arm.replaceAll('-', ' ')).toLowerCase()})`}: ${values.join(', ')}`
    }
    case 'gear':
      return `${record.gear.get(entry.gearId)?.body.name ?? 'A piece of gear'} ${{ wet: 'used, wet', disinfected: 'disinfected and rinsed', dried: 'dried for a day' }[entry.act]}`
    case 'bath':
      return `${bathWords(entry, record)}${entry.minutes === undefined ? '' : ` after ${Math.round(entry.minutes)} min`}${entry.amount === undefined ? '' : `, ${entry.amount} ${entry.unit} in ${litresIn(entry.litres ?? 0, record)}`}${entry.reason === undefined ? '' : `: ${entry.reason}`}`
  }
}
