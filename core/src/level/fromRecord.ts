// The ledger read as a level model: which entries of a vessel move one agent, and with what doubt.
import { valueOf } from '../record/instrumentState.ts'
import { limitOf } from '../knowledge/limits.ts'
import { activeContent } from '../dosing/strength.ts'
import { agentForm, type AgentForm } from '../knowledge/agents.ts'
import { formGiven } from '../knowledge/uses.ts'
import type { ActiveLedger, Entry, KeeperRecord, ReadingEntry, VesselDocument } from '../record/types.ts'
import { entryMs, instantMs } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import { netVolume, type NetVolume } from '../water/netVolume.ts'
import {
  CHANGE_SD_SHARE,
  CHECKED_BIAS_SD,
  DOSE_SD_SHARE,
  INSTRUMENT_BIAS_SD,
  lossPrior,
  volumePrior,
  UNLOGGED_SD_PER_DAY,
  VOLUME_SLIP_SD,
  type LevelModel,
  type LevelReading,
  type MediaInterval,
  type UncertainEvent,
} from './model.ts'
import { rateOfHalfLife } from './curve.ts'

export interface VesselLevel {
  readonly form: AgentForm
  /** Instant of hour 0 of the model. */
  readonly originMs: number
  readonly model: LevelModel
  /** Instrument ids by the model's index. */
  readonly instrumentIds: readonly string[]
}

/** Hours between entries of one instant: enough to keep them apart, too little to matter. */
const SAME_INSTANT_H = 1e-7

/** Net volume of a vessel from its latest revision, or null while its inputs make no sense. */
export function vesselVolume(vessel: VesselDocument): NetVolume | null {
  const result = netVolume(vessel.body.volume)
  return result.ok ? result.value : null
}

/** Share of the net volume a change took. */
export function changedShare(entry: Extract<Entry, { kind: 'change' }>, volumeL: number): number {
  if (entry.fraction !== undefined) return Math.min(1, entry.fraction)
  return Math.min(1, (entry.removedL ?? 0) / volumeL)
}

/** Milligrams of active in a poured amount, by the product's latest revision; null when the label cannot be read. */
export function pouredMass(record: KeeperRecord, entry: Extract<Entry, { kind: 'dose' }>): number | null {
  const product = record.products.get(entry.productId)
  if (!product) return null
  const content = activeContent(product.body.strength)
  return content.ok && content.value.per === entry.unit ? content.value.mg * entry.amount : null
}

/** How long a check against a standard stands, days. @source design/definitions "Level" */
export const CHECK_DAYS = limitOf('kit-check-stands')
/** Whether a check against a standard still stands at an instant. */
export const checkStands = (checkedAt: string | undefined, atMs: number): boolean =>
  checkedAt !== undefined && atMs - instantMs(checkedAt) <= CHECK_DAYS * 24 * MS_PER_HOUR

/** Error of one instrument in canonical units; the form's typical kit where nothing is registered. */
export function kitOf(record: KeeperRecord, form: AgentForm, instrumentId: string | undefined, atMs?: number) {
  const instrument = instrumentId === undefined ? undefined : record.instruments.get(instrumentId)
  return {
    step: instrument?.body.step ?? form.typicalKit.step,
    relativeError: instrument?.body.relativeError ?? form.typicalKit.relativeError,
    biasSd: checkStands(
      instrument?.body.checkedAt,
      atMs ?? (instrument?.body.checkedAt === undefined ? 0 : instantMs(instrument.body.checkedAt)),
    )
      ? CHECKED_BIAS_SD
      : INSTRUMENT_BIAS_SD,
  }
}

/** Forms of one agent dosed into a vessel, by their doses. */
export function dosedForms(record: KeeperRecord, entries: readonly Entry[], vesselId: string): Set<string> {
  const forms = new Set<string>()
  for (const entry of entries) {
    if (entry.kind !== 'dose' || entry.vesselId !== vesselId) continue
    const form = formGiven(entry, record.products.get(entry.productId))
    if (form) forms.add(form.id)
  }
  return forms
}

/**
 * Model of one agent form in one vessel from `fromMs` on. Doses are read through the product's latest revision and
 * volumes through the vessel's, so a corrected label re-reads history. Readings count where they measure the agent;
 * a zero means below one step.
 */
