// The microscope stand-in: fields drawn with everything in them known, for practice slides and for the commands that test.
export {
  slideFrame,
  slideScene,
  slideTruth,
  type SlidePlan,
  type SlideScene,
  type SlideTruth,
} from './world/microscope.ts'
