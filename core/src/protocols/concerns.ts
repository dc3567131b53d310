// What the record is uneasy about: nothing to be done at once, but nothing to be silent about either.
import { besidesReadings } from '../record/ledgerIndex.ts'
import { limitOf } from '../knowledge/limits.ts'
import type { CourseEstimate } from '../level/estimate.ts'
import { vesselVolume } from '../level/fromRecord.ts'
import type { Protocol } from '../knowledge/protocols.ts'
import { residentsIn, residentVessels } from '../record/whereabouts.ts'
import { breathingOf } from '../record/observation.ts'
import { carriedInto, gearState } from '../record/gear.ts'
import type { ActiveLedger, Analyte, CourseDocument, KeeperRecord } from '../record/types.ts'
import { dayOf, instantMs } from '../time/time.ts'
import { formatDuration } from '../units/format.ts'
import { VOLUME_DISAGREEMENT } from '../water/tracer.ts'
import { runningShort } from '../dosing/stock.ts'
import { waitsForHosts } from '../knowledge/hosts.ts'
import { handlingOf } from './handling.ts'
import type { CoursePlan } from './plan.ts'
import { unlikeConcerns } from './unlike.ts'

export interface Concern {
  readonly id: string
  readonly vesselId: string
  readonly courseId?: string
  /** The uneasy fact, as the start of a sentence, and the rest of it. */
  readonly title: string
  readonly detail: string
  readonly tone: 'danger' | 'caution' | 'plain'
  readonly residentId?: string
  readonly findingId?: string
  readonly sampleId?: string
  /** The change of water that it asks for, as it is logged once done. */
  readonly change?: { readonly fraction: number; readonly productId?: string; readonly replacementMgPerL?: number }
  /** What a test would tell; left out for `test` where it is what the course doses. */
  readonly analytes?: readonly Analyte[]
  readonly action?:
    | 'test'
    | 'confirm-volume'
    | 'see-course'
    | 'see-vessel'
    | 'see-ledger'
    | 'see-resident'
    | 'see-cupboard'
    | 'see-finding'
    | 'see-sample'
    | 'see-device'
    | 'see-corrections'
}

const DAY_MS = 86_400_000
/** Animals whose last two counts of breathing, the last within a day, are over their alarm. */
function breathingConcerns(record: KeeperRecord, active: ActiveLedger, nowMs: number): Concern[] {
  const counted = new Set(
    besidesReadings(active).flatMap((entry) =>
      entry.kind === 'count' && entry.what === 'gill-beats' && entry.residentId !== undefined ? [entry.residentId] : [],
    ),
  )
  const where = counted.size === 0 ? new Map<string, string | null>() : residentVessels(record, active, nowMs)
  return [...counted].flatMap((id) => {
    const resident = record.residents.get(id)
    const vesselId = where.get(id)
    if (!resident || vesselId === null || vesselId === undefined) return []
    const { alarm, counts } = breathingOf(active, resident, record.settings.zone)
    const last = counts.at(-1)
    if (!alarm || !last || nowMs - last.ms > DAY_MS) return []
    return [
      {
        id: `breathing-${id}`,
        vesselId,
        residentId: id,
        title: `${resident.body.name} breathes too fast:`,
        detail: `${last.perMinute} a minute in ${record.vessels.get(vesselId)?.body.name ?? 'its vessel'}. More air now, test ammonia, then look for velvet and flukes.`,
        tone: 'danger' as const,
        action: 'see-resident' as const,
        analytes: ['ammonia-total' as const],
      },
    ]
  })
}

/** A course with nothing left to do, that nobody has ended: silence would read as if all were over. */
function runThrough(course: CourseDocument, plan: CoursePlan, name: string, zone: string): Concern[] {
  const { finishedMs } = plan.progress
  if (finishedMs === null) return []
  const protocol = course.body.protocol as unknown as Protocol
  const watchDays = protocol.variants.find(({ id }) => id === course.body.variant)?.watchDays ?? 0
  const watched = protocol.phases.some(
    ({ rules }, i) => i === protocol.phases.length - 1 && rules.some(({ kind }) => kind === 'observe'),
  )
  const follows = [
    ...(protocol.afterwards ?? []).map(({ days, what }) => `${what} (about ${days} days)`),
    ...(watchDays > 0 && !watched ? [`${watchDays} days of watching`] : []),
  ]
  return [
    {
      id: 'run-through',
      vesselId: plan.vesselId,
      courseId: plan.courseId,
      title: `${plan.title} in ${name} has run through since ${dayOf(finishedMs, zone)}.`,
      detail: `End it and note what came of it.${follows.length > 0 ? ` What belongs to it comes after: ${follows.join(', then ')}.` : ''}`,
      tone: 'plain',
      action: 'see-course',
    },
  ]
}

