// Runs act cases: a small record built with the core's own types, one act, and what the house answers first.
import {
  actContext,
  agentForm,
  answer,
  instantOf,
  newCourseBody,
  protocolOf,
  readStrength,
  recordOf,
  defaultSettings,
  gravity,
  groupOf,
  formAmong,
  verdictOf,
  species,
  type ActAnswer,
  type Analyte,
  type Entry,
  type Intent,
  type KeeperRecord,
  type RegisterDocument,
  type Verdict,
} from '../../src/index.ts'

export interface ActCase {
  readonly id: string
  readonly title: string
  readonly record: {
    readonly vessels: readonly {
      readonly id: string
      readonly water: 'marine' | 'fresh'
      readonly use: 'quarantine' | 'display' | 'bath'
      readonly litres: number
      readonly litresBefore?: number
      readonly media?: readonly string[]
    }[]
    readonly residents: readonly {
      readonly id: string
      readonly vessel: string
      readonly group: string
      readonly species?: string
      readonly count?: number
    }[]
    readonly bottles: readonly {
      readonly id: string
      readonly form: string
      readonly strength: string
      readonly confirmed?: boolean
      readonly labelLevel?: string
    }[]
    readonly courses?: readonly {
      readonly id: string
      readonly protocol: string
      readonly vessel: string
      readonly bottle?: string
      readonly daysAgo: number
    }[]
    readonly done?: readonly Done[]
  }
  readonly act: Record<string, unknown> & { readonly kind: string }
  readonly expect: {
    readonly verdict?: Verdict
    readonly least?: Verdict
    readonly most?: Verdict
    readonly level?: readonly [number, number]
  }
}
type Done = { readonly kind: string; readonly hoursAgo: number } & Record<string, unknown>

const HOUR = 3_600_000
export const NOW = Date.parse('2026-11-27T12:00:00.000Z')
const ZONE = 'Europe/Berlin'
const VERDICTS: readonly string[] = ['pass', 'warn', 'ask', 'block', 'forbid']
const LONG_AGO = instantOf(NOW - 400 * 24 * HOUR)

const doc = (register: string, id: string, body: object): RegisterDocument =>
  ({ register, id, revision: 1, savedAt: LONG_AGO, body, history: [] }) as unknown as RegisterDocument

class Unknown extends Error {}
const must = <T>(value: T | undefined, what: string): T => {
  if (value === undefined) throw new Unknown(what)
  return value
}

/** A box of so many litres, measured so that its volume is known to the share given. */
function volumeOf(litres: number, share = 0.02) {
  const side = 10 * Math.cbrt(litres)
  const none = { value: 0, sd: 0 }
  return {
    shape: { kind: 'box', lengthCm: side, widthCm: side, heightCm: side },
    glassCm: none,
    bottomGlassCm: none,
    fillGapCm: none,
    substrateDepthCm: none,
    substratePorosity: { value: 0.42, sd: 0 },
    rockMassKg: none,
    rockDensityKgPerL: { value: 1.4, sd: 0 },
    rockPorosity: { value: 0.4, sd: 0 },
    equipmentL: none,
    sumpL: none,
    plumbingL: none,
    // Three sides of one length: each carries the share over the root of three.
    dimensionSdCm: (share * side) / Math.sqrt(3),
  }
}

function vesselBody(one: ActCase['record']['vessels'][number]) {
  const volume = volumeOf(one.litres)
  return {
    name: one.id,
    purpose: one.use,
    water: one.water,
    nominalL: one.litres,
    volume,
    volumeConfirmedAt: LONG_AGO,
    bindingMedia: one.media?.includes('rock') ? 'rock' : one.media?.includes('sand') ? 'sand' : 'none',
    sortOrder: 1,
    startedAt: LONG_AGO,
  }
}

