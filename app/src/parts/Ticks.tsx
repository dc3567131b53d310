// Things to tick one by one before an act may begin: what is laid out, which rules hold.
import { Check } from '../design/fields.tsx'

/** `set` with `item` in it or out of it. */
export function ticked<T>(set: ReadonlySet<T>, item: T, on: boolean): ReadonlySet<T> {
  const next = new Set(set)
  if (on) next.add(item)
  else next.delete(item)
  return next
}

export function Ticks({
  items,
  value,
  onChange,
}: {
  items: readonly string[]
  value: ReadonlySet<string>
  onChange: (change: (before: ReadonlySet<string>) => ReadonlySet<string>) => void
}) {
  return items.map((item) => (
    <Check
      key={item}
      isSelected={value.has(item)}
      onChange={(on) => {
        onChange((before) => ticked(before, item, on))
      }}
    >
      {item}
    </Check>
  ))
}
