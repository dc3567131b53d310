// Posterior of a level from doses, changes and a few noisy readings.
//
// Effective volume, loss rate (and binding, where media bind) lie on a deterministic grid. Inside each node the
// level and the instruments' biases are a small linear-Gaussian system, because decay and changes scale the level
// and doses add to it: a Kalman filter runs forward through the record and a modified Bryson–Frazier smoother back,
// so dose errors, change errors and biases are integrated exactly instead of gridded. Heavy tails and "< x"
// readings enter each update by matching moments. See docs/decisions/0003-level-posterior.md.
import { normalCdf, normalPdf } from './normal.ts'
import type { LevelModel, Tailed } from './model.ts'

export interface PosteriorOptions {
  /** Ascending hours at which to report. */
  readonly timesH: readonly number[]
  readonly floorMgPerL: number
  readonly ceilingMgPerL: number
  readonly hardMaxMgPerL: number
  /** Nodes per axis; 64 by default. */
  readonly gridSize?: number
}

/** Unknowns as the record leaves them. */
export interface PosteriorNode {
  readonly weight: number
  readonly volumeL: number
  readonly lossPerHour: number
  readonly boundShare: number
  /** Level at the end of the record, mean and sd, mg/L. */
  readonly levelMgPerL: number
  readonly levelSd: number
  /** Mean of each instrument's bias, its variance, and its covariance with the level. */
  readonly biasMean: readonly number[]
  readonly biasVariance: readonly number[]
  readonly biasLevelCovariance: readonly number[]
}

export interface LevelPosterior {
  readonly timesH: readonly number[]
  /** Percentiles of the level, mg/L, one per time. */
  readonly p10: Float64Array
  readonly p50: Float64Array
  readonly p90: Float64Array
  /** P(level >= floor), P(floor <= level <= ceiling), P(level > hard maximum). */
  readonly pFloor: Float64Array
  readonly pBand: Float64Array
  readonly pHardMax: Float64Array
  readonly volume: { readonly meanL: number; readonly sdL: number }
  readonly lossPerHour: { readonly mean: number; readonly sd: number }
  readonly bias: readonly { readonly mean: number; readonly sd: number }[]
  /** What each reading was expected to be and how much of it was believed (1: fully, 0: taken for a slip). */
  readonly readings: readonly ReadingFit[]
  /** Nodes with their state after the last event, heaviest first. */
  readonly nodes: readonly PosteriorNode[]
  /** Time of the state in `nodes`, h. */
  readonly stateTimeH: number
  /** Mass left on the edge of the grid; under 1e-4 when the grid was wide enough. */
  readonly edgeMass: number
}
export interface ReadingFit {
  readonly id?: string
  readonly expectedMgPerL: number
  readonly trust: number
}

// Local names: in the innermost loops a global look-up costs more than the function.
const { exp, sqrt, log, hypot, abs, min, max, ceil, floor } = Math

/** Student's t with 4 degrees of freedom as a mixture of normals: weight and variance multiplier. Fits within 1 % to 3 sd. */
const TAILS: readonly (readonly [number, number])[] = [
  [0.06629763547656953, 0.36462784731414216],
  [0.24214340570743298, 0.6388328882034416],
  [0.3183820827942264, 1.1247724605416989],
  [0.25127549377221337, 2.146840440962028],
  [0.1043782859431358, 4.945180580716805],
  [0.016744113024838025, 15.66206687696086],
  [0.0007710045829513179, 80.85839231346047],
  [0.000007978698632560288, 824.7272975675418],
  [2e-7, 1.2e4],
  [2e-10, 4e5],
]
const TAIL_WEIGHT = Float64Array.from(TAILS, ([weight]) => weight / sqrt(2 * Math.PI))
const TAIL_SPREAD = Float64Array.from(TAILS, ([, spread]) => spread)
/** A censored reading is taken for a slip with this chance. */
const CENSOR_SLIP = 0.01

