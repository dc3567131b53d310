// Draws practice slides, frame by frame, and practice patches, with what they hold known.
import {
  fishScene,
  patchScene,
  slideFrame,
  slideScene,
  slideTruth,
  type FishPlan,
  type PatchPlan,
  type SlidePlan,
  type SlideScene,
} from '@brinvo/core/world'

export type PracticeMessage =
  | { readonly kind: 'begin'; readonly plan: SlidePlan }
  | { readonly kind: 'frame'; readonly index: number }
  | { readonly kind: 'patch'; readonly plan: PatchPlan }
  | { readonly kind: 'fish'; readonly plan: FishPlan }
let scene: SlideScene | null = null
self.onmessage = ({ data }: MessageEvent<PracticeMessage>) => {
  if (data.kind === 'begin') {
    scene = slideScene(data.plan)
    self.postMessage({ frames: scene.frames, umPerPx: scene.umPerPx, truth: slideTruth(scene) })
  } else if (data.kind === 'patch') self.postMessage(patchScene(data.plan))
  else if (data.kind === 'fish') self.postMessage(fishScene(data.plan))
  else if (scene) {
    const picture = slideFrame(scene, data.index)
    self.postMessage(picture, { transfer: [picture.data.buffer as ArrayBuffer] })
  }
}
