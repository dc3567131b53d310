// The time that the pages are told for: the machine's, or that of the practice tank which is open in this tab.

let practiceMs: number | null = null
const listeners = new Set<() => void>()

/** Now, ms: of the practice tank where one is open, else by the machine's clock. */
export const clockMs = (): number => practiceMs ?? Date.now()
/** Sets the clock of the practice tank; null gives the machine's back. */
export function setPracticeClock(ms: number | null): void {
  practiceMs = ms
  for (const listener of listeners) listener()
}
/** Calls whenever that clock is moved. */
export function onClock(listener: () => void): () => void {
  listeners.add(listener)
  return () => void listeners.delete(listener)
}
