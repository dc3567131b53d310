// Holding B: the royal gramma in its sixth day of tank transfer with peroxide baths, just moved for the second time.
import { beginCourse, peroxideBottle, type Writer } from './writer.ts'

const COURSE = 'transfer-holding-b'
const TUBS = ['holding-b', 'holding-b-second'] as const

/** Two transfers, one of them through a bath, a missed day of watching, and breathing that rose since yesterday. */
export function demoTransfer(writer: Writer): void {
  const { at, entry } = writer
  const startMs = at(-6, 17)
  peroxideBottle(
    writer,
    { id: 'peroxide-bath-3', name: 'Peroxide 3 %, for baths', form: 'peroxide-bath', sizeAmount: 500 },
    at(-6, 16),
    at(-3, 16),
  )
  beginCourse(
    writer,
    { id: COURSE, protocolId: 'tank-transfer-hybrid', vesselId: TUBS[0], startMs },
    {
      vessels: { second: TUBS[1] },
      products: { peroxide: 'peroxide-bath-3' },
      instruments: { 'ammonia-test': 'ammonia-drops' },
      residents: ['gramma'],
      dailyHour: 18,
    },
  )
  const base = { vesselId: TUBS[0], courseId: COURSE }
  for (const gate of ['two-sets', 'water']) entry(startMs + 60_000, 'gate', { ...base, gate, passed: true })
  const bath = { ...base, rule: 'peroxide', litres: 10 }
  entry(at(-3, 16.2), 'bath', { ...bath, act: 'start', productId: 'peroxide-bath-3', amount: 25, unit: 'mL' })
  entry(at(-3, 16.7), 'bath', { ...bath, act: 'end', step: `${COURSE}/peroxide/0`, minutes: 30 })
  const moved = (day: number, hour: number, i: number) => {
    entry(at(day, hour), 'move', {
      ...base,
      vesselId: TUBS[i % 2]!,
      residentId: 'gramma',
      toVesselId: TUBS[(i + 1) % 2]!,
    })
    entry(at(day, hour) + 60_000, 'done', { ...base, step: `${COURSE}/transfer/${i}`, what: 'Transfer' })
  }
  moved(-3, 16.8, 0)
  entry(at(-2, 11), 'done', { ...base, step: `${COURSE}/sterilise/1`, what: 'Sterilised and dried the empty tub' })
  moved(0, 16.4, 1)
  const looks = { dawn: [8.2, 10], feeding: [13, 10], torch: [21.5, 10] } as const
  for (let day = -6; day <= 0; day++) {
    const tub = TUBS[day >= -3 && day < 0 ? 1 : 0]
    for (const [look, [hour, minutes]] of Object.entries(looks)) {
      // Three days ago only the torch; nobody looked at all four days ago.
      if ((day === -6 && look !== 'torch') || day === -4 || (day === -3 && look !== 'torch')) continue
      entry(at(day, hour), 'done', {
        ...base,
        vesselId: tub,
        what: `Looked for ${minutes} min, nothing odd`,
        watched: { look, minutes },
      })
    }
    if (day > -6)
      entry(at(day, 8.4), 'reading', {
        ...base,
        vesselId: tub,
        analyte: 'temperature',
        value: Number((25.1 + 0.1 * Math.sin(day)).toFixed(1)),
        unit: '°C',
        bound: 'exact',
        instrumentId: 'thermometer',
      })
    const beats = { '-5': [88], '-3': [92], '-2': [90], '-1': [104], '0': [152, 156] }[String(day)] ?? []
    for (const [i, count] of beats.entries())
      entry(at(day, day === 0 ? 17 + i * 0.3 : 8.3), 'count', {
        ...base,
        vesselId: tub,
        what: 'gill-beats',
        count,
        residentId: 'gramma',
      })
    if (day < 0)
      entry(at(day, 13.1), 'meal', {
        ...base,
        vesselId: tub,
        took: day === -1 ? 'tried' : 'took',
        residentId: 'gramma',
      })
    entry(at(day, 16), 'reading', {
      ...base,
      vesselId: tub,
      analyte: 'ammonia-total',
      value: day === -3 || day === 0 ? 0.3 : 0.1,
      unit: 'mg/L',
      bound: 'exact',
      instrumentId: 'ammonia-drops',
    })
  }
}
