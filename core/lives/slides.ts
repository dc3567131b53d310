// npm run slides -- DIR: every clip folder of DIR is analysed from its frames alone and held against its truth.
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { decode } from 'fast-png'
import { SlideReader, type SlideAnswer } from '../src/imaging/slide.ts'
import type { Picture } from '../src/imaging/frame.ts'

interface Truth {
  readonly counts: Readonly<Record<string, number>>
  readonly leading: string | null
  readonly genera: Readonly<Record<string, number>>
  readonly objects: readonly {
    readonly class: string
    readonly genus: string
    readonly lengthUm: number
    readonly moving: boolean
    readonly speedUmPerS: number
  }[]
}
const dir = process.argv[2]
if (dir === undefined || !existsSync(dir)) {
  console.error('npm run slides -- DIR: a folder of clips is needed.')
  process.exit(2)
}
const talks = process.argv.includes('--objects')

export function readPicture(path: string): Picture {
  const { data, width, height, channels, depth } = decode(readFileSync(path))
  if (depth !== 8 || (channels !== 3 && channels !== 4)) throw new Error(`${path}: not a colour picture of eight bits`)
  return { width, height, channels, data: data as Uint8Array }
}
function analyse(folder: string): SlideAnswer {
  const meta = JSON.parse(readFileSync(join(folder, 'meta.json'), 'utf8')) as { umPerPx: number; fps: number }
  const names = readdirSync(folder)
    .filter((name) => /^frame-\d+\.png$/.test(name))
    .sort()
  const every = Math.max(1, Math.floor(names.length / 12))
  const reader = new SlideReader(
    names.filter((_, i) => i % every === 0).map((name) => readPicture(join(folder, name))),
    meta,
  )
  for (const name of names) reader.add(readPicture(join(folder, name)))
  return reader.answer()
}
const CLASSES = ['diatom', 'dinoflagellate', 'cyanobacteria', 'green', 'ciliate', 'other'] as const
const clips = readdirSync(dir)
  .filter((name) => existsSync(join(dir, name, 'meta.json')) && existsSync(join(dir, name, 'truth.json')))
  .sort()
if (clips.length === 0) {
  console.error(`${dir}: no clip with meta.json and truth.json.`)
  process.exit(1)
}
const errors: number[] = []
let right = 0
let untold = 0
let wrong = 0
const lengths: number[] = []
const moving = { right: 0, wrong: 0 }
for (const clip of clips) {
  const started = performance.now()
  const truth = JSON.parse(readFileSync(join(dir, clip, 'truth.json'), 'utf8')) as Truth
  const answer = analyse(join(dir, clip))
  const seconds = (performance.now() - started) / 1000
  const all = (counts: Readonly<Record<string, number>>) => CLASSES.reduce((sum, name) => sum + (counts[name] ?? 0), 0)
  // Of all objects, how many stand in the wrong class or are too many or too few.
  const off = CLASSES.reduce((sum, name) => sum + Math.abs((answer.counts[name] ?? 0) - (truth.counts[name] ?? 0)), 0)
  const error = off / Math.max(1, all(truth.counts))
  errors.push(error)
  const verdict = answer.leading === truth.leading ? 'right' : answer.leading === null ? 'untold' : 'wrong'
  if (verdict === 'right') right++
  else if (verdict === 'untold') untold++
  else wrong++
  const middle = (list: readonly number[]) => [...list].sort((a, b) => a - b)[list.length >> 1] ?? NaN
  const lengthOf = (list: readonly { class: string; lengthUm: number }[]) =>
    middle(list.filter((one) => one.class === 'dinoflagellate').map(({ lengthUm }) => lengthUm))
  const [own, true_] = [lengthOf(answer.objects), lengthOf(truth.objects)]
  if (Number.isFinite(own / true_)) lengths.push(Math.abs(own / true_ - 1))
  const share = (list: readonly { moving: boolean; class: string }[]) => list.filter((one) => one.moving).length
  moving.wrong += Math.abs(share(answer.objects) - share(truth.objects))
  moving.right += truth.objects.length
  const words = CLASSES.filter((name) => (truth.counts[name] ?? 0) + (answer.counts[name] ?? 0) > 0)
    .map((name) => `${name} ${answer.counts[name]}/${truth.counts[name] ?? 0}`)
    .join(', ')
  console.log(
    `${clip}: count error ${(100 * error).toFixed(0)} %; ${words}; leading ${answer.leading ?? 'cannot tell'} (${verdict}${verdict === 'right' ? '' : `, true ${truth.leading ?? 'none leads'}`}); length ${own.toFixed(1)} of ${true_.toFixed(1)} µm; moving ${share(answer.objects)} of ${share(truth.objects)}; ${seconds.toFixed(1)} s${answer.doubt === null ? '' : `; ${answer.doubt}`}`,
  )
  if (talks) {
    console.log('   genera', JSON.stringify(answer.genera), 'true', JSON.stringify(truth.genera))
    for (const one of answer.objects)
      console.log(
        `   ${one.class} ${one.genus} ${one.lengthUm.toFixed(1)}×${one.widthUm.toFixed(1)} ${one.moving ? 'moves' : 'still'} ${one.speedUmPerS.toFixed(0)} n${one.framesVisible} ${one.sure.toFixed(2)} at ${one.path[0]!.x.toFixed(0)},${one.path[0]!.y.toFixed(0)}`,
      )
  }
}
const sorted = [...errors].sort((a, b) => a - b)
console.log(
  `leading right ${right} of ${clips.length}, cannot tell ${untold}, wrong ${wrong}; count error median ${(100 * (sorted[sorted.length >> 1] ?? 0)).toFixed(0)} %, nine in ten under ${(100 * (sorted[Math.floor(0.9 * (sorted.length - 1))] ?? 0)).toFixed(0)} %; length off ${(100 * ([...lengths].sort((a, b) => a - b)[lengths.length >> 1] ?? 0)).toFixed(0)} % at the median; moving off ${((100 * moving.wrong) / Math.max(1, moving.right)).toFixed(1)} %`,
)
console.log(`${right} passed, ${clips.length - right} failed`)
