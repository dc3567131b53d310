// Something chosen for one bag of an arrival: what speaks against its vessel is told before, and what is risked with open
// eyes stands on the ledger with its words.
import { containerEntries } from '../acclimation/stage.ts'
import { checkContainer } from '../safety/arrivalChecks.ts'
import type { Refusal } from '../safety/refusal.ts'
import { answerOf, problemAnswer } from './answer.ts'
import { checkInstant } from './place.ts'
import type { ActAnswer, ActContext, ContainerIntent, Draft } from './types.ts'

export function containerAct(context: ActContext, intent: ContainerIntent): ActAnswer {
  const { record, active, nowMs } = context
  const container = record.arrivals.get(intent.arrivalId)?.body.containers.find(({ id }) => id === intent.containerId)
  if (!container) return problemAnswer('That bag is not on the arrival any more.')
  const found: Refusal[] = [
    ...checkInstant(context, container.vesselId, nowMs, nowMs),
    ...checkContainer({
      record,
      active,
      container,
      entries: containerEntries(active, intent.arrivalId, intent.containerId),
      nowMs,
    }),
  ]
  if (intent.against && intent.against.words.trim().length < 8)
    return problemAnswer('Why against the advice? Eight letters at least: they stand on the ledger.')
  const risk = found.find(({ rule }) => rule === 'no-quarantine')
  const name = record.vessels.get(container.vesselId)?.body.name ?? 'the display'
  const words: Draft[] = risk
    ? [
        {
          kind: 'override',
          vesselId: container.vesselId,
          rule: risk.rule,
          words: `Straight into ${name} without quarantine, knowing what is risked.`,
          about: risk.message.slice(0, 400),
        } as unknown as Draft,
      ]
    : []
  if (intent.against)
    words.push({
      kind: 'override',
      vesselId: container.vesselId,
      rule: 'method-advice',
      words: intent.against.words.trim().slice(0, 400),
      about: intent.against.about.slice(0, 400),
    } as unknown as Draft)
  return answerOf({ found, drafts: [...intent.drafts, ...words], said: intent.said })
}
