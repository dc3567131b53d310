// What makes a condition likelier before anything is seen: each fact of the record on its own line, and what it moves.
import { poolModel, priors, type Subject } from './rank.ts'

export interface Background {
  /** What is struck out with it. */
  readonly id: string
  readonly words: string
  /** Conditions it moves most, with how many times likelier (or less likely) it makes them. */
  readonly moves: readonly { readonly condition: string; readonly factor: number }[]
}

/** Words of the record for each fact, by the id of its line. */
export type BackgroundWords = Readonly<Record<string, string>>

const round = (days: number): string =>
  days < 1 ? 'today' : `${Math.round(days)} ${Math.round(days) === 1 ? 'day' : 'days'} ago`

/** A fact with the subject as it would be without it. */
function facts(subject: Subject): { id: string; words: string; without: Subject }[] {
  const { daysSinceArrival, recent = [], covered, exposed, copperDosed, ...rest } = subject
  const all: Subject = { ...subject }
  const drop = (key: keyof Subject): Subject => {
    const { [key]: _, ...kept } = all
    return kept as Subject
  }
  return [
    ...(daysSinceArrival === undefined
      ? []
      : [
          {
            id: 'before-arrival',
            words: `The newest came in ${round(daysSinceArrival)}.`,
            without: drop('daysSinceArrival'),
          },
        ]),
    ...recent.map((one) => ({
      id: `before-${one}`,
      words: RECENT_WORDS[one],
      without: { ...all, recent: recent.filter((other) => other !== one) },
    })),
    ...(covered && Object.keys(covered).length > 0
      ? [{ id: 'before-covered', words: 'A course covered some of this.', without: drop('covered') }]
      : []),
    ...(exposed && exposed.length > 0
      ? [
          {
            id: 'before-exposed',
            words: 'Something came from a vessel in which this is followed.',
            without: drop('exposed'),
          },
        ]
      : []),
    ...(copperDosed === true || !poolModel(rest.pool).conditions.some(({ id }) => id === 'copper-toxicity')
      ? []
      : [
          {
            id: 'before-no-copper',
            words: 'No copper was ever dosed here.',
            without: { ...all, copperCounts: false },
          },
        ]),
  ]
}
const RECENT_WORDS = {
  'gfo-started': 'Phosphate media went in lately.',
  'light-raised': 'The light was raised lately.',
  'carbon-dosing': 'A carbon source is dosed.',
  'rock-removed': 'Rock was taken out lately.',
  'blackout-ended': 'A dark period ended lately.',
  'carbon-removed': 'Activated carbon was taken out lately.',
  'carbon-added': 'Activated carbon went in lately.',
} as const

/** Moves less than this are not worth a word. */
const WORTH = 1.1

/**
 * The record's facts as lines, and the subject without those struck out. A line moves what its leaving would change,
 * all others standing.
 */
export function backgroundOf(
  subject: Subject,
  struck: ReadonlySet<string> = new Set(),
  words: BackgroundWords = {},
): { readonly lines: readonly Background[]; readonly subject: Subject } {
  const { conditions } = poolModel(subject.pool)
  const full = priors(subject)
  const lines = facts(subject).map(({ id, words: plain, without }) => {
    const other = priors(without)
    const moves = conditions
      .flatMap((condition, i) => {
        if (condition.rest === true || other[i]! < 0.005 || full[i] === undefined) return []
        const factor = full[i] / other[i]!
        return Math.abs(Math.log(factor)) < Math.log(WORTH)
          ? []
          : [{ condition: condition.id, factor, share: other[i]! }]
      })
      // What matters is how much chance is moved, not how rare the rarest becomes.
      .sort((a, b) => Math.abs(b.factor - 1) * b.share - Math.abs(a.factor - 1) * a.share)
      .slice(0, 3)
      .map(({ condition, factor }) => ({ condition, factor }))
    return { id, words: words[id] ?? plain, moves }
  })
  let kept = subject
  for (const { id } of lines) if (struck.has(id)) kept = facts(kept).find((fact) => fact.id === id)?.without ?? kept
  return { lines: lines.filter(({ id, moves }) => moves.length > 0 || struck.has(id)), subject: kept }
}
