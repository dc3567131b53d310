// One press per step: what logging a step means, wherever the step is shown.
import { clockMs } from '../data/clock.ts'
import { instantOf, pressesOf, type Override, type Press, type Step, type StepPage } from '@brinvo/core'
import { useActions, useRecord, type Draft } from '../data/queries.tsx'
import { Button, LinkButton, Row, type ButtonLook } from '../design/primitives.tsx'
import { useLog, type LogPreset } from '../shell/LogContext.tsx'
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

function StandardCheck({ step, look }: { step: Step; look: ButtonLook }) {
  const { record } = useRecord()
  const { revise } = useActions()
  const notice = useNotice()
  const instrument = record.instruments.get(step.test?.instrumentId ?? '')
  if (!instrument) return null
  const passed = async () => {
    try {
      await revise(instrument, { ...instrument.body, checkedAt: instantOf(clockMs()) })
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

/** Where a step is done. */
const PAGES: Readonly<Record<StepPage, (step: Step) => string>> = {
  bath: ({ courseId, ruleId }) => `/courses/${courseId}/bath/${ruleId}`,
  round: ({ courseId, ruleId }) => `/courses/${courseId}/round/${ruleId}`,
  spot: ({ courseId, ruleId }) => `/courses/${courseId}/spot/${ruleId}`,
  run: ({ courseId, ruleId }) => `/courses/${courseId}/run/${ruleId}`,
  bench: ({ courseId, ruleId }) => `/courses/${courseId}/bench/${ruleId}`,
  transfer: ({ courseId }) => `/courses/${courseId}/transfer`,
  causes: ({ courseId }) => `/courses/${courseId}/causes`,
  steering: ({ courseId }) => `/courses/${courseId}#steering`,
  tally: ({ courseId, key, tally }) => `/courses/${courseId}/tally/${tally!.measure}?step=${encodeURIComponent(key)}`,
  watch: ({ vesselId, key }) => `/watch/${vesselId}?step=${encodeURIComponent(key)}`,
  walk: ({ vesselId, key }) => `/walk/${vesselId}?step=${encodeURIComponent(key)}`,
  days: ({ vesselId }) => `/watch/${vesselId}`,
}

/** The buttons that carry a step out, or open the log where a number is needed: what core says may be pressed on it. */
export function StepButton({ step, look = 'plain', label }: { step: Step; look?: ButtonLook; label?: string }) {
  const log = useLog()
  const base = { vesselId: step.vesselId, courseId: step.courseId, step: step.key }
  // No amount can be said before the water was read.
  if (step.needs === 'temperature')
    return (
      <Button
        look={look}
        onPress={() => log({ ...base, kind: 'reading', step: undefined, analyte: 'temperature' })}
        aria-label={`${label ?? 'Enter temperature'}: ${step.title}`}
      >
        {label ?? 'Enter temperature'}
      </Button>
    )
  const presses = pressesOf(step)
  if (presses.length === 1) return <PressButton step={step} press={presses[0]!} look={look} label={label} />
  const answers = presses.every(({ to }) => to === 'write')
  return (
    <Row $gap={6} {...(answers ? { role: 'group', 'aria-label': `Answers: ${step.title}` } : {})}>
      {presses.map((press, i) => (
        <PressButton
          key={press.label}
          step={step}
          press={press}
          look={i === 0 && step.kind !== 'check' ? look : 'plain'}
        />
      ))}
    </Row>
  )
}

function PressButton({
  step,
  press,
  look,
  label = press.label,
}: {
  step: Step
  press: Press
  look: ButtonLook
  label?: string | undefined
}) {
  const log = useLog()
  const save = useSave()
  const act = usePress()
  const day = { vesselId: step.vesselId, courseId: step.courseId }
  const base = { ...day, step: step.key }
  if (press.to === 'page')
    return (
      <LinkButton to={PAGES[press.page](step)} $look={look} aria-label={`${label}: ${step.title}`}>
        {label}
      </LinkButton>
    )
  if (press.to === 'standard') return <StandardCheck step={step} look={look} />
  const go = () => {
    switch (press.to) {
      case 'log':
        return log({ ...base, ...press.preset } as LogPreset)
      case 'equipment':
        return void act({ kind: 'equipment', ...base, item: press.item as never, on: press.on }, press.said)
      case 'write':
        return void save(
          press.drafts.map((draft) => ({ ...(press.ofDay === true ? day : base), ...draft }) as unknown as Draft),
          press.said,
        )
    }
  }
  return (
    <Button look={look} onPress={go} aria-label={`${label}: ${step.title}`}>
      {label}
    </Button>
  )
}