/** Small integers rather than words: this is compared in the innermost loop. */
const StepKind = { Dose: 0, Change: 1, Reading: 2, Dilute: 3 } as const
type StepKind = (typeof StepKind)[keyof typeof StepKind]
interface Step {
  kind: StepKind
  tH: number
  /** Index of the event or reading. */
  index: number
  /** Hours and media exposure since the step before. */
  dt: number
  media: number
  mediaSd: number
  /** Volume before over volume now: what evaporation does to the level since the step before. */
  concentrate: number
  /** For Dilute: volume before over volume after. */
  dilute: number
}

/** Merges events and readings into one timeline; events come before readings of the same time. */
function timeline(model: LevelModel): Step[] {
  const marks: { tH: number; order: number; kind: StepKind; index: number }[] = []
  model.events.forEach((event, index) =>
    marks.push({
      tH: event.tH,
      order: 0,
      kind: event.kind === 'dose' ? StepKind.Dose : event.kind === 'change' ? StepKind.Change : StepKind.Dilute,
      index,
    }),
  )
  model.readings.forEach((reading, index) => marks.push({ tH: reading.tH, order: 1, kind: StepKind.Reading, index }))
  marks.sort((a, b) => a.tH - b.tH || a.order - b.order || a.index - b.index)
  let t = 0
  let volume = model.volume.median
  return marks.map(({ tH, kind, index }) => {
    const dt = max(0, tH - t)
    const { exponent, sd } = mediaExposure(model, t, tH)
    const after = max(volume - model.evaporationLPerH * dt, model.volume.median / 4)
    const concentrate = volume / after
    volume = after
    let dilute = 1
    if (kind === StepKind.Dilute) {
      dilute = volume / model.volume.median
      volume = model.volume.median
    }
    t = max(t, tH)
    return { kind, tH, index, dt, media: exponent, mediaSd: sd, concentrate, dilute }
  })
}

function mediaExposure(model: LevelModel, fromH: number, toH: number): { exponent: number; sd: number } {
  let exponent = 0
  let variance = 0
  for (const media of model.media) {
    const overlap = min(toH, media.toH) - max(fromH, media.fromH)
    if (overlap <= 0) continue
    exponent += overlap * media.perHour
    variance += (overlap * media.perHour * media.sdShare) ** 2
  }
  return { exponent, sd: sqrt(variance) }
}

interface Axis {
  values: Float64Array
  logPrior: Float64Array
}
/** Log density of a log-normal prior, up to a constant that all its nodes share. */
const lnPrior = (ln: number, median: number, sdLn: number): number => -(((ln - log(median)) / sdLn) ** 2) / 2
const axisOf = ({ median, sdLn, tail }: Tailed, low: number, high: number, size: number): Axis => {
  if (sdLn === 0) return { values: Float64Array.of(median), logPrior: Float64Array.of(0) }
  const values = new Float64Array(size)
  const logPrior = new Float64Array(size)
  for (let i = 0; i < size; i++) {
    const ln = low + ((high - low) * i) / (size - 1)
    values[i] = exp(ln)
    const usual = lnPrior(ln, median, sdLn)
    logPrior[i] = tail
      ? log(
          (1 - tail.share) * exp(usual) +
            ((tail.share * sdLn) / tail.sdLn) * exp(lnPrior(ln, tail.median, tail.sdLn)) +
            1e-300,
        )
      : usual
  }
  return { values, logPrior }
}
const bindingAxis = (model: LevelModel): Axis => {
  if (!model.binding || model.binding.sd <= 0) {
    return { values: Float64Array.of(model.binding?.mean ?? 0), logPrior: Float64Array.of(0) }
  }
  const { mean, sd } = model.binding
  const size = 9
  const low = max(0, mean - 2.5 * sd)
  const high = min(0.95, mean + 2.5 * sd)
  const values = Float64Array.from({ length: size }, (_, i) => low + ((high - low) * i) / (size - 1))
  return { values, logPrior: values.map((b) => -(((b - mean) / sd) ** 2) / 2) }
}

/** Forward filter and backward smoother of one node. All buffers are reused from node to node. */
class NodeFilter {
  readonly n: number
  private readonly x: Float64Array
  private readonly P: Float64Array
  /** Per step: filtered level, first row of P, and for readings H, PHᵀ, g, h. */
  readonly level: Float64Array
  readonly row: Float64Array
  private readonly H: Float64Array
  private readonly u: Float64Array
  private readonly g: Float64Array
  private readonly h: Float64Array
  private readonly scale: Float64Array
  readonly expected: Float64Array
  readonly trust: Float64Array
  readonly smoothedMean: Float64Array
  readonly smoothedSd: Float64Array

