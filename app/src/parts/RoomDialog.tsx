import { Dialog } from '../design/Dialog.tsx'
import { RoomPanel } from './RoomPanel.tsx'

/** The way out of a full store, over whatever is open: what was typed there stays. */
export function RoomDialog({ onClose }: { readonly onClose: () => void }) {
  return (
    <Dialog title="Make room" isOpen onClose={onClose}>
      <RoomPanel />
    </Dialog>
  )
}