function labelBandOf(text: string | undefined) {
  if (text === undefined) return {}
  const numbers = [...text.matchAll(/[\d.]+/g)].map(([match]) => Number(match))
  return { labelBand: { minMgPerL: numbers[0]!, maxMgPerL: numbers[1] ?? numbers[0]! } }
}
function strengthOf(form: string, text: string) {
  const read = readStrength(text, must(agentForm(form), `form ${form}`))
  if (!read.ok) throw new Unknown(`strength ${text}: ${read.error}`)
  return read.value
}

/** Kits that read whatever the protocols ask for: the cases speak of none. */
const KITS: readonly Analyte[] = ['copper', 'ammonia-total', 'temperature', 'salinity', 'ph', 'alkalinity', 'nitrite']

function courseBodyOf(
  record: KeeperRecord,
  protocolId: string,
  vessel: string,
  bottle: string | undefined,
  startMs: number,
) {
  const protocol = must(protocolOf(protocolId), `protocol ${protocolId}`)
  const product = bottle === undefined ? undefined : must(record.products.get(bottle), `bottle ${bottle}`)
  const role = protocol.productRoles.find(({ forms }) => formAmong(product?.body, forms))
  return newCourseBody({
    protocol,
    vesselId: vessel,
    startMs,
    zone: ZONE,
    residents: [...record.residents.values()].filter(({ body }) => body.vesselId === vessel).map(({ id }) => id),
    products: bottle === undefined ? {} : { [role?.id ?? protocol.productRoles[0]?.id ?? 'bottle']: bottle },
    instruments: Object.fromEntries(protocol.instrumentRoles.map(({ id, analyte }) => [id, `kit-${analyte}`])),
    parameters: Object.fromEntries(
      (protocol.parameters ?? []).map(({ id, min, default: usual }) => [id, usual ?? min]),
    ),
  })
}

/** The record of a case. @throws Unknown for an id that the knowledge does not hold */
export function recordOfCase(one: ActCase): KeeperRecord {
  const { vessels, residents, bottles, courses = [], done = [] } = one.record
  const settings = {
    ...defaultSettings(ZONE, 'en-GB'),
    law: { country: 'Here', answers: {} as Record<string, 'lawful' | 'not-lawful'> },
  }
  for (const { form } of [...bottles, ...(one.act.kind === 'bottle' ? [{ form: String(one.act['form']) }] : [])])
    settings.law.answers[must(agentForm(form), `form ${form}`).agent] = 'lawful'
  const registers: RegisterDocument[] = [
    ...vessels.map((vessel) => {
      const document = doc('vessel', vessel.id, vesselBody(vessel))
      return vessel.litresBefore === undefined
        ? document
        : ({
            ...document,
            revision: 2,
            history: [{ revision: 1, savedAt: LONG_AGO, body: vesselBody({ ...vessel, litres: vessel.litresBefore }) }],
          } as RegisterDocument)
    }),
    ...residents.map(({ id, vessel, group, species: kind, count = 1 }) => {
      must(groupOf(group), `group ${group}`)
      const known = kind === undefined ? undefined : species.find((candidate) => candidate.id === kind)
      return doc('resident', id, {
        name: id,
        commonName: known?.common ?? '',
        ...(known ? { scientificName: known.scientific } : {}),
        group,
        count,
        vesselId: vessel,
        arrivedAt: LONG_AGO,
      })
    }),
    ...bottles.map(({ id, form, strength, confirmed, labelLevel }) =>
      doc('product', id, {
        name: id,
        form,
        strength: strengthOf(form, strength),
        ...labelBandOf(labelLevel),
        ...(confirmed === true ? { confirmedAt: LONG_AGO } : {}),
      }),
    ),
    ...KITS.map((analyte) =>
      doc('instrument', `kit-${analyte}`, {
        name: analyte,
        analyte,
        method: 'photometer',
        step: 0.01,
        relativeError: 0.05,
      }),
    ),
  ]
  const entries: Entry[] = []
  const put = (hoursAgo: number, fields: object) => {
    const ms = NOW - hoursAgo * HOUR
    entries.push({
      id: `e-${String(entries.length + 1).padStart(4, '0')}`,
      at: instantOf(ms),
      recordedAt: instantOf(ms),
      zone: ZONE,
      ...fields,
    } as unknown as Entry)
  }
  for (const vessel of vessels)
    for (const item of vessel.media ?? [])
      if (item !== 'rock' && item !== 'sand') put(300 * 24, { kind: 'equipment', vesselId: vessel.id, item, on: true })
  const plain = recordOf(settings as never, registers, [])
  for (const act of done) {
    const intent = intentOf(act, plain, one)
    put(act.hoursAgo, doneEntry(act, plain, intent))
    if (act.kind === 'bath')
      put(act.hoursAgo - Number(act['minutes']) / 60, {
        kind: 'bath',
        vesselId: String(act['vessel']),
        rule: 'bath',
        act: 'end',
        minutes: Number(act['minutes']),
        residentIds: act['residents'],
      })
  }
  for (const course of courses)
    registers.push(
      doc(
        'course',
        course.id,
        courseBodyOf(plain, course.protocol, course.vessel, course.bottle, NOW - course.daysAgo * 24 * HOUR),
      ),
    )
  return recordOf(settings as never, registers, entries)
}