  constructor(
    private readonly model: LevelModel,
    private readonly steps: readonly Step[],
  ) {
    const n = 1 + model.instrumentBiasSd.length
    this.n = n
    const count = steps.length
    this.x = new Float64Array(n)
    this.P = new Float64Array(n * n)
    this.level = new Float64Array(count + 1)
    this.row = new Float64Array((count + 1) * n)
    this.H = new Float64Array(count * n)
    this.u = new Float64Array(count * n)
    this.g = new Float64Array(count)
    this.h = new Float64Array(count)
    this.scale = new Float64Array(count)
    this.expected = new Float64Array(model.readings.length)
    this.trust = new Float64Array(model.readings.length)
    this.smoothedMean = new Float64Array(count + 1)
    this.smoothedSd = new Float64Array(count + 1)
  }

  /** Runs the record forward and returns its log likelihood under this node. `decay[i]` is e^(−k dt) per step. */
  forward(volumeL: number, boundShare: number, decay: Float64Array, decayOffset: number): number {
    const { model, steps, n, x, P } = this
    x.fill(0)
    P.fill(0)
    x[0] = model.initial.mgPerL
    P[0] = model.initial.sdMgPerL ** 2
    for (let i = 1; i < n; i++) P[i * n + i] = model.instrumentBiasSd[i - 1]! ** 2
    this.remember(0)
    let logLikelihood = 0
    const unlogged = model.unloggedSdPerDay ?? 0
    for (let s = 0; s < steps.length; s++) {
      const step = steps[s]!
      let scale = decay[decayOffset + s]! * step.concentrate
      if (step.mediaSd > 0) P[0] = P[0]! + (x[0]! * step.mediaSd) ** 2
      if (unlogged > 0) P[0] = P[0]! + (x[0]! * unlogged) ** 2 * (step.dt / 24)
      let added = 0
      let noise = 0
      let blend = 1
      if (step.kind === StepKind.Dose) {
        const event = model.events[step.index] as { massMg: number; sdShare: number }
        added = (event.massMg * (1 - boundShare)) / volumeL
        noise = (added * event.sdShare) ** 2
      } else if (step.kind === StepKind.Change) {
        const event = model.events[step.index] as { fraction: number; sdShare: number; replacementMgPerL: number }
        blend = 1 - event.fraction
        added = event.fraction * event.replacementMgPerL
        noise = ((x[0]! * scale - event.replacementMgPerL) * event.fraction * event.sdShare) ** 2
      } else if (step.kind === StepKind.Dilute) {
        const event = model.events[step.index] as { mgPerL: number }
        blend = step.dilute
        added = (1 - step.dilute) * event.mgPerL
      }
      scale *= blend
      this.scale[s] = scale
      x[0] = x[0]! * scale + added
      P[0] = P[0]! * scale * scale + noise
      for (let i = 1; i < n; i++) {
        P[i] = P[i]! * scale
        P[i * n] = P[i]!
      }
      if (step.kind === StepKind.Reading) logLikelihood += this.update(s, step.index)
      this.remember(s + 1)
    }
    return logLikelihood
  }

  private remember(slot: number): void {
    this.level[slot] = this.x[0]!
    for (let i = 0; i < this.n; i++) this.row[slot * this.n + i] = this.P[i]!
  }

