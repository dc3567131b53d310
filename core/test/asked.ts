// Asks the house as the screens do and returns all that it says, so that a test reads like a list of rules.
import {
  actContext,
  activeContent,
  agentForm,
  answer,
  bathLimit,
  partiesIn,
  spoken,
  vesselVolume,
  type ActAnswer,
  type Entry,
  type Intent,
  type KeeperRecord,
  type KnownLevel,
  type Refusal,
} from '../src/index.ts'

/** Everything said to an intent; what cannot be answered stands as a refusal of its own. */
export const said = (made: ActAnswer): readonly Refusal[] =>
  made.problem === null ? spoken(made) : [{ rule: 'problem', level: 'forbid', message: made.problem }]
export const ask = (record: KeeperRecord, intent: Intent, nowMs: number, known: readonly KnownLevel[] = []) =>
  said(answer(actContext(record, nowMs, known), intent))

export interface Dosing {
  readonly record: KeeperRecord
  readonly vesselId: string
  readonly productId: string
  readonly amount: number
  readonly atMs?: number
  readonly nowMs: number
  /** A level an estimate vouches for; left out or null: what the ledger says. */
  readonly levelMgPerL?: number | null
  /** Use of the bottle, where it has several. */
  readonly form?: string
}
/** What is said to a dose of so many units of the bottle. */
export function checkDose({ record, vesselId, productId, amount, atMs, nowMs, levelMgPerL, form }: Dosing) {
  const product = record.products.get(productId)
  const vessel = record.vessels.get(vesselId)
  const content = product ? activeContent(product.body.strength) : null
  const unit = content?.ok ? content.value.per : 'mL'
  const volume = vessel ? vesselVolume(vessel) : null
  const known: KnownLevel[] =
    levelMgPerL === null || levelMgPerL === undefined || !product || !volume
      ? []
      : [
          {
            vesselId,
            agent: agentForm(product.body.form)!.agent,
            atMs: nowMs,
            mgPerL: levelMgPerL,
            highMgPerL: levelMgPerL,
            volume,
          },
        ]
  return ask(
    record,
    {
      kind: 'dose',
      vesselId,
      productId,
      ...(form === undefined ? {} : { form }),
      amounts: [`${amount}${unit === 'mL' || unit === 'g' ? ` ${unit}` : ''}`],
      ...(atMs === undefined || atMs === nowMs ? {} : { atMs }),
    },
    nowMs,
    known,
  )
}

/** Forms of which more than nothing may be left in a vessel's water. */
export const formsInWater = (record: KeeperRecord, vesselId: string, atMs: number) =>
  partiesIn(actContext(record, atMs), vesselId, atMs).flatMap((party) => (party.kind === 'form' ? [party.form] : []))

/** A temperature of the day, so that what depends on warmth may be asked. */
export const warmAt = (
  vesselId: string,
  ms: number,
  value: number,
  put: (ms: number, fields: object) => Entry,
): Entry => put(ms, { kind: 'reading', vesselId, analyte: 'temperature', value, unit: '°C', bound: 'exact' })
export { bathLimit }
