// Versions of a document: every body it ever had, each known by its digest and by what it was made from. Two devices that wrote
// apart hold two ends; put together they are one document again, whichever came first.
import { digestOf } from './digest.ts'
import type { RegisterDocument } from './types.ts'

export interface Version {
  /** Digest of when it was saved and what it says. */
  readonly id: string
  readonly savedAt: string
  readonly body: Readonly<Record<string, unknown>>
  /** Versions it was made from. */
  readonly after: readonly string[]
}

export const versionId = (savedAt: string, body: unknown): string => digestOf([savedAt, body])

/** Order of versions that owe nothing to the device that asks: when saved, then by digest. */
export const compareVersions = (a: Version, b: Version): number =>
  a.savedAt < b.savedAt ? -1 : a.savedAt > b.savedAt ? 1 : a.id < b.id ? -1 : a.id > b.id ? 1 : 0

/** Every version that a document holds, its present one last; of one that was put together only those it is made of. */
export function versionsOf(document: RegisterDocument): readonly Version[] {
  const list = [...document.history, ...(document.merged === true ? [] : [document])]
  let before: string | null = null
  return list.map(({ savedAt, body, after }): Version => {
    const id = versionId(savedAt, body)
    const version = {
      id,
      savedAt,
      body: body as unknown as Version['body'],
      after: after ?? (before === null ? [] : [before]),
    }
    before = id
    return version
  })
}

/** Ends of the lines: versions that nothing was made from yet, in order. */
export function headsOf(versions: readonly Version[]): readonly Version[] {
  const used = new Set(versions.flatMap(({ after }) => after))
  return versions.filter(({ id }) => !used.has(id)).sort(compareVersions)
}

/** A version and all that it was made from. */
function lineOf(versions: ReadonlyMap<string, Version>, from: Version): ReadonlySet<string> {
  const found = new Set<string>()
  const open = [from.id]
  while (open.length > 0) {
    const id = open.pop()!
    if (found.has(id)) continue
    found.add(id)
    open.push(...(versions.get(id)?.after ?? []))
  }
  return found
}

/** The newest version that all ends were made from; null where they have nothing in common. */
function baseOf(versions: readonly Version[], heads: readonly Version[]): Version | null {
  const byId = new Map(versions.map((version) => [version.id, version]))
  const lines = heads.map((head) => lineOf(byId, head))
  return (
    versions
      .filter(({ id }) => lines.every((line) => line.has(id)))
      .sort(compareVersions)
      .at(-1) ?? null
  )
}

/** A field that was changed on several sides, and what each says. */
export interface FieldConflict {
  readonly field: string
  /** Fields of one unit are settled together: the first of them names it. */
  readonly unit: string
  readonly said: readonly { readonly version: Version; readonly value: unknown }[]
}
interface Together {
  readonly body: Readonly<Record<string, unknown>>
  readonly conflicts: readonly FieldConflict[]
}

/**
 * Fields that say one thing together: a volume and that it was confirmed, a bottle's form and its strength, a course and
 * what it doses. Changed apart they are changed against each other: nobody confirmed the volume that would come of it.
 */
const AS_ONE: Readonly<Partial<Record<RegisterDocument['register'], readonly (readonly string[])[]>>> = {
  vessel: [['water', 'nominalL', 'volume', 'volumeConfirmedAt', 'bindingMedia']],
  product: [['form', 'strength', 'labelBand', 'confirmedAt']],
  instrument: [['analyte', 'method', 'step', 'relativeError', 'readsForms', 'ammoniaForm']],
  course: [
    [
      'protocolId',
      'protocolHash',
      'protocol',
      'variant',
      'parameters',
      'products',
      'instruments',
      'vessels',
      'startedAt',
    ],
    ['endedAt', 'outcome', 'outcomeNote'],
  ],
  resident: [['count', 'group']],
}

const unitOf = (register: RegisterDocument['register'], field: string): string =>
  AS_ONE[register]?.find((unit) => unit.includes(field))?.[0] ?? field

/**
 * What several ends say together: a field that one side changed is taken from it. Where two sides changed one field to
 * different things the newest end stands as a whole, until the keeper settles it: half of one and half of the other might
 * say what nobody meant.
 */
