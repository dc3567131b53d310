// One strip of one's own: what was practised week by week, and how often right. For the keeper alone; there is nothing to win.
import { calibrationOf } from '@brinvo/core/practice'
import { practised } from '../../data/practice.ts'
import { Quiet, Stack, Tray } from '../../design/primitives.tsx'
import { plural } from '../../design/words.ts'

const DAY = 86_400_000
const WEEKS = 12

export function Progress() {
  const all = practised()
  if (all.length === 0) return null
  const nowMs = Date.now()
  const weeks = Array.from({ length: WEEKS }, (_, i) => {
    const list = all.filter(({ atMs }) => Math.floor((nowMs - atMs) / (7 * DAY)) === WEEKS - 1 - i)
    return {
      count: list.length,
      share: list.length === 0 ? 0 : list.reduce((sum, { share }) => sum + share, 0) / list.length,
    }
  })
  const most = Math.max(1, ...weeks.map(({ count }) => count))
  const looks = all.flatMap(({ what, share, sure }) =>
    what === 'look' && sure !== undefined ? [{ right: share >= 1, sure }] : [],
  )
  const words = weeks
    .map(({ count, share }, i) =>
      count === 0
        ? null
        : `${WEEKS - i === 1 ? 'this week' : `${WEEKS - 1 - i} weeks ago`} ${count}, ${Math.round(100 * share)} % right`,
    )
    .filter((one) => one !== null)
    .join('; ')
  return (
    <Tray aria-label="Your practice">
      <Stack $gap={6}>
        <svg
          viewBox={`0 0 ${WEEKS * 20} 44`}
          width="100%"
          height="56"
          preserveAspectRatio="none"
          role="img"
          aria-label={words}
        >
          {weeks.map(({ count, share }, i) => (
            <g key={i}>
              <rect
                x={i * 20 + 3}
                y={42 - (38 * count) / most}
                width={14}
                height={(38 * count) / most}
                fill="var(--hairline)"
              />
              <rect
                x={i * 20 + 3}
                y={42 - (38 * count * share) / most}
                width={14}
                height={(38 * count * share) / most}
                fill="var(--rim)"
              />
            </g>
          ))}
          <line x1="0" x2={WEEKS * 20} y1="42.5" y2="42.5" stroke="var(--quiet)" />
        </svg>
        <Quiet>
          Twelve weeks: {plural(all.length, 'practice', 'practices')}, the dark part of each bar was right or lived.{' '}
          {looks.length >= 5 &&
            calibrationOf(looks)
              .map(
                ({ sure, right, of }) =>
                  `Said ${Math.round(100 * sure)} %: ${Math.round(100 * right)} % of ${of} were.`,
              )
              .join(' ')}
        </Quiet>
      </Stack>
    </Tray>
  )
}
