// Probe heads, dosers, lamps and photometers of this house, as they speak now. In memory only: what is worth keeping is
// kept by the browser, and nothing of it outlives the server.

export const SORTS = ['probe-head', 'doser', 'lamp', 'photometer'] as const
export type Sort = (typeof SORTS)[number]
/** What a device may tell, and the unit it tells it in. */
export const QUANTITIES = {
  temperature: { unit: '°C', min: -5, max: 60 },
  ph: { unit: 'pH', min: 0, max: 14 },
  conductivity: { unit: 'µS/cm', min: 0, max: 120_000 },
  oxygen: { unit: 'mg/L', min: 0, max: 30 },
  level: { unit: 'cm', min: -100, max: 300 },
  light: { unit: '%', min: 0, max: 100 },
  reading: { unit: 'mg/L', min: 0, max: 100_000 },
} as const
export type Quantity = keyof typeof QUANTITIES
export const isQuantity = (name: unknown): name is Quantity => typeof name === 'string' && name in QUANTITIES

/** One minute of a quantity: the middle of its samples, their reach, and how many they were. */
export interface Minute {
  readonly at: number
  readonly median: number
  readonly low: number
  readonly high: number
  readonly n: number
}
/** What a doser is told. It never pours more than its limits, whoever asks. */
export type Order =
  | { readonly n: number; readonly do: 'pour'; readonly mL: number }
  | { readonly n: number; readonly do: 'run'; readonly seconds: number }
  | { readonly n: number; readonly do: 'stop' }
  | { readonly n: number; readonly do: 'read'; readonly analyte: string }
export interface Report {
  readonly order: number
  readonly at: number
  /** What the device says it poured, mL. */
  readonly mL: number
  /** It noticed that nothing came. */
  readonly dry: boolean
}
export interface Limits {
  readonly portionMl: number
  readonly dayMl: number
}
export interface Schedule {
  readonly mL: number
  readonly everyMinutes: number
}
export interface DeviceView {
  readonly id: string
  readonly sort: Sort
  readonly name: string
  readonly quantities: readonly Quantity[]
  readonly connected: boolean
  readonly lastAt: number | null
  /** Its clock is off by so many seconds; what it stamps is then stamped here. */
  readonly clockOffS: number
  readonly now: Readonly<Partial<Record<Quantity, { readonly at: number; readonly value: number }>>>
  readonly limits: Limits | null
  readonly schedule: Schedule | null
  /** Told to pour in the last 24 hours, mL. */
  readonly dayMl: number
  readonly reports: readonly Report[]
}
export type HubEvent =
  | { readonly type: 'device'; readonly device: DeviceView }
  | {
      readonly type: 'sample'
      readonly id: string
      readonly quantity: Quantity
      readonly at: number
      readonly value: number
    }
  | { readonly type: 'report'; readonly id: string; readonly report: Report }

interface Device {
  readonly id: string
  readonly sort: Sort
  readonly name: string
  lastAt: number | null
  clockOffS: number
  readonly now: Map<Quantity, { at: number; value: number }>
  readonly minutes: Map<Quantity, Minute[]>
  /** Samples of the minute that is running. */
  readonly open: Map<Quantity, { at: number; values: number[] }>
  limits: Limits | null
  schedule: Schedule | null
  nextAt: number
  readonly pours: { at: number; mL: number }[]
  readonly reports: Report[]
  /** Where its orders go; null while it does not listen. */
  listener: ((order: Order) => void) | null
}

const MINUTE = 60_000
const DAY = 86_400_000
/** Minutes are kept for so long: a browser that was closed over the night finds them. */
export const KEPT_MS = 2 * DAY
/** A device whose stamps are further off than this is stamped here. */
const CLOCK_MS = 5 * MINUTE
/** Silence after which a device counts as gone. */
const GONE_MS = 90_000
const MOST_DEVICES = 32
const MOST_REPORTS = 200
/** A pump is run by time at most so long, for its calibration. */
export const MOST_RUN_S = 60

export class HubRefusal extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message)
  }
}

const medianOf = (sorted: readonly number[]): number => {
  const half = sorted.length >> 1
  return sorted.length % 2 ? sorted[half]! : (sorted[half - 1]! + sorted[half]!) / 2
}
/** The value under which a share of sorted values lies. */
const share = (sorted: readonly number[], part: number): number =>
  sorted[Math.min(sorted.length - 1, Math.max(0, Math.round(part * (sorted.length - 1))))]!

export class DeviceHub {
  private readonly devices = new Map<string, Device>()
  private readonly listeners = new Set<(event: HubEvent) => void>()
  private orders = 0
  /** @param now the clock; another one in tests */
  constructor(private readonly now: () => number = Date.now) {}

