// The shape of a protocol, and the small questions that are asked of one; the library itself stands in library.ts.
import { digestOf } from '../record/digest.ts'
import type { Condition, Phase, Protocol, Rule, Value, Variant } from '../generated/protocolTypes.ts'

export type { Condition, Phase, Protocol, Rule, Value, Variant }
export type RuleOf<K extends Rule['kind']> = Extract<Rule, { kind: K }>

/** A short stable digest of a protocol's content: tells whether a copy is the library's, and whether it was changed. */
export const protocolHash = (protocol: unknown): string => digestOf(protocol)

/** The way a course starts on where nobody chose one. */
export const usualVariant = (protocol: Protocol): Variant =>
  protocol.variants.find((one) => one.default) ?? protocol.variants[0]!

const chosen = new WeakMap<Protocol, Map<string, Protocol>>()
/** A protocol as one of its ways runs it: without the rules of the others. The same object for the same question. */
export function asChosen(protocol: Protocol, variantId: string): Protocol {
  if (!protocol.phases.some(({ rules }) => rules.some(({ onlyFor }) => onlyFor !== undefined))) return protocol
  const known = chosen.get(protocol) ?? new Map<string, Protocol>()
  chosen.set(protocol, known)
  const own = (phase: Phase): Phase => ({
    ...phase,
    rules: phase.rules.filter(({ onlyFor }) => onlyFor === undefined || onlyFor.includes(variantId)),
  })
  const found = known.get(variantId) ?? { ...protocol, phases: protocol.phases.map(own) as Protocol['phases'] }
  known.set(variantId, found)
  return found
}

/** The plain conditions of which a condition is put together, however deep. */
export const partsOf = (condition: Condition): readonly Condition[] =>
  condition.kind === 'all' || condition.kind === 'any' ? condition.of.flatMap(partsOf) : [condition]
