// Methods that work by the water itself: lowered salinity, heat with salt, a dip in fresh water, transfers.
import { methods as TABLES } from '../generated/knowledge/methods.ts'
import type { MethodTable } from '../generated/methodTypes.ts'

export type Method = MethodTable['methods'][number]
export const methods: readonly Method[] = TABLES.flatMap((table) => table.methods)
export const methodOf = (id: string | undefined): Method | undefined => methods.find((method) => method.id === id)
