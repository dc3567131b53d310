// How a course ends, in the keeper's own judgement.
import type { CourseBody } from '@brinvo/core'
import { useState } from 'react'
import { useRecord } from '../../data/queries.tsx'
import { Dialog } from '../../design/Dialog.tsx'
import { Choice, Field } from '../../design/fields.tsx'
import { Button, Row } from '../../design/primitives.tsx'
import { useAct } from '../../parts/useAct.ts'
import { useGoOn } from '../../shell/useGoOn.ts'

export function EndDialog({ courseId, onClose }: { courseId: string; onClose: () => void }) {
  const { record } = useRecord()
  const goOn = useGoOn()
  const [outcome, setOutcome] = useState<NonNullable<CourseBody['outcome']> | null>(null)
  const [words, setWords] = useState('')
  // How it ended is the keeper's to say: a word that stands there already would be kept by whoever is in a hurry.
  const asking = useAct(
    outcome === null
      ? null
      : {
          kind: 'course-end',
          vesselId: record.courses.get(courseId)?.body.vesselId ?? '',
          id: courseId,
          outcome,
          words,
        },
  )
  const end = async () => {
    if (await asking.commit('The course is ended and stays on record.')) goOn('/courses')
  }
  return (
    <Dialog title="End this course" isOpen onClose={onClose}>
      <Choice
        label="How does it end?"
        value={outcome}
        onChange={setOutcome}
        options={[
          { value: 'cured', label: 'Cured' },
          { value: 'improved', label: 'Improved' },
          { value: 'failed', label: 'Failed' },
          { value: 'lost', label: 'Lost' },
          { value: 'finished', label: 'Finished, nothing to cure' },
          { value: 'stopped', label: 'Stopped early' },
          { value: 'unknown', label: 'Not known' },
          { value: 'switched', label: 'Switched to another' },
        ]}
      />
      <Field label="What came of it" value={words} onChange={setWords} multiline />
      {asking.answer.problem !== null && asking.answer.problem !== '' && <p role="alert">{asking.answer.problem}</p>}
      <Row>
        <Button look="danger" isDisabled={outcome === null || !asking.may || asking.busy} onPress={() => void end()}>
          End it
        </Button>
      </Row>
    </Dialog>
  )
}
