// A dose into a vessel's water: the level of this agent, where it leads, and everything that speaks against it.
import { limitOf } from '../knowledge/limits.ts'
import { measureFor, type Measure } from '../dosing/dose.ts'
import type { AgentForm } from '../knowledge/agents.ts'
import { formAmong, formInWater } from '../knowledge/uses.ts'
import type { Rule } from '../knowledge/protocols.ts'
import { agentForm } from '../knowledge/agents.ts'
import { valueFor } from '../protocols/courseContext.ts'
import { pauseOf } from '../protocols/rules/registry.ts'
import type { CourseDocument, DoseEntry, Entry, ProductDocument, VesselDocument } from '../record/types.ts'
import {
  againstAnimals,
  againstExposures,
  againstVessel,
  againstWater,
  animalsIn,
  overCeiling,
  partyOf,
  temperatureQuestion,
} from '../safety/gate.ts'
import { checkLaw } from '../safety/law.ts'
import { entriesOf, type AgentLevel } from '../safety/level.ts'
import { mostInside, reached, type Room } from '../safety/limits.ts'
import { roomIn, type RoomQuery } from '../safety/room.ts'
import { ask, block, forbid, warn, type Refusal } from '../safety/refusal.ts'
import { coursesIn, partiesIn } from '../safety/water.ts'
import { entryMs } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import type { Working } from '../working.ts'
import { readAmounts } from './amounts.ts'
import { answerOf, problemAnswer } from './answer.ts'
import { atOf, baseOf, checkInstant, checkStep, courseFor, protocolOfCourse } from './place.ts'
import { checkProduct } from './product.ts'
import { readTemperature } from './temperature.ts'
import type { ActContext, ActAnswer, DoseIntent, Draft, LevelPreview } from './types.ts'

/** The use a bottle is put to by a step of a course: the form that the step's role takes. */
export function formForCourse(course: CourseDocument | undefined, product: ProductDocument): AgentForm | undefined {
  if (!course) return undefined
  for (const role of protocolOfCourse(course).productRoles) {
    const form = formAmong(product.body, role.forms)
    if (form && course.body.products[role.id] === product.id) return form
  }
  return undefined
}

/** Form meant by a dose: as said, as the course's role takes it, else what the bottle is in this water. */
export const formMeant = (
  context: ActContext,
  intent: Pick<DoseIntent, 'form' | 'productId' | 'vesselId'>,
  course: CourseDocument | undefined,
): AgentForm | undefined => {
  const product = context.record.products.get(intent.productId)
  const vessel = context.record.vessels.get(intent.vesselId)
  if (!product || !vessel) return undefined
  return agentForm(intent.form ?? '') ?? formForCourse(course, product) ?? formInWater(product.body, vessel.body)
}

/** The room a bottle has in a vessel, as an act is asked. */
export const roomFor = (context: ActContext, query: Omit<RoomQuery, 'nowMs' | 'known'>) =>
  roomIn(context, { ...query, nowMs: context.nowMs, known: context.known })

