import { SafetyWords } from '../../design/SafetyWords.tsx'
import { LinkButton, Page, Row, Stack, Tray } from '../../design/primitives.tsx'

export function SafetyPage() {
  return (
    <Page>
      <Tray>
        <Stack $gap={14}>
          <h1>Safety, law, and the limits of advice</h1>
          <SafetyWords />
          <Row>
            <LinkButton to="/paper/emergency">The card for the first ten minutes</LinkButton>
          </Row>
          <p>
            <a href="/license.txt">Licence of Brinvo</a> · <a href="/notices.txt">Licences of what is built into it</a>
          </p>
        </Stack>
      </Tray>
    </Page>
  )
}
