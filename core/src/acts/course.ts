// Starting and ending a course: every bottle, every animal, the water as it is, the kit, what runs beside it.
import { partsOf } from '../knowledge/protocols.ts'
import { agentForm, groupOf, type AgentForm } from '../knowledge/agents.ts'
import { formAmong } from '../knowledge/uses.ts'
import { protocolHash, type Protocol, type Rule } from '../knowledge/protocols.ts'
import { vesselVolume } from '../level/fromRecord.ts'
import { fights } from '../outbreak/campaign.ts'
import { waitsForHosts } from '../knowledge/hosts.ts'
import { revised } from '../record/account.ts'
import type { CourseDocument, RegisterDocument, ResidentDocument, VesselDocument } from '../record/types.ts'
import {
  againstAnimals,
  againstExposures,
  againstMethod,
  againstVessel,
  againstWater,
  animalsIn,
  partyOf,
} from '../safety/gate.ts'
import { interactionBetween, type Party } from '../safety/interactions.ts'
import { checkLaw } from '../safety/law.ts'
import { ceilingAt, freshReading } from '../safety/limits.ts'
import { ask, block, forbid, warn, type Refusal } from '../safety/refusal.ts'
import { methodOf } from '../knowledge/methods.ts'
import { coursesIn, methodOfCourse } from '../safety/water.ts'
import { dayOf, instantMs, instantOf, minuteStart } from '../time/time.ts'
import { answerOf, problemAnswer } from './answer.ts'
import { checkInstant, protocolOfCourse } from './place.ts'
import { checkProduct } from './product.ts'
import type { ActContext, ActAnswer, CourseEndIntent, CourseIntent, CourseUsesIntent } from './types.ts'

/** A course about to start, held against everything that it will do. */
export function courseAct(context: ActContext, intent: CourseIntent): ActAnswer {
  const { record, nowMs } = context
  const vessel = record.vessels.get(intent.vesselId)
  if (!vessel) return problemAnswer('Choose a vessel first.')
  if (record.courses.has(intent.id)) return problemAnswer('This course was started already, perhaps by a second press.')
  const { body } = intent
  const protocol = body.protocol as unknown as Protocol
  const atMs = instantMs(body.startedAt)
  const wants = protocol.campaign?.wants
  const found: Refusal[] = [
    ...(atMs > nowMs + 60_000
      ? [forbid('time-future', 'A course cannot have begun in the future. Correct its first day.')]
      : checkInstant(context, vessel.id, atMs, nowMs)),
    ...fights(record, { id: '', vesselId: vessel.id, wants }, nowMs).map((message) =>
      block('campaign-fights', message),
    ),
    ...checkRoles(context, body.products, protocol, vessel),
    ...checkMethod(context, protocol, vessel),
    ...checkBeside(context, body.products, protocol, vessel),
    ...checkKit(context, body.products, intent.instrumentId, protocol),
    ...checkHosts(context, protocol, vessel),
  ]
  if (protocol.water !== 'both' && protocol.water !== vessel.body.water)
    found.push(
      block(
        'water',
        `“${protocol.title}” is for ${protocol.water === 'marine' ? 'sea' : 'fresh'} water; ${vessel.body.name} is ${vessel.body.water === 'marine' ? 'sea' : 'fresh'} water.`,
      ),
    )
  if (intent.body.residents.length === 0 && followsAnimals(protocol))
    found.push(
      forbid(
        'no-animals',
        'Nobody is chosen: this course follows animals from place to place, and ends by where they are.',
      ),
    )
  if (
    protocol.residents === 'required' &&
    (protocol.productRoles.length > 0 || protocol.method !== undefined) &&
    !animalsIn(context, vessel.id, nowMs).some((one) => groupOf(one.body.group)?.kind === 'fish')
  )
    found.push(
      block(
        'no-residents',
        `No fish is registered in ${vessel.body.name}. Nothing can be said about what they tolerate.`,
      ),
    )
  const documents: RegisterDocument[] = [
    {
      register: 'course',
      id: intent.id,
      revision: 1,
      savedAt: instantOf(nowMs),
      body: {
        ...body,
        // A page's clock runs up to half a minute ahead: a course never begins after its first dose.
        startedAt: instantOf(minuteStart(Math.min(atMs, nowMs))),
        protocolHash: protocolHash(body.protocol),
        // What was told before the start stands with the course.
        warningsAccepted: [
          ...found.filter(({ level }) => level === 'warn').map(({ message }) => message.slice(0, 400)),
          ...(body.clockSchool === 'pause' && protocol.clock ? [protocol.clock.pauseWarning.slice(0, 400)] : []),
        ].slice(0, 40),
      },
      history: [],
    },
  ]
  const finding = intent.findingId === undefined ? undefined : record.findings.get(intent.findingId)
  if (finding) documents.push(revised(finding, { ...finding.body, courseId: intent.id }, instantOf(nowMs)))
  return answerOf({ found, documents, said: `${protocol.title} runs in ${vessel.body.name}.` })
}

