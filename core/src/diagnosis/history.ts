// What the ledger answers by itself about an animal's or a vessel's last weeks: counts, losses, transport, gear.
import { besidesReadings, entriesSince, entriesUntil, indexOf } from '../record/ledgerIndex.ts'
import { agentForm, groupOf } from '../knowledge/agents.ts'
import { conditionOf, signsOf } from '../knowledge/conditions.ts'
import type { Protocol } from '../knowledge/protocols.ts'
import { residentsIn } from '../record/whereabouts.ts'
import { ammoniaOf } from '../record/compared.ts'
import { carriedInto } from '../record/gear.ts'
import { breathingOf, openSigns } from '../record/observation.ts'
import type { ActiveLedger, FindingDocument, KeeperRecord } from '../record/types.ts'
import { entryMs, instantMs } from '../time/time.ts'
import { FREE_AMMONIA, type Flow } from './context.ts'

const DAY = 86_400_000
const HOUR = 3_600_000
/** What somebody counts as spots on a fish. */
export const SPOTS = 'spots'

const days = (count: number): string => `${count} ${count === 1 ? 'day' : 'days'}`

/** Answers the ledger gives for a finding. Pure; only signs that its pool knows, each once. */
export function historyFlows(
  record: KeeperRecord,
  active: ActiveLedger,
  finding: FindingDocument,
  nowMs: number,
): Flow[] {
  const { body } = finding
  const { vesselId, pool } = body
  const known = new Set(signsOf(pool).map(({ id }) => id))
  const found = new Map<string, Flow>()
  const say = (sign: string, yes: boolean, words: string) => {
    if (known.has(sign) && !found.has(sign)) found.set(sign, { sign, answer: yes ? 'yes' : 'no', words })
  }
  const here = entriesUntil(indexOf(active).byVessel.get(vesselId)?.entries ?? [], nowMs)
  const since = (ms: number) => entriesSince(here, nowMs - ms)
  const resident = body.residentId === undefined ? undefined : record.residents.get(body.residentId)
  const zone = record.settings.zone

  if (resident) {
    const breathing = breathingOf(active, resident, zone)
    const last = breathing.counts.slice(-2)
    if (last.length === 2 && nowMs - last[0]!.ms <= DAY)
      say(
        'breath-fast',
        breathing.alarm,
        `${last.map(({ perMinute }) => perMinute).join(' and ')} beats a minute${breathing.normal ? `; alarm at ${breathing.normal.alarm}` : ''}${breathing.baseline === null ? '' : `, its own usual ${Math.round(breathing.baseline)}`}.`,
      )
    const spots = besidesReadings(active).filter(
      (entry) =>
        entry.kind === 'count' &&
        entry.what === SPOTS &&
        entry.residentId === resident.id &&
        nowMs - entryMs(entry) <= 7 * DAY,
    )
    const newest = spots.at(-1)
    if (newest?.kind === 'count') {
      const before = spots.at(-2)
      say(
        'spots-salt-grain',
        newest.count > 0,
        `${newest.count} spots counted${before?.kind === 'count' ? `, ${before.count} before that` : ''}.`,
      )
    }
    const arrivedDays = (nowMs - instantMs(resident.body.arrivedAt)) / DAY
    const { transitHours } = resident.body
    if (transitHours !== undefined && arrivedDays <= 4)
      say(
        'hist-long-shipping',
        transitHours >= 18,
        `${transitHours} h in the bag, ${days(Math.round(arrivedDays))} ago.`,
      )
    const meals = besidesReadings(active).filter(
      (entry) =>
        entry.kind === 'meal' &&
        (entry.residentId === resident.id || (entry.residentId === undefined && entry.vesselId === vesselId)),
    )
    const own = meals.filter((entry) => entry.kind === 'meal' && entry.residentId === resident.id)
    const took = own.findLast((entry) => entry.kind === 'meal' && entry.took === 'took')
    if (own.length > 0) {
      const fasting = (nowMs - (took ? entryMs(took) : entryMs(own[0]!))) / DAY
      say(
        'hist-no-food',
        fasting >= 5,
        took
          ? `It ate ${days(Math.max(0, Math.floor(fasting)))} ago.`
          : `No meal taken in ${days(Math.floor(fasting))} of noted meals.`,
      )
    }
  }

  // Who else has it: signs of the others, and those that died.
  const others = residentsIn(record, active, vesselId, nowMs).filter(
    ({ body: one }) => groupOf(one.group)?.kind === 'fish',
  )
  const fish = others.reduce((sum, { body: one }) => sum + one.count, 0)
  if (resident && others.length > 0) {
    const mine = new Set(
      besidesReadings(active).flatMap((entry) =>
        entry.kind === 'sign' && entry.present && entry.residentId === resident.id ? [entry.sign] : [],
      ),
    )
    const sick = others.filter(
      ({ id }) => id !== resident.id && openSigns(active, id).some(({ sign }) => mine.has(sign)),
    )
    const named = (body.alsoIds ?? []).filter((id) => id !== resident.id)
    const hit = new Set([...sick.map(({ id }) => id), ...named]).size + 1
    if (hit >= 2) {
      say('many-fish-hit', true, `${hit} of the fish here show the same.`)
      say('one-fish-only', false, `${hit} of the fish here show the same.`)
    } else if (fish >= 3 && mine.size > 0)
      say('many-fish-hit', false, `No other of ${fish} fish here has its signs on record.`)
  }
  const died = [...record.residents.values()].filter(
    ({ body: one }) =>
      one.leftHow === 'died' &&
      one.vesselId === vesselId &&
      one.leftAt !== undefined &&
      nowMs - instantMs(one.leftAt) <= 2 * DAY,
  ).length
  if (died >= 2) say('deaths-cluster', true, `${died} died here within two days.`)

  // By every instrument, with their errors: what counts is the worse of those that can be trusted.
  const ammonia = ammoniaOf(record, active, vesselId, nowMs)
  if (ammonia?.rules != null)
    say(
      'hist-ammonia-high',
      ammonia.rules >= FREE_AMMONIA,
      [
        `Free ammonia ${ammonia.rules.toFixed(3)} mg/L of N`,
        ammonia.readings.length > 1
          ? ` (${ammonia.readings.map(({ name, value }) => `${name} ${value.toFixed(3)}`).join(', ')}).`
          : `, by ${ammonia.readings[0]!.name}.`,
        ammonia.verdict === 'conflict' || ammonia.verdict === 'no-match'
          ? ' They do not agree: the higher one counts until a third reading.'
          : '',
      ].join(''),
    )
  const readings = (analyte: string, ms: number) =>
    since(ms).flatMap((entry) =>
      entry.kind === 'reading' && entry.analyte === analyte ? [{ ms: entryMs(entry), value: entry.value }] : [],
    )
  const oxygen = readings('oxygen', DAY).at(-1)
  if (oxygen) say('hist-oxygen-low', oxygen.value < 5, `Oxygen ${oxygen.value} mg/L.`)
  const warmth = readings('temperature', 10 * DAY)
  if (warmth.length >= 3) {
    const drop = Math.max(
      0,
      ...warmth.map((one, i) =>
        Math.max(
          0,
          ...warmth
            .slice(i + 1)
            .filter(({ ms }) => ms - one.ms <= DAY)
            .map(({ value }) => one.value - value),
        ),
      ),
    )
    say(
      'hist-cold-drop',
      drop >= 3,
      `The largest fall within a day was ${drop.toFixed(1)} °C, over ${warmth.length} readings.`,
    )
    const week = warmth.filter(({ ms }) => nowMs - ms <= 7 * DAY)
    const rise = Math.max(
      0,
      ...week.map((one, i) =>
        Math.max(
          0,
          ...week
            .slice(i + 1)
            .filter(({ ms }) => ms - one.ms <= DAY)
            .map(({ value }) => value - one.value),
        ),
      ),
    )
    const top = Math.max(...week.map(({ value }) => value), -Infinity)
    if (week.length >= 3)
      say(
        'temp-high-7d',
        top >= 29 || rise >= 2,
        `Up to ${top} °C in the last week, at most ${rise.toFixed(1)} °C up within a day.`,
      )
  }
  const moved = (analyte: string) => {
    const week = readings(analyte, 7 * DAY).map(({ value }) => value)
    return week.length < 2
      ? null
      : { low: Math.min(...week), high: Math.max(...week), up: week.at(-1)! - Math.min(...week) }
  }
  const alkalinity = moved('alkalinity')
  if (alkalinity)
    say(
      'alk-moved-7d',
      alkalinity.high - alkalinity.low >= 1.5,
      `Alkalinity between ${alkalinity.low} and ${alkalinity.high} dKH in the last week.`,
    )
  const nitrate = moved('nitrate')
  const phosphate = moved('phosphate')
  if (nitrate || phosphate)
    say(
      'nutrients-jumped',
      (nitrate?.up ?? 0) >= 10 || (phosphate?.up ?? 0) >= 0.1,
      [
        ...(nitrate ? [`Nitrate up by ${Math.max(0, nitrate.up).toFixed(1)} mg/L in the last week.`] : []),
        ...(phosphate ? [`Phosphate up by ${Math.max(0, phosphate.up).toFixed(2)} mg/L in the last week.`] : []),
      ].join(' '),
    )
  const vessel = record.vessels.get(vesselId)
  if (vessel) {
    const age = (nowMs - instantMs(vessel.body.startedAt)) / DAY
    say('new-system-8wk', age <= 56, `${vessel.body.name} has run for ${days(Math.floor(age))}.`)
  }
  const doses = since(60 * DAY).filter((entry) => entry.kind === 'dose')
  const gone = since(60 * DAY).some((entry) => entry.kind === 'tally' && /piece|removed|pulled/.test(entry.measure))
  if (doses.length > 0 || gone)
    say(
      'h-disturbed-60d',
      true,
      doses.length > 0
        ? `${doses.length} doses went into this water in the last 60 days.`
        : 'Growth was pulled off rock in the last 60 days.',
    )

  // Copper in its band for three days and still worse: what copper cures is less likely.
  for (const course of record.courses.values()) {
    if (course.body.vesselId !== vesselId || course.body.endedAt !== undefined) continue
    const copper = Object.values(course.body.products).some(
      (id) => agentForm(record.products.get(id)?.body.form ?? '')?.agent === 'copper',
    )
    const runs = nowMs - instantMs(course.body.startedAt)
    if (!copper || runs < 72 * HOUR || !resident) continue
    const worse = besidesReadings(active).some(
      (entry) =>
        entry.kind === 'sign' && entry.present && entry.residentId === resident.id && nowMs - entryMs(entry) <= 2 * DAY,
    )
    say(
      'hist-copper-no-help',
      worse,
      `Copper has run here for ${days(Math.floor(runs / DAY))}${worse ? ', and a sign was seen in the last two.' : ', and no sign was seen in the last two.'}`,
    )
  }
  return [...found.values()]
}

