// The hand's work behind a setting that is turned in the water itself.
import type { RuleOf } from '../knowledge/protocols.ts'
import { vesselVolume } from '../level/fromRecord.ts'
import { saltForBatch } from '../water/salinity.ts'
import type { Builder } from './stepBuilder.ts'

/** What a step takes: litres of fresh water or grams of salt where it is salinity. */
export function settingDetail(
  rule: Pick<RuleOf<'setting'>, 'quantity' | 'text'>,
  { context }: Pick<Builder, 'context'>,
  before: number,
  value: number,
): string {
  const said = rule.text ?? ''
  const vessel = context.record.vessels.get(context.course.body.vesselId)
  const volume = vessel ? vesselVolume(vessel) : null
  if (rule.quantity !== 'salinity' || !volume || Math.abs(value - before) < 1e-9) return said
  const words =
    value < before
      ? `Replace ${litres((volume.litres * (before - value)) / before)} of ${Math.round(volume.litres)} L with fresh water of the same temperature.`
      : `Dissolve ${Math.round(saltForBatch(volume.litres, value, 25, 0.9) - saltForBatch(volume.litres, before, 25, 0.9))} g of sea-salt mix (yield 0.9) in water taken from the vessel, and give it back over an hour.`
  return said === '' ? words : `${words} ${said}`
}

const litres = (value: number): string => `${value < 10 ? value.toFixed(1) : Math.round(value)} L`
