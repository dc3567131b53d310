// First run: one plain page before anything else. Until it was read, it stands in place of every page but itself.
import { clockMs } from '../data/clock.ts'
import { instantOf } from '@brinvo/core'
import type { ReactNode } from 'react'
import { useActions, useRecord } from '../data/queries.tsx'
import { SafetyWords } from '../design/SafetyWords.tsx'
import { useNotice } from './Notices.tsx'
import { Button, Page, Row, Stack, Tray } from '../design/primitives.tsx'

export function SafetyGate({ children }: { children: ReactNode }) {
  const { record } = useRecord()
  const { saveSettings } = useActions()
  const notice = useNotice()
  if (record.settings.safetyReadAt !== undefined) return children
  return (
    <Page>
      <Tray>
        <Stack $gap={14}>
          <h1>Before you begin</h1>
          <SafetyWords />
          <Row>
            <Button
              look="main"
              onPress={() => {
                saveSettings({ ...record.settings, safetyReadAt: instantOf(clockMs()) }).catch((cause: unknown) =>
                  notice({ text: (cause as Error).message, tone: 'failed' }),
                )
              }}
            >
              I have read this
            </Button>
          </Row>
        </Stack>
      </Tray>
    </Page>
  )
}
