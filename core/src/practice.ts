// Seventh face of core: practice. It holds the world in one hand and the judgement in the other, and nobody of either sees it.
export { practice as practiceTanks } from './generated/knowledge/practice.ts'
export type { PracticeTank } from './generated/practiceTypes.ts'
export {
  actOf,
  COURSE_ID,
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
  type Hand,
  type PracticeWorld,
  type Seen,
  type TruthPoint,
} from './practice/tank.ts'
export {
  calendarLife,
  exactLife,
  kept,
  outcomeOf,
  ownLife,
  type Outcome,
  type PracticeLife,
} from './practice/keepers.ts'
