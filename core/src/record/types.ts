// The record's types: generated from the JSON Schema, given their short names here.
import type {
  ArrivalDocument,
  CourseDocument,
  DeviceDocument,
  Entry,
  FindingDocument,
  GearDocument,
  InstrumentDocument,
  PlannedDocument,
  ProductDocument,
  ProtocolDocument,
  RegisterDocument,
  ResidentDocument,
  SampleDocument,
  Settings,
  VesselDocument,
} from '../generated/recordTypes.ts'

export type {
  Analyte,
  ArrivalBody,
  ArrivalDocument,
  BathEntry,
  CalibrationEntry,
  ChangeEntry,
  CheckEntry,
  Container,
  ContainerEntry,
  CountEntry,
  CourseBody,
  CourseDocument,
  DeviceBody,
  DeviceDocument,
  DoneEntry,
  DoseEntry,
  Entry,
  EquipmentEntry,
  FindingBody,
  FindingDocument,
  GateEntry,
  GearBody,
  GearDocument,
  GearEntry,
  HeadsEntry,
  InstrumentBody,
  InstrumentDocument,
  MealEntry,
  MoveEntry,
  NoteEntry,
  OverrideEntry,
  PhotoEntry,
  PlannedBody,
  PlannedDocument,
  ProductBody,
  ProductDocument,
  ProtocolBody,
  ProtocolDocument,
  ReadingEntry,
  RecordFile,
  RegisterDocument,
  ResidentBody,
  ResidentDocument,
  SampleBody,
  SampleDocument,
  Settings,
  SignEntry,
  SkipEntry,
  StateEntry,
  TopoffEntry,
  VesselBody,
  VesselDocument,
  VoidEntry,
} from '../generated/recordTypes.ts'

declare const SCOPE: unique symbol
/**
 * Every entry that stands, of all vessels, in order. Kept apart from one vessel's entries by the compiler: who lives
 * where can only be read from the whole.
 */
export type ActiveLedger = readonly Entry[] & { readonly [SCOPE]?: 'house' }
/** The standing entries that bear one vessel (or the vessels of one course), in order. */
export type VesselEntries = readonly Entry[] & { readonly [SCOPE]?: 'vessel' }

export type RegisterName = RegisterDocument['register']
export type EntryKind = Entry['kind']

/** A record with the entries of it that stand: made in one place, so that the two always belong together. */
export interface House {
  readonly record: KeeperRecord
  readonly active: ActiveLedger
}

/** Everything there is: settings, registers by id, and every entry ever made. */
export interface KeeperRecord {
  readonly settings: Settings
  readonly vessels: ReadonlyMap<string, VesselDocument>
  readonly residents: ReadonlyMap<string, ResidentDocument>
  readonly products: ReadonlyMap<string, ProductDocument>
  readonly instruments: ReadonlyMap<string, InstrumentDocument>
  readonly courses: ReadonlyMap<string, CourseDocument>
  readonly arrivals: ReadonlyMap<string, ArrivalDocument>
  readonly gear: ReadonlyMap<string, GearDocument>
  /** Water for a laboratory, and what it found. */
  readonly samples: ReadonlyMap<string, SampleDocument>
  readonly devices: ReadonlyMap<string, DeviceDocument>
  readonly findings: ReadonlyMap<string, FindingDocument>
  /** Courses that are meant to begin. */
  readonly planned: ReadonlyMap<string, PlannedDocument>
  /** Protocols of the keeper's own, finished or not. */
  readonly protocols: ReadonlyMap<string, ProtocolDocument>
  /** All entries, voided and corrected ones too, ordered by (at, id). */
  readonly entries: readonly Entry[]
}
