// Frames of a clip, decoded by the browser: a video file or a recording by seeking, stills one by one. Nothing is kept whole.

/** A frame as it comes: of a video where the browser lends it out, else drawn. */
export type Shot = ImageBitmap | VideoFrame

export interface FrameSource {
  /** Size of the pictures as they were taken, px. */
  readonly width: number
  readonly height: number
  readonly frames: number
  readonly fps: number
  /** A frame drawn at a size. */
  picture(index: number, width: number, height: number): Promise<ImageBitmap>
  /**
   * All frames in order, each awaited before many more are drawn; answers how many a second they were. A video is played
   * and not sought: a browser would decode from the last whole picture for each.
   */
  play(
    width: number,
    height: number,
    each: (picture: Shot, index: number) => Promise<void>,
    stopped: () => boolean,
  ): Promise<{ readonly fps: number }>
  /** A frame as a picture that can be shown and kept. */
  still(index: number, width: number, height: number): Promise<Blob>
  close(): void
}

/** Frames a second that are looked at, and seconds of a clip that are. */
export const FPS = 10
export const MOST_SECONDS = 20
/** Pictures with more than this are not opened: they would fill the memory of a phone. */
export const MOST_PIXELS = 60_000_000
/** Longest wait for a browser that shows no frame, ms. */
const PATIENCE_MS = 8000

const NO_CLIP = 'This browser cannot play that clip. MP4 with H.264 or WebM work; or choose stills of it instead.'

export function canvasOf(width: number, height: number): [HTMLCanvasElement, CanvasRenderingContext2D] {
  const canvas = document.createElement('canvas')
  canvas.width = width
  canvas.height = height
  return [canvas, canvas.getContext('2d', { willReadFrequently: true })!]
}
export const blobOf = (canvas: HTMLCanvasElement): Promise<Blob> =>
  new Promise((resolve, reject) =>
    canvas.toBlob(
      (blob) => (blob ? resolve(blob) : reject(new Error('This browser could not keep the frame.'))),
      'image/jpeg',
      0.88,
    ),
  )
/** Drawn small by the browser itself; its bytes are read in the worker, where nobody waits for them. */
export const drawn = (image: ImageBitmapSource, width: number, height: number): Promise<ImageBitmap> =>
  createImageBitmap(image, { resizeWidth: width, resizeHeight: height, resizeQuality: 'medium' })

const happens = (target: EventTarget, name: string, fault: string): Promise<void> =>
  new Promise((resolve, reject) => {
    const timer = setTimeout(() => done(new Error(fault)), PATIENCE_MS)
    const done = (cause?: Error) => {
      clearTimeout(timer)
      target.removeEventListener(name, good)
      target.removeEventListener('error', bad)
      if (cause) reject(cause)
      else resolve()
    }
    const good = () => done()
    const bad = () => done(new Error(fault))
    target.addEventListener(name, good)
    target.addEventListener('error', bad)
  })

/** A clip in a file, or one that was just recorded. @throws Error with a sentence where it cannot be played. */
export async function videoSource(file: Blob): Promise<FrameSource> {
  const video = document.createElement('video')
  video.muted = true
  video.playsInline = true
  video.preload = 'auto'
  const url = URL.createObjectURL(file)
  try {
    const ready = happens(video, 'loadeddata', NO_CLIP)
    video.src = url
    await ready
    if (!Number.isFinite(video.duration)) {
      // A recording knows its length only when its end was looked for.
      const known = happens(video, 'durationchange', NO_CLIP)
      video.currentTime = 1e7
      await known
    }
    if (video.videoWidth === 0 || !(video.duration > 0)) throw new Error(NO_CLIP)
  } catch (cause) {
    URL.revokeObjectURL(url)
    throw cause
  }
  const seconds = Math.min(MOST_SECONDS, video.duration)
  const to = async (index: number) => {
    // The middle of the frame's time: the edge of two frames shows either.
    const time = Math.min(video.duration - 0.001, (index + 0.5) / FPS)
    if (Math.abs(video.currentTime - time) < 0.001) return
    const there = happens(video, 'seeked', NO_CLIP)
    video.currentTime = time
    await there
  }
  return {
    width: video.videoWidth,
    height: video.videoHeight,
    frames: Math.max(1, Math.floor(seconds * FPS)),
    fps: FPS,
    async picture(index, width, height) {
      await to(index)
      return drawn(video, width, height)
    },
    play: (_width, _height, each, stopped) => played(video, seconds, each, stopped),
    async still(index, width, height) {
      await to(index)
      const [canvas, context] = canvasOf(width, height)
      context.drawImage(video, 0, 0, width, height)
      return blobOf(canvas)
    },
    close() {
      video.removeAttribute('src')
      video.load()
      URL.revokeObjectURL(url)
    },
  }
}

