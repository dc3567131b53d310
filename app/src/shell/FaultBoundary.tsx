import { Component, type ReactNode } from 'react'
import { Button, Page, Row, Stack, Tray } from '../design/primitives.tsx'

/** A fault of ours, said plainly: the record is safe, and how to go on. */
export class FaultBoundary extends Component<{ children: ReactNode }, { fault: string | null }> {
  override state = { fault: null as string | null }
  static getDerivedStateFromError(error: unknown) {
    return { fault: error instanceof Error ? error.message : String(error) }
  }
  override render() {
    if (this.state.fault === null) return this.props.children
    return (
      <Page>
        <Tray $tone="danger" role="alert">
          <Stack>
            <h1>This page stopped working</h1>
            <p>
              Your record is on disk and untouched. Load the page again; if it stops again, export the record from the
              ledger and note the line below.
            </p>
            <p className="mono">{this.state.fault}</p>
            <Row>
              <Button look="main" onPress={() => window.location.reload()}>
                Load again
              </Button>
              <Button onPress={() => window.location.assign('/ledger')}>Go to the ledger</Button>
              <Button onPress={() => window.location.assign('/rescue')}>Open the rescue page</Button>
            </Row>
          </Stack>
        </Tray>
      </Page>
    )
  }
}
