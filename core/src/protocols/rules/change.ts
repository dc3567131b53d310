// Water changed at a rhythm or so many times, made up to the level where one is held.
import { activeContent } from '../../dosing/strength.ts'
import type { RuleOf } from '../../knowledge/protocols.ts'
import { changedShare, vesselVolume } from '../../level/fromRecord.ts'
import { addDays, atHourOfDay, dayOf, entryMs } from '../../time/time.ts'
import { MS_PER_HOUR } from '../../units/quantity.ts'
import { entriesBetween, roleReadings } from '../courseContext.ts'
import { make, type Builder, type Step, type StepDose } from '../stepBuilder.ts'
import type { Working } from '../../working.ts'
import type { RuleKind } from './kind.ts'
import { spotDays } from './spot.ts'
import { changesAfterEach, timesOf } from './kind.ts'

function steps(rule: RuleOf<'change'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  const { context, estimate } = builder
  const vessel = context.record.vessels.get(context.course.body.vesselId)
  const volume = vessel ? vesselVolume(vessel) : null
  if (rule.afterEach !== undefined) return stepsAfterEach(rule, builder, volume?.litres ?? 0, exitMs)
  const endMs = exitMs ?? context.nowMs
  const changes = entriesBetween(context, phaseMs, endMs + 1).filter(({ kind }) => kind === 'change')
  const done = changes.map((entry, i) => {
    const share = entry.kind === 'change' && volume ? changedShare(entry, volume.litres) : 0
    return make(rule, builder, i, {
      title: `${Math.round(100 * share)} % changed`,
      detail: 'Done.',
      dueMs: entryMs(entry),
      state: 'done',
      doneMs: entryMs(entry),
      entryId: entry.id,
    })
  })
  if (exitMs !== null || (rule.times !== undefined && done.length >= rule.times)) return done
  const { zone } = context
  const left = Math.max(1, (rule.times ?? 1) - done.length)
  const size = rule.sizedBy === undefined ? null : sizeOf(rule, builder, left, volume?.litres ?? 0)
  const fraction = size?.fraction ?? rule.fraction
  const litres = fraction * (volume?.litres ?? 0)
  const everyDays = rule.everyDays ?? 1
  const lastMs = changes.length > 0 ? entryMs(changes.at(-1)!) : null
  const dayFrom = (ms: number, days: number) =>
    atHourOfDay(addDays(dayOf(ms, zone), days), context.course.body.dailyHour, zone)
  const firstMs =
    rule.everyHours !== undefined && lastMs !== null
      ? lastMs + rule.everyHours * MS_PER_HOUR
      : rule.times !== undefined && lastMs === null
        ? phaseMs + (rule.afterHours ?? 0) * MS_PER_HOUR
        : dayFrom(lastMs ?? phaseMs, everyDays)
  const steps: Step[] = []
  for (let i = 0; i < (rule.times === undefined ? 6 : rule.times - done.length); i++) {
    const dueMs =
      i === 0
        ? firstMs
        : rule.everyHours !== undefined
          ? Math.max(firstMs, context.nowMs) + i * rule.everyHours * MS_PER_HOUR
          : dayFrom(Math.max(firstMs, context.nowMs), i * everyDays)
    if (i > 0 && dueMs > builder.aheadMs) break
    if (dueMs > builder.aheadMs) break
    const makeUp = rule.makeUp && estimate && builder.band ? makeUpDose(builder, litres) : null
    // Pressed now it would be logged undosed: it waits for its amount.
    const pending =
      rule.makeUp === true &&
      builder.band !== null &&
      estimate === null &&
      i === 0 &&
      context.nowMs >= dueMs - 24 * MS_PER_HOUR
    steps.push(
      make(
        rule,
        builder,
        done.length + i,
        {
          detail: pending
            ? 'The amount for the new water is being worked out.'
            : `${litres.toFixed(0)} L, matched water${makeUp ? `; ${makeUp.amount} ${makeUp.unit} into the new water first` : rule.makeUp ? ', dosed to the level before it goes in' : ', undosed'}.${size && i === 0 ? ` ${size.words}` : ''}`,
          dueMs,
          ...(pending
            ? {}
            : {
                change: { fraction, litres, ...(makeUp ? { makeUp } : {}), ...(size ? { working: size.working } : {}) },
              }),
          ...(pending ? { state: 'waiting' as const } : {}),
          ...(i > 0 ? { state: 'ahead' as const } : {}),
        },
        12,
      ),
    )
  }
  return [...done, ...steps]
}

