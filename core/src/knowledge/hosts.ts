// Whether a course waits for its vessel to be free of fish.

const known = new WeakMap<object, boolean>()
/** Whether a protocol counts from the last host: a vessel kept free of fish. */
export function waitsForHosts(protocol: object): boolean {
  let waits = known.get(protocol)
  if (waits === undefined) {
    waits = JSON.stringify(protocol).includes('"last-host-out"')
    known.set(protocol, waits)
  }
  return waits
}

/**
 * Whether everything wet that goes in begins the count anew, and not only a fish: corals taken in carry cysts on their
 * skeletons. @source handbook 40.9
 */
export const countsEverythingWet = (protocol: object): boolean =>
  (protocol as { readonly purpose?: string }).purpose === 'intake' && waitsForHosts(protocol)
