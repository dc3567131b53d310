// What floats above the page.
import type { ReactNode } from 'react'
import { Dialog as AriaDialog, Heading, Modal, ModalOverlay } from 'react-aria-components'
import { styled } from 'styled-components'
import { Button, Row } from './primitives.tsx'
import { NARROW } from './theme.ts'

const Overlay = styled(ModalOverlay)`
  position: fixed;
  inset: 0;
  z-index: 50;
  background: var(--shade);
  display: grid;
  place-items: start center;
  padding: 6vh 16px 16px;
  overflow: auto;
  ${NARROW} {
    place-items: end center;
    padding: 0;
  }
`
const Sheet = styled(Modal)<{ $wide?: boolean }>`
  width: min(${({ $wide }) => ($wide ? 760 : 560)}px, 100%);
  background: var(--tray);
  border-radius: 16px;
  border-top: 3px solid var(--rim);
  box-shadow: 0 18px 50px rgb(0 0 0 / 28%);
  ${NARROW} {
    border-radius: 16px 16px 0 0;
    max-height: 92dvh;
    overflow: auto;
  }
`
const DialogBody = styled(AriaDialog)`
  padding: 18px 20px 20px;
  outline: none;
  display: flex;
  flex-direction: column;
  gap: 14px;
`
/** What floats: closes on Escape and outside, gives the focus back. */
export function Dialog({
  title,
  isOpen,
  onClose,
  children,
  wide,
}: {
  title: string
  isOpen: boolean
  onClose: () => void
  children: ReactNode
  wide?: boolean
}) {
  return (
    <Overlay isOpen={isOpen} onOpenChange={(open) => !open && onClose()} isDismissable>
      <Sheet $wide={wide}>
        <DialogBody>
          <Row $between>
            <Heading slot="title" level={2}>
              {title}
            </Heading>
            <Button look="bare" onPress={onClose}>
              Close
            </Button>
          </Row>
          {children}
        </DialogBody>
      </Sheet>
    </Overlay>
  )
}