/** Whether a phase of it ends by where its animals are: without animals it would never end. */
const followsAnimals = (protocol: Protocol): boolean =>
  protocol.phases.some(({ exit }) => partsOf(exit).some(({ kind }) => kind === 'residents-in'))

/** Every role with its bottle: form, label, law, animals, water. */
function checkRoles(
  context: ActContext,
  products: Readonly<Record<string, string>>,
  protocol: Protocol,
  vessel: VesselDocument,
  asked: (roleId: string) => boolean = () => true,
): Refusal[] {
  const { record, nowMs } = context
  const found: Refusal[] = []
  const animals = animalsIn(context, vessel.id, nowMs)
  const dosed = protocol.productRoles.filter(
    (role) => asked(role.id) && (role.optional !== true || products[role.id] !== undefined),
  )
  if (dosed.length === 0) return []
  if (!vesselVolume(vessel))
    found.push(forbid('volume', `The net volume of ${vessel.body.name} cannot be worked out from its measures.`))
  else if (vessel.body.volumeConfirmedAt === undefined)
    found.push(block('volume-unconfirmed', `The net volume of ${vessel.body.name} was never confirmed.`))
  for (const role of dosed) {
    const product = record.products.get(products[role.id] ?? '')
    if (!product) {
      found.push(forbid('safe-strength', `No bottle is chosen: ${role.label.toLowerCase()}.`))
      continue
    }
    found.push(...checkProduct(product.body, nowMs, record.settings.zone))
    const form = formAmong(product.body, role.forms)
    if (!form) {
      found.push(
        forbid(
          'cu-band-of-the-bottle',
          `This protocol is not for that form of bottle: ${product.body.name} is ${agentForm(product.body.form)?.label ?? 'unknown'}.`,
        ),
      )
      continue
    }
    found.push(...checkLaw(record.settings, form.id, 'course'))
    // A bowl at the bench takes single pieces: who swims in the vessel never meets it.
    const meets = onlyAtBench(protocol, role.id)
      ? animals.filter(({ body }) => protocol.hosts?.includes(groupOf(body.group)?.kind as never) === true)
      : animals
    const spoken = againstAnimals(form, meets, vessel)
    found.push(...(form.route === 'in-tank' ? spoken.map(outFirst) : leftOut(spoken, form, meets, vessel)))
    found.push(...checkWarmth(context, form.id, vessel))
    if (form.route === 'in-tank') {
      found.push(...againstVessel(context, form, vessel, nowMs))
      found.push(
        ...againstWater(context, vessel, partyOf(form, nowMs), nowMs, context.known).filter((one) => !isLater(one)),
      )
    } else if (form.water !== 'both' && form.water !== vessel.body.water)
      found.push(
        block(
          'water',
          `${form.label} is a ${form.water === 'marine' ? 'marine' : 'fresh-water'} record; ${vessel.body.name} is not.`,
        ),
      )
    found.push(
      ...againstExposures(context, animals, partyOf(form, nowMs), nowMs, { notWaterOf: vessel.id }).map(asTold),
    )
  }
  return found
}
/** Whether a role is used on single pieces only, at the bench. */
const onlyAtBench = (protocol: Protocol, roleId: string): boolean => {
  const rules = protocol.phases.flatMap(({ rules: all }) => all)
  const atBench = (rule: Rule): boolean =>
    rule.kind === 'bench' && rule.stages.some(({ spot, soak }) => (spot ?? soak)?.role === roleId)
  return rules.some(atBench) && rules.every((rule) => atBench(rule) || !('role' in rule) || rule.role !== roleId)
}
/**
 * A bath takes the animals that are put into it: who may not go in stays in the tank and is told of now; the bath itself
 * is asked again for those it takes. Where nobody of the vessel may go in, the course is for nobody.
 */
