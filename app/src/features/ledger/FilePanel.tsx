// The record in and out of a file: written and read back, opened as a rehearsal, then taken, and taken back with a press.
import { clockMs } from '../../data/clock.ts'
import {
  dayOf,
  entriesOfSitter,
  instantMs,
  isSitterFile,
  joinRecords,
  picturesToThin,
  readSitterFile,
  recordOf,
  type PhotoEntry,
  type SitterCame,
  MAX_FILE_BYTES,
  SCHEMA_VERSION,
} from '@brinvo/core'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useMemo, useRef, useState } from 'react'
import { useNavigate } from 'react-router'
import { copyOf, noteCopy } from '../../data/backups.ts'
import { unbundle } from '../../data/bundle.ts'
import { beginLook } from '../../data/look.ts'
import { photosOf } from '../../data/photos.ts'
import { useActions, useDatabase, useRecord } from '../../data/queries.tsx'
import { StorageError } from '../../data/repository.ts'
import { Dialog } from '../../design/Dialog.tsx'
import { Check, Choice } from '../../design/fields.tsx'
import { Button, Quiet, Row, Stack, Tray } from '../../design/primitives.tsx'
import { cameWords, plural, whenText, sentenceCase } from '../../design/words.ts'
import { entryWords } from '../../parts/entryWords.ts'
import { OutAsTable } from '../../parts/OutAsTable.tsx'
import { saveFile } from '../../parts/saveFile.ts'
import { useNotice } from '../../shell/Notices.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { bytesText } from '../../parts/bytesText.ts'
import { WhatJoins } from './WhatJoins.tsx'
import { useTakeIn } from './useTakeIn.ts'
import { files } from '../../workers/client.ts'
import type { Opened } from '../../workers/openFile.ts'

/** A file that cannot be opened within this is not taken: it would hold up the page as well, ms. */
const PATIENCE_MS = 30_000

/** So many lines of a broken file are shown; a list of fifty thousand stands in its own way. */
const MOST_TOLD = 100

interface Looked {
  readonly name: string
  readonly text: string
  readonly opened: Opened
  readonly photos: ReadonlyMap<string, Blob>
}

/** Opens a text in the file worker; too long is a sentence, not a frozen page. */
async function open(text: string, leaveOut: boolean): Promise<Opened> {
  try {
    return await files.run('open', { text, leaveOut, nowMs: clockMs() }, AbortSignal.timeout(PATIENCE_MS))
  } catch (cause) {
    if ((cause as Error).name !== 'AbortError') throw cause
    throw new Error(
      `Opening this file takes longer than ${PATIENCE_MS / 1000} seconds: something in it may never come to an end. It was not taken; nothing was changed.`,
      { cause },
    )
  }
}