/** The dose as typed, held against everything. */
export function doseAct(context: ActContext, intent: DoseIntent): ActAnswer {
  const { record } = context
  const vessel = record.vessels.get(intent.vesselId)
  const product = record.products.get(intent.productId)
  if (!vessel) return problemAnswer('That vessel is not on the shelf.')
  if (intent.productId === '')
    return problemAnswer('No bottle is chosen: a dose without a known strength cannot be worked out.')
  if (!product)
    return problemAnswer('That bottle is not in the cupboard any more. What you typed is still here: choose another.')
  const course =
    courseFor(context, intent, ({ body }) => Object.values(body.products).includes(product.id)) ??
    courseFor(context, intent)
  const form = formMeant(context, intent, course)
  if (!form) return problemAnswer(`The form of "${product.body.name}" is not known. Choose the form the label states.`)
  const read = readAmounts(intent.amounts, product, record.settings, intent.thinned)
  if (!read.ok) return problemAnswer(read.error)
  const { amount, unit, contentMg, measureStep, entered } = read.value
  const temperature = readTemperature(context, intent, vessel)
  if (temperature.problem !== null) return problemAnswer(temperature.problem)
  const atMs = atOf(context, intent)
  const room = roomFor(context, {
    vesselId: vessel.id,
    form,
    contentMg,
    atMs,
    ...(temperature.value === null ? {} : { temperatureC: temperature.value }),
    ...(intent.corrects === undefined ? {} : { without: intent.corrects }),
  })
  const found: Refusal[] = [
    ...checkInstant(context, vessel.id, atMs, context.nowMs),
    ...checkStep(context, intent),
    ...checkProduct(product.body, context.nowMs, record.settings.zone),
    ...checkLaw(record.settings, form.id, 'dose'),
    ...checkVolume(vessel, room),
    ...checkRoute(form, vessel),
    ...checkCourseBottle(context, vessel, form, product, atMs),
    ...checkSpacing(context, vessel, product, form, amount, atMs, intent),
    ...temperature.found,
  ]
  const animals = animalsIn(context, vessel.id, atMs)
  // The level it leads to is what meets the rest.
  const incoming = partyOf(form, atMs, room ? reached(room, amount).worstMgPerL : Infinity)
  found.push(...againstVessel(context, form, vessel, atMs))
  found.push(...againstAnimals(form, animals, vessel))
  found.push(...againstWater(context, vessel, incoming, atMs, context.known))
  found.push(...againstExposures(context, animals, incoming, atMs, { notWaterOf: vessel.id }))
  found.push(...oxygenSum(context, form, vessel, atMs))
  let preview: LevelPreview | undefined
  if (room) {
    const to = reached(room, amount)
    found.push(...temperatureQuestion(form, room.limit, vessel))
    found.push(...overCeiling(form, room.limit, vessel.body.name, to, `${amount} ${unit === 'drop' ? 'drops' : unit}`))
    found.push(...aboveBand(form, product, to.mgPerL, found), ...rampSpeed(form, to.mgPerL - room.level.mgPerL))
    preview = previewOf(context, form, vessel, room, { amount, unit })
  }
  // A ceiling of nought says all that the table says of warmth.
  const said = found.some(({ rule }) => rule === 'safe-ceiling')
    ? found.filter(({ rule }) => !rule.startsWith('cx-formalin-heat') && !rule.startsWith('cx-malachite-heat'))
    : found
  const draft = {
    kind: 'dose',
    ...baseOf(context, intent, course),
    productId: product.id,
    amount,
    unit,
    ...(form.id === product.body.form ? {} : { form: form.id }),
    ...(measureStep === undefined ? {} : { measureStep }),
    entered,
  } as unknown as Draft
  return answerOf({
    found: said,
    drafts: [...temperature.drafts, draft, ...(intent.with ?? [])],
    preview: { ...(preview ? { level: preview } : {}), lines: [] },
    said: `${amount} ${unit === 'drop' ? 'drops' : unit} logged. ${product.body.name} into ${vessel.body.name}.`,
  })
}

function previewOf(
  context: ActContext,
  form: AgentForm,
  vessel: VesselDocument,
  room: Room & { readonly level: AgentLevel },
  poured: { readonly amount: number; readonly unit: DoseEntry['unit'] },
): LevelPreview {
  const to = reached(room, poured.amount)
  const owned: readonly Measure[] | undefined =
    context.record.settings.syringesMl.length > 0 ? context.record.settings.syringesMl : undefined
  const most = room.limit.needsTemperature ? null : mostInside(room, poured.unit, owned)
  return {
    vesselId: vessel.id,
    formId: form.id,
    fromMgPerL: room.level.mgPerL,
    toMgPerL: to.mgPerL,
    worstMgPerL: to.worstMgPerL,
    volumeL: room.volume.litres,
    amount: poured.amount,
    unit: poured.unit,
    contentMg: room.contentMg,
    from: room.level.from,
    ceilingMgPerL: room.limit.ceilingMgPerL,
    most,
    working: doseWorking(form, room, poured, to.mgPerL),
  }
}

const SOURCES: Readonly<Record<AgentLevel['from'], string>> = {
  estimate: 'what your tests and doses make likely',
  reading: 'the last reading, with what went in since',
  residue: 'doses and changes so far, at the slowest loss',
  none: 'none of it was ever given here',
}
function doseWorking(
  form: AgentForm,
  room: Room & { readonly level: AgentLevel },
  poured: { readonly amount: number; readonly unit: string },
  to: number,
): Working {
  return {
    title: form.label,
    formula: 'level before + amount × strength ÷ net volume',
    inputs: [
      {
        label: 'level before',
        value: room.level.mgPerL,
        unit: 'mg/L',
        from: SOURCES[room.level.from],
        entryIds: room.level.entryIds,
      },
      { label: 'amount', value: poured.amount, unit: poured.unit },
      { label: 'strength', value: room.contentMg, unit: `mg per ${poured.unit}` },
      { label: 'net volume', value: room.volume.litres, unit: 'L', sd: room.volume.sdLitres },
      {
        label: 'ceiling here and now',
        value: room.limit.ceilingMgPerL,
        unit: 'mg/L',
        from: LIMIT_WORDS[room.limit.by],
      },
      { label: 'hard maximum', value: form.hardMax, unit: 'mg/L', from: 'held against the low end of the volume' },
    ],
    result: { label: 'level after', value: to, unit: 'mg/L' },
    source: 'Mass balance; handbook 31 T2, T6',
  }
}
const LIMIT_WORDS = {
  hard: 'the hard maximum',
  heat: 'by the warmth of the water',
  caution: 'an animal that needs caution',
  pair: 'by what else is in the water',
} as const

