// How an answer is put together, and when it may pass.
import type { RegisterDocument } from '../record/types.ts'
import { gravest, gravity, sorted, type Refusal, type Verdict } from '../safety/refusal.ts'
import type { ActAnswer, Draft, Override, Preview } from './types.ts'

const EMPTY: Preview = { lines: [] }

/** Nothing can be said yet, and why. */
export const problemAnswer = (problem: string): ActAnswer => ({
  problem,
  preview: EMPTY,
  questions: [],
  refusals: [],
  drafts: [],
  documents: [],
  said: '',
})

/** An answer from everything found: questions apart, gravest first. */
export function answerOf(parts: {
  readonly found?: readonly Refusal[]
  readonly drafts?: readonly Draft[]
  readonly documents?: readonly RegisterDocument[]
  readonly preview?: Preview
  readonly said: string
}): ActAnswer {
  const found = sorted(parts.found ?? [])
  return {
    problem: null,
    preview: parts.preview ?? EMPTY,
    questions: found.filter(({ level }) => level === 'ask'),
    refusals: found.filter(({ level }) => level !== 'ask'),
    drafts: parts.drafts ?? [],
    documents: parts.documents ?? [],
    said: parts.said,
  }
}

/** Everything that is asked, told or refused, gravest first. */
export const spoken = (answer: ActAnswer): readonly Refusal[] => sorted([...answer.refusals, ...answer.questions])

/** The gravest of an answer; what cannot be answered is not passed. */
export const verdictOf = (answer: ActAnswer): Verdict =>
  answer.problem !== null ? 'forbid' : (gravest(spoken(answer)) ?? 'pass')

/** Fewest letters of a worded reason. */
export const OVERRIDE_LETTERS = 8

/**
 * Whether an act may be committed: nothing forbidden, blocks worded, questions answered. A question that asks for a
 * reading is answered by the reading, never by a tick.
 */
export function mayPass(answer: ActAnswer, override: Override): boolean {
  if (answer.problem !== null) return false
  const all = spoken(answer)
  if (all.some(({ level }) => level === 'forbid')) return false
  if (answer.questions.some(({ needs }) => needs !== undefined)) return false
  if (answer.questions.length > 0 && !override.confirmed) return false
  return !all.some(({ level }) => level === 'block') || override.words.trim().length >= OVERRIDE_LETTERS
}

/** Whether what is known now speaks against an act more than what the keeper was shown. */
export function isGraver(now: ActAnswer, shown: ActAnswer): boolean {
  if (now.problem !== null) return true
  if (gravity(verdictOf(now)) < gravity('ask')) return false
  const before = new Set(spoken(shown).map(({ rule, level }) => `${level} ${rule}`))
  return spoken(now).some(({ rule, level }) => gravity(level) >= gravity('ask') && !before.has(`${level} ${rule}`))
}
