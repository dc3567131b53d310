// Seventh face of core: practice. It holds the world in one hand and the judgement in the other, and nobody of either sees it.
export { practice as practiceTanks } from './generated/knowledge/practice.ts'
export type { PracticeTank } from './generated/practiceTypes.ts'
export {
  actOf,
  ARRIVAL_ID,
  bagId,
  bagShows,
  COURSE_ID,
  DKH_PER_MEQ,
  dropOf,
  handOf,
  kitShows,
  lookAt,
  practiceRecord,
  practiceWorld,
  TANK_ID,
  truthNow,
  worldAt,
  type Begun,
  type Cause,
  type Hand,
  type PracticeWorld,
  type Seen,
  type TruthPoint,
} from './practice/tank.ts'
export {
  calendarLife,
  exactLife,
  kept,
  measureOf,
  outcomeOf,
  ownLife,
  type BagTrace,
  type Outcome,
  type PracticeLife,
} from './practice/keepers.ts'
export { beliefOf, debriefOf, type Belief, type Debrief, type Decision } from './practice/debrief.ts'
export {
  brierOf,
  calibrationOf,
  dropOfCase,
  lookCase,
  looksToChoose,
  MOST_LOOKS,
  namesToChoose,
  rankingOf,
  signWords,
  type LookAnswer,
  type LookCase,
} from './practice/looks.ts'
export { checkDrill, drillOf, DRILLS, DRILL_TITLES, type Drill, type DrillKind } from './practice/drills.ts'
export { practiceFault } from './practice/check.ts'