function leftOut(
  spoken: readonly Refusal[],
  form: AgentForm,
  animals: readonly ResidentDocument[],
  vessel: VesselDocument,
): Refusal[] {
  const may = animals.some((one) => againstAnimals(form, [one], vessel).every(({ level }) => level === 'warn'))
  return spoken.map((refusal) =>
    may && (refusal.level === 'block' || refusal.level === 'forbid')
      ? warn(refusal.rule, `${refusal.message} Leave them out of the bath.`)
      : refusal,
  )
}
/** What a course's own first steps see to: media out before the first dose. */
const isLater = ({ rule }: Refusal): boolean =>
  rule === 'media-removes' || rule === 'cx-cu-carbon' || rule === 'cx-cq-light'
/** Who lives in a tank that is emptied first is told of at the start; the dose itself is refused while anybody is in. */
const outFirst = (refusal: Refusal): Refusal =>
  refusal.rule === 'empty-tank' ? warn(refusal.rule, refusal.message) : refusal
/** A pause of hours binds the dose, not the day a plan is made: told now, asked again when it is poured. */
const asTold = (refusal: Refusal): Refusal =>
  refusal.level === 'block' && refusal.rule !== 'cx-same-active' ? warn(refusal.rule, refusal.message) : refusal

/** A heat-limited agent in water that was read too warm for it. */
function checkWarmth(context: ActContext, formId: string, vessel: VesselDocument): Refusal[] {
  const form = agentForm(formId)!
  if (!form.ceilings) return []
  const read = freshReading(context, vessel.id, 'temperature', context.nowMs, 7 * 24)
  if (!read || ceilingAt(form, read.value).all > 0) return []
  return [
    block(
      'safe-ceiling',
      `${vessel.body.name} was read at ${Number(read.value.toPrecision(3))} °C: ${form.label} is never used at that warmth. Cool the water first.`,
    ),
  ]
}

/** A method of the water itself: its animals and what is in the water. @source handbook 31 T6, 30 §5.7 */
function checkMethod(context: ActContext, protocol: Protocol, vessel: VesselDocument): Refusal[] {
  const method = methodOf(protocol.method)
  if (!method) return []
  const animals = animalsIn(context, vessel.id, context.nowMs)
  const incoming: Party = { kind: 'method', method, sinceMs: context.nowMs, how: '' }
  return [
    ...againstMethod(method, animals, vessel),
    ...(method.route === 'in-tank' ? againstWater(context, vessel, incoming, context.nowMs, context.known) : []),
    ...againstExposures(context, animals, incoming, context.nowMs, { notWaterOf: vessel.id }).map(asTold),
  ]
}

