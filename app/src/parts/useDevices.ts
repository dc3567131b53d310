// The devices of the house as a page sees them, and what must be said of them at once.
import { deviceAlarms, type Concern, type DeviceDocument, type KeeperRecord } from '@brinvo/core'
import { useMemo, useSyncExternalStore } from 'react'
import { devicesNow, watchDevices, type DevicesNow } from '../data/deviceStore.ts'
import { useDatabase, useRecord } from '../data/queries.tsx'

export const useDevices = (): DevicesNow => useSyncExternalStore(watchDevices, devicesNow)

/** The document of a device at the interface, where it is registered. */
export const registeredAs = (
  devices: ReadonlyMap<string, DeviceDocument>,
  address: string,
): DeviceDocument | undefined =>
  [...devices.values()].find(({ body }) => body.address === address && body.retiredAt === undefined)

/** Alarms of all registered devices, as the round tells its concerns. */
export function useDeviceConcerns(nowMs: number): readonly Concern[] {
  const { record } = useRecord()
  const { mode } = useDatabase()
  const { devices, minutes, state } = useDevices()
  return useMemo(
    () =>
      state === 'looking' || mode !== 'keeper' ? NONE : concernsOfDevices(record, { devices, minutes, state }, nowMs),
    [record, devices, minutes, state, mode, nowMs],
  )
}
const NONE: readonly Concern[] = []

function concernsOfDevices(
  record: KeeperRecord,
  { devices, minutes, state }: Pick<DevicesNow, 'devices' | 'minutes' | 'state'>,
  nowMs: number,
): readonly Concern[] {
  if (record.devices.size === 0) return NONE
  return [...record.devices.values()].flatMap((device): Concern[] => {
    const { address } = device.body
    const vessel = record.vessels.get(device.body.vesselId)
    if (address === undefined || device.body.retiredAt !== undefined || !vessel) return []
    const view = devices.get(address)
    const about = { vesselId: vessel.id, action: 'see-device' as const }
    if (state === 'unpaired' || state === 'away' || !view)
      return [
        {
          ...about,
          id: `device-${device.id}-away`,
          title: `${device.body.name} in ${vessel.body.name} is not heard:`,
          detail:
            state === 'unpaired'
              ? 'this browser is not paired with it. Silence is no “all clear”: give the code under Devices.'
              : state === 'away'
                ? 'Brinvo’s server does not answer. Silence is no “all clear”.'
                : 'it has not said hello since the server was started. Silence is no “all clear”.',
          tone: 'caution',
        },
      ]
    const found: Concern[] = Object.entries(minutes.get(address) ?? {}).flatMap(([quantity, rows]) =>
      deviceAlarms(quantity, rows, device, vessel, nowMs).map(({ id, tone, title, detail }) => ({
        ...about,
        id,
        tone,
        title,
        detail,
      })),
    )
    const dry = view.reports.at(-1)?.dry === true
    if (dry)
      found.push({
        ...about,
        id: `device-${device.id}-dry`,
        title: `${device.body.name} ran dry:`,
        detail: 'its last portion did not come. Fill it, and do not make up for what was missed at once.',
        tone: 'caution',
      })
    if (Math.abs(view.clockOffS) > 300)
      found.push({
        ...about,
        id: `device-${device.id}-clock`,
        title: `The clock of ${device.body.name} is off:`,
        detail: `by ${Math.round(Math.abs(view.clockOffS) / 60)} minutes. What it tells stands at the time it came.`,
        tone: 'plain',
      })
    return found
  })
}
