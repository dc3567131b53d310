// A short stable digest of plain data: FNV-1a and a second mix over its canonical JSON. It finds accidents, not forgers.

/** Digest of a value; the order of keys does not matter. */
export function digestOf(value: unknown): string {
  const text = canonical(value)
  let hash = 0x811c9dc5
  let second = 0x01000193
  for (let i = 0; i < text.length; i++) {
    hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193) >>> 0
    second = Math.imul(second + text.charCodeAt(i), 0x85ebca6b) >>> 0
  }
  return `fnv-${hash.toString(16).padStart(8, '0')}${second.toString(16).padStart(8, '0')}`
}
function canonical(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(canonical).join(',')}]`
  if (value && typeof value === 'object') {
    const keys = Object.keys(value).sort()
    return `{${keys.map((key) => `${JSON.stringify(key)}:${canonical((value as Record<string, unknown>)[key])}`).join(',')}}`
  }
  return JSON.stringify(value) ?? 'null'
}
