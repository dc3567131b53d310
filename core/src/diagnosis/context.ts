// What the record says by itself: readings, arrivals and changes turned into answers, each with its words.
import { limitOf } from '../knowledge/limits.ts'
import type { Pool } from '../knowledge/conditions.ts'
import { signsOf } from '../knowledge/conditions.ts'
import { agreementRule } from '../record/compared.ts'
import { agrees } from '../trends/agreement.ts'
import { freeFromTotal } from '../water/ammonia.ts'
import type { Evidence, Recent } from './rank.ts'

/** Facts of the water and its history, as a record or a case file supplies them; left out is unknown. */
export interface WaterContext {
  readonly daysSinceArrival?: number
  /** Total ammonia, mg/L of N. */
  readonly tanMgPerL?: number
  /** Free ammonia as a badge or kit shows it, mg/L of N. */
  readonly freeAmmoniaMgPerL?: number
  readonly ph?: number
  readonly tempC?: number
  readonly salinityPsu?: number
  readonly no3MgPerL?: number
  readonly po4MgPerL?: number
  readonly nitriteMgPerL?: number
  readonly copperMgPerL?: number
  /** Ceiling of the copper that runs here, mg/L; that of free copper where none runs. */
  readonly copperCeilingMgPerL?: number
  readonly silicateMgPerL?: number
  readonly recent?: readonly Recent[]
}
export interface Flow extends Evidence {
  /** Why the record says so, with numbers and units. */
  readonly words: string
}

/** Free ammonia over which fish are harmed, mg/L of NH3-N. @source handbook 30 §2.4 hist-ammonia-high */
export const FREE_AMMONIA = limitOf('free-ammonia-today')
const FREE_COPPER_CEILING = limitOf('copper-ceiling-unknown')
const AMMONIA_RULE = agreementRule('ammonia')
const plain = (value: number) => ({ by: '', value, sd: 0 })

/** Answers the record gives for a pool. Pure; only signs that the pool knows. */
export function contextEvidence(pool: Pool, context: WaterContext): Flow[] {
  const known = new Set(signsOf(pool).map(({ id }) => id))
  const found: Flow[] = []
  const say = (sign: string, yes: boolean, words: string) => {
    if (known.has(sign)) found.push({ sign, answer: yes ? 'yes' : 'no', words })
  }
  const { tanMgPerL: tan, ph, tempC, no3MgPerL: no3, po4MgPerL: po4, daysSinceArrival: days } = context
  // Two instruments for one thing: both brought to free ammonia as N, the cautious one rules.
  const shown = context.freeAmmoniaMgPerL
  const worked =
    tan === undefined || ph === undefined
      ? undefined
      : freeFromTotal(tan, {
          phNbs: ph,
          tempC: tempC ?? 25,
          salinityPsu: context.salinityPsu ?? (pool.endsWith('fresh') ? 0 : 35),
        })
  if (shown !== undefined || worked !== undefined) {
    const words = [
      ...(worked === undefined
        ? []
        : [`Free ammonia ${worked.toFixed(3)} mg/L of N, from ${tan} mg/L in all at pH ${ph}.`]),
      ...(shown === undefined ? [] : [`Free ammonia ${shown} mg/L of N as read.`]),
      ...(shown !== undefined && worked !== undefined && !agrees(plain(shown), plain(worked), AMMONIA_RULE)
        ? ['The two do not agree: the higher rules until a third reading.']
        : []),
    ]
    say('hist-ammonia-high', Math.max(shown ?? 0, worked ?? 0) >= FREE_AMMONIA, words.join(' '))
  } else if (tan !== undefined && tan <= FREE_AMMONIA) {
    say('hist-ammonia-high', false, `Ammonia ${tan} mg/L in all: no share of it can be too much.`)
  }
  if (context.nitriteMgPerL !== undefined)
    say('hist-nitrite-high', context.nitriteMgPerL >= 1, `Nitrite ${context.nitriteMgPerL} mg/L.`)
  if (context.copperMgPerL !== undefined) {
    const ceiling = context.copperCeilingMgPerL ?? FREE_COPPER_CEILING
    say(
      'hist-copper-high',
      context.copperMgPerL > ceiling,
      `Copper ${context.copperMgPerL} mg/L; the ceiling here is ${ceiling} mg/L.`,
    )
  }
  if (no3 !== undefined && po4 !== undefined) {
    const words = `Nitrate ${no3} mg/L and phosphate ${po4} mg/L.`
    const bottomed = no3 < 1 && po4 < 0.02
    const high = pool.endsWith('fresh') ? no3 > 50 : no3 > 25 || po4 > 0.2
    say('nutrients-bottomed', bottomed, words)
    if (bottomed || !high) say('h-nutrients-bottomed', bottomed, words)
    if (high || !bottomed) say('h-nutrients-high', high, words)
  }
  if (context.silicateMgPerL !== undefined)
    say('h-silicate', context.silicateMgPerL > 0.5, `Silicate ${context.silicateMgPerL} mg/L.`)
  if (tempC !== undefined) say('temp-high-7d', tempC >= 29, `${tempC} °C.`)
  if (days !== undefined) {
    const words = days === 0 ? 'Something came in today.' : `The newest came in ${Math.round(days)} days ago.`
    say('new-arrival-14d', days <= 14, words)
    say('new-arrival-30d', days <= 30, words)
  }
  const recent = new Set(context.recent ?? [])
  if (recent.has('light-raised')) say('light-up-14d', true, 'The light was raised lately.')
  if (recent.has('rock-removed')) say('h-disturbed-60d', true, 'Rock was taken out lately.')
  else if (recent.has('blackout-ended')) say('h-disturbed-60d', true, 'A dark period ended lately.')
  return found
}
