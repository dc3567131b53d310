// What a course would ask for, before it starts: doses, tests, water, product, days. All from data, nothing stored.
import { asTimed } from './settingValues.ts'
import { doseFor, type Measure } from '../dosing/dose.ts'
import type { ActiveContent } from '../dosing/strength.ts'
import type { AgentForm } from '../knowledge/agents.ts'
import { asChosen, type Protocol, type RuleOf, type Variant } from '../knowledge/protocols.ts'
import { litres, mgPerL } from '../units/quantity.ts'
import { leastDays } from './plan.ts'

export interface PreviewDose {
  readonly atH: number
  readonly fromMgPerL: number
  readonly toMgPerL: number
  readonly amount: number
  readonly unit: ActiveContent['per']
}
export interface CoursePreview {
  readonly doses: readonly PreviewDose[]
  readonly leastDays: number
  readonly watchDays: number
  /** Tests of the level and of everything else, at the least. */
  readonly levelTests: number
  readonly otherTests: number
  readonly changes: number
  /** Water to prepare over the whole course, L. */
  readonly waterL: number
  /** Product over the whole course, pour units: ramp, make-ups and what is expected to be lost. */
  readonly product: number
  /** Level curve for a picture: the ramp, then held. */
  readonly curve: readonly { readonly tH: number; readonly mgPerL: number }[]
}

export interface PreviewOptions {
  readonly protocol: Protocol
  readonly variant: Variant
  readonly form: AgentForm | null
  readonly volumeL: number
  readonly content: ActiveContent | null
  readonly measures: readonly Measure[]
  /** Numbers of the course, as far as they are known. */
  readonly parameters?: Readonly<Record<string, number>>
}

/** The ramp in pourable amounts and the sums of the whole course. The amounts follow readings once it runs. */
export function coursePreview(options: PreviewOptions): CoursePreview {
  const { variant, form, volumeL, content, measures } = options
  const protocol = asTimed(asChosen(options.protocol, variant.id), options.parameters ?? {})
  const rules = protocol.phases.flatMap((phase) => phase.rules.map((rule) => ({ rule, days: phase.typicalDays })))
  const ramp = rules.find(({ rule }) => rule.kind === 'ramp')?.rule as RuleOf<'ramp'> | undefined
  const levels = form ? (variant.levels?.[form.id] ?? []) : []
  const spacingH = variant.spacingHours ?? ramp?.spacingHours ?? 24
  const doses: PreviewDose[] = []
  const curve: { tH: number; mgPerL: number }[] = [{ tH: 0, mgPerL: 0 }]
  let level = 0
  levels.forEach((target, i) => {
    if (!content) return
    const dose = doseFor({
      volumeL: litres(volumeL),
      currentMgPerL: mgPerL(level),
      targetMgPerL: mgPerL(Math.max(level, target)),
      content,
      measures,
    })
    if (!dose.ok) return
    const atH = i * spacingH
    doses.push({
      atH,
      fromMgPerL: level,
      toMgPerL: dose.value.resultMgPerL,
      amount: dose.value.amount,
      unit: dose.value.unit,
    })
    curve.push({ tH: atH, mgPerL: level }, { tH: atH, mgPerL: dose.value.resultMgPerL })
    level = dose.value.resultMgPerL
  })
  const days = leastDays(protocol)
  curve.push({ tH: days * 24, mgPerL: level })
  let levelTests = 0
  let otherTests = 0
  let changes = 0
  let changedShare = 0
  for (const { rule, days: phaseDays } of rules) {
    if (rule.kind === 'test') {
      const hours = rule.everyHours
      const every = typeof hours === 'number' ? hours : 'byForm' in hours && form ? (hours.byForm[form.id] ?? 24) : 24
      const dense = Math.min(rule.denseDays ?? 0, phaseDays)
      const count =
        Math.ceil((dense * 24) / (rule.denseEveryHours ?? every)) + Math.ceil(((phaseDays - dense) * 24) / every)
      if (protocol.instrumentRoles.find(({ id }) => id === rule.role)?.readsFormOf !== undefined) levelTests += count
      else otherTests += count
    } else if (rule.kind === 'change') {
      const count = rule.times ?? Math.floor(phaseDays / (rule.everyDays ?? 7))
      changes += count
      changedShare += count * rule.fraction
    }
  }
  const poured = doses.reduce((sum, { amount }) => sum + amount, 0)
  const heldMg = level * volumeL
  const halfLife = form ? Math.sqrt(form.halfLifeDays.low * form.halfLifeDays.high) : Infinity
  const lostMg = heldMg * ((Math.LN2 / halfLife) * Math.max(0, days - 4))
  const madeUp =
    rules.reduce(
      (sum, { rule, days: phaseDays }) =>
        rule.kind === 'change' && rule.makeUp
          ? sum + Math.floor(phaseDays / (rule.everyDays ?? 7)) * rule.fraction
          : sum,
      0,
    ) * heldMg
  return {
    doses,
    leastDays: days,
    watchDays: variant.watchDays ?? 0,
    levelTests,
    otherTests,
    changes,
    waterL: Math.max(changedShare * volumeL, (protocol.waterShare ?? 0) * volumeL),
    product: content ? poured + (lostMg + madeUp) / content.mg : 0,
    curve,
  }
}