/** What has happened, as entries: the drafts of the same acts, without asking. */
function doneEntry(act: Done, record: KeeperRecord, intent: Intent | null): object {
  switch (act.kind) {
    case 'media':
      return { kind: 'equipment', vesselId: String(act['vessel']), item: String(act['item']), on: act['on'] === true }
    case 'move':
      return {
        kind: 'move',
        vesselId: record.residents.get(String((act['residents'] as string[])[0]))!.body.vesselId,
        residentId: String((act['residents'] as string[])[0]),
        toVesselId: String(act['to']),
      }
    case 'change':
      return {
        kind: 'change',
        vesselId: String(act['vessel']),
        fraction: Number(act['share']),
        ...(act['makeUp']
          ? {
              replacement: [
                {
                  productId: (act['makeUp'] as { bottle: string }).bottle,
                  mgPerL: (act['makeUp'] as { mgPerL: number }).mgPerL,
                },
              ],
            }
          : {}),
      }
    default: {
      const made = answer(actContext(record, NOW), must(intent ?? undefined, `act ${act.kind}`))
      const draft = made.drafts.at(-1)
      if (!draft) throw new Unknown(`${act.kind}: ${made.problem}`)
      return draft
    }
  }
}

/** The act of a case as the screens would ask it. */
export function intentOf(
  act: Record<string, unknown> & { kind: string },
  record: KeeperRecord,
  one: ActCase,
): Intent | null {
  const text = (key: string) => String(act[key])
  const vesselId = text('vessel')
  switch (act.kind) {
    case 'reading':
      return {
        kind: 'reading',
        vesselId,
        analyte: text('analyte') as Analyte,
        text: `${text('value')} ${text('unit')}`,
      }
    case 'dose':
      return { kind: 'dose', vesselId, productId: text('bottle'), amounts: [text('amount')] }
    case 'change': {
      const makeUp = act['makeUp'] as { bottle: string; mgPerL: number } | undefined
      return {
        kind: 'change',
        vesselId,
        text: `${Number(act['share']) * 100} %`,
        ...(makeUp ? { makeUp: { productId: makeUp.bottle, text: `${makeUp.mgPerL} mg/L` } } : {}),
      }
    }
    case 'bath':
      return {
        kind: 'bath',
        vesselId,
        rule: 'bath',
        residentIds: act['residents'] as string[],
        litres: one.record.vessels.find(({ id }) => id === vesselId)?.litres ?? 10,
        productId: text('bottle'),
        mgPerL: Number(act['mgPerL']),
        minutes: Number(act['minutes']),
      }
    case 'move': {
      const ids = act['residents'] as string[]
      const from = ids.map((id) => must(record.residents.get(id), `resident ${id}`).body.vesselId)
      return {
        kind: 'move',
        vesselId: from[0]!,
        residents: ids.map((id) => ({ id, ...(typeof act['count'] === 'number' ? { count: act['count'] } : {}) })),
        toVesselId: text('to'),
      }
    }
    case 'course':
      return {
        kind: 'course',
        id: 'new-course',
        vesselId,
        body: courseBodyOf(record, text('protocol'), vesselId, act['bottle'] as string | undefined, NOW),
        instrumentId: 'kit-copper',
      }
    case 'binder':
      return { kind: 'equipment', vesselId, item: 'binder', on: true }
    case 'media':
      return { kind: 'equipment', vesselId, item: text('item') as never, on: act['on'] === true }
    case 'bottle': {
      const numbers = typeof act['labelLevel'] === 'string' ? labelBandOf(act['labelLevel']).labelBand : undefined
      return {
        kind: 'bottle',
        newId: 'new-bottle',
        form: text('form'),
        name: 'The bottle',
        strength: strengthOf(text('form'), text('strength')),
        ...(numbers ? { labelLow: String(numbers.minMgPerL), labelHigh: String(numbers.maxMgPerL) } : {}),
        confirmed: act['confirmed'] === true,
      }
    }
    case 'vessel': {
      const { kind: _, shape, shopLitres, water, use, ...sizes } = act
      return {
        kind: 'vessel',
        newId: 'new-vessel',
        shopL: typeof shopLitres === 'number' ? shopLitres : null,
        confirmed: true,
        body: {
          name: 'The vessel',
          purpose: (use as 'display') ?? 'display',
          water: (water as 'marine') ?? 'marine',
          volume: {
            ...volumeOf(1),
            shape: { kind: shape ?? 'box', ...sizes },
            glassCm: { value: 0.8, sd: 0.05 },
            bottomGlassCm: { value: 0.8, sd: 0.1 },
            fillGapCm: { value: 3, sd: 0.5 },
            dimensionSdCm: 0.3,
          } as never,
          bindingMedia: 'none',
          evaporationLPerDay: 0,
          startedAt: LONG_AGO,
        },
      }
    }
    default:
      return null
  }
}

