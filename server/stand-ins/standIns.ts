// The stand-ins as a programme: a probe head, a doser, a lamp and a photometer that say hello to the server beside them.
// BRINVO_PORT and BRINVO_CODE say where; BRINVO_FAULTS gives faults by device: "probe-head=stuck,doser=dry".
import { Doser, lampAt, photometer, ProbeHead, StandInTank, type Fault } from './bodies.ts'
import { DeviceClient } from './client.ts'

const base = `http://127.0.0.1:${process.env['BRINVO_PORT'] ?? '4174'}`
const code = process.env['BRINVO_CODE'] ?? process.argv[2] ?? ''
const faults = new Map(
  (process.env['BRINVO_FAULTS'] ?? '')
    .split(',')
    .filter((pair) => pair.includes('='))
    .map((pair) => pair.split('=') as [string, Fault]),
)
const of = (id: string): Fault => faults.get(id) ?? 'none'
const startMs = Date.now()
const water = new StandInTank(startMs % 2 ** 31, startMs, of('probe-head'))
const head = new ProbeHead(water, startMs, of('probe-head'))
const pump = new Doser(water, of('doser'))

const wire = {
  head: new DeviceClient(base, 'stand-in-head', 'probe-head', 'Stand-in probe head'),
  doser: new DeviceClient(base, 'stand-in-doser', 'doser', 'Stand-in doser'),
  lamp: new DeviceClient(base, 'stand-in-lamp', 'lamp', 'Stand-in lamp'),
  photometer: new DeviceClient(base, 'stand-in-photometer', 'photometer', 'Stand-in photometer'),
}
/** What the pump believes of its own flow until it is calibrated. */
const NOMINAL = 38

async function run() {
  for (const device of Object.values(wire)) await device.hello(code)
  console.log('Stand-ins are there: a probe head, a doser, a lamp and a photometer.')
  const complain = (cause: unknown) => console.error(cause instanceof Error ? cause.message : String(cause))
  setInterval(() => void wire.head.samples(head.sample(Date.now())).catch(complain), 1000)
  setInterval(() => {
    const now = new Date()
    const value = lampAt(now.getHours() + now.getMinutes() / 60)
    void wire.lamp.samples([{ at: now.getTime(), quantity: 'light', value }]).catch(complain)
  }, 10_000)
  const listen = (device: DeviceClient, take: Parameters<DeviceClient['orders']>[0]) => {
    void device
      .orders(take)
      .catch(complain)
      .finally(() => setTimeout(() => listen(device, take), 2000))
  }
  listen(wire.doser, async (order) => {
    if (order.do === 'pour') {
      const { saysMl, saysDry } = pump.pour(order.mL!, NOMINAL)
      await wire.doser.report(order.n, saysMl, saysDry)
    } else if (order.do === 'run') await wire.doser.report(order.n, Number(pump.run(order.seconds!).toFixed(1)), false)
  })
  listen(wire.photometer, async (order) => {
    if (order.do !== 'read') return
    const value = photometer(water, order.analyte ?? 'alkalinity')
    await wire.photometer.samples([{ at: Date.now(), quantity: 'reading', value }])
  })
}
// When the server that started us goes away, so do we.
const parent = process.ppid
setInterval(() => {
  if (process.ppid !== parent) process.exit(0)
}, 1000).unref()
// The server may still be opening its door.
setTimeout(() => {
  run().catch((cause: unknown) => {
    console.error(cause instanceof Error ? cause.message : String(cause))
    process.exit(1)
  })
}, 300)
