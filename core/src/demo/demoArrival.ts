// The box that stands on the table while the demonstration is open: one bag a night old, two of this afternoon.
import type { RegisterDocument, Entry } from '../record/types.ts'
import { instantOf } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'

interface Writer {
  readonly anchorMs: number
  readonly document: (
    register: RegisterDocument['register'],
    id: string,
    body: RegisterDocument['body'],
    savedMs: number,
  ) => void
  readonly entry: (ms: number, kind: Entry['kind'], fields: object) => void
}

/** Readings of the receiving vessels, the arrival, and what was already done with its bags. */
export function demoArrival({ anchorMs, document, entry }: Writer): void {
  const ago = (minutes: number) => anchorMs - minutes * 60_000
  const reading = (vesselId: string, minutes: number, analyte: string, value: number, unit: string) =>
    entry(ago(minutes), 'reading', { vesselId, analyte, value, unit, bound: 'exact' })
  reading('holding-b', 95, 'temperature', 25.3, '°C')
  reading('holding-b', 94, 'salinity', 34, 'PSU')
  reading('holding-b', 93, 'ph', 8.1, 'pH')
  reading('holding-b', 92, 'ammonia-total', 0.05, 'mg/L')
  reading('tub', 88, 'temperature', 25.4, '°C')
  reading('tub', 87, 'salinity', 34.9, 'PSU')
  reading('tub', 86, 'ph', 8.15, 'pH')
  reading('fernwater', 80, 'temperature', 23.4, '°C')
  reading('fernwater', 79, 'conductivity', 310, 'µS/cm')
  reading('fernwater', 78, 'ph', 7.1, 'pH')

  const arrivalId = 'box-tonight'
  document(
    'arrival',
    arrivalId,
    {
      name: 'Box by courier',
      source: 'two breeders, one courier',
      packedAt: instantOf(anchorMs - 5 * MS_PER_HOUR),
      receivedAt: instantOf(ago(42)),
      roomTempC: 20.5,
      dripLine: true,
      binder: true,
      containers: [
        {
          id: 'bag-1',
          label: 'Bag 1',
          group: 'hg-clown-damsel',
          commonName: 'Green chromis',
          scientificName: 'Chromis viridis',
          orderedAs: 'Green chromis',
          count: 2,
          vesselId: 'holding-b',
          massG: 7,
          // This bag travelled overnight; the other two came by car.
          packedAt: instantOf(anchorMs - 26 * MS_PER_HOUR),
        },
        {
          id: 'bag-2',
          label: 'Bag 2',
          group: 'hg-anemone',
          commonName: 'Bubble-tip anemone',
          scientificName: 'Entacmaea quadricolor',
          orderedAs: 'Bubble-tip anemone',
          count: 1,
          vesselId: 'tub',
          massG: 60,
          sourcePar: 130,
        },
        {
          id: 'bag-3',
          label: 'Bag 3',
          group: 'hg-shrimp',
          commonName: 'Cherry shrimp',
          scientificName: 'Neocaridina davidi',
          orderedAs: 'Cherry shrimp',
          count: 6,
          vesselId: 'fernwater',
          massG: 1.8,
          tubL: 2.5,
        },
      ],
    },
    ago(45),
  )
  const container = (minutes: number, containerId: string, act: string, fields: object = {}) =>
    entry(ago(minutes), 'container', { arrivalId, containerId, act, ...fields })
  const good = (looks: readonly string[], doubtful: readonly string[] = []) => ({
    looks: looks.map((look) => ({ look, answer: doubtful.includes(look) ? 'doubtful' : 'good' })),
  })
  container(40, 'bag-1', 'inspected', {
    verdict: 'accept',
    ...good(['upright', 'breathing', 'slime and skin', 'fins', 'eyes', 'belly', 'label against order'], ['breathing']),
  })
  container(38, 'bag-1', 'measured', {
    tempC: 21.6,
    salinityPsu: 33.9,
    phNbs: 7.15,
    tanMgN: 2.5,
    volumeL: 1.6,
    fouled: false,
  })
  container(36, 'bag-2', 'inspected', {
    verdict: 'accept',
    ...good(['mouth', 'foot', 'tentacles stick', 'colour', 'label against order']),
  })
  container(35, 'bag-2', 'measured', { tempC: 23.2, salinityPsu: 34.2, phNbs: 7.9, volumeL: 2.2, fouled: false })
  container(33, 'bag-3', 'inspected', {
    verdict: 'accept',
    ...good(['limbs', 'antennae', 'white muscle', 'upright', 'eggs', 'label against order']),
  })
  container(32, 'bag-3', 'measured', {
    tempC: 22.1,
    conductivityUs: 390,
    salinityPsu: 0.25,
    phNbs: 6.9,
    tanMgN: 0.25,
    volumeL: 0.6,
    fouled: false,
  })
  container(30, 'bag-3', 'method', {
    method: 'drip',
    settings: {
      scoopL: 0.1,
      scoopEveryMin: 5,
      dripLPerH: 1.4,
      capL: 2.5,
      pourToL: 1.2,
      finishShare: 0.9,
      binderShare: 0.8,
      longestFloatMin: 45,
      overflow: 0,
    },
    reason: 'A clean bag of five hours, and shrimps bear a slow line best.',
  })
  container(28, 'bag-3', 'float')
  container(18, 'bag-3', 'open')
  container(16, 'bag-3', 'drip', { litresPerH: 1.4 })
  container(12, 'bag-2', 'method', {
    method: 'float-and-move',
    settings: {},
    reason: 'Salinity is within one step; the shortest time in its own water.',
  })
  container(7, 'bag-2', 'float')
}
