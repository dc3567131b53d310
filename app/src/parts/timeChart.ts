// What everything drawn along time shares: its letters, its keys, its words for an hour that was not earned.
import type { RibbonStretch } from '@brinvo/core'
import type { KeyboardEvent } from 'react'
import { css } from 'styled-components'

export const timeChart = css`
  svg {
    display: block;
    width: 100%;
    touch-action: pan-y;
    user-select: none;
  }
  text {
    fill: var(--quiet);
    font-size: 13px;
  }
  text[data-strong] {
    fill: var(--ink);
    font-weight: 700;
  }
  [role='slider']:focus-visible {
    outline: 3px solid var(--focus);
    outline-offset: 2px;
  }
`
/** Why the clock refused an hour. */
export const REFUSED: Readonly<Record<NonNullable<RibbonStretch['reason']>, string>> = {
  below: 'level below the band',
  uncertain: 'level not sure enough',
  'no-test': 'no test for too long',
  above: 'level above the band',
  'not-started': 'not yet proven in the band',
}

/**
 * Where a key leads along time; null puts the cursor back to now, undefined is no key of it.
 * @param small what an arrow moves, ms; @param large with shift
 */
export function timeKey(
  { key, shiftKey }: KeyboardEvent,
  at: number,
  [fromMs, toMs]: readonly [number, number],
  [small, large]: readonly [number, number],
): number | null | undefined {
  const step = shiftKey ? large : small
  switch (key) {
    case 'ArrowLeft':
      return at - step
    case 'ArrowRight':
      return at + step
    case 'Home':
      return fromMs
    case 'End':
      return toMs
    case 'Escape':
      return null
    default:
      return undefined
  }
}
