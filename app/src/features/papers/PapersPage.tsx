// What is printed and hung up: a vessel's month, the cupboard, the card for the worst ten minutes. Black on white, in any light.
import {
  activeContent,
  agentForm,
  ANALYTES,
  besidesReadings,
  dayOf,
  entryMs,
  hazardOf,
  instrumentState,
  residentsIn,
  stockOf,
  vesselVolume,
  type Entry,
} from '@brinvo/core'
import { useState, type ReactNode } from 'react'
import { useParams } from 'react-router'
import { styled } from 'styled-components'
import { useRecord } from '../../data/queries.tsx'
import { shelvedVessels } from '../../data/shelf.ts'
import { Paper } from '../../design/Paper.tsx'
import { Field, Select } from '../../design/fields.tsx'
import { Button, LinkButton, Page, Row, Stack } from '../../design/primitives.tsx'
import { litresText, longDayText, timeText, volumeText } from '../../design/words.ts'
import { entryWords } from '../../parts/entryWords.ts'
import { NotFound } from '../../shell/NotFound.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'

type ReadingEntry = Extract<Entry, { kind: 'reading' }>

/** A table with heads of its own, closer than one that is ticked. */
const Table = styled.table`
  && td,
  th {
    padding: 4px 10px 4px 0;
    text-align: left;
    vertical-align: top;
    font-size: 14px;
    width: auto;
    white-space: normal;
  }
  && td:first-child {
    font-weight: 650;
    white-space: normal;
    width: auto;
  }
  th {
    font-size: 13px;
    border-bottom: 2px solid #10262b;
  }
  tr {
    break-inside: avoid;
  }
`
const Small = styled.p`
  font-size: 13px;
`

/** What stands above the sheet on the screen and not on the paper. */
function Sheet({
  title,
  back,
  backWords,
  choices,
  children,
}: {
  readonly title: string
  readonly back: string
  readonly backWords: string
  readonly choices?: ReactNode
  readonly children: ReactNode
}) {
  const { record } = useRecord()
  const { nowMs } = useThePlans()
  return (
    <Page>
      <Stack $gap={14}>
        <Stack $gap={12} className="no-print">
          <Row $between>
            <h1>On paper</h1>
            <LinkButton to={back} $look="bare">
              {backWords}
            </LinkButton>
          </Row>
          {choices}
          <Row>
            <Button look="main" onPress={() => window.print()}>
              Print
            </Button>
          </Row>
        </Stack>
        <Paper aria-label={title}>
          <h2>{title}</h2>
          {children}
          <Small>
            Printed from the record {longDayText(nowMs, record.settings)} {timeText(nowMs, record.settings)}. The label,
            local law and an aquatic veterinarian come first.
          </Small>
        </Paper>
      </Stack>
    </Page>
  )
}

