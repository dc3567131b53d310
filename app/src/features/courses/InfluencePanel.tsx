// What each of the last readings did for the count: worked out when it is asked for, since it takes the whole estimate anew for each.
import { courseInputs, formatDuration, instantMs } from '@brinvo/core'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { compute } from '../../workers/client.ts'
import { useRecord } from '../../data/queries.tsx'
import { Button, Facts, Quiet } from '../../design/primitives.tsx'
import { whenText } from '../../design/words.ts'
import { useThePlans } from '../../shell/PlansContext.tsx'

/** Hours from which a reading is worth a line. */
const WORTH_H = 0.5

export function InfluencePanel({ courseId }: { courseId: string }) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  // Asked once for the record as it stood then; a new press asks anew.
  const [asked, setAsked] = useState<{ key: string; inputs: NonNullable<ReturnType<typeof courseInputs>>['inputs'] }>()
  const { data, isFetching, isError } = useQuery({
    queryKey: ['influence', courseId, asked?.key],
    queryFn: ({ signal }) => compute.run('influence', asked!.inputs, signal),
    enabled: asked !== undefined,
    staleTime: Infinity,
    retry: false,
    networkMode: 'always',
  })
  const ask = () => {
    const course = record.courses.get(courseId)
    const found = course && courseInputs(record, active, course, nowMs)
    if (found) setAsked({ key: JSON.stringify(found.inputs), inputs: found.inputs })
  }
  const worth = (data ?? []).filter(({ hours }) => Math.abs(hours) >= WORTH_H)
  return (
    <>
      <h3>What each reading did for the count</h3>
      {data === undefined ? (
        <Button onPress={ask} isDisabled={isFetching}>
          {isFetching ? 'Working it out…' : 'Work it out'}
        </Button>
      ) : worth.length === 0 ? (
        <p>
          <Quiet>None of the last readings moved it by half an hour alone.</Quiet>
        </p>
      ) : (
        <Facts>
          {worth.map(({ id, hours }) => {
            const entry = record.entries.find((candidate) => candidate.id === id)
            if (entry?.kind !== 'reading') return null
            return (
              <div key={id} style={{ display: 'contents' }}>
                <dt>
                  {entry.value} {entry.unit}, {whenText(instantMs(entry.at), nowMs, record.settings)}
                </dt>
                <dd>
                  {hours > 0 ? '+' : ''}
                  {formatDuration(hours)}
                </dd>
              </div>
            )
          })}
        </Facts>
      )}
      {isError && <p>It could not be worked out. Press again.</p>}
    </>
  )
}