/** Concerns of all plans, gravest first. Pure over record, plans, estimates and time. */
export function concernsOf(
  record: KeeperRecord,
  active: ActiveLedger,
  plans: readonly CoursePlan[],
  estimates: ReadonlyMap<string, CourseEstimate>,
  nowMs: number,
): Concern[] {
  const found: Concern[] = breathingConcerns(record, active, nowMs)
  const quiet: { vesselId: string; words: string }[] = []
  for (const plan of plans) {
    const estimate = estimates.get(plan.courseId)
    const vessel = record.vessels.get(plan.vesselId)
    const name = vessel?.body.name ?? 'A vessel'
    const about = { vesselId: plan.vesselId, courseId: plan.courseId }
    for (const abort of plan.progress.aborts) {
      found.push({
        ...about,
        id: `abort-${abort.id}`,
        title: `Stop the course in ${name}.`,
        detail: `${abort.sentence} ${abort.action}`,
        tone: 'danger',
        action: 'see-course',
      })
    }
    const course = record.courses.get(plan.courseId)
    found.push(...fallowConcerns(plan, name, nowMs, record.settings.zone))
    if (course) {
      found.push(...runThrough(course, plan, name, record.settings.zone))
      found.push(...gearConcerns(record, active, plan, name, nowMs))
      const handling = handlingOf(record, active, course, nowMs)
      const must = plan.steps.some(
        ({ transfer, state }) => transfer !== undefined && (state === 'due' || state === 'late'),
      )
      if (handling.rest && !must) {
        found.push({
          ...about,
          id: 'rest',
          title: `Rest in ${name}:`,
          detail: `${handling.worn ?? `caught or bathed ${handling.times} times in a week`}, and no sign for two days. What can wait may wait: the treatment itself wears them out.`,
          tone: 'plain',
          action: 'see-course',
        })
      }
    }
    if (!estimate || !plan.band) continue
    if (estimate.now.pHardMax > 0.02) {
      found.push({
        ...about,
        id: 'hard-max',
        title: `${name} may be over the hard maximum.`,
        detail: `Chance ${Math.round(100 * estimate.now.pHardMax)} %. Test now; over ${plan.band.hardMaxMgPerL} mg/L change water to target.`,
        tone: 'danger',
        action: 'test',
      })
    }
    const { clock } = estimate
    const earning = clock?.intervals.at(-1)
    if (clock && earning?.state === 'refused' && clock.startedAtH !== null) {
      const hours = earning.toH - earning.fromH
      const why = {
        below: 'the level is likely below the band',
        uncertain: 'the level is not sure enough',
        'no-test': 'the last test is too long ago',
        above: 'the level is above the band',
        'not-started': 'no reading has proven the level yet',
      }[earning.reason ?? 'uncertain']
      found.push({
        ...about,
        id: 'refusing',
        title: `${name} earns no hours`,
        detail: `since ${formatDuration(hours)}: ${why}.`,
        tone: 'caution',
        action: earning.reason === 'below' ? 'see-course' : 'test',
      })
    }
    const doubted = estimate.readings.filter(({ trust }) => trust < 0.5).at(-1)
    if (doubted?.id !== undefined) {
      const entry = record.entries.find(({ id }) => id === doubted.id)
      if (entry?.kind === 'reading') {
        found.push({
          ...about,
          id: `doubt-${doubted.id}`,
          title: `A reading in ${name} fits nothing else.`,
          detail: `${entry.value} ${entry.unit}, where about ${doubted.expectedMgPerL.toFixed(2)} was expected. It hardly counts until another one agrees.`,
          tone: 'caution',
          action: 'test',
          analytes: [entry.analyte],
        })
      }
    }
    const geometry = vessel ? vesselVolume(vessel) : null
    if (geometry && estimate.readings.length >= 2) {
      const apart = estimate.volume.meanL / geometry.litres - 1
      if (Math.abs(apart) > VOLUME_DISAGREEMENT) {
        found.push({
          ...about,
          id: 'volume',
          title:
            Math.abs(Math.log(1 + apart)) > Math.log(limitOf('dose-apart'))
              ? `Doses in ${name} do ${Number((1 / (1 + apart)).toPrecision(2))} times what was reckoned.`
              : `${name} holds ${apart < 0 ? 'less' : 'more'} water than its measures say.`,
          detail: `Measures: ${geometry.litres.toFixed(0)} L. Doses and readings: ${estimate.volume.meanL.toFixed(0)} ± ${estimate.volume.sdL.toFixed(0)} L. Measure again, or check the bottle's strength.`,
          tone: 'caution',
          action: 'see-vessel',
        })
      }
    }
    if (estimate.difference && Math.abs(estimate.difference.creditedH) >= 1) {
      found.push({
        ...about,
        id: 'difference',
        title: 'Why the count changed:',
        detail: `${estimate.difference.message} ${name}.`,
        tone: 'plain',
        action: 'see-course',
      })
    }
  }
  for (const { product, courseId, stock } of runningShort(record, active, nowMs)) {
    const vesselId = record.courses.get(courseId)?.body.vesselId ?? ''
    found.push({
      id: `stock-${product.id}`,
      vesselId,
      courseId,
      title: `${product.body.name} runs out`,
      detail: `in about ${formatDuration(24 * stock.daysLeft!)}: ${Math.round(stock.left!)} left, ${Number((7 * stock.perDay).toPrecision(2))} a week poured. Have the next bottle before then, of the same form.`,
      tone: 'caution',
      action: 'see-course',
    })
  }
  for (const vessel of record.vessels.values()) {
    if (vessel.body.archivedAt !== undefined) continue
    if (vessel.body.volumeConfirmedAt === undefined) {
      found.push({
        id: `volume-${vessel.id}`,
        vesselId: vessel.id,
        title: `The volume of ${vessel.body.name} was never confirmed.`,
        detail: 'Every dose is blocked until you have looked at it once.',
        tone: 'caution',
        action: 'confirm-volume',
      })
    }
    // A vessel with animals in which nothing has been looked at for long.
    if (residentsIn(record, active, vessel.id, nowMs).length > 0) {
      const last = active.findLast((entry) => 'vesselId' in entry && entry.vesselId === vessel.id)
      const days = last ? (nowMs - instantMs(last.at)) / 86_400_000 : null
      if (days !== null && days > 4)
        quiet.push({ vesselId: vessel.id, words: `${vessel.body.name} (${formatDuration(days * 24)})` })
    }
  }
  if (quiet.length > 0) {
    const list = quiet.map(({ words }) => words)
    found.push({
      id: 'quiet',
      vesselId: quiet[0]!.vesselId,
      title: 'Nothing has been noted',
      detail: `in ${list.length > 1 ? `${list.slice(0, -1).join(', ')} and ${list.at(-1)}` : list[0]}. A look and one reading would do.`,
      tone: 'plain',
      action: 'see-vessel',
    })
  }
  found.push(...unlikeConcerns(record, plans))
  const order = { danger: 0, caution: 1, plain: 2 }
  return found.sort((a, b) => order[a.tone] - order[b.tone])
}