  private update(s: number, index: number): number {
    const { n, x, P, H, u } = this
    const reading = this.model.readings[index]!
    const b = 1 + reading.instrument
    const base = s * n
    for (let i = 0; i < n; i++) H[base + i] = 0
    H[base] = 1 + x[b]!
    H[base + b] = x[0]!
    const h0 = H[base]!
    const hb = H[base + b]!
    for (let i = 0; i < n; i++) u[base + i] = P[i * n]! * h0 + P[i * n + b]! * hb
    const variance = h0 * u[base]! + hb * u[base + b]!
    const expected = x[0]! * (1 + x[b]!)
    const noise = reading.halfStepMgPerL ** 2 + (reading.relativeError * x[0]!) ** 2
    const residual = reading.mgPerL - expected
    let g = 0
    let h = 0
    let logLikelihood: number
    let trust: number
    if (reading.bound === 'exact') {
      let total = 0
      let first = 0
      let inverse = 0
      let square = 0
      let gross = 0
      for (let c = 0; c < TAIL_WEIGHT.length; c++) {
        const S = variance + TAIL_SPREAD[c]! * noise
        const density = (TAIL_WEIGHT[c]! / sqrt(S)) * exp((-residual * residual) / (2 * S))
        total += density
        first += (density * residual) / S
        inverse += density / S
        square += density * (residual / S) ** 2
        if (c >= 5) gross += density
      }
      if (total < 1e-290) {
        // So far off that no component holds it: a slip, without influence.
        logLikelihood = -670
        trust = 0
      } else {
        g = first / total
        h = inverse / total - (square / total - g * g)
        logLikelihood = log(total)
        trust = 1 - gross / total
      }
    } else {
      const sign = reading.bound === 'below' ? 1 : -1
      const sd = sqrt(variance + noise)
      const z = (sign * residual) / sd
      const inside = normalCdf(z)
      const total = (1 - CENSOR_SLIP) * inside + CENSOR_SLIP
      const ratio = ((1 - CENSOR_SLIP) * normalPdf(z)) / total
      g = (-sign * ratio) / sd
      h = (ratio * (z + ratio)) / (sd * sd)
      logLikelihood = log(total)
      trust = ((1 - CENSOR_SLIP) * inside) / total
    }
    for (let i = 0; i < n; i++) x[i] = x[i]! + u[base + i]! * g
    for (let i = 0; i < n; i++)
      for (let j = 0; j < n; j++) P[i * n + j] = P[i * n + j]! - h * u[base + i]! * u[base + j]!
    if (P[0]! < 0) P[0] = 0
    if (x[0]! < 0) x[0] = 0
    this.g[s] = g
    this.h[s] = h
    this.expected[index] = expected
    this.trust[index] = trust
    return logLikelihood
  }

  /** Smoothed mean and sd of the level just after every step (slot 0: the start). Call after `forward`. */
  backward(): void {
    const { n, steps, H, u } = this
    const lambda = new Float64Array(n)
    const Lambda = new Float64Array(n * n)
    const uLambda = new Float64Array(n)
    for (let s = steps.length; s >= 0; s--) {
      let mean = this.level[s]!
      let variance = this.row[s * n]!
      for (let i = 0; i < n; i++) {
        const pi = this.row[s * n + i]!
        mean -= pi * lambda[i]!
        for (let j = 0; j < n; j++) variance -= pi * Lambda[i * n + j]! * this.row[s * n + j]!
      }
      this.smoothedMean[s] = mean > 0 ? mean : 0
      this.smoothedSd[s] = variance > 0 ? sqrt(variance) : 0
      if (s === 0) break
      const step = s - 1
      if (steps[step]!.kind === StepKind.Reading) {
        const base = step * n
        const h = this.h[step]!
        let dot = 0
        for (let i = 0; i < n; i++) dot += u[base + i]! * lambda[i]!
        const pull = h * dot + this.g[step]!
        let quad = 0
        for (let j = 0; j < n; j++) {
          let sum = 0
          for (let i = 0; i < n; i++) sum += u[base + i]! * Lambda[i * n + j]!
          uLambda[j] = sum * h
          quad += sum * u[base + j]!
        }
        quad *= h * h
        for (let i = 0; i < n; i++) lambda[i] = lambda[i]! - H[base + i]! * pull
        for (let i = 0; i < n; i++) {
          for (let j = 0; j < n; j++) {
            Lambda[i * n + j] =
              Lambda[i * n + j]! -
              H[base + i]! * uLambda[j]! -
              uLambda[i]! * H[base + j]! +
              H[base + i]! * H[base + j]! * (quad + h)
          }
        }
      }
      const scale = this.scale[step]!
      lambda[0] = lambda[0]! * scale
      for (let i = 0; i < n; i++) Lambda[i] = Lambda[i]! * scale
      for (let i = 0; i < n; i++) Lambda[i * n] = Lambda[i * n]! * scale
    }
  }

