import { Dialog } from '../design/Dialog.tsx'
import { LinkButton, Row, Stack } from '../design/primitives.tsx'

/** All keys on one sheet. */
export function KeysDialog({
  places,
  onClose,
}: {
  places: readonly { readonly key: string; readonly label: string }[]
  onClose: () => void
}) {
  return (
    <Dialog title="Keys" isOpen onClose={onClose}>
      <Stack $gap={6}>
        {[
          ['L or /', 'log something, also as one typed line'],
          ['D', 'log a dose'],
          ...places.map(({ key, label }) => [key.toUpperCase(), label]),
          ['← →', 'move along the strip by an hour; with Shift by a day'],
          ['?', 'this list'],
        ].map(([key, what]) => (
          <Row key={key} $between>
            <kbd className="mono">{key}</kbd>
            <span>{what}</span>
          </Row>
        ))}
        <p>Single keys can be switched off in the settings.</p>
        <LinkButton to="/settings" onClick={onClose}>
          Settings
        </LinkButton>
      </Stack>
    </Dialog>
  )
}
