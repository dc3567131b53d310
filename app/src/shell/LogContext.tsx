// Opens the log from anywhere, with what is already known filled in.
import type { Analyte } from '@brinvo/core'
import { createContext, lazy, Suspense, use, useCallback, useMemo, useState, type ReactNode } from 'react'

export type LogKind = 'reading' | 'dose' | 'change' | 'meal' | 'sign' | 'equipment' | 'move' | 'note'
export interface LogPreset {
  readonly kind?: LogKind
  readonly vesselId?: string
  readonly courseId?: string
  readonly step?: string
  readonly analyte?: Analyte
  readonly instrumentId?: string
  readonly productId?: string
  readonly amount?: number
  readonly residentId?: string
  readonly fraction?: number
  readonly corrects?: string
  readonly atMs?: number
  /** Make-up that goes into the new water of a change. */
  readonly replacementMgPerL?: number
}

const LogContext = createContext<(preset?: LogPreset) => void>(() => undefined)
export const useLog = () => use(LogContext)

const LogDialog = lazy(async () => ({ default: (await import('../features/log/LogDialog.tsx')).LogDialog }))

export function LogProvider({ children }: { children: ReactNode }) {
  const [preset, setPreset] = useState<LogPreset | null>(null)
  const [ticket, setTicket] = useState(0)
  const open = useCallback((next: LogPreset = {}) => {
    setTicket((n) => n + 1)
    setPreset(next)
  }, [])
  const close = useCallback(() => setPreset(null), [])
  const value = useMemo(() => open, [open])
  return (
    <LogContext value={value}>
      {children}
      {preset && (
        <Suspense fallback={null}>
          <LogDialog key={ticket} preset={preset} onClose={close} />
        </Suspense>
      )}
    </LogContext>
  )
}