  /** State after the last step. */
  finalState(): { x: Float64Array; P: Float64Array } {
    return { x: this.x, P: this.P }
  }
}

interface GridPass {
  volume: Axis
  loss: Axis
  binding: Axis
  /** Log posterior per node, volume fastest, then loss, then binding. */
  log: Float64Array
  decay: Float64Array
}

function runGrid(model: LevelModel, steps: readonly Step[], filter: NodeFilter, box: Box, size: number): GridPass {
  const volume = axisOf(model.volume, box.v0, box.v1, size)
  const loss = axisOf(model.loss, box.k0, box.k1, size)
  const binding = bindingAxis(model)
  const decay = new Float64Array(loss.values.length * steps.length)
  loss.values.forEach((k, j) => {
    steps.forEach((step, s) => (decay[j * steps.length + s] = exp(-k * step.dt - step.media)))
  })
  const log = new Float64Array(volume.values.length * loss.values.length * binding.values.length)
  let node = 0
  for (let b = 0; b < binding.values.length; b++) {
    for (let j = 0; j < loss.values.length; j++) {
      for (let i = 0; i < volume.values.length; i++) {
        log[node++] =
          volume.logPrior[i]! +
          loss.logPrior[j]! +
          binding.logPrior[b]! +
          filter.forward(volume.values[i]!, binding.values[b]!, decay, j * steps.length)
      }
    }
  }
  return { volume, loss, binding, log, decay }
}

interface Box {
  v0: number
  v1: number
  k0: number
  k1: number
}

/** Normalises log weights in place to weights that sum to one. */
function normalise(log: Float64Array): Float64Array {
  let top = -Infinity
  for (const value of log) if (value > top) top = value
  let sum = 0
  const weights = new Float64Array(log.length)
  for (let i = 0; i < log.length; i++) sum += weights[i] = exp(log[i]! - top)
  for (let i = 0; i < log.length; i++) weights[i] = weights[i]! / sum
  return weights
}

/** Mean and sd of ln V and ln k under the weights, and the mass on the outermost rows. */
function summarise(pass: GridPass, weights: Float64Array) {
  const nv = pass.volume.values.length
  const nk = pass.loss.values.length
  let v = 0
  let vv = 0
  let k = 0
  let kk = 0
  let edge = 0
  for (let node = 0; node < weights.length; node++) {
    const w = weights[node]!
    const i = node % nv
    const j = floor(node / nv) % nk
    const lnV = log(pass.volume.values[i]!)
    const lnK = log(pass.loss.values[j]!)
    v += w * lnV
    vv += w * lnV * lnV
    k += w * lnK
    kk += w * lnK * lnK
    if ((nv > 1 && (i === 0 || i === nv - 1)) || (nk > 1 && (j === 0 || j === nk - 1))) edge += w
  }
  return {
    v,
    vSd: sqrt(max(0, vv - v * v)),
    k,
    kSd: sqrt(max(0, kk - k * k)),
    edge,
  }
}

const COARSE = 15
/** Nodes of the first pass where a prior has a second half far off. */
const COARSE_TAILED = 31
/** Where nothing was read nothing speaks for the second half of a prior: what was measured and published stands. */
const untailed = (model: LevelModel): LevelModel => ({
  ...model,
  volume: { median: model.volume.median, sdLn: model.volume.sdLn },
  loss: { median: model.loss.median, sdLn: model.loss.sdLn },
})
/** So far a prior reaches, on its logarithm: five of its own sds, and two and a half of what else it may be. */
const reachOf = ({ median, sdLn, tail }: Tailed): readonly [number, number] => {
  const own = log(median)
  const wide = sdLn > 0 && tail ? 2.5 * tail.sdLn : 0
  const other = tail ? log(tail.median) : own
  return [
    min(own - 5 * sdLn, wide > 0 ? other - wide : Infinity),
    max(own + 5 * sdLn, wide > 0 ? other + wide : -Infinity),
  ]
}
/** Nodes lighter than this share of the heaviest are dropped: together under 1e-4 of the mass. */
const LIGHTEST = 1e-4
const BINS = 1024

