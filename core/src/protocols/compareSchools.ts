// The schools that apply to these animals in this vessel, side by side: days, handling, water, tests, what each covers
// of what is feared, what speaks against it here, and which one is suggested, with its reason.
import { threats as TABLES } from '../generated/knowledge/threats.ts'
import type { Threat, ThreatId } from '../generated/threatTypes.ts'
import { limitOf } from '../knowledge/limits.ts'
import { agentForm, groupOf, sensitivity } from '../knowledge/agents.ts'
import { tableOf } from '../knowledge/conditions.ts'
import { protocolLibrary } from '../knowledge/library.ts'
import { formAmong } from '../knowledge/uses.ts'
import {
  asChosen,
  usualVariant,
  type Condition,
  type Protocol,
  type RuleOf,
  type Variant,
} from '../knowledge/protocols.ts'
import { vesselVolume } from '../level/fromRecord.ts'
import { residentsIn } from '../record/whereabouts.ts'
import type { ActiveLedger, KeeperRecord, ResidentDocument } from '../record/types.ts'
import { instantOf } from '../time/time.ts'
import { inSentence } from '../units/format.ts'
import { courseNeeds } from './courseNeeds.ts'
import { leastDays } from './plan.ts'

/** Threats a keeper may fear or suspect, in words; the ids are those of a protocol's coverage. */
export const THREATS: readonly Threat[] = TABLES.flatMap(({ threats }) => threats)
export type { ThreatId }

export interface SchoolColumn {
  readonly protocol: Protocol
  /** The way that would start for these animals. */
  readonly variant: Variant
  /** Days to the release: the course, what belongs to its strategy afterwards, and the watching of its variant. */
  readonly days: number
  /** What comes after the course and is counted in, in words; empty where the course holds it all. */
  readonly afterwards: readonly string[]
  readonly handling: number
  /** Water to prepare over the whole course, L; null while the volume is unknown. */
  readonly waterL: number | null
  /** Product over the whole course, without a margin, by bottle on the shelf; empty where none is registered. */
  readonly products: readonly { readonly productId: string; readonly amount: number; readonly unit: string }[]
  readonly tests: number
  readonly doses: number
  readonly baths: number
  readonly coverage: readonly { readonly threat: ThreatId; readonly degree: 'full' | 'part' | 'none' }[]
  /** What is missing: a bottle, a second vessel. */
  readonly needs: readonly string[]
  /** Animals that must not meet it, and those it is hard on. */
  readonly forbidden: readonly string[]
  readonly cautions: readonly string[]
  /** Never suggested: these animals take its drug badly, and the school has no careful way. */
  readonly unfit: boolean
  readonly earliestMs: number
  /** Handling and drug exposure together, 0..1: what it costs the animals. */
  readonly load: number
}
export interface SchoolComparison {
  readonly columns: readonly SchoolColumn[]
  readonly suggested: string | null
  readonly reasons: readonly string[]
  readonly tips: readonly string[]
}

export interface CompareSchoolsOptions {
  readonly record: KeeperRecord
  readonly active: ActiveLedger
  readonly vesselId: string
  readonly residentIds: readonly string[]
  /** Groups of animals that are still to come: compared for as if they lived there. */
  readonly expected?: readonly string[]
  /** Empty: nothing is suspected yet. */
  readonly threats: readonly ThreatId[]
  readonly nowMs: number
}

const DAY = 86_400_000
const PURPOSES: readonly Protocol['purpose'][] = ['treatment', 'prevention', 'intake', 'observation']

/** Whom a comparison is for: residents on record, and one for each group that is still to come. */
function animalsOf({ record, vesselId, residentIds, expected = [] }: CompareSchoolsOptions): ResidentDocument[] {
  return [
    ...residentIds.flatMap((id) => record.residents.get(id) ?? []),
    ...expected.map((group): ResidentDocument => {
      const name = groupOf(group)?.label ?? group
      return {
        register: 'resident',
        id: `expected-${group}`,
        revision: 1,
        savedAt: instantOf(0),
        body: {
          name,
          commonName: name,
          scientificName: '',
          group,
          count: 1,
          vesselId,
          arrivedAt: instantOf(0),
        },
        history: [],
      }
    }),
  ]
}

