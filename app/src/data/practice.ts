// The practice tank that is open: its definition, its seed, its hour and what hands did, beside a record of its own. It is left and
// taken up again with these facts alone; nothing of it ever touches the keeper's record.
import type { Begun, Hand, PracticeTank } from '@brinvo/core/practice'
import { setPracticeClock } from './clock.ts'
import { repositoryOf } from './database.ts'
import type { Repository } from './repository.ts'

const FACT = 'practice'

export interface PracticeState {
  readonly begun: Begun
  readonly nowMs: number
  readonly hands: readonly Hand[]
  /** Over: looked back upon, and no longer acted in. */
  readonly endedMs?: number
}

const stateOf = (text: string | undefined): PracticeState | null => {
  if (!text) return null
  try {
    return JSON.parse(text) as PracticeState
  } catch {
    return null
  }
}
export async function practiceState(repository: Repository): Promise<PracticeState | null> {
  return stateOf((await repository.facts())[FACT])
}
/** Two windows at one tank: its clock never goes back, and no hand of the other window is forgotten. */
export function joinedPractice(stands: PracticeState | null, next: PracticeState): PracticeState {
  if (!stands) return next
  const { begun } = stands
  // Another tank was begun meanwhile: what was done with this one is over.
  if (begun.seed !== next.begun.seed || begun.startMs !== next.begun.startMs) return stands
  const key = (hand: Hand) => JSON.stringify([hand.atMs, hand.does, hand.value])
  const hands = new Map([...stands.hands, ...next.hands].map((hand) => [key(hand), hand]))
  return {
    ...next,
    nowMs: Math.max(stands.nowMs, next.nowMs),
    hands: [...hands.values()].sort((a, b) => a.atMs - b.atMs),
  }
}
export async function keepPractice(repository: Repository, state: PracticeState): Promise<void> {
  const kept = await repository.reviseFact(FACT, (text) => JSON.stringify(joinedPractice(stateOf(text), state)))
  setPracticeClock(stateOf(kept)!.nowMs)
}
/** Before its record is read: the pages are told for its hour. */
export async function openPractice(repository: Repository): Promise<void> {
  setPracticeClock((await practiceState(repository))?.nowMs ?? null)
}

/** A fresh practice tank in the place of the one before. */
export async function beginPractice(
  definition: PracticeTank,
  seed: number,
  startMs: number,
  zone: string,
): Promise<void> {
  const { practiceRecord } = await import('@brinvo/core/practice')
  const begun: Begun = { definition, seed, startMs, zone }
  const state: PracticeState = { begun, nowMs: startMs, hands: [] }
  await repositoryOf('practice').replaceAll(practiceRecord(begun), { [FACT]: JSON.stringify(state) })
  setPracticeClock(startMs)
}

/** What was practised, kept in this browser for the keeper alone: no part of any record. */
export interface Practised {
  readonly atMs: number
  readonly what: 'tank' | 'look' | 'slide' | 'drill'
  readonly id: string
  /** Share that was right, or kept, 0 to 1. */
  readonly share: number
  /** How sure it was said, 0 to 1, where it was asked. */
  readonly sure?: number
}
const PROGRESS = 'brinvo-practised'
const MOST = 400
export function practised(): readonly Practised[] {
  try {
    const list = JSON.parse(localStorage.getItem(PROGRESS) ?? '[]') as Practised[]
    return Array.isArray(list) ? list : []
  } catch {
    return []
  }
}
export function notePractised(one: Practised): void {
  try {
    localStorage.setItem(PROGRESS, JSON.stringify([...practised(), one].slice(-MOST)))
  } catch {
    // It is practice: nothing is lost.
  }
}
