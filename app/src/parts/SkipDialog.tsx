// Leaving a step out is an entry with its reason, never a silent gap.
import type { Step } from '@brinvo/core'
import { useState } from 'react'
import type { Draft } from '../data/queries.tsx'
import { Dialog } from '../design/Dialog.tsx'
import { Field } from '../design/fields.tsx'
import { Button, Row } from '../design/primitives.tsx'
import { useSave } from './StepActions.tsx'

export function SkipDialog({ step, onClose }: { step: Step; onClose: () => void }) {
  const [reason, setReason] = useState('')
  const save = useSave()
  const skip = async () => {
    if (reason.trim().length < 3) return
    const { vesselId, courseId, key } = step
    const draft = { kind: 'skip', vesselId, courseId, step: key, reason: reason.trim() } as unknown as Draft
    if (await save([draft], `${step.title}: left out.`)) onClose()
  }
  return (
    <Dialog title={`Leave out: ${step.title}`} isOpen onClose={onClose}>
      <p>The plan goes on without it, and the reason stays on the ledger. A test left out earns no hours.</p>
      <Field label="Why" value={reason} onChange={setReason} autoFocus />
      <Row>
        <Button look="main" isDisabled={reason.trim().length < 3} onPress={() => void skip()}>
          Leave it out
        </Button>
      </Row>
    </Dialog>
  )
}
