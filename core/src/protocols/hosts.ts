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
