// The vocabulary of signs: one observable thing each, drawn where two are mixed up, with what it speaks for.
import { conditions, signs, type Sign } from '@brinvo/core'
import { Quiet, Row, Stack, Tag, Tray } from '../../design/primitives.tsx'
import { SignPicture } from '../../parts/Drawings.tsx'
import { LOOKS } from '../../parts/zones.ts'

export const signText = (sign: Sign): string => `${sign.label} ${sign.definition} ${sign.place} ${sign.hosts.join(' ')}`

export function SignShelf({
  hit,
  onCondition,
}: {
  hit: (text: string) => boolean
  onCondition: (label: string) => void
}) {
  return signs
    .filter((sign) => hit(signText(sign)))
    .map((sign) => <One key={sign.id} sign={sign} onCondition={onCondition} />)
}

function One({ sign, onCondition }: { sign: Sign; onCondition: (label: string) => void }) {
  const speaks = conditions
    .flatMap((condition) => {
      const p = condition.likelihood[sign.id]
      return p === undefined || p < 0.3 ? [] : [{ condition, p }]
    })
    .sort((a, b) => b.p - a.p)
    .slice(0, 6)
  return (
    <Tray>
      <Row $gap={14} style={{ alignItems: 'flex-start', flexWrap: 'nowrap' }}>
        <SignPicture id={sign.id} />
        <Stack $gap={6} style={{ flex: '1 1 auto' }}>
          <h3>{sign.label}</h3>
          <p>{sign.definition}.</p>
          <Quiet>
            {sign.hosts.join(', ')} · {sign.place} · {LOOKS[sign.look]}
          </Quiet>
          {speaks.length > 0 && (
            <p>
              <strong>Seen with</strong>{' '}
              {speaks.map(({ condition, p }, i) => (
                <span key={condition.id}>
                  {i > 0 && ', '}
                  <button
                    type="button"
                    onClick={() => onCondition(condition.label)}
                    style={{
                      background: 'none',
                      border: 0,
                      padding: '6px 0',
                      color: 'inherit',
                      textDecoration: 'underline',
                      cursor: 'pointer',
                    }}
                  >
                    {condition.label}
                  </button>{' '}
                  <Quiet>{Math.round(100 * p)} %</Quiet>
                </span>
              ))}
            </p>
          )}
          {speaks.some(({ condition }) => condition.urgency === 'act-now') && (
            <span>
              <Tag $tone="danger">can be fast</Tag>
            </span>
          )}
        </Stack>
      </Row>
    </Tray>
  )
}