function checkVolume(vessel: VesselDocument, room: Room | null): Refusal[] {
  const { name, volumeConfirmedAt } = vessel.body
  if (!room) return [forbid('volume', `The net volume of ${name} cannot be worked out from its measures.`)]
  if (volumeConfirmedAt !== undefined) return []
  return [
    block(
      'volume-unconfirmed',
      `The net volume of ${name} was never confirmed. Check ${Math.round(room.volume.litres)} ± ${Math.round(room.volume.sdLitres)} L, then confirm it.`,
    ),
  ]
}

function checkRoute(form: AgentForm, vessel: VesselDocument): Refusal[] {
  if (form.route === 'food') return [forbid('food-not-water', `${form.label} goes into food, never into the water.`)]
  if (form.route === 'bath' && vessel.body.purpose !== 'bath')
    return [
      forbid(
        'bath-not-tank',
        `${form.label} at this strength is for a bath vessel with its own water, never for ${vessel.body.name}. Start it as a timed bath.`,
      ),
    ]
  return []
}

/** A course is given from its own bottle, from the first dose on. @source handbook 31 `cu-band-of-the-bottle` */
function checkCourseBottle(
  context: ActContext,
  vessel: VesselDocument,
  form: AgentForm,
  product: ProductDocument,
  atMs: number,
): Refusal[] {
  const found: Refusal[] = []
  for (const course of coursesIn(context, vessel.id, atMs))
    for (const role of protocolOfCourse(course).productRoles) {
      const ownId = course.body.products[role.id]
      const own = ownId === undefined ? undefined : context.record.products.get(ownId)
      const ownForm = own && (formAmong(own.body, role.forms) ?? agentForm(own.body.form))
      if (!own || !ownForm || own.id === product.id || ownForm.agent !== form.agent) continue
      const title = protocolOfCourse(course).title
      found.push(
        form.agent === 'copper' && ownForm.id !== form.id
          ? forbid(
              'cu-band-of-the-bottle',
              `“${title}” runs in ${vessel.body.name} with ${own.body.name} (${ownForm.label}). ${product.body.name} is ${form.label}: its band is another one, and no kit can tell the two apart.`,
            )
          : ask('other-bottle', `“${title}” was started with ${own.body.name}. Is ${product.body.name} meant?`),
      )
    }
  return found
}

/** Shortest pause before the same rule may dose again, h; null where the rule sets none. */
function spacingOf(rule: Rule, course: CourseDocument, context: ActContext, step: string | undefined): number | null {
  const inputs = {
    course,
    forms: {},
    entries: entriesOf(context, course.body.vesselId),
    nowMs: context.nowMs,
  }
  return pauseOf(rule, {
    occurrence: timeOf(rule, course, step),
    variant: protocolOfCourse(course).variants.find(({ id }) => id === course.body.variant),
    valueOf: (value) => valueFor(value, inputs),
  })
}

/** Which time of a rule a step is; the first, whose pause is the shortest, where none is named. */
const timeOf = (rule: Rule, course: CourseDocument, step: string | undefined): number =>
  step?.startsWith(`${course.id}/${rule.id}/`) ? Number(step.split('/')[2]) : 0

const agoWords = (hours: number): string => {
  const minutes = Math.max(1, Math.round(hours * 60))
  return hours >= 1 ? `${Math.round(hours)} h` : minutes === 1 ? 'a minute' : `${minutes} minutes`
}

/** Shares of a pause before which the next dose is asked about. */
const EARLY_SHARE = limitOf('dose-early')
/** The same amount again within this is asked about where no rule spaces it, h. */
const TWICE_HOURS = 1

