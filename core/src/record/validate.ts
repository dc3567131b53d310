// The generated validators with their types. Each answers null, or one sentence with the place of the first fault.
import * as generated from '../generated/validators.ts'

interface SchemaError {
  readonly instancePath: string
  readonly message?: string
  readonly params?: Record<string, unknown>
}
interface Validator {
  (value: unknown): boolean
  readonly errors?: readonly SchemaError[] | null
}
export type Fault = { readonly path: string; readonly message: string }

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
export const faultOfEntry = checker(generated.validateEntry)
export const faultOfRegister = checker(generated.validateRegister)
export const faultOfSettings = checker(generated.validateSettings)
export const faultOfProtocol = checker(generated.validateProtocol)
