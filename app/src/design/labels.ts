// Words along an axis that never lie on one another.

export interface Label {
  readonly id: string
  readonly text: string
  /** Where its first letter stands, px. */
  readonly x: number
  /** Font size, px. */
  readonly size: number
  /** Who stays when there is room for one: the higher. */
  readonly rank: number
}
export interface PlacedLabel extends Label {
  /** Line it stands on, 0 the first. */
  readonly line: number
  readonly width: number
}

/** Width of a text in the text face, px: never under what is drawn, so that words apart here are apart on the page. */
export const labelWidth = (text: string, size: number): number => Math.ceil(text.length * size * 0.62) + 2

/**
 * Labels that fit, none over another and none beyond the edge: those of the highest rank first, each pushed left of the
 * edge if it must be, on the first line with room; without room on any line it is left out.
 * @param room from, to and the gap between two words, px; lines that there are
 */
export function placeLabels(
  labels: readonly Label[],
  room: { readonly from: number; readonly to: number; readonly gap: number; readonly lines: number },
): PlacedLabel[] {
  const placed: PlacedLabel[] = []
  for (const label of [...labels].sort((a, b) => b.rank - a.rank || a.x - b.x)) {
    const width = labelWidth(label.text, label.size)
    if (width > room.to - room.from) continue
    const x = Math.min(Math.max(label.x, room.from), room.to - width)
    for (let line = 0; line < room.lines; line++) {
      const free = placed.every(
        (other) => other.line !== line || x >= other.x + other.width + room.gap || x + width + room.gap <= other.x,
      )
      if (free) {
        placed.push({ ...label, x, line, width })
        break
      }
    }
  }
  return placed
}
