// npm run slides -- DIR: every clip folder of DIR is analysed from its frames alone and held against its truth.
// npm run slides -- --simulate N --seed S: the same with N clips from the microscope stand-in; --level, --fault, --frames W×H,
// --out DIR to keep them, --only I for the one of that number.
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { encode } from 'fast-png'
import { slideCount } from '../src/imaging/slideCount.ts'
import { SlideReader, type ClipMeta, type SlideAnswer } from '../src/imaging/slide.ts'
import type { Picture } from '../src/imaging/frame.ts'
import { asked, folder, given, readPicture } from './args.ts'
import {
  slideFrame,
  slideScene,
  slideTruth,
  type SlideLevel,
  type SlidePlan,
  type SlideTruth,
} from '../src/world/microscope.ts'

type Truth = Pick<SlideTruth, 'counts' | 'leading' | 'genera' | 'objects'>
interface Clip {
  readonly name: string
  readonly meta: ClipMeta
  readonly truth: Truth
  readonly frames: number
  frame(index: number): Picture
}
const simulate = Number(given('simulate') ?? 0)
if (simulate === 0 && (folder === undefined || !existsSync(folder))) {
  console.error('npm run slides -- DIR, or -- --simulate N --seed S: a folder of clips or a number of them is needed.')
  process.exit(2)
}
const talks = asked('objects')

function clipsOf(folder: string): Clip[] {
  return readdirSync(folder)
    .filter((name) => existsSync(join(folder, name, 'meta.json')) && existsSync(join(folder, name, 'truth.json')))
    .sort()
    .map((name) => {
      const files = readdirSync(join(folder, name))
        .filter((file) => /^frame-\d+\.png$/.test(file))
        .sort()
      return {
        name,
        meta: JSON.parse(readFileSync(join(folder, name, 'meta.json'), 'utf8')) as ClipMeta,
        truth: JSON.parse(readFileSync(join(folder, name, 'truth.json'), 'utf8')) as Truth,
        frames: files.length,
        frame: (i) => readPicture(join(folder, name, files[i]!)),
      }
    })
}
const FAULTS = ['blur', 'drift', 'shake', 'half-light'] as const
function simulated(count: number, seed: number): Clip[] {
  const [width, height] = (given('frames') ?? '400x300').split('x').map(Number) as [number, number]
  const level = given('level') as SlideLevel | undefined
  const fault = given('fault')
  return Array.from({ length: count }, (_, i) => {
    const plan: SlidePlan = {
      seed: seed * 100_003 + i,
      level: level ?? (i % 5 === 0 ? 'clean' : 'usual'),
      width,
      height,
      fps: 8,
      seconds: Number(given('seconds') ?? 4),
      ...(fault === undefined ? {} : { fault: fault === 'each' ? FAULTS[i % FAULTS.length]! : (fault as 'blur') }),
    }
    const scene = slideScene(plan)
    const kept = new Map<number, Picture>()
    return {
      name: `seed ${seed} clip ${i}`,
      meta: { umPerPx: scene.umPerPx, fps: plan.fps },
      truth: slideTruth(scene),
      frames: scene.frames,
      frame: (f) => {
        let found = kept.get(f)
        if (!found) kept.set(f, (found = slideFrame(scene, f)))
        return found
      },
    }
  })
}
function keep(clip: Clip, folder: string): void {
  mkdirSync(folder, { recursive: true })
  for (let f = 0; f < clip.frames; f++) {
    const { width, height, data } = clip.frame(f)
    writeFileSync(
      join(folder, `frame-${String(f).padStart(4, '0')}.png`),
      encode({ width, height, channels: 3, depth: 8, data: Uint8Array.from(data) }),
    )
  }
  writeFileSync(join(folder, 'meta.json'), JSON.stringify(clip.meta))
  writeFileSync(join(folder, 'truth.json'), JSON.stringify(clip.truth))
}
function analyse(clip: Clip): SlideAnswer {
  const every = Math.max(1, Math.floor(clip.frames / 12))
  const some: Picture[] = []
  for (let f = 0; f < clip.frames; f += every) some.push(clip.frame(f))
  const reader = new SlideReader(some, clip.meta)
  for (let f = 0; f < clip.frames; f++) reader.add(clip.frame(f))
  return reader.answer()
}

const CLASSES = ['diatom', 'dinoflagellate', 'cyanobacteria', 'green', 'ciliate', 'other'] as const
const seed = Number(given('seed') ?? 1)
const clips = simulate > 0 ? simulated(simulate, seed) : clipsOf(folder!)
if (clips.length === 0) {
  console.error(`${folder}: no clip with meta.json and truth.json.`)
  process.exit(1)
}
const out = given('out')
const errors: number[] = []
const totals: number[] = []
const lengths: number[] = []
const confused = new Map<string, number>()
/** Shares whose interval of four in five holds the clip's true one, and all of them. */
let [held, shares] = [0, 0]
let [right, untold, wrong, movingOff, objects] = [0, 0, 0, 0, 0]
const middle = (list: readonly number[]) => [...list].sort((a, b) => a - b)[list.length >> 1] ?? NaN
const share = (list: readonly number[], at: number) =>
  [...list].sort((a, b) => a - b)[Math.floor(at * (list.length - 1))] ?? NaN