/** Pure over the record. */
export function compareSchools(options: CompareSchoolsOptions): SchoolComparison {
  const { record, active, vesselId, nowMs } = options
  const vessel = record.vessels.get(vesselId)
  if (!vessel) return { columns: [], suggested: null, reasons: [], tips: [] }
  const residents = animalsOf(options)
  // For nobody there is nothing to compare, and nothing that speaks against a school.
  if (residents.length === 0) return { columns: [], suggested: null, reasons: [], tips: [] }
  const hosts = new Set(residents.map(({ body }) => groupOf(body.group)?.kind ?? 'fish'))
  const volume = vesselVolume(vessel)
  const others = [...record.vessels.values()].filter(
    ({ id, body }) =>
      id !== vesselId &&
      body.archivedAt === undefined &&
      body.water === vessel.body.water &&
      (body.purpose === 'observation' || body.purpose === 'transfer' || body.purpose === 'quarantine'),
  )
  const bystanders = residentsIn(record, active, vesselId, nowMs).filter(({ id }) => !options.residentIds.includes(id))
  const columns = protocolLibrary
    .filter(
      ({ purpose, water, hosts: wanted, residents: asked }) =>
        PURPOSES.includes(purpose) &&
        // What asks for no animal is no school for one.
        !(purpose === 'observation' && asked !== 'required') &&
        (water === 'both' || water === vessel.body.water) &&
        (wanted ?? ['fish']).some((host) => hosts.has(host)),
    )
    .map((protocol): SchoolColumn => {
      const forms = protocol.productRoles.map((role) => {
        const own = [...record.products.values()]
          .filter(({ body }) => formAmong(body, role.forms) !== undefined && body.usedUpAt === undefined)
          // A bottle whose label was confirmed comes first, then one registered for this very use.
          .sort(
            (a, b) =>
              Number(b.body.confirmedAt !== undefined) - Number(a.body.confirmedAt !== undefined) ||
              Number(role.forms.includes(b.body.form)) - Number(role.forms.includes(a.body.form)),
          )
        return { role, own, form: formAmong(own[0]?.body, role.forms) ?? agentForm(role.forms[0]!) }
      })
      const { forbidden, cautions } = against(
        forms.flatMap(({ form }) => (form && form.route === 'in-tank' ? [form] : [])),
        forms.flatMap(({ form }) => (form && form.route !== 'in-tank' ? [form] : [])),
        residents,
        bystanders,
        vessel.body.water,
      )
      const needs = [
        ...forms
          .filter(({ own, role }) => own.length === 0 && role.optional !== true)
          .map(({ role }) => role.label.toLowerCase()),
        ...(protocol.vesselRoles ?? []).slice(others.length).map(({ label }) => label.toLowerCase()),
      ]
      const main = forms[0]?.form
      const cautious =
        main !== undefined &&
        residents.some(({ body }) => ['C', '?'].includes(sensitivity(main, body.group, vessel.body.water)))
      const variant = variantFor(protocol, cautious)
      const rules = asChosen(protocol, variant.id).phases.flatMap((phase) =>
        phase.rules.map((rule) => ({ rule, days: phase.typicalDays })),
      )
      const tests = rules.reduce(
        (sum, { rule, days }) =>
          sum + (rule.kind === 'test' ? Math.ceil((days * 24) / everyOf(rule.everyHours, main?.id)) : 0),
        0,
      )
      const times = (kind: 'dose' | 'bath') =>
        rules.reduce((sum, { rule }) => sum + (rule.kind === kind ? rule.times : 0), 0)
      const { days, afterwards } = daysToRelease(protocol, variant)
      const handling = protocol.handling ?? 0
      const drugDays = rules.reduce(
        (sum, { rule, days: phaseDays }) =>
          sum + (rule.kind === 'hold' || rule.kind === 'ramp' || rule.kind === 'dose' ? phaseDays : 0),
        0,
      )
      return {
        protocol,
        variant,
        days,
        afterwards,
        handling,
        waterL: volume ? (protocol.waterShare ?? 1) * volume.litres : null,
        products: poured(
          options,
          protocol,
          variant.id,
          Object.fromEntries(forms.flatMap(({ role, own }) => (own[0] ? [[role.id, own[0].id]] : []))),
        ),
        tests,
        doses: times('dose') + rules.filter(({ rule }) => rule.kind === 'ramp' || rule.kind === 'hold').length,
        baths: times('bath'),
        coverage: THREATS.map(({ id }) => ({
          threat: id,
          degree:
            protocol.coverage?.[id] ??
            protocol.afterwards?.find(({ coverage }) => coverage?.[id])?.coverage?.[id] ??
            'none',
        })),
        needs,
        forbidden,
        cautions: cautious && protocol.notForCautious ? [...cautions, protocol.notForCautious] : cautions,
        unfit: cautious && protocol.notForCautious !== undefined,
        earliestMs: nowMs + days * DAY,
        load: Math.min(1, handling / 12 + drugDays / 60),
      }
    })
  return { columns, ...suggest(columns, options, hosts, vessel.body.water) }
}