export function levelModelOf(
  record: KeeperRecord,
  active: ActiveLedger,
  vessel: VesselDocument,
  formId: string,
  fromMs: number,
): VesselLevel | null {
  const form = agentForm(formId)
  const volume = vesselVolume(vessel)
  if (!form || !volume) return null
  // Entries of one minute keep the ledger's order: a reading before a dose was taken before it.
  let lastMs = NaN
  let sameInstant = 0
  const hour = (entry: Entry) => {
    const ms = entryMs(entry)
    sameInstant = ms === lastMs ? sameInstant + 1 : 0
    lastMs = ms
    return (ms - fromMs) / MS_PER_HOUR + sameInstant * SAME_INSTANT_H
  }
  const events: UncertainEvent[] = []
  const raw: { entry: ReadingEntry; tH: number }[] = []
  const media: MediaInterval[] = []
  const openMedia = new Map<string, number>()
  for (const entry of active) {
    if (!('vesselId' in entry) || entry.vesselId !== vessel.id) continue
    const tH = hour(entry)
    if (entry.kind === 'equipment') {
      if (entry.on) openMedia.set(entry.item, Math.max(0, tH))
      else closeMedia(entry.item, tH)
    }
    if (tH < 0) continue
    if (entry.kind === 'dose') {
      const massMg = pouredMass(record, entry)
      if (massMg === null || formGiven(entry, record.products.get(entry.productId))?.agent !== form.agent) continue
      const half = entry.measureStep === undefined ? 0 : entry.measureStep / 2 / entry.amount
      events.push({ kind: 'dose', tH, massMg, sdShare: Math.max(DOSE_SD_SHARE, half), id: entry.id })
    } else if (entry.kind === 'change') {
      const dosed = (entry.replacement ?? [])
        .filter((made) => formGiven(made, record.products.get(made.productId))?.agent === form.agent)
        .reduce((sum, { mgPerL }) => sum + mgPerL, 0)
      events.push({
        kind: 'change',
        tH,
        fraction: changedShare(entry, volume.litres),
        sdShare: CHANGE_SD_SHARE,
        replacementMgPerL: dosed,
        id: entry.id,
      })
    } else if (entry.kind === 'topoff') events.push({ kind: 'topoff', tH, mgPerL: 0, id: entry.id })
    else if (entry.kind === 'reading' && entry.analyte === form.agent) raw.push({ entry, tH })
  }
  for (const item of [...openMedia.keys()]) closeMedia(item, 1e6)
  function closeMedia(item: string, tH: number) {
    const from = openMedia.get(item)
    openMedia.delete(item)
    const rate = form!.media.find((candidate) => candidate.item === item)
    if (from === undefined || !rate || tH <= 0) return
    media.push({ fromH: from, toH: tH, perHour: rate.perHour, sdShare: rate.sdShare })
  }

  const instrumentIds: string[] = []
  const lastReadMs = new Map<string, number>()
  const readings = raw.map(({ entry, tH }): LevelReading => {
    const key = entry.instrumentId ?? 'unregistered'
    if (!instrumentIds.includes(key)) instrumentIds.push(key)
    lastReadMs.set(key, entryMs(entry))
    const kit = kitOf(record, form, entry.instrumentId)
    const zero = entry.bound === 'exact' && entry.value === 0
    return {
      tH,
      // What a standard showed the kit to be off by is taken away; a bound stays as it was read.
      mgPerL: zero ? kit.step : valueOf(active, entry),
      bound: zero ? 'below' : entry.bound,
      instrument: instrumentIds.indexOf(key),
      halfStepMgPerL: kit.step / 2,
      relativeError: kit.relativeError,
      id: entry.id,
    }
  })
  const body = vessel.body
  const binding = body.bindingMedia === 'none' ? undefined : form.binding[body.bindingMedia]
  return {
    form,
    originMs: fromMs,
    instrumentIds,
    model: {
      volume: volumePrior(volume.litres, Math.hypot(Math.max(0.03, volume.sdLitres / volume.litres), VOLUME_SLIP_SD)),
      loss: lossPrior(
        rateOfHalfLife(form.halfLifeDays.high * 24),
        rateOfHalfLife(form.halfLifeDays.low * 24),
        body.bindingMedia !== 'none',
      ),
      ...(binding ? { binding } : {}),
      initial: { mgPerL: 0, sdMgPerL: 0 },
      unloggedSdPerDay: UNLOGGED_SD_PER_DAY,
      evaporationLPerH: (body.evaporationLPerDay ?? 0) / 24,
      media,
      events,
      readings,
      instrumentBiasSd: (instrumentIds.length > 0 ? instrumentIds : ['none']).map(
        (id) => kitOf(record, form, id, lastReadMs.get(id)).biasSd,
      ),
    },
  }
}
