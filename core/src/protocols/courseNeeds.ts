// What a whole course uses up, before it starts: product, water, tests; with a margin, against what is on the shelf.
// The preview draws the first days of one bottle; this sums every bottle to the end.
import { asTimed } from './settingValues.ts'
import { limitOf } from '../knowledge/limits.ts'
import { agentForm } from '../knowledge/agents.ts'
import { formAmong } from '../knowledge/uses.ts'
import { asChosen, usualVariant, type Protocol, type Value } from '../knowledge/protocols.ts'
import { activeContent } from '../dosing/strength.ts'
import { stockOf } from '../dosing/stock.ts'
import { vesselVolume } from '../level/fromRecord.ts'
import type { ActiveLedger, KeeperRecord } from '../record/types.ts'
import { dayOf } from '../time/time.ts'
import type { Working } from '../working.ts'
import { leastDays } from './plan.ts'
import { evaluate } from './expression.ts'

/** What is bought beyond the sum: spills, a repeated dose, a test done twice. @source EST; water as handbook 30 prep-transfer */
export const PRODUCT_MARGIN = limitOf('product-margin')
export const WATER_MARGIN = limitOf('water-margin')

export interface ProductNeed {
  readonly roleId: string
  readonly label: string
  readonly productId: string | null
  /** Pour units for the course and with the margin; null where no bottle says how strong it is. */
  readonly amount: number | null
  readonly withMargin: number | null
  readonly unit: string | null
  /** Pour units left in the bottle; null where its size was never noted. */
  readonly left: number | null
  readonly short: boolean
  /** The bottle expires before the course can end. */
  readonly expires: boolean
  readonly working: Working | null
}
export interface CourseNeeds {
  readonly days: number
  readonly products: readonly ProductNeed[]
  /** L, without and with the margin; null while the volume is unknown. */
  readonly waterL: number | null
  readonly waterWithMarginL: number | null
  readonly tests: readonly { readonly role: string; readonly label: string; readonly times: number }[]
  readonly kit: readonly string[]
}

export interface CourseNeedsOptions {
  readonly record: KeeperRecord
  readonly active: ActiveLedger
  readonly protocol: Protocol
  /** The way it runs; the usual one where left out. */
  readonly variantId?: string | undefined
  readonly vesselId: string
  /** Bottle by product role. */
  readonly products: Readonly<Record<string, string>>
  readonly parameters: Readonly<Record<string, number>>
  readonly nowMs: number
}

