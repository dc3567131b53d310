// The record's types: generated from the JSON Schema, given their short names here.
import type {
  ArrivalDocument,
  CourseDocument,
  Entry,
  InstrumentDocument,
  ProductDocument,
  RegisterDocument,
  ResidentDocument,
  Settings,
  VesselDocument,
} from '../generated/recordTypes.ts'

export type {
  Analyte,
  ArrivalBody,
  ArrivalDocument,
  BathEntry,
  ChangeEntry,
  CheckEntry,
  Container,
  ContainerEntry,
  CountEntry,
  CourseBody,
  CourseDocument,
  DoneEntry,
  DoseEntry,
  Entry,
  EquipmentEntry,
  GateEntry,
  InstrumentBody,
  InstrumentDocument,
  MealEntry,
  MoveEntry,
  NoteEntry,
  OverrideEntry,
  PhotoEntry,
  ProductBody,
  ProductDocument,
  ReadingEntry,
  RecordFile,
  RegisterDocument,
  ResidentBody,
  ResidentDocument,
  Settings,
  SignEntry,
  SkipEntry,
  TopoffEntry,
  VesselBody,
  VesselDocument,
  VoidEntry,
} from '../generated/recordTypes.ts'

export type RegisterName = RegisterDocument['register']
export type EntryKind = Entry['kind']

/** Everything there is: settings, registers by id, and every entry ever made. */
export interface KeeperRecord {
  readonly settings: Settings
  readonly vessels: ReadonlyMap<string, VesselDocument>
  readonly residents: ReadonlyMap<string, ResidentDocument>
  readonly products: ReadonlyMap<string, ProductDocument>
  readonly instruments: ReadonlyMap<string, InstrumentDocument>
  readonly courses: ReadonlyMap<string, CourseDocument>
  readonly arrivals: ReadonlyMap<string, ArrivalDocument>
  /** All entries, voided and corrected ones too, ordered by (at, id). */
  readonly entries: readonly Entry[]
}
