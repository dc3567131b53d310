// The slide bench's own arithmetic and its worker's client: a stopped run ends at once, whatever is asked of it afterwards.
import { describe, expect, jest, test } from '@jest/globals'
import { workingSize } from '../src/parts/slides/frameSource.ts'
import { SlideRun, type SlideMessage, type SlideReply } from '../src/workers/slideClient.ts'

function fakeWorker(answer: (message: SlideMessage) => SlideReply | null) {
  const worker = {
    onmessage: null as ((event: MessageEvent<SlideReply>) => void) | null,
    onerror: null as ((event: ErrorEvent) => void) | null,
    terminate: jest.fn(),
    postMessage(message: SlideMessage) {
      const reply = answer(message)
      if (reply) queueMicrotask(() => worker.onmessage?.({ data: reply } as MessageEvent<SlideReply>))
    },
  }
  return worker
}

describe('a run of the slide worker', () => {
  test('passes its pictures on in turn, and the rate with the end', async () => {
    const asked: SlideMessage[] = []
    const worker = fakeWorker((message) => {
      asked.push(message)
      return message.kind === 'begin'
        ? { kind: 'begun' }
        : message.kind === 'frame'
          ? { kind: 'read', bodies: 3 }
          : { kind: 'answer', answer: { leading: null } as never }
    })
    const run = new SlideRun(() => worker)
    await run.begin([], { width: 320, height: 240 }, { umPerPx: 1, fps: 10 })
    await run.frame({} as ImageBitmap)
    expect(await run.end(7.5)).toEqual({ leading: null })
    expect(asked.map(({ kind }) => kind)).toEqual(['begin', 'frame', 'end'])
    expect(asked.at(-1)).toEqual({ kind: 'end', fps: 7.5 })
  })
  test('says what went wrong', async () => {
    const run = new SlideRun(() => fakeWorker(() => ({ kind: 'failed', message: 'The clip was not begun.' })))
    await expect(run.frame({} as ImageBitmap)).rejects.toThrow('The clip was not begun.')
  })
  test('stopped, it ends what is under way and what is asked later', async () => {
    const worker = fakeWorker(() => null)
    const run = new SlideRun(() => worker)
    const waiting = run.frame({} as ImageBitmap)
    run.stop()
    await expect(waiting).rejects.toMatchObject({ name: 'AbortError' })
    await expect(run.frame({} as ImageBitmap)).rejects.toMatchObject({ name: 'AbortError' })
    expect(worker.terminate).toHaveBeenCalledTimes(1)
  })
})

describe('the size a frame is measured at', () => {
  test('fine pixels are made 1.1 µm, coarse ones stay, and the scale follows what was rounded', () => {
    // 1280 × 720 of half a micrometre: 582 × 327 of 1.0997.
    const fine = workingSize(1280, 720, 0.5)
    expect(fine).toMatchObject({ width: 582, height: 327 })
    expect(fine.umPerPx * fine.width).toBeCloseTo(640, 9)
    expect(workingSize(400, 300, 1.3)).toEqual({ width: 400, height: 300, umPerPx: 1.3 })
    // Never longer than 640, however coarse; never so small that a field is a stamp.
    expect(workingSize(3840, 2160, 1.2).width).toBe(640)
    expect(workingSize(1280, 720, 0.05).width).toBe(320)
  })
})
