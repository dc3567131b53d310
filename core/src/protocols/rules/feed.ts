// Feeding, every day; with a drug mixed into the food where the protocol says so.
import { limitOf } from '../../knowledge/limits.ts'
import type { RuleOf } from '../../knowledge/protocols.ts'
import { entriesBetween, valueFor, type CourseContext } from '../courseContext.ts'
import { bottleOf, trim } from '../offers.ts'
import type { Builder, Step } from '../stepBuilder.ts'
import { dailySteps } from './daily.ts'
import type { RuleKind } from './kind.ts'
import { never } from './kind.ts'

function steps(rule: RuleOf<'feed'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  const { context } = builder
  const mix = rule.mix ? foodMix(rule.mix, context) : null
  return dailySteps(rule, builder, phaseMs, exitMs, {
    everyDays: 1,
    made: {
      detail: rule.mix
        ? `${rule.text} ${mix?.words ?? 'Choose the bottle first, then the amount stands here.'}`
        : rule.text,
    },
    doneIn: ({ dayStart, dayEnd }) => entriesBetween(context, dayStart, dayEnd).find((entry) => entry.kind === 'meal'),
  })
}

/**
 * A drug mixed into food: mg per gram of food = mg per kg of fish and day ÷ (percent eaten × 10), worked for 20 g.
 * Null while the bottle is not chosen. @source handbook 31 §10
 */
export function foodMix(
  mix: NonNullable<RuleOf<'feed'>['mix']>,
  context: CourseContext,
): { readonly words: string; readonly mgPerG: number; readonly amount: number; readonly unit: string } | null {
  const bottle = bottleOf(context, mix.role)
  if (!bottle) return null
  const mgPerKg = Math.min(valueFor(mix.mgPerKg, context, 'mg/kg'), bottle.form.hardMax)
  const mgPerG = mgPerKg / (mix.feedPercent * 10)
  const amount = (mgPerG * FOOD_BATCH_G) / bottle.content.mg
  const { per } = bottle.content
  return {
    mgPerG,
    amount,
    unit: per,
    words: `${trim(mgPerG)} mg in each gram of food: for ${FOOD_BATCH_G} g of food ${trim(amount)} ${per} (${trim(mgPerG * FOOD_BATCH_G)} mg) of ${bottle.product.body.name}. ${trim(mix.feedPercent)} % of the fish’s mass a day makes ${trim(mgPerKg)} mg per kg.`,
  }
}

const FOOD_BATCH_G = limitOf('food-batch')

const MEALS = [
  { took: 'took', label: 'Taken', tone: 'good' },
  { took: 'tried', label: 'Tried', tone: 'caution' },
  { took: 'ignored', label: 'Ignored', tone: 'caution' },
] as const

export const feed: RuleKind<'feed'> = {
  steps,
  leavesOut: true,
  occurrences: never,
  calendar: (rule, pen) => pen.through(1 / rule.perDay),
  problems(rule, check) {
    if (!rule.mix) return
    check.bottle(rule.mix.role, ['mix', 'role'])
    for (const form of check.formsOf(rule.mix.role)) {
      if (form.route !== 'food') check.say(['mix', 'role'], `${form.label} is not for food.`)
      for (const mgPerKg of check.limits(rule.mix.mgPerKg, ['mix', 'mgPerKg'], 'mg/kg'))
        if (mgPerKg > form.hardMax)
          check.say(
            ['mix', 'mgPerKg'],
            `${mgPerKg} mg/kg a day is over the ceiling of ${form.hardMax} for ${form.label}.`,
          )
    }
  },
  presses: () =>
    MEALS.map(({ took, label, tone }) => ({
      to: 'write',
      label,
      tone,
      said: `Meal ${label.toLowerCase()}: noted.`,
      drafts: [{ kind: 'meal', took }],
    })),
}