/**
 * Level posterior at the given times, smoothed over the whole record. Deterministic.
 * @throws RangeError when times are not ascending or the volume prior is not positive.
 */
export function levelPosterior(given: LevelModel, options: PosteriorOptions): LevelPosterior {
  const model = given.readings.length > 0 ? given : untailed(given)
  const { timesH } = options
  for (let i = 1; i < timesH.length; i++) {
    if (timesH[i]! < timesH[i - 1]!) throw new RangeError('levelPosterior: timesH must be ascending')
  }
  if (!(model.volume.median > 0)) throw new RangeError('levelPosterior: the volume must be above zero')
  const size = options.gridSize ?? 64
  const steps = timeline(model)
  const filter = new NodeFilter(model, steps)

  const [v0, v1] = reachOf(model.volume)
  const [k0, k1] = reachOf(model.loss)
  let box: Box = { v0, v1, k0, k1 }
  let pass: GridPass
  let weights: Float64Array
  let summary: ReturnType<typeof summarise>
  const first = model.volume.tail || model.loss.tail ? COARSE_TAILED : COARSE
  if (model.readings.length > 0 && (size > COARSE || model.volume.tail)) {
    const coarse = runGrid(model, steps, filter, box, first)
    summary = summarise(coarse, normalise(coarse.log))
    const cellV = (box.v1 - box.v0) / (first - 1)
    const cellK = (box.k1 - box.k0) / (first - 1)
    const reachV = 4.6 * hypot(summary.vSd, cellV * 0.3)
    const reachK = 4.6 * hypot(summary.kSd, cellK * 0.3)
    box = { v0: summary.v - reachV, v1: summary.v + reachV, k0: summary.k - reachK, k1: summary.k + reachK }
  }
  pass = runGrid(model, steps, filter, box, size)
  weights = normalise(pass.log)
  summary = summarise(pass, weights)
  for (let widen = 0; widen < 4 && summary.edge > 1e-4; widen++) {
    const v = (box.v1 - box.v0) * 0.35
    const k = (box.k1 - box.k0) * 0.35
    box = { v0: box.v0 - v, v1: box.v1 + v, k0: box.k0 - k, k1: box.k1 + k }
    pass = runGrid(model, steps, filter, box, size)
    weights = normalise(pass.log)
    summary = summarise(pass, weights)
  }
  return report(model, options, steps, filter, pass, weights, summary.edge)
}

