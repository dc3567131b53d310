// The rules that every act asks: what is in the water, who lives in it, what those animals went through elsewhere.
import { agentForm, groupOf, sensitivity, species, type AgentForm } from '../knowledge/agents.ts'
import type { Method } from '../knowledge/methods.ts'
import { residentsIn } from '../record/whereabouts.ts'
import type { House, ResidentDocument, VesselDocument } from '../record/types.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import { exposuresOf, type Exposure } from './animals.ts'
import { interactionBetween, type Interaction, type Party } from './interactions.ts'
import { levelsIn, type KnownLevel } from './level.ts'
import { freshReading, limitFor, type Limit } from './limits.ts'
import { ask, block, forbid, warn, type Refusal } from './refusal.ts'
import { holdsCopper, partiesIn } from './water.ts'

const trim = (value: number): string => String(Number(value.toPrecision(3)))
export const nameOf = ({ body }: ResidentDocument): string =>
  body.commonName === '' || body.commonName === body.name ? body.name : `${body.name} (${body.commonName})`
const hoursWord = (hours: number): string => (hours < 1 ? 'less than an hour' : `${Math.round(hours)} h`)

/** Something given, as a party of the table. */
export const partyOf = (form: AgentForm, atMs: number, levelMgPerL = Infinity): Party => ({
  kind: 'form',
  form,
  sinceMs: atMs,
  levelMgPerL,
})
const methodParty = (method: Method, atMs: number): Party => ({ kind: 'method', method, sinceMs: atMs, how: '' })

const ITEM_WORDS: Readonly<Record<string, string>> = {
  carbon: 'Carbon is',
  resin: 'Resin is',
  uv: 'The UV lamp is',
  ozone: 'Ozone is',
  skimmer: 'The skimmer is',
  light: 'The strong light is',
  zeolite: 'Zeolite is',
  biofilter: 'The seeded filter is',
  binder: 'An ammonia binder was poured, and is',
  'phosphate-media': 'Phosphate medium is',
}
function wordOf(party: Party, vesselName: string): string {
  switch (party.kind) {
    case 'form':
      return `${party.form.label} is still in ${vesselName}.`
    case 'item':
      return `${ITEM_WORDS[party.item] ?? `${party.item} is`} still at work in ${vesselName}.`
    case 'method':
      return `${vesselName}: ${party.how}.`
    case 'reading':
      return `${vesselName} was read at ${party.analyte} ${trim(party.value)}.`
    case 'water':
      return `${vesselName} holds ${party.water === 'marine' ? 'sea' : 'fresh'} water.`
  }
}

/** A row of the table as a refusal, or nothing where it allows or is over. */
function refusalOf(pair: Interaction, words: string, hours: number, sameWater: boolean): Refusal | null {
  if (pair.verdict === 'allow') {
    // An allowed pair with hours wants them kept all the same.
    return pair.hours !== undefined && hours < pair.hours
      ? warn(pair.id, `${words} ${pair.why} It is ${hoursWord(hours)}.`)
      : null
  }
  if (pair.hours !== undefined && hours >= pair.hours) return null
  const apart = pair.hours === undefined ? '' : ` Keep them ${pair.hours} hours apart; it is ${hoursWord(hours)}.`
  const message = `${words} ${pair.why}${apart}`
  if (pair.verdict === 'caution') return warn(pair.id, message)
  return pair.noOverride === true && sameWater ? forbid(pair.id, message) : block(pair.id, message)
}

/** What is about to go into a vessel's water against everything in and about that water. */
export function againstWater(
  house: House,
  vessel: VesselDocument,
  incoming: Party,
  atMs: number,
  known: readonly KnownLevel[] = [],
): Refusal[] {
  const found: Refusal[] = []
  for (const party of partiesIn(house, vessel.id, atMs, known)) {
    // A method is no stranger to the water it makes itself.
    if (incoming.kind === 'method' && (party.kind === 'reading' || party.kind === 'water')) continue
    if (incoming.kind === 'method' && party.kind === 'method' && party.method.id === incoming.method.id) continue
    const pair = interactionBetween(incoming, party)
    if (pair) {
      const refusal = refusalOf(pair, wordOf(party, vessel.body.name), (atMs - party.sinceMs) / MS_PER_HOUR, true)
      if (refusal) found.push(refusal)
    } else if (incoming.kind === 'form' && party.kind === 'item') {
      if (incoming.form.media.some(({ item }) => item === party.item))
        found.push(block('media-removes', `${wordOf(party, vessel.body.name)} It takes the agent out again.`))
    } else if (incoming.kind === 'item' && party.kind === 'form') {
      if (party.form.media.some(({ item }) => item === incoming.item))
        found.push(
          block(
            'media-removes',
            `${wordOf(party, vessel.body.name)} ${ITEM_WORDS[incoming.item] ?? 'This is'} what takes it out again.`,
          ),
        )
    }
  }
  return found
}

