// Samples that lie about and reports nobody read; instruments that no check vouches for any more.
import { doserState } from '../outbreak/dosers.ts'
import { addedMeasure } from '../outbreak/measures.ts'
import { corrections } from '../outbreak/corrections.ts'
import { steerState } from '../outbreak/steerState.ts'
import type { Protocol } from '../knowledge/protocols.ts'
import { runningCourses } from '../record/running.ts'
import { limitOf } from '../knowledge/limits.ts'
import type { Concern } from '../protocols/concerns.ts'
import { DRIFTED_Z, instrumentState } from '../record/instrumentState.ts'
import { ANALYTES, analyteWord } from '../record/typedLine.ts'
import type { ActiveLedger, KeeperRecord } from '../record/types.ts'
import { entryMs, instantMs } from '../time/time.ts'
import { stageOf } from './report.ts'

const DAY = 86_400_000
const HOUR = 3_600_000
/** Days for which a correction that rests is still told of. EST */
const GOING_DAYS = limitOf('reading-stands')
const days = (ms: number): string => {
  const n = Math.floor(ms / DAY)
  return n === 1 ? 'a day' : `${n} days`
}

export function sampleConcerns(record: KeeperRecord, nowMs: number): Concern[] {
  return [...record.samples.values()].flatMap((sample): Concern[] => {
    const { body } = sample
    const name = record.vessels.get(body.vesselId)?.body.name ?? 'a vessel'
    const about = {
      vesselId: body.vesselId,
      sampleId: sample.id,
      tone: 'caution' as const,
      action: 'see-sample' as const,
    }
    const stage = stageOf(body)
    const drawnMs = body.sampledAt === undefined ? 0 : instantMs(body.sampledAt)
    const sentMs = body.sentAt === undefined ? 0 : instantMs(body.sentAt)
    if (
      stage === 'ordered' &&
      body.orderedAt !== undefined &&
      nowMs - instantMs(body.orderedAt) > limitOf('lab-draw') * DAY
    )
      return [
        {
          ...about,
          id: `draw-${sample.id}`,
          title: `The vial for ${name} is still empty:`,
          detail: `it was ordered ${days(nowMs - instantMs(body.orderedAt))} ago.`,
        },
      ]
    if (stage === 'drawn' && nowMs - drawnMs > limitOf('lab-send') * HOUR)
      return [
        {
          ...about,
          id: `send-${sample.id}`,
          title: `The sample of ${name} was drawn and not sent:`,
          detail: `${days(nowMs - drawnMs)} ago. What lies warm changes; draw it anew if it was not kept cold.`,
        },
      ]
    if (stage === 'sent' && nowMs - sentMs > limitOf('lab-late') * DAY)
      return [
        {
          ...about,
          id: `report-${sample.id}`,
          title: `No report of ${name} yet:`,
          detail: `sent ${days(nowMs - sentMs)} ago. Ask ${body.laboratory}, or note it as lost.`,
        },
      ]
    return []
  })
}

/** A doser that was paused and that nothing keeps paused any more: what is not told comes back only when a value has fallen. */
export function doserConcerns(record: KeeperRecord, active: ActiveLedger, nowMs: number): Concern[] {
  const raised = runningCourses(record, nowMs).flatMap(({ body }) =>
    ((body.protocol as unknown as Protocol).campaign?.corrections ?? []).map((id) => `${body.vesselId} ${id}`),
  )
  return [...record.devices.values()].flatMap((device): Concern[] => {
    if (device.body.sort !== 'doser' || device.body.retiredAt !== undefined) return []
    const { correction, pausedMs } = doserState(record, active, device, nowMs)
    if (pausedMs === null || nowMs - pausedMs < DAY || !correction) return []
    // While a correction runs in its water the pause is meant.
    if (raised.some((one) => one.startsWith(`${device.body.vesselId} `))) return []
    // So it is while it is raised without one: the portions put back what the doser did.
    if (steerState(record, active, device.body.vesselId, correction.id, nowMs)?.going === true) return []
    return [
      {
        id: `paused-${device.id}`,
        vesselId: device.body.vesselId,
        title: `${device.body.name} has been paused for ${days(nowMs - pausedMs)}:`,
        detail: `nothing puts ${correction.analyte} back meanwhile. Test it; let the doser run again, or put it away.`,
        tone: 'caution',
        action: 'see-corrections',
      },
    ]
  })
}

