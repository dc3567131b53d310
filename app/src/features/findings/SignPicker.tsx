// The drawn body with its signs, the search over all of them, and the answer to each.
import { signOf, signsFor, signsOf, type FindingDocument, type Sign } from '@brinvo/core'
import { useState } from 'react'
import { styled } from 'styled-components'
import { Field } from '../../design/fields.tsx'
import { Quiet, Row, Stack, Tray } from '../../design/primitives.tsx'
import { plural } from '../../design/words.ts'
import { BodyDrawing, SignPicture } from '../../parts/Drawings.tsx'
import { useRecord } from '../../data/queries.tsx'
import { LOOKS, zoneOf, zonesOf } from '../../parts/zones.ts'
import { SignRow } from './SignRow.tsx'

const Answers = styled.div`
  display: flex;
  gap: 6px;
  button {
    min-height: 44px;
    min-width: 64px;
    padding: 4px 12px;
    border: 1.5px solid var(--hairline);
    border-radius: 10px;
    background: var(--tray);
    cursor: pointer;
  }
  button[aria-pressed='true'] {
    border-color: var(--rim);
    background: var(--rim);
    color: var(--on-rim);
    font-weight: 700;
  }
`
const Zones = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  button {
    min-height: 44px;
    padding: 4px 14px;
    border: 1.5px solid var(--hairline);
    border-radius: 22px;
    background: var(--tray);
    cursor: pointer;
  }
  button[aria-pressed='true'] {
    border-color: var(--rim);
    font-weight: 700;
  }
`

export function SignPicker({
  finding,
  answers,
  onAnswer,
}: {
  finding: FindingDocument
  answers: ReadonlyMap<string, 'yes' | 'no'>
  onAnswer: (sign: string, answer: 'yes' | 'no' | null) => void
}) {
  const { pool, residentId } = finding.body
  const { record } = useRecord()
  const group = residentId === undefined ? null : (record.residents.get(residentId)?.body.group ?? null)
  const zones = zonesOf(pool, group)
  const [zone, setZone] = useState(zones[0]!.id)
  const [find, setFind] = useState('')
  const words = find.trim().toLowerCase()
  // Looked for by its name every sign is found; in sight stand those this animal can show.
  const shown = (words === '' ? signsFor(pool, group) : signsOf(pool)).filter((sign) =>
    words === '' ? zoneOf(pool, sign) === zone : `${sign.label} ${sign.definition}`.toLowerCase().includes(words),
  )
  const seen = [...answers].flatMap(([sign, answer]) => (answer === 'yes' ? (signOf(sign) ?? []) : []))
  return (
    <Tray>
      <Stack>
        <Row $between style={{ alignItems: 'flex-end' }}>
          <h2>What do you see?</h2>
          <Field label="Find a sign" value={find} onChange={setFind} size={16} />
        </Row>
        {seen.length > 0 && (
          <p>
            <Quiet>Seen:</Quiet> {seen.map(({ label }) => label).join(', ')}.
          </p>
        )}
        {words === '' && (
          <>
            <BodyDrawing pool={pool} zone={zone} onPick={setZone} />
            <Zones role="group" aria-label="Not on the body">
              {zones
                .filter(({ at }) => at === undefined)
                .map(({ id, label }) => (
                  <button key={id} type="button" aria-pressed={zone === id} onClick={() => setZone(id)}>
                    {label}
                  </button>
                ))}
            </Zones>
          </>
        )}
        <h3>{words === '' ? zones.find(({ id }) => id === zone)?.label : plural(shown.length, 'sign')}</h3>
        <ul>
          {shown.map((sign) => (
            <SignLine key={sign.id} sign={sign} answer={answers.get(sign.id) ?? null} onAnswer={onAnswer} />
          ))}
        </ul>
        {shown.length === 0 && <Quiet>No sign here is called so. Try a word of what you see.</Quiet>}
      </Stack>
    </Tray>
  )
}

function SignLine({
  sign,
  answer,
  onAnswer,
}: {
  sign: Sign
  answer: 'yes' | 'no' | null
  onAnswer: (sign: string, answer: 'yes' | 'no' | null) => void
}) {
  return (
    <SignRow>
      <SignPicture id={sign.id} />
      <div>
        <strong>{sign.label}</strong>
        <br />
        <span>{sign.definition}</span> <Quiet>{LOOKS[sign.look]}</Quiet>
      </div>
      <Answers role="group" aria-label={sign.label}>
        <button
          type="button"
          aria-pressed={answer === 'yes'}
          onClick={() => onAnswer(sign.id, answer === 'yes' ? null : 'yes')}
        >
          Seen
        </button>
        <button
          type="button"
          aria-pressed={answer === 'no'}
          onClick={() => onAnswer(sign.id, answer === 'no' ? null : 'no')}
        >
          Not there
        </button>
      </Answers>
    </SignRow>
  )
}
