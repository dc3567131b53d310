// Fifth face of core: the simulated house behind stand-ins, practice and tests. Never behind a judgement.
export { chanceFrom, type Chance } from './world/random.ts'
export { change, hour, MIXES, tankOf, trulyIn, type Tank, type Truth } from './world/tank.ts'
export { answerOfLaboratory, type LaboratoryOrder } from './world/laboratory.ts'
export {
  slideFrame,
  slideScene,
  slideTruth,
  type SlidePlan,
  type SlideScene,
  type SlideTruth,
} from './world/microscope.ts'
export { patchScene, type PatchPlan, type PatchScene } from './world/patchScene.ts'
export { fishScene, type FishPlan, type FishScene } from './world/fishScene.ts'
