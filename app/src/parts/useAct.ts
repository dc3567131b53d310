// One act from a dialog: asked while it is typed, committed once, told again where something changed meanwhile.
import {
  actContext,
  answer as answerOf,
  mayPass,
  problemAnswer,
  spoken,
  type ActAnswer,
  type Intent,
  type Override,
  type Refusal,
} from '@brinvo/core'
import { useMemo, useState } from 'react'
import { v7 } from 'uuid'
import { useRecord } from '../data/queries.tsx'
import { useThePlans } from '../shell/PlansContext.tsx'
import { NO_OVERRIDE, useCommit } from './useCommit.ts'

export interface Asking {
  readonly answer: ActAnswer
  /** Everything asked, told or refused, gravest first. */
  readonly spoken: readonly Refusal[]
  readonly override: Override
  readonly setOverride: (next: Override) => void
  readonly may: boolean
  /** Everything can be read, and yet it may not pass: the press is not offered. */
  readonly held: boolean
  readonly busy: boolean
  /** A sentence that came back from the commit. */
  readonly failure: string | null
  /** Commits; answers whether it is on record. Nothing typed is lost when it is not. */
  readonly commit: (said?: string) => Promise<boolean>
  readonly reset: () => void
}

/** What the house answers to an intent as it stands now, and the one press that commits it. */
export function useAct(intent: Intent | string | null, atMs?: number): Asking {
  const { record } = useRecord()
  const { known, nowMs } = useThePlans()
  const run = useCommit()
  const [actId, setActId] = useState(() => v7())
  const [override, setOverride] = useState<Override>(NO_OVERRIDE)
  const [busy, setBusy] = useState(false)
  const [failure, setFailure] = useState<string | null>(null)
  const key = JSON.stringify(intent)
  const answer = useMemo(
    () =>
      intent === null
        ? problemAnswer('')
        : typeof intent === 'string'
          ? problemAnswer(intent)
          : answerOf(actContext(record, atMs ?? nowMs, known), intent),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the intent is compared by what it says
    [record, known, nowMs, atMs, key],
  )
  const commit = async (said?: string): Promise<boolean> => {
    if (intent === null || typeof intent === 'string' || busy) return false
    setBusy(true)
    setFailure(null)
    try {
      const message = await run(intent, { actId, override, shown: answer }, said, true)
      if (message !== null) {
        setFailure(message)
        return false
      }
      setActId(v7())
      setOverride(NO_OVERRIDE)
      return true
    } finally {
      setBusy(false)
    }
  }
  const all = spoken(answer)
  return {
    answer,
    spoken: all,
    override,
    setOverride,
    may: mayPass(answer, override),
    held: answer.problem === null && !mayPass(answer, override),
    busy,
    failure,
    commit,
    reset: () => {
      setOverride(NO_OVERRIDE)
      setFailure(null)
    },
  }
}
