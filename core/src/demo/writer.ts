// What each part of the demonstration writes with, and how a course begins in it.
import { protocolOf } from '../knowledge/library.ts'
import { protocolHash } from '../knowledge/protocols.ts'
import type { Entry, RegisterDocument } from '../record/types.ts'
import { instantOf } from '../time/time.ts'

export interface Writer {
  /** Days from today and the keeper's hour, as an instant. */
  readonly at: (day: number, hour: number) => number
  readonly document: (
    register: RegisterDocument['register'],
    id: string,
    body: RegisterDocument['body'],
    savedMs: number,
  ) => void
  readonly entry: (ms: number, kind: Entry['kind'], fields: object) => void
}

/** A course of a shipped protocol, begun at an instant: its usual variant and presets, and what is said beside. */
export function beginCourse(
  { document }: Writer,
  course: { readonly id: string; readonly protocolId: string; readonly vesselId: string; readonly startMs: number },
  more: Readonly<Record<string, unknown>> = {},
): void {
  const protocol = protocolOf(course.protocolId)!
  document(
    'course',
    course.id,
    {
      protocolId: course.protocolId,
      protocolHash: protocolHash(protocol),
      protocol,
      variant: protocol.variants.find((one) => one.default)!.id,
      clockSchool: 'strict',
      vesselId: course.vesselId,
      products: {},
      instruments: {},
      residents: [],
      parameters: Object.fromEntries((protocol.parameters ?? []).map(({ id, default: usual }) => [id, usual])),
      startedAt: instantOf(course.startMs),
      dailyHour: 19,
      warningsAccepted: [],
      ...more,
    } as unknown as RegisterDocument['body'],
    course.startMs,
  )
}

/** A bottle of 3 % peroxide, confirmed at one instant and opened at another. */
export function peroxideBottle(
  { document }: Writer,
  bottle: { readonly id: string; readonly name: string; readonly form: string; readonly sizeAmount: number },
  confirmedMs: number,
  openedMs = confirmedMs,
): void {
  const { id, ...body } = bottle
  document(
    'product',
    id,
    {
      ...body,
      strength: { basis: 'w/v', percent: 3 },
      confirmedAt: instantOf(confirmedMs),
      openedAt: instantOf(openedMs),
    } as RegisterDocument['body'],
    confirmedMs,
  )
}
