// Leaving a step out is an entry with its reason, never a silent gap.
import { mayLeaveOut, type Step } from '@brinvo/core'
import { useState } from 'react'
import type { Draft } from '../data/queries.tsx'
import { Dialog } from '../design/Dialog.tsx'
import { Field } from '../design/fields.tsx'
import { Button, Row } from '../design/primitives.tsx'
import { useSave } from './StepActions.tsx'

export function SkipButton({ step }: { step: Step }) {
  const [asking, setAsking] = useState(false)
  const [reason, setReason] = useState('')
  const save = useSave()
  if (!mayLeaveOut(step)) return null
  const skip = async () => {
    if (reason.trim().length < 3) return
    const { vesselId, courseId, key } = step
    const draft = { kind: 'skip', vesselId, courseId, step: key, reason: reason.trim() } as unknown as Draft
    if (await save([draft], `${step.title}: left out.`)) setAsking(false)
  }
  return (
    <>
      <Button look="bare" onPress={() => setAsking(true)} aria-label={`Leave out: ${step.title}`}>
        Leave out
      </Button>
      {asking && (
        <Dialog title={`Leave out: ${step.title}`} isOpen onClose={() => setAsking(false)}>
          <p>The plan goes on without it, and the reason stays on the ledger. A test left out earns no hours.</p>
          <Field label="Why" value={reason} onChange={setReason} autoFocus />
          <Row>
            <Button look="main" isDisabled={reason.trim().length < 3} onPress={() => void skip()}>
              Leave it out
            </Button>
          </Row>
        </Dialog>
      )}
    </>
  )
}
