// Emptying a record, complete or not at all: what was begun is written down where a full store does not matter, and a start that
// finds it there goes on with it.
import type { Settings } from '@brinvo/core'
import { forgetEstimates } from './keptStore.ts'
import type { Mode } from './keyStore.ts'
import { photosOf } from './photos.ts'
import type { Repository } from './repository.ts'

const markOf = (mode: Mode) => `brinvo-emptying/${mode}`

/** Empties the record, its pictures and all that was worked out from it. */
export async function emptyAll(repository: Repository, mode: Mode, settings: Settings): Promise<void> {
  try {
    localStorage.setItem(markOf(mode), JSON.stringify(settings))
  } catch {
    // Without the mark it is emptied all the same; only a browser that dies in the middle is not noticed.
  }
  await repository.wipe(settings)
  await forgetEstimates()
  await photosOf(mode).clear()
  try {
    localStorage.removeItem(markOf(mode))
  } catch {
    // It was not set either.
  }
}
/** Goes on with an emptying that was cut off. */
export async function finishEmptying(repository: Repository, mode: Mode): Promise<void> {
  let settings: Settings
  try {
    const text = localStorage.getItem(markOf(mode))
    if (text === null) return
    settings = JSON.parse(text) as Settings
  } catch {
    return
  }
  await emptyAll(repository, mode, settings)
}