/** One change after each spot treatment; the next treatment waits for it. */
function stepsAfterEach(rule: RuleOf<'change'>, builder: Builder, tankL: number, exitMs: number | null): Step[] {
  const litres = rule.fraction * tankL
  return changesAfterEach(rule, builder).flatMap(({ spotMs, index, entry }) => {
    const dueMs = spotMs + (rule.afterHours ?? 0) * MS_PER_HOUR
    if (entry === null)
      return exitMs !== null
        ? []
        : make(
            rule,
            builder,
            index,
            {
              detail: `${litres.toFixed(0)} L, matched water, undosed.`,
              dueMs,
              change: { fraction: rule.fraction, litres },
            },
            4,
          )
    const doneMs = entryMs(entry)
    return make(rule, builder, index, {
      ...(entry.kind === 'change'
        ? { title: `${Math.round(100 * changedShare(entry, tankL))} % changed`, state: 'done' as const, doneMs }
        : {}),
      detail: 'Done.',
      dueMs: doneMs,
      entryId: entry.id,
    })
  })
}

/**
 * Size of a change by what was read: all that are left together bring each reading down to its limit, with new water
 * that has none of it. Between the rule's least and its most; the most where nothing was read lately.
 * @source handbook 60.10.3 for two half changes; sized by the reading where that is less: EST
 */
function sizeOf(
  rule: RuleOf<'change'>,
  { context }: Builder,
  left: number,
  tankL: number,
): { fraction: number; words: string; working: Working } {
  const since = context.nowMs - (rule.readWithinHours ?? 24) * MS_PER_HOUR
  const read = rule.sizedBy!.flatMap(({ role, atMost }) => {
    const entry = roleReadings(context, role, Math.max(since, context.startMs)).at(-1)
    if (entry === undefined) return []
    // What was changed since then has thinned it.
    const thinned = entriesBetween(context, entryMs(entry) + 1, context.nowMs + 1).reduce(
      (share, one) => (one.kind === 'change' ? share * (1 - changedShare(one, tankL)) : share),
      1,
    )
    const { label } = context.protocol.instrumentRoles.find(({ id }) => id === role) ?? { label: role }
    return [
      {
        name: label.replace(/ kit$/, ''),
        value: entry.value * thinned,
        read: entry.value,
        unit: entry.unit,
        atMost,
        entryId: entry.id,
      },
    ]
  })
  const needed = Math.max(0, ...read.map(({ value, atMost }) => 1 - atMost / Math.max(value, atMost)))
  const each = 1 - (1 - needed) ** (1 / left)
  const missing = read.length < rule.sizedBy!.length
  const fraction = missing
    ? rule.fraction
    : Math.min(rule.fraction, Math.max(rule.least ?? 0, Math.ceil(20 * each) / 20))
  const after = (value: number, times: number) => Number((value * (1 - fraction) ** times).toPrecision(2))
  const expected = read.map(
    ({ name, value, read, unit }) =>
      `${name} ${read === value ? value : `about ${Number(value.toPrecision(2))} since the change`} → about ${after(value, 1)} ${unit}${left > 1 ? `, ${after(value, left)} after ${left === 2 ? 'both' : 'all'}` : ''}`,
  )
  return {
    fraction,
    words: [
      ...expected,
      ...(missing
        ? ['not everything was tested lately, so it is the most at once: test first, and it may be less']
        : []),
    ]
      .join('; ')
      .replace(/$/, '.'),
    working: {
      title: 'Size of the change',
      formula:
        'share of each = 1 − (limit ÷ reading)^(1 ÷ changes left), not under the least, not over the most at once',
      inputs: [
        ...read.flatMap(({ name, value, read: said, unit, atMost, entryId }) => [
          { label: `${name}, read`, value: said, unit, entryIds: [entryId] },
          ...(said === value ? [] : [{ label: `${name}, thinned since`, value, unit }]),
          { label: `${name}, wanted at most`, value: atMost, unit },
        ]),
        { label: 'changes left', value: left, unit: '' },
        { label: 'least at once', value: 100 * (rule.least ?? 0), unit: '%' },
        { label: 'most at once', value: 100 * rule.fraction, unit: '%' },
      ],
      result: { label: 'each change', value: 100 * fraction, unit: '%' },
      source: 'Handbook 60.10.3; sized by the reading: EST',
    },
  }
}

