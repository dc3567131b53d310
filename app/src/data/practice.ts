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

export async function practiceState(repository: Repository): Promise<PracticeState | null> {
  const text = (await repository.facts())[FACT]
  if (!text) return null
  try {
    return JSON.parse(text) as PracticeState
  } catch {
    return null
  }
}
export async function keepPractice(repository: Repository, state: PracticeState): Promise<void> {
  await repository.setFact(FACT, JSON.stringify(state))
  setPracticeClock(state.nowMs)
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
