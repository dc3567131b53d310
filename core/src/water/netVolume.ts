// Net volume: the water that is really in a vessel, with its doubt. Every later dose divides by this number.
import { err, ok, type Result } from '../result.ts'
import type { Working } from '../working.ts'
import { innerFootprint, type MeasuredShape, type Shape } from './shapes.ts'

/** A measured or guessed number with one standard deviation, same unit. */
export interface Measured {
  readonly value: number
  readonly sd: number
}

/** Everything the water is displaced by. Lengths cm, masses kg, volumes L, shares 0..1. */
export interface VolumeInputs {
  readonly shape: Shape
  readonly glassCm: Measured
  readonly bottomGlassCm: Measured
  /** Rim to surface. */
  readonly fillGapCm: Measured
  readonly substrateDepthCm: Measured
  readonly substratePorosity: Measured
  readonly rockMassKg: Measured
  /** Bulk density: dense rock 2.0–2.4 kg/L, very porous rock 1.2–1.6. */
  readonly rockDensityKgPerL: Measured
  /** Share of the rock's bulk that is open to water. */
  readonly rockPorosity: Measured
  readonly equipmentL: Measured
  readonly sumpL: Measured
  readonly plumbingL: Measured
  /** How well the outer dimensions are known, cm; for a custom vessel its litres are known to 10 %. */
  readonly dimensionSdCm: number
}

export interface NetVolume {
  readonly litres: number
  readonly sdLitres: number
  /** Tank full to the rim, litres. */
  readonly rimFullL: number
  readonly innerFootprintCm2: number
  readonly waterColumnL: number
  readonly substrateL: number
  readonly rockL: number
  /** Variance share (0..1) of each input, largest first: what to measure better. */
  readonly doubt: readonly { readonly input: string; readonly share: number }[]
  readonly working: Working
}

export interface VolumeProblem {
  readonly field: string
  readonly message: string
}

/** Geometry is never believed below this share of itself. @source design/definitions: "sd at least 3 %" */
export const LEAST_VOLUME_DOUBT = 0.03

/** Litres displaced by rock: mass ÷ bulk density × (1 − water-filled share). @source handbook 10 */
export const rockDisplacement = (massKg: number, densityKgPerL: number, porosity: number): number =>
  (massKg / densityKgPerL) * (1 - porosity)

/** Litres in a rectangular sump at operating height (inner dimensions, cm) less what stands in it. */
export const sumpWater = (
  innerLengthCm: number,
  innerWidthCm: number,
  operatingHeightCm: number,
  equipmentL: number,
): number => (innerLengthCm * innerWidthCm * operatingHeightCm) / 1000 - equipmentL

interface Parts {
  footprint: number
  rimFull: number
  column: number
  substrate: number
  rock: number
  net: number
}

type Numbers = Readonly<Record<string, number>>

function parts(shape: Shape, n: Numbers): Parts {
  const value = (key: string) => n[key] ?? 0
  const rock =
    value('rockMassKg') === 0
      ? 0
      : rockDisplacement(value('rockMassKg'), value('rockDensityKgPerL'), value('rockPorosity'))
  const outside = value('sumpL') + value('plumbingL') - value('equipmentL') - rock
  if (shape.kind === 'custom') {
    const litres = value('litres')
    return { footprint: 0, rimFull: litres, column: litres, substrate: 0, rock, net: litres + outside }
  }
  const sized = resized(shape, n)
  const footprint = innerFootprint(sized, value('glassCm'))
  const inside = sized.heightCm - value('bottomGlassCm')
  const rimFull = (footprint * inside) / 1000
  const column = (footprint * (inside - value('fillGapCm'))) / 1000
  const substrate = (footprint * value('substrateDepthCm') * (1 - value('substratePorosity'))) / 1000
  return { footprint, rimFull, column, substrate, rock, net: column - substrate + outside }
}

