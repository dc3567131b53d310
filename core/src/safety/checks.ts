// Interlocks: what is asked, warned of, blocked or refused before an entry goes onto the ledger.
// Levels: `ask` (really?), `warn` (shown), `block` (worded override, recorded), `refuse` (no override exists).
// @source handbook 70; design/definitions "refusal levels"
import { activeContent } from '../dosing/strength.ts'
import { resultingLevel } from '../dosing/dose.ts'
import { agentForm, groupOf, sensitivity, type AgentForm } from '../knowledge/agents.ts'
import { dosedForms, vesselVolume } from '../level/fromRecord.ts'
import { residentsIn } from '../record/account.ts'
import { gearState } from '../record/gear.ts'
import type { CourseDocument, Entry, KeeperRecord, ProductBody, ReadingEntry } from '../record/types.ts'
import { dayOf, instantMs } from '../time/time.ts'
import { checkLaw } from './law.ts'
import { waitsForHosts } from '../protocols/hosts.ts'
import { ceilingOf, hasCautious, lastTemperature } from './ceiling.ts'
import { formsInWater, interactionOf } from './interactions.ts'

export type RefusalLevel = 'ask' | 'warn' | 'block' | 'refuse'
export interface Refusal {
  readonly rule: string
  readonly level: RefusalLevel
  /** A whole sentence: what, where, and what would do. */
  readonly message: string
}

const refuse = (rule: string, message: string): Refusal => ({ rule, level: 'refuse', message })
export const block = (rule: string, message: string): Refusal => ({ rule, level: 'block', message })
const warn = (rule: string, message: string): Refusal => ({ rule, level: 'warn', message })
const ask = (rule: string, message: string): Refusal => ({ rule, level: 'ask', message })

/** The gravest level in a list, or null when it is empty. */
export function gravest(refusals: readonly Refusal[]): RefusalLevel | null {
  for (const level of ['refuse', 'block', 'ask', 'warn'] as const)
    if (refusals.some((refusal) => refusal.level === level)) return level
  return null
}

/** What is wrong with a bottle as a source of doses. `forCourse`: a course needs form and level read off the label. */
export function checkProduct(product: ProductBody, nowMs: number, zone: string): Refusal[] {
  const found: Refusal[] = []
  const form = agentForm(product.form)
  if (!form) {
    return [
      refuse('cu-band-of-the-bottle', `The form of "${product.name}" is not known. Choose the form the label states.`),
    ]
  }
  const content = activeContent(product.strength)
  if (!content.ok) found.push(refuse('safe-strength', content.error.message))
  if (content.ok && content.value.per === 'drop' && form.measuredNotDropped) {
    found.push(
      block('drops-not-measured', `${form.label} has a narrow margin: measure it in mL, drops are too coarse.`),
    )
  }
  if (product.confirmedAt === undefined) {
    found.push(
      form.agent === 'copper'
        ? refuse(
            'cu-band-of-the-bottle',
            `Nobody has confirmed from the label of "${product.name}" which form and level it is. Bound coppers look alike and differ five-fold.`,
          )
        : block('safe-strength', `Nobody has confirmed from the label of "${product.name}" what it is and how strong.`),
    )
  }
  if (product.labelBand) {
    const { minMgPerL, maxMgPerL } = product.labelBand
    const fits = form.labelLevels.some(({ min, max }) => minMgPerL >= min * 0.9 - 1e-9 && maxMgPerL <= max * 1.1 + 1e-9)
    if (!fits) {
      found.push(
        refuse(
          'cu-band-of-the-bottle',
          `The label level ${minMgPerL}–${maxMgPerL} mg/L is not one of ${form.label}. One of the two is wrong: read the label again.`,
        ),
      )
    }
  }
  if (product.expiresOn !== undefined && product.expiresOn < dayOf(nowMs, zone)) {
    found.push(block('safe-strength', `"${product.name}" expired on ${product.expiresOn}.`))
  }
  return found
}

