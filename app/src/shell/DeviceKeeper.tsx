// Keeps what the house's devices tell: each full hour of a probe head onto the ledger, each portion of a doser, once.
import { hoursOf, type ActiveLedger, type DeviceDocument } from '@brinvo/core'
import { useEffect, useEffectEvent } from 'react'
import { useActions, useDatabase, useRecord } from '../data/queries.tsx'
import {
  askDevices,
  devicesNow,
  fetchMinutes,
  openDevices,
  watchDevices,
  type DeviceView,
} from '../data/deviceStore.ts'

const MINUTE = 60_000
const HOUR = 60 * MINUTE
const DAY = 24 * HOUR
/** What comes in one breath is kept in one. */
const SOON_MS = 1500

/** Ids of what was kept say the device and the time: two tabs, or two openings, keep it once. */
const letters = (text: string) =>
  text
    .toLowerCase()
    .replaceAll(/[^a-z0-9]/g, '')
    .slice(0, 24)

type Act = ReturnType<typeof useActions>['act']
async function keepHours(device: DeviceDocument, active: ActiveLedger, act: Act): Promise<void> {
  const minutes = await fetchMinutes(device.body.address!)
  const nowMs = Date.now()
  const known = new Set(
    active.flatMap((entry) =>
      entry.kind === 'reading' && entry.spread !== undefined && nowMs - Date.parse(entry.at) < 3 * DAY
        ? [`${entry.analyte} ${Math.floor(Date.parse(entry.at) / HOUR)}`]
        : [],
    ),
  )
  const hours = new Map<
    number,
    { quantity: string; atMs: number; value: number; low: number; high: number; n: number }[]
  >()
  for (const [quantity, rows] of Object.entries(minutes))
    for (const row of hoursOf(quantity, rows, nowMs - 2 * DAY, nowMs)) {
      const hour = Math.floor(row.atMs / HOUR)
      if (known.has(`${quantity} ${hour}`)) continue
      hours.set(hour, [...(hours.get(hour) ?? []), { quantity, ...row }])
    }
  for (const [hour, rows] of [...hours].sort(([a], [b]) => a - b))
    await act(
      { kind: 'device-hours', deviceId: device.id, rows },
      { actId: `hour-${letters(device.id)}-${hour}`, override: { words: '', confirmed: true } },
    )
}
async function keepPortions(device: DeviceDocument, view: DeviceView, active: ActiveLedger, act: Act): Promise<void> {
  for (const { order, at, mL, dry } of view.reports) {
    if (dry || mL <= 0) continue
    const id = `poured-${letters(device.id)}-${Math.floor(at / 1000)}-${order}`
    if (active.some((entry) => entry.id === id)) continue
    await act(
      { kind: 'device-poured', deviceId: device.id, mL, atMs: at },
      { actId: id, override: { words: '', confirmed: true } },
    )
  }
  // The server forgets limits with its end; what the keeper confirmed stands in the record.
  const { doser } = device.body
  if (
    view.limits === null &&
    doser?.confirmedAt !== undefined &&
    doser.mostPerPortionMl !== undefined &&
    doser.mostPerDayMl !== undefined
  )
    await askDevices(`/${view.id}/limits`, {
      method: 'PUT',
      body: { portionMl: doser.mostPerPortionMl, dayMl: doser.mostPerDayMl },
    })
}

export function DeviceKeeper() {
  const { mode } = useDatabase()
  const { record, active } = useRecord()
  const { act } = useActions()
  const registered = (): readonly (readonly [DeviceDocument, DeviceView])[] =>
    [...record.devices.values()].flatMap((device) => {
      const view = device.body.address === undefined ? undefined : devicesNow().devices.get(device.body.address)
      return view && device.body.retiredAt === undefined ? [[device, view] as const] : []
    })
  const keep = useEffectEvent(async () => {
    for (const [device, view] of registered()) {
      try {
        if (view.sort === 'probe-head') await keepHours(device, active, act)
        if (view.sort === 'doser') await keepPortions(device, view, active, act)
      } catch {
        // What could not be written now is written the next minute: the server keeps two days of it.
      }
    }
  })
  useEffect(() => {
    void openDevices()
    if (mode !== 'keeper') return
    const timer = setInterval(() => void keep(), MINUTE)
    // A portion is kept as soon as it is told, hours with the first word of a device: not with every sample.
    let due: ReturnType<typeof setTimeout> | null = null
    let before = ''
    const soon = watchDevices(() => {
      const told = [...devicesNow().devices.values()]
        .map(({ id, reports, limits }) => `${id} ${reports.at(-1)?.order ?? 0} ${limits === null ? 'none' : 'told'}`)
        .join()
      if (told === before) return
      before = told
      due ??= setTimeout(() => {
        due = null
        void keep()
      }, SOON_MS)
    })
    return () => {
      clearInterval(timer)
      if (due !== null) clearTimeout(due)
      soon()
    }
  }, [mode])
  return null
}
