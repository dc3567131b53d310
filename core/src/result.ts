// The one result shape of the repository: a refusal the keeper can act on is data, a broken promise throws.

/** Either a value, or an error that names what went wrong and where. */
export type Result<T, E> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly error: E }

/** Wraps a value as a success. */
export const ok = <T>(value: T): { readonly ok: true; readonly value: T } => ({ ok: true, value })

/** Wraps an error as a failure. */
export const err = <E>(error: E): { readonly ok: false; readonly error: E } => ({ ok: false, error })

/** Closes an exhaustive switch: reaching it is a bug of ours, not of the keeper's. */
export function unreachable(value: never): never {
  throw new Error(`unreachable: ${JSON.stringify(value)}`)
}
