// What an act is answered, in the order of gravity. @source design/definitions "what an act is answered"
export type Verdict = 'pass' | 'warn' | 'ask' | 'block' | 'forbid'
/** `warn` is told, `ask` needs an answer or a fresh reading, `block` worded reasons; `forbid` has no override. */
export type RefusalLevel = Exclude<Verdict, 'pass'>
export interface Refusal {
  readonly rule: string
  readonly level: RefusalLevel
  /** A whole sentence: what, where, and what would do. */
  readonly message: string
  /** A reading that would answer an `ask`; a tick does not. */
  readonly needs?: 'temperature'
  /** The vessel that reading is of. */
  readonly vesselId?: string
}

export const forbid = (rule: string, message: string): Refusal => ({ rule, level: 'forbid', message })
export const block = (rule: string, message: string): Refusal => ({ rule, level: 'block', message })
export const ask = (rule: string, message: string): Refusal => ({ rule, level: 'ask', message })
export const warn = (rule: string, message: string): Refusal => ({ rule, level: 'warn', message })

const ORDER: readonly RefusalLevel[] = ['forbid', 'block', 'ask', 'warn']
/** Rank of a verdict, `pass` lowest. */
export const gravity = (verdict: Verdict): number => (verdict === 'pass' ? 0 : ORDER.length - ORDER.indexOf(verdict))

/** The gravest level in a list, or null when it is empty. */
export const gravest = (refusals: readonly Refusal[]): RefusalLevel | null =>
  ORDER.find((level) => refusals.some((refusal) => refusal.level === level)) ?? null

/** Gravest first, each sentence once. */
export const sorted = (refusals: readonly Refusal[]): Refusal[] =>
  refusals
    .filter((one, i) => refusals.findIndex((other) => other.rule === one.rule && other.message === one.message) === i)
    .sort((a, b) => ORDER.indexOf(a.level) - ORDER.indexOf(b.level))
