// After a joining: what came in, marked until it was seen, and what was changed on both sides, to be settled in words.
import {
  conflictsOf,
  documentsOf,
  instantMs,
  vesselVolume,
  type FieldConflict,
  type KeeperRecord,
  type RegisterDocument,
} from '@brinvo/core'
import { useState } from 'react'
import { useActions, useCameIn, useRecord } from '../../data/queries.tsx'
import { Choice } from '../../design/fields.tsx'
import { Button, Quiet, Row, Stack, Tray } from '../../design/primitives.tsx'
import { cameWords, longDayText, sentenceCase, timeText, volumeText, whenText } from '../../design/words.ts'
import { useNotice } from '../../shell/Notices.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'

const REGISTER_WORDS: Readonly<Record<RegisterDocument['register'], string>> = {
  vessel: 'vessel',
  resident: 'animal',
  product: 'bottle',
  instrument: 'instrument',
  course: 'course',
  arrival: 'arrival',
  gear: 'gear',
  sample: 'sample',
  device: 'device',
  finding: 'finding',
  planned: 'planned start',
  protocol: 'recipe',
}
/** What a document is called, as the shelf calls it. */
function titleOf({ register, body }: RegisterDocument): string {
  const { name, title, protocol } = body as { name?: string; title?: string; protocol?: { title?: string } }
  return name ?? title ?? protocol?.title ?? REGISTER_WORDS[register]
}
/** mostPerDayMl: most per day ml. */
const fieldWords = (field: string): string =>
  sentenceCase(field.replaceAll(/([A-Z])/g, (letter) => ` ${letter.toLowerCase()}`).replaceAll('-', ' '))
const MOST_LETTERS = 90
const MOST_NAMED = 8
/** A value as a person would say it: names for ids, days for instants, litres for a volume. */
function valueWords(value: unknown, record: KeeperRecord, of: RegisterDocument, field = ''): string {
  const again = (inner: unknown, name = '') => valueWords(inner, record, of, name)
  if (value === undefined || value === null) return 'nothing'
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (typeof value === 'number') return String(Number(value.toPrecision(6)))
  if (typeof value === 'string') {
    if (/^\d{4}-\d\d-\d\dT/.test(value) && !Number.isNaN(Date.parse(value)))
      return `${longDayText(Date.parse(value), record.settings)}, ${timeText(Date.parse(value), record.settings)}`
    if (/^\d{4}-\d\d-\d\d$/.test(value)) return longDayText(Date.parse(`${value}T12:00:00Z`), record.settings)
    const named = [record.vessels, record.residents, record.products, record.instruments, record.courses].flatMap(
      (list) => list.get(value) ?? [],
    )[0]
    return (named ? titleOf(named) : value.replaceAll(/(?<=[a-z])-(?=[a-z])/g, ' ')).slice(0, MOST_LETTERS)
  }
  if (Array.isArray(value)) return value.length === 0 ? 'none' : cut(value.map((one) => again(one)).join('; '))
  if (field === 'volume' && of.register === 'vessel') {
    const volume = vesselVolume({ ...of, body: { ...of.body, volume: value } } as never)
    if (volume) return `${volumeText(volume, record.settings)}: ${cut(listed(value as object, again))}`
  }
  return cut(listed(value as object, again))
}
const listed = (value: object, again: (inner: unknown, name: string) => string): string =>
  Object.entries(value)
    .map(([name, inner]) => `${fieldWords(name).toLowerCase()} ${again(inner, name)}`)
    .join(', ')
const cut = (text: string): string => (text.length > MOST_LETTERS ? `${text.slice(0, MOST_LETTERS)} …` : text)