function report(
  model: LevelModel,
  options: PosteriorOptions,
  steps: readonly Step[],
  filter: NodeFilter,
  pass: GridPass,
  weights: Float64Array,
  edgeMass: number,
): LevelPosterior {
  const { timesH } = options
  const nv = pass.volume.values.length
  const nk = pass.loss.values.length
  let top = 0
  for (const w of weights) if (w > top) top = w
  const active: number[] = []
  let kept = 0
  for (let node = 0; node < weights.length; node++) {
    if (weights[node]! >= LIGHTEST * top) {
      active.push(node)
      kept += weights[node]!
    }
  }
  const count = active.length
  const slots = steps.length + 1
  // Per slot and active node: log of the smoothed mean; per slot: mean relative variance within nodes.
  const lnLevel = new Float64Array(slots * count)
  const within = new Float64Array(slots)
  const weight = new Float64Array(count)
  const rate = new Float64Array(count)
  const instruments = model.instrumentBiasSd.length
  const biasMean = new Float64Array(instruments)
  const biasSquare = new Float64Array(instruments)
  const expected = new Float64Array(model.readings.length)
  const trust = new Float64Array(model.readings.length)
  const nodes: PosteriorNode[] = []
  let meanV = 0
  let squareV = 0
  let meanK = 0
  let squareK = 0
  let lnHigh = log(options.hardMaxMgPerL)
  const lnFloorOfAll = log(options.floorMgPerL) - 5
  for (let a = 0; a < count; a++) {
    const node = active[a]!
    const w = weights[node]! / kept
    const volumeL = pass.volume.values[node % nv]!
    const j = floor(node / nv) % nk
    const k = pass.loss.values[j]!
    const bound = pass.binding.values[floor(node / (nv * nk))]!
    filter.forward(volumeL, bound, pass.decay, j * steps.length)
    const { x, P } = filter.finalState()
    const n = filter.n
    const biases: number[] = []
    const variances: number[] = []
    const covariances: number[] = []
    for (let i = 1; i < n; i++) {
      biases.push(x[i]!)
      variances.push(P[i * n + i]!)
      covariances.push(P[i]!)
      biasMean[i - 1] = biasMean[i - 1]! + w * x[i]!
      biasSquare[i - 1] = biasSquare[i - 1]! + w * (x[i]! ** 2 + P[i * n + i]!)
    }
    nodes.push({
      weight: w,
      volumeL,
      lossPerHour: k,
      boundShare: bound,
      levelMgPerL: x[0]!,
      levelSd: sqrt(max(0, P[0]!)),
      biasMean: biases,
      biasVariance: variances,
      biasLevelCovariance: covariances,
    })
    filter.backward()
    weight[a] = w
    rate[a] = k
    meanV += w * volumeL
    squareV += w * volumeL * volumeL
    meanK += w * k
    squareK += w * k * k
    for (let s = 0; s < slots; s++) {
      const mean = filter.smoothedMean[s]!
      const ln = mean > 0 ? log(mean) : -Infinity
      lnLevel[s * count + a] = ln
      if (ln > lnHigh) lnHigh = ln
      if (mean > 0) within[s] = within[s]! + w * min(0.25, (filter.smoothedSd[s]! / mean) ** 2)
    }
    for (let r = 0; r < expected.length; r++) {
      expected[r] = expected[r]! + w * filter.expected[r]!
      trust[r] = trust[r]! + w * filter.trust[r]!
    }
  }

  const total = timesH.length
  const out = {
    p10: new Float64Array(total),
    p50: new Float64Array(total),
    p90: new Float64Array(total),
    pFloor: new Float64Array(total),
    pBand: new Float64Array(total),
    pHardMax: new Float64Array(total),
  }
  const low = lnFloorOfAll
  const high = lnHigh + 0.4
  const histogram = new Histogram(low, high, [options.floorMgPerL, options.ceilingMgPerL, options.hardMaxMgPerL])
  let slot = 0
  let volumeAtSlot = model.volume.median
  for (let i = 0; i < total; i++) {
    const t = timesH[i]!
    while (slot < steps.length && steps[slot]!.tH <= t) {
      const step = steps[slot]!
      volumeAtSlot = step.kind === StepKind.Dilute ? model.volume.median : volumeAtSlot / step.concentrate
      slot++
    }
    const from = slot === 0 ? 0 : steps[slot - 1]!.tH
    const dt = max(0, t - from)
    const { exponent, sd } = mediaExposure(model, from, t)
    const volume = max(volumeAtSlot - model.evaporationLPerH * dt, model.volume.median / 4)
    const shift = log(volumeAtSlot / volume) - exponent
    histogram.clear()
    const base = slot * count
    for (let a = 0; a < count; a++) histogram.add(lnLevel[base + a]! - rate[a]! * dt + shift, weight[a]!)
    histogram.finish(sqrt(within[slot]! + sd * sd))
    out.p10[i] = histogram.percentile(0.1)
    out.p50[i] = histogram.percentile(0.5)
    out.p90[i] = histogram.percentile(0.9)
    const below = histogram.below(0)
    out.pFloor[i] = 1 - below
    out.pBand[i] = max(0, histogram.below(1) - below)
    out.pHardMax[i] = 1 - histogram.below(2)
  }
  nodes.sort((a, b) => b.weight - a.weight)
  return {
    timesH,
    ...out,
    volume: { meanL: meanV, sdL: sqrt(max(0, squareV - meanV * meanV)) },
    lossPerHour: { mean: meanK, sd: sqrt(max(0, squareK - meanK * meanK)) },
    bias: Array.from(biasMean, (mean, i) => ({ mean, sd: sqrt(max(0, biasSquare[i]! - mean * mean)) })),
    readings: model.readings.map((reading, r) => ({
      ...(reading.id === undefined ? {} : { id: reading.id }),
      expectedMgPerL: expected[r]!,
      trust: trust[r]!,
    })),
    nodes,
    stateTimeH: steps.at(-1)?.tH ?? 0,
    edgeMass,
  }
}