/** Values that are being raised without a course: the next portion, or the test that it waits for. */
export function goingConcerns(record: KeeperRecord, active: ActiveLedger, nowMs: number): Concern[] {
  const lately = active.filter(
    (entry) =>
      entry.kind === 'tally' &&
      entry.courseId === undefined &&
      entryMs(entry) <= nowMs &&
      nowMs - entryMs(entry) <= GOING_DAYS * DAY,
  )
  const pairs = new Map<string, { vesselId: string; id: string }>()
  for (const entry of lately) {
    const correction =
      entry.kind === 'tally' ? corrections.find(({ id }) => addedMeasure(id) === entry.measure) : undefined
    if (correction && entry.kind === 'tally')
      pairs.set(`${entry.vesselId} ${correction.id}`, { vesselId: entry.vesselId, id: correction.id })
  }
  const lines = new Map<string, string[]>()
  for (const { vesselId, id } of pairs.values()) {
    const state = steerState(record, active, vesselId, id, nowMs)
    if (state?.going !== true || !state.dose) continue
    const { correction, dose, wanted, nextMs } = state
    const now = `${correction.analyte} about ${Number(dose.now.toPrecision(3))} of ${wanted.target} ${correction.unit}`
    const next = state.endDue
      ? 'it should be there: test it'
      : dose.reason === 'due' || dose.reason === 'stale'
        ? 'test it before more goes in'
        : dose.reason === 'limit' || state.rise <= 0
          ? 'nothing more for now'
          : nextMs !== null
            ? 'the next portion within the hour'
            : 'the next portion is due'
    lines.set(vesselId, [...(lines.get(vesselId) ?? []), `${now}, ${next}`])
  }
  return [...lines].map(([vesselId, found]) => ({
    id: `going-${vesselId}`,
    vesselId,
    title: `Raised in ${record.vessels.get(vesselId)?.body.name ?? 'a vessel'}:`,
    detail: `${found.join('; ')}.`,
    tone: 'plain' as const,
    action: 'see-corrections' as const,
  }))
}

export function instrumentConcerns(record: KeeperRecord, active: ActiveLedger, nowMs: number): Concern[] {
  return [...record.instruments.values()].flatMap((instrument): Concern[] => {
    if (instrument.body.retiredAt !== undefined) return []
    const state = instrumentState(record, active, instrument, nowMs)
    // What nothing was read with lately is asked for when it is used again.
    if (state.hangs === 0) return []
    const vesselId = ''
    const word = analyteWord(instrument.body.analyte)
    const found: Concern[] = []
    if (state.drift && state.drift.z >= DRIFTED_Z) {
      const other = record.instruments.get(state.drift.otherId)
      // Of two that differ one is told of, the one that was checked longer ago.
      const otherCheck = other ? (instrumentState(record, active, other, nowMs).lastCheckMs ?? 0) : Infinity
      const mineCheck = state.lastCheckMs ?? 0
      if (mineCheck < otherCheck || (mineCheck === otherCheck && instrument.id < state.drift.otherId))
        found.push({
          id: `drift-${instrument.id}`,
          vesselId,
          title: `${instrument.body.name} and ${other?.body.name ?? 'the laboratory'} disagree on ${word}:`,
          detail: `by ${Number(Math.abs(state.drift.off).toPrecision(2))} ${ANALYTES[instrument.body.analyte].unit} in the middle of ${state.drift.pairs} pairs. A standard tells which; until then nothing is dosed by either alone.`,
          tone: 'caution',
          action: 'see-cupboard',
        })
    }
    if (state.stale)
      found.push({
        id: `check-${instrument.id}`,
        vesselId,
        title: `${instrument.body.name} was set long ago:`,
        detail: `${state.hangs} readings of ${word} of the last two months hang on it. Hold it against its standard.`,
        tone: 'plain',
        action: 'see-cupboard',
      })
    if (state.reagentDays !== null && state.reagentDays < 0)
      found.push({
        id: `reagent-${instrument.id}`,
        vesselId,
        title: `The reagents of ${instrument.body.name} are over:`,
        detail: `what it reads of ${word} is not to be trusted. A new kit, and the day on its box.`,
        tone: 'caution',
        action: 'see-cupboard',
      })
    return found
  })
}