/**
 * The frame that a video shows. A browser that draws it keeps megabytes of every one for a while; one that lends its own
 * does not. A clip that lies turned or stretched in its file is drawn all the same, as it is seen.
 */
function shotOf(video: HTMLVideoElement): Promise<Shot> {
  if (typeof VideoFrame === 'undefined') return createImageBitmap(video)
  let frame: VideoFrame | null = null
  try {
    frame = new VideoFrame(video)
    frame.allocationSize({ format: 'RGBA' })
    if (frame.displayWidth === video.videoWidth && frame.displayHeight === video.videoHeight)
      return Promise.resolve(frame)
  } catch {
    // It cannot give its colours: it is drawn.
  }
  frame?.close()
  return createImageBitmap(video)
}

/** Frames that may wait for the worker before the clip is held. */
const WAITING = 4
/** How fast a clip is played while it is read at first, and at the slowest. */
const RATE = 2
const SLOWEST = 0.25
/** A frame is due when this share of its time is over, and missed when this many times of it are. */
const DUE = 0.8 / FPS
const MISSED = 1.6 / FPS
/** Longest time between two frames that a clip is believed to have by itself, s. */
const LONGEST_OWN = 0.5
/** When the frame was taken, s of the clip: the frame's own word where it has one. */
const timeOf = (shot: Shot, asked: number): number =>
  'timestamp' in shot && Number.isFinite(shot.timestamp) ? shot.timestamp / 1e6 : asked
/**
 * Plays a clip and hands its frames over, {@link FPS} a second of it. A machine that is busy leaves frames out while it
 * plays: those are sought one by one and the clip goes on slower, so what is measured is of the clip and not of the machine.
 * Only where the clip itself holds no frame is one left out.
 * @throws Error with a sentence where no frame comes for long.
 */
export async function played(
  video: HTMLVideoElement,
  seconds: number,
  each: (picture: Shot, index: number) => Promise<void>,
  stopped: () => boolean,
  shoot: (video: HTMLVideoElement) => Promise<Shot> = shotOf,
): Promise<{ fps: number }> {
  const waiting: Promise<Shot>[] = []
  const times: number[] = []
  let over = false
  /** Up to where frames were left out, s; nothing is taken from the playing until they were sought. */
  let missed: number | null = null
  /** How far the clip was read, s, and the longest it stood still by itself. */
  let read = -1 / FPS
  let own = 0
  let wake: () => void = () => {}
  const gapAt = (time: number) => time - read > Math.max(MISSED, 1.25 * own)
  const seek = async (time: number) => {
    if (Math.abs(video.currentTime - time) < 0.001) return
    const there = happens(video, 'seeked', NO_CLIP)
    video.currentTime = time
    await there
  }
  video.pause()
  await seek(0)
  const frame = (_now: number, { mediaTime }: { readonly mediaTime: number }) => {
    if (over) return
    if (missed === null) {
      const past = mediaTime >= seconds
      if (gapAt(Math.min(mediaTime, seconds))) {
        missed = Math.min(mediaTime, seconds)
        video.pause()
      } else if (past) over = true
      else if (mediaTime - read >= DUE) {
        // As it is: made small in the worker, where nobody waits.
        waiting.push(shoot(video))
        times.push(mediaTime)
        read = mediaTime
        if (waiting.length >= WAITING) video.pause()
      }
      wake()
    }
    if (!over) video.requestVideoFrameCallback(frame)
  }
  const ended = () => {
    if (missed === null && gapAt(seconds)) missed = seconds
    else if (missed === null) over = true
    wake()
  }
  let count = 0
  /** The frames that were left out, each sought; answers how many there were. */
  const fill = async (until: number) => {
    const before = count
    for (let want = read + 1 / FPS; want < until - 0.2 / FPS && !stopped(); want += 1 / FPS) {
      await seek(Math.min(want + 0.001, video.duration - 0.001))
      const shot = await shoot(video)
      const time = timeOf(shot, want)
      // The clip shows the frame before for longer: it has no other.
      if (time - read < 0.5 / FPS) {
        shot.close()
        continue
      }
      times.push(time)
      read = time
      await each(shot, count++)
    }
    return count - before
  }
  video.requestVideoFrameCallback(frame)
  video.addEventListener('ended', ended)
  video.playbackRate = RATE
  await video.play()
  try {
    for (;;) {
      if (stopped()) break
      const next = waiting.shift()
      if (next) {
        await each(await next, count++)
        if (video.paused && !over && missed === null && waiting.length < WAITING / 2) await video.play()
      } else if (missed !== null) {
        const until: number = missed
        const from = read
        if ((await fill(until)) > 0) video.playbackRate = Math.max(SLOWEST, video.playbackRate / 2)
        // A clip of few frames a second, which is not looked into at each of them; one long halt tells nothing of the rest.
        else own = Math.min(LONGEST_OWN, until - from)
        read = Math.max(read, until - 1 / FPS)
        missed = null
        over = until >= seconds
        if (!over && !stopped()) await video.play()
      } else if (over) break
      else
        await new Promise<void>((resolve, reject) => {
          const timer = setTimeout(() => reject(new Error(NO_CLIP)), PATIENCE_MS)
          wake = () => {
            clearTimeout(timer)
            resolve()
          }
        })
    }
  } finally {
    // However it ends: no frame is asked for any more, and those that were lent go back, or the next playing waits for them.
    over = true
    video.removeEventListener('ended', ended)
    video.pause()
    for (const left of waiting) void left.then((shot) => shot.close())
  }
  const span = (times.at(-1) ?? 0) - (times[0] ?? 0)
  return { fps: times.length > 1 && span > 0 ? (times.length - 1) / span : FPS }
}

