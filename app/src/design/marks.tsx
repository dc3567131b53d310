// Our own drawn marks, one per kind of entry. Each is always beside a word.

const box = { width: 18, height: 18, viewBox: '-9 -9 18 18', 'aria-hidden': true } as const

/** Outline of a drop around the origin, 14 high. */
export const DROP = 'M0 -7.500C2.600 -3.600 5 -1 5 2.200A5 5 0 0 1 -5 2.200C-5 -1 -2.600 -3.600 0 -7.500Z'

export const DoseMark = ({ planned = false }: { planned?: boolean }) => (
  <svg {...box}>
    <path d={DROP} fill={planned ? 'none' : 'var(--copper)'} stroke="var(--copper)" strokeWidth="1.6" />
  </svg>
)
export const ReadingMark = () => (
  <svg {...box}>
    <path d="M0 -8V8" stroke="var(--ink)" strokeWidth="1.6" />
    <circle r="4.500" fill="var(--tray)" stroke="var(--ink)" strokeWidth="2" />
  </svg>
)
export const ChangeMark = () => (
  <svg {...box}>
    <rect x="-7" y="-7" width="14" height="14" fill="var(--tray)" stroke="var(--ink)" strokeWidth="1.6" />
    <rect x="-7" y="0" width="14" height="7" fill="var(--methylene)" />
  </svg>
)
export const SignMark = () => (
  <svg {...box}>
    <path d="M0 -7.500L7.500 0L0 7.500L-7.500 0Z" fill="var(--acriflavine)" stroke="var(--ink)" strokeWidth="1.4" />
  </svg>
)
export const MealMark = ({ took = true }: { took?: boolean }) => (
  <svg {...box}>
    <circle r="4.500" fill={took ? 'var(--iodine)' : 'none'} stroke="var(--iodine)" strokeWidth="1.6" />
  </svg>
)
export const OtherMark = () => (
  <svg {...box}>
    <path d="M-6 0H6" stroke="var(--quiet)" strokeWidth="2.500" strokeLinecap="round" />
  </svg>
)

/** The mark of an entry kind. */
export function EntryMark({ kind }: { kind: string }) {
  switch (kind) {
    case 'dose':
      return <DoseMark />
    case 'reading':
      return <ReadingMark />
    case 'change':
      return <ChangeMark />
    case 'sign':
      return <SignMark />
    case 'meal':
      return <MealMark />
    default:
      return <OtherMark />
  }
}

/** A vessel in outline, true in proportion of volume, with its water line. */
export function VesselOutline({ litres, largest, height = 40 }: { litres: number; largest: number; height?: number }) {
  const scale = Math.cbrt(Math.max(litres, 1) / Math.max(largest, 1))
  const h = Math.max(14, height * scale)
  const w = h * 1.35
  return (
    <svg width={w + 4} height={height + 2} viewBox={`-2 0 ${w + 4} ${height + 2}`} aria-hidden>
      <rect x="0" y={height - h * 0.84} width={w} height={h * 0.84} fill="var(--water)" />
      <path d={`M0 ${height - h}V${height}H${w}V${height - h}`} fill="none" stroke="var(--rim)" strokeWidth="2" />
    </svg>
  )
}
