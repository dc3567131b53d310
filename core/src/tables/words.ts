// The words that heads and cells of tables are written in, as data.
import { tables } from '../generated/knowledge/tables.ts'

export const tableWords = tables[0]!
