import { create } from 'qrcode'

/** A text as a field of squares that a camera reads; black on white in any light. */
export function Squares({ text, side = 190 }: { readonly text: string; readonly side?: number }) {
  const { modules } = create(text, { errorCorrectionLevel: 'M' })
  // Four squares of white around it, without which cameras do not find it (ISO/IEC 18004).
  const whole = modules.size + 8
  let path = ''
  for (let y = 0; y < modules.size; y++)
    for (let x = 0; x < modules.size; x++) if (modules.get(y, x)) path += `M${x + 4} ${y + 4}h1v1h-1z`
  return (
    <svg
      viewBox={`0 0 ${whole} ${whole}`}
      width={side}
      height={side}
      role="img"
      aria-label="The code as squares for a camera"
      shapeRendering="crispEdges"
    >
      <rect width={whole} height={whole} fill="#fff" />
      <path d={path} fill="#000" />
    </svg>
  )
}
