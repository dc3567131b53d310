// An ultraviolet steriliser: dose by flow, how much of the water it has treated, what it leaves of swimmers.

/** Seconds of water in the chamber, dose in mJ/cm² (plug flow), turnovers of the tank an hour. */
export function ultravioletDose(options: {
  readonly irradianceMwPerCm2: number
  readonly chamberL: number
  readonly flowLPerH: number
  readonly tankL: number
}): { readonly residenceS: number; readonly doseMjPerCm2: number; readonly turnoversPerH: number } {
  const residenceS = (options.chamberL / options.flowLPerH) * 3600
  return {
    residenceS,
    doseMjPerCm2: options.irradianceMwPerCm2 * residenceS,
    turnoversPerH: options.flowLPerH / options.tankL,
  }
}
/** The fastest flow that still gives a dose: Q = I V 3600 / D, L/h. */
export const maxFlowForDose = (irradianceMwPerCm2: number, chamberL: number, doseMjPerCm2: number): number =>
  (irradianceMwPerCm2 * chamberL * 3600) / doseMjPerCm2

/** Log-linear inactivation: powers of ten and share killed in one pass, for a dose that takes one power of ten. */
export function passKill(
  doseMjPerCm2: number,
  dosePerLog10: number,
): { readonly log10: number; readonly killed: number } {
  const log10 = doseMjPerCm2 / dosePerLog10
  return { log10, killed: 1 - 10 ** -log10 }
}

/** Share of a well-mixed tank that has passed at least once, mean passes, and hours to 95 % and 99 %. */
export function treatedShare(flowLPerH: number, tankL: number, hours: number) {
  const rate = flowLPerH / tankL
  return {
    share: 1 - Math.exp(-rate * hours),
    meanPasses: rate * hours,
    hoursTo95: Math.log(20) / rate,
    hoursTo99: Math.log(100) / rate,
  }
}

/** Swimmers that are released all the time: dN/dt = release − (kill · Q/V + other) N. Counts over the whole tank. */
export function swimmers(options: {
  readonly flowLPerH: number
  readonly tankL: number
  readonly killedPerPass: number
  readonly releasePerH: number
  readonly otherLossPerH: number
  readonly startCount: number
  readonly hours: number
}) {
  const uvPerH = (options.killedPerPass * options.flowLPerH) / options.tankL
  const loss = uvPerH + options.otherLossPerH
  const equilibrium = options.releasePerH / loss
  const without = options.releasePerH / options.otherLossPerH
  return {
    uvPerH,
    equilibrium,
    atTime: equilibrium + (options.startCount - equilibrium) * Math.exp(-loss * options.hours),
    withoutUv: without,
    shareOfWithout: equilibrium / without,
    shareEndingInUv: uvPerH / loss,
  }
}
/** Share of swimmers killed before they would have settled or died by themselves. */
export const killedBeforeEnd = (flowLPerH: number, tankL: number, killedPerPass: number, freeLifeH: number): number =>
  1 - Math.exp((-killedPerPass * flowLPerH * freeLifeH) / tankL)

/** Output of a lamp that ages: it falls to `endShare` over `lifeH` hours, taken as a straight line. @source EST, makers' own curves */
export const lampShare = (runH: number, lifeH = 9000, endShare = 0.6): number =>
  Math.max(endShare, 1 - ((1 - endShare) * runH) / lifeH)

/**
 * A lamp as its plate states it, a dose at a flow: any chamber with the same product of irradiance and litres gives the
 * same doses. @returns irradiance in a chamber of one litre, mW/cm²
 */
export const lampOfPlate = (doseMjPerCm2: number, flowLPerH: number, share = 1) => ({
  irradianceMwPerCm2: (share * doseMjPerCm2 * flowLPerH) / 3600,
  chamberL: 1,
})
