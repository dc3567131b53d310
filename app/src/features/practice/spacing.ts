// What was mixed up comes again, spaced: a card for each condition, scheduled by FSRS. Kept in this browser; no part of any record.
import { createEmptyCard, fsrs, Rating, type Card } from 'ts-fsrs'

const KEPT = 'brinvo-practice-cards'
const scheduler = fsrs({ enable_fuzz: false })

function cards(): Record<string, Card> {
  try {
    const found = JSON.parse(localStorage.getItem(KEPT) ?? '{}') as Record<string, Card>
    return Object.fromEntries(
      Object.entries(found).map(([id, card]) => [
        id,
        {
          ...card,
          due: new Date(card.due),
          ...(card.last_review ? { last_review: new Date(card.last_review) } : {}),
        },
      ]),
    )
  } catch {
    return {}
  }
}
/** Writes down how a condition was told: not at all, or right, and then how surely. */
export function noteTold(pool: string, conditionId: string, right: boolean, sure: number, nowMs: number): void {
  const all = cards()
  const key = `${pool}/${conditionId}`
  const grade = !right ? Rating.Again : sure >= 0.9 ? Rating.Good : Rating.Hard
  const { card } = scheduler.next(all[key] ?? createEmptyCard(new Date(nowMs)), new Date(nowMs), grade)
  try {
    localStorage.setItem(KEPT, JSON.stringify({ ...all, [key]: card }))
  } catch {
    // Then it comes by chance.
  }
}
/** A condition of a pool whose time has come again; null where there is none. */
export function dueAgain(pool: string, nowMs: number): string | null {
  const due = Object.entries(cards())
    .filter(([key, card]) => key.startsWith(`${pool}/`) && card.due.getTime() <= nowMs)
    .sort((a, b) => a[1].due.getTime() - b[1].due.getTime())
  return due[0]?.[0].slice(pool.length + 1) ?? null
}
