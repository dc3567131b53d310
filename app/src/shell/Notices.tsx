// What was just done, with its undo, and failures that must not pass unseen.
import type { Entry } from '@brinvo/core'
import { createContext, use, useCallback, useEffect, useMemo, useRef, useState, type ReactNode } from 'react'
import { useLocation } from 'react-router'
import { styled } from 'styled-components'
import { useActions } from '../data/queries.tsx'
import { Button } from '../design/primitives.tsx'
import { MakeRoom } from '../parts/Failure.tsx'
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
  /* What was done before lies under what is being done now; a failure never does. */
  ${({ $tone }) => ($tone === 'done' ? "body:has([role='dialog']) & { z-index: 40; }" : '')}
  ${NARROW} {
    bottom: calc(max(76px, 12px + var(--thumb, 0px)));
  }
`

export function NoticeProvider({ children }: { children: ReactNode }) {
  const [notice, setNotice] = useState<Notice | null>(null)
  const { append } = useActions()
  const show = useCallback((next: Notice) => setNotice(next), [])
  const value = useMemo(() => show, [show])
  // What was done is told on the page where it was done, or on the one its press led to; on the next it is in the way.
  const { pathname } = useLocation()
  const stands = useRef(false)
  useEffect(() => {
    stands.current = false
    const arrived = setTimeout(() => (stands.current = true), 400)
    return () => clearTimeout(arrived)
  }, [notice])
  useEffect(() => {
    if (stands.current) setNotice((now) => (now?.tone === 'done' ? null : now))
  }, [pathname])
  useEffect(() => {
    if (notice === null) return
    document.documentElement.style.setProperty('--told', '84px')
    return () => void document.documentElement.style.removeProperty('--told')
  }, [notice])
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
              {notice.tone === 'failed' && <MakeRoom words={notice.text} />}
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
