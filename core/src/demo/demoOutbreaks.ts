// Campaigns of the demonstration: a film in its third week, tufts on day six, a slug after two rounds, and one that ended.
import { instantOf } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import { beginCourse, peroxideBottle, type Writer } from './writer.ts'

export function demoOutbreaks(writer: Writer): void {
  const { at, entry } = writer
  const campaign = (
    id: string,
    protocolId: string,
    vesselId: string,
    startMs: number,
    more: Readonly<Record<string, unknown>> = {},
  ) => beginCourse(writer, { id, protocolId, vesselId, startMs }, more)

  // Longshore: a brown film on the sand, large cells that glide; nutrients and silicate by test, rivals gaining.
  const film = { vesselId: 'longshore', courseId: 'film-longshore' }
  campaign('film-longshore', 'compete-dinoflagellates', 'longshore', at(-18, 19), { variant: 'amphidinium-large' })
  const tally = (about: object, ms: number, measure: string, values: Record<string, number>, more: object = {}) =>
    entry(ms, 'tally', { ...about, measure, values, ...more })
  const reading = (vesselId: string, ms: number, analyte: string, value: number, bound = 'exact') =>
    entry(ms, 'reading', { vesselId, analyte, value, unit: 'mg/L', bound })
  entry(at(-17, 20), 'gate', { ...film, gate: 'genus', passed: true })
  entry(at(-17, 20.2), 'equipment', { ...film, item: 'phosphate-media', on: false })
  for (const [rule, what] of [
    ['causes', 'Answered the cause checklist'],
    ['grazers', 'Turbo snails fed away for now'],
    ['media', 'Phosphate media out'],
  ] as const)
    entry(at(-16, 19.5), 'done', { ...film, what, step: `film-longshore/${rule}/0` })
  for (const [day, diatom, green, dinoflagellate, other, points, hours] of [
    [-18, 5, 1, 98, 6, 62, 8],
    [-11, 24, 4, 74, 8, 55, 6.5],
    [-4, 47, 11, 49, 5, 41, 5],
  ] as const) {
    const slide = { diatom, green, dinoflagellate, other }
    tally(film, at(day, 13), 'slide', slide, { minutes: 30 })
    tally(film, at(day, 13.1), 'dino-share', { dinoflagellate, rest: diatom + green + other })
    tally(film, at(day, 12.6), 'cover', { points }, { minutes: 8 })
    tally(film, at(day, 20), 'clearance', { hours })
  }
  tally(film, at(-18, 21), 'night-day', { night: 14, day: 12 }, { minutes: 20 })
  tally(film, at(-4, 14), 'strings', { days: 0 })
  for (const [day, nitrate, phosphate] of [
    [-12, 2.1, 0.02],
    [-9, 1.6, 0.02],
    [-6, 1.1, 0.03],
  ] as const) {
    reading('longshore', at(day, 18), 'nitrate', nitrate)
    reading('longshore', at(day, 18.1), 'phosphate', phosphate)
  }
  for (let day = -12; day <= -3; day += 1)
    tally(film, at(day, 19), 'add-nitrate', { rise: 1, grams: 0.38 }, { note: 'Sodium nitrate' })
  for (const [day, rise, hour, next] of [
    [-5, 1, 0.9, 0.1],
    [-3, 1, 0.8, 0.1],
    [-1, 1, 0.9, 0.1],
  ] as const) {
    tally(film, at(day, 19.5), 'add-silicate', { rise, grams: 0.98 }, { note: 'Sodium metasilicate pentahydrate' })
    reading('longshore', at(day, 20.6), 'silicate', hour)
    if (day < -1) reading('longshore', at(day + 1, 19.3), 'silicate', next, 'below')
  }
  for (let day = -4; day < 0; day++) {
    entry(at(day, 13), 'done', { ...film, what: 'Blew off rock and sand', step: `film-longshore/blow/${day + 17}` })
    entry(at(day, 13.3), 'done', {
      ...film,
      what: 'Floss changed, film siphoned',
      step: `film-longshore/floss/${day + 17}`,
    })
  }

  // Fernwater: tufts, day six. Two patches treated in the water, one painted in air, two left alone.
  peroxideBottle(
    writer,
    { id: 'peroxide-3', name: 'Peroxide 3 %, unstabilised', form: 'peroxide-spot-fresh', sizeAmount: 250 },
    at(-8, 19),
  )
  const tufts = { vesselId: 'fernwater', courseId: 'tufts-fernwater' }
  campaign('tufts-fernwater', 'spot-peroxide-fresh', 'fernwater', at(-6, 17), { products: { peroxide: 'peroxide-3' } })
  entry(at(-6, 17.6), 'done', { ...tufts, what: 'Answered the cause checklist', step: 'tufts-fernwater/causes/0' })
  for (const [i, day] of [-6, -4, -2].entries())
    entry(at(day, 17.5), 'dose', {
      ...tufts,
      productId: 'peroxide-3',
      amount: [4.5, 4.5, 4][i],
      unit: 'mL',
      step: `tufts-fernwater/spot/${i}`,
    })
  for (const [day, scores] of [
    [-6, [0, 0, 0, 0, 0]],
    [-4, [2, 1, 2, 0, 0]],
    [-3, [3, 2, 3, 0, 0]],
    [-1, [4, 3, 4, 0, 1]],
  ] as const)
    for (const [i, [piece, arm]] of (
      [
        ['anubias, left leaf', 'in-water'],
        ['fern on the root', 'in-water'],
        ['fern on the stone', 'out-of-water'],
        ['anubias, right leaf', 'control'],
        ['moss edge', 'control'],
      ] as const
    ).entries())
      tally(tufts, at(day, 18) + i * 60_000, 'patch-score', { score: scores[i]! }, { piece, arm, minutes: 1 })

  // Tub: slugs on the digitata, two rounds made, the third due tomorrow.
  const slugs = { vesselId: 'tub', courseId: 'slugs-tub' }
  campaign('slugs-tub', 'rounds-montipora-slug', 'tub', at(-5, 17), { residents: ['montipora'] })
  for (const [number, day, found] of [
    [0, -5, [6, 2, 3, 1]],
    [1, -2, [2, 1, 1, 0]],
  ] as const) {
    const key = `slugs-tub/round/${number}`
    const pieces = ['orange digitata', 'green plate']
    pieces.forEach((piece, i) => {
      const ms = at(day, 17.5) + i * 0.4 * MS_PER_HOUR
      entry(ms, 'bath', { ...slugs, rule: 'round', act: 'start', step: `${key}/${piece}`, litres: 2 })
      entry(ms + 10 * 60_000, 'bath', { ...slugs, rule: 'round', act: 'end', step: `${key}/${piece}`, minutes: 10 })
      tally(
        slugs,
        ms + 18 * 60_000,
        'finds',
        { mobiles: found[2 * i]!, eggs: found[2 * i + 1]! },
        { piece, step: `${key}/${piece}`, minutes: 18 },
      )
    })
    entry(at(day, 18.6), 'done', { ...slugs, step: key, what: `Round ${number + 1} made` })
  }

  // Longshore, in spring: anemones, ended by two counts of zero.
  const tray = { vesselId: 'longshore', courseId: 'anemones-spring' }
  campaign('anemones-spring', 'tray-glass-anemone', 'longshore', at(-160, 10), {
    endedAt: instantOf(at(-84, 20)),
    outcome: 'cured',
    outcomeNote: 'Seven passes. The cave needed adhesive; scraping alone came back twice.',
  })
  for (const [day, counts] of [
    [0, [34, 21, 12]],
    [2, [9, 6, 5]],
    [4, [3, 2, 3]],
    [7, [1, 0, 2]],
    [14, [0, 0, 1]],
    [21, [0, 0, 0]],
    [28, [0, 0, 0]],
  ] as const)
    for (const [i, piece] of ['arch, left', 'long shelf', 'cave'].entries())
      tally(
        tray,
        at(-160 + day, 11) + i * 25 * 60_000,
        'rock-count',
        { before: counts[i]!, removed: counts[i]! },
        { piece, minutes: 22, step: `anemones-spring/pass/${[0, 2, 4, 7, 14, 21, 28].indexOf(day)}` },
      )
}
