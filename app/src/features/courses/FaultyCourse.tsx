// A course whose own data cannot be worked out: it stands alone with its fault, and can be ended or exported.
import type { CourseDocument, CourseFault, Protocol } from '@brinvo/core'
import { useState } from 'react'
import { Button, LinkButton, Page, Row, Stack, Tray } from '../../design/primitives.tsx'
import { EndDialog } from './EndDialog.tsx'

export function FaultyCourse({ course, fault }: { course: CourseDocument; fault: CourseFault }) {
  const [ending, setEnding] = useState(false)
  return (
    <Page>
      <Tray $tone="danger" role="alert">
        <Stack>
          <h1>{(course.body.protocol as unknown as Protocol).title ?? 'This course'} cannot be worked out</h1>
          <p>
            Its own copy of the protocol holds something we cannot follow. Everything else goes on. Nothing that was
            logged is lost: end this course, or export the record and mend the line.
          </p>
          <p className="mono">{fault.message}</p>
          <Row>
            <Button look="danger" onPress={() => setEnding(true)}>
              End this course
            </Button>
            <LinkButton to="/ledger">Export the record</LinkButton>
          </Row>
        </Stack>
      </Tray>
      {ending && <EndDialog courseId={course.id} onClose={() => setEnding(false)} />}
    </Page>
  )
}
