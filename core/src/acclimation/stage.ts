// How far a delivery and each of its containers has come. Light on purpose: the shelf and the round ask it.
import { besidesReadings } from '../record/ledgerIndex.ts'
import type { ActiveLedger, ArrivalDocument, ContainerEntry } from '../record/types.ts'

export type ArrivalStage = 'expected' | 'received' | 'inspected' | 'acclimating' | 'in-the-water'
export type ContainerStage = 'waiting' | 'inspected' | 'running' | 'released' | 'refused'

export const containerEntries = (active: ActiveLedger, arrivalId: string, containerId?: string): ContainerEntry[] =>
  besidesReadings(active).filter(
    (entry): entry is ContainerEntry =>
      entry.kind === 'container' &&
      entry.arrivalId === arrivalId &&
      (containerId === undefined || entry.containerId === containerId),
  )

export function containerStage(entries: readonly ContainerEntry[]): ContainerStage {
  if (entries.some(({ act }) => act === 'refuse')) return 'refused'
  if (entries.some(({ act }) => act === 'move')) return 'released'
  if (entries.some(({ act }) => act === 'float' || act === 'open')) return 'running'
  return entries.some(({ act }) => act === 'inspected') ? 'inspected' : 'waiting'
}

/** Where the whole delivery stands: as far as its slowest container. */
export function arrivalStage(arrival: ArrivalDocument, active: ActiveLedger): ArrivalStage {
  const { containers, receivedAt } = arrival.body
  const all = containerEntries(active, arrival.id)
  const stages = containers.map(({ id }) => containerStage(all.filter(({ containerId }) => containerId === id)))
  if (stages.length > 0 && stages.every((stage) => stage === 'released' || stage === 'refused')) return 'in-the-water'
  if (stages.includes('running') || stages.includes('released')) return 'acclimating'
  if (receivedAt === undefined) return 'expected'
  return stages.length > 0 && stages.every((stage) => stage !== 'waiting') ? 'inspected' : 'received'
}
