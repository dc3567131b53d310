// Logbooks and laboratory reports: read by a worker of the application, and by the command that tests them.
export { NAMED_IDS, type TableKind } from './tables/heads.ts'
export {
  readTable,
  type Skipped,
  type TableAnswers,
  type TableAsk,
  type TableColumn,
  type TableReading,
  type TableResult,
} from './tables/readTable.ts'
export { writeTable, type WrittenReading } from './tables/writeTable.ts'
