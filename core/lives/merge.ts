// npm run merge -- --n N [--seed S]: N random histories of one house on three devices that write apart, join in pairs while
// they go, and join in every order in the end. Whoever joins must end with the same record, and nothing of any may be lost.
// npm run merge -- --size E: two records of E entries each, half of them shared, joined once, and how long that took.
import { instantOf } from '../src/time/time.ts'
import { activeEntries, documentsOf, recordOf, revised } from '../src/record/account.ts'
import { joinRecords } from '../src/record/join.ts'
import { defaultSettings } from '../src/record/settings.ts'
import { toFile } from '../src/record/format.ts'
import { faultOfEntry, faultOfRegister } from '../src/record/validate.ts'
import { versionsOf } from '../src/record/versions.ts'
import type { Entry, KeeperRecord, RegisterDocument } from '../src/record/types.ts'
import { chanceFrom, type Chance } from '../src/world/random.ts'
import { boxVolume } from '../src/demo/demoRecord.ts'
import { given } from './args.ts'

const ZONE = 'Europe/Berlin'
const START = Date.parse('2026-11-01T08:00:00Z')
const HOUR = 3_600_000
const settings = defaultSettings(ZONE, 'en-GB')
const vesselBody = (name: string) => ({
  name,
  purpose: 'display',
  water: 'marine',
  nominalL: 200,
  volume: boxVolume(90, 45, 50, 8, 3),
  bindingMedia: 'none',
  sortOrder: 1,
  startedAt: instantOf(START - 1000 * HOUR),
})
let made = 0
const newId = (what: string) => `${what}-${(made++).toString(36)}`
const document = (register: RegisterDocument['register'], id: string, body: object, atMs: number) =>
  ({ register, id, revision: 1, savedAt: instantOf(atMs), body, history: [] }) as unknown as RegisterDocument
const entry = (atMs: number, fields: object): Entry =>
  ({ id: newId('e'), at: instantOf(atMs), zone: ZONE, recordedAt: instantOf(atMs), ...fields }) as unknown as Entry

/** All that a record says, in an order that owes nothing to the device. */
const stateOf = (record: KeeperRecord): string => {
  const { entries, registers } = toFile({ ...record, settings }, instantOf(START))
  return JSON.stringify([entries, [...registers].sort((a, b) => (a.register + a.id < b.register + b.id ? -1 : 1))])
}
const join = (a: KeeperRecord, b: KeeperRecord, nowMs: number) => joinRecords(a, b, nowMs).record

interface Device {
  record: KeeperRecord
  /** How far its clock is off, ms. */
  readonly offMs: number
}
/** One write of a device; answers the entries and bodies that it made. */
function write(device: Device, nowMs: number, chance: Chance): { entries: Entry[]; bodies: string[] } {
  const atMs = nowMs + device.offMs
  const { record } = device
  const all = documentsOf(record)
  const pick = <T>(list: readonly T[]): T => list[Math.floor(chance.next() * list.length)]!
  const add = (documents: readonly RegisterDocument[], entries: readonly Entry[]) => {
    device.record = recordOf(record.settings, [...documentsOf(record), ...documents], [...record.entries, ...entries])
    return { entries: [...entries], bodies: documents.map(({ body }) => JSON.stringify(body)) }
  }
  const what = chance.next()
  const vessel = pick([...record.vessels.values()])
  if (what < 0.35)
    return add(
      [],
      [
        entry(atMs, {
          kind: 'reading',
          vesselId: vessel.id,
          analyte: 'alkalinity',
          value: Number(chance.between(6, 10).toFixed(1)),
          unit: 'dKH',
          bound: 'exact',
        }),
      ],
    )
  const readings = record.entries.filter(({ kind }) => kind === 'reading')
  if (what < 0.45 && readings.length > 0) {
    const target = pick(readings)
    return chance.happens(0.5)
      ? add([], [entry(atMs, { kind: 'void', voids: target.id, reason: 'a typo' })])
      : add(
          [],
          [
            entry(atMs, {
              kind: 'reading',
              vesselId: 'vesselId' in target ? target.vesselId : vessel.id,
              analyte: 'alkalinity',
              value: Number(chance.between(6, 10).toFixed(1)),
              unit: 'dKH',
              bound: 'exact',
              corrects: target.id,
            }),
          ],
        )
  }
  if (what < 0.52) {
    const id = newId('r')
    return add(
      [
        document(
          'resident',
          id,
          {
            name: id,
            commonName: 'Clownfish',
            group: 'hg-clown-damsel',
            count: 1,
            vesselId: vessel.id,
            arrivedAt: instantOf(atMs),
          },
          atMs,
        ),
      ],
      [],
    )
  }
  if (what < 0.56) return add([document('vessel', newId('v'), vesselBody(newId('tank')), atMs)], [])
  const residents = [...record.residents.values()]
  if (what < 0.64 && residents.length > 0)
    return add(
      [],
      [
        entry(atMs, {
          kind: 'move',
          vesselId: vessel.id,
          residentId: pick(residents).id,
          toVesselId: pick([...record.vessels.values()]).id,
        }),
      ],
    )
  const target = pick(all)
  const body = { ...target.body } as Record<string, unknown>
  if (chance.happens(0.5)) body['name'] = newId('name')
  if (chance.happens(0.5)) body['note'] = newId('note')
  else if (chance.happens(0.3)) delete body['note']
  if (target.register === 'vessel' && chance.happens(0.4)) {
    if (chance.happens(0.5)) body['nominalL'] = Math.round(chance.between(150, 260))
    else body['volumeConfirmedAt'] = instantOf(atMs)
  }
  return add([revised(target, body as never, instantOf(atMs))], [])
}

