// What the record is uneasy about, worked out once for every page: the shelf says danger wherever one is.
import { concernsOf, type Concern } from '@brinvo/core'
import { useQuery } from '@tanstack/react-query'
import { createContext, use, useMemo, type ReactNode } from 'react'
import { useRecord } from '../data/queries.tsx'
import { useDeviceConcerns } from '../parts/useDevices.ts'
import type * as Later from './later.ts'
import { useThePlans } from './PlansContext.tsx'

export interface Concerns {
  /** Gravest first. */
  readonly concerns: readonly Concern[]
  /** What reads campaigns, instruments and tests; undefined while it comes, and where it could not be fetched. */
  readonly later: typeof Later | undefined
  /** It is still being looked: nothing is "nothing" yet. */
  readonly looking: boolean
}
const ConcernsContext = createContext<Concerns | null>(null)

export function ConcernsProvider({ children }: { children: ReactNode }) {
  const { record, active } = useRecord()
  const { plans, estimates, nowMs } = useThePlans()
  const some = record.vessels.size > 0
  const { data: later, isError } = useQuery({
    queryKey: ['later concerns'],
    queryFn: () => import('./later.ts'),
    enabled: some,
    staleTime: Infinity,
    networkMode: 'always',
  })
  const deviceConcerns = useDeviceConcerns(nowMs)
  const concerns = useMemo(() => {
    const found = [
      ...deviceConcerns,
      ...(later?.campaignConcernsOf(record, active, plans, nowMs) ?? []),
      ...(later?.ammoniaConcerns(record, active, nowMs) ?? []),
      ...(later?.testConcerns(record, active, nowMs) ?? []),
      ...(later?.waterConcerns(record, active, plans, nowMs) ?? []),
      ...concernsOf(record, active, plans, estimates, nowMs),
    ]
    // Danger first, whoever says it.
    return found.sort((a, b) => Number(b.tone === 'danger') - Number(a.tone === 'danger'))
  }, [record, active, plans, estimates, nowMs, later, deviceConcerns])
  // A tenth of a second, and everything stands at its place: what is found later would push what is read already.
  const looking = some && later === undefined && !isError
  return (
    <ConcernsContext value={useMemo(() => ({ concerns, later, looking }), [concerns, later, looking])}>
      {children}
    </ConcernsContext>
  )
}

export function useConcerns(): Concerns {
  const found = use(ConcernsContext)
  if (!found) throw new Error('useConcerns: outside its provider')
  return found
}