/** What an animal went through elsewhere against what it is about to meet. `now`: what its new water gives it. */
export function againstExposures(
  house: House,
  residents: readonly ResidentDocument[],
  incoming: Party,
  atMs: number,
  options: { readonly notWaterOf?: string } = {},
): Refusal[] {
  const found: Refusal[] = []
  for (const resident of residents)
    for (const exposure of exposuresOf(house, resident, atMs)) {
      // What is still in this very water is told as water.
      if (exposure.kind === 'water' && exposure.vesselId === options.notWaterOf) continue
      const hours = (atMs - exposure.atMs) / MS_PER_HOUR
      const pair = interactionBetween(incoming, asParty(exposure))
      if (!pair) continue
      // Without hours of its own a row binds in one water only; what came before is told for a day.
      if (pair.hours === undefined && exposure.kind !== 'food' && hours >= 24) continue
      const words = `${nameOf(resident)} ${exposureWords(house, exposure, hours)}.`
      const refusal =
        pair.hours === undefined && pair.verdict === 'forbid' && exposure.kind !== 'food'
          ? warn(pair.id, `${words} ${pair.why}`)
          : refusalOf(pair, words, hours, false)
      if (refusal) found.push(refusal)
    }
  return found
}
const asParty = (exposure: Exposure): Party =>
  'form' in exposure.what
    ? partyOf(exposure.what.form, exposure.atMs)
    : methodParty(exposure.what.method, exposure.atMs)
function exposureWords(house: House, exposure: Exposure, hours: number): string {
  const what = 'form' in exposure.what ? exposure.what.form.label : exposure.what.method.label
  const where = house.record.vessels.get(exposure.vesselId)?.body.name ?? 'another vessel'
  switch (exposure.kind) {
    case 'bath':
      return `was bathed (${what}) in ${where} ${hoursWord(hours)} ago`
    case 'water':
      return `lived in ${where} with ${what}, last dosed ${hoursWord(hours)} ago`
    case 'food':
      return `is fed with ${what}`
  }
}

/** Words for an animal's code against a form or a method. */
function codeRefusal(
  code: string,
  what: {
    readonly label: string
    readonly agent?: string
    readonly heldAtLevel?: boolean
    readonly emptyTankOnly?: true
  },
  resident: ResidentDocument,
  vesselName: string,
): Refusal | null {
  const group = groupOf(resident.body.group)
  const name = nameOf(resident)
  const kinds = group?.label.toLowerCase() ?? 'this animal'
  if (code === 'X') {
    if (what.agent === 'copper' && group && group.kind !== 'fish' && group.kind !== 'plant')
      return forbid(
        'cu-invertebrates',
        `${name} and ${vesselName}: ${what.label} kills ${kinds}. They may never meet; move the animal elsewhere and log it.`,
      )
    if (what.emptyTankOnly === true)
      return forbid(
        'empty-tank',
        `${name} is in ${vesselName}: ${what.label} kills whatever breathes. Move it to aerated water of its own, log the move, then pour.`,
      )
    return block('contraindicated', `${what.label} is not for ${kinds}: ${name}, ${vesselName}.`)
  }
  if (code === 'C' || code === '?')
    return warn(
      'caution',
      `${name}: ${code === '?' ? 'no data, treated as caution' : 'caution'}. ${what.heldAtLevel === true ? 'Low-end ramp' : 'The low end of the level'}, one animal first, watch for 24 h.`,
    )
  return null
}

/** Animals against a form: no invertebrate meets copper, code X blocks, code C is told. @source handbook 31 T6, 70 */
export function againstAnimals(
  form: AgentForm,
  residents: readonly ResidentDocument[],
  vessel: VesselDocument,
): Refusal[] {
  return residents.flatMap(
    (resident) =>
      codeRefusal(sensitivity(form, resident.body.group, vessel.body.water), form, resident, vessel.body.name) ?? [],
  )
}

/** Animals against a method of the water. */
export function againstMethod(
  method: Method,
  residents: readonly ResidentDocument[],
  vessel: VesselDocument,
): Refusal[] {
  if (Object.keys(method.sensitivity).length === 0) return []
  return residents.flatMap(
    (resident) =>
      codeRefusal(
        sensitivity({ sensitivity: method.sensitivity }, resident.body.group, vessel.body.water),
        { label: method.label },
        resident,
        vessel.body.name,
      ) ?? [],
  )
}

