// Slides and pictures measured: used by the application's slide worker, its slide page and the commands that test both.
export {
  genusTitle,
  leadingOf,
  OBJECT_CLASSES,
  slideClassesOf,
  slideCount,
  type SlideCorrections,
} from './imaging/slideCount.ts'
export { SlideReader, type ClipMeta, type SlideAnswer, type SlideObject } from './imaging/slide.ts'
export { GENERA, type ObjectClass } from './imaging/genera.ts'
export { fieldOf } from './imaging/light.ts'
export { channelsOf, shrunk, type Picture } from './imaging/frame.ts'
