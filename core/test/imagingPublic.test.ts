// A clip and a pair of pictures that others drew, with their truth: read as the commands read the whole folders.
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { describe, expect, test } from '@jest/globals'
import { decode } from 'fast-png'
import { coverOf, type CoverQuestion } from '../src/imaging/cover.ts'
import type { Picture } from '../src/imaging/frame.ts'
import { mapped, type Similarity } from '../src/imaging/register.ts'
import { analyseClip, mixedOf, type ClipMeta, type SlideObject } from '../src/imaging/slide.ts'
import { slideClassesOf, slideCount, leadingOf } from '../src/imaging/slideCount.ts'
import { slideSigns } from '../src/diagnosis/slide.ts'

const here = fileURLToPath(new URL('.', import.meta.url))
const pictureOf = (path: string): Picture => {
  const { data, width, height, channels } = decode(readFileSync(path))
  return { width, height, channels: channels as 3, data: data as Uint8Array }
}
const json = <T>(path: string): T => JSON.parse(readFileSync(path, 'utf8')) as T

describe('a public clip', () => {
  const folder = join(here, 'slides/clip-0002')
  const truth = json<{
    counts: Record<string, number>
    leading: string
    objects: { class: string; lengthUm: number }[]
  }>(join(folder, 'truth.json'))
  const frames = readdirSync(folder)
    .filter((name) => name.startsWith('frame'))
    .sort()
    .map((name) => pictureOf(join(folder, name)))
  const answer = analyseClip(frames, json<ClipMeta>(join(folder, 'meta.json')))
  const total = Object.values(truth.counts).reduce((sum, one) => sum + one, 0)
  test('its leading genus, its counts and its lengths', () => {
    expect(answer.leading).toBe(truth.leading)
    const off = Object.entries(truth.counts).reduce(
      (sum, [kind, n]) => sum + Math.abs(n - answer.counts[kind as 'diatom']),
      0,
    )
    expect(off / total).toBeLessThan(0.2)
    const middle = (list: readonly number[]) => [...list].sort((a, b) => a - b)[list.length >> 1]!
    const of = (list: readonly { class: string; lengthUm: number }[]) =>
      middle(list.filter((one) => one.class === 'dinoflagellate').map(({ lengthUm }) => lengthUm))
    expect(Math.abs(of(answer.objects) / of(truth.objects) - 1)).toBeLessThan(0.08)
    expect(answer.faults).toEqual([])
  })
  test('becomes the sign of what leads; a thread or two make no mat', () => {
    const { yes, no } = slideSigns('surface-marine', slideClassesOf(slideCount(answer)), false)
    expect(yes).toEqual(expect.arrayContaining(['mic-spin-thread']))
    expect(yes).not.toContain('mic-filaments')
    expect(no).toEqual([])
  })
  test('what the keeper puts right is counted so, and nothing else moves', () => {
    const before = slideCount(answer)
    const at = answer.objects.findIndex((one) => one.class === 'dinoflagellate')
    const after = slideCount(answer, { [at]: 'nothing' })
    expect(after.total).toBe(before.total - 1)
    expect(after.corrected).toBe(1)
    const renamed = slideCount(answer, { [at]: 'coolia' })
    expect(renamed.total).toBe(before.total)
    expect(renamed.genera['coolia'] ?? 0).toBe((before.genera['coolia'] ?? 0) + 1)
    expect(leadingOf(answer, renamed)).toBe('ostreopsis')
    // All of them another: then that one leads.
    const all = Object.fromEntries(
      answer.objects.flatMap((one, i) => (one.class === 'dinoflagellate' ? [[i, 'coolia']] : [])),
    )
    expect(leadingOf(answer, slideCount(answer, all))).toBe('coolia')
  })
})

// The pages measure this pair too, in the end-to-end tests; here it is measured by `BRINVO_WHOLE=1`.
const whole = process.env['BRINVO_WHOLE'] === '1' ? test : test.skip
whole('a public pair of pictures: the place found again, cover and change', () => {
  const folder = join(here, 'patches/case-0003')
  const truth = json<{ a: Record<string, number>; b: Record<string, number>; transform: Similarity }>(
    join(folder, 'truth.json'),
  )
  const [a, b] = [pictureOf(join(folder, 'a.png')), pictureOf(join(folder, 'b.png'))]
  const answer = coverOf(a, b, json<CoverQuestion>(join(folder, 'meta.json')))
  for (const [id, share] of Object.entries(truth.a)) expect(Math.abs(answer.a.shares[id]! - share)).toBeLessThan(0.04)
  for (const [id, share] of Object.entries(truth.b)) expect(Math.abs(answer.b!.shares[id]! - share)).toBeLessThan(0.04)
  for (const [x, y] of [
    [0, 0],
    [a.width, b.height],
  ] as const) {
    const [u, v] = mapped(answer.registration.transform, x, y, a.width, a.height)
    const [tu, tv] = mapped(truth.transform, x, y, a.width, a.height)
    expect(Math.hypot(u - tu, v - tv)).toBeLessThan(3)
  }
})

describe('kinds of a slide', () => {
  const objects = (genus: string, n: number, more: Partial<SlideObject>): SlideObject[] =>
    Array.from(
      { length: n },
      () =>
        ({
          class: 'other',
          genus,
          sure: 1,
          lengthUm: 40,
          widthUm: 20,
          moving: false,
          speedUmPerS: 0,
          turning: 0,
          circling: 0,
          framesVisible: 9,
          path: [],
          ...more,
        }) as SlideObject,
    )
  const spinning = (n: number) =>
    objects('ostreopsis', n, { class: 'dinoflagellate', moving: true, speedUmPerS: 150, turning: 4 })
  const signs = (list: readonly SlideObject[]) =>
    slideSigns('surface-marine', slideClassesOf(slideCount({ objects: list })), true)
  test('are signs where they are about as many as the most frequent; the others say neither yes nor no', () => {
    const mixed = signs([
      ...spinning(20),
      ...objects('diatom', 12, { class: 'diatom' }),
      ...objects('cyanobacterium', 2, {}),
    ])
    expect(mixed.yes).toEqual(expect.arrayContaining(['mic-spin-thread', 'mic-cell-over-22']))
    expect(mixed.yes).not.toContain('mic-gliding-needles')
    expect(mixed.no).not.toContain('mic-gliding-needles')
    expect(mixed.no).not.toContain('mic-filaments')
    expect(mixed.no).toContain('mic-large-lens')
    // Nineteen needles beside twenty: both are the film.
    expect(signs([...spinning(20), ...objects('diatom', 19, { class: 'diatom' })]).yes).toContain('mic-gliding-needles')
  })
  test('a cell between two genera is heard with the others of its film', () => {
    // Eight that fit the third genus well, three that fit the fourth a little better than the third.
    const own = [0.01, 0.01, 0.9, 0.2, 0.01, 0.01]
    const between = [0.01, 0.01, 0.4, 0.5, 0.01, 0.01]
    const { of } = mixedOf([...Array<number[]>(8).fill(own), ...Array<number[]>(3).fill(between)])
    expect(of.every(({ genus }) => genus === 2)).toBe(true)
    // Alone they are what they look like.
    expect(mixedOf(Array<number[]>(3).fill([0.01, 0.01, 0.1, 0.9, 0.01, 0.01])).of[0]!.genus).toBe(3)
  })
})
