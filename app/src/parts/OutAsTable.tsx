// Readings out as a table that any spreadsheet opens.
import { clockMs } from '../data/clock.ts'
import { ANALYTES, dayOf, type Analyte } from '@brinvo/core'
import { useState } from 'react'
import { useRecord } from '../data/queries.tsx'
import { Select } from '../design/fields.tsx'
import { Button, Quiet, Row } from '../design/primitives.tsx'
import { useNotice } from '../shell/Notices.tsx'
import { saveFile } from './saveFile.ts'

/** All readings that stand, or those of one vessel, as CSV; the writer comes with the press. */
export function OutAsTable({ vesselId }: { readonly vesselId?: string }) {
  const { record, active } = useRecord()
  const notice = useNotice()
  const [busy, setBusy] = useState(false)
  const [only, setOnly] = useState<Analyte | 'all'>('all')
  const all = active.flatMap((entry) =>
    entry.kind === 'reading' && (vesselId === undefined || entry.vesselId === vesselId) ? [entry] : [],
  )
  const tests = (Object.keys(ANALYTES) as Analyte[]).filter((analyte) => all.some((one) => one.analyte === analyte))
  const readings = only === 'all' ? all : all.filter(({ analyte }) => analyte === only)
  const name = vesselId === undefined ? 'readings' : (record.vessels.get(vesselId)?.body.name ?? 'readings')
  const write = async () => {
    setBusy(true)
    try {
      const { writeTable } = await import('@brinvo/core/tables')
      const { zone } = record.settings
      const text = writeTable(
        readings.map((reading) => ({
          reading,
          vessel: record.vessels.get(reading.vesselId)?.body.name ?? reading.vesselId,
          instrument:
            reading.instrumentId === undefined
              ? null
              : (record.instruments.get(reading.instrumentId)?.body.name ?? null),
        })),
        zone,
      )
      const file = name.replace(/[^\p{L}\p{N} _-]+/gu, ' ').trim() || 'readings'
      // A mark at its beginning: spreadsheets take it for UTF-8 then, and keep every degree and accent.
      saveFile(
        `${file}${only === 'all' ? '' : `-${only}`}-${dayOf(clockMs(), zone)}.csv`,
        new Blob(['\ufeff', text], { type: 'text/csv;charset=utf-8' }),
      )
      notice({ text: `${readings.length} readings written.`, tone: 'done' })
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    } finally {
      setBusy(false)
    }
  }
  return (
    <Row style={{ alignItems: 'end' }}>
      {tests.length > 1 && (
        <div style={{ width: 170 }}>
          <Select
            label="Which tests"
            value={only}
            onChange={(next) => setOnly(next as Analyte | 'all')}
            options={[
              { value: 'all', label: 'all of them' },
              ...tests.map((value) => ({ value, label: ANALYTES[value].word })),
            ]}
          />
        </div>
      )}
      <Button isDisabled={busy || readings.length === 0} onPress={() => void write()}>
        Readings as a table
      </Button>
      {readings.length === 0 && <Quiet>None yet.</Quiet>}
    </Row>
  )
}
