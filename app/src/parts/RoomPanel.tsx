// The way out of a full store: every press here only takes away, and so needs no room itself.
import { picturesToThin, type PhotoEntry } from '@brinvo/core'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { copyOf } from '../data/backups.ts'
import { forgetEstimates } from '../data/keptStore.ts'
import { DATABASES, emptyDatabase } from '../data/keyStore.ts'
import { photosOf } from '../data/photos.ts'
import { useDatabase, useNow, useRecord } from '../data/queries.tsx'
import { Check } from '../design/fields.tsx'
import { Button, Quiet, Row, Stack } from '../design/primitives.tsx'
import { plural } from '../design/words.ts'
import { saveFile } from './saveFile.ts'
import { useNotice } from '../shell/Notices.tsx'
import { bytesText } from './bytesText.ts'

export function RoomPanel() {
  const { record, active } = useRecord()
  const { mode, repository } = useDatabase()
  const nowMs = useNow()
  const client = useQueryClient()
  const notice = useNotice()
  const [sure, setSure] = useState(false)
  const queryKey = ['room', mode]
  const { data } = useQuery({
    queryKey,
    queryFn: async () => ({
      estimate: await navigator.storage?.estimate?.(),
      ids: new Set(await photosOf(mode).ids()),
      previous: await repository.previous(),
    }),
    networkMode: 'always',
    retry: false,
    staleTime: 0,
  })
  if (!data) return null
  const pictures = active.filter((entry): entry is PhotoEntry => entry.kind === 'photo' && data.ids.has(entry.photoId))
  const bytes = (list: readonly PhotoEntry[]) => bytesText(list.reduce((sum, entry) => sum + entry.bytes, 0))
  const thin = picturesToThin(pictures, nowMs)
  const run = async (job: () => Promise<unknown>, text: string) => {
    try {
      await job()
      await client.invalidateQueries()
      notice({ text, tone: 'done' })
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  const letGo = async (photoIds: readonly string[]) => {
    for (const id of photoIds) {
      await photosOf(mode).remove(id)
      client.setQueryData(['photo', mode, id], null)
    }
  }
  const { estimate } = data
  return (
    <Stack $gap={12}>
      <p>
        {estimate?.usage !== undefined && estimate.quota !== undefined
          ? `${bytesText(estimate.usage)} used here, ${bytesText(Math.max(0, estimate.quota - estimate.usage))} left. `
          : ''}
        Export first: a file needs no room in the browser. Then, from what is missed least:
      </p>
      <Row>
        <Button
          look="main"
          onPress={() =>
            void run(async () => {
              const { blob, ending } = await copyOf(record, photosOf(mode), nowMs)
              saveFile(`brinvo-room.${ending}`, blob)
            }, 'Exported. Look whether the file is where you expect it.')
          }
        >
          Export everything
        </Button>
      </Row>
      <Row>
        {mode !== 'demo' && (
          <Button
            onPress={() =>
              void run(async () => {
                for (const name of [DATABASES.demo, DATABASES.look])
                  for (const database of [name, `${name}-photos`]) await emptyDatabase(database)
                await forgetEstimates()
              }, 'The demonstration, backups looked into and what was worked out are let go; all of it can be made again.')
            }
          >
            Let go what can be made again
          </Button>
        )}
        {data.previous !== null && (
          <Button
            onPress={() => void run(() => repository.dropPrevious(), 'The record before the last import is let go.')}
          >
            Let the record before the last import go
          </Button>
        )}
        {thin.length > 0 && (
          <Button
            onPress={() =>
              void run(
                () => letGo(thin.map(({ photoId }) => photoId)),
                `${plural(thin.length, 'picture')} thrown away; their lines on the ledger stay.`,
              )
            }
          >
            Thin the pictures out: {thin.length}, {bytes(thin)}
          </Button>
        )}
      </Row>
      {pictures.length > 0 && (
        <>
          <Check isSelected={sure} onChange={setSure}>
            I have exported them: all {plural(pictures.length, 'picture')}, {bytes(pictures)}, may go
          </Check>
          <Row>
            <Button
              look="danger"
              isDisabled={!sure}
              onPress={() =>
                void run(async () => {
                  await letGo(pictures.map(({ photoId }) => photoId))
                  setSure(false)
                }, 'All pictures are thrown away; their lines on the ledger stay.')
              }
            >
              Throw all pictures away
            </Button>
          </Row>
        </>
      )}
      <Quiet>Entries themselves take little room: two years of a house are some megabytes.</Quiet>
    </Stack>
  )
}
