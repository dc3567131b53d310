// The protocol library as shipped, and the shape of a protocol.
import { protocols as PROTOCOLS } from '../generated/knowledge/protocols.ts'
import type { Condition, Phase, Protocol, Rule, Value, Variant } from '../generated/protocolTypes.ts'

export type { Condition, Phase, Protocol, Rule, Value, Variant }
export type RuleOf<K extends Rule['kind']> = Extract<Rule, { kind: K }>

export const protocolLibrary: readonly Protocol[] = PROTOCOLS
export const protocolOf = (id: string): Protocol | undefined => protocolLibrary.find((protocol) => protocol.id === id)

/** A short stable digest of a protocol's content (FNV-1a over its canonical JSON): tells whether a copy is the library's. */
export function protocolHash(protocol: unknown): string {
  const text = canonical(protocol)
  let hash = 0x811c9dc5
  let second = 0x01000193
  for (let i = 0; i < text.length; i++) {
    hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193) >>> 0
    second = Math.imul(second + text.charCodeAt(i), 0x85ebca6b) >>> 0
  }
  return `fnv-${hash.toString(16).padStart(8, '0')}${second.toString(16).padStart(8, '0')}`
}
function canonical(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(canonical).join(',')}]`
  if (value && typeof value === 'object') {
    const keys = Object.keys(value).sort()
    return `{${keys.map((key) => `${JSON.stringify(key)}:${canonical((value as Record<string, unknown>)[key])}`).join(',')}}`
  }
  return JSON.stringify(value) ?? 'null'
}
