// One act from a dialog: asked while it is typed, committed once, told again where something changed meanwhile.
import {
  actContext,
  answer as answerOf,
  mayPass,
  problemAnswer,
  spoken,
  type ActAnswer,
  type Entry,
  type Intent,
  type Override,
  type Refusal,
} from '@brinvo/core'
import { useMemo, useState } from 'react'
import { v7 } from 'uuid'
import { useActions, useRecord } from '../data/queries.tsx'
import { useNotice } from '../shell/Notices.tsx'
import { useThePlans } from '../shell/PlansContext.tsx'

export const NO_OVERRIDE: Override = { words: '', confirmed: false }

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

/** Commits an intent: null when it is on record, else the sentence that says why not. */
export function useCommit() {
  const { act } = useActions()
  const { known } = useThePlans()
  const notice = useNotice()
  return async (
    intent: Intent,
    options: { readonly actId: string; readonly override: Override; readonly shown?: ActAnswer },
    said?: string,
    /** The caller shows the sentence itself. */
    quiet = false,
  ): Promise<string | null> => {
    try {
      const done = await act(intent, { ...options, known })
      if (!done.ok) {
        if (!quiet) notice({ text: done.message, tone: 'failed' })
        return done.message
      }
      notice({
        text: said ?? done.said,
        tone: 'done',
        // A register that changed with it is not taken back by striking out entries.
        ...(done.undoable ? { undo: done.entries as readonly Entry[] } : {}),
      })
      return null
    } catch (cause) {
      if (!quiet) notice({ text: (cause as Error).message, tone: 'failed' })
      return (cause as Error).message
    }
  }
}

/** One press that is an act of its own and asks nothing unless something speaks against it; then it says so. */
export function usePress() {
  const run = useCommit()
  return (intent: Intent, said?: string) => run(intent, { actId: v7(), override: NO_OVERRIDE }, said)
}
