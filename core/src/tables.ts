// Logbooks and laboratory reports: read by a worker of the application, and by the command that tests them.
export { NAMED_IDS, type TableKind } from './tables/heads.ts'
export { readTable, type TableAnswers, type TableAsk, type TableResult } from './tables/readTable.ts'
export { writeTable, type WrittenReading } from './tables/writeTable.ts'
export type { Skipped, TableColumn, TableReading } from './tables/row.ts'
