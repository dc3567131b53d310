// Seventh face of core: practice. It holds the world in one hand and the judgement in the other, and nobody of either sees it.
export { practice as practiceTanks } from './generated/knowledge/practice.ts'
export type { PracticeTank } from './generated/practiceTypes.ts'
export { ARRIVAL_ID, bagId, COURSE_ID, DKH_PER_MEQ, practiceRecord, TANK_ID, type Begun } from './practice/house.ts'
export { bagShows, countsOf, dropOf, kitShows, lookAt, standardShows, type Seen } from './practice/eyes.ts'
export {
  actOf,
  handOf,
  practiceWorld,
  truthNow,
  worldAt,
  type Cause,
  type Hand,
  type PracticeWorld,
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