/** Weighted histogram on log level, smoothed by the spread inside nodes, read by linear interpolation of its sum. */
class Histogram {
  private readonly bins = new Float64Array(BINS)
  private readonly cumulative = new Float64Array(BINS + 1)
  private readonly perBin: number
  private readonly marks: readonly number[]
  private zero = 0
  private first = 0
  private last = 0
  private kernelSd = -1
  private kernel = new Float64Array(1)

  constructor(
    private readonly low: number,
    high: number,
    marks: readonly number[],
  ) {
    this.perBin = (high - low) / BINS
    this.marks = marks.map(log)
  }

  clear(): void {
    this.bins.fill(0, max(0, this.first), min(BINS, this.last + 2))
    this.zero = 0
    this.first = BINS
    this.last = -1
  }

  add(ln: number, weight: number): void {
    const at = (ln - this.low) / this.perBin - 0.5
    if (!(at > 0)) {
      this.zero += weight
      return
    }
    const bin = at >= BINS - 1 ? BINS - 2 : at | 0
    const share = at >= BINS - 1 ? 1 : at - bin
    this.bins[bin] = this.bins[bin]! + weight * (1 - share)
    this.bins[bin + 1] = this.bins[bin + 1]! + weight * share
    if (bin < this.first) this.first = bin
    if (bin + 1 > this.last) this.last = bin + 1
  }

  /** Convolves with a normal of this sd (in log level) and sums up. */
  finish(sd: number): void {
    const width = min(sd / this.perBin, 80)
    const reach = ceil(4 * width)
    if (abs(width - this.kernelSd) > 1e-9) {
      this.kernelSd = width
      this.kernel = new Float64Array(2 * reach + 1)
      let sum = 0
      for (let i = -reach; i <= reach; i++) {
        const mass = width < 0.05 ? (i === 0 ? 1 : 0) : normalCdf((i + 0.5) / width) - normalCdf((i - 0.5) / width)
        this.kernel[i + reach] = mass
        sum += mass
      }
      for (let i = 0; i < this.kernel.length; i++) this.kernel[i] = this.kernel[i]! / sum
    }
    const { kernel, cumulative } = this
    const half = (kernel.length - 1) / 2
    cumulative.fill(0)
    for (let bin = this.first; bin <= this.last; bin++) {
      const mass = this.bins[bin]!
      if (mass === 0) continue
      const from = bin - half + 1
      if (from >= 1 && bin + half < BINS) {
        // The usual case, which is most of the work of an estimate: nothing reaches past the ends.
        for (let i = 0; i < kernel.length; i++) cumulative[from + i]! += mass * kernel[i]!
        continue
      }
      for (let i = 0; i < kernel.length; i++) {
        const to = max(1, min(BINS, from + i))
        cumulative[to] = cumulative[to]! + mass * kernel[i]!
      }
    }
    cumulative[0] = this.zero
    for (let i = 1; i <= BINS; i++) cumulative[i] = cumulative[i]! + cumulative[i - 1]!
  }

  percentile(p: number): number {
    if (this.zero >= p || this.last < 0) return 0
    let low = 0
    let high = BINS
    while (high - low > 1) {
      const middle = (low + high) >> 1
      if (this.cumulative[middle]! < p) low = middle
      else high = middle
    }
    const a = this.cumulative[low]!
    const b = this.cumulative[high]!
    const share = b > a ? (p - a) / (b - a) : 0.5
    return exp(this.low + (low + share) * this.perBin)
  }

  /** P(level < mark), by the index of the mark given to the constructor. */
  below(mark: number): number {
    const at = (this.marks[mark]! - this.low) / this.perBin
    if (at <= 0) return this.zero
    if (at >= BINS) return 1
    const bin = at | 0
    const a = this.cumulative[bin]!
    return min(1, a + (at - bin) * (this.cumulative[bin + 1]! - a))
  }
}
