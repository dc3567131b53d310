// Third face of core: the demonstration record. Loaded only in the demonstration.
export { boxVolume, demoRecord, type DemoOptions } from './demo/demoRecord.ts'
export { DRAWN_PICTURES, type DrawnPicture } from './demo/demoPictures.ts'
