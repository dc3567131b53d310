import { dirname, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'

/** The repository's root folder. */
export const root = resolve(dirname(fileURLToPath(import.meta.url)), '..', '..')
