// A day's watching of fish: minutes, looks of the day and how many of them at least. Apart from the signs, which are
// many: the first view needs this and not those. @source handbook 30 §2.1
import { watch as TABLES } from '../generated/knowledge/watch.ts'

export const watchOfDay = TABLES[0]!
export type LookOfDay = (typeof watchOfDay)['looks'][number]