export interface Outcome {
  readonly passed: boolean
  readonly words: string
  readonly answer: ActAnswer | null
}

/** One case: passes, or the sentence that says what was expected and what was answered. */
export function runCase(one: ActCase): Outcome {
  try {
    const record = recordOfCase(one)
    const intent = must(intentOf(one.act, record, one) ?? undefined, `act ${one.act.kind}`)
    const found = answer(actContext(record, NOW), intent)
    const verdict = verdictOf(found)
    const { expect } = one
    for (const word of [expect.verdict, expect.least, expect.most])
      if (word !== undefined && !VERDICTS.includes(word)) throw new Unknown(`verdict ${word}`)
    const wrong: string[] = []
    if (expect.verdict !== undefined && verdict !== expect.verdict) wrong.push(`${verdict}, not ${expect.verdict}`)
    if (expect.least !== undefined && gravity(verdict) < gravity(expect.least))
      wrong.push(`${verdict}, not at least ${expect.least}`)
    if (expect.most !== undefined && gravity(verdict) > gravity(expect.most))
      wrong.push(`${verdict}, not at most ${expect.most}`)
    const level = found.preview.level?.toMgPerL
    if (expect.level && !(level !== undefined && level >= expect.level[0] && level <= expect.level[1]))
      wrong.push(`level ${level?.toPrecision(4) ?? 'none'}, not ${expect.level.join(' to ')}`)
    const said = [...found.refusals, ...found.questions].map(({ level: grade, rule }) => `${grade} ${rule}`).join(', ')
    return {
      passed: wrong.length === 0,
      words: `${wrong.join('; ')} (${found.problem ?? said})`,
      answer: found,
    }
  } catch (cause) {
    return {
      passed: false,
      words: cause instanceof Unknown ? `unknown ${cause.message}` : String((cause as Error).stack),
      answer: null,
    }
  }
}