/** Pictures one by one, as they are. */
export const stepwise =
  (frames: number, fps: number, picture: FrameSource['picture']): FrameSource['play'] =>
  async (width, height, each, stopped) => {
    for (let f = 0; f < frames && !stopped(); f++) await each(await picture(f, width, height), f)
    return { fps }
  }

/** Stills of one view, in the order of their names. @throws Error with a sentence that names the picture. */
export async function stillsSource(files: readonly File[], fps: number): Promise<FrameSource> {
  const list = [...files].sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }))
  const open = async (file: File): Promise<ImageBitmap> => {
    try {
      return await createImageBitmap(file)
    } catch (cause) {
      throw new Error(`${file.name} is no picture that this browser can read. JPEG, PNG and WebP work.`, { cause })
    }
  }
  const first = await open(list[0]!)
  const { width, height } = first
  first.close()
  if (width * height > MOST_PIXELS)
    throw new Error(
      `${list[0]!.name} has ${Math.round((width * height) / 1e6)} million pixels. Make it smaller first: twelve million are plenty.`,
    )
  const bitmapOf = async (index: number): Promise<ImageBitmap> => {
    const file = list[index]!
    const bitmap = await open(file)
    if (bitmap.width === width && bitmap.height === height) return bitmap
    bitmap.close()
    throw new Error(
      `${file.name} is ${bitmap.width} × ${bitmap.height}, and the first picture ${width} × ${height}: all must be of one view.`,
    )
  }
  const picture: FrameSource['picture'] = async (index, w, h) => {
    const bitmap = await bitmapOf(index)
    const found = await drawn(bitmap, w, h)
    bitmap.close()
    return found
  }
  return {
    width,
    height,
    frames: list.length,
    fps,
    picture,
    play: stepwise(list.length, fps, picture),
    async still(index, w, h) {
      const bitmap = await bitmapOf(index)
      const [canvas, context] = canvasOf(w, h)
      context.drawImage(bitmap, 0, 0, w, h)
      bitmap.close()
      return blobOf(canvas)
    },
    close() {},
  }
}

/** What was chosen, as frames: one video, or pictures. */
export function sourceOf(files: readonly File[], fps: number): Promise<FrameSource> {
  const clip = files.find(
    (file) => file.type.startsWith('video/') || /\.(mp4|webm|mov|m4v|ogv|avi|mkv)$/i.test(file.name),
  )
  if (clip) {
    if (files.length > 1) throw new Error('One clip at a time, or pictures alone.')
    return videoSource(clip)
  }
  return stillsSource(files, fps)
}

/** A size for looking: no pixel finer than this, µm, and no side longer than this, px. */
const FINEST_UM = 1.1
const LONGEST = 640
/** How large a frame is drawn for measuring, and what a pixel of it is. */
export function workingSize(
  width: number,
  height: number,
  umPerPx: number,
): { readonly width: number; readonly height: number; readonly umPerPx: number } {
  const scale = Math.min(
    1,
    Math.max(umPerPx / FINEST_UM, 320 / Math.max(width, height)),
    LONGEST / Math.max(width, height),
  )
  const w = Math.max(16, Math.round(width * scale))
  const h = Math.max(16, Math.round(height * scale))
  return { width: w, height: h, umPerPx: (umPerPx * width) / w }
}