/** Whether an instant may stand on the ledger of a vessel. */
export function checkInstant(
  record: KeeperRecord,
  vesselId: string | undefined,
  atMs: number,
  nowMs: number,
): Refusal[] {
  if (!Number.isFinite(atMs)) return [refuse('time', 'The time cannot be read. Write it as 20:10, or choose a day.')]
  if (atMs > nowMs + 5 * 60_000)
    return [
      refuse(
        'time-future',
        'That time lies in the future. The ledger holds what has happened; the plan holds what will.',
      ),
    ]
  const vessel = vesselId === undefined ? undefined : record.vessels.get(vesselId)
  if (vesselId !== undefined && !vessel) return [refuse('vessel', 'That vessel is not on the shelf.')]
  if (vessel && atMs < instantMs(vessel.body.startedAt)) {
    return [
      refuse(
        'time-before-vessel',
        `${vessel.body.name} did not exist yet at that time. Correct the time, or the vessel's first day.`,
      ),
    ]
  }
  return []
}

export interface DoseCheck {
  readonly record: KeeperRecord
  readonly active: readonly Entry[]
  readonly vesselId: string
  readonly productId: string
  readonly amount: number
  readonly atMs: number
  readonly nowMs: number
  /** Level before the dose, mg/L, low and middle; null when there is no estimate: then doses are summed up. */
  readonly levelMgPerL: number | null
  /** Effective volume as readings support it; the vessel's geometry where left out. */
  readonly volume?: { readonly litres: number; readonly sdLitres: number }
}

