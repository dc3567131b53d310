// What speaks against a container's numbers or its destination, before anything is opened.
import { tankInputs } from '../acclimation/arrival.ts'
import { groupOf } from '../knowledge/agents.ts'
import type { ActiveLedger, ArrivalDocument, Container, ContainerEntry, KeeperRecord } from '../record/types.ts'
import { countsEverythingWet, waitsForHosts } from '../knowledge/hosts.ts'
import { instantMs } from '../time/time.ts'
import type { Refusal } from './refusal.ts'
import { holdsCopper } from './water.ts'

/** Values a keeper may type for a bag, checked before they are stored: a sentence for each that cannot be. */
export function checkMeasured(values: {
  readonly tempC?: number
  readonly salinityPsu?: number
  readonly phNbs?: number
  readonly tanMgN?: number
  readonly alkalinityDkh?: number
  readonly volumeL?: number
}): Refusal[] {
  const found: Refusal[] = []
  const limit = (rule: string, value: number | undefined, low: number, high: number, sentence: string) => {
    if (value !== undefined && !(value >= low && value <= high))
      found.push({ rule, level: 'forbid', message: sentence })
  }
  limit(
    'bag-ph',
    values.phNbs,
    4,
    10.5,
    `pH ${values.phNbs} cannot be in a bag: pH lies between 4 and 10.5. Is a point missing?`,
  )
  limit(
    'bag-salinity',
    values.salinityPsu,
    0,
    60,
    `A salinity of ${values.salinityPsu} cannot be: it lies between 0 and 60 PSU.`,
  )
  limit(
    'bag-temperature',
    values.tempC,
    1,
    40,
    `${values.tempC} °C cannot be right for living animals. Is it °F, or is a point missing?`,
  )
  limit(
    'bag-ammonia',
    values.tanMgN,
    0,
    60,
    `${values.tanMgN} mg/L of total ammonia is beyond any kit. Is a point missing?`,
  )
  limit(
    'bag-alkalinity',
    values.alkalinityDkh,
    0,
    30,
    `An alkalinity of ${values.alkalinityDkh} dKH cannot be. Is it mg/L CaCO₃?`,
  )
  if (values.volumeL !== undefined && !(values.volumeL > 0 && values.volumeL <= 500))
    found.push({
      rule: 'bag-volume',
      level: 'forbid',
      message: 'The water in the bag must be above zero and at most 500 L.',
    })
  return found
}

/** What is risked without quarantine, and what lowers it. @source handbook 30 §5.8, 40.5, 40.9 */
const RISK = {
  fish: 'a parasite that comes along reaches every fish there, and getting rid of it means catching them all and leaving the display without fish for 76 days. Thirty minutes of watching a day for two weeks, an acclimation box and a healthy look today lower the risk; they do not remove it.',
  marine:
    'wet skeleton, shell or plug can carry resting stages of fish parasites, and pests and eggs come along unseen. A dip, a new plug and a look at night lower the risk; dips do not kill eggs.',
  fresh:
    'snail eggs, planaria and hydra come along unseen and show within four weeks. A rinse, a look at every leaf and limb and 28 days apart lower the risk.',
} as const

