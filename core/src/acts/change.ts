// A water change: how much, with what in the new water, and where the levels stand afterwards.
import { activeContent } from '../dosing/strength.ts'
import { vesselVolume } from '../level/fromRecord.ts'
import { preferredUnit } from '../units/format.ts'
import { parseQuantity } from '../units/parse.ts'
import type { VesselDocument } from '../record/types.ts'
import {
  againstAnimals,
  againstVessel,
  againstWater,
  animalsIn,
  overCeiling,
  partyOf,
  temperatureQuestion,
} from '../safety/gate.ts'
import { checkLaw } from '../safety/law.ts'
import { levelsIn } from '../safety/level.ts'
import { ask, block, forbid, warn, type Refusal } from '../safety/refusal.ts'
import { coursesIn } from '../safety/water.ts'
import { agentForm } from '../knowledge/agents.ts'
import { answerOf, problemAnswer } from './answer.ts'
import { formMeant, roomFor } from './dose.ts'
import { atOf, baseOf, checkInstant, checkStep, courseFor, protocolOfCourse } from './place.ts'
import { checkProduct } from './product.ts'
import { readTemperature } from './temperature.ts'
import type { ActContext, ActAnswer, ChangeIntent, Draft, LevelPreview } from './types.ts'

const trim = (value: number): string => String(Number(value.toPrecision(3)))

interface Share {
  /** Of the net volume, 0..1. */
  readonly share: number
  readonly draft: object
}

/** "25 %" or "17 L", against what the vessel holds. */
export function readShare(context: ActContext, text: string, vessel: VesselDocument): Share | string {
  const volume = vesselVolume(vessel)
  const share = parseQuantity(text, { dimension: 'share', label: 'The change', max: 100, allowBound: false })
  if (share.ok) {
    if (share.value.value <= 0) return 'A change of nothing is no change.'
    return {
      share: share.value.value / 100,
      draft: { fraction: share.value.value / 100, entered: share.value.entered },
    }
  }
  if (text.trim() === '') return 'How much was changed? Write 25 % or 17 L.'
  const amount = parseQuantity(text, { dimension: 'volume', label: 'The change', allowBound: false })
  if (!amount.ok)
    return share.error.kind === 'out-of-range'
      ? share.error.message
      : `"${text}" needs a unit: 25 % of the net volume, or 17 L.`
  if (!(amount.value.value > 0)) return 'A change of nothing is no change.'
  if (volume && amount.value.value > volume.litres * 1.05)
    return `${amount.value.entered.value} ${amount.value.entered.unit} is more than the vessel holds (${trim(volume.litres)} ${preferredUnit('volume', context.record.settings) === 'L' ? 'L' : 'L'}).`
  return {
    share: volume ? Math.min(1, amount.value.value / volume.litres) : 0,
    draft: { removedL: amount.value.value, entered: amount.value.entered },
  }
}