/** How much the pictures weigh, and a press that thins out long series. */
function PicturesKept() {
  const { active } = useRecord()
  const { mode } = useDatabase()
  const notice = useNotice()
  const client = useQueryClient()
  const [asking, setAsking] = useState(false)
  const { data: ids } = useQuery({
    queryKey: ['photo-ids', mode],
    queryFn: () => photosOf(mode).ids(),
    networkMode: 'always',
  })
  const here = new Set(ids ?? [])
  const photos = active.filter((entry): entry is PhotoEntry => entry.kind === 'photo' && here.has(entry.photoId))
  if (photos.length === 0) return null
  const bytes = (list: readonly PhotoEntry[]) => list.reduce((sum, entry) => sum + entry.bytes, 0)
  const going = picturesToThin(photos, clockMs())
  const thin = async () => {
    try {
      for (const { photoId } of going) {
        await photosOf(mode).remove(photoId)
        client.setQueryData(['photo', mode, photoId], null)
      }
      await client.invalidateQueries({ queryKey: ['photo-ids', mode] })
      notice({ text: `${plural(going.length, 'picture')} thrown away; their lines on the ledger stay.`, tone: 'done' })
      setAsking(false)
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  return (
    <>
      <Row>
        <Quiet>
          {plural(photos.length, 'picture')}, {bytesText(bytes(photos))}.
        </Quiet>
        {going.length > 0 && (
          <Button onPress={() => setAsking(true)}>
            Thin them out: {going.length} may go, {bytesText(bytes(going))}
          </Button>
        )}
      </Row>
      {asking && (
        <Dialog title="Thin the pictures out?" isOpen onClose={() => setAsking(false)}>
          <p>
            Of each series the first, the newest, one a week and all of the last four weeks stay.{' '}
            {plural(going.length, 'picture')} would be gone for good; their lines on the ledger stay. Export first if
            you may want them.
          </p>
          <Row>
            <Button look="danger" onPress={() => void thin()}>
              Throw {going.length} away
            </Button>
          </Row>
        </Dialog>
      )}
    </>
  )
}

export function FilePanel() {
  const { record } = useRecord()
  const { mode, repository } = useDatabase()
  const client = useQueryClient()
  const notice = useNotice()
  const input = useRef<HTMLInputElement>(null)
  const [looked, setLooked] = useState<Looked | null>(null)
  const [busy, setBusy] = useState<string | null>(null)
  const [sitter, setSitter] = useState<SitterCame | null>(null)

  const busily = async (words: string, job: () => Promise<void>) => {
    setBusy(words)
    try {
      await job()
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    } finally {
      setBusy(null)
    }
  }
  const download = () =>
    busily('Writing, and reading it back…', async () => {
      const nowMs = clockMs()
      const { blob, ending, text } = await copyOf(record, photosOf(mode), nowMs)
      // What cannot be read back is no backup: that is found now, not on the worst day.
      const { report } = await open(text, false)
      const photos = await photosOf(mode).ids()
      saveFile(`brinvo-${dayOf(nowMs, record.settings.zone)}.${ending}`, blob)
      if (mode === 'keeper') await noteCopy(repository, record.entries.length, nowMs)
      await client.invalidateQueries({ queryKey: ['backups'] })
      const counts = `${record.entries.length} entries, ${record.vessels.size} vessels${photos.length > 0 ? ` and ${photos.length} pictures` : ''}`
      notice(
        report.ok
          ? { text: `Exported ${counts}, and read back: every line is sound.`, tone: 'done' }
          : {
              text: `The file is written, but ${plural(report.problems.length, 'line')} of it cannot be read back: ${report.problems[0]!.where}, ${report.problems[0]!.message} An import can leave them out. Keep the file, and correct these entries.`,
              tone: 'failed',
            },
      )
    })
  const look = (file: File) =>
    busily('Opening the file…', async () => {
      if (file.size > MAX_FILE_BYTES)
        throw new Error(
          `${file.name} is ${Math.round(file.size / 1048576)} MB; the largest we read is ${MAX_FILE_BYTES / 1048576} MB. Nothing was changed.`,
        )
      const { text, photos } = await unbundle(file)
      if (isSitterFile(text)) {
        setSitter(entriesOfSitter(readSitterFile(text), record, clockMs()))
        return
      }
      setLooked({ name: file.name, text, photos, opened: await open(text, false) })
    })
  const leaveOut = () =>
    busily('Leaving those lines out…', async () => {
      if (looked) setLooked({ ...looked, opened: await open(looked.text, true) })
    })
  return (
    <Tray>
      <Stack $gap={8}>
        <h3>The record as a file</h3>
        <Quiet>Everything lives in this browser alone. A file is your backup and your way to another machine.</Quiet>
        <Row>
          <Button look="main" isDisabled={busy !== null} onPress={() => void download()}>
            Export everything
          </Button>
          <Button isDisabled={busy !== null} onPress={() => input.current?.click()}>
            Import a file
          </Button>
        </Row>
        {busy !== null && <Quiet role="status">{busy}</Quiet>}
        <OutAsTable />
        <PicturesKept />
        <Kept />
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
      {sitter && (
        <Dialog title="What the sitter sent back" isOpen onClose={() => setSitter(null)}>
          <FromSitter came={sitter} onDone={() => setSitter(null)} />
        </Dialog>
      )}
      {looked && (
        <Dialog
          title={looked.opened.report.ok ? 'Take this file?' : 'This file was not taken'}
          isOpen
          onClose={() => setLooked(null)}
          wide
        >
          {looked.opened.report.ok ? (
            <Take looked={looked} onDone={() => setLooked(null)} />
          ) : (
            <Problems looked={looked} busy={busy !== null} onLeaveOut={() => void leaveOut()} />
          )}
        </Dialog>
      )}
    </Tray>
  )
}

function Problems({ looked, busy, onLeaveOut }: { looked: Looked; busy: boolean; onLeaveOut: () => void }) {
  const { report } = looked.opened
  const single = report.problems.every(({ line }) => line !== undefined)
  return (
    <>
      <p>
        Nothing was changed.{' '}
        {report.problems.length > 1 ? 'These lines are not sound:' : single ? 'This line is not sound:' : ''}
      </p>
      <ul style={{ display: 'grid', gap: 4, maxHeight: 320, overflow: 'auto' }}>
        {report.problems.slice(0, MOST_TOLD).map((problem) => (
          <li key={problem.where + problem.message}>
            <strong>{problem.where}</strong>: {problem.message}
          </li>
        ))}
        {report.problems.length > MOST_TOLD && <li>and {report.problems.length - MOST_TOLD} more</li>}
      </ul>
      {single && (
        <Row>
          <Button look="main" isDisabled={busy} onPress={onLeaveOut}>
            Open it without {report.problems.length === 1 ? 'this line' : 'these lines'}
          </Button>
          <Quiet>The file itself stays as it is.</Quiet>
        </Row>
      )}
    </>
  )
}

function Take({ looked, onDone }: { looked: Looked; onDone: () => void }) {
  const { record } = useRecord()
  const { mode, open: show } = useDatabase()
  const navigate = useNavigate()
  const { replaceAll } = useActions()
  const takeIn = useTakeIn()
  const { nowMs } = useThePlans()
  const client = useQueryClient()
  const notice = useNotice()
  const here = record.entries.length + record.vessels.size > 0
  const { file: found } = looked.opened.report
  const theirs = useMemo(() => (found ? recordOf(found.settings, found.registers, found.entries) : null), [found])
  const rehearsed = useMemo(
    () => (theirs && here ? joinRecords(record, theirs, nowMs) : null),
    [theirs, here, record, nowMs],
  )
  const [way, setWay] = useState<'join' | 'replace' | ''>(!here ? 'replace' : rehearsed?.strange === true ? '' : 'join')
  const [sure, setSure] = useState(false)
  const [full, setFull] = useState(false)
  const { report, faults } = looked.opened
  const { counts } = report
  const doubtful = report.changed || report.altered.length > 0 || faults.length > 0 || report.leftOut.length > 0
  const take = async (inPlace: boolean) => {
    const file = report.file
    if (!file) return
    try {
      // Pictures first: an interrupted import then leaves pictures too many, never entries without theirs.
      const store = photosOf(mode)
      for (const [id, picture] of looked.photos) await store.put(id, picture)
      await replaceAll(recordOf(file.settings, file.registers, file.entries), { inPlace })
      await client.invalidateQueries({ queryKey: ['kept', mode] })
      onDone()
      notice({
        text: `Imported ${file.entries.length} entries. The record is now the file's${inPlace ? '' : '; the one before is kept beside the ledger until the next import'}.`,
        tone: 'done',
      })
    } catch (cause) {
      if (cause instanceof StorageError && cause.kind === 'full') setFull(true)
      else notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  const lookInto = async () => {
    if (!theirs) return
    try {
      await beginLook(theirs, looked.photos)
      onDone()
      show('look')
      await client.resetQueries({ queryKey: ['record', 'look'] })
      await navigate('/')
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  const joinIt = async () => {
    if (theirs && (await takeIn(theirs, looked.photos))) onDone()
  }
  const title = (id: string) =>
    report.file?.registers.flatMap((document) =>
      document.register === 'course' && document.id === id
        ? [(document.body.protocol as { title?: string }).title ?? id]
        : [],
    )[0] ?? id
  return (
    <>
      <p>
        <strong>{looked.name}</strong> holds {counts.vessels} vessels, {counts.residents} residents, {counts.products}{' '}
        bottles, {counts.courses} courses, {counts.arrivals} arrivals and {counts.entries} entries
        {looked.photos.size > 0 ? `, with ${plural(looked.photos.size, 'picture')}` : ''}.{' '}
        {doubtful ? '' : 'Every line is sound.'}
      </p>
      {doubtful && (
        <Tray $tone="caution">
          <ul style={{ display: 'grid', gap: 6 }}>
            {report.changed && (
              <li>
                The file was changed or damaged after it was written: its checksum does not fit. A digit may differ.
              </li>
            )}
            {report.altered.map((id) => (
              <li key={id}>
                “{title(id)}”: its copy of the protocol is not the one it was started with. Its doses and days may be
                others.
              </li>
            ))}
            {faults.map((words) => (
              <li key={words}>{words} It is shown on that course alone; the rest opens.</li>
            ))}
            {report.leftOut.length > 0 && (
              <li>
                Left out:{' '}
                {report.leftOut
                  .slice(0, 6)
                  .map(({ where }) => where)
                  .join(', ')}
                {report.leftOut.length > 6 ? ` and ${report.leftOut.length - 6} more` : ''}.
              </li>
            )}
          </ul>
          <Check isSelected={sure} onChange={setSure}>
            I have read this and want the file all the same.
          </Check>
        </Tray>
      )}
      {here && (
        <Choice<'join' | 'replace' | ''>
          label="What becomes of it"
          value={way}
          onChange={setWay}
          options={[
            { value: 'join', label: 'it joins the record here' },
            { value: 'replace', label: 'it replaces the record here' },
          ]}
        />
      )}
      {rehearsed?.strange === true && (
        <p>
          <strong>Nothing in this file is known here:</strong> it may be another keeper’s. Joined, both houses would
          stand on one shelf.
        </p>
      )}
      {way === 'join' && rehearsed && <WhatJoins joined={rehearsed} />}
      {way === 'replace' && here && (
        <p>
          It <strong>replaces</strong> the record that is open now ({record.vessels.size} vessels,{' '}
          {record.entries.length} entries). That one is kept until the next import.
        </p>
      )}
      {full ? (
        <Tray $tone="danger">
          <p>
            There is no room for both records. The one here can be emptied first: then it is gone, unless you export it
            before. The file goes into its place.
          </p>
          <Row>
            <Button look="danger" onPress={() => void take(true)}>
              Empty the record here, then take the file
            </Button>
          </Row>
        </Tray>
      ) : (
        <Row>
          {way === 'join' ? (
            <Button look="main" isDisabled={doubtful && !sure} onPress={() => void joinIt()}>
              Join the records
            </Button>
          ) : (
            <Button look="main" isDisabled={way === '' || (doubtful && !sure)} onPress={() => void take(false)}>
              {here ? 'Replace the record' : 'Take it'}
            </Button>
          )}
          {theirs && <Button onPress={() => void lookInto()}>Look into it first</Button>}
          <Button look="bare" onPress={onDone}>
            Leave it
          </Button>
        </Row>
      )}
    </>
  )
}

/** A sitter's file: what is new of it joins the record, marked as come in. */
function FromSitter({ came, onDone }: { readonly came: SitterCame; readonly onDone: () => void }) {
  const { record } = useRecord()
  const { mode } = useDatabase()
  const { join } = useActions()
  const notice = useNotice()
  const client = useQueryClient()
  const known = new Set(record.entries.map(({ id }) => id))
  const fresh = came.entries.filter(({ id }) => !known.has(id))
  const take = async () => {
    try {
      const { faultOfEntry } = await import('@brinvo/core/file')
      const sound = fresh.filter((entry) => faultOfEntry(entry) === null)
      for (const [id, data] of came.pictures) await photosOf(mode).put(id, jpegOf(data))
      const joined = await join(recordOf(record.settings, [], sound))
      await client.invalidateQueries({ queryKey: ['kept', mode] })
      onDone()
      notice({
        text: `${cameWords(joined.cameEntries.length, 0)} of the sitter joined the record${sound.length < fresh.length ? `; ${fresh.length - sound.length} could not be understood` : ''}.`,
        tone: 'done',
      })
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  return (
    <Stack $gap={8}>
      <p>
        {fresh.length === 0
          ? 'Nothing in it is new: it was taken in before.'
          : `${cameWords(fresh.length, 0)}${came.pictures.size > 0 ? `, with ${plural(came.pictures.size, 'picture')}` : ''}.`}
      </p>
      <ul style={{ maxHeight: 260, overflow: 'auto', display: 'grid', gap: 4 }}>
        {fresh.slice(0, 60).map((entry) => (
          <li key={entry.id}>
            {entryWords(entry, record)}{' '}
            <Quiet>
              {'vesselId' in entry ? record.vessels.get(entry.vesselId ?? '')?.body.name : ''}{' '}
              {whenText(instantMs(entry.at), clockMs(), record.settings)}
            </Quiet>
          </li>
        ))}
      </ul>
      {came.leftOut.length > 0 && (
        <Tray $tone="caution">
          <p>
            Left out: {came.leftOut.slice(0, 6).join('; ')}
            {came.leftOut.length > 6 ? ` and ${came.leftOut.length - 6} more` : ''}.
          </p>
        </Tray>
      )}
      <Row>
        <Button look="main" isDisabled={fresh.length === 0} onPress={() => void take()}>
          Take them in
        </Button>
        <Button look="bare" onPress={onDone}>
          Leave it
        </Button>
      </Row>
    </Stack>
  )
}
/** A data address as a picture, without asking a network. */
function jpegOf(data: string): Blob {
  const bytes = Uint8Array.from(atob(data.slice(data.indexOf(',') + 1)), (letter) => letter.charCodeAt(0))
  return new Blob([bytes], { type: 'image/jpeg' })
}

/** The record before the last import, and values that could not be read: both a press away. */
function Kept() {
  const { record } = useRecord()
  const { mode, repository } = useDatabase()
  const { undoReplace, putLostBack } = useActions()
  const { nowMs } = useThePlans()
  const client = useQueryClient()
  const notice = useNotice()
  const key = ['kept', mode]
  const { data } = useQuery({
    queryKey: key,
    queryFn: async () => ({
      previous: await repository.previous(),
      aside: await repository.aside(),
      lost: await repository.lost(),
    }),
    networkMode: 'always',
    retry: false,
  })
  const run = async (job: () => Promise<unknown>, text: string) => {
    try {
      await job()
      await client.invalidateQueries({ queryKey: key })
      notice({ text, tone: 'done' })
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  if (!data) return null
  const { previous, aside, lost } = data
  return (
    <>
      {lost !== null && (
        <Tray $tone="caution" role="region" aria-label="Kept twice">
          <Stack $gap={6}>
            <strong>
              {sentenceCase(plural(lost.entries, 'entry', 'entries'))} of a record that is not here any more{' '}
              {lost.entries === 1 ? 'is' : 'are'} kept a second time.
            </strong>
            <Quiet>
              The browser may have lost the record itself. Import your last copy first; then these, written since{' '}
              {whenText(lost.sinceMs, nowMs, record.settings)}, join it.
            </Quiet>
            <Row>
              <Button
                isDisabled={record.vessels.size === 0}
                onPress={() => void run(putLostBack, 'They joined the record.')}
              >
                Join them to this record
              </Button>
              <Button look="bare" onPress={() => void run(() => repository.dropLost(), 'They are let go.')}>
                Let them go
              </Button>
            </Row>
          </Stack>
        </Tray>
      )}
      {previous && (
        <Row $gap={8}>
          <Quiet>
            The record before the import {whenText(instantMs(previous.keptAt), nowMs, record.settings)} is kept
            {previous.entries > 0 ? ` (${plural(previous.entries, 'entry', 'entries')})` : ''}.
          </Quiet>
          <Button
            onPress={() => void run(undoReplace, 'The record before the import is back; the imported one is kept.')}
          >
            Undo the import
          </Button>
          <Button look="bare" onPress={() => void run(() => repository.dropPrevious(), 'It is let go.')}>
            Let it go
          </Button>
        </Row>
      )}
      {aside.length > 0 && (
        <Tray $tone="caution" role="region" aria-label="Set aside">
          <Stack $gap={6}>
            <strong>
              {sentenceCase(plural(aside.length, 'stored value'))} could not be read and{' '}
              {aside.length === 1 ? 'was' : 'were'} set aside; the rest is here.
            </strong>
            <ul>
              {aside.slice(0, 8).map(({ key: name, why }) => (
                <li key={name}>
                  {name.replace(/^g\d+\//, '')}: {why}
                </li>
              ))}
            </ul>
            <Row>
              <Button
                onPress={() =>
                  saveFile(
                    `brinvo-set-aside-${dayOf(nowMs, record.settings.zone)}.json`,
                    new Blob([JSON.stringify({ schemaVersion: SCHEMA_VERSION, aside }, null, 1)], {
                      type: 'application/json',
                    }),
                  )
                }
              >
                Export them as they are
              </Button>
              <Button look="bare" onPress={() => void run(() => repository.dropAside(), 'They are let go.')}>
                Let them go
              </Button>
            </Row>
          </Stack>
        </Tray>
      )}
    </>
  )
}