const percent = (value: number, digits = 0) => `${(100 * value).toFixed(digits)} %`
const only = given('only')
for (const [i, clip] of clips.entries()) {
  if (only !== undefined && i !== Number(only)) continue
  if (out !== undefined) keep(clip, join(out, `clip-${String(i).padStart(4, '0')}`))
  const started = performance.now()
  const { truth } = clip
  const answer = analyse(clip)
  const seconds = (performance.now() - started) / 1000
  const all = (counts: Readonly<Record<string, number>>) => CLASSES.reduce((sum, name) => sum + (counts[name] ?? 0), 0)
  // Of all objects, how many stand in the wrong class or are too many or too few; and their sum alone.
  const off = CLASSES.reduce((sum, name) => sum + Math.abs((answer.counts[name] ?? 0) - (truth.counts[name] ?? 0)), 0)
  errors.push(off / Math.max(1, all(truth.counts)))
  totals.push(Math.abs(all(answer.counts) - all(truth.counts)) / Math.max(1, all(truth.counts)))
  const verdict = answer.leading === truth.leading ? 'right' : answer.leading === null ? 'untold' : 'wrong'
  if (verdict === 'right') right++
  else if (verdict === 'untold') untold++
  else wrong++
  if (verdict !== 'right') {
    const key = `${truth.leading ?? 'none leads'} → ${answer.leading ?? 'cannot tell'}`
    confused.set(key, (confused.get(key) ?? 0) + 1)
  }
  const lengthOf = (list: readonly { class: string; lengthUm: number }[]) =>
    middle(list.filter((one) => one.class === 'dinoflagellate').map(({ lengthUm }) => lengthUm))
  const [own, real] = [lengthOf(answer.objects), lengthOf(truth.objects)]
  if (Number.isFinite(own / real)) lengths.push(Math.abs(own / real - 1))
  for (const name of CLASSES) {
    const real = (truth.counts[name] ?? 0) / Math.max(1, all(truth.counts))
    const told = slideCount(answer).shares.find((one) => one.class === name)
    if (told === undefined && real === 0) continue
    shares++
    if (told !== undefined && real >= told.low && real <= told.high) held++
  }
  const moves = (list: readonly { moving: boolean }[]) => list.filter((one) => one.moving).length
  movingOff += Math.abs(moves(answer.objects) - moves(truth.objects))
  objects += truth.objects.length
  if (simulate === 0 || talks || verdict !== 'right') {
    const words = CLASSES.filter((name) => (truth.counts[name] ?? 0) + (answer.counts[name] ?? 0) > 0)
      .map((name) => `${name} ${answer.counts[name]}/${truth.counts[name] ?? 0}`)
      .join(', ')
    console.log(
      `${clip.name}: count error ${percent(errors.at(-1)!)}; ${words}; leading ${answer.leading ?? 'cannot tell'} (${verdict}${verdict === 'right' ? '' : `, true ${truth.leading ?? 'none leads'}`}); length ${own.toFixed(1)} of ${real.toFixed(1)} µm; moving ${moves(answer.objects)} of ${moves(truth.objects)}; ${seconds.toFixed(1)} s${answer.doubt === null ? '' : `; ${answer.doubt}`}`,
    )
    if (talks || verdict !== 'right')
      console.log('   genera', JSON.stringify(answer.genera), 'true', JSON.stringify(truth.genera))
  }
  if (talks)
    for (const one of answer.objects)
      console.log(
        `   ${one.class} ${one.genus} ${one.lengthUm.toFixed(1)}×${one.widthUm.toFixed(1)} ${one.moving ? 'moves' : 'still'} ${one.speedUmPerS.toFixed(0)} n${one.framesVisible} ${one.sure.toFixed(2)} at ${one.path[0]!.x.toFixed(0)},${one.path[0]!.y.toFixed(0)}`,
      )
}
console.log(
  `leading right ${right} of ${clips.length} (${percent(right / clips.length, 1)}), cannot tell ${untold}, wrong ${wrong}; of those not right ${percent(untold / Math.max(1, untold + wrong))} are untold`,
)
console.log(
  `counts off, all objects ${percent(middle(totals))} at the median and ${percent(share(totals, 0.9))} in nine of ten; by class ${percent(middle(errors))} and ${percent(share(errors, 0.9))}; length off ${percent(middle(lengths), 1)} at the median, ${percent(share(lengths, 0.9))} in nine of ten; moving off ${percent(movingOff / Math.max(1, objects), 1)}; the interval of a share holds the true one in ${percent(held / Math.max(1, shares), 1)}`,
)
for (const [what, n] of [...confused].sort((a, b) => b[1] - a[1])) console.log(`  ${n} × ${what}`)
console.log(`${right} passed, ${clips.length - right} failed`)
