// What keeps the record when this browser does not: when the last copy was made, whether the browser promises to keep it, how
// much room there is, and a folder that gets a copy a day.
import { copyDue } from '@brinvo/core'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import {
  canChooseFolder,
  chooseFolder,
  copyInto,
  folder,
  forgetFolder,
  lastCopyOf,
  mayWrite,
  noteCopy,
} from '../../data/backups.ts'
import { photosOf } from '../../data/photos.ts'
import { useDatabase, useRecord } from '../../data/queries.tsx'
import { Button, Quiet, Row, Stack, Tray } from '../../design/primitives.tsx'
import { plural, sentenceCase, whenText } from '../../design/words.ts'
import { bytesText } from '../../parts/bytesText.ts'
import { RoomDialog } from '../../parts/RoomDialog.tsx'
import { useNotice } from '../../shell/Notices.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'

export const BACKUP_KEY = ['backups'] as const

export function BackupPanel() {
  const { record } = useRecord()
  const { mode, repository } = useDatabase()
  const { nowMs } = useThePlans()
  const notice = useNotice()
  const client = useQueryClient()
  const [making, setRoom] = useState(false)
  const { data } = useQuery({
    queryKey: [...BACKUP_KEY, record.entries.length],
    queryFn: async () => {
      const storage = 'storage' in navigator ? navigator.storage : null
      const found = await folder()
      return {
        last: await lastCopyOf(repository),
        kept: (await storage?.persisted?.()) ?? null,
        estimate: (await storage?.estimate?.()) ?? null,
        folder: found,
        open: found === null ? false : await mayWrite(found, false),
      }
    },
    networkMode: 'always',
    retry: false,
  })
  if (mode !== 'keeper' || !data) return null
  const refresh = () => client.invalidateQueries({ queryKey: BACKUP_KEY })
  const run = async (job: () => Promise<string | null>) => {
    try {
      const text = await job()
      if (text !== null) notice({ text, tone: 'done' })
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
    await refresh()
  }
  const copyNow = (ask: boolean) =>
    run(async () => {
      const to = await folder()
      if (!to || !(await mayWrite(to, ask))) return 'The folder was not opened: nothing was copied.'
      const name = await copyInto(to, record, photosOf(mode), nowMs)
      await noteCopy(repository, record.entries.length, nowMs)
      return `${name} is in “${to.name}”.`
    })
  const { last, kept, estimate } = data
  const due = copyDue(last, record.entries.length, nowMs)
  return (
    <Tray {...(due ? { $tone: 'caution' as const } : {})} role="region" aria-label="Backups">
      <Stack $gap={8}>
        <h3>Backups</h3>
        <p>
          {last === null
            ? 'No copy of this record was made on this device yet.'
            : `Last copy ${whenText(last.atMs, nowMs, record.settings)}; ${plural(Math.max(0, record.entries.length - last.entries), 'entry', 'entries')} since.`}
          {due ? ' It is time for one.' : ''}
        </p>
        {canChooseFolder() ? (
          data.folder === null ? (
            <>
              <Quiet>A folder of your choice can get a copy a day by itself, older ones thinned.</Quiet>
              <Row>
                <Button
                  onPress={() =>
                    void run(async () => {
                      const to = await chooseFolder()
                      if (!to) return null
                      const name = await copyInto(to, record, photosOf(mode), nowMs)
                      await noteCopy(repository, record.entries.length, nowMs)
                      return `${name} is in “${to.name}”, and one a day follows while this page is opened.`
                    })
                  }
                >
                  Choose a folder for copies
                </Button>
              </Row>
            </>
          ) : (
            <>
              <Quiet>
                A copy a day goes to “{data.folder.name}”
                {data.open ? '' : ': the browser wants to be asked again after it was closed'}.
              </Quiet>
              <Row>
                <Button look={data.open ? 'plain' : 'main'} onPress={() => void copyNow(true)}>
                  {data.open ? 'Copy now' : 'Open the folder and copy now'}
                </Button>
                <Button
                  look="bare"
                  onPress={() =>
                    void run(async () => {
                      await forgetFolder()
                      return 'No folder gets copies any more; what is in it stays.'
                    })
                  }
                >
                  Another folder, or none
                </Button>
              </Row>
            </>
          )
        ) : (
          <Quiet>This browser cannot write into a folder by itself: export now and then; the round reminds you.</Quiet>
        )}
        {kept === false && (
          <>
            <Quiet>
              This browser may throw the record away when the disk is full or the page was not opened for weeks. Asked,
              it may promise to keep it.
            </Quiet>
            <Row>
              <Button
                onPress={() =>
                  void run(async () =>
                    (await navigator.storage.persist())
                      ? 'The browser promises to keep the record until you delete it.'
                      : 'The browser did not promise it. Opened often, or put on the home screen, it may later; until then the copies count.',
                  )
                }
              >
                Ask it to keep the record
              </Button>
            </Row>
          </>
        )}
        {kept === true && <Quiet>The browser promised to keep the record.</Quiet>}
        {estimate?.usage !== undefined && estimate.quota !== undefined && (
          <Row>
            <Quiet>
              {sentenceCase(`${bytesText(estimate.usage)} used here`)},{' '}
              {bytesText(Math.max(0, estimate.quota - estimate.usage))} left.
            </Quiet>
            <Button look="bare" onPress={() => setRoom(true)}>
              Make room
            </Button>
          </Row>
        )}
        {making && <RoomDialog onClose={() => setRoom(false)} />}
      </Stack>
    </Tray>
  )
}
