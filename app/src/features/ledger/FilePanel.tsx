// The record in and out of a file: a dry run first, then all of it or nothing.
import { dayOf, instantOf, recordOf, toFile, MAX_FILE_BYTES } from '@brinvo/core'
import type { FileReport } from '@brinvo/core/file'
import { useRef, useState } from 'react'
import { bundle, unbundle } from '../../data/bundle.ts'
import { photosOf } from '../../data/photos.ts'
import { useActions, useDatabase, useRecord } from '../../data/queries.tsx'
import { Dialog } from '../../design/Dialog.tsx'
import { Button, Quiet, Row, Stack, Tray } from '../../design/primitives.tsx'
import { saveFile } from '../../parts/saveFile.ts'
import { useNotice } from '../../shell/Notices.tsx'

export function FilePanel() {
  const { record } = useRecord()
  const { mode } = useDatabase()
  const { replaceAll } = useActions()
  const notice = useNotice()
  const input = useRef<HTMLInputElement>(null)
  const [report, setReport] = useState<{
    name: string
    report: FileReport
    photos: ReadonlyMap<string, Blob>
  } | null>(null)

  const download = async () => {
    const nowMs = Date.now()
    const text = JSON.stringify(toFile(record, instantOf(nowMs)), null, 1)
    const name = `brinvo-${dayOf(nowMs, record.settings.zone)}`
    try {
      const photos = await photosOf(mode).ids()
      if (photos.length === 0) saveFile(`${name}.json`, new Blob([text], { type: 'application/json' }))
      else saveFile(`${name}.zip`, await bundle(text, photosOf(mode)))
      notice({
        text: `Exported ${record.entries.length} entries, ${record.vessels.size} vessels${photos.length > 0 ? ` and ${photos.length} pictures` : ''}.`,
        tone: 'done',
      })
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
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
    try {
      const opened = await unbundle(file)
      setReport({ name: file.name, report: readFile(opened.text), photos: opened.photos })
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  const take = async () => {
    const file = report?.report.file
    if (!file) return
    try {
      // Pictures first: an interrupted import then leaves pictures too many, never entries without theirs.
      const store = photosOf(mode)
      const before = await store.ids()
      for (const [id, picture] of report.photos) await store.put(id, picture)
      await replaceAll(recordOf(file.settings, file.registers, file.entries))
      const wanted = new Set(file.entries.flatMap((entry) => (entry.kind === 'photo' ? [entry.photoId] : [])))
      for (const id of before) if (!wanted.has(id)) await store.remove(id)
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
          <Button look="main" onPress={() => void download()}>
            Export everything
          </Button>
          <Button onPress={() => input.current?.click()}>Import a file</Button>
        </Row>
        <input
          ref={input}
          type="file"
          accept=".json,.zip,application/json,application/zip"
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
                {report.report.counts.courses} courses, {report.report.counts.arrivals} arrivals and{' '}
                {report.report.counts.entries} entries
                {report.photos.size > 0
                  ? `, with ${report.photos.size} ${report.photos.size === 1 ? 'picture' : 'pictures'}`
                  : ''}
                . Every line is sound.
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