/** The vessel itself against a form: its water, its rock, its alkalinity, its warmth. */
export function againstVessel(house: House, form: AgentForm, vessel: VesselDocument, atMs: number): Refusal[] {
  const found: Refusal[] = []
  const { name, water, bindingMedia } = vessel.body
  if (form.water !== 'both' && form.water !== water)
    found.push(
      block(
        'water',
        `${form.label} is a ${form.water === 'marine' ? 'marine' : 'fresh-water'} record; ${name} is ${water === 'marine' ? 'sea' : 'fresh'} water.`,
      ),
    )
  if (form.route === 'in-tank' && bindingMedia === 'rock' && form.sensitivity.RO === 'X') {
    if (form.agent === 'copper') found.push(block('cu-materials', `${name} holds rock or shell, which binds copper.`))
    else if (water === 'marine')
      found.push(
        block('rock', `${name} holds live rock: ${form.label} kills what lives in it, or stays in it for weeks.`),
      )
  }
  const alkalinity = freshReading(house, vessel.id, 'alkalinity', atMs, 14 * 24)
  if (form.alkalinityMinDkh && water === 'marine' && alkalinity && alkalinity.value < form.alkalinityMinDkh.dkh) {
    const message = `${name} was read at ${trim(alkalinity.value)} dKH: ${form.label} asks for ${form.alkalinityMinDkh.dkh} dKH or more. Raise the alkalinity first.`
    found.push(
      form.alkalinityMinDkh.level === 'block' ? block('cu-alkalinity', message) : warn('cu-alkalinity', message),
    )
  }
  const warmth = freshReading(house, vessel.id, 'temperature', atMs, 7 * 24)
  if (form.usualC && warmth && (warmth.value < form.usualC.min || warmth.value > form.usualC.max))
    found.push(
      warn(
        'usual-warmth',
        `${name} was read at ${trim(warmth.value)} °C; ${form.label} is meant for ${form.usualC.min} to ${form.usualC.max} °C.`,
      ),
    )
  return found
}

/** A heat-limited agent without a reading of the last day: asked, and only a reading answers. */
export function temperatureQuestion(form: AgentForm, limit: Limit, vessel: VesselDocument): Refusal[] {
  if (!limit.needsTemperature) return []
  return [
    {
      ...ask(
        'temperature-unknown',
        `${form.label} depends on warmth, and nobody read ${vessel.body.name} within a day. Read it now: how warm is it?`,
      ),
      needs: 'temperature',
      vesselId: vessel.id,
    },
  ]
}

/** A level over its ceiling, said by what sets it. */
export function overCeiling(
  form: AgentForm,
  limit: Limit,
  vesselName: string,
  to: { readonly mgPerL: number; readonly worstMgPerL: number; readonly lowL: number },
  amount: string,
): Refusal[] {
  const number = (value: number) => value.toFixed(value < 1 ? 3 : 2)
  const { ceilingMgPerL, hardMaxMgPerL, temperatureC } = limit
  if (ceilingMgPerL === 0)
    return [
      block(
        'safe-ceiling',
        `${vesselName} is at ${trim(temperatureC ?? NaN)} °C: ${form.label} is never used at that warmth.`,
      ),
    ]
  if (to.mgPerL > form.hardMax * (1 + 1e-9))
    return [
      block(
        'safe-ceiling',
        `${amount} leads to ${number(to.mgPerL)} mg/L, over the hard maximum of ${form.hardMax} mg/L for ${form.label}.`,
      ),
    ]
  if (to.mgPerL > ceilingMgPerL * (1 + 1e-9)) {
    const why = {
      hard: '',
      heat: `At ${trim(temperatureC ?? NaN)} °C ${form.label} stops at`,
      caution: `With an animal that needs caution in the water (${limit.cautious.map(nameOf).slice(0, 3).join(', ')}) ${form.label} stops at`,
      pair: `Beside what is already in the water ${form.label} stops at`,
    }[limit.by]
    return [block('safe-ceiling', `${amount} leads to ${number(to.mgPerL)} mg/L. ${why} ${trim(ceilingMgPerL)} mg/L.`)]
  }
  if (to.worstMgPerL > hardMaxMgPerL * (1 + 1e-9))
    return [
      block(
        'safe-ceiling',
        `At the low end of the volume (${trim(to.lowL)} L) ${amount} leads to ${number(to.worstMgPerL)} mg/L, over the hard maximum of ${form.hardMax} mg/L.`,
      ),
    ]
  return []
}