const ORDERS = [
  [0, 1, 2],
  [0, 2, 1],
  [1, 0, 2],
  [1, 2, 0],
  [2, 0, 1],
  [2, 1, 0],
] as const

/** One history; answers what went wrong, in words. */
function history(seed: number): string[] {
  const chance = chanceFrom(seed)
  made = seed * 100_000
  const home = recordOf(settings, [document('vessel', 'reef', vesselBody('Reef'), START)], [])
  const devices: Device[] = [0, 1, 2].map(() => ({ record: home, offMs: Math.round(chance.normal(0, 2) * HOUR) }))
  const entries = new Set<string>()
  const bodies = new Set<string>()
  let nowMs = START
  for (let step = 0; step < 24; step++) {
    nowMs += chance.between(0, 9) * HOUR
    const device = devices[Math.floor(chance.next() * 3)]!
    if (chance.happens(0.2)) device.record = join(device.record, devices[Math.floor(chance.next() * 3)]!.record, nowMs)
    else {
      const wrote = write(device, nowMs, chance)
      for (const { id } of wrote.entries) entries.add(id)
      for (const body of wrote.bodies) bodies.add(body)
    }
  }
  const faults: string[] = []
  const ends = ORDERS.map((order) =>
    order.slice(1).reduce((record, i) => join(record, devices[i]!.record, nowMs), devices[order[0]]!.record),
  )
  const states = ends.map(stateOf)
  if (new Set(states).size > 1) faults.push('orders differ')
  const [end] = ends as [KeeperRecord]
  const [a, b, c] = devices.map(({ record }) => record) as [KeeperRecord, KeeperRecord, KeeperRecord]
  if (stateOf(join(join(a, b, nowMs), join(b, c, nowMs), nowMs)) !== states[0])
    faults.push('joined in pairs it differs')
  if (stateOf(join(end, end, nowMs)) !== states[0]) faults.push('joined with itself it differs')
  const kept = new Set(end.entries.map(({ id }) => id))
  for (const id of entries) if (!kept.has(id)) faults.push(`entry ${id} is lost`)
  const said = new Set(documentsOf(end).flatMap((one) => versionsOf(one).map(({ body }) => JSON.stringify(body))))
  for (const body of bodies) if (!said.has(body)) faults.push(`a version is lost: ${body.slice(0, 60)}`)
  for (const one of end.entries) {
    const fault = faultOfEntry(one)
    if (fault !== null) faults.push(`${one.kind} ${one.id}${fault.path} ${fault.message}`)
  }
  for (const one of documentsOf(end)) {
    const fault = faultOfRegister(one)
    if (fault !== null) faults.push(`${one.register} ${one.id}${fault.path} ${fault.message}`)
  }
  const corrected = new Map<string, number>()
  for (const one of activeEntries(end.entries))
    if (one.kind !== 'void' && one.corrects !== undefined)
      corrected.set(one.corrects, (corrected.get(one.corrects) ?? 0) + 1)
  if ([...corrected.values()].some((n) => n > 1)) faults.push('two corrections of one entry count')
  return faults
}

const size = Number(given('size') ?? 0)
if (size > 0) {
  const list = (from: number, n: number) =>
    Array.from({ length: n }, (_, i) => ({
      ...entry(START + (from + i) * 60_000, {
        kind: 'reading',
        vesselId: 'reef',
        analyte: 'alkalinity',
        value: 8,
        unit: 'dKH',
        bound: 'exact',
      }),
      id: `e-${from + i}`,
    }))
  const reef = [document('vessel', 'reef', vesselBody('Reef'), START)]
  const [a, b] = [recordOf(settings, reef, list(0, size)), recordOf(settings, reef, list(size / 2, size))]
  const started = performance.now()
  const joined = joinRecords(a, b, START + 1e9)
  console.log(
    `${size} entries and ${size} more, ${joined.cameEntries.length} of them new: joined in ${(performance.now() - started).toFixed(0)} ms, ${joined.record.entries.length} entries (wanted 2000 ms for 50,000)`,
  )
} else {
  const n = Number(given('n') ?? 200)
  const seed = Number(given('seed') ?? 1)
  let failed = 0
  const started = performance.now()
  for (let i = 0; i < n; i++) {
    const faults = history(seed * 1_000_003 + i)
    if (faults.length === 0) continue
    failed++
    if (failed <= 10) console.log(`history ${i} (seed ${seed}): ${faults.slice(0, 3).join('; ')}`)
  }
  console.log(
    `${n} histories on three devices, six orders each, in pairs and twice: ${((performance.now() - started) / 1000).toFixed(1)} s`,
  )
  console.log(`${n - failed} passed, ${failed} failed`)
  if (failed > 0) process.exitCode = 1
}
