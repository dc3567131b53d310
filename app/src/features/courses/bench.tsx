// What every run at the bench shows: one large clock, buttons for a wet thumb, and the amount for the dip's own water.
import { formatDose, type Step } from '@brinvo/core'
import { styled } from 'styled-components'
import { useRecord } from '../../data/queries.tsx'
import { Facts, Quiet, Row, Stack, Tray } from '../../design/primitives.tsx'
import { WorkingButton } from '../../design/Working.tsx'
import { levelText, litresText } from '../../design/words.ts'

export const Clock = styled.p`
  font-size: clamp(56px, 13vw, 112px);
  font-weight: 800;
  line-height: 1;
  letter-spacing: -0.03em;
  &[data-over] {
    color: var(--danger);
  }
`
export const Thumb = styled.div`
  display: grid;
  gap: 10px;
  > button {
    min-height: 64px;
    font-size: 19px;
  }
`
/** Minutes and seconds, "07:05". */
export const clockText = (seconds: number): string =>
  `${String(Math.floor(seconds / 60)).padStart(2, '0')}:${String(Math.floor(seconds) % 60).padStart(2, '0')}`

/** How much of the bottle goes into the water of a bath or dip; nothing where no amount is worked out. */
export function DipAmount({ step, litres, of }: { step: Step; litres: number; of: 'bath' | 'dip' }) {
  const { record } = useRecord()
  const { dose } = step
  if (!dose) return null
  const unit = dose.unit === 'drop' ? 'drops' : dose.unit === 'tablet' ? 'tablets' : dose.unit
  return (
    <Tray>
      <Stack>
        <p style={{ fontSize: 40, fontWeight: 800, lineHeight: 1.1 }}>
          {formatDose(dose.amount, unit, record.settings.locale).text}{' '}
          <small style={{ fontSize: 21, fontWeight: 600 }}>
            into {litresText(litres, record.settings)} of {of} water
          </small>
        </p>
        <Facts>
          <dt>bottle</dt>
          <dd>
            {record.products.get(dose.productId)?.body.name}, {dose.strengthMg} mg/{dose.unit}
          </dd>
          <dt>level in the {of}</dt>
          <dd>{levelText(dose.toMgPerL)} mg/L</dd>
        </Facts>
        <Row>
          <WorkingButton working={dose.working} />
        </Row>
      </Stack>
    </Tray>
  )
}

/** What ends a bath or dip at once, and its times. */
export function AbortSigns({
  signs,
  minutes,
  airSeconds,
}: {
  signs: readonly string[]
  minutes: { readonly min: number; readonly usual: number; readonly max: number }
  airSeconds?: number | null
}) {
  return (
    <>
      <Tray>
        <Stack $gap={6}>
          <h3>Out at once on</h3>
          <ul>
            {signs.map((sign) => (
              <li key={sign} style={{ padding: '3px 0', fontWeight: 650 }}>
                {sign}
              </li>
            ))}
          </ul>
          {signs.length === 0 && <Quiet>rolling, no reaction, gasping</Quiet>}
        </Stack>
      </Tray>
      <Tray>
        <Facts>
          <dt>shortest</dt>
          <dd>{minutes.min} min</dd>
          <dt>usual</dt>
          <dd>{minutes.usual} min</dd>
          <dt>never more than</dt>
          <dd>{minutes.max} min</dd>
          {airSeconds !== undefined && airSeconds !== null && (
            <>
              <dt>in air, at most</dt>
              <dd>{airSeconds} s</dd>
            </>
          )}
        </Facts>
      </Tray>
    </>
  )
}
