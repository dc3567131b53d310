// Where estimates are kept between two openings of the page; apart, so that the rescue page can empty it without them.
import { openKept } from './keyStore.ts'

/** Nothing that was worked out from a record outlives it. */
export async function forgetEstimates(): Promise<void> {
  try {
    await openKept().clear()
  } catch {
    // A store that cannot be opened holds nothing.
  }
}