/** A second course beside one that runs: allowed pairs pass, doubtful ones are told, the rest is blocked. */
function checkBeside(
  context: ActContext,
  products: Readonly<Record<string, string>>,
  protocol: Protocol,
  vessel: VesselDocument,
  ownId: string | null = null,
): Refusal[] {
  const { nowMs } = context
  const mine = partiesOfCourse(context, products, protocol, nowMs)
  return coursesIn(context, vessel.id, nowMs).flatMap((course) => {
    if (course.id === ownId) return []
    const theirs = [
      ...partiesOfCourse(context, course.body.products, course.body.protocol as unknown as Protocol, nowMs),
    ]
    const title = (course.body.protocol as unknown as Protocol).title
    if (
      course.body.protocolId === protocol.id &&
      course.body.endedAt === undefined &&
      protocol.purpose !== 'introduction'
    )
      return [ask('course-twice', `“${title}” runs in ${vessel.body.name} already. Really a second one?`)]
    const found: Refusal[] = []
    for (const a of mine)
      for (const b of theirs) {
        if (a.kind === 'form' && b.kind === 'form' && a.form.id === b.form.id) continue
        const pair = interactionBetween(a, b)
        const label = b.kind === 'form' ? b.form.label : b.kind === 'method' ? b.method.label : ''
        if (!pair || pair.verdict === 'allow') continue
        const message = `${vessel.body.name} already has a course with ${label} running. ${pair.why}`
        const same = a.kind === 'form' && b.kind === 'form' && a.form.route === 'in-tank' && b.form.route === 'in-tank'
        found.push(
          pair.verdict === 'caution'
            ? warn(pair.id, message)
            : pair.noOverride === true && same
              ? forbid(pair.id, message)
              : block('course-running', message),
        )
      }
    return found
  })
}
function partiesOfCourse(
  context: ActContext,
  products: Readonly<Record<string, string>>,
  protocol: Protocol,
  atMs: number,
): Party[] {
  const method = methodOfCourse({ body: { protocolId: protocol.id, protocol } } as unknown as CourseDocument)
  return [
    ...protocol.productRoles.flatMap((role): Party[] => {
      const product = context.record.products.get(products[role.id] ?? '')
      const form = product && (formAmong(product.body, role.forms) ?? agentForm(product.body.form))
      return form ? [partyOf(form, atMs)] : []
    }),
    ...(method ? [{ kind: 'method', method, sinceMs: atMs, how: `${method.label} runs there` } as const] : []),
  ]
}

/** Readings that earn the hours of a course need a kit that reads its form. */
function checkKit(
  context: ActContext,
  products: Readonly<Record<string, string>>,
  instrumentId: string | null,
  protocol: Protocol,
): Refusal[] {
  if (protocol.clock === undefined || protocol.productRoles.length === 0) return []
  const instrument = instrumentId === null ? undefined : context.record.instruments.get(instrumentId)
  if (!instrument) return [block('no-kit', 'No test kit is chosen. Without readings no hour can be credited.')]
  const role = protocol.productRoles[0]!
  const product = context.record.products.get(products[role.id] ?? '')
  const form = product && formAmong(product.body, role.forms)
  if (form && instrument.body.readsForms && !instrument.body.readsForms.includes(form.id))
    return [forbid('cu-form-lock', `${instrument.body.name} does not read ${form.label}.`)]
  return []
}

/** A vessel to lie without fish that still holds some: the count starts when the last is out. */
function checkHosts(context: ActContext, protocol: Protocol, vessel: VesselDocument): Refusal[] {
  if (!waitsForHosts(protocol)) return []
  const fish = animalsIn(context, vessel.id, context.nowMs).filter((one) => groupOf(one.body.group)?.kind === 'fish')
  if (fish.length === 0) return []
  return [
    warn(
      'hosts-inside',
      `${fish
        .map(({ body }) => body.name)
        .slice(0, 4)
        .join(
          ', ',
        )} ${fish.length === 1 ? 'lives' : 'live'} in ${vessel.body.name}: the count starts when the last fish is out.`,
    ),
  ]
}

/**
 * Another bottle, kit or second vessel for a course that runs. The bottle is held against everything a start is held
 * against; one of another form never follows doses of the first, for their levels do not add up.
 */