/** The way that starts where nobody chose one: the careful one for animals that take the drug badly, else the default. */
export const variantFor = (protocol: Protocol, cautious: boolean): Variant =>
  (cautious ? protocol.variants.find(({ forCautious }) => forCautious) : undefined) ?? usualVariant(protocol)

/** Hours between two tests, by the form that would be poured; where nobody knows, the shortest. */
function everyOf(every: RuleOf<'test'>['everyHours'], formId: string | undefined): number {
  if (typeof every === 'number') return every
  if (!('byForm' in every)) return 48
  return (formId === undefined ? undefined : every.byForm[formId]) ?? Math.min(...Object.values(every.byForm))
}

/** Days from the first press to the release, and what of them lies behind the course itself. @source handbook 30 §5.1, §5.6 */
export function daysToRelease(protocol: Protocol, variant: Variant): { days: number; afterwards: string[] } {
  const watched = protocol.phases.find(({ exit }) => asksVariant(exit))
  const watch = variant.watchDays ?? 0
  const longer = watched ? Math.max(0, watch - watched.typicalDays) : watch
  const after = protocol.afterwards ?? []
  return {
    days: leastDays(protocol) + longer + after.reduce((sum, { days }) => sum + days, 0),
    afterwards: [
      ...after.map(({ days, what }) => `${days} days: ${what}`),
      ...(!watched && watch > 0 ? [`${watch} days of watching`] : []),
    ],
  }
}
/** Whether a way out hangs on the days its variant watches. */
const asksVariant = (condition: Condition): boolean =>
  condition.kind === 'all' || condition.kind === 'any'
    ? condition.of.some(asksVariant)
    : condition.kind === 'signs-absent' && typeof condition.days !== 'number' && 'variant' in condition.days

/** What each bottle at hand would pour over the whole course. */
function poured(
  { record, active, vesselId, nowMs }: CompareSchoolsOptions,
  protocol: Protocol,
  variantId: string,
  products: Readonly<Record<string, string>>,
): SchoolColumn['products'] {
  if (Object.keys(products).length === 0) return []
  const needs = courseNeeds({ record, active, protocol, variantId, vesselId, products, parameters: {}, nowMs })
  return needs.products.flatMap(({ productId, amount, unit }) =>
    productId === null || amount === null || unit === null || amount === 0 ? [] : [{ productId, amount, unit }],
  )
}

function against(
  inTank: readonly NonNullable<ReturnType<typeof agentForm>>[],
  baths: readonly NonNullable<ReturnType<typeof agentForm>>[],
  residents: readonly ResidentDocument[],
  bystanders: readonly ResidentDocument[],
  water: 'marine' | 'fresh',
): { forbidden: string[]; cautions: string[] } {
  const forbidden: string[] = []
  const cautions: string[] = []
  const look = (form: NonNullable<ReturnType<typeof agentForm>>, resident: ResidentDocument) => {
    const code = sensitivity(form, resident.body.group, water)
    const words = `${resident.body.name}: ${inSentence(form.label)}`
    if (code === 'X') forbidden.push(words)
    else if (code === 'C' || code === '?') cautions.push(words)
  }
  for (const form of inTank) for (const resident of [...residents, ...bystanders]) look(form, resident)
  for (const form of baths) for (const resident of residents) look(form, resident)
  return { forbidden: [...new Set(forbidden)], cautions: [...new Set(cautions)] }
}

/** What kills within days weighs more; what only some fish are prone to, less. @source EST */
const KILLS_IN_DAYS = limitOf('weight-quick-killer')
const PRONE_ONLY = limitOf('weight-prone-only')
/** Weight from which a group counts as prone. @source handbook 30 §4.4: the multipliers of prone groups begin at 2 */
const PRONE = limitOf('prone-from')
/** What these animals fall to more often than others, by the host weights of the conditions. */
function proneTo(options: CompareSchoolsOptions): { threat: Threat; who: string }[] {
  const { hostMultipliers } = tableOf('fish-marine')
  return THREATS.flatMap((threat) => {
    const { condition } = threat
    if (condition === undefined) return []
    const who = animalsOf(options).find(({ body }) => (hostMultipliers[body.group]?.[condition] ?? 1) >= PRONE)
    return who ? [{ threat, who: who.body.name }] : []
  })
}

