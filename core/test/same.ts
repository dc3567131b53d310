import { isDeepStrictEqual } from 'node:util'
import { expect } from '@jest/globals'

/** `expect(a).toEqual(b)`, quick where both are the same to the last field: whole records are held against each other. */
export function expectSame(a: unknown, b: unknown): void {
  if (!isDeepStrictEqual(a, b)) expect(a).toEqual(b)
}
