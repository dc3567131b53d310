// On the round: weeks of entries that stand in this browser alone.
import { copyDue } from '@brinvo/core'
import { useQuery } from '@tanstack/react-query'
import { lastCopyOf } from '../data/backups.ts'
import { useDatabase, useRecord } from '../data/queries.tsx'
import { LinkButton, Stack, Tray } from '../design/primitives.tsx'
import { plural } from '../design/words.ts'
import { useThePlans } from '../shell/PlansContext.tsx'

export function BackupHint() {
  const { record } = useRecord()
  const { mode, repository } = useDatabase()
  const { nowMs } = useThePlans()
  const { data } = useQuery({
    queryKey: ['backups', 'last', record.entries.length],
    queryFn: () => lastCopyOf(repository).then((last) => ({ last })),
    networkMode: 'always',
    retry: false,
  })
  const due = mode === 'keeper' && data ? copyDue(data.last, record.entries.length, nowMs) : null
  if (!due) return null
  return (
    <Tray role="status">
      <Stack $gap={8}>
        <p>
          <strong>
            {due.days === null ? 'No copy of this record was ever made' : `No copy for ${plural(due.days, 'day')}`}
          </strong>
          : {plural(due.since, 'entry', 'entries')} stand in this browser alone.
        </p>
        <LinkButton to="/ledger">Make a copy</LinkButton>
      </Stack>
    </Tray>
  )
}