export function JoinPanel() {
  const { record } = useRecord()
  const { nowMs } = useThePlans()
  const { came, seen } = useCameIn()
  const open = documentsOf(record).flatMap((document) => {
    const fields = conflictsOf(document)
    return fields.length === 0 ? [] : [{ document, fields }]
  })
  const all = new Map(documentsOf(record).map((document) => [`${document.register}/${document.id}`, document]))
  const changed = (came?.documents ?? []).flatMap((key) => all.get(key) ?? [])
  if (came === null && open.length === 0) return null
  return (
    <>
      {came !== null && (
        <Tray role="region" aria-label="Came in">
          <Stack $gap={8}>
            <h2 style={{ fontSize: 18 }}>Came in {whenText(instantMs(came.at), nowMs, record.settings)}</h2>
            <p>
              {cameWords(came.entries.length, came.documents.length)}{' '}
              {came.own === true ? 'of this device, put back' : 'from the other device'}
              {came.entries.length > 0 ? ': marked in the ledger until you have seen them' : ''}.
            </p>
            {changed.length > 0 && (
              <Quiet>
                {changed
                  .slice(0, MOST_NAMED)
                  .map((document) => `${titleOf(document)} (${REGISTER_WORDS[document.register]})`)
                  .join(', ')}
                {changed.length > MOST_NAMED ? ` and ${changed.length - MOST_NAMED} more` : ''}
              </Quiet>
            )}
            {came.notices.length > 0 && (
              <ul style={{ display: 'grid', gap: 6 }}>
                {came.notices.map((words) => (
                  <li key={words}>{words}</li>
                ))}
              </ul>
            )}
            <Row>
              <Button look="main" onPress={() => void seen()}>
                I have seen them
              </Button>
            </Row>
          </Stack>
        </Tray>
      )}
      {open.length > 0 && (
        <Tray $tone="caution" role="region" aria-label="Changed on both">
          <Stack $gap={12}>
            <h2 style={{ fontSize: 18 }}>Changed on both: which is right?</h2>
            {open.map(({ document, fields }) => (
              <Settle
                key={`${document.register} ${document.id} ${document.revision}`}
                document={document}
                fields={fields}
              />
            ))}
            <Quiet>Until you say so, the newer one stands as a whole. Both are kept in the history.</Quiet>
          </Stack>
        </Tray>
      )}
    </>
  )
}

function Settle({
  document,
  fields,
}: {
  readonly document: RegisterDocument
  readonly fields: readonly FieldConflict[]
}) {
  const { record } = useRecord()
  const { revise } = useActions()
  const notice = useNotice()
  const [chosen, setChosen] = useState<Readonly<Record<string, number>>>({})
  const units = [...new Set(fields.map(({ unit }) => unit))].map((unit) => ({
    unit,
    of: fields.filter((one) => one.unit === unit),
  }))
  const settle = async () => {
    const body: Record<string, unknown> = { ...document.body }
    for (const { unit, of } of units)
      for (const { field, said } of of) {
        const { value } = said[chosen[unit]!]!
        if (value === undefined) delete body[field]
        else body[field] = value
      }
    try {
      await revise(document, body as never)
      notice({ text: `${titleOf(document)}: settled.`, tone: 'done' })
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  return (
    <Stack $gap={8}>
      <strong>
        {titleOf(document)} <Quiet>{REGISTER_WORDS[document.register]}</Quiet>
      </strong>
      {units.map(({ unit, of }) => (
        <Choice
          key={unit}
          label={of.map(({ field }) => fieldWords(field)).join(', ')}
          value={unit in chosen ? String(chosen[unit]) : ''}
          onChange={(next) => setChosen({ ...chosen, [unit]: Number(next) })}
          options={of[0]!.said.map(({ version }, i) => ({
            value: String(i),
            label: `${of.map(({ field, said }) => valueWords(said[i]!.value, record, document, field)).join('; ')} (${longDayText(instantMs(version.savedAt), record.settings)})`,
          }))}
        />
      ))}
      <Row>
        <Button isDisabled={units.some(({ unit }) => !(unit in chosen))} onPress={() => void settle()}>
          So it is
        </Button>
      </Row>
    </Stack>
  )
}
