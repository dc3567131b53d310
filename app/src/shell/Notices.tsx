// What was just done, with its undo, and failures that must not pass unseen.
import type { Entry } from '@brinvo/core'
import { createContext, use, useCallback, useMemo, useState, type ReactNode } from 'react'
import { styled } from 'styled-components'
import { useActions } from '../data/queries.tsx'
import { Button } from '../design/primitives.tsx'
import { NARROW } from '../design/theme.ts'

interface Notice {
  readonly text: string
  readonly tone: 'done' | 'failed'
  readonly undo?: readonly Entry[]
}
const NoticeContext = createContext<(notice: Notice) => void>(() => undefined)
export const useNotice = () => use(NoticeContext)

const Bar = styled.div<{ $tone: Notice['tone'] }>`
  position: fixed;
  left: 50%;
  bottom: calc(20px + var(--thumb, 0px));
  transform: translateX(-50%);
  z-index: 60;
  width: min(620px, calc(100vw - 24px));
  display: flex;
  align-items: center;
  gap: 12px;
  justify-content: space-between;
  padding: 10px 16px;
  border-radius: 12px;
  background: ${({ $tone }) => ($tone === 'failed' ? 'var(--danger-tint)' : 'var(--tray)')};
  border: 2px solid ${({ $tone }) => ($tone === 'failed' ? 'var(--danger)' : 'var(--rim)')};
  box-shadow: 0 8px 30px rgb(0 0 0 / 22%);
  ${NARROW} {
    bottom: calc(max(76px, 12px + var(--thumb, 0px)));
  }
`

export function NoticeProvider({ children }: { children: ReactNode }) {
  const [notice, setNotice] = useState<Notice | null>(null)
  const { append } = useActions()
  const show = useCallback((next: Notice) => setNotice(next), [])
  const value = useMemo(() => show, [show])
  const undo = async (entries: readonly Entry[]) => {
    try {
      await append(entries.map((entry) => ({ kind: 'void' as const, voids: entry.id, reason: 'Undone straight away' })))
      setNotice({ text: 'Undone. It stays on the ledger, struck out.', tone: 'done' })
    } catch (cause) {
      setNotice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  return (
    <NoticeContext value={value}>
      {children}
      <div role="status" aria-live="polite">
        {notice && (
          <Bar $tone={notice.tone}>
            <span>{notice.text}</span>
            <span style={{ display: 'flex', gap: 4 }}>
              {notice.undo && (
                <Button look="plain" onPress={() => void undo(notice.undo!)}>
                  Undo
                </Button>
              )}
              <Button look="bare" onPress={() => setNotice(null)} aria-label="Dismiss this message">
                OK
              </Button>
            </span>
          </Bar>
        )}
      </div>
    </NoticeContext>
  )
}