  /** A device says who it is. The same id again is the same device, with its limits and its minutes. */
  hello(id: string, sort: Sort, name: string): DeviceView {
    let device = this.devices.get(id)
    if (device && device.sort !== sort) throw new HubRefusal(409, `${id} is known as a ${device.sort}.`)
    if (!device) {
      if (this.devices.size >= MOST_DEVICES) throw new HubRefusal(507, `No more than ${MOST_DEVICES} devices.`)
      device = {
        id,
        sort,
        name,
        lastAt: null,
        clockOffS: 0,
        now: new Map(),
        minutes: new Map(),
        open: new Map(),
        limits: null,
        schedule: null,
        nextAt: 0,
        pours: [],
        reports: [],
        listener: null,
      }
      this.devices.set(id, device)
    }
    device.lastAt = this.now()
    this.tell({ type: 'device', device: this.view(device) })
    return this.view(device)
  }

  /** Samples of a device. What its quantity cannot be is refused by name; a clock that jumps is not believed. */
  sample(
    id: string,
    samples: readonly { readonly at?: number; readonly quantity: string; readonly value: number }[],
  ): void {
    const device = this.find(id)
    const nowMs = this.now()
    for (const { quantity, value } of samples) {
      if (!isQuantity(quantity)) throw new HubRefusal(400, `${String(quantity).slice(0, 40)} is no quantity we know.`)
      if (typeof value !== 'number' || !Number.isFinite(value))
        throw new HubRefusal(400, `${quantity}: the value is no number.`)
    }
    for (const { at, quantity, value } of samples) {
      const off = typeof at === 'number' && Number.isFinite(at) ? at - nowMs : 0
      device.clockOffS = Math.round(off / 1000)
      const stamp = Math.abs(off) > CLOCK_MS || at === undefined || !Number.isFinite(at) ? nowMs : at
      const name = quantity as Quantity
      const before = device.now.get(name)
      // What comes late does not overtake what is newer.
      if (before === undefined || stamp >= before.at) device.now.set(name, { at: stamp, value })
      this.collect(device, name, stamp, value)
      this.tell({ type: 'sample', id, quantity: name, at: stamp, value })
    }
    device.lastAt = nowMs
  }

  private collect(device: Device, quantity: Quantity, at: number, value: number): void {
    const minute = Math.floor(at / MINUTE) * MINUTE
    const open = device.open.get(quantity)
    if (open && open.at === minute) {
      if (open.values.length < 600) open.values.push(value)
      return
    }
    if (open) this.close(device, quantity, open)
    device.open.set(quantity, { at: minute, values: [value] })
  }
  private close(device: Device, quantity: Quantity, open: { at: number; values: number[] }): void {
    const sorted = open.values.toSorted((a, b) => a - b)
    const list = device.minutes.get(quantity) ?? []
    // A minute that was closed by a jump and comes again is joined to nothing: the first word of it stands.
    if (!list.some(({ at }) => at === open.at)) {
      list.push({
        at: open.at,
        median: medianOf(sorted),
        low: share(sorted, 0.1),
        high: share(sorted, 0.9),
        n: sorted.length,
      })
      list.sort((a, b) => a.at - b.at)
    }
    const since = this.now() - KEPT_MS
    while (list.length > 0 && list[0]!.at < since) list.shift()
    device.minutes.set(quantity, list)
  }

  /** Closed minutes of a device since an instant, by quantity. */
  minutes(id: string, sinceMs: number): Partial<Record<Quantity, readonly Minute[]>> {
    const device = this.find(id)
    const found: Partial<Record<Quantity, readonly Minute[]>> = {}
    const nowMs = this.now()
    for (const [quantity, open] of device.open)
      if (nowMs - open.at >= 2 * MINUTE) {
        this.close(device, quantity, open)
        device.open.delete(quantity)
      }
    for (const [quantity, list] of device.minutes) found[quantity] = list.filter(({ at }) => at >= sinceMs)
    return found
  }

  views(): readonly DeviceView[] {
    return [...this.devices.values()].map((device) => this.view(device))
  }

  private view(device: Device): DeviceView {
    return {
      id: device.id,
      sort: device.sort,
      name: device.name,
      quantities: [...device.now.keys()],
      connected: device.lastAt !== null && this.now() - device.lastAt < GONE_MS,
      lastAt: device.lastAt,
      clockOffS: device.clockOffS,
      now: Object.fromEntries(device.now),
      limits: device.limits,
      schedule: device.schedule,
      dayMl: this.pouredLately(device),
      reports: device.reports.slice(-20),
    }
  }

  /** The two limits that the keeper confirmed: before them nothing is poured. */
  limit(id: string, limits: Limits): DeviceView {
    const device = this.doser(id)
    const { portionMl, dayMl } = limits
    if (!(portionMl > 0) || !(dayMl > 0) || portionMl > dayMl || dayMl > 10_000)
      throw new HubRefusal(400, 'Both limits are above zero, and one portion is no more than a day.')
    device.limits = { portionMl, dayMl }
    if (device.schedule && device.schedule.mL > portionMl) device.schedule = null
    this.tell({ type: 'device', device: this.view(device) })
    return this.view(device)
  }

