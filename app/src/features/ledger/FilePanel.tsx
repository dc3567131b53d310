// The record in and out of a file: a dry run first, then all of it or nothing.
import { dayOf, instantOf, recordOf, toFile, MAX_FILE_BYTES } from '@brinvo/core'
import type { FileReport } from '@brinvo/core/file'
import { useRef, useState } from 'react'
import { useActions, useRecord } from '../../data/queries.tsx'
import { Dialog } from '../../design/Dialog.tsx'
import { Button, Quiet, Row, Stack, Tray } from '../../design/primitives.tsx'
import { useNotice } from '../../shell/Notices.tsx'

export function FilePanel() {
  const { record } = useRecord()
  const { replaceAll } = useActions()
  const notice = useNotice()
  const input = useRef<HTMLInputElement>(null)
  const [report, setReport] = useState<{ name: string; report: FileReport } | null>(null)

  const download = () => {
    const nowMs = Date.now()
    const text = JSON.stringify(toFile(record, instantOf(nowMs)), null, 1)
    const url = URL.createObjectURL(new Blob([text], { type: 'application/json' }))
    const link = document.createElement('a')
    link.href = url
    link.download = `brinvo-${dayOf(nowMs, record.settings.zone)}.json`
    link.click()
    setTimeout(() => URL.revokeObjectURL(url), 10_000)
    notice({ text: `Exported ${record.entries.length} entries and ${record.vessels.size} vessels.`, tone: 'done' })
  }
  const look = async (file: File) => {
    if (file.size > MAX_FILE_BYTES) {
      return notice({
        text: `${file.name} is ${Math.round(file.size / 1048576)} MB; the largest we read is ${MAX_FILE_BYTES / 1048576} MB. Nothing was changed.`,
        tone: 'failed',
      })
    }
    // The validators are heavy and rarely needed: they load with the first file.
    const { readFile } = await import('@brinvo/core/file')
    setReport({ name: file.name, report: readFile(await file.text()) })
  }
  const take = async () => {
    const file = report?.report.file
    if (!file) return
    try {
      await replaceAll(recordOf(file.settings, file.registers, file.entries))
      setReport(null)
      notice({ text: `Imported ${file.entries.length} entries. The record is now the file's.`, tone: 'done' })
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  return (
    <Tray>
      <Stack $gap={8}>
        <h3>The record as a file</h3>
        <Quiet>Everything lives in this browser alone. A file is your backup and your way to another machine.</Quiet>
        <Row>
          <Button look="main" onPress={download}>
            Export everything
          </Button>
          <Button onPress={() => input.current?.click()}>Import a file</Button>
        </Row>
        <input
          ref={input}
          type="file"
          accept=".json,application/json"
          hidden
          aria-label="Record file to import"
          onChange={(event) => {
            const file = event.target.files?.[0]
            event.target.value = ''
            if (file) void look(file)
          }}
        />
      </Stack>
      {report && (
        <Dialog
          title={report.report.ok ? 'Take this file?' : 'This file was not taken'}
          isOpen
          onClose={() => setReport(null)}
          wide
        >
          {report.report.ok ? (
            <>
              <p>
                <strong>{report.name}</strong> holds {report.report.counts.vessels} vessels,{' '}
                {report.report.counts.residents} residents, {report.report.counts.products} bottles,{' '}
                {report.report.counts.courses} courses and {report.report.counts.entries} entries. Every line is sound.
              </p>
              <p>
                It <strong>replaces</strong> the record that is open now ({record.vessels.size} vessels,{' '}
                {record.entries.length} entries).
              </p>
              <Row>
                <Button look="main" onPress={() => void take()}>
                  Replace the record
                </Button>
                <Button look="bare" onPress={() => setReport(null)}>
                  Leave it
                </Button>
              </Row>
            </>
          ) : (
            <>
              <p>Nothing was changed. {report.report.problems.length > 1 ? 'These lines are not sound:' : ''}</p>
              <ul style={{ display: 'grid', gap: 4, maxHeight: 320, overflow: 'auto' }}>
                {report.report.problems.map((problem) => (
                  <li key={problem.where + problem.message}>
                    <strong>{problem.where}</strong>: {problem.message}
                  </li>
                ))}
              </ul>
            </>
          )}
        </Dialog>
      )}
    </Tray>
  )
}
