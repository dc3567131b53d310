// The comparison as the numbers move: the central run at once, the sampled band and the what-ifs when they rest.
import type { CompareInputs, Comparison } from '@brinvo/core'
import { useQuery } from '@tanstack/react-query'
import { useEffect, useMemo, useRef, useState } from 'react'
import { compute, quick } from '../../workers/client.ts'

/** Samples of the band. */
export const SAMPLES = 200

/** The newest inputs, answered one at a time: what became stale while the worker was busy is never asked. */
function useCentral(inputs: CompareInputs | null): { comparison: Comparison | null; error: string | null } {
  const [state, setState] = useState<{ comparison: Comparison | null; error: string | null }>({
    comparison: null,
    error: null,
  })
  const busy = useRef(false)
  const waiting = useRef<CompareInputs | null>(null)
  useEffect(() => {
    if (!inputs) return
    let gone = false
    const ask = (next: CompareInputs) => {
      busy.current = true
      waiting.current = null
      quick
        .run('compare', { ...next, samples: 0, flips: false })
        .then(
          (comparison) => !gone && setState({ comparison, error: null }),
          (cause: Error) => !gone && setState({ comparison: null, error: cause.message }),
        )
        .finally(() => {
          busy.current = false
          if (waiting.current) ask(waiting.current)
        })
    }
    if (busy.current) waiting.current = inputs
    else ask(inputs)
    return () => {
      gone = true
    }
  }, [inputs])
  return state
}

export function useComparison(inputs: CompareInputs | null) {
  const key = useMemo(() => (inputs ? JSON.stringify({ ...inputs, kind: inputs.kind.id }) : ''), [inputs])
  const [rested, setRested] = useState<{ key: string; inputs: CompareInputs } | null>(null)
  useEffect(() => {
    if (!inputs) return
    const timer = setTimeout(() => setRested({ key, inputs }), 250)
    return () => clearTimeout(timer)
  }, [key, inputs])
  const central = useCentral(inputs)
  const sampled = useQuery({
    queryKey: ['compare', rested?.key ?? ''],
    queryFn: ({ signal }) => compute.run('compare', { ...rested!.inputs, samples: SAMPLES, flips: true }, signal),
    enabled: rested !== null,
    staleTime: Infinity,
    gcTime: 60_000,
    retry: false,
    networkMode: 'always',
  })
  const settled = rested?.key === key && sampled.data !== undefined
  return {
    /** Sampled where it stands for these very numbers, else the central run. */
    comparison: settled ? sampled.data : central.comparison,
    sampled: settled,
    error: central.error ?? (sampled.error ? sampled.error.message : null),
  }
}