function resized(shape: MeasuredShape, n: Numbers): MeasuredShape {
  const out: Record<string, number | string> = { ...shape }
  for (const key of Object.keys(shape)) if (key !== 'kind') out[key] = n[key] ?? 0
  return out as unknown as MeasuredShape
}

const INPUT_WORDS: Readonly<Record<string, string>> = {
  lengthCm: 'length',
  widthCm: 'width',
  heightCm: 'height',
  diameterCm: 'diameter',
  sideCm: 'side',
  sideDepthCm: 'depth at the side',
  centreDepthCm: 'depth at the middle',
  radiusCm: 'radius',
  litres: 'stated litres',
  glassCm: 'glass thickness',
  bottomGlassCm: 'floor thickness',
  fillGapCm: 'gap from rim to water',
  substrateDepthCm: 'substrate depth',
  substratePorosity: 'substrate porosity',
  rockMassKg: 'rock mass',
  rockDensityKgPerL: 'rock density',
  rockPorosity: 'rock porosity',
  equipmentL: 'equipment',
  sumpL: 'sump water',
  plumbingL: 'plumbing water',
}
/** Word for an input key of a net volume, for sentences and workings. */
export const volumeInputWord = (key: string): string => INPUT_WORDS[key] ?? key

const unitOfInput = (key: string) =>
  key.endsWith('Cm')
    ? 'cm'
    : key.endsWith('KgPerL')
      ? 'kg/L'
      : key.endsWith('Kg')
        ? 'kg'
        : key.endsWith('L') || key === 'litres'
          ? 'L'
          : ''

function gather(inputs: VolumeInputs): Map<string, Measured> {
  const all = new Map<string, Measured>()
  const { shape } = inputs
  if (shape.kind === 'custom') all.set('litres', { value: shape.litres, sd: 0.1 * shape.litres })
  else {
    for (const [key, value] of Object.entries(shape)) {
      if (typeof value === 'number') all.set(key, { value, sd: inputs.dimensionSdCm })
    }
  }
  for (const key of Object.keys(INPUT_WORDS)) {
    const measured = (inputs as unknown as Record<string, Measured | undefined>)[key]
    if (measured && typeof measured === 'object') all.set(key, measured)
  }
  return all
}

/** Says what is impossible about the inputs, by field. Empty when nothing is. */
export function checkVolumeInputs(inputs: VolumeInputs): VolumeProblem[] {
  const problems: VolumeProblem[] = []
  const all = gather(inputs)
  for (const [field, { value }] of all) {
    const word = volumeInputWord(field)
    if (!Number.isFinite(value)) problems.push({ field, message: `The ${word} is not a number.` })
    else if (value < 0) problems.push({ field, message: `The ${word} cannot be negative.` })
  }
  if (problems.length > 0) return problems
  for (const [field, { value }] of all) {
    const dimension = inputs.shape.kind !== 'custom' && field in inputs.shape
    if (dimension && value === 0) problems.push({ field, message: `The ${volumeInputWord(field)} is missing.` })
    if (dimension && value > 1000)
      problems.push({ field, message: `A ${volumeInputWord(field)} of ${value} cm is over ten metres. Is it in mm?` })
  }
  const get = (key: string) => all.get(key)?.value ?? 0
  if (inputs.shape.kind === 'custom') {
    if (get('litres') === 0) problems.push({ field: 'litres', message: 'The litres are missing.' })
    if (get('litres') > 100_000)
      problems.push({ field: 'litres', message: `${get('litres')} L is not a home aquarium. Check the unit.` })
  } else {
    if (inputs.shape.kind === 'bow-front' && inputs.shape.centreDepthCm < inputs.shape.sideDepthCm) {
      problems.push({ field: 'centreDepthCm', message: 'A bow front is deeper in the middle than at the side.' })
    }
    if (get('glassCm') > 4)
      problems.push({ field: 'glassCm', message: `Glass ${get('glassCm')} cm thick: is it in mm?` })
    const inside = inputs.shape.heightCm - get('bottomGlassCm')
    if (get('fillGapCm') >= inside)
      problems.push({
        field: 'fillGapCm',
        message: 'The gap from rim to water is as deep as the tank: no water is left.',
      })
    else if (get('substrateDepthCm') >= inside - get('fillGapCm')) {
      problems.push({ field: 'substrateDepthCm', message: 'The substrate reaches the surface: no water is left.' })
    }
  }
  if (get('rockMassKg') > 0 && get('rockDensityKgPerL') <= 0) {
    problems.push({
      field: 'rockDensityKgPerL',
      message: 'Rock needs a density: dense rock 2.2 kg/L, very porous rock 1.4 kg/L.',
    })
  }
  for (const key of ['substratePorosity', 'rockPorosity']) {
    if (get(key) >= 1)
      problems.push({ field: key, message: `The ${volumeInputWord(key)} is a share below 1, for example 0.4.` })
  }
  return problems
}

