import { SafetyWords } from '../../design/SafetyWords.tsx'
import { Page, Stack, Tray } from '../../design/primitives.tsx'

export function SafetyPage() {
  return (
    <Page>
      <Tray>
        <Stack $gap={14}>
          <h1>Safety, law, and the limits of advice</h1>
          <SafetyWords />
        </Stack>
      </Tray>
    </Page>
  )
}