export function courseUsesAct(context: ActContext, intent: CourseUsesIntent): ActAnswer {
  const { record, nowMs } = context
  const course = record.courses.get(intent.id)
  const vessel = record.vessels.get(course?.body.vesselId ?? '')
  if (!course || !vessel) return problemAnswer('That course is not on record any more.')
  if (course.body.endedAt !== undefined) return problemAnswer('That course was ended already, perhaps in another tab.')
  const protocol = protocolOfCourse(course)
  const products = chosen(course.body.products, intent.products)
  const instruments = chosen(course.body.instruments, intent.instruments)
  const vessels = chosen(course.body.vessels ?? {}, intent.vessels)
  const isNew = (roleId: string) => products[roleId] !== course.body.products[roleId]
  const readsRole = protocol.instrumentRoles.find(({ readsFormOf }) => readsFormOf !== undefined)?.id
  const found: Refusal[] = [
    ...checkRoles(context, products, protocol, vessel, isNew),
    ...otherForms(context, course, products),
    ...(protocol.productRoles.some(({ id }) => isNew(id))
      ? checkBeside(context, products, protocol, vessel, course.id)
      : []),
    ...(readsRole === undefined ? [] : checkKit(context, products, instruments[readsRole] ?? null, protocol)),
  ]
  for (const [role, id] of Object.entries(instruments))
    if (!record.instruments.has(id))
      found.push(forbid('no-kit', `The kit for ${role} is not in the cupboard any more.`))
  for (const id of Object.values(vessels)) {
    const other = record.vessels.get(id)
    if (!other) found.push(forbid('no-vessel', 'That vessel is not on the shelf any more.'))
    else if (id === vessel.id) found.push(forbid('no-vessel', `${other.body.name} is where the course runs itself.`))
    else if (other.body.water !== vessel.body.water)
      found.push(forbid('water', `${other.body.name} holds another kind of water than ${vessel.body.name}.`))
  }
  const { vessels: _, ...body } = course.body
  const changed = [
    ...protocol.productRoles.filter(({ id }) => isNew(id)).map(({ label }) => label.toLowerCase()),
    ...protocol.instrumentRoles
      .filter(({ id }) => instruments[id] !== course.body.instruments[id])
      .map(({ label }) => label.toLowerCase()),
    ...(protocol.vesselRoles ?? [])
      .filter(({ id }) => vessels[id] !== course.body.vessels?.[id])
      .map(({ label }) => label.toLowerCase()),
  ]
  if (changed.length === 0) return problemAnswer('Nothing is changed yet.')
  return answerOf({
    found,
    documents: [
      revised(
        course,
        { ...body, products, instruments, ...(Object.keys(vessels).length > 0 ? { vessels } : {}) },
        instantOf(nowMs),
      ),
    ],
    said: `From now on in “${protocol.title}”: ${changed.join(', ')}.`,
  })
}
const chosen = (
  before: Readonly<Record<string, string>>,
  now: Readonly<Record<string, string>> = {},
): Readonly<Record<string, string>> =>
  Object.fromEntries(Object.entries({ ...before, ...now }).filter(([, id]) => id !== ''))

/** A bottle of another form than the one that was poured already. */
function otherForms(
  context: ActContext,
  course: CourseDocument,
  products: Readonly<Record<string, string>>,
): Refusal[] {
  return protocolOfCourse(course).productRoles.flatMap((role) => {
    const formOf = (id: string | undefined) => {
      const body = context.record.products.get(id ?? '')?.body
      return body && formAmong(body, role.forms)
    }
    const before = formOf(course.body.products[role.id])
    const now = formOf(products[role.id])
    const poured = context.active.some(
      (entry) =>
        entry.kind === 'dose' &&
        entry.vesselId === course.body.vesselId &&
        instantMs(entry.at) >= instantMs(course.body.startedAt) &&
        entry.productId === course.body.products[role.id],
    )
    if (!poured || !before || before.id === now?.id) return []
    return [
      forbid(
        'cu-form-lock',
        now
          ? `${before.label} was poured in this course; ${now.label} is another form, and their levels do not add up. End this course, change the water, and start anew with it.`
          : `${before.label} was poured in this course: it stays with it to the end.`,
      ),
    ]
  })
}

/** A course ended, by the keeper's own judgement. */
export function courseEndAct(context: ActContext, intent: CourseEndIntent): ActAnswer {
  const course = context.record.courses.get(intent.id)
  if (!course) return problemAnswer('That course is not on record any more.')
  if (course.body.endedAt !== undefined)
    return problemAnswer(
      `It was ended already on ${dayOf(instantMs(course.body.endedAt), context.record.settings.zone)}, perhaps in another tab.`,
    )
  const atMs = intent.atMs ?? context.nowMs
  const { outcomeNote: _, ...body } = course.body
  const title = (course.body.protocol as unknown as Protocol).title
  return answerOf({
    found: atMs > context.nowMs + 60_000 ? [forbid('time-future', 'A course cannot end in the future.')] : [],
    documents: [
      revised(
        course,
        {
          ...body,
          endedAt: instantOf(Math.min(atMs, context.nowMs)),
          outcome: intent.outcome,
          ...(intent.words.trim() === '' ? {} : { outcomeNote: intent.words.trim() }),
        },
        instantOf(context.nowMs),
      ),
    ],
    said: `${title} ended.`,
  })
}
