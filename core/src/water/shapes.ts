// Plan shapes of tanks: the inner footprint left by outer dimensions and glass.

/** Outer dimensions in cm by shape. A custom vessel is known by its litres alone. */
export type Shape =
  | { readonly kind: 'box'; readonly lengthCm: number; readonly widthCm: number; readonly heightCm: number }
  | { readonly kind: 'cylinder'; readonly diameterCm: number; readonly heightCm: number }
  | { readonly kind: 'hexagon'; readonly sideCm: number; readonly heightCm: number }
  | {
      readonly kind: 'bow-front'
      readonly lengthCm: number
      readonly sideDepthCm: number
      readonly centreDepthCm: number
      readonly heightCm: number
    }
  | { readonly kind: 'quarter-round'; readonly radiusCm: number; readonly heightCm: number }
  | { readonly kind: 'custom'; readonly litres: number }

export type MeasuredShape = Exclude<Shape, { kind: 'custom' }>

/** Area between a chord and its arc, cm². `sagitta` is the arc's height over the chord; 0 gives 0. */
export function circularSegmentArea(chordCm: number, sagittaCm: number): number {
  if (sagittaCm <= 0) return 0
  const half = chordCm / 2
  const radius = (half * half + sagittaCm * sagittaCm) / (2 * sagittaCm)
  const angle = 2 * Math.atan2(half, radius - sagittaCm)
  return (radius * radius * (angle - Math.sin(angle))) / 2
}

/**
 * Inner footprint, cm², of a tank given by its outer dimensions and glass thickness (cm).
 * Hexagon: regular, by its outer side; the apothem loses the glass. Bow front: the inner arc is concentric with
 * the outer one. Quarter-round: two straight walls and a quarter arc, all of the same glass.
 * Zero when the glass leaves no water.
 */
export function innerFootprint(shape: MeasuredShape, glassCm: number): number {
  switch (shape.kind) {
    case 'box':
      return Math.max(0, shape.lengthCm - 2 * glassCm) * Math.max(0, shape.widthCm - 2 * glassCm)
    case 'cylinder':
      return (Math.PI / 4) * Math.max(0, shape.diameterCm - 2 * glassCm) ** 2
    case 'hexagon': {
      const apothem = Math.max(0, (shape.sideCm * Math.sqrt(3)) / 2 - glassCm)
      return 2 * Math.sqrt(3) * apothem * apothem
    }
    case 'bow-front':
      return bowFrontFootprint(shape.lengthCm, shape.sideDepthCm, shape.centreDepthCm, glassCm)
    case 'quarter-round': {
      const radius = shape.radiusCm - glassCm
      const far = Math.sqrt(Math.max(0, radius * radius - glassCm * glassCm))
      if (far <= glassCm) return 0
      const arc = (x: number) =>
        (x * Math.sqrt(Math.max(0, radius * radius - x * x)) + radius * radius * Math.asin(Math.min(1, x / radius))) / 2
      return arc(far) - arc(glassCm) - glassCm * (far - glassCm)
    }
  }
}

function bowFrontFootprint(lengthCm: number, sideDepthCm: number, centreDepthCm: number, glassCm: number): number {
  const sagitta = centreDepthCm - sideDepthCm
  const innerLength = Math.max(0, lengthCm - 2 * glassCm)
  if (sagitta <= 0) return innerLength * Math.max(0, sideDepthCm - 2 * glassCm)
  const half = lengthCm / 2
  const radius = (half * half + sagitta * sagitta) / (2 * sagitta)
  const innerRadius = radius - glassCm
  const innerHalf = innerLength / 2
  if (innerRadius <= innerHalf) return 0
  const centre = centreDepthCm - radius
  const cornerDepth = centre + Math.sqrt(innerRadius * innerRadius - innerHalf * innerHalf)
  const innerSagitta = centre + innerRadius - cornerDepth
  return innerLength * Math.max(0, cornerDepth - glassCm) + circularSegmentArea(innerLength, innerSagitta)
}

/** Largest plan extent of a shape, cm: for drawing it in proportion. */
export function planLength(shape: Shape): number {
  switch (shape.kind) {
    case 'box':
    case 'bow-front':
      return shape.lengthCm
    case 'cylinder':
      return shape.diameterCm
    case 'hexagon':
      return 2 * shape.sideCm
    case 'quarter-round':
      return shape.radiusCm
    case 'custom':
      return Math.cbrt(shape.litres * 1000) * 1.4
  }
}
