// Where estimates are kept between two openings of the page; apart, so that the rescue page can empty it without them.
import localforage from 'localforage'

export const keptStore = () =>
  localforage.createInstance({ name: 'brinvo-kept', storeName: 'estimates', driver: [localforage.INDEXEDDB] })

/** Nothing that was worked out from a record outlives it. */
export async function forgetEstimates(): Promise<void> {
  try {
    await keptStore().clear()
  } catch {
    // A store that cannot be opened holds nothing.
  }
}