/** Everything that speaks against a dose, gravest first. Empty: nothing does. */
export function checkDose(check: DoseCheck): Refusal[] {
  const { record, active, vesselId, productId, amount, atMs, nowMs } = check
  const found: Refusal[] = [...checkInstant(record, vesselId, atMs, nowMs)]
  const vessel = record.vessels.get(vesselId)
  const product = record.products.get(productId)
  if (!vessel) return found
  if (!product)
    return [
      ...found,
      refuse('safe-strength', 'No bottle is chosen: a dose without a known strength cannot be worked out.'),
    ]
  if (!(amount > 0)) return [...found, refuse('amount', 'The amount must be above zero. What was poured?')]
  found.push(...checkProduct(product.body, nowMs, record.settings.zone))
  found.push(...checkLaw(record.settings, product.body.form, 'dose'))
  const form = agentForm(product.body.form)
  const content = activeContent(product.body.strength)
  const geometry = vesselVolume(vessel)
  const volume = geometry === null ? null : (check.volume ?? geometry)
  if (!volume)
    found.push(refuse('volume', `The net volume of ${vessel.body.name} cannot be worked out from its measures.`))
  else if (vessel.body.volumeConfirmedAt === undefined) {
    found.push(
      block(
        'volume-unconfirmed',
        `The net volume of ${vessel.body.name} was never confirmed. Check ${Math.round(volume.litres)} ± ${Math.round(volume.sdLitres)} L, then confirm it.`,
      ),
    )
  }
  if (form && vessel.body.water === 'fresh' && form.water === 'marine') {
    found.push(block('water', `${form.label} is a marine record; ${vessel.body.name} is fresh water.`))
  }
  if (form) {
    found.push(...checkResidents(record, active, vesselId, form.id, atMs))
    if (form.route === 'bath' && vessel.body.purpose !== 'bath') {
      found.push(
        refuse(
          'bath-not-tank',
          `${form.label} at this strength is for a bath vessel with its own water, never for ${vessel.body.name}. Start it as a timed bath.`,
        ),
      )
    }
    if (form.route === 'food')
      found.push(refuse('food-not-water', `${form.label} goes into food, never into the water.`))
    found.push(...checkInteractions(record, active, vesselId, form, atMs))
    for (const other of dosedForms(record, active, vesselId)) {
      if (other !== form.id && agentForm(other)?.agent === form.agent) {
        found.push(
          refuse(
            'cx-cu-cu',
            `${agentForm(other)!.label} has been dosed into ${vessel.body.name}. Two forms of copper are never mixed: no kit can tell them apart.`,
          ),
        )
      }
    }
    if (form.agent === 'copper' && vessel.body.bindingMedia === 'rock')
      found.push(block('cu-materials', `${vessel.body.name} holds rock or shell, which binds copper.`))
    for (const item of ['carbon', 'resin', 'uv', 'ozone'] as const) {
      const last = active.findLast(
        (entry) =>
          entry.kind === 'equipment' &&
          entry.vesselId === vesselId &&
          entry.item === item &&
          instantMs(entry.at) <= atMs,
      )
      if (last?.kind === 'equipment' && last.on)
        found.push(
          block(
            'cx-cu-carbon',
            `${ITEM_WORDS[item]} is still running in ${vessel.body.name}. It takes the ${form.agent === 'copper' ? 'copper' : 'agent'} out again.`,
          ),
        )
    }
  }
  if (form && content.ok && volume) {
    const lowVolume = volume.litres - 1.2816 * volume.sdLitres
    const before = check.levelMgPerL ?? 0
    const worst = resultingLevel(before, amount, content.value.mg, lowVolume)
    const middle = resultingLevel(before, amount, content.value.mg, volume.litres)
    const number = (value: number) => value.toFixed(value < 1 ? 3 : 2)
    const warmth = lastTemperature(active, vesselId, atMs)
    const cautious = hasCautious(record, active, vesselId, form, atMs)
    const ceiling = ceilingOf(form, warmth, cautious)
    if (middle <= form.hardMax && middle > ceiling * 1.001) {
      found.push(
        block(
          'safe-ceiling',
          ceiling === 0
            ? `${vessel.body.name} is at ${warmth} °C: ${form.label} is never used at that warmth.`
            : `This dose leads to ${number(middle)} mg/L. ${ceiling === ceilingOf(form, warmth, false) ? `At ${warmth} °C` : 'With an animal that needs caution in the water'} ${form.label} stops at ${ceiling} mg/L.`,
        ),
      )
    }
    if (middle > form.hardMax) {
      found.push(
        block(
          'safe-ceiling',
          `${amount} ${content.value.per} leads to ${number(middle)} mg/L, over the hard maximum of ${form.hardMax} mg/L for ${form.label}.`,
        ),
      )
    } else if (worst > form.hardMax) {
      found.push(
        block(
          'safe-ceiling',
          `At the low end of the volume (${Math.round(lowVolume)} L) this dose leads to ${number(worst)} mg/L, over the hard maximum of ${form.hardMax} mg/L.`,
        ),
      )
    } else if (middle > (product.body.labelBand?.maxMgPerL ?? form.band.max) * 1.001) {
      found.push(
        warn(
          'above-band',
          `This dose leads to ${number(middle)} mg/L, above the band. Between band and hard maximum is alarm, not target.`,
        ),
      )
    }
    const perDay = form.band.max / 3.5
    if (form.heldAtLevel && middle - before > perDay * 1.75) {
      found.push(
        warn(
          'ramp-speed',
          `This raises copper by ${number(middle - before)} mg/L in one step. The slow ramp takes four.`,
        ),
      )
    }
  }
  const near = active.findLast(
    (entry) =>
      entry.kind === 'dose' &&
      entry.vesselId === vesselId &&
      entry.productId === productId &&
      Math.abs(instantMs(entry.at) - atMs) < 10 * 60_000,
  )
  if (near?.kind === 'dose') {
    const minutes = Math.max(1, Math.round(Math.abs(instantMs(near.at) - atMs) / 60_000))
    found.push(
      ask(
        'twice',
        `${near.amount} ${near.unit} went in ${minutes === 1 ? 'a minute' : `${minutes} minutes`} away from this. Really twice?`,
      ),
    )
  }
  return sorted(found)
}

