// How high a form may go: by warmth, and with animals that need caution. Apart from the checks: every plan asks it.
import { sensitivity, type AgentForm } from '../knowledge/agents.ts'
import { residentsIn } from '../record/account.ts'
import type { Entry, KeeperRecord } from '../record/types.ts'
import { instantMs } from '../time/time.ts'

/** The last temperature read in a vessel in the week before an instant, °C; null where none was. */
export function lastTemperature(active: readonly Entry[], vesselId: string, atMs: number): number | null {
  const reading = active.findLast(
    (entry) =>
      entry.kind === 'reading' &&
      entry.analyte === 'temperature' &&
      entry.vesselId === vesselId &&
      instantMs(entry.at) <= atMs &&
      atMs - instantMs(entry.at) < 7 * 86_400_000,
  )
  return reading?.kind === 'reading' ? reading.value : null
}

/** Whether an animal lives in a vessel that stands a form badly or of which nothing is known. */
export function hasCautious(
  record: KeeperRecord,
  active: readonly Entry[],
  vesselId: string,
  form: AgentForm,
  atMs: number,
): boolean {
  const water = record.vessels.get(vesselId)?.body.water ?? 'marine'
  return residentsIn(record, active, vesselId, atMs).some(({ body }) =>
    ['C', '?'].includes(sensitivity(form, body.group, water)),
  )
}

/**
 * Hard maximum of a form in water of a temperature, with an animal that needs caution in it or not.
 * 0 means: none at all at this warmth. @source handbook 31 T2 temperature rules, T6 dose caps
 */
export function ceilingOf(form: AgentForm, temperatureC: number | null, cautious: boolean): number {
  const byHeat =
    temperatureC === null || form.ceilings === undefined
      ? form.hardMax
      : (form.ceilings.findLast(({ fromC }) => temperatureC >= fromC)?.max ?? form.hardMax)
  return Math.min(form.hardMax, byHeat, cautious ? (form.cautionMax ?? Infinity) : Infinity)
}