function together(
  register: RegisterDocument['register'],
  versions: readonly Version[],
  heads: readonly Version[],
): Together {
  const base = baseOf(versions, heads)?.body ?? {}
  const newest = heads.at(-1)!
  const fields = [...new Set([...Object.keys(base), ...heads.flatMap(({ body }) => Object.keys(body))])].sort()
  const same = (a: unknown, b: unknown) => a === b || digestOf(a ?? null) === digestOf(b ?? null)
  const body: Record<string, unknown> = {}
  const conflicts: FieldConflict[] = []
  const changesOf = (field: string) => heads.filter((head) => !same(head.body[field], base[field]))
  /** Fields of a unit that several sides changed, each its own. */
  const torn = new Set(
    (AS_ONE[register] ?? []).flatMap((unit) => {
      const changes = unit.flatMap((field) => changesOf(field).map((head) => [field, head] as const))
      const touched = [...new Set(changes.map(([field]) => field))]
      const apart = touched.some((field) => changesOf(field).length < new Set(changes.map(([, head]) => head)).size)
      const fought = touched.some((field) => {
        const [first, ...rest] = changesOf(field)
        return rest.some((head) => !same(head.body[field], first!.body[field]))
      })
      return apart || fought ? touched : []
    }),
  )
  for (const field of fields) {
    const changed = changesOf(field)
    const first = changed[0]
    const value = first === undefined ? base[field] : first.body[field]
    if (torn.has(field))
      conflicts.push({
        field,
        unit: unitOf(register, field),
        said: heads.map((version) => ({ version, value: version.body[field] })),
      })
    else if (first !== undefined && !changed.every((head) => same(head.body[field], first.body[field])))
      conflicts.push({
        field,
        unit: unitOf(register, field),
        said: changed.map((version) => ({ version, value: version.body[field] })),
      })
    if (value !== undefined) body[field] = value
  }
  return conflicts.length > 0 ? { body: newest.body, conflicts } : { body, conflicts }
}

/** What a document that was put together leaves to be settled; none of one that is whole. */
export function conflictsOf(document: RegisterDocument): readonly FieldConflict[] {
  if (document.merged !== true) return []
  const versions = versionsOf(document)
  return together(document.register, versions, headsOf(versions)).conflicts
}

/**
 * The document that a set of versions makes: the same for the same set, whoever asks and in whatever order they came.
 * @throws RangeError without a version
 */
export function documentOf(
  register: RegisterDocument['register'],
  id: string,
  versions: readonly Version[],
): RegisterDocument {
  // One saying at one instant on two devices is one version, made from what either made it from.
  const byId = new Map<string, Version>()
  for (const version of versions) {
    const known = byId.get(version.id)
    byId.set(version.id, known ? { ...known, after: [...new Set([...known.after, ...version.after])].sort() } : version)
  }
  const unique = [...byId.values()]
  if (unique.length === 0) throw new RangeError(`${register} ${id}: no version`)
  const heads = headsOf(unique)
  // A circle, which only a hurt file has, has no end: the newest stands.
  const alone = heads.length <= 1 ? (heads[0] ?? [...unique].sort(compareVersions).at(-1)!) : null
  const past = unique.filter((version) => version !== alone).sort(compareVersions)
  let before: string | null = null
  const linked = (version: Version) => {
    const usual = before === null ? [] : [before]
    before = version.id
    const { savedAt, body, after } = version
    const plain = after.length === usual.length && after.every((one, i) => one === usual[i])
    return { savedAt, body, ...(plain ? {} : { after: [...after].sort() }) }
  }
  const history = past.map((version, i) => ({ revision: i + 1, ...linked(version) }))
  if (alone !== null)
    return { register, id, revision: unique.length, ...linked(alone), history } as unknown as RegisterDocument
  return {
    register,
    id,
    revision: unique.length + 1,
    savedAt: heads.at(-1)!.savedAt,
    body: together(register, unique, heads).body,
    merged: true,
    history,
  } as unknown as RegisterDocument
}
