// The demonstration's patches: what it says was measured of them is what measuring its drawn pictures gives.
import { describe, expect, test } from '@jest/globals'
import { DRAWN_PICTURES, demoRecord } from '../src/demo.ts'
import { coverOf } from '../src/imaging/cover.ts'
import { mapped } from '../src/imaging/register.ts'
import { activeEntries, markedPatches } from '../src/index.ts'
import { patchScene } from '../src/world/patchScene.ts'

const NOW = Date.parse('2026-11-23T18:20:00Z')
const record = demoRecord({ seed: 7, anchorMs: NOW, zone: 'Europe/Berlin' })
const active = activeEntries(record.entries)
const patches = ['longshore', 'fernwater'].flatMap((vesselId) => markedPatches(active, vesselId))

describe('patches of the demonstration', () => {
  test('are three, each with its pictures and measures, two of them beside each other', () => {
    expect(patches.map(({ name, arm, pictures, points }) => [name, arm, pictures.length, points.length])).toEqual([
      ['Sand by the overflow', null, 3, 3],
      ['Wood, tip', 'treated', 3, 3],
      ['Wood, root', 'untreated', 3, 3],
    ])
    for (const { pictures } of patches)
      for (const { photoId, width, height } of pictures)
        expect(DRAWN_PICTURES.get(photoId)?.plan).toMatchObject({ width, height })
  })
  // One of them, as measuring takes seconds; `BRINVO_WHOLE=1` measures both that are drawn differently.
  test.each(patches.slice(process.env['BRINVO_WHOLE'] === '1' ? 0 : 1, 2).map((patch) => [patch.name, patch] as const))(
    '%s was measured as it is drawn',
    (_, patch) => {
      const { corners, samples } = patch.first.patch!
      const question = {
        classes: samples!.map(({ kind, at }) => ({ id: kind, samples: at as unknown as [number, number][] })),
        polygon: corners as unknown as [number, number][],
      }
      const last = patch.pictures.length - 1
      const { plan } = DRAWN_PICTURES.get(patch.pictures[last]!.photoId)!
      const scene = patchScene(plan)
      const answer = coverOf(scene.first, scene.later, question)
      expect(Math.abs(100 * (1 - answer.a.shares['clean']!) - patch.points[0]!.value)).toBeLessThan(1)
      expect(Math.abs(100 * (1 - answer.b!.shares['clean']!) - patch.points[last]!.value)).toBeLessThan(1)
      // Near to what was drawn, too.
      expect(Math.abs(100 * (1 - scene.truth.later['clean']!) - patch.points[last]!.value)).toBeLessThan(3.5)
      for (const [i, [x, y]] of question.polygon.entries()) {
        const [u, v] = mapped(scene.place, x, y, plan.width, plan.height)
        const [cx, cy] = patch.pictures[last]!.patch!.corners[i]!
        expect(Math.hypot(u - cx!, v - cy!)).toBeLessThan(2)
      }
    },
  )
})
