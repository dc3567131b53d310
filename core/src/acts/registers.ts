// Bottles and vessels: what is typed is believed or asked about, and a changed fact loses its confirmation.
import { activeContent } from '../dosing/strength.ts'
import { agentForm } from '../knowledge/agents.ts'
import { revised } from '../record/account.ts'
import type { ProductBody, ProductDocument, VesselBody, VesselDocument } from '../record/types.ts'
import { ask, forbid, warn, type Refusal } from '../safety/refusal.ts'
import { instantMs, instantOf } from '../time/time.ts'
import { parseQuantity } from '../units/parse.ts'
import { netVolume } from '../water/netVolume.ts'
import { answerOf, problemAnswer } from './answer.ts'
import { checkSizes, checkStrength } from './plausible.ts'
import { checkProduct } from './product.ts'
import type { ActContext, ActAnswer, BottleIntent, VesselIntent } from './types.ts'

/** A register edit: only what is named changes; `undefined` takes a fact back. */
export function patched<B extends object>(body: B, patch: { readonly [K in keyof B]?: B[K] | undefined }): B {
  const next = { ...body, ...patch }
  for (const key of Object.keys(next) as (keyof B)[]) if (next[key] === undefined) delete next[key]
  return next
}
const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b)

const level = (text: string) =>
  parseQuantity(text, {
    dimension: 'concentration',
    fieldUnit: 'mg/L',
    label: 'The label level',
    allowBound: false,
    max: 50,
  })

/** A bottle as its label states it. */
export function bottleAct(context: ActContext, intent: BottleIntent): ActAnswer {
  const { record, nowMs } = context
  const before = intent.productId === undefined ? undefined : record.products.get(intent.productId)
  if (intent.productId !== undefined && !before) return problemAnswer('That bottle is not in the cupboard any more.')
  if (!before && record.products.has(intent.newId))
    return problemAnswer('This bottle was stored already, perhaps by a second press.')
  const name = intent.name.trim()
  if (name === '') return problemAnswer('Give the bottle a name you will know it by.')
  if (name.length > 80) return problemAnswer('The name is longer than 80 letters: shorten it.')
  const form = agentForm(intent.form)
  if (!form) return problemAnswer('Which form is it? Bound coppers look alike and differ five-fold: the label decides.')
  const content = activeContent(intent.strength)
  if (!content.ok) return problemAnswer(content.error.message)
  let labelBand: ProductBody['labelBand']
  if (form.heldAtLevel) {
    const low = (intent.labelLow ?? '').trim()
    const high = (intent.labelHigh ?? '').trim()
    if (low !== '') {
      const min = level(low)
      if (!min.ok) return problemAnswer(min.error.message)
      const max = high === '' ? min : level(high)
      if (!max.ok) return problemAnswer(max.error.message)
      if (min.value.value > max.value.value) return problemAnswer('The lower label level is above the upper one.')
      labelBand = { minMgPerL: min.value.value, maxMgPerL: max.value.value }
    } else if (high !== '')
      return problemAnswer('The label level has an upper end but no lower one. Type both, or one number.')
    if (intent.confirmed && !labelBand)
      return problemAnswer('Which therapeutic level does the label state, in mg/L? One number or two.')
  }
  let sizeAmount: number | undefined
  if ((intent.size ?? '').trim() !== '') {
    const size = parseQuantity(intent.size!, {
      dimension: 'count',
      label: 'The size',
      allowBound: false,
      max: 1_000_000,
    })
    if (!size.ok) return problemAnswer(size.error.message)
    if (!(size.value.value > 0)) return problemAnswer('The size must be above zero.')
    sizeAmount = size.value.value
  }
  const facts = {
    name,
    form: form.id,
    strength: intent.strength,
    labelBand,
    expiresOn: intent.expiresOn || undefined,
    sizeAmount,
  }
  const changed =
    before !== undefined &&
    (before.body.form !== form.id ||
      !same(before.body.strength, intent.strength) ||
      !same(before.body.labelBand, labelBand))
  const found: Refusal[] = [...checkStrength(form, intent.strength)]
  const confirmedAt = intent.confirmed
    ? changed || before?.body.confirmedAt === undefined
      ? instantOf(nowMs)
      : before.body.confirmedAt
    : undefined
  const body = patched((before?.body ?? {}) as ProductBody, { ...facts, confirmedAt } as never)
  found.push(
    ...checkProduct(body, nowMs, record.settings.zone)
      .filter(
        ({ rule, level: grave, message }) =>
          grave === 'forbid' && !(rule === 'cu-band-of-the-bottle' && message.startsWith('Nobody')),
      )
      .map((one) => forbid(one.rule, one.message)),
  )
  if (changed && intent.confirmed && before.body.confirmedAt !== undefined)
    found.push(
      ask(
        'confirm-again',
        'Form, strength or level of a confirmed bottle changed. Every dose ever logged from it is read anew. Does the label in your hand really say so?',
      ),
    )
  const used =
    before && [...context.active].filter((entry) => entry.kind === 'dose' && entry.productId === before.id).length
  if (changed && used)
    found.push(
      warn(
        'history-reread',
        `${used} ${used === 1 ? 'dose' : 'doses'} of the ledger will be reckoned with the new label.`,
      ),
    )
  const document: ProductDocument = before
    ? revised(before, body, instantOf(nowMs))
    : { register: 'product', id: intent.newId, revision: 1, savedAt: instantOf(nowMs), body, history: [] }
  return answerOf({
    found,
    documents: [document],
    preview: { lines: [`One ${content.value.per} holds ${Number(content.value.mg.toPrecision(4))} mg of active.`] },
    said: `${name} is in the cupboard.`,
  })
}

