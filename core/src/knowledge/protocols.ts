// The protocol library as shipped, and the shape of a protocol.
import { protocols as PROTOCOLS } from '../generated/knowledge/protocols.ts'
import { digestOf } from '../record/digest.ts'
import type { Condition, Phase, Protocol, Rule, Value, Variant } from '../generated/protocolTypes.ts'

export type { Condition, Phase, Protocol, Rule, Value, Variant }
export type RuleOf<K extends Rule['kind']> = Extract<Rule, { kind: K }>

export const protocolLibrary: readonly Protocol[] = PROTOCOLS
export const protocolOf = (id: string): Protocol | undefined => protocolLibrary.find((protocol) => protocol.id === id)

/** A short stable digest of a protocol's content: tells whether a copy is the library's, and whether it was changed. */
export const protocolHash = (protocol: unknown): string => digestOf(protocol)
