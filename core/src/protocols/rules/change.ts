// Water changed at a rhythm or so many times, made up to the level where one is held.
import { activeContent } from '../../dosing/strength.ts'
import type { RuleOf } from '../../knowledge/protocols.ts'
import { changedShare, vesselVolume } from '../../level/fromRecord.ts'
import { addDays, atHourOfDay, dayOf, entryMs } from '../../time/time.ts'
import { MS_PER_HOUR } from '../../units/quantity.ts'
import { entriesBetween } from '../courseContext.ts'
import { make, type Builder, type Step, type StepDose } from '../stepBuilder.ts'
import type { RuleKind } from './kind.ts'
import { never } from './kind.ts'

function steps(rule: RuleOf<'change'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  const { context, estimate } = builder
  const vessel = context.record.vessels.get(context.course.body.vesselId)
  const volume = vessel ? vesselVolume(vessel) : null
  const endMs = exitMs ?? context.nowMs
  const changes = entriesBetween(context, phaseMs, endMs + 1).filter(({ kind }) => kind === 'change')
  const done = changes.map((entry, i) => {
    const share = entry.kind === 'change' && volume ? changedShare(entry, volume.litres) : 0
    return make(rule, builder, i, {
      title: `${Math.round(100 * share)} % changed`,
      detail: 'Done.',
      dueMs: entryMs(entry),
      state: 'done',
      doneMs: entryMs(entry),
      entryId: entry.id,
    })
  })
  if (exitMs !== null || (rule.times !== undefined && done.length >= rule.times)) return done
  const { zone } = context
  const litres = rule.fraction * (volume?.litres ?? 0)
  const everyDays = rule.everyDays ?? 1
  const lastMs = changes.length > 0 ? entryMs(changes.at(-1)!) : null
  const dayFrom = (ms: number, days: number) =>
    atHourOfDay(addDays(dayOf(ms, zone), days), context.course.body.dailyHour, zone)
  const firstMs =
    rule.times !== undefined && lastMs === null
      ? phaseMs + (rule.afterHours ?? 0) * MS_PER_HOUR
      : dayFrom(lastMs ?? phaseMs, everyDays)
  const steps: Step[] = []
  for (let i = 0; i < (rule.times === undefined ? 6 : rule.times - done.length); i++) {
    const dueMs = i === 0 ? firstMs : dayFrom(Math.max(firstMs, context.nowMs), i * everyDays)
    if (i > 0 && dueMs > builder.aheadMs) break
    if (dueMs > builder.aheadMs) break
    const makeUp = rule.makeUp && estimate && builder.band ? makeUpDose(builder, litres) : null
    // Pressed now it would be logged undosed: it waits for its amount.
    const pending =
      rule.makeUp === true &&
      builder.band !== null &&
      estimate === null &&
      i === 0 &&
      context.nowMs >= dueMs - 24 * MS_PER_HOUR
    steps.push(
      make(
        rule,
        builder,
        done.length + i,
        {
          detail: pending
            ? 'The amount for the new water is being worked out.'
            : `${litres.toFixed(0)} L, matched water${makeUp ? `; ${makeUp.amount} ${makeUp.unit} into the new water first` : rule.makeUp ? ', dosed to the level before it goes in' : ', undosed'}.`,
          dueMs,
          ...(pending ? {} : { change: { fraction: rule.fraction, litres, ...(makeUp ? { makeUp } : {}) } }),
          ...(pending ? { state: 'waiting' as const } : {}),
          ...(i > 0 ? { state: 'ahead' as const } : {}),
        },
        12,
      ),
    )
  }
  return [...done, ...steps]
}

/** Amount that holds the level through a change: changed litres × aim ÷ strength, never above the band. */
function makeUpDose(builder: Builder, litres: number): StepDose | null {
  const { context, estimate, band } = builder
  const role = context.protocol.productRoles[0]?.id ?? ''
  const productId = context.course.body.products[role]
  const product = productId === undefined ? undefined : context.record.products.get(productId)
  const content = product ? activeContent(product.body.strength) : null
  if (!productId || !content?.ok || !estimate || !band) return null
  const aim = Math.min(band.targetMgPerL, band.ceilingMgPerL)
  const massMg = litres * aim
  const measures = context.record.settings.syringesMl
  const rough = massMg / content.value.mg
  const step =
    content.value.per === 'mL'
      ? (
          [...measures].sort((a, b) => a.capacity - b.capacity).find(({ capacity }) => rough <= capacity) ?? {
            step: 0.2,
          }
        ).step
      : 0.01
  const amount = Number((Math.round(rough / step) * step).toPrecision(12))
  return {
    productId,
    amount,
    unit: content.value.per,
    measureStep: step,
    fromMgPerL: 0,
    toMgPerL: (amount * content.value.mg) / litres,
    volumeL: litres,
    volumeSdL: 0,
    strengthMg: content.value.mg,
    holdsChance: null,
    working: {
      title: 'Make-up for a water change',
      formula: 'changed water × aim ÷ strength, into the new water before it goes in',
      inputs: [
        { label: 'new water', value: litres, unit: 'L' },
        { label: 'aim', value: aim, unit: 'mg/L' },
        { label: 'strength', value: content.value.mg, unit: `mg per ${content.value.per}` },
        { label: 'mass', value: massMg, unit: 'mg' },
      ],
      result: { label: 'amount', value: amount, unit: content.value.per },
      source: 'Handbook 31 calc-change',
    },
  }
}

export const change: RuleKind<'change'> = {
  steps,
  leavesOut: true,
  occurrences: never,
  calendar(rule, pen) {
    if (rule.times !== undefined) pen.series(rule.times, (rule.afterHours ?? 0) / 24, rule.everyDays ?? 1)
    else pen.through(rule.everyDays ?? 1)
  },
  presses: ({ change: wanted }) => [
    {
      to: 'log',
      label: 'Log the change',
      preset: {
        kind: 'change',
        ...(wanted ? { fraction: wanted.fraction } : {}),
        ...(wanted?.makeUp ? { productId: wanted.makeUp.productId, replacementMgPerL: wanted.makeUp.toMgPerL } : {}),
      },
    },
  ],
}