/** What is in the water already against what is to come: forbidden pairs block, doubtful ones warn, oxygen adds up. */
export function checkInteractions(
  record: KeeperRecord,
  active: readonly Entry[],
  vesselId: string,
  form: AgentForm,
  atMs: number,
): Refusal[] {
  const vessel = record.vessels.get(vesselId)
  if (!vessel) return []
  const found: Refusal[] = []
  let oxygen = form.oxygenScore
  for (const { form: other, lastMs } of formsInWater(record, active, vesselId, atMs)) {
    if (other.id === form.id) continue
    if (form.route === 'in-tank') oxygen += other.oxygenScore
    const pair = interactionOf(form, other)
    if (!pair || pair.verdict === 'allow') continue
    const hours = (atMs - lastMs) / 3_600_000
    if (pair.hours !== undefined && hours >= pair.hours) continue
    const apart = pair.hours === undefined ? '' : ` Keep them ${pair.hours} hours apart; it is ${Math.round(hours)}.`
    const message = `${other.label} is still in ${vessel.body.name}. ${pair.why}${apart}`
    found.push(pair.verdict === 'forbid' ? block(pair.id, message) : warn(pair.id, message))
  }
  if (oxygen > form.oxygenScore && oxygen >= 4)
    found.push(
      warn(
        'oxygen-sum',
        `${form.label} and what is already in ${vessel.body.name} both take oxygen: a second air stone and a moving surface first, and watch the breathing for the first hours.`,
      ),
    )
  return found
}

const ITEM_WORDS = { carbon: 'Carbon', resin: 'Resin', uv: 'The UV lamp', ozone: 'Ozone' } as const
const ORDER: readonly RefusalLevel[] = ['refuse', 'block', 'ask', 'warn']
const sorted = (refusals: Refusal[]) => [...refusals].sort((a, b) => ORDER.indexOf(a.level) - ORDER.indexOf(b.level))

/** Residents of a vessel against a form: invertebrates refuse, code X blocks, code C warns. */
export function checkResidents(
  record: KeeperRecord,
  active: readonly Entry[],
  vesselId: string,
  formId: string,
  atMs: number,
): Refusal[] {
  const form = agentForm(formId)
  const vessel = record.vessels.get(vesselId)
  if (!form || !vessel) return []
  const found: Refusal[] = []
  for (const resident of residentsIn(record, active, vesselId, atMs)) {
    const group = groupOf(resident.body.group)
    const code = sensitivity(form, resident.body.group, vessel.body.water)
    const name = `${resident.body.name} (${resident.body.commonName})`
    if (form.agent === 'copper' && group && group.kind !== 'fish' && code === 'X') {
      found.push(
        refuse(
          'cu-invertebrates',
          `${name} is in ${vessel.body.name}. ${form.label} kills ${group.label.toLowerCase()}. Move it out first and log the move.`,
        ),
      )
    } else if (code === 'X')
      found.push(
        block(
          'contraindicated',
          `${form.label} is not for ${group?.label.toLowerCase() ?? 'this animal'}: ${name} is in ${vessel.body.name}.`,
        ),
      )
    else if (code === 'C' || code === '?') {
      found.push(
        warn(
          'caution',
          `${name}: ${code === '?' ? 'no data, treated as' : ''} caution. ${form.heldAtLevel ? 'Low-end ramp' : 'The low end of the level'}, one animal first, watch for 24 h.`.replace(
            ':  caution',
            ': caution',
          ),
        ),
      )
    }
  }
  return found
}

