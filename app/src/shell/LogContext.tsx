// Opens the log from anywhere, with what is already known filled in; and asks why a step is left out. Both stand over the
// page: whatever moves on it meanwhile, nothing that is being typed goes away.
import type { Analyte, Step } from '@brinvo/core'
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
const SkipContext = createContext<(step: Step) => void>(() => undefined)
/** Asks why a step is left out. */
export const useSkip = () => use(SkipContext)

const SkipDialog = lazy(async () => ({ default: (await import('../parts/SkipDialog.tsx')).SkipDialog }))
const LogDialog = lazy(async () => ({ default: (await import('../features/log/LogDialog.tsx')).LogDialog }))

export function LogProvider({ children }: { children: ReactNode }) {
  const [preset, setPreset] = useState<LogPreset | null>(null)
  const [ticket, setTicket] = useState(0)
  const [left, setLeft] = useState<Step | null>(null)
  const open = useCallback((next: LogPreset = {}) => {
    setTicket((n) => n + 1)
    setPreset(next)
  }, [])
  const close = useCallback(() => setPreset(null), [])
  const value = useMemo(() => open, [open])
  return (
    <LogContext value={value}>
      <SkipContext value={setLeft}>{children}</SkipContext>
      {left && (
        <Suspense fallback={null}>
          <SkipDialog key={left.key} step={left} onClose={() => setLeft(null)} />
        </Suspense>
      )}
      {preset && (
        <Suspense fallback={null}>
          <LogDialog key={ticket} preset={preset} onClose={close} />
        </Suspense>
      )}
    </LogContext>
  )
}
