// A clip is read the same whatever the machine does: frames left out while it played are sought.
import { describe, expect, it } from '@jest/globals'
import { FPS, played, type Shot } from '../src/parts/slides/frameSource.ts'

/** A clip of so many frames a second whose player shows only every so manieth frame while it plays. */
class Clip extends EventTarget {
  paused = true
  playbackRate = 1
  duration: number
  at = 0
  sought = 0
  handed = 0
  #times: number[]
  #asked: ((now: number, meta: { mediaTime: number }) => void)[] = []
  #skip: (shown: number, rate: number) => number

  constructor(times: number[], duration: number, skip: (shown: number, rate: number) => number = () => 1) {
    super()
    this.#times = times
    this.duration = duration
    this.#skip = skip
  }
  get currentTime() {
    return this.at
  }
  set currentTime(time: number) {
    this.at = time
    this.sought++
    queueMicrotask(() => this.dispatchEvent(new Event('seeked')))
  }
  shown() {
    return this.#times.findLast((time) => time <= this.at + 1e-9) ?? this.#times[0]!
  }
  requestVideoFrameCallback(call: (now: number, meta: { mediaTime: number }) => void) {
    this.#asked.push(call)
  }
  pause() {
    this.paused = true
  }
  async play() {
    this.paused = false
    void this.#run()
    return Promise.resolve()
  }
  async #run() {
    let shown = 0
    while (!this.paused) {
      await new Promise((resolve) => setTimeout(resolve))
      if (this.paused) return
      const here = this.#times.indexOf(this.shown())
      const next = shown === 0 && here === 0 && this.at === 0 ? 0 : here + this.#skip(shown, this.playbackRate)
      shown++
      if (next >= this.#times.length) {
        this.at = this.duration
        this.paused = true
        this.dispatchEvent(new Event('ended'))
        return
      }
      this.at = this.#times[next]!
      for (const call of this.#asked.splice(0)) call(0, { mediaTime: this.at })
    }
  }
}
const timesOf = (seconds: number, fps: number) => Array.from({ length: Math.round(seconds * fps) }, (_, i) => i / fps)

async function read(clip: Clip, seconds: number, stopAfter = Infinity) {
  const got: number[] = []
  const { fps } = await played(
    clip as unknown as HTMLVideoElement,
    seconds,
    (shot) => {
      got.push((shot as VideoFrame).timestamp / 1e6)
      return Promise.resolve()
    },
    () => got.length >= stopAfter,
    () => Promise.resolve({ timestamp: clip.shown() * 1e6, close: () => clip.handed++ } as unknown as Shot),
  )
  return { got, fps }
}
const every = (got: readonly number[]) => got.slice(1).map((time, i) => time - got[i]!)

describe('a clip is read as it is, whatever the machine does', () => {
  it('a machine that keeps up seeks nothing', async () => {
    const clip = new Clip(timesOf(4, 30), 4)
    const { got, fps } = await read(clip, 4)
    expect(got).toHaveLength(40)
    expect(clip.sought).toBe(0)
    expect(fps).toBeCloseTo(FPS, 5)
  })

  it.each([7, 12, 31])('every frame of the ten a second, where a player shows one in %d', async (skip) => {
    const clip = new Clip(timesOf(4, 30), 4, () => skip)
    const { got, fps } = await read(clip, 4)
    expect(got.length).toBeGreaterThanOrEqual(38)
    expect(Math.max(...every(got))).toBeLessThan(0.16)
    expect(Math.min(...every(got))).toBeGreaterThan(0.04)
    expect(got.at(-1)!).toBeGreaterThan(3.8)
    expect(Math.abs(fps - FPS)).toBeLessThan(0.5)
  })

  it('goes on slower, and then nothing more is left out', async () => {
    // Twice as fast it shows one in eight, at its own pace each.
    const clip = new Clip(timesOf(4, 30), 4, (_shown, rate) => (rate > 1 ? 8 : 1))
    const { got } = await read(clip, 4)
    expect(Math.max(...every(got))).toBeLessThan(0.16)
    expect(clip.playbackRate).toBe(1)
    expect(clip.sought).toBeLessThan(6)
  })

  it('a start and an end that were left out are sought too', async () => {
    let first = true
    const clip = new Clip(timesOf(2, 30), 2, () => {
      const jump = first ? 20 : 33
      first = false
      return jump
    })
    clip.at = 0.4
    const { got } = await read(clip, 2)
    expect(got[0]).toBe(0)
    expect(got.at(-1)!).toBeGreaterThan(1.8)
    expect(got.length).toBeGreaterThanOrEqual(19)
  })

  it('a clip of four frames a second is taken for what it is', async () => {
    const clip = new Clip(timesOf(5, 4), 5)
    const { got, fps } = await read(clip, 5)
    expect(got).toEqual(timesOf(5, 4))
    expect(fps).toBeCloseTo(4, 5)
    // Looked into once, at its first gap, and not at each.
    expect(clip.sought).toBeLessThan(8)
    expect(clip.playbackRate).toBe(2)
  })

  it('stopped, it takes no more and gives back what waits', async () => {
    const clip = new Clip(timesOf(4, 30), 4, () => 12)
    const { got } = await read(clip, 4, 5)
    expect(got).toHaveLength(5)
    expect(clip.paused).toBe(true)
  })
})