/** Amount that holds the level through a change: changed litres × aim ÷ strength, never above the band. */
function makeUpDose(builder: Builder, litres: number): StepDose | null {
  const { context, estimate, band } = builder
  const role = context.protocol.productRoles[0]?.id ?? ''
  const productId = context.course.body.products[role]
  const product = productId === undefined ? undefined : context.record.products.get(productId)
  const content = product ? activeContent(product.body.strength) : null
  if (!productId || !content?.ok || !estimate || !band) return null
  const aim = Math.min(band.targetMgPerL, band.ceilingMgPerL)
  const massMg = litres * aim
  const measures = context.record.settings.syringesMl
  const rough = massMg / content.value.mg
  const step =
    content.value.per === 'mL'
      ? (
          [...measures].sort((a, b) => a.capacity - b.capacity).find(({ capacity }) => rough <= capacity) ?? {
            step: 0.2,
          }
        ).step
      : 0.01
  const amount = Number((Math.round(rough / step) * step).toPrecision(12))
  return {
    productId,
    amount,
    unit: content.value.per,
    measureStep: step,
    fromMgPerL: 0,
    toMgPerL: (amount * content.value.mg) / litres,
    volumeL: litres,
    volumeSdL: 0,
    strengthMg: content.value.mg,
    holdsChance: null,
    working: {
      title: 'Make-up for a water change',
      formula: 'changed water × aim ÷ strength, into the new water before it goes in',
      inputs: [
        { label: 'new water', value: litres, unit: 'L' },
        { label: 'aim', value: aim, unit: 'mg/L' },
        { label: 'strength', value: content.value.mg, unit: `mg per ${content.value.per}` },
        { label: 'mass', value: massMg, unit: 'mg' },
      ],
      result: { label: 'amount', value: amount, unit: content.value.per },
      source: 'Handbook 31 calc-change',
    },
  }
}

export const change: RuleKind<'change'> = {
  steps,
  leavesOut: true,
  problems(rule, check) {
    const rules = check.protocol.phases.flatMap((phase) => phase.rules)
    if (rule.afterEach !== undefined && !rules.some(({ kind, id }) => kind === 'spot' && id === rule.afterEach))
      check.say(['afterEach'], `There is no spot treatment “${rule.afterEach}” that it could follow.`)
  },
  occurrences: (rule) => (rule.times === undefined ? null : timesOf({ times: rule.times })),
  calendar(rule, pen) {
    const spot = pen.protocol.phases.flatMap(({ rules }) => rules).find(({ id }) => id === rule.afterEach)
    if (spot?.kind === 'spot') for (const day of spotDays(spot)) pen.item(day)
    else if (rule.times !== undefined) pen.series(rule.times, (rule.afterHours ?? 0) / 24, rule.everyDays ?? 1)
    else pen.through(rule.everyDays ?? 1)
  },
  presses: ({ change: wanted }) => [
    {
      to: 'log',
      label: 'Log the change',
      preset: {
        kind: 'change',
        ...(wanted ? { fraction: wanted.fraction } : {}),
        ...(wanted?.makeUp ? { productId: wanted.makeUp.productId, replacementMgPerL: wanted.makeUp.toMgPerL } : {}),
      },
    },
  ],
}
