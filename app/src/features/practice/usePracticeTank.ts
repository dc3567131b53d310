import { practiceRecord, worldAt, type PracticeWorld } from '@brinvo/core/practice'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useMemo } from 'react'
import { setPracticeClock } from '../../data/clock.ts'
import { keepPractice, openPractice, practiceState, type PracticeState } from '../../data/practice.ts'
import { useDatabase, useRecord } from '../../data/queries.tsx'

/** The tank that is practised on: its state, its truth at this hour, and the way to write what changes. */
export function usePracticeTank(): {
  readonly state: PracticeState | null
  readonly world: PracticeWorld | null
  readonly keep: (state: PracticeState) => Promise<void>
} {
  const { repository } = useDatabase()
  const { record } = useRecord()
  const client = useQueryClient()
  const queryKey = ['practice']
  const { data: state = null } = useQuery({
    queryKey: [...queryKey, record],
    queryFn: () => practiceState(repository),
    networkMode: 'always',
    staleTime: Infinity,
    retry: false,
    structuralSharing: false,
    queryKeyHashFn: ([name]) => `${String(name)} ${record.entries.length} ${record.vessels.size}`,
  })
  // Another window moved the clock.
  useEffect(
    () =>
      repository.subscribe(() => {
        void openPractice(repository).then(() => client.invalidateQueries({ queryKey: ['practice'] }))
      }),
    [client, repository],
  )
  const world = useMemo(
    () => (state ? worldAt(state.begun, record, state.hands, state.nowMs, practiceRecord(state.begun)) : null),
    [state, record],
  )
  return {
    state,
    world,
    async keep(next) {
      // Seen at once, kept right after: a press on a kit that follows quickly reads the new hour.
      client.setQueriesData({ queryKey }, next)
      setPracticeClock(next.nowMs)
      try {
        await keepPractice(repository, next)
      } finally {
        await client.invalidateQueries({ queryKey })
      }
    },
  }
}
