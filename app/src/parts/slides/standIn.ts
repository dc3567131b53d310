// Practice slides and patches: drawn by the stand-ins in a worker of their own, with what they hold told only afterwards.
import type { Picture } from '@brinvo/core/imaging'
import type { FishScene, PatchScene, SlidePlan, SlideTruth } from '@brinvo/core/world'
import { blobOf, canvasOf, drawn, stepwise, type FrameSource } from './frameSource.ts'
import type { PracticeMessage } from './standIn.worker.ts'

export type { FishScene, PatchScene, SlideTruth }

export interface PracticeSlide {
  readonly source: FrameSource
  readonly umPerPx: number
  readonly truth: SlideTruth
}
/** What a practice slide is drawn with: one genus, two about as many, or whatever comes. */
export type PracticeKind = 'one' | 'two' | 'any'
const GENERA_OF: Readonly<Record<PracticeKind, Readonly<Record<string, number>> | undefined>> = {
  one: { ostreopsis: 30 },
  two: { coolia: 20, prorocentrum: 20 },
  any: undefined,
}

/** Clips of the demonstration: a drop of Longshore's sand three weeks ago and now, and one that cannot be told. */
export const DEMO_CLIPS = [
  { id: 'then', label: 'The sand, three weeks ago', plan: { seed: 2, genera: { 'amphidinium-large': 24 } } },
  { id: 'now', label: 'The sand, this week', plan: { seed: 1, genera: { 'amphidinium-large': 9 } } },
  {
    id: 'held',
    label: 'The glass, held by hand',
    plan: { seed: 1, level: 'hard', genera: { coolia: 6, prorocentrum: 6 } },
  },
] as const

/** Asks the drawing worker, one thing at a time. */
export function practiceWorker(): {
  readonly ask: <T>(message: PracticeMessage) => Promise<T>
  readonly close: () => void
} {
  const worker = new Worker(new URL('./standIn.worker.ts', import.meta.url), { type: 'module' })
  return {
    ask: <T>(message: PracticeMessage) =>
      new Promise<T>((resolve, reject) => {
        worker.onmessage = ({ data }: MessageEvent<T>) => resolve(data)
        worker.onerror = (event) => reject(new Error(event.message || 'The practice picture could not be drawn.'))
        worker.postMessage(message)
      }),
    close: () => worker.terminate(),
  }
}
/** A drawn picture on a canvas. */
export function canvasWith({ width, height, data }: Picture): HTMLCanvasElement {
  const [canvas, context] = canvasOf(width, height)
  const image = context.createImageData(width, height)
  for (let i = 0, p = 0; i < image.data.length; i += 4, p += 3) {
    image.data[i] = data[p]!
    image.data[i + 1] = data[p + 1]!
    image.data[i + 2] = data[p + 2]!
    image.data[i + 3] = 255
  }
  context.putImageData(image, 0, 0)
  return canvas
}

/** A slide drawn by the stand-in: what it holds is known, and told only after it was measured. */
export function practiceSource(seed: number, kind: PracticeKind): Promise<PracticeSlide> {
  const genera = GENERA_OF[kind]
  return drawnSlide({ seed, ...(genera ? { genera } : {}) })
}
/** A slide of a plan: its size and speed are those of every practice slide. */
export async function drawnSlide(
  plan: Pick<SlidePlan, 'seed' | 'genera'> & { readonly level?: SlidePlan['level'] },
): Promise<PracticeSlide> {
  const { ask, close } = practiceWorker()
  const [width, height, fps] = [480, 360, 8]
  const { frames, umPerPx, truth } = await ask<{ frames: number; umPerPx: number; truth: SlideTruth }>({
    kind: 'begin',
    plan: { level: 'usual', width, height, fps, seconds: 5, ...plan },
  })
  const canvasFor = async (index: number) => canvasWith(await ask<Picture>({ kind: 'frame', index }))
  const picture: FrameSource['picture'] = async (index, w, h) => drawn(await canvasFor(index), w, h)
  return {
    umPerPx,
    truth,
    source: {
      width,
      height,
      frames,
      fps,
      picture,
      play: stepwise(frames, fps, picture),
      async still(index, w, h) {
        const [canvas, context] = canvasOf(w, h)
        context.drawImage(await canvasFor(index), 0, 0, w, h)
        return blobOf(canvas)
      },
      close,
    },
  }
}
