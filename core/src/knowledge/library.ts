// The protocol library as shipped: a third of a megabyte, and so a module of its own that the first view does without.
import { protocols as PROTOCOLS } from '../generated/knowledge/protocols.ts'
import type { Protocol } from './protocols.ts'

export const protocolLibrary: readonly Protocol[] = PROTOCOLS
export const protocolOf = (id: string): Protocol | undefined => protocolLibrary.find((protocol) => protocol.id === id)

/** The shipped protocol for a need that a page names. @throws Error when none ships, which the knowledge test rules out */
export function protocolServing(need: NonNullable<Protocol['serves']>): Protocol {
  const found = protocolLibrary.find(({ serves }) => serves === need)
  if (!found) throw new Error(`No protocol serves “${need}”.`)
  return found
}