/** Before a course starts: the bottle, the animals, the water, the kit. */
export function checkCourseStart(options: {
  readonly record: KeeperRecord
  readonly active: readonly Entry[]
  readonly vesselId: string
  readonly productId: string | null
  readonly allowedForms: readonly string[]
  readonly instrumentId: string | null
  readonly needsResidents: boolean
  /** Readings earn the hours of this course. */
  readonly needsKit?: boolean
  readonly nowMs: number
}): Refusal[] {
  const { record, active, vesselId, nowMs } = options
  const vessel = record.vessels.get(vesselId)
  if (!vessel) return [refuse('vessel', 'Choose a vessel first.')]
  const found: Refusal[] = []
  const volume = vesselVolume(vessel)
  if (!volume)
    found.push(refuse('volume', `The net volume of ${vessel.body.name} cannot be worked out from its measures.`))
  else if (vessel.body.volumeConfirmedAt === undefined && options.allowedForms.length > 0) {
    found.push(block('volume-unconfirmed', `The net volume of ${vessel.body.name} was never confirmed.`))
  }
  if (
    options.needsResidents &&
    !residentsIn(record, active, vesselId, nowMs).some(({ body }) => groupOf(body.group)?.kind === 'fish')
  ) {
    found.push(
      block(
        'no-residents',
        `No fish is registered in ${vessel.body.name}. Nothing can be said about what they tolerate.`,
      ),
    )
  }
  if (options.allowedForms.length > 0) {
    const product = options.productId === null ? undefined : record.products.get(options.productId)
    if (!product) found.push(refuse('safe-strength', 'No bottle is chosen.'))
    else {
      found.push(...checkProduct(product.body, nowMs, record.settings.zone))
      found.push(...checkLaw(record.settings, product.body.form, 'course'))
      if (!options.allowedForms.includes(product.body.form))
        found.push(refuse('cu-band-of-the-bottle', 'This protocol is not for that form of bottle.'))
      found.push(...checkResidents(record, active, vesselId, product.body.form, nowMs))
      const instrument = options.instrumentId === null ? undefined : record.instruments.get(options.instrumentId)
      if (options.needsKit === false) {
        // No hour of this course is earned by readings.
      } else if (!instrument)
        found.push(block('no-kit', 'No test kit is chosen. Without readings no hour can be credited.'))
      else if (instrument.body.readsForms && !instrument.body.readsForms.includes(product.body.form)) {
        found.push(
          refuse(
            'cu-form-lock',
            `${instrument.body.name} does not read ${agentForm(product.body.form)?.label ?? 'this form'}.`,
          ),
        )
      }
    }
    if (vessel.body.bindingMedia === 'rock' && product && agentForm(product.body.form)?.agent === 'copper')
      found.push(block('cu-materials', `${vessel.body.name} holds rock or shell, which binds copper.`))
  }
  for (const course of record.courses.values()) {
    if (
      course.body.vesselId === vesselId &&
      course.body.endedAt === undefined &&
      options.allowedForms.length > 0 &&
      Object.keys(course.body.products).length > 0
    ) {
      found.push(...besideCourse(record, vessel.body.name, course, options.productId))
    }
  }
  return sorted(found)
}

export interface ReadingCheck {
  readonly record: KeeperRecord
  readonly active: readonly Entry[]
  readonly reading: Pick<ReadingEntry, 'analyte' | 'value' | 'bound' | 'instrumentId' | 'vesselId'>
  readonly atMs: number
  readonly nowMs: number
  /** What the model expects now with its 10–90 % band; null when it expects nothing. */
  readonly expected: { readonly p10: number; readonly p50: number; readonly p90: number } | null
}