/** How long it is said that a count began anew, days. */
const RESTART_SAID_DAYS = limitOf('restart-said')
/** A fish in a vessel that is kept free of fish, and a count that one began anew. */
function fallowConcerns(
  { fallow, vesselId, courseId }: CoursePlan,
  name: string,
  nowMs: number,
  zone: string,
): Concern[] {
  if (!fallow) return []
  const about = { vesselId, courseId, action: 'see-course' as const }
  if (fallow.inside.length > 0)
    return [
      {
        ...about,
        id: 'fallow-host',
        title: `${fallow.inside.join(' and ')} ${fallow.inside.length === 1 ? 'is' : 'are'} in ${name}, which is kept free of fish:`,
        detail: 'nothing counts while a fish is in it, and the count begins anew on the day the last one is out.',
        tone: 'danger',
      },
    ]
  const { restart, endMs } = fallow
  if (!restart || (restart.by !== 'fish' && restart.by !== 'wet') || nowMs - restart.atMs > RESTART_SAID_DAYS * DAY_MS)
    return []
  return [
    {
      ...about,
      id: `fallow-restart-${restart.atMs}`,
      title: `The count in ${name} began anew on ${dayOf(restart.atMs, zone)}:`,
      detail: `${restart.what}.${endMs === null ? '' : ` It now ends on ${dayOf(endMs, zone)}.`}`,
      tone: 'caution',
    },
  ]
}

/** Gear that came wet into a vessel kept free of fish, and gear of its own that is wet elsewhere now. */
function gearConcerns(
  record: KeeperRecord,
  active: ActiveLedger,
  plan: CoursePlan,
  name: string,
  nowMs: number,
): Concern[] {
  const course = record.courses.get(plan.courseId)!
  if (!waitsForHosts(course.body.protocol)) return []
  const about = { vesselId: plan.vesselId, courseId: plan.courseId }
  const word = (id: string) => record.vessels.get(id)?.body.name ?? 'another vessel'
  const found: Concern[] = []
  const carried = carriedInto(record, active, plan.vesselId, instantMs(course.body.startedAt), nowMs).at(-1)
  if (carried)
    found.push({
      ...about,
      id: `gear-in-${carried.entry.id}`,
      title: `The count in ${name} started again`,
      detail: `${formatDuration((nowMs - instantMs(carried.entry.at)) / 3_600_000)} ago: ${carried.gear?.body.name ?? 'gear'} came wet from ${carried.from.map(word).join(' and ')}.`,
      tone: 'caution',
      action: 'see-course',
    })
  for (const gear of record.gear.values()) {
    if (gear.body.retiredAt !== undefined || gear.body.homeVesselId !== plan.vesselId) continue
    const elsewhere = gearState(active, gear.id, nowMs).carries.filter((id) => id !== plan.vesselId)
    if (elsewhere.length === 0) continue
    found.push({
      ...about,
      id: `gear-risk-${gear.id}`,
      title: `${gear.body.name} would start ${name} again:`,
      detail: `it belongs there and is wet from ${elsewhere.map(word).join(' and ')}. Disinfect it, or dry it for a day, before it goes back.`,
      tone: 'caution',
      action: 'see-course',
    })
  }
  return found
}
