// Who uses the alkalinity: each user by name, what the record says for it or against it, and the look that would tell.
import { causes as TABLES } from '../generated/knowledge/causes.ts'
import { groupOf } from '../knowledge/agents.ts'
import { limitOf } from '../knowledge/limits.ts'
import type { ActiveLedger, Analyte, KeeperRecord } from '../record/types.ts'
import { residentsIn } from '../record/whereabouts.ts'
import { entryMs, instantMs } from '../time/time.ts'
import type { Cause } from './causes.ts'
import type { WaterLine } from './waterLines.ts'

export interface AlkalinityUser {
  readonly cause: Cause
  /** What the record says: for it, against it, or nothing that would tell. */
  readonly speaks: 'for' | 'against' | 'open'
  /** Why, with the numbers behind it. */
  readonly words: string
}

const USERS = TABLES.find(({ id }) => id === 'alkalinity-use')!.causes
const DAY = 86_400_000
/** Readings older than this say nothing of what goes on now, ms. */
const FRESH = limitOf('alk-use-fresh') * DAY
/** Under this nothing is used that would need a user, dKH a day. */
const NOTHING = limitOf('alk-use-nothing')

const counted = (value: number, one: string, more: string): string => `${value} ${value === 1 ? one : more}`
const said = (value: number): string => String(Number(value.toPrecision(2)))

/**
 * The users of alkalinity in a vessel, those that the record speaks for first; empty while alkalinity does not fall.
 * Skeleton takes 7.15 mg/L of calcium with each dKH, nitrification 0.09 dKH with each mg/L of nitrate and no calcium.
 * @param lines of the vessel, from `waterLines` @source handbook 65 §8.1; 40 §9
 */
export function alkalinityUsers(
  lines: readonly WaterLine[],
  record: KeeperRecord,
  active: ActiveLedger,
  vesselId: string,
  nowMs: number,
): readonly AlkalinityUser[] {
  const of = (analyte: Analyte) => lines.find((line) => line.analyte === analyte)
  const alkalinity = of('alkalinity')
  if (!alkalinity?.moves) return []
  const used = alkalinity.use?.perDay ?? -alkalinity.moves.perDay
  if (used <= NOTHING) return []
  const sure = alkalinity.use?.sure ?? alkalinity.moves.sure
  const perDay = (line: WaterLine | undefined) =>
    line?.moves ? { fall: line.use?.perDay ?? -line.moves.perDay, sure: line.use?.sure ?? line.moves.sure } : null
  const calcium = perDay(of('calcium'))
  const goes = limitOf('alk-calcium') * used
  const ratio = calcium === null ? null : calcium.fall / goes
  const off = limitOf('alk-ratio-off')
  const withCalcium = ratio === null ? null : ratio >= 1 / off && ratio <= off
  const calciumWords =
    calcium === null
      ? 'Calcium was not tested often enough: it would tell.'
      : `Calcium ${calcium.fall >= 0 ? 'falls' : 'rises'} by ${said(Math.abs(calcium.fall))} mg/L a day; skeleton would take ${said(goes)}.`
  const corals = residentsIn(record, active, vesselId, nowMs)
    .filter(({ body }) => ['hg-coral', 'hg-clam'].includes(body.group) || groupOf(body.group)?.kind === 'coral')
    .reduce((sum, { body }) => sum + body.count, 0)
  const vessel = record.vessels.get(vesselId)
  const startedAt = vessel?.body.startedAt
  const ageDays = startedAt === undefined ? null : (nowMs - instantMs(startedAt)) / DAY
  const young = ageDays !== null && ageDays < limitOf('alk-young')
  const nitrate = perDay(of('nitrate'))
  const rise = nitrate === null ? null : -nitrate.fall
  const nitrified = rise === null ? null : Math.max(0, rise) * limitOf('alk-nitrate')
  const fresh = (analyte: Analyte): number | null => {
    const line = of(analyte)
    return line && nowMs - entryMs(line.last) <= FRESH ? line.last.value : null
  }
  const ph = fresh('ph')
  const calciumNow = fresh('calcium')
  const chalk =
    (ph !== null && ph >= limitOf('alk-chalk-ph')) ||
    (alkalinity.last.value >= limitOf('alk-chalk-dkh') &&
      calciumNow !== null &&
      calciumNow >= limitOf('alk-chalk-calcium'))
  const answers: Readonly<Record<string, Omit<AlkalinityUser, 'cause'>>> = {
    'au-test': sure
      ? { speaks: 'against', words: `${said(used)} dKH a day is more than the kit scatters over these tests.` }
      : { speaks: 'for', words: `${said(used)} dKH a day is within what the kit scatters over these tests.` },
    'au-skeleton':
      corals === 0
        ? { speaks: 'against', words: 'No coral and no clam is on record here.' }
        : withCalcium === null
          ? {
              speaks: 'open',
              words: `${counted(corals, 'coral or clam', 'corals and clams')} on record. ${calciumWords}`,
            }
          : {
              speaks: withCalcium ? 'for' : 'against',
              words: `${counted(corals, 'coral or clam', 'corals and clams')} on record. ${calciumWords}`,
            },
    'au-coralline':
      withCalcium === false && ratio! < 1
        ? { speaks: 'against', words: calciumWords }
        : withCalcium === true && (young || corals === 0)
          ? {
              speaks: 'for',
              words: `${calciumWords} ${corals === 0 ? 'No coral is on record.' : `The system is ${Math.round(ageDays! / 30)} months old.`}`,
            }
          : { speaks: 'open', words: calciumWords },
    'au-nitrification':
      nitrified === null
        ? { speaks: 'open', words: 'Nitrate was not tested often enough: it would tell.' }
        : {
            speaks: nitrified / used >= limitOf('alk-share') ? 'for' : 'against',
            words:
              rise! <= 0
                ? 'Nitrate does not rise.'
                : `Nitrate rises by ${said(rise!)} mg/L a day, which takes ${said(nitrified)} dKH of the ${said(used)}.`,
          },
    'au-precipitation': chalk
      ? {
          speaks: 'for',
          words:
            ph !== null && ph >= limitOf('alk-chalk-ph')
              ? `pH ${ph} was read.`
              : `Alkalinity ${said(alkalinity.last.value)} dKH beside calcium ${calciumNow} mg/L.`,
        }
      : ph === null && calciumNow === null
        ? { speaks: 'open', words: 'Neither pH nor calcium was read in the last two weeks.' }
        : {
            speaks: 'against',
            words: 'pH, or alkalinity with calcium, lies below the lines from which chalk is feared.',
          },
  }
  const rank = { for: 0, open: 1, against: 2 }
  return USERS.flatMap((cause) => {
    const answer = answers[cause.id]
    return answer ? [{ cause, ...answer }] : []
  }).sort((a, b) => rank[a.speaks] - rank[b.speaks] || b.cause.weight - a.cause.weight)
}
