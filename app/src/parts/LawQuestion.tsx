// Asked once per country: may the keeper lawfully hold this active? The answer stays in the settings.
import { inSentence, lawOf, type AgentForm } from '@brinvo/core'
import { useState } from 'react'
import { useActions, useRecord } from '../data/queries.tsx'
import { Field } from '../design/fields.tsx'
import { Button, Quiet, Row, Stack, Well } from '../design/primitives.tsx'
import { useNotice } from '../shell/Notices.tsx'

/** Nothing where the active is in open sale or the question is answered yes. */
export function LawQuestion({ form }: { form: AgentForm }) {
  const { record } = useRecord()
  const { saveSettings } = useActions()
  const notice = useNotice()
  const { law } = record.settings
  const [country, setCountry] = useState(law?.country ?? '')
  const [error, setError] = useState<string | null>(null)
  const answer = lawOf(record.settings, form)
  if (answer === 'open' || answer === 'lawful') return null
  const say = async (next: 'lawful' | 'not-lawful') => {
    const place = country.trim()
    if (place === '') return setError('Whose law? Write the country, or the state where it differs.')
    try {
      // Another country knows nothing of the answers of this one.
      const before = law?.country === place ? law.answers : {}
      await saveSettings({ ...record.settings, law: { country: place, answers: { ...before, [form.agent]: next } } })
      notice({ text: 'Noted in the settings; it can be changed there.', tone: 'done' })
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  return (
    <Well>
      <Stack $gap={10} role="group" aria-label="The law where you live">
        <strong>May you lawfully hold {inSentence(form.label)}?</strong>
        <Quiet>
          On prescription, veterinary-only, restricted or banned in many countries. A pharmacy or an aquatic
          veterinarian knows; this program does not.
        </Quiet>
        <Field label="Country" value={country} onChange={setCountry} error={error} />
        <Row $gap={8}>
          <Button onPress={() => void say('lawful')}>Yes, lawfully</Button>
          <Button onPress={() => void say('not-lawful')}>No lawful source</Button>
        </Row>
      </Stack>
    </Well>
  )
}