/** Caps that another agent in the water leaves a form. @source handbook 31 T6 dose caps, 30 §5.7 `cx-salt-epsom` */
export function pairCapOf(
  house: House,
  form: AgentForm,
  vesselId: string,
  atMs: number,
  known: readonly KnownLevel[] = [],
) {
  let all = Infinity
  let cautious = Infinity
  for (const party of partiesIn(house, vesselId, atMs, known)) {
    if (party.kind !== 'form' || party.form.agent === form.agent) continue
    const caps = interactionBetween(partyOf(form, atMs), party)?.caps
    const warmth = freshReading(house, vesselId, 'temperature', atMs)?.value
    if (caps?.maxC !== undefined && warmth !== undefined && warmth > caps.maxC) all = 0
    all = Math.min(all, caps?.all?.[form.agent] ?? Infinity)
    cautious = Math.min(cautious, caps?.cautious?.[form.agent] ?? Infinity)
  }
  return all === Infinity && cautious === Infinity ? undefined : { all, cautious }
}

/** Where a species or its group lives. */
export function waterOf(
  resident: Pick<ResidentDocument['body'], 'group' | 'scientificName'>,
): 'marine' | 'fresh' | null {
  const known = species.find(({ scientific }) => scientific === resident.scientificName)
  const water = known?.water ?? groupOf(known?.group ?? resident.group)?.water
  return water === 'both' || water === undefined ? null : water
}

/** Water that holds more of a form than may stand over this animal: poured is poured, but nobody is put into it. */
function tooStrongFor(
  house: House,
  resident: ResidentDocument,
  vessel: VesselDocument,
  form: AgentForm,
  mgPerL: number,
  atMs: number,
): Refusal[] {
  const temperatureC = freshReading(house, vessel.id, 'temperature', atMs)?.value ?? null
  const { ceilingMgPerL } = limitFor(form, { temperatureC, residents: [resident], water: vessel.body.water })
  if (mgPerL <= ceilingMgPerL * (1 + 1e-9)) return []
  const number = (value: number) => value.toFixed(value < 1 ? 3 : 2)
  return [
    block(
      'too-strong',
      `${vessel.body.name} holds about ${number(mgPerL)} mg/L of ${form.label}; for ${nameOf(resident)} it ends at ${number(ceilingMgPerL)} mg/L. Change water and test first.`,
    ),
  ]
}

/** An animal into a vessel: its kind of water, what the water holds and is, what the animal comes from. */
export function intoVessel(
  house: House,
  resident: ResidentDocument,
  vessel: VesselDocument,
  atMs: number,
  known: readonly KnownLevel[] = [],
  fromVessel?: VesselDocument,
): Refusal[] {
  const found: Refusal[] = []
  const own = waterOf(resident.body) ?? fromVessel?.body.water ?? null
  const name = nameOf(resident)
  if (own !== null && own !== vessel.body.water)
    found.push(
      block(
        'wrong-water',
        `${name} lives in ${own === 'marine' ? 'sea' : 'fresh'} water; ${vessel.body.name} is ${vessel.body.water === 'marine' ? 'sea' : 'fresh'} water.`,
      ),
    )
  const levels = levelsIn(house, vessel.id, atMs, known, atMs)
  for (const party of partiesIn(house, vessel.id, atMs, known)) {
    if (party.kind === 'form' && party.form.route !== 'food') {
      found.push(...againstAnimals(party.form, [resident], vessel))
      found.push(...tooStrongFor(house, resident, vessel, party.form, levels?.get(party.form.agent)?.mgPerL ?? 0, atMs))
      found.push(...againstExposures(house, [resident], party, atMs, { notWaterOf: vessel.id }))
    } else if (party.kind === 'method') found.push(...againstMethod(party.method, [resident], vessel))
  }
  // The residue may be under its line, and the copper not yet read gone.
  const group = groupOf(resident.body.group)
  if (
    group &&
    group.kind !== 'fish' &&
    group.kind !== 'plant' &&
    holdsCopper(house, vessel.id, atMs) &&
    !found.some(({ rule }) => rule === 'cu-invertebrates')
  )
    found.push(
      forbid(
        'cu-invertebrates',
        `${vessel.body.name} holds copper until a reading says otherwise: no ${group.label.toLowerCase()} may go in. Choose another vessel.`,
      ),
    )
  const kind = species.find(({ scientific }) => scientific === resident.body.scientificName)
  if (kind?.tankL !== undefined && vessel.body.purpose === 'display' && vessel.body.nominalL < kind.tankL)
    found.push(
      warn(
        'tank-size',
        `${kind.common} grows to about ${kind.adultCm} cm and wants ${kind.tankL} L for good; ${vessel.body.name} has ${Math.round(vessel.body.nominalL)} L.`,
      ),
    )
  return found
}

/** Animals of a vessel at an instant. */
export const animalsIn = (house: House, vesselId: string, atMs: number): ResidentDocument[] =>
  residentsIn(house.record, house.active, vesselId, atMs)

export const formById = agentForm
