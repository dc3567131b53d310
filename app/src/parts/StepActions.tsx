// One press per step: what logging a step means, wherever the step is shown.
import { instantOf, STANDARD_CHECK, watchOfDay, type Override, type Step } from '@brinvo/core'
import { useActions, useRecord, type Draft } from '../data/queries.tsx'
import { Button, LinkButton, Row, type ButtonLook } from '../design/primitives.tsx'
import { useLog } from '../shell/LogContext.tsx'
import { useNotice } from '../shell/Notices.tsx'
import { usePress } from './useCommit.ts'

/** Saves drafts, says so, offers the undo; failures are said and nothing typed is lost. */
export function useSave() {
  const { append } = useActions()
  const notice = useNotice()
  return async (drafts: readonly Draft[], text: string, override?: Override): Promise<boolean> => {
    try {
      const entries = await append(drafts, override)
      notice({ text, tone: 'done', undo: entries })
      return true
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
      return false
    }
  }
}

/** The next look of the day, started or noted at once; a day that is over can only be noted on its vessel's strip. */
function SplitWatch({ step, look }: { step: Step; look: ButtonLook }) {
  const save = useSave()
  const next = watchOfDay.looks.find(({ id }) => id === step.watch!.left[0]) ?? watchOfDay.looks[0]!
  if (step.state === 'late')
    return (
      <LinkButton to={`/watch/${step.vesselId}`} $look={look}>
        See the days
      </LinkButton>
    )
  return (
    <Row $gap={6}>
      <LinkButton to={`/watch/${step.vesselId}`} $look={look}>
        Watch
      </LinkButton>
      <Button
        look="plain"
        onPress={() =>
          void save(
            [
              {
                kind: 'done',
                vesselId: step.vesselId,
                courseId: step.courseId,
                what: `${next.title} look, ${next.minutes} min: nothing odd`,
                watched: { look: next.id, minutes: next.minutes },
              } as Draft,
            ],
            `${next.title} look: noted.`,
          )
        }
      >
        {next.title}: nothing odd
      </Button>
    </Row>
  )
}

/** The rule of every campaign that asks for the cause checklist. */
export const CAUSES = 'causes'

