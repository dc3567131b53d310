// An act: what a keeper is about to do, and what the house answers before it is done.
import type { Measure } from '../dosing/dose.ts'
import type { CourseEstimate } from '../level/estimate.ts'
import type {
  Analyte,
  CourseBody,
  Entry,
  EquipmentEntry,
  House,
  ProductBody,
  RegisterDocument,
  ResidentBody,
  VesselBody,
} from '../record/types.ts'
import type { KnownLevel } from '../safety/level.ts'
import type { Refusal } from '../safety/refusal.ts'
import type { TableRow } from '../tables/row.ts'
import type { Working } from '../working.ts'

/** An entry as an act drafts it: ids, zone and times are given when it is committed. */
export type Draft = Entry extends infer E
  ? E extends Entry
    ? Omit<E, 'id' | 'recordedAt' | 'zone' | 'at'> & { readonly atMs?: number }
    : never
  : never

/** The house as it is when an act is asked, with the levels that estimates vouch for. */
export interface ActContext extends House {
  readonly nowMs: number
  readonly known: readonly KnownLevel[]
}

/** Where, when and within which step an act happens. */
export interface Place {
  readonly vesselId: string
  /** Instant; left out: now, whenever it is committed. */
  readonly atMs?: number
  readonly courseId?: string
  /** Step that asked for it: course/rule/occurrence. */
  readonly step?: string
  readonly corrects?: string
  readonly note?: string
  /** A temperature typed to answer a question, with its unit's field: it becomes a reading of its own. */
  readonly temperature?: string
}

export type ReadingIntent = Place & {
  readonly kind: 'reading'
  readonly analyte: Analyte
  readonly text: string
  readonly instrumentId?: string
  /** The keeper looked again: the reading stays although it is far off. */
  readonly doubt?: 'kept'
}
/** Several readings of one vessel, taken in one go: all are written, or none is. */
export type ReadingsIntent = Pick<Place, 'vesselId' | 'atMs'> & {
  readonly kind: 'readings'
  readonly readings: readonly Pick<ReadingIntent, 'analyte' | 'text' | 'instrumentId' | 'courseId' | 'step'>[]
}
/** Readings of a table, as it was read: canonical units, each with its line. All that may be taken are, in one piece. */
export type TableIntent = Pick<Place, 'vesselId'> & {
  readonly kind: 'table'
  /** Name of the file, or what it was pasted as. */
  readonly file: string
  readonly rows: readonly TableRow[]
  /** What no such water has stays out too. */
  readonly withoutUnlikely?: boolean
}
export type DoseIntent = Place & {
  readonly kind: 'dose'
  readonly productId: string
  /** As typed; several fields are poured together and every one must be readable. */
  readonly amounts: readonly string[]
  /** Use the bottle is put to, where it has several. */
  readonly form?: string
  /** How many times the bottle was thinned before; the amounts are of the mix. 1 or left out: neat. */
  readonly thinned?: number
  /** Clocks that end with it, written in the same piece. */
  readonly with?: readonly Draft[]
}
export type ChangeIntent = Place & {
  readonly kind: 'change'
  /** "25 %" or "17 L". */
  readonly text: string
  readonly makeUp?: { readonly productId: string; readonly text: string }
}
/** A laboratory's report for a sample: its values stand on the sample, and on the ledger where a kit reads the same. */
export interface ReportIntent {
  readonly kind: 'report'
  readonly sampleId: string
  readonly file: string
  readonly rows: readonly TableRow[]
  /** Of the sample, where the report gives none. */
  readonly salinityPpt?: number
  /** The report that stands there is replaced. */
  readonly again?: boolean
}
/** Hours that a device told: its middle, its reach and how many values each is of. */
export interface DeviceHoursIntent {
  readonly kind: 'device-hours'
  readonly deviceId: string
  readonly rows: readonly {
    readonly quantity: string
    readonly atMs: number
    readonly value: number
    readonly low: number
    readonly high: number
    readonly n: number
  }[]
}
/** A portion that a doser says it poured. */
export interface DevicePouredIntent {
  readonly kind: 'device-poured'
  readonly deviceId: string
  readonly mL: number
  readonly atMs: number
}
export type BathIntent = Place & {
  readonly kind: 'bath'
  readonly rule: string
  readonly residentIds: readonly string[]
  readonly litres: number
  readonly productId?: string
  readonly form?: string
  readonly amount?: string
  readonly mgPerL?: number
  /** Time it is meant to take, minutes. */
  readonly minutes: number
  /** Of a round of dips: the step of this one piece, kept with the start so that its end and its count find it. */
  readonly pieceStep?: string
}
export type BathEndIntent = Place & {
  readonly kind: 'bath-end'
  readonly startId: string
  readonly aborted?: string
}
export type MoveIntent = Place & {
  readonly kind: 'move'
  readonly residents: readonly { readonly id: string; readonly count?: number }[]
  readonly toVesselId: string
  /** Further sentence that speaks against it, from the plan that offered it. */
  readonly early?: string
}
export type LeaveIntent = Place & {
  readonly kind: 'leave'
  readonly residents: readonly { readonly id: string; readonly count?: number }[]
  readonly how: 'died' | 'rehomed' | 'other'
}
export type ResidentIntent = Place & {
  readonly kind: 'resident'
  readonly body: Omit<ResidentBody, 'count' | 'arrivedAt' | 'vesselId'>
  readonly count: string
  readonly residentId: string
  /** Courses that begin with it. */
  readonly courses?: readonly CourseBody[]
  readonly with?: readonly Draft[]
}
export type EquipmentIntent = Place & {
  readonly kind: 'equipment'
  /** Which doser it is of. */
  readonly deviceId?: string
  readonly item: EquipmentEntry['item']
  readonly on: boolean
}
export type CourseIntent = Place & {
  readonly kind: 'course'
  /** Id the course will have, minted by the caller so that the same press twice makes one course. */
  readonly id: string
  readonly body: CourseBody
  readonly instrumentId: string | null
  readonly findingId?: string
}
/** Another bottle, kit or second vessel for a course that runs: chosen late, used up, or broken. */
export type CourseUsesIntent = Place & {
  readonly kind: 'course-uses'
  readonly id: string
  /** By role; '' takes a bottle that may wait out again. Roles left out stay as they are. */
  readonly products?: Readonly<Record<string, string>>
  readonly instruments?: Readonly<Record<string, string>>
  readonly vessels?: Readonly<Record<string, string>>
}
export type CourseEndIntent = Place & {
  readonly kind: 'course-end'
  readonly id: string
  readonly outcome: NonNullable<CourseBody['outcome']>
  readonly words: string
}
export type CorrectionIntent = Place & {
  readonly kind: 'correction'
  readonly correction: string
  readonly salt: string
  /** Grams as weighed; mL or drops where it is poured out of a stock. */
  readonly grams: string
  readonly stock?: { readonly gramsPerL: number; readonly unit: 'mL' | 'drop'; readonly dropsPerMl?: number }
}
export type BottleIntent = {
  readonly kind: 'bottle'
  /** Left out: a new bottle under `newId`. */
  readonly productId?: string
  readonly newId: string
  readonly form: string
  readonly name: string
  readonly strength: ProductBody['strength']
  readonly labelLow?: string
  readonly labelHigh?: string
  readonly expiresOn?: string
  readonly size?: string
  readonly confirmed: boolean
}
export type VesselIntent = {
  readonly kind: 'vessel'
  readonly vesselId?: string
  readonly newId: string
  readonly body: Pick<
    VesselBody,
    'name' | 'purpose' | 'water' | 'volume' | 'bindingMedia' | 'evaporationLPerDay' | 'startedAt'
  >
  /** Shop size, L; null: not known. */
  readonly shopL: number | null
  readonly confirmed: boolean
}
export type GearIntent = {
  readonly kind: 'gear'
  readonly gearId: string
  readonly act: 'wet' | 'disinfected' | 'dried'
  readonly vesselId?: string
  readonly atMs?: number
}
/** A method chosen for one bag of an arrival. */
export type ContainerIntent = {
  readonly kind: 'container'
  readonly arrivalId: string
  readonly containerId: string
  readonly drafts: readonly Draft[]
  /** Taken against advice: what spoke against it, and the keeper's words. */
  readonly against?: { readonly about: string; readonly words: string }
  readonly said: string
}
/** Everything that leaves no dose behind: notes, meals, signs, counts, gates, ticks. */
export type NoteIntent = {
  readonly kind: 'note'
  readonly drafts: readonly Draft[]
  readonly documents?: readonly RegisterDocument[]
  readonly said: string
}

