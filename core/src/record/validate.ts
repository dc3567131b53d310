// The generated validators with their types. Each answers null, or one sentence with the place of the first fault.
import { unsoundEntry, unsoundRegister, unsoundSettings, type Fault } from './sound.ts'
import * as generated from '../generated/validators.js'

interface SchemaError {
  readonly instancePath: string
  readonly message?: string
  readonly params?: Record<string, unknown>
}
interface Validator {
  (value: unknown): boolean
  readonly errors?: readonly SchemaError[] | null
}
export type { Fault } from './sound.ts'

const checker = (validator: unknown) => {
  const validate = validator as Validator
  return (value: unknown): Fault | null => {
    if (validate(value)) return null
    const error = validate.errors?.[0]
    const extra = error?.params?.additionalProperty ?? error?.params?.missingProperty ?? error?.params?.allowedValues
    return {
      path: error?.instancePath ?? '',
      message: `${error?.message ?? 'is not as expected'}${extra === undefined ? '' : ` (${String(extra)})`}`,
    }
  }
}

export const faultOfRecordFile = checker(generated.validateRecordFile)
const schemaOfEntry = checker(generated.validateEntry)
const schemaOfRegister = checker(generated.validateRegister)
const schemaOfSettings = checker(generated.validateSettings)
/** One schema at the field, the write, the export and the import, and what a schema cannot say. */
export const faultOfEntry = (value: unknown): Fault | null => unsoundEntry(value) ?? schemaOfEntry(value)
export const faultOfSettings = (value: unknown): Fault | null => unsoundSettings(value) ?? schemaOfSettings(value)
export function faultOfRegister(value: unknown): Fault | null {
  const found = unsoundRegister(value) ?? schemaOfRegister(value)
  if (found) return found
  // The copy of its protocol that a course runs by is part of the record, and is held to the protocols' own schema.
  const document = value as { register: string; body: { protocol?: unknown } }
  if (document.register !== 'course') return null
  const wrong = faultOfProtocol(document.body.protocol)
  return wrong ? { path: `/body/protocol${wrong.path}`, message: wrong.message } : null
}
export const faultOfProtocol = checker(generated.validateProtocol)
