// What somebody who looks after the house does, day by day: feed, look, top up, call. Nothing with drugs.
import { agentForms, groupOf } from '../knowledge/agents.ts'
import type { CoursePlan } from './plan.ts'
import type { Step } from './stepBuilder.ts'
import { addDays, dayOf } from '../time/time.ts'
import { headsAt } from '../record/heads.ts'
import { ANALYTES } from '../record/typedLine.ts'
import type { ActiveLedger, Analyte, KeeperRecord, VesselDocument } from '../record/types.ts'
import { residentsIn } from '../record/whereabouts.ts'

export interface SitterLine {
  readonly kind: 'feed' | 'look' | 'water' | 'also' | 'check' | 'test'
  readonly title: string
  readonly detail: string
  /** Of a test: what is read. */
  readonly analyte?: Analyte
}
export interface SitterVessel {
  readonly vessel: VesselDocument
  readonly lines: readonly SitterLine[]
}
export interface SitterDay {
  /** Day of the keeper's zone. */
  readonly day: string
  readonly vessels: readonly SitterVessel[]
}
export interface SitterPlan {
  readonly days: readonly SitterDay[]
  /** Vessels with animals for which no food was written down: asked, never guessed. */
  readonly unfed: readonly VesselDocument[]
  /** Steps of the plans that fall into those days and are the keeper's: drugs, moves, changes, baths. */
  readonly keepers: readonly Step[]
}

/** What somebody without training may do: look, feed, read and note. Everything else is the keeper's. */
const ANYBODY: readonly Step['kind'][] = ['observe', 'feed', 'check']

/** Whether a step may stand on a sitter's sheet; a reading of a drug belongs to dosing it. */
export const isForSitter = (step: Pick<Step, 'kind' | 'test'>): boolean =>
  step.test === undefined ? ANYBODY.includes(step.kind) : !agentForms.some(({ agent }) => agent === step.test!.analyte)

/**
 * The days from one to another, both included. Vessels without animals and without words of the keeper are left out.
 * Tests are asked only where the keeper wants it, and never of a drug's level. Pure.
 */
export function sitterPlan(
  record: KeeperRecord,
  active: ActiveLedger,
  plans: readonly CoursePlan[],
  options: { readonly fromDay: string; readonly toDay: string; readonly tests: boolean; readonly nowMs: number },
): SitterPlan {
  const { fromDay, toDay, tests, nowMs } = options
  const { zone } = record.settings
  const steps = plans.flatMap((plan) => plan.steps.filter(({ state }) => state !== 'done' && state !== 'skipped'))
  const within = (step: Step) => {
    const day = dayOf(Math.max(step.dueMs, nowMs), zone)
    return day >= fromDay && day <= toDay
  }
  const days: SitterDay[] = []
  const unfed = new Map<string, VesselDocument>()
  for (let day = fromDay; day <= toDay; day = addDays(day, 1)) {
    const vessels = [...record.vessels.values()]
      .filter(({ body }) => body.archivedAt === undefined)
      .sort((a, b) => a.body.sortOrder - b.body.sortOrder)
      .flatMap((vessel) => {
        const animals = residentsIn(record, active, vessel.id, nowMs).flatMap((resident) => {
          const count = headsAt(active, resident, nowMs)
          const kind = groupOf(resident.body.group)?.kind
          return count > 0 && kind !== 'plant' ? [{ name: resident.body.name, count, kind }] : []
        })
        const { food, topUp, also } = vessel.body.sitter ?? {}
        if (animals.length === 0 && food === undefined && topUp === undefined && also === undefined) return []
        const mine = steps.filter(
          (step) => step.vesselId === vessel.id && dayOf(Math.max(step.dueMs, nowMs), zone) === day,
        )
        const eats = animals.some(({ kind }) => kind === 'fish') || food !== undefined
        if (eats && food === undefined) unfed.set(vessel.id, vessel)
        const ordered = mine.find(({ kind }) => kind === 'feed')
        const lines: SitterLine[] = [
          ...(eats
            ? [
                {
                  kind: 'feed' as const,
                  title: 'Feed',
                  detail: [
                    food ?? 'The keeper has not written down what and how much: ask before the first day.',
                    ...(ordered ? [`${ordered.title}: ${ordered.detail}`] : []),
                  ].join(' '),
                },
              ]
            : []),
          ...(animals.length > 0
            ? [
                {
                  kind: 'look' as const,
                  title: `Count: ${animals.map(({ name, count }) => (count > 1 ? `${name} × ${count}` : name)).join(', ')}`,
                  detail: animals.some(({ kind }) => kind === 'fish')
                    ? 'Calm breathing, upright, coming to the food? One that is missing: look once more in the evening, then call.'
                    : 'Open, upright, in their place?',
                },
              ]
            : []),
          {
            kind: 'water' as const,
            title: 'Water up to the mark',
            detail:
              topUp ??
              (vessel.body.water === 'marine'
                ? 'With fresh water from the marked can, slowly; never with salt water.'
                : 'With the water that stands ready, as warm as the tank.'),
          },
          ...(also === undefined ? [] : [{ kind: 'also' as const, title: 'Also', detail: also }]),
          ...mine
            .filter((step) => isForSitter(step) && (step.kind === 'check' || (tests && step.test !== undefined)))
            .map((step) => ({
              kind: step.kind === 'test' ? ('test' as const) : ('check' as const),
              title: step.title,
              detail: step.detail,
              ...(step.test === undefined || !(step.test.analyte in ANALYTES)
                ? {}
                : { analyte: step.test.analyte as Analyte }),
            })),
        ]
        return [{ vessel, lines }]
      })
    days.push({ day, vessels })
  }
  return {
    days,
    unfed: [...unfed.values()],
    keepers: steps.filter((step) => within(step) && !isForSitter(step)),
  }
}
