// Draws practice slides, frame by frame, and practice patches, with what they hold known.
import {
  patchScene,
  slideFrame,
  slideScene,
  slideTruth,
  type PatchPlan,
  type SlidePlan,
  type SlideScene,
} from '@brinvo/core/world'

export type PracticeMessage =
  | { readonly kind: 'begin'; readonly plan: SlidePlan }
  | { readonly kind: 'frame'; readonly index: number }
  | { readonly kind: 'patch'; readonly plan: PatchPlan }
let scene: SlideScene | null = null
self.onmessage = ({ data }: MessageEvent<PracticeMessage>) => {
  if (data.kind === 'begin') {
    scene = slideScene(data.plan)
    self.postMessage({ frames: scene.frames, umPerPx: scene.umPerPx, truth: slideTruth(scene) })
  } else if (data.kind === 'patch') self.postMessage(patchScene(data.plan))
  else if (scene) {
    const picture = slideFrame(scene, data.index)
    self.postMessage(picture, { transfer: [picture.data.buffer as ArrayBuffer] })
  }
}