/** A vessel as measured. */
export function vesselAct(context: ActContext, intent: VesselIntent): ActAnswer {
  const { record, nowMs } = context
  const before = intent.vesselId === undefined ? undefined : record.vessels.get(intent.vesselId)
  if (intent.vesselId !== undefined && !before) return problemAnswer('That vessel is not on the shelf any more.')
  if (!before && record.vessels.has(intent.newId))
    return problemAnswer('This vessel was stored already, perhaps by a second press.')
  const name = intent.body.name.trim()
  if (name === '') return problemAnswer('The vessel needs a name.')
  if (name.length > 80) return problemAnswer('The name is longer than 80 letters: shorten it.')
  const twin = [...record.vessels.values()].find(
    (other) => other.id !== before?.id && other.body.name.toLowerCase() === name.toLowerCase(),
  )
  if (twin) return problemAnswer(`There is already a vessel called ${name}.`)
  const volume = netVolume(intent.body.volume)
  if (!volume.ok) return problemAnswer(volume.error[0]?.message ?? 'The measures are not complete yet.')
  const startedMs = Date.parse(intent.body.startedAt)
  if (!Number.isFinite(startedMs)) return problemAnswer('Since when does the vessel run? The day cannot be read.')
  if (startedMs > nowMs + 5 * 60_000)
    return problemAnswer('Since when does the vessel run? That day lies in the future.')
  const found: Refusal[] = [...checkSizes(intent.body.volume, volume.value.litres, intent.shopL)]
  const earliest = before && context.active.find((entry) => 'vesselId' in entry && entry.vesselId === before.id)
  if (earliest && instantMs(earliest.at) < startedMs)
    return problemAnswer(
      'Entries of this vessel are older than the day it is said to run since. Choose an earlier day.',
    )
  const moved = before !== undefined && !same(before.body.volume, intent.body.volume)
  const litresBefore = before && netVolume(before.body.volume)
  const confirmedAt = intent.confirmed
    ? moved || before?.body.volumeConfirmedAt === undefined
      ? instantOf(nowMs)
      : before.body.volumeConfirmedAt
    : undefined
  if (moved && litresBefore?.ok && before.body.volumeConfirmedAt !== undefined) {
    const share = volume.value.litres / litresBefore.value.litres
    if (Math.abs(share - 1) > 0.005)
      found.push(
        ask(
          'volume-changed',
          `The net volume goes from ${trim(litresBefore.value.litres)} to ${trim(volume.value.litres)} L: every level and dose of this vessel is reckoned anew. Really so?`,
        ),
      )
  }
  const body = patched(
    (before?.body ?? {}) as VesselBody,
    {
      ...intent.body,
      name,
      nominalL: intent.shopL ?? Math.max(1, Math.round(volume.value.rimFullL)),
      volumeConfirmedAt: confirmedAt,
      sortOrder: before?.body.sortOrder ?? record.vessels.size + 1,
    } as never,
  )
  const document: VesselDocument = before
    ? revised(before, body, instantOf(nowMs))
    : { register: 'vessel', id: intent.newId, revision: 1, savedAt: instantOf(nowMs), body, history: [] }
  return answerOf({
    found,
    documents: [document],
    said: `${name}: ${trim(volume.value.litres)} L net.`,
  })
}
const trim = (value: number): string => String(Number(value.toPrecision(4)))