/**
 * Other vessels whose trouble may have come along: gear that came wet from them, and what is followed there.
 * What is catching among it is weighed by `exposures`; the rest is only said. @source handbook 30 cc-event
 */
export function sharedTrouble(
  record: KeeperRecord,
  active: ActiveLedger,
  finding: FindingDocument,
  nowMs: number,
): string[] {
  const carried = carriedInto(record, active, finding.body.vesselId, nowMs - 30 * DAY, nowMs)
  const lines = carried.flatMap(({ entry, gear, from }) =>
    from.map((id) => {
      const open = [...record.findings.values()].filter(
        ({ body }) =>
          body.vesselId === id && (body.endedAt === undefined || nowMs - instantMs(body.endedAt) <= 60 * DAY),
      )
      const trouble = open.map(({ body }) =>
        body.was === undefined ? body.title : (conditionOf(body.was)?.label ?? body.title),
      )
      return `${gear?.body.name ?? 'Gear'} came wet from ${record.vessels.get(id)?.body.name ?? 'another vessel'} ${days(Math.floor((nowMs - entryMs(entry)) / DAY))} ago${trouble.length > 0 ? `, where this is followed: ${trouble.join(', ')}` : ''}.`
    }),
  )
  return [...new Set(lines)]
}

/** Conditions a running course covers though their signs are still seen after two weeks: less likely now. */
export function outlasted(
  record: KeeperRecord,
  active: ActiveLedger,
  residentId: string,
  nowMs: number,
): readonly Protocol[] {
  const seen = besidesReadings(active).some(
    (entry) =>
      entry.kind === 'sign' && entry.present && entry.residentId === residentId && nowMs - entryMs(entry) <= 3 * DAY,
  )
  if (!seen) return []
  return [...record.courses.values()].flatMap(({ body }) =>
    body.endedAt === undefined && body.residents.includes(residentId) && nowMs - instantMs(body.startedAt) >= 14 * DAY
      ? [body.protocol as unknown as Protocol]
      : [],
  )
}
