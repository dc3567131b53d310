// Stand-ins for a microscope and for a camera over a patch: drawn with everything in them known, for practice and for tests.
export {
  slideFrame,
  slideScene,
  slideTruth,
  type SlidePlan,
  type SlideScene,
  type SlideTruth,
} from './world/microscope.ts'
export { patchScene, type PatchPlan, type PatchScene } from './world/patchScene.ts'
