// The stand-in laboratory of the demonstration: its water is what the record's own tests make likely.
import { dayOf, instantMs, waterLines, type ActiveLedger, type KeeperRecord, type SampleDocument } from '@brinvo/core'
import { answerOfLaboratory, chanceFrom } from '@brinvo/core/world'

/** Element of each test, and mg/L of it in one unit of the test. */
const OF: Readonly<Record<string, readonly [symbol: string, factor: number]>> = {
  calcium: ['Ca', 1],
  magnesium: ['Mg', 1],
  potassium: ['K', 1],
  silicate: ['Si', 1 / 2.139],
  phosphate: ['P', 1 / 3.066],
}

export function standInReport(
  record: KeeperRecord,
  active: ActiveLedger,
  sample: SampleDocument,
): { readonly name: string; readonly text: string } {
  const { body } = sample
  const drawnMs = instantMs(body.sampledAt!)
  const lines = waterLines(record, active, body.vesselId, drawnMs)
  const truth: Record<string, number> = { Zn: 0.026 }
  for (const { analyte, nowValue } of lines) {
    const of = OF[analyte]
    if (of) truth[of[0]] = nowValue * of[1]
  }
  const seed = [...sample.id].reduce((sum, letter) => (sum * 31 + letter.charCodeAt(0)) >>> 0, 7)
  const sampledOn = dayOf(drawnMs, record.settings.zone)
  return {
    name: `report-${sampledOn}.csv`,
    text: answerOfLaboratory(
      {
        truth,
        salinityPpt: body.salinityPpt ?? lines.find(({ analyte }) => analyte === 'salinity')?.nowValue ?? 35,
        sampledOn,
        ...(body.bottle === undefined ? {} : { bottle: body.bottle }),
      },
      chanceFrom(seed),
    ),
  }
}