/** One vessel, one month, day by day, with the range of what was read. */
export function MonthPaper() {
  const { id = '' } = useParams()
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const { settings } = record
  const vessel = record.vessels.get(id)
  const own = active.filter((entry) => 'vesselId' in entry && entry.vesselId === id && entryMs(entry) <= nowMs)
  const monthOf = (entry: Entry) => dayOf(entryMs(entry), settings.zone).slice(0, 7)
  const months = [...new Set([...own.map(monthOf), dayOf(nowMs, settings.zone).slice(0, 7)])].sort().reverse()
  const [month, setMonth] = useState(months[0]!)
  if (!vessel) return <NotFound />
  const words = (one: string) =>
    longDayText(Date.parse(`${one}-15T12:00:00Z`), settings).replace(/^\D*\d+\D+?(?=[A-Z])/, '')
  const listed = own.filter((entry) => monthOf(entry) === month).sort((a, b) => entryMs(a) - entryMs(b))
  const days = new Map<string, Entry[]>()
  for (const entry of listed) {
    const day = dayOf(entryMs(entry), settings.zone)
    days.set(day, [...(days.get(day) ?? []), entry])
  }
  const read = new Map<string, ReadingEntry[]>()
  for (const entry of listed)
    if (entry.kind === 'reading') read.set(entry.analyte, [...(read.get(entry.analyte) ?? []), entry])
  /** Of a pump that pours the same every hour one line. */
  const told = (list: readonly Entry[]) => {
    const lines: { first: Entry; last: Entry; words: string; times: number }[] = []
    for (const entry of list) {
      const said = `${entryWords(entry, record)}${entry.kind !== 'note' && entry.note !== undefined ? ` (${entry.note})` : ''}`
      const before = lines.find((line) => line.words === said && entry.kind !== 'reading')
      if (before) Object.assign(before, { last: entry, times: before.times + 1 })
      else lines.push({ first: entry, last: entry, words: said, times: 1 })
    }
    return lines
  }
  const volume = vesselVolume(vessel)
  const residents = residentsIn(record, active, id, nowMs)
  return (
    <Sheet
      title={`${vessel.body.name}, ${words(month)}`}
      back={`/vessels/${id}`}
      backWords="Back to the vessel"
      choices={
        <div style={{ maxWidth: 260 }}>
          <Select
            label="Month"
            value={month}
            onChange={setMonth}
            options={months.map((one) => ({ value: one, label: words(one) }))}
          />
        </div>
      }
    >
      <p>
        {volume ? `${volumeText(volume, settings)} net` : 'volume unclear'} ·{' '}
        {residents.length === 0 ? 'nobody in it' : residents.map(({ body }) => body.name).join(', ')}
      </p>
      {read.size > 0 && (
        <Table>
          <thead>
            <tr>
              <th>Read</th>
              <th>Times</th>
              <th>Lowest</th>
              <th>Highest</th>
              <th>Last</th>
            </tr>
          </thead>
          <tbody>
            {[...read].map(([analyte, list]) => {
              const sorted = [...list].sort((a, b) => a.value - b.value)
              const said = (entry: ReadingEntry) =>
                entryWords(entry, record)
                  .replace(new RegExp(`^${ANALYTES[entry.analyte].word}\\s*`, 'i'), '')
                  .replace(/ pH$/, '')
              return (
                <tr key={analyte}>
                  <td>{ANALYTES[list[0]!.analyte].word}</td>
                  <td>{list.length}</td>
                  <td>{said(sorted[0]!)}</td>
                  <td>{said(sorted.at(-1)!)}</td>
                  <td>{said(list.at(-1)!)}</td>
                </tr>
              )
            })}
          </tbody>
        </Table>
      )}
      {days.size === 0 ? (
        <p>Nothing was written down in this month.</p>
      ) : (
        <Table>
          <tbody>
            {[...days].map(([day, list]) => (
              <tr key={day}>
                <td style={{ width: '7em' }}>{longDayText(entryMs(list[0]!), settings).replace(/\s\d{4}$/, '')}</td>
                <td>
                  {told(list).map(({ first, last, words: said, times }) => (
                    <div key={first.id}>
                      {first.kind === 'reading' && first.dayOnly ? '' : `${timeText(entryMs(first), settings)} `}
                      {times > 1 ? `to ${timeText(entryMs(last), settings)}, ${times} times: ` : ''}
                      {said}
                    </div>
                  ))}
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
    </Sheet>
  )
}

/** What stands in the cupboard: bottles with their strengths and hazards, kits with what is left of their reagents. */
export function CupboardPaper() {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const { settings } = record
  const products = [...record.products.values()].filter(({ body }) => body.usedUpAt === undefined)
  const instruments = [...record.instruments.values()]
  const on = (day: string) => longDayText(Date.parse(`${day}T12:00:00Z`), settings)
  return (
    <Sheet title="The cupboard" back="/cupboard" backWords="Back to the cupboard">
      <p>
        Locked, apart from food, out of reach of children and pets. Swallowed: do not make the person vomit; call the
        poison centre with the bottle in hand.
      </p>
      {products.length === 0 ? (
        <p>No bottle is registered.</p>
      ) : (
        <Table>
          <thead>
            <tr>
              <th>Bottle</th>
              <th>Holds</th>
              <th>Good until</th>
              <th>Left</th>
              <th>Mind</th>
            </tr>
          </thead>
          <tbody>
            {products.map((product) => {
              const form = agentForm(product.body.form)
              const content = activeContent(product.body.strength)
              const stock = stockOf(active, product, nowMs)
              const hazards = (form?.hazards ?? []).flatMap((hazard) => hazardOf(hazard) ?? [])
              const over = product.body.expiresOn !== undefined && product.body.expiresOn < dayOf(nowMs, settings.zone)
              return (
                <tr key={product.id}>
                  <td>{product.body.name}</td>
                  <td>
                    {form?.label ?? product.body.form}
                    {content.ok
                      ? `, ${Number(content.value.mg.toPrecision(4))} mg/${content.value.per}`
                      : ', strength unread'}
                  </td>
                  <td>
                    {product.body.expiresOn === undefined ? 'not read' : on(product.body.expiresOn)}
                    {over ? ' (over)' : ''}
                  </td>
                  <td>
                    {stock.left !== null && content.ok
                      ? `about ${Math.round(stock.left)} ${content.value.per}`
                      : 'unknown'}
                  </td>
                  <td>
                    {[
                      ...new Set([
                        ...hazards.flatMap(({ gear }) => gear),
                        ...hazards.flatMap(({ neverMix }) => neverMix.map((other) => `never with ${other}`)),
                      ]),
                    ].join('; ')}
                  </td>
                </tr>
              )
            })}
          </tbody>
        </Table>
      )}
      {instruments.length > 0 && (
        <Table>
          <thead>
            <tr>
              <th>Kit or meter</th>
              <th>Reads</th>
              <th>Reagents good until</th>
              <th>Last checked</th>
            </tr>
          </thead>
          <tbody>
            {instruments.map((instrument) => {
              const state = instrumentState(record, active, instrument, nowMs)
              return (
                <tr key={instrument.id}>
                  <td>{instrument.body.name}</td>
                  <td>{ANALYTES[instrument.body.analyte].word}</td>
                  <td>{instrument.body.expiresOn === undefined ? 'not read' : on(instrument.body.expiresOn)}</td>
                  <td>{state.lastCheckMs === null ? 'never' : longDayText(state.lastCheckMs, settings)}</td>
                </tr>
              )
            })}
          </tbody>
        </Table>
      )}
    </Sheet>
  )
}

/** The first ten minutes, for whoever stands there: what to do, how much water half of each vessel is, and whom to call. */
export function EmergencyPaper() {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const { settings } = record
  const [vet, setVet] = useState('')
  const [poison, setPoison] = useState('')
  const [keeper, setKeeper] = useState(settings.sitterCall ?? '')
  const newest = (vesselId: string, analyte: string): ReadingEntry | undefined =>
    active
      .filter(
        (entry): entry is ReadingEntry =>
          entry.kind === 'reading' &&
          entry.vesselId === vesselId &&
          entry.analyte === analyte &&
          entryMs(entry) <= nowMs,
      )
      .sort((a, b) => entryMs(b) - entryMs(a))[0]
  const value = (entry: ReadingEntry | undefined) =>
    entry ? entryWords(entry, record).replace(/^[A-Z][a-z]+ /, '') : 'read it'
  const agents = [
    ...new Set(
      [...record.products.values()]
        .filter(({ body }) => body.usedUpAt === undefined)
        .map(({ body }) => agentForm(body.form)?.label ?? body.form),
    ),
  ]
  const dosed = (vesselId: string) => {
    const since = nowMs - 30 * 86_400_000
    return [
      ...new Set(
        besidesReadings(active).flatMap((entry) =>
          entry.kind === 'dose' && entry.vesselId === vesselId && entryMs(entry) >= since && entryMs(entry) <= nowMs
            ? [agentForm(record.products.get(entry.productId)?.body.form ?? '')?.label ?? 'a drug']
            : [],
        ),
      ),
    ]
  }
  return (
    <Sheet
      title="Fish gasping, lying down, or all of them at the surface"
      back="/safety"
      backWords="Back to safety"
      choices={
        <Row $gap={14}>
          <div style={{ flex: '1 1 200px' }}>
            <Field label="The keeper" value={keeper} onChange={setKeeper} hint="Printed, never stored." />
          </div>
          <div style={{ flex: '1 1 200px' }}>
            <Field label="Aquatic veterinarian" value={vet} onChange={setVet} hint="Printed, never stored." />
          </div>
          <div style={{ flex: '1 1 200px' }}>
            <Field label="Poison centre" value={poison} onChange={setPoison} hint="Printed, never stored." />
          </div>
        </Row>
      }
    >
      <ol style={{ display: 'grid', gap: 6, listStyle: 'decimal', paddingLeft: 22 }}>
        <li>
          <strong>Hands dry. If the floor, a cable or a heater is wet or smells: pull the plug first.</strong>
        </li>
        <li>
          <strong>Air.</strong> Every air stone, an outlet aimed at the surface, the lid off. Lights off. No food. No
          drug of any kind.
        </li>
        <li>
          <strong>Look.</strong> Is the pump running? Is the water warm or cold to the hand? Does it smell of rot or
          cleaner? Is an animal dead? Take it out.
        </li>
        <li>
          <strong>Test ammonia, then temperature and pH.</strong> Write the number and the time down.
        </li>
        <li>
          <strong>Change half the water</strong> with clean water of the same warmth and salt, poured slowly; how much
          stands below. From the tap only what was made ready before. Where copper stands in the last column: no
          conditioner at all, ask first.
        </li>
        <li>
          <strong>Call the keeper,</strong> then an aquatic veterinarian. Dose nothing meanwhile.
        </li>
      </ol>
      <Table>
        <thead>
          <tr>
            <th>Vessel</th>
            <th>Half of it</th>
            <th>Salinity</th>
            <th>Temperature</th>
            <th>In the water, last 30 days</th>
          </tr>
        </thead>
        <tbody>
          {shelvedVessels(record).map((vessel) => {
            const volume = vesselVolume(vessel)
            const list = dosed(vessel.id)
            return (
              <tr key={vessel.id}>
                <td>{vessel.body.name}</td>
                <td>
                  {volume
                    ? litresText(volume.litres / 2, settings)
                    : `${litresText(vessel.body.nominalL / 2, settings)} of what it is sold as`}
                </td>
                <td>{vessel.body.water === 'fresh' ? 'fresh water' : value(newest(vessel.id, 'salinity'))}</td>
                <td>{value(newest(vessel.id, 'temperature'))}</td>
                <td>{list.length === 0 ? 'nothing on record' : list.join(', ')}</td>
              </tr>
            )
          })}
        </tbody>
      </Table>
      <p>
        <strong>People first.</strong> Eye or skin: running water for 15 minutes. Swallowed: do not make the person
        vomit. Fumes: fresh air. Trouble breathing, or feeling ill after handling zoanthids: emergency call.
        {agents.length > 0 && ` In the cupboard: ${agents.join('; ')}.`}
      </p>
      <Table>
        <tbody>
          {[
            ['The keeper', keeper],
            ['Aquatic veterinarian', vet],
            ['Poison centre', poison],
            ['Emergency call', ''],
          ].map(([who, number]) => (
            <tr key={who}>
              <td style={{ width: '40%' }}>{who}</td>
              <td style={{ borderBottom: '1px solid #10262b' }}>{number === '' ? ' ' : number}</td>
            </tr>
          ))}
        </tbody>
      </Table>
    </Sheet>
  )
}
