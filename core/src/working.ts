// A working is the arithmetic behind a number, as data: what the interface opens when a number is pressed.

/** One input or result of a working. `value` is unrounded; rounding is the display's business. */
export interface WorkingLine {
  readonly label: string
  readonly value: number | string
  readonly unit: string
  /** One standard deviation in the same unit, where the number carries doubt. */
  readonly sd?: number
  /** Where the number comes from: a source, a register, an assumption. */
  readonly from?: string
  /** Ledger entries behind the number. */
  readonly entryIds?: readonly string[]
}

/** Formula in words and symbols, the inputs put into it, and what came out. */
export interface Working {
  readonly title: string
  readonly formula: string
  readonly inputs: readonly WorkingLine[]
  readonly result: WorkingLine
  readonly source?: string
  readonly notes?: readonly string[]
  /** Sub-results that are themselves worked out. */
  readonly parts?: readonly Working[]
}
