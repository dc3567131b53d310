// A picture with a drawing over it: whatever is marked or found lies in the picture's own pixels.
import { styled } from 'styled-components'

export const Board = styled.div<{ $pressed?: boolean }>`
  position: relative;
  border-radius: 10px;
  overflow: hidden;
  background: #000;
  cursor: ${({ $pressed }) => ($pressed ? 'crosshair' : 'default')};
  img {
    display: block;
    width: 100%;
  }
  svg {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    pointer-events: ${({ $pressed }) => ($pressed ? 'none' : 'auto')};
  }
`

/** Where a press fell, in pixels of a picture of this size, and how many of them a pixel of the screen is. */
export function pressedAt(
  event: { readonly currentTarget: Element; readonly clientX: number; readonly clientY: number },
  width: number,
  height: number,
): { readonly x: number; readonly y: number; readonly per: number } {
  const box = event.currentTarget.getBoundingClientRect()
  return {
    x: ((event.clientX - box.left) / box.width) * width,
    y: ((event.clientY - box.top) / box.height) * height,
    per: width / box.width,
  }
}