/** Really once more? By the pause of the rule that gives this bottle; without one, within the hour. */
function checkSpacing(
  context: ActContext,
  vessel: VesselDocument,
  product: ProductDocument,
  form: AgentForm,
  amount: number,
  atMs: number,
  intent: DoseIntent,
): Refusal[] {
  const ledger = entriesOf(context, vessel.id)
  const isDose = (entry: Entry): entry is DoseEntry =>
    entry.kind === 'dose' && entry.productId === product.id && entry.id !== intent.corrects
  const near = ledger.findLast((entry) => isDose(entry) && Math.abs(entryMs(entry) - atMs) < TWICE_HOURS * MS_PER_HOUR)
  // Within its series a dose follows the one before, not what new water was given.
  const last =
    (intent.step === undefined ? undefined : lastOfSeries(ledger, intent.step, atMs)) ??
    ledger.findLast((entry): entry is DoseEntry => isDose(entry) && entryMs(entry) <= atMs)
  const found: Refusal[] = []
  if (last) {
    const hours = (atMs - entryMs(last)) / MS_PER_HOUR
    const readSince = ledger.some(
      (entry) =>
        entry.kind === 'reading' &&
        entry.analyte === form.agent &&
        entryMs(entry) >= entryMs(last) + limitOf('mixes-in') * MS_PER_HOUR &&
        entryMs(entry) <= atMs,
    )
    let longest: { pause: number; title: string; reads: boolean } | null = null
    for (const course of coursesIn(context, vessel.id, atMs))
      for (const phase of protocolOfCourse(course).phases)
        for (const rule of phase.rules) {
          if (!('role' in rule) || course.body.products[rule.role ?? ''] !== product.id) continue
          // The step that is being done keeps its own rhythm: a top-up is no step of the ramp behind it.
          if (intent.step?.startsWith(`${course.id}/`) && intent.step.split('/')[1] !== rule.id) continue
          // Portions of one dose follow each other; a level that was tested since may be topped up.
          if (rule.kind === 'dose' && rule.share !== undefined && rule.share < 1) continue
          if ((rule.kind === 'ramp' || rule.kind === 'hold') && readSince) continue
          const pause = spacingOf(rule, course, context, intent.step)
          if (pause === null || hours >= pause * EARLY_SHARE || pause <= (longest?.pause ?? 0)) continue
          longest = { pause, title: rule.title, reads: rule.kind === 'ramp' }
        }
    if (longest)
      found.push(
        ask(
          'too-soon',
          `${last.amount} ${last.unit} went in ${agoWords(hours)} before this; “${longest.title}” keeps ${Math.round(longest.pause)} h between${longest.reads ? ', and a reading first' : ''}. Really now?`,
        ),
      )
  }
  if (found.length === 0 && near?.kind === 'dose') {
    const minutes = Math.max(1, Math.round(Math.abs(entryMs(near) - atMs) / 60_000))
    const same = Math.abs(near.amount - amount) < 1e-9 || minutes <= 10
    if (same)
      found.push(
        ask(
          'twice',
          `${near.amount} ${near.unit} went in ${minutes === 1 ? 'a minute' : `${minutes} minutes`} away from this. Really twice?`,
        ),
      )
  }
  return found
}

/** The last dose before an instant within the series of a step. */
const lastOfSeries = (ledger: readonly Entry[], step: string, atMs: number): DoseEntry | undefined => {
  const series = step.slice(0, step.lastIndexOf('/') + 1)
  return ledger.findLast(
    (entry): entry is DoseEntry =>
      entry.kind === 'dose' && entryMs(entry) <= atMs && entry.step?.startsWith(series) === true,
  )
}

function aboveBand(form: AgentForm, product: ProductDocument, to: number, found: readonly Refusal[]): Refusal[] {
  if (found.some(({ rule }) => rule === 'safe-ceiling')) return []
  const top = product.body.labelBand?.maxMgPerL ?? form.band.max
  if (to <= top * 1.001) return []
  return [
    warn(
      'above-band',
      `This dose leads to ${Number(to.toPrecision(3))} mg/L, above the band. Between band and hard maximum is alarm, not target.`,
    ),
  ]
}

/** Steps of a slow ramp, and how much more than one of them is told. @source handbook 31 §4 */
const RAMP_STEPS = 3.5
const RAMP_SLACK = 1.75
function rampSpeed(form: AgentForm, rise: number): Refusal[] {
  if (!form.heldAtLevel || rise <= (form.band.max / RAMP_STEPS) * RAMP_SLACK) return []
  return [
    warn(
      'ramp-speed',
      `This raises copper by ${Number(rise.toPrecision(3))} mg/L in one step. The slow ramp takes four.`,
    ),
  ]
}

/** Oxygen that all together take. */
function oxygenSum(context: ActContext, form: AgentForm, vessel: VesselDocument, atMs: number): Refusal[] {
  if (form.route !== 'in-tank') return []
  const others = partiesIn(context, vessel.id, atMs, context.known).reduce(
    (sum, party) => sum + (party.kind === 'form' && party.form.agent !== form.agent ? party.form.oxygenScore : 0),
    0,
  )
  if (others === 0 || others + form.oxygenScore < 4) return []
  return [
    warn(
      'oxygen-sum',
      `${form.label} and what is already in ${vessel.body.name} both take oxygen: a second air stone and a moving surface first, and watch the breathing for the first hours.`,
    ),
  ]
}

/** The graduation an amount of this bottle is measured with. */
export const stepFor = (amount: number, unit: DoseEntry['unit'], measures: readonly Measure[]): number =>
  measureFor(amount, unit, measures.length > 0 ? measures : undefined).step