/** The change as typed, held against everything. */
export function changeAct(context: ActContext, intent: ChangeIntent): ActAnswer {
  const { record } = context
  const vessel = record.vessels.get(intent.vesselId)
  if (!vessel) return problemAnswer('That vessel is not on the shelf.')
  const size = readShare(context, intent.text, vessel)
  if (typeof size === 'string') return problemAnswer(size)
  const atMs = atOf(context, intent)
  const found: Refusal[] = [...checkInstant(context, vessel.id, atMs, context.nowMs), ...checkStep(context, intent)]
  const temperature = readTemperature(context, intent, vessel)
  if (temperature.problem !== null) return problemAnswer(temperature.problem)
  found.push(...temperature.found)
  const levels = levelsIn(context, vessel.id, atMs, context.known, context.nowMs)
  const course = courseFor(context, intent)
  const lines: string[] = []
  let made: object = {}
  let level: LevelPreview | undefined
  const typed = intent.makeUp?.text.trim() ?? ''
  let madeUp: { agent: string; mgPerL: number } | null = null
  if (intent.makeUp && typed !== '') {
    const parsed = parseQuantity(typed, {
      dimension: 'concentration',
      fieldUnit: 'mg/L',
      label: 'The new water',
      allowBound: false,
    })
    if (!parsed.ok) return problemAnswer(parsed.error.message)
    const product = record.products.get(intent.makeUp.productId)
    if (parsed.value.value > 0) {
      if (!product) return problemAnswer('Which bottle went into the new water? Choose it.')
      const form = formMeant(context, { productId: product.id, vesselId: vessel.id }, course)
      const content = activeContent(product.body.strength)
      if (!form || !content.ok)
        return problemAnswer(content.ok ? `The form of "${product.body.name}" is not known.` : content.error.message)
      const mgPerL = parsed.value.value
      madeUp = { agent: form.agent, mgPerL }
      made = {
        replacement: [{ productId: product.id, mgPerL, ...(form.id === product.body.form ? {} : { form: form.id }) }],
      }
      found.push(
        ...checkProduct(product.body, context.nowMs, record.settings.zone),
        ...checkLaw(record.settings, form.id, 'dose'),
        ...againstVessel(context, form, vessel, atMs),
        ...againstAnimals(form, animalsIn(context, vessel.id, atMs), vessel),
        ...againstWater(context, vessel, partyOf(form, atMs), atMs, context.known),
      )
      if (form.route === 'food')
        found.push(forbid('food-not-water', `${form.label} goes into food, never into the water.`))
      else if (form.route === 'bath' && vessel.body.purpose !== 'bath')
        found.push(forbid('bath-not-tank', `${form.label} at this strength is for a bath vessel with its own water.`))
      else if (!form.heldAtLevel && form.agent !== 'chloroquine' && form.agent !== 'salt')
        found.push(
          warn(
            'calc-change',
            `${form.label} is not held at a level: its changes are part of the schedule, and the new water gets none.`,
          ),
        )
      const room = roomFor(context, {
        vesselId: vessel.id,
        form,
        contentMg: content.value.mg,
        atMs,
        ...(temperature.value === null ? {} : { temperatureC: temperature.value }),
      })
      if (!room)
        found.push(forbid('volume', `The net volume of ${vessel.body.name} cannot be worked out from its measures.`))
      else {
        const mixed = (before: number) => before * (1 - size.share) + mgPerL * size.share
        const to = {
          mgPerL: mixed(room.level.mgPerL),
          worstMgPerL: mixed(room.level.highMgPerL),
          lowL: room.volume.litres,
        }
        found.push(...temperatureQuestion(form, room.limit, vessel))
        if (mgPerL > form.hardMax * (1 + 1e-9))
          found.push(
            block(
              'safe-ceiling',
              `New water at ${trim(mgPerL)} mg/L is over the hard maximum of ${form.hardMax} mg/L for ${form.label}: where it pours in, animals swim through it.`,
            ),
          )
        found.push(...overCeiling(form, room.limit, vessel.body.name, to, 'This change'))
        if (
          to.mgPerL > (product.body.labelBand?.maxMgPerL ?? form.band.max) * 1.001 &&
          to.mgPerL <= room.limit.ceilingMgPerL
        )
          found.push(warn('above-band', `The level then stands at ${trim(to.mgPerL)} mg/L, above the band.`))
        const litres = size.share * room.volume.litres
        level = {
          vesselId: vessel.id,
          formId: form.id,
          fromMgPerL: room.level.mgPerL,
          toMgPerL: to.mgPerL,
          worstMgPerL: to.worstMgPerL,
          volumeL: room.volume.litres,
          amount: Number(((mgPerL * litres) / content.value.mg).toPrecision(4)),
          unit: content.value.per,
          contentMg: content.value.mg,
          from: room.level.from,
          ceilingMgPerL: room.limit.ceilingMgPerL,
          most: null,
          working: {
            title: `${form.label} after the change`,
            formula: 'level before × (1 − share) + new water × share',
            inputs: [
              { label: 'level before', value: room.level.mgPerL, unit: 'mg/L', entryIds: room.level.entryIds },
              { label: 'share changed', value: 100 * size.share, unit: '%' },
              { label: 'new water', value: mgPerL, unit: 'mg/L' },
            ],
            result: { label: 'level after', value: to.mgPerL, unit: 'mg/L' },
            source: 'Mass balance',
          },
        }
      }
    }
  }
  for (const [agent, one] of levels ?? []) {
    if (agent === madeUp?.agent || one.mgPerL <= 0) continue
    const form = agentForm([...one.forms.keys()].at(-1) ?? '')
    if (!form || one.highMgPerL <= form.removedBelow) continue
    const left = one.mgPerL * (1 - size.share)
    lines.push(`${form.label}: from ${trim(one.mgPerL)} to ${trim(left)} mg/L.`)
    // A level that a course holds, thinned by undosed water: asked before it is poured, unless the step is meant so.
    const holds = coursesIn(context, vessel.id, atMs).some((running) => {
      const { clock, phases } = protocolOfCourse(running)
      const rules = phases.flatMap((phase) => phase.rules)
      const held = new Set(rules.flatMap((rule) => (rule.kind === 'hold' ? [rule.role] : [])))
      if (clock) held.add(clock.role)
      const meant = rules.some(
        (rule) =>
          (rule.kind === 'change' && rule.makeUp !== true && intent.step?.startsWith(`${running.id}/${rule.id}/`)) ||
          (rule.kind === 'dose' && intent.step?.startsWith(`${running.id}/${rule.id}-change/`)),
      )
      return (
        !meant &&
        [...held].some((role) => record.products.get(running.body.products[role] ?? '')?.body.form === form.id)
      )
    })
    if (holds && left < form.band.min)
      found.push(
        ask(
          'undosed-change',
          `Undosed new water takes ${form.label} from ${trim(one.mgPerL)} to ${trim(left)} mg/L, below its band: hours stop counting, and the count may begin anew. Really undosed?`,
        ),
      )
  }
  return answerOf({
    found,
    drafts: [
      ...temperature.drafts,
      { kind: 'change', ...baseOf(context, intent, course), ...size.draft, ...made } as unknown as Draft,
    ],
    preview: { ...(level ? { level } : {}), lines },
    said: `Water change ${intent.text.trim()} in ${vessel.body.name}: logged.`,
  })
}
