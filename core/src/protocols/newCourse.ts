// A course's document from a protocol: the protocol is copied in, so that editing the library never changes it.
import { protocolHash, usualVariant, type Protocol } from '../knowledge/protocols.ts'
import type { CourseBody } from '../record/types.ts'
import { instantOf, zonedOf } from '../time/time.ts'

export interface NewCourse {
  readonly protocol: Protocol
  readonly vesselId: string
  readonly startMs: number
  readonly zone: string
  readonly residents: readonly string[]
  readonly variantId?: string
  readonly clockSchool?: 'strict' | 'pause'
  readonly products?: Readonly<Record<string, string>>
  readonly instruments?: Readonly<Record<string, string>>
  /** Further vessels by role. */
  readonly vessels?: Readonly<Record<string, string>>
  /** What is left out takes the protocol's default. */
  readonly parameters?: Readonly<Record<string, number>>
  readonly warningsAccepted?: readonly string[]
  /** The keeper's hour for daily steps; that of the start where left out. */
  readonly dailyHour?: number
}

/** @throws RangeError for a parameter outside the protocol's own limits. */
export function newCourseBody(options: NewCourse): CourseBody {
  const { protocol } = options
  const parameters = Object.fromEntries(
    (protocol.parameters ?? []).map(({ id, label, min, max, unit, default: usual }) => {
      const value: number | undefined = options.parameters?.[id] ?? usual
      if (value === undefined)
        throw new RangeError(`${label}: no value is preset. Type one from ${min} to ${max} ${unit}.`)
      if (!(value >= min && value <= max))
        throw new RangeError(`${label}: ${value} ${unit} lies outside ${min} to ${max} ${unit}.`)
      return [id, value]
    }),
  )
  const variant = options.variantId ?? usualVariant(protocol).id
  return {
    protocolId: protocol.id,
    protocolHash: protocolHash(protocol),
    protocol: protocol as unknown as CourseBody['protocol'],
    variant,
    clockSchool: options.clockSchool ?? protocol.clock?.defaultSchool ?? 'strict',
    vesselId: options.vesselId,
    products: { ...options.products },
    instruments: { ...options.instruments },
    ...(options.vessels && Object.keys(options.vessels).length > 0 ? { vessels: { ...options.vessels } } : {}),
    residents: [...options.residents],
    parameters,
    startedAt: instantOf(options.startMs),
    dailyHour: options.dailyHour ?? zonedOf(options.startMs, options.zone).hour,
    warningsAccepted: [...(options.warningsAccepted ?? [])],
  }
}
