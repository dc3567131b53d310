// What devices told onto the ledger: hours of a probe head, and portions that a doser says it poured.
import { deviceAnalyte, isPossible } from '../devices/watch.ts'
import { addedMeasure } from '../outbreak/measures.ts'
import { doserState } from '../outbreak/dosers.ts'
import { ANALYTES } from '../record/typedLine.ts'
import { CANONICAL_UNIT } from '../units/units.ts'
import { instantMs } from '../time/time.ts'
import { answerOf, problemAnswer } from './answer.ts'
import type { ActAnswer, ActContext, DeviceHoursIntent, DevicePouredIntent, Draft } from './types.ts'

/** Hours of one device: what is there already, what cannot be and what is older than the vessel stays out. */
export function deviceHoursAct(context: ActContext, intent: DeviceHoursIntent): ActAnswer {
  const device = context.record.devices.get(intent.deviceId)
  if (!device || device.body.retiredAt !== undefined) return problemAnswer('That device is not registered.')
  const vessel = context.record.vessels.get(device.body.vesselId)
  if (!vessel) return problemAnswer('The vessel of this device is not on the shelf.')
  const drafts = intent.rows.flatMap(({ quantity, atMs, value, low, high, n }): Draft[] => {
    const analyte = deviceAnalyte(quantity)
    if (analyte === null || !isPossible(quantity, value)) return []
    if (atMs > context.nowMs || atMs < instantMs(vessel.body.startedAt)) return []
    const instrument = [...context.record.instruments.values()].find(
      ({ body }) => body.deviceId === device.id && body.analyte === analyte && body.retiredAt === undefined,
    )
    return [
      {
        kind: 'reading',
        vesselId: vessel.id,
        atMs,
        analyte,
        value,
        unit: CANONICAL_UNIT[ANALYTES[analyte].dimension],
        bound: 'exact',
        ...(instrument ? { instrumentId: instrument.id } : {}),
        spread: { low, high, n },
      } as unknown as Draft,
    ]
  })
  if (drafts.length === 0) return problemAnswer('Nothing of these hours can be kept.')
  return answerOf({ found: [], drafts, said: `${drafts.length} hourly values of ${device.body.name}.` })
}

/** A portion that a doser says it poured: what it raised is reckoned by its stock and the net volume. */
export function devicePouredAct(context: ActContext, intent: DevicePouredIntent): ActAnswer {
  const device = context.record.devices.get(intent.deviceId)
  if (!device) return problemAnswer('That device is not registered.')
  const { correction, salt, risePerMl } = doserState(context.record, context.active, device, context.nowMs)
  if (!correction || !salt || risePerMl === null)
    return problemAnswer('What this doser pours, or the volume it pours into, is not known.')
  if (!(intent.mL > 0)) return problemAnswer('Nothing was poured.')
  const grams = (intent.mL * device.body.doser!.gramsPerL) / 1000
  return answerOf({
    found: [],
    drafts: [
      {
        kind: 'tally',
        vesselId: device.body.vesselId,
        atMs: Math.min(intent.atMs, context.nowMs),
        measure: addedMeasure(correction.id),
        values: {
          rise: Number((intent.mL * risePerMl).toPrecision(6)),
          grams: Number(grams.toPrecision(6)),
          ml: Number(intent.mL.toPrecision(6)),
          'grams-per-l': device.body.doser!.gramsPerL,
        },
        deviceId: device.id,
        note: salt.label,
      } as unknown as Draft,
    ],
    said: `${device.body.name} poured ${Number(intent.mL.toPrecision(3))} mL.`,
  })
}