/** What speaks against a reading: wrong kit, wrong time, or far off what the record makes likely. */
export function checkReading(check: ReadingCheck): Refusal[] {
  const { record, active, reading, expected } = check
  const found: Refusal[] = [...checkInstant(record, reading.vesselId, check.atMs, check.nowMs)]
  const instrument = reading.instrumentId === undefined ? undefined : record.instruments.get(reading.instrumentId)
  if (instrument && instrument.body.analyte !== reading.analyte) {
    found.push(
      refuse('instrument', `${instrument.body.name} measures ${instrument.body.analyte}, not ${reading.analyte}.`),
    )
  }
  const forms = [...dosedForms(record, active, reading.vesselId)].filter(
    (form) => agentForm(form)?.agent === reading.analyte,
  )
  for (const form of forms) {
    if (instrument?.body.readsForms && !instrument.body.readsForms.includes(form)) {
      found.push(
        refuse(
          'cu-form-lock',
          `${instrument.body.name} does not read ${agentForm(form)!.label}. Its number would mean nothing here.`,
        ),
      )
    }
    const { hardMax } = agentForm(form)!
    if (reading.value > hardMax && reading.bound !== 'below') {
      found.push(
        warn(
          'over-hard-max',
          `${reading.value} mg/L is over the hard maximum of ${hardMax} mg/L. Change water to target: ${Math.round(100 * (1 - agentForm(form)!.target / reading.value))} % with undosed water.`,
        ),
      )
    }
  }
  if (expected && reading.bound === 'exact' && expected.p50 > 0) {
    const spread = Math.max(expected.p90 - expected.p10, 0.08 * expected.p50)
    const far = Math.abs(reading.value - expected.p50) / spread
    if (far > 2) {
      const guess = [10, 100, 1000]
        .flatMap((f) => [reading.value * f, reading.value / f])
        .find((value) => Math.abs(value - expected.p50) < spread)
      const number = (value: number) => String(Number(value.toPrecision(3)))
      found.push(
        ask(
          'far-off',
          `The record makes ${number(expected.p10)} to ${number(expected.p90)} likely, and you typed ${number(reading.value)}.${guess === undefined ? '' : ` Did you mean ${number(guess)}?`} A typo, another unit, or really so?`,
        ),
      )
    }
  }
  return sorted(found)
}

/** A second course beside one that runs: allowed pairs pass, doubtful ones warn, the rest is blocked. */
function besideCourse(
  record: KeeperRecord,
  vesselName: string,
  running: CourseDocument,
  productId: string | null,
): Refusal[] {
  const formOfProduct = (id: string) => agentForm(record.products.get(id)?.body.form ?? '')
  const mine = productId === null ? undefined : formOfProduct(productId)
  return Object.values(running.body.products).flatMap((id) => {
    const theirs = formOfProduct(id)
    if (!mine || !theirs) return [block('course-running', `${vesselName} already has a drug course running.`)]
    const pair = interactionOf(mine, theirs)
    if (!pair) return [block('course-running', `${vesselName} already has a course with ${theirs.label} running.`)]
    if (pair.verdict === 'allow') return []
    const message = `${vesselName} already has a course with ${theirs.label} running. ${pair.why}`
    return [pair.verdict === 'forbid' ? block('course-running', message) : warn(pair.id, message)]
  })
}

/** Before gear is used in a vessel: what it may carry there, gravest where a vessel is kept free of fish. */
export function checkGear(
  record: KeeperRecord,
  active: readonly Entry[],
  gearId: string,
  vesselId: string,
  atMs: number,
): Refusal[] {
  const gear = record.gear.get(gearId)
  const vessel = record.vessels.get(vesselId)
  if (!gear || !vessel) return [refuse('gear', 'Choose the gear and the vessel.')]
  const found: Refusal[] = []
  const { carries } = gearState(active, gearId, atMs)
  const from = carries
    .filter((id) => id !== vesselId)
    .map((id) => record.vessels.get(id)?.body.name ?? 'another vessel')
  if (from.length > 0) {
    const words = `${gear.body.name} was wet in ${from.join(' and ')} and was not made safe since.`
    const fallow = [...record.courses.values()].find(
      ({ body }) => body.vesselId === vesselId && body.endedAt === undefined && waitsForHosts(body.protocol),
    )
    found.push(
      fallow
        ? block('fallow-wet-gear', `${words} In ${vessel.body.name} it starts the count without fish again.`)
        : block('gear-crossing', `${words} In ${vessel.body.name} it brings along what lives there.`),
    )
  } else if (gear.body.homeVesselId !== null && gear.body.homeVesselId !== vesselId) {
    found.push(
      ask(
        'gear-home',
        `${gear.body.name} belongs to ${record.vessels.get(gear.body.homeVesselId)?.body.name ?? 'another vessel'}. Use it in ${vessel.body.name} all the same?`,
      ),
    )
  }
  return found
}
