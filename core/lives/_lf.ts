import { protocolOf } from '../src/index.ts'
import { live } from './life.ts'
import { KEEPERS } from './keepers.ts'
const protocol = protocolOf('copper-in-place-30')!
let hits = 0, hours = 0, short = 0, held = 0, over = 0, soon = 0
const n = Number(process.argv[2] ?? 30)
for (let i = 0; i < n; i++) {
  const l = live({ protocol, keeper: KEEPERS.exact, seed: 11 + i, maxDays: 150, messy: true })
  hits += l.bandHits; hours += l.bandHours
  if (l.credited && l.heldDay !== null) { held++; if (l.credited.trueHours < l.credited.needed) short++; if (l.heldDay <= 55) soon++ }
  if (l.highest > 1) over++
}
console.log(process.env.BARE, 'band', (100 * hits / hours).toFixed(1), 'short', short, 'held', held, 'soon', soon, 'over', over, 'of', n)
