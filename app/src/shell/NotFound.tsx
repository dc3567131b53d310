import { Empty, LinkButton, Page } from '../design/primitives.tsx'

export function NotFound() {
  return (
    <Page>
      <Empty title="There is nothing at this address" action={<LinkButton to="/">Go to today's round</LinkButton>}>
        Perhaps the vessel or course belongs to another record than the one that is open.
      </Empty>
    </Page>
  )
}
