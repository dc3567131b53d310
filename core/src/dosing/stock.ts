// What is left in a bottle, and how long it lasts at the pace it is poured.
import { besidesReadings } from '../record/ledgerIndex.ts'
import { activeContent } from './strength.ts'
import type { ActiveLedger, KeeperRecord, ProductDocument } from '../record/types.ts'
import { entryMs } from '../time/time.ts'

export interface Stock {
  /** Pour units left; null where the size was never written down. */
  readonly left: number | null
  readonly size: number | null
  /** Pour units a day over the last fourteen days, doses and baths. */
  readonly perDay: number
  /** Days it lasts at that pace; null where nothing is poured or the size is unknown. */
  readonly daysLeft: number | null
}
const WINDOW_DAYS = 14
const DAY = 86_400_000

/** Running stock of a bottle from the ledger: size less every dose and bath poured in its own unit. */
export function stockOf(active: ActiveLedger, product: ProductDocument, nowMs: number): Stock {
  const content = activeContent(product.body.strength)
  const unit = content.ok ? content.value.per : null
  let all = 0
  let recent = 0
  for (const entry of besidesReadings(active)) {
    if (entry.kind !== 'dose' && entry.kind !== 'bath') continue
    if (entry.productId !== product.id || entry.amount === undefined || entry.unit !== unit) continue
    if (entry.kind === 'bath' && entry.act !== 'start') continue
    const ms = entryMs(entry)
    if (ms > nowMs) continue
    all += entry.amount
    if (nowMs - ms <= WINDOW_DAYS * DAY) recent += entry.amount
  }
  const size = product.body.sizeAmount ?? null
  const left = size === null ? null : Math.max(0, size - all)
  const perDay = recent / WINDOW_DAYS
  return { left, size, perDay, daysLeft: left === null || perDay <= 0 ? null : left / perDay }
}

/** Bottles that running courses pour from and that will not last for another `days`, shortest first. */
export function runningShort(
  record: KeeperRecord,
  active: ActiveLedger,
  nowMs: number,
  days = 7,
): readonly { readonly product: ProductDocument; readonly courseId: string; readonly stock: Stock }[] {
  const found = [...record.courses.values()]
    .filter(({ body }) => body.endedAt === undefined)
    .flatMap((course) =>
      Object.values(course.body.products).flatMap((id) => {
        const product = record.products.get(id)
        if (!product) return []
        const stock = stockOf(active, product, nowMs)
        return stock.daysLeft !== null && stock.daysLeft < days ? [{ product, courseId: course.id, stock }] : []
      }),
    )
  return found.sort((a, b) => a.stock.daysLeft! - b.stock.daysLeft!)
}
