// Draws practice slides, frame by frame, with what they hold known.
import { slideFrame, slideScene, slideTruth, type SlidePlan, type SlideScene } from '@brinvo/core/microscope'

export type PracticeMessage =
  { readonly kind: 'begin'; readonly plan: SlidePlan } | { readonly kind: 'frame'; readonly index: number }
let scene: SlideScene | null = null
self.onmessage = ({ data }: MessageEvent<PracticeMessage>) => {
  if (data.kind === 'begin') {
    scene = slideScene(data.plan)
    self.postMessage({ frames: scene.frames, umPerPx: scene.umPerPx, truth: slideTruth(scene) })
  } else if (scene) {
    const picture = slideFrame(scene, data.index)
    self.postMessage(picture, { transfer: [picture.data.buffer as ArrayBuffer] })
  }
}