function StandardCheck({ step, look }: { step: Step; look: ButtonLook }) {
  const { record } = useRecord()
  const { revise } = useActions()
  const notice = useNotice()
  const instrument = record.instruments.get(step.test?.instrumentId ?? '')
  if (!instrument) return null
  const passed = async () => {
    try {
      await revise(instrument, { ...instrument.body, checkedAt: instantOf(Date.now()) })
      notice({ text: `${instrument.body.name}: held against a standard today.`, tone: 'done' })
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  return (
    <Row $gap={6}>
      <Button look={look} onPress={() => void passed()} aria-label={`Passed: ${step.title}`}>
        Passed
      </Button>
      <LinkButton to="/cupboard" $look="bare">
        It is off
      </LinkButton>
    </Row>
  )
}

const MEALS = [
  { took: 'took', label: 'Taken' },
  { took: 'tried', label: 'Tried' },
  { took: 'ignored', label: 'Ignored' },
] as const

/** The button that carries a step out, or opens the log where a number is needed. */
export function StepButton({ step, look = 'plain', label }: { step: Step; look?: ButtonLook; label?: string }) {
  const log = useLog()
  const save = useSave()
  const act = usePress()
  const base = { vesselId: step.vesselId, courseId: step.courseId, step: step.key }
  const press = (text: string, act: () => void) => (
    <Button look={look} onPress={act} aria-label={`${label ?? text}: ${step.title}`}>
      {label ?? text}
    </Button>
  )
  // No amount can be said before the water was read.
  if (step.needs === 'temperature')
    return press('Enter temperature', () =>
      log({ kind: 'reading', vesselId: step.vesselId, courseId: step.courseId, analyte: 'temperature' }),
    )
  switch (step.kind) {
    case 'bath':
      return (
        <LinkButton to={`/courses/${step.courseId}/bath/${step.ruleId}`} $look={look}>
          Open the bath
        </LinkButton>
      )
    case 'tally':
      return (
        <LinkButton
          to={`/courses/${step.courseId}/tally/${step.tally!.measure}?step=${encodeURIComponent(step.key)}`}
          $look={look}
        >
          Count
        </LinkButton>
      )
    case 'round':
      return (
        <LinkButton to={`/courses/${step.courseId}/round/${step.ruleId}`} $look={look}>
          Open the round
        </LinkButton>
      )
    case 'spot':
      return (
        <LinkButton to={`/courses/${step.courseId}/spot/${step.ruleId}`} $look={look}>
          Open the spots
        </LinkButton>
      )
    case 'run':
      return (
        <LinkButton to={`/courses/${step.courseId}/run/${step.ruleId}`} $look={look}>
          Minute by minute
        </LinkButton>
      )
    case 'transfer':
      return (
        <LinkButton to={`/courses/${step.courseId}/transfer`} $look={look}>
          Open the move
        </LinkButton>
      )
    case 'dose':
    case 'ramp':
    case 'hold':
      return step.dose
        ? press('Done, log it', () =>
            log({ kind: 'dose', ...base, productId: step.dose!.productId, amount: step.dose!.amount }),
          )
        : press('Log a dose', () => log({ kind: 'dose', ...base }))
    case 'test':
      return press('Enter reading', () =>
        log({
          kind: 'reading',
          ...base,
          ...(step.test ? { analyte: step.test.analyte as never } : {}),
          ...(step.test?.instrumentId === undefined ? {} : { instrumentId: step.test.instrumentId }),
        }),
      )
    case 'change':
      return press('Log the change', () =>
        log({
          kind: 'change',
          ...base,
          fraction: step.change?.fraction,
          ...(step.change?.makeUp
            ? { productId: step.change.makeUp.productId, replacementMgPerL: step.change.makeUp.toMgPerL }
            : {}),
        }),
      )
    case 'gate':
      // A kit's check is written into the kit itself: it stands for every course.
      if (step.gate === STANDARD_CHECK) return <StandardCheck step={step} look={look} />
      return press(
        'Yes',
        () => void save([{ kind: 'gate', ...base, gate: step.gate!, passed: true } as Draft], `${step.title}: noted.`),
      )
    case 'equipment':
      return press(
        'Done',
        () =>
          void act(
            { kind: 'equipment', ...base, item: step.equipment!.item as never, on: step.equipment!.on },
            `${step.title}: noted.`,
          ),
      )
    case 'feed':
      return (
        <Row $gap={6} role="group" aria-label={`Answers: ${step.title}`}>
          {MEALS.map(({ took, label: words }) => (
            <Button
              key={took}
              look={took === 'took' ? look : 'plain'}
              onPress={() =>
                void save([{ kind: 'meal', ...base, took } as Draft], `Meal ${words.toLowerCase()}: noted.`)
              }
            >
              {words}
            </Button>
          ))}
        </Row>
      )
    case 'observe':
      if (step.watch) return <SplitWatch step={step} look={look} />
      return (
        <Row $gap={6}>
          <LinkButton to={`/watch/${step.vesselId}?step=${encodeURIComponent(step.key)}`} $look={look}>
            Watch
          </LinkButton>
          {press(
            'Nothing odd',
            () => void save([{ kind: 'done', ...base, what: step.title } as Draft], `${step.title}: noted.`),
          )}
        </Row>
      )
    case 'check':
      return (
        <Row $gap={6} role="group" aria-label={`Answers: ${step.title}`}>
          {step.check!.answers.map((answer) => (
            <Button
              key={answer.id}
              onPress={() =>
                void save(
                  [{ kind: 'check', ...base, what: step.check!.what, answers: [answer.id] } as Draft],
                  `${step.title}: ${answer.label.toLowerCase()}.`,
                )
              }
            >
              {answer.label}
            </Button>
          ))}
        </Row>
      )
    case 'setting':
      return press(
        'Set, log it',
        () => void save([{ kind: 'done', ...base, what: step.title } as Draft], `${step.title}: noted.`),
      )
    case 'task':
      if (step.steers)
        return (
          <LinkButton to={`/courses/${step.courseId}#steering`} $look={look}>
            Amounts
          </LinkButton>
        )
      if (step.ruleId === CAUSES)
        return (
          <Row $gap={6}>
            <LinkButton to={`/courses/${step.courseId}/causes`} $look={look}>
              Open the checklist
            </LinkButton>
            <Button
              look="bare"
              aria-label={`Done: ${step.title}`}
              onPress={() => void save([{ kind: 'done', ...base, what: step.title } as Draft], `${step.title}: noted.`)}
            >
              Done
            </Button>
          </Row>
        )
      return press(
        'Done',
        () => void save([{ kind: 'done', ...base, what: step.title } as Draft], `${step.title}: noted.`),
      )
  }
}
