// What comes of one cell of a table, as its reader hands it on and as the ledger takes it.

export interface TableRow {
  /** Line of the file it stands on, from 1. */
  readonly line: number
  /** Wall clock of the keeper's zone: the day, and the time where the file gives one. */
  readonly day: string
  readonly time: string | null
  readonly analyte: string
  readonly value: number
  readonly unit: string
  readonly bound: 'exact' | 'below' | 'above'
}
export interface TableReading extends TableRow {
  /** The vessel the file names for it, as written; null where it names none. */
  readonly vessel: string | null
}
export interface Skipped {
  readonly line: number
  readonly why: string
}
export interface TableColumn {
  readonly head: string
  /** What the column is taken for, in words. */
  readonly taken: string
  readonly example: string
}
