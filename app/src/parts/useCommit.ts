// The press that commits an act, for pages that ask nothing before it. The acts themselves come with the press.
import type { ActAnswer, Entry, Intent, Override } from '@brinvo/core'
import { v7 } from 'uuid'
import { useActions } from '../data/queries.tsx'
import { useNotice } from '../shell/Notices.tsx'
import { useThePlans } from '../shell/PlansContext.tsx'

export const NO_OVERRIDE: Override = { words: '', confirmed: false }

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