/** What speaks against bringing a container into its vessel. */
export function checkContainer(options: {
  readonly record: KeeperRecord
  readonly active: ActiveLedger
  readonly container: Container
  readonly entries: readonly ContainerEntry[]
  readonly nowMs: number
}): Refusal[] {
  const { record, active, container, entries, nowMs } = options
  const found: Refusal[] = []
  const vessel = record.vessels.get(container.vesselId)
  if (!vessel)
    return [
      {
        rule: 'vessel',
        level: 'forbid',
        message: `${container.label} has no vessel to go to. Choose one on the shelf.`,
      },
    ]
  const group = groupOf(container.group)
  const invertebrate = group?.kind !== 'fish' && group?.kind !== 'plant'
  if (invertebrate && holdsCopper({ record, active }, vessel.id, nowMs)) {
    found.push({
      rule: 'cu-invertebrates',
      level: 'forbid',
      message: `${vessel.body.name} holds copper: no ${(group?.label ?? 'invertebrate').toLowerCase()} may go in. Choose another vessel.`,
    })
  }
  if (group && group.water !== 'both' && group.water !== vessel.body.water) {
    found.push({
      rule: 'wrong-water',
      level: 'forbid',
      message: `${group.label} live in ${group.water === 'marine' ? 'sea' : 'fresh'} water; ${vessel.body.name} is ${vessel.body.water}.`,
    })
  }
  // What counts its days without anything wet, or without a fish, begins anew: said before the bag is opened.
  for (const course of record.courses.values()) {
    const { body } = course
    const runs = instantMs(body.startedAt) <= nowMs && (body.endedAt === undefined || instantMs(body.endedAt) > nowMs)
    if (body.vesselId !== vessel.id || !runs || !waitsForHosts(body.protocol)) continue
    const title = (body.protocol as { title?: string }).title ?? 'A course'
    if (group?.kind === 'fish')
      found.push({
        rule: 'fallow',
        level: 'block',
        message: `${vessel.body.name} lies without fish (“${title}”). This one in there starts the whole count again: choose another vessel.`,
      })
    else if (countsEverythingWet(body.protocol))
      found.push({
        rule: 'intake-wet',
        level: 'warn',
        message: `“${title}” runs in ${vessel.body.name}: whatever comes in wet starts the days of all that is in there anew. Another vessel spares them.`,
      })
  }
  const last = (field: 'tempC' | 'phNbs' | 'volumeL' | 'tanMgN') =>
    entries.findLast((entry) => entry.act === 'measured' && entry[field] !== undefined)?.[field]
  const volume = last('volumeL')
  if (container.tubL !== undefined && volume !== undefined && volume > container.tubL) {
    found.push({
      rule: 'bag-larger-than-tub',
      level: 'block',
      message: `The bag holds ${volume} L and the tub ${container.tubL} L: it would not fit. A larger tub, or less bag water.`,
    })
  }
  const tank = tankInputs(record, active, vessel.id, nowMs)
  const tempC = last('tempC')
  const ph = last('phNbs')
  const tan = last('tanMgN')
  const swapped: string[] = []
  if (tempC !== undefined && tank.tempC.assumed === undefined && tempC > tank.tempC.value + 1)
    swapped.push(`your bag (${tempC} °C) is warmer than ${vessel.body.name} (${tank.tempC.value} °C)`)
  if (ph !== undefined && tank.phNbs.assumed === undefined && ph > tank.phNbs.value + 0.15)
    swapped.push(`its pH (${ph}) is higher than the tank's (${tank.phNbs.value})`)
  if (tan !== undefined && tank.tanMgN.assumed === undefined && tan + 0.1 < tank.tanMgN.value)
    swapped.push(`it holds less ammonia (${tan}) than the tank (${tank.tanMgN.value} mg/L)`)
  if (swapped.length > 0) {
    found.push({
      rule: 'bag-and-tank-swapped',
      level: 'ask',
      message: `${swapped.join(' and ').replace(/^./, (first) => first.toUpperCase())}: that is unusual after a journey. Were bag and tank swapped?`,
    })
  }
  const isFish = group?.kind === 'fish'
  if (vessel.body.purpose === 'display') {
    found.push({
      rule: 'no-quarantine',
      level: 'warn',
      message: `Straight into ${vessel.body.name}, without quarantine: ${RISK[isFish ? 'fish' : vessel.body.water]}`,
    })
  }
  return found
}

/** What an arrival's own data get wrong: times out of order. */
export function checkArrival(arrival: Pick<ArrivalDocument, 'body'>, nowMs: number): Refusal[] {
  const { packedAt, receivedAt } = arrival.body
  const found: Refusal[] = []
  if (packedAt !== undefined && receivedAt !== undefined && instantMs(packedAt) > instantMs(receivedAt))
    found.push({
      rule: 'packed-after-received',
      level: 'forbid',
      message: 'It cannot have been packed after it arrived. Look at the two times.',
    })
  if (packedAt !== undefined && instantMs(packedAt) > nowMs + 5 * 60_000)
    found.push({
      rule: 'packed-in-future',
      level: 'forbid',
      message: 'The packing time lies in the future. When was the bag closed?',
    })
  if (packedAt !== undefined && nowMs - instantMs(packedAt) > 10 * 86_400_000 && receivedAt === undefined)
    found.push({ rule: 'packed-long-ago', level: 'ask', message: 'Packed more than ten days ago? Check the day.' })
  return found
}
