import { LinkButton, Page, Row } from '../design/primitives.tsx'

export function NotFound() {
  return (
    <Page>
      <h1>There is nothing at this address</h1>
      <p>Perhaps the vessel or course belongs to another record than the one that is open.</p>
      <Row>
        <LinkButton to="/">Go to today's round</LinkButton>
      </Row>
    </Page>
  )
}