/**
 * Net water volume in litres with one standard deviation, by first-order propagation of every input's sd.
 * net = footprint × water height − substrate solids − rock solids − equipment + sump + plumbing.
 * The sd is never below 3 % of the volume.
 * @source handbook 10 "Net volume"; vectors `volume`
 */
export function netVolume(inputs: VolumeInputs): Result<NetVolume, readonly VolumeProblem[]> {
  const problems = checkVolumeInputs(inputs)
  if (problems.length > 0) return err(problems)
  const all = gather(inputs)
  const centre = Object.fromEntries([...all].map(([key, measured]) => [key, measured.value]))
  const middle = parts(inputs.shape, centre)
  if (!(middle.net > 0)) {
    return err([
      { field: 'rockMassKg', message: 'Rock, substrate and equipment displace all the water. Check the rock mass.' },
    ])
  }
  let variance = 0
  const shares: { input: string; share: number }[] = []
  for (const [key, { value, sd }] of all) {
    if (sd <= 0) continue
    const step = sd / 10
    const up = parts(inputs.shape, { ...centre, [key]: value + step }).net
    const down = parts(inputs.shape, { ...centre, [key]: Math.max(0, value - step) }).net
    const effect = ((up - down) / (value + step - Math.max(0, value - step))) * sd
    variance += effect * effect
    shares.push({ input: key, share: effect * effect })
  }
  const total = variance || 1
  const doubt = shares.map(({ input, share }) => ({ input, share: share / total })).sort((a, b) => b.share - a.share)
  const sdLitres = Math.max(Math.sqrt(variance), LEAST_VOLUME_DOUBT * middle.net)
  return ok({
    litres: middle.net,
    sdLitres,
    rimFullL: middle.rimFull,
    innerFootprintCm2: middle.footprint,
    waterColumnL: middle.column,
    substrateL: middle.substrate,
    rockL: middle.rock,
    doubt,
    working: {
      title: 'Net volume',
      formula:
        inputs.shape.kind === 'custom'
          ? 'stated litres − rock − equipment + sump + plumbing'
          : 'footprint × water height − substrate solids − rock solids − equipment + sump + plumbing',
      inputs: [...all]
        .filter(([key, { value }]) => value !== 0 || key in inputs.shape)
        .map(([key, { value, sd }]) => ({ label: volumeInputWord(key), value, unit: unitOfInput(key), sd })),
      parts: [
        piece('Water column', 'footprint × (height − floor − gap) ÷ 1000', middle.column),
        piece('Substrate solids', 'footprint × depth × (1 − porosity) ÷ 1000', middle.substrate),
        piece('Rock solids', 'mass ÷ bulk density × (1 − water-filled share)', middle.rock),
      ].filter(({ result }) => result.value !== 0),
      result: { label: 'Net volume', value: middle.net, unit: 'L', sd: sdLitres },
      source: 'Geometry; doubt by first-order propagation, at least 3 %',
    },
  })
}

const piece = (title: string, formula: string, litresValue: number): Working => ({
  title,
  formula,
  inputs: [],
  result: { label: title, value: litresValue, unit: 'L' },
})