function suggest(
  columns: readonly SchoolColumn[],
  options: CompareSchoolsOptions,
  hosts: ReadonlySet<string>,
  water: 'marine' | 'fresh',
): { suggested: string | null; reasons: string[]; tips: string[] } {
  const asked = options.threats.length > 0
  // A single treatment is suggested only for something that is suspected.
  const open = columns.filter(
    ({ forbidden, unfit, protocol }) => forbidden.length === 0 && (asked || protocol.strategy === true) && !unfit,
  )
  if (open.length === 0)
    return {
      suggested: null,
      reasons: [
        'Every school here meets an animal that must not meet it. Another vessel, or fewer animals at once, opens the way.',
      ],
      tips: [],
    }
  const prone = proneTo(options)
  const newcomer = hosts.has('fish') ? (`${water} fish` as const) : hosts.has('coral') ? 'coral' : 'invertebrate'
  const quick = new Set(THREATS.filter(({ killsInDays }) => killsInDays === true).map(({ id }) => id))
  const wanted = asked
    ? options.threats
    : [
        ...new Set([
          ...THREATS.filter(({ usualFor }) => usualFor.includes(newcomer)).map(({ id }) => id),
          ...prone.map(({ threat }) => threat.id),
        ]),
      ]
  const weight = { full: 1, part: 0.4, none: 0 } as const
  const worth = (threat: ThreatId) =>
    !wanted.includes(threat)
      ? 0
      : quick.has(threat)
        ? KILLS_IN_DAYS
        : !asked && prone.some((one) => one.threat.id === threat)
          ? PRONE_ONLY
          : 1
  const all = wanted.reduce((sum, threat) => sum + worth(threat), 0)
  const covered = (column: SchoolColumn) =>
    column.coverage.reduce((sum, { threat, degree }) => sum + worth(threat) * weight[degree], 0) / Math.max(1, all)
  const score = (column: SchoolColumn) =>
    covered(column) -
    0.12 * column.needs.length -
    0.1 * Math.min(3, column.cautions.length) -
    0.12 * column.load -
    column.days / 1000
  const ranked = [...open].sort((a, b) => score(b) - score(a) || (a.protocol.id < b.protocol.id ? -1 : 1))
  const best = ranked[0]!
  const names = (ids: readonly string[]) =>
    ids.map((id) => THREATS.find((threat) => threat.id === id)?.label.toLowerCase() ?? id).join(', ')
  const full = best.coverage
    .filter(({ threat, degree }) => wanted.includes(threat) && degree === 'full')
    .map(({ threat }) => threat)
  const missed = best.coverage
    .filter(({ threat, degree }) => wanted.includes(threat) && degree === 'none')
    .map(({ threat }) => threat)
  const reasons = [
    `${asked ? 'Of what you fear' : 'Of what such newcomers most often bring'} it covers ${full.length > 0 ? `${names(full)} in full` : 'nothing in full'}${missed.length > 0 ? `, and misses ${names(missed)}` : ''}.`,
    ...prone.map(
      ({ threat: { id, prone: says, uncovered }, who }) =>
        `${who} ${says ?? `is prone to ${names([id]).replace(/^./, (letter) => letter.toUpperCase())}`}: look there first${uncovered !== undefined && best.coverage.every((one) => one.threat !== id || one.degree === 'none') ? `; ${uncovered}` : ''}.`,
    ),
    ...(best.variant.forCautious === true ? [`${best.variant.title}: ${best.variant.when}`] : []),
    `${best.days} days to the release${best.afterwards.length > 0 ? ` (with ${best.afterwards.join(' and ')})` : ''}, ${best.handling === 0 ? 'no fish is caught' : `${best.handling} ${best.handling === 1 ? 'time' : 'times'} in the net`}${best.cautions.length > 0 ? `; care for ${best.cautions.join(', ')}` : ''}.`,
    ...(best.needs.length > 0 ? [`You still need: ${best.needs.join(', ')}.`] : []),
  ]
  const tips = ranked.slice(1, 4).flatMap((other) => {
    if (other.needs.length > 0 && covered(other) >= covered(best))
      return [`With ${other.needs.join(' and ')} at hand, ${other.protocol.title} would stand level.`]
    if (covered(other) > covered(best))
      return [
        `${other.protocol.title} covers more; ${other.cautions.length > best.cautions.length ? 'it is harder on these animals' : 'it costs them more'}.`,
      ]
    if (other.load < best.load - 0.1) return [`${other.protocol.title} is gentler; it covers less of this.`]
    return []
  })
  return { suggested: best.protocol.id, reasons, tips }
}
