// A jar of captured animals in the same dosed water: when the vessel may be called clear, and what a half change takes out.
import { limitOf } from '../knowledge/limits.ts'
import { entryMs } from '../time/time.ts'
import { UNDOSED, type TallyEntry } from './measures.ts'

export interface JarLook {
  readonly atMs: number
  readonly small: { readonly alive: number; readonly slow: number; readonly dead: number }
  readonly large: { readonly alive: number; readonly slow: number; readonly dead: number }
}
export type JarState = 'no-look' | 'no-control' | 'void' | 'alive' | 'once-dead' | 'margin' | 'clear'
export interface JarVerdict {
  readonly state: JarState
  /** Share still moving at each look of the dosed jar, small and large apart; null where that size has none. */
  readonly curve: readonly { readonly hours: number; readonly small: number | null; readonly large: number | null }[]
  /** Instant from which the vessel may be changed and siphoned; null before both dead looks. */
  readonly clearMs: number | null
}
/** Two dead looks at least so far apart, and the margin after them, hours. @source handbook 50 §13 fen-end */
export const JAR_LOOKS_H = limitOf('jar-looks')
export const JAR_MARGIN_H = limitOf('jar-margin')

const HOUR = 3_600_000
const lookOf = (entry: TallyEntry): JarLook => {
  const at = (key: string) => entry.values[key] ?? 0
  return {
    atMs: entryMs(entry),
    small: { alive: at('small-alive'), slow: at('small-slow'), dead: at('small-dead') },
    large: { alive: at('large-alive'), slow: at('large-slow'), dead: at('large-dead') },
  }
}

/**
 * Reads the looks into the dosed jar and the undosed one. Clear: nothing of any size moved at two looks four hours
 * apart, the undosed jar was alive then, and the margin is over. Where the undosed jar died too, the test proves nothing.
 * @param startMs when the dose went in
 * @source handbook 50 §13
 */
export function jarVerdict(entries: readonly TallyEntry[], startMs: number, nowMs: number): JarVerdict {
  // A look that counted nobody is none: an empty jar proves nothing.
  const anybody = ({ values }: TallyEntry) => Object.values(values).some((count) => (count ?? 0) > 0)
  const sorted = entries.filter((entry) => entryMs(entry) >= startMs && entryMs(entry) <= nowMs && anybody(entry))
  const dosed = sorted.filter(({ piece }) => piece !== UNDOSED).map(lookOf)
  const control = sorted.filter(({ piece }) => piece === UNDOSED).map(lookOf)
  const moving = ({ alive, slow }: JarLook['small']) => alive + slow
  const share = (size: JarLook['small']) => {
    const all = moving(size) + size.dead
    return all === 0 ? null : moving(size) / all
  }
  const curve = dosed.map((look) => ({
    hours: (look.atMs - startMs) / HOUR,
    small: share(look.small),
    large: share(look.large),
  }))
  const answer = (state: JarState, clearMs: number | null = null): JarVerdict => ({ state, curve, clearMs })
  const last = dosed.at(-1)
  if (!last) return answer('no-look')
  const dead = (look: JarLook) => moving(look.small) + moving(look.large) === 0
  if (!dead(last)) return answer('alive')
  const undosed = control.at(-1)
  if (!undosed) return answer('no-control')
  if (dead(undosed)) return answer('void')
  // The first of the dead looks that stand in a row up to now.
  const firstDead = dosed.findLastIndex((look) => !dead(look)) + 1
  const second = dosed.slice(firstDead).find(({ atMs }) => atMs - dosed[firstDead]!.atMs >= JAR_LOOKS_H * HOUR)
  if (!second) return answer('once-dead')
  const clearMs = second.atMs + JAR_MARGIN_H * HOUR
  return answer(nowMs >= clearMs ? 'clear' : 'margin', clearMs)
}

export type RedoseSchool = 'hold' | 'full'
/**
 * What to add after a change: `hold` replaces what went out, `full` a whole dose as long as the ceiling allows it.
 * @param now level before the change, mg/L; @returns mg/L to add over the whole water, and the level it leads to
 * @source handbook 50 §13 fen-change
 */
export function redose(
  dose: number,
  now: number,
  fraction: number,
  ceiling: number,
  school: RedoseSchool,
): { readonly add: number; readonly level: number } {
  const left = now * (1 - fraction)
  const wished = school === 'hold' ? dose - left : dose
  const add = Math.max(0, Math.min(wished, ceiling - left))
  return { add, level: left + add }
}
