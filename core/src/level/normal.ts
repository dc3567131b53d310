// The standard normal, fast enough for a posterior and exact enough for a probability on screen.

const { abs, exp } = Math

/** Cumulative normal, absolute error below 1e-15 in the body. @source W. J. Cody's split via Hart 1968 / West 2005 */
export function normalCdf(z: number): number {
  const x = abs(z)
  if (x > 37) return z > 0 ? 1 : 0
  const e = exp((-x * x) / 2)
  let tail: number
  if (x < 7.07106781186547) {
    let a = 3.52624965998911e-2 * x + 0.700383064443688
    a = a * x + 6.37396220353165
    a = a * x + 33.912866078383
    a = a * x + 112.079291497871
    a = a * x + 221.213596169931
    a = a * x + 220.206867912376
    let b = 8.83883476483184e-2 * x + 1.75566716318264
    b = b * x + 16.064177579207
    b = b * x + 86.7807322029461
    b = b * x + 296.564248779674
    b = b * x + 637.333633378831
    b = b * x + 793.826512519948
    b = b * x + 440.413735824752
    tail = (e * a) / b
  } else {
    tail = e / (x + 1 / (x + 2 / (x + 3 / (x + 4 / (x + 0.65))))) / 2.506628274631
  }
  return z > 0 ? 1 - tail : tail
}

const INV_SQRT_2PI = 0.3989422804014327
/** Density of the standard normal. */
export const normalPdf = (z: number): number => INV_SQRT_2PI * exp((-z * z) / 2)

/** z with normalCdf(z) = p, for 0 < p < 1, by bisection and Newton; error below 1e-12. */
export function normalQuantile(p: number): number {
  if (!(p > 0 && p < 1)) throw new RangeError('normalQuantile: p must be inside 0..1')
  let low = -40
  let high = 40
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2
    if (normalCdf(middle) < p) low = middle
    else high = middle
  }
  return (low + high) / 2
}