  /** Portions at a distance in time; null ends them. Each is asked for anew when it is due, by the limits of then. */
  setSchedule(id: string, schedule: Schedule | null): DeviceView {
    const device = this.doser(id)
    if (schedule !== null) {
      if (device.limits === null) throw new HubRefusal(409, 'Its limits were not confirmed: nothing is poured.')
      if (!(schedule.mL > 0) || schedule.mL > device.limits.portionMl)
        throw new HubRefusal(409, `A portion is at most ${device.limits.portionMl} mL.`)
      if (!(schedule.everyMinutes >= 1) || (1440 / schedule.everyMinutes) * schedule.mL > device.limits.dayMl + 1e-9)
        throw new HubRefusal(409, `That would be more than ${device.limits.dayMl} mL a day.`)
    }
    device.schedule = schedule
    device.nextAt = this.now() + (schedule?.everyMinutes ?? 0) * MINUTE
    this.tell({ type: 'device', device: this.view(device) })
    return this.view(device)
  }

  /** Due portions of all schedules; called every few seconds. */
  tick(): void {
    const nowMs = this.now()
    for (const device of this.devices.values()) {
      if (device.schedule === null || nowMs < device.nextAt) continue
      const { mL, everyMinutes } = device.schedule
      // What was missed while the machine slept is not made up for at once.
      device.nextAt = nowMs + everyMinutes * MINUTE
      try {
        this.order(device.id, { do: 'pour', mL })
      } catch {
        // A limit that is reached, or a doser that does not listen: the next portion is asked for in its turn.
      }
    }
  }

  /** One order for a device. A pour over a limit is refused; nothing is cut down silently. */
  order(
    id: string,
    order: { readonly do: string; readonly mL?: number; readonly seconds?: number; readonly analyte?: string },
  ): Order {
    const device = this.find(id)
    const n = this.orders + 1
    let made: Order
    switch (order.do) {
      case 'pour': {
        const { limits } = this.doser(id)
        const mL = order.mL ?? 0
        if (limits === null) throw new HubRefusal(409, 'Its limits were not confirmed: nothing is poured.')
        if (!(mL > 0)) throw new HubRefusal(400, 'How many mL? Above zero.')
        if (mL > limits.portionMl + 1e-9) throw new HubRefusal(409, `A portion is at most ${limits.portionMl} mL.`)
        const day = this.pouredLately(device)
        if (day + mL > limits.dayMl + 1e-9)
          throw new HubRefusal(
            409,
            `${round(day)} mL went in within 24 hours; ${limits.dayMl} mL are the most of a day.`,
          )
        made = { n, do: 'pour', mL }
        break
      }
      case 'run': {
        this.doser(id)
        const seconds = order.seconds ?? 0
        if (!(seconds > 0) || seconds > MOST_RUN_S)
          throw new HubRefusal(400, `A pump is run for ${MOST_RUN_S} seconds at most, into a measuring cup.`)
        made = { n, do: 'run', seconds }
        break
      }
      case 'stop':
        made = { n, do: 'stop' }
        device.schedule = null
        break
      case 'read':
        if (device.sort !== 'photometer') throw new HubRefusal(409, 'Only a photometer takes a test.')
        made = { n, do: 'read', analyte: String(order.analyte ?? '').slice(0, 40) }
        break
      default:
        throw new HubRefusal(400, 'That is no order we know.')
    }
    if (device.listener === null) throw new HubRefusal(409, `${device.name} does not listen: nothing was sent.`)
    this.orders = n
    // It counts from the moment it is told: what a device does not report may have gone in.
    if (made.do === 'pour') device.pours.push({ at: this.now(), mL: made.mL })
    device.listener(made)
    this.tell({ type: 'device', device: this.view(device) })
    return made
  }

  /** What a device says it did. */
  report(id: string, { order, mL, dry }: { readonly order: number; readonly mL: number; readonly dry: boolean }): void {
    const device = this.doser(id)
    if (!Number.isInteger(order) || !(mL >= 0) || !Number.isFinite(mL))
      throw new HubRefusal(400, 'A report has its order and its mL.')
    const report: Report = { order, at: this.now(), mL, dry }
    device.reports.push(report)
    if (device.reports.length > MOST_REPORTS) device.reports.shift()
    device.lastAt = this.now()
    this.tell({ type: 'report', id, report })
  }

  /** Takes up the orders of a device; the answer ends it. */
  listen(id: string, listener: (order: Order) => void): () => void {
    const device = this.find(id)
    device.listener = listener
    device.lastAt = this.now()
    return () => {
      if (device.listener === listener) device.listener = null
    }
  }
  watch(listener: (event: HubEvent) => void): () => void {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  private tell(event: HubEvent): void {
    for (const listener of this.listeners) listener(event)
  }
  private pouredLately(device: Device): number {
    const since = this.now() - DAY
    while (device.pours.length > 0 && device.pours[0]!.at < since) device.pours.shift()
    return device.pours.reduce((sum, { mL }) => sum + mL, 0)
  }
  private find(id: string): Device {
    const device = this.devices.get(id)
    if (!device) throw new HubRefusal(404, 'No such device said hello since the server was started.')
    return device
  }
  private doser(id: string): Device {
    const device = this.find(id)
    if (device.sort !== 'doser') throw new HubRefusal(409, `${device.name} pours nothing.`)
    return device
  }
}
const round = (value: number): number => Number(value.toPrecision(4))