/** Pure over the record. Doses that are read off a level count as raised once and held by replacing what changes take. */
export function courseNeeds(options: CourseNeedsOptions): CourseNeeds {
  const { record, active, vesselId, nowMs } = options
  const variant = options.protocol.variants.find(({ id }) => id === options.variantId) ?? usualVariant(options.protocol)
  // What has no preset counts at its lowest: the keeper types it before the course starts.
  const defaults = Object.fromEntries(
    (options.protocol.parameters ?? []).map(({ id, min, default: usual }) => [id, usual ?? min]),
  )
  const protocol = asTimed(asChosen(options.protocol, variant.id), options.parameters)
  const vessel = record.vessels.get(vesselId)
  const volume = vessel ? vesselVolume(vessel) : null
  const days = leastDays(protocol)
  const endDay = dayOf(nowMs + days * 86_400_000, record.settings.zone)
  const valueOf = (value: Value | undefined, formId: string, unit: string): number => {
    if (value === undefined) return 0
    if (typeof value !== 'number' && 'byTemperature' in value)
      return Math.max(...value.byTemperature.map((row) => row.value))
    // What hangs on the record counts as if nothing had been read yet: the keeper sees the amount when it is due.
    return (
      evaluate(
        value,
        {
          forms: { bottle: formId },
          parameters: { ...defaults, ...options.parameters },
          variant,
          ...(volume ? { netL: volume.litres } : {}),
          count: () => 0,
        },
        unit,
      ) ?? 0
    )
  }
  const products = protocol.productRoles.map((role): ProductNeed => {
    const productId = options.products[role.id] ?? null
    const product = productId === null ? undefined : record.products.get(productId)
    const formId = formAmong(product?.body, role.forms)?.id ?? product?.body.form ?? role.forms[0]!
    const form = agentForm(formId)
    const content = product ? activeContent(product.body.strength) : null
    const lines: { label: string; mg: number }[] = []
    for (const phase of protocol.phases) {
      for (const rule of phase.rules) {
        if (!('role' in rule) || rule.role !== role.id || !volume) continue
        if (rule.kind === 'dose')
          lines.push({
            label: `${rule.title}, ${rule.times} ×`,
            mg: rule.times * (rule.share ?? 1) * valueOf(rule.aim, formId, 'mg/L') * volume.litres,
          })
        else if (rule.kind === 'spot' && form)
          lines.push({
            label: `${rule.title}, ${rule.times} × up to ${form.hardMax} mg/L`,
            mg: rule.times * form.hardMax * volume.litres,
          })
        else if (rule.kind === 'bath') {
          const litres = { ...defaults, ...options.parameters }['bath-litres'] ?? 10
          lines.push({
            label: `${rule.title}, ${rule.times} × ${litres} L`,
            mg: rule.times * valueOf(rule.aim, formId, 'mg/L') * litres,
          })
        } else if (rule.kind === 'ramp' && form)
          lines.push({ label: `${rule.title} to ${form.target} mg/L`, mg: form.target * volume.litres })
        else if (rule.kind === 'hold' && form) {
          // Middle of the loss the form is known for, over the phase.
          const halfLife = Math.sqrt(form.halfLifeDays.low * form.halfLifeDays.high)
          lines.push({
            label: `${rule.title}: what ${phase.typicalDays} days take away`,
            mg: form.target * volume.litres * Math.LN2 * (phase.typicalDays / halfLife),
          })
        }
      }
      if (!form?.heldAtLevel || !volume) continue
      for (const rule of phase.rules) {
        if (rule.kind !== 'change' || !rule.makeUp) continue
        const times = rule.times ?? Math.floor(phase.typicalDays / (rule.everyDays ?? 7))
        lines.push({
          label: `${rule.title}, ${times} ×, made up again`,
          mg: times * rule.fraction * form.target * volume.litres,
        })
      }
    }
    const mg = lines.reduce((sum, line) => sum + line.mg, 0)
    // What is used by the piece or the round has no sum beforehand: its step says how much.
    const amount = content?.ok && lines.length > 0 ? mg / content.value.mg : null
    const left = product ? stockOf(active, product, nowMs).left : null
    const withMargin = amount === null ? null : amount * PRODUCT_MARGIN
    return {
      roleId: role.id,
      label: role.label,
      productId,
      amount,
      withMargin,
      unit: content?.ok ? content.value.per : null,
      left,
      short: left !== null && withMargin !== null && withMargin > left,
      expires: product?.body.expiresOn !== undefined && product.body.expiresOn < endDay,
      working:
        content?.ok && volume && lines.length > 0
          ? {
              title: `${role.label} for the whole course`,
              formula: 'amount = Σ mg ÷ strength; with the margin × 1.25',
              inputs: [
                { label: 'net volume', value: volume.litres, unit: 'L', sd: volume.sdLitres },
                { label: 'strength', value: content.value.mg, unit: `mg per ${content.value.per}` },
                ...lines.map(({ label, mg: each }) => ({ label, value: each, unit: 'mg' })),
              ],
              result: { label: 'with the margin', value: withMargin!, unit: content.value.per },
              notes: ['Readings and doses while it runs decide what is really poured.'],
            }
          : null,
    }
  })
  const tests = protocol.instrumentRoles.map(({ id, label }) => ({
    role: id,
    label,
    times: protocol.phases.reduce(
      (sum, phase) =>
        sum +
        phase.rules.reduce(
          (all, rule) =>
            all +
            (rule.kind === 'test' && rule.role === id
              ? Math.ceil((phase.typicalDays * 24) / (typeof rule.everyHours === 'number' ? rule.everyHours : 48))
              : 0),
          0,
        ),
      0,
    ),
  }))
  const share = protocol.waterShare ?? (protocol.campaign ? 0 : 1)
  const waterL = volume ? share * volume.litres : null
  return {
    days,
    products,
    waterL,
    waterWithMarginL: waterL === null ? null : waterL * WATER_MARGIN,
    tests: tests.filter(({ times }) => times > 0),
    kit: protocol.kit.map(({ item }) => item),
  }
}