export type Intent =
  | ReadingIntent
  | ReadingsIntent
  | TableIntent
  | ReportIntent
  | DeviceHoursIntent
  | DevicePouredIntent
  | DoseIntent
  | ChangeIntent
  | BathIntent
  | BathEndIntent
  | MoveIntent
  | LeaveIntent
  | ResidentIntent
  | EquipmentIntent
  | CourseIntent
  | CourseUsesIntent
  | CourseEndIntent
  | CorrectionIntent
  | BottleIntent
  | VesselIntent
  | GearIntent
  | ContainerIntent
  | NoteIntent

/** A level before and after, as it will stand on the dialog. */
export interface LevelPreview {
  readonly vesselId: string
  readonly formId: string
  readonly fromMgPerL: number
  readonly toMgPerL: number
  /** At the low end of the volume. */
  readonly worstMgPerL: number
  readonly volumeL: number
  readonly amount: number
  readonly unit: 'mL' | 'g' | 'drop' | 'tablet'
  readonly contentMg: number
  readonly from: 'estimate' | 'reading' | 'residue' | 'none'
  readonly ceilingMgPerL: number
  /** The most that may go in now, rounded down to the measure; null while it cannot be said. */
  readonly most: { readonly amount: number; readonly step: number } | null
  readonly working: Working
}
export interface Preview {
  readonly level?: LevelPreview
  readonly lines: readonly string[]
}

export interface ActAnswer {
  /** Why nothing can be answered yet: a field that cannot be read, or something missing. */
  readonly problem: string | null
  readonly preview: Preview
  /** What must be known first. */
  readonly questions: readonly Refusal[]
  /** What is told, what needs words, what has no override. */
  readonly refusals: readonly Refusal[]
  readonly drafts: readonly Draft[]
  /** Next revisions of registers that belong to the same act. */
  readonly documents: readonly RegisterDocument[]
  /** What is said when it is done. */
  readonly said: string
}

export interface Override {
  readonly words: string
  readonly confirmed: boolean
}

/** Estimates by course, as the screens hold them. */
export type Estimates = ReadonlyMap<string, CourseEstimate>
export type { Measure }
