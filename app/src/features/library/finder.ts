// Words of the library, found from where they begin ("ich" is not in "which"), with one letter wrong, and under the
// other names they go by.
import MiniSearch, { type Query } from 'minisearch'
import synonyms from './synonyms.json' with { type: 'json' }

const NAMES: Readonly<Record<string, readonly string[]>> = synonyms
const words = (text: string): string[] => text.toLowerCase().match(/[\p{L}\p{N}]+/gu) ?? []

const kept = new WeakMap<object, string>()
/** Every word that a piece of knowledge says, without the names of its parts. */
export function saidBy(piece: object): string {
  const known = kept.get(piece)
  if (known !== undefined) return known
  const said: string[] = []
  const gather = (value: unknown): void => {
    if (typeof value === 'string') said.push(value)
    else if (typeof value === 'object' && value !== null) Object.values(value).forEach(gather)
  }
  gather(piece)
  const text = said.join(' ')
  kept.set(piece, text)
  return text
}

/** A word, or every word of one of its other names. */
const anyNameOf = (word: string): Query => ({
  combineWith: 'OR',
  queries: [word, ...(NAMES[word] ?? []).map((name): Query => ({ combineWith: 'AND', queries: words(name) }))],
})

/**
 * What of the texts is meant by the words that are asked for: every one of them, by itself or by another name.
 * @returns null where nothing is asked for: all of it
 */
export function finderOf(texts: readonly string[]): (asked: string) => ReadonlySet<string> | null {
  const index = new MiniSearch<{ id: number; text: string }>({
    fields: ['text'],
    tokenize: words,
    searchOptions: { prefix: true, fuzzy: (term) => (term.length > 5 ? 1 : false), combineWith: 'AND' },
  })
  index.addAll(texts.map((text, id) => ({ id, text })))
  return (asked) => {
    const terms = words(asked)
    if (terms.length === 0) return null
    const whole = NAMES[terms.join(' ')] && terms.length > 1 ? anyNameOf(terms.join(' ')) : null
    const query: Query = whole ?? { combineWith: 'AND', queries: terms.map(anyNameOf) }
    return new Set(index.search(query).map(({ id }) => texts[id as number]!))
  }
}
