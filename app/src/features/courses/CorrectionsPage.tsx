// What a water lacks, several values at once: the order, each day's grams, the stock to make and the dosers to pause.
import {
  correctionSet,
  correctionsFor,
  dayOf,
  doserState,
  dosersOf,
  parseQuantity,
  stockRecipe,
  vesselVolume,
  type CorrectionSet,
  type DeviceDocument,
  type SetItem,
} from '@brinvo/core'
import { useMemo, useState } from 'react'
import { Link, useParams, useSearchParams } from 'react-router'
import { styled } from 'styled-components'
import { useRecord } from '../../data/queries.tsx'
import { Check, Field, Select } from '../../design/fields.tsx'
import { Button, LinkButton, Page, Quiet, Row, Stack, Tag, Tray, Well } from '../../design/primitives.tsx'
import { longDayText, sentenceCase } from '../../design/words.ts'
import { DoserForm } from '../../parts/DoserForm.tsx'
import { HazardCard } from '../../parts/HazardCard.tsx'
import { usePress } from '../../parts/useCommit.ts'
import { Scroll } from '../../parts/tableParts.tsx'
import { NotFound } from '../../shell/NotFound.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { SteerPanel } from './SteerPanel.tsx'

const DAY = 86_400_000
/** Days of the plan that are listed. */
const LISTED = 14
const number = (value: number): string => String(Number(value.toPrecision(2)))

const Label = styled.div`
  border: 2px solid var(--ink);
  border-radius: 4px;
  padding: 14px 18px;
  max-width: 380px;
  background: #fff;
  color: #000;
  strong {
    font-size: 19px;
    display: block;
  }
  @media print {
    position: fixed;
    inset: 0 auto auto 0;
    z-index: 99;
  }
`

export function CorrectionsPage() {
  const { vesselId = '' } = useParams()
  const { record } = useRecord()
  const vessel = record.vessels.get(vesselId)
  if (!vessel) return <NotFound />
  return <Corrections key={vesselId} vesselId={vesselId} />
}

function Corrections({ vesselId }: { readonly vesselId: string }) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const [params] = useSearchParams()
  const vessel = record.vessels.get(vesselId)!
  const possible = correctionsFor(vessel.body.water)
  const all = useMemo(
    () =>
      correctionSet(
        record,
        active,
        vesselId,
        possible.map(({ id }) => id),
        nowMs,
      ),
    [record, active, vesselId, possible, nowMs],
  )
  const asked = params.get('add')
  // What lies under its window is proposed; what a report asks for is chosen.
  const [chosen, setChosen] = useState<readonly string[]>(() =>
    asked === null
      ? all.items.flatMap(({ correction, now, state: { wanted, going } }) =>
          (now !== null && wanted.kept && now < wanted.min) || going ? [correction.id] : [],
        )
      : [asked],
  )
  const [salts, setSalts] = useState<Readonly<Record<string, string>>>({})
  const half = params.get('half') === 'yes' && asked !== null ? [asked] : []
  const set = correctionSet(record, active, vesselId, chosen, nowMs, { salts, half })
  const hazards = [...new Set(set.items.flatMap(({ correction }) => correction.hazards))]
  // Also what rests until tomorrow or is at its target says so.
  const today = set.items.filter(({ fromDay, waits }) => fromDay !== null && waits === null)
  return (
    <Page $aside>
      <Stack $gap={16}>
        <p>
          <Link to={`/water/${vesselId}`}>Water of {vessel.body.name}</Link>
        </p>
        <h1>Corrections in {vessel.body.name}</h1>
        {vessel.body.volumeConfirmedAt === undefined && (
          <Tray $tone="caution">
            <p>The net volume was never confirmed: every amount hangs on it.</p>
            <Row>
              <LinkButton to={`/vessels/${vesselId}/edit`}>Look at the volume</LinkButton>
            </Row>
          </Tray>
        )}
        <Tray>
          <Stack $gap={8}>
            <h2>What is to rise</h2>
            {all.items.map(({ correction, now, state: { wanted } }) => (
              <Check
                key={correction.id}
                isSelected={chosen.includes(correction.id)}
                onChange={(on) =>
                  setChosen(on ? [...chosen, correction.id] : chosen.filter((id) => id !== correction.id))
                }
              >
                {sentenceCase(correction.analyte)}{' '}
                <Quiet>
                  {now === null ? 'not read in three weeks' : `about ${Number(now.toPrecision(3))} ${correction.unit}`},
                  {wanted.kept ? ` wanted ${wanted.min} to ${wanted.max}` : ' no line is kept for this kind of water'}
                </Quiet>
              </Check>
            ))}
          </Stack>
        </Tray>
        {set.items.length > 0 && (
          <>
            <HazardCard hazardIds={hazards} short />
            <Order
              set={set}
              vesselId={vesselId}
              salts={salts}
              onSalt={(id, salt) => setSalts({ ...salts, [id]: salt })}
            />
            {today.length > 0 && (
              <Tray id="steering">
                <Stack>
                  <h2>
                    Today <Quiet>by test, never over the day’s limit</Quiet>
                  </h2>
                  {today.map(({ correction, perDay, salt }) => (
                    <SteerPanel
                      key={correction.id}
                      course={null}
                      vesselId={vesselId}
                      id={correction.id}
                      saltId={salt.id}
                      {...(half.includes(correction.id) ? { perDay } : {})}
                    />
                  ))}
                </Stack>
              </Tray>
            )}
            <Days set={set} />
          </>
        )}
      </Stack>
      <Stack $gap={14}>
        <Well>
          A steady value a little outside harms less than a quick return. Acids are never used to lower anything; what
          is too high goes down by changes and by less being added.
        </Well>
        <Dosers vesselId={vesselId} set={set} />
        <StockMaker vesselId={vesselId} chosen={chosen} salts={salts} />
      </Stack>
    </Page>
  )
}

function Order({
  set,
  vesselId,
  salts,
  onSalt,
}: {
  readonly set: CorrectionSet
  readonly vesselId: string
  readonly salts: Readonly<Record<string, string>>
  readonly onSalt: (id: string, salt: string) => void
}) {
  const { record } = useRecord()
  const { nowMs } = useThePlans()
  const when = ({ fromDay, delta, waits }: SetItem) =>
    delta <= 0 && waits === null
      ? 'at its target already'
      : fromDay === null
        ? 'waits'
        : fromDay === 0
          ? 'from today'
          : `from ${longDayText(nowMs + fromDay * DAY, record.settings)}`
  return (
    <Tray>
      <Stack>
        <h2>In this order</h2>
        <ol style={{ listStyle: 'decimal', paddingLeft: 20, display: 'grid', gap: 14 }}>
          {set.items.map((item) => {
            const { correction, salt, delta, days, gramsInAll, waits, courseId, perDay } = item
            return (
              <li key={correction.id}>
                <Row $gap={10}>
                  <strong>{sentenceCase(correction.analyte)}</strong>
                  <Tag $tone={item.fromDay === 0 && delta > 0 ? 'due' : 'plain'}>{when(item)}</Tag>
                  {delta > 0 && item.fromDay !== null && (
                    <span>
                      {number(delta)} {correction.unit} in {days} {days === 1 ? 'day' : 'days'}, at most{' '}
                      {number(perDay)} a day{gramsInAll === null ? '' : `: ${number(gramsInAll)} g in all`}
                    </span>
                  )}
                </Row>
                {waits !== null && <p>{waits}</p>}
                {item.fromDay === null && (
                  <Row>
                    <LinkButton to={`/tests/${vesselId}`}>Test it</LinkButton>
                  </Row>
                )}
                <Row $gap={12} style={{ alignItems: 'end' }}>
                  {correction.salts.length > 1 && (
                    <div style={{ width: 260 }}>
                      <Select
                        label={`Salt for ${correction.analyte}`}
                        value={salts[correction.id] ?? salt.id}
                        onChange={(next) => onSalt(correction.id, next)}
                        options={correction.salts.map(({ id, label }) => ({ value: id, label }))}
                      />
                    </div>
                  )}
                  {courseId !== null ? (
                    <LinkButton to={`/courses/${courseId}`}>Its course runs</LinkButton>
                  ) : (
                    delta > 0 &&
                    item.fromDay !== null &&
                    correction.id !== 'silicate' &&
                    // The course ends by a level of its own: offered where that is what this water wants.
                    correction.window.target < item.state.wanted.max && (
                      <LinkButton to={`/courses/new?protocol=raise-${correction.id}&vessel=${vesselId}`}>
                        Follow it as a course
                      </LinkButton>
                    )
                  )}
                </Row>
              </li>
            )
          })}
        </ol>
        <Quiet>
          As a course it stands on the round every day until a test ends it. Without one, log what you add here; the
          next amount is worked out anew from what was read and added.
        </Quiet>
      </Stack>
    </Tray>
  )
}

function Days({ set }: { readonly set: CorrectionSet }) {
  const { record } = useRecord()
  const { nowMs } = useThePlans()
  if (set.days.length === 0) return null
  const of = (id: string) => set.items.find(({ correction }) => correction.id === id)!
  return (
    <Tray>
      <Stack>
        <h2>Day by day</h2>
        <Scroll tabIndex={0} role="region" aria-label="The plan day by day">
          <table>
            <thead>
              <tr>
                <th>Day</th>
                <th>Add</th>
                <th>Moves along</th>
                <th>Test</th>
              </tr>
            </thead>
            <tbody>
              {set.days.slice(0, LISTED).map(({ day, adds, along, tests }) => (
                <tr key={day}>
                  <td>{day === 0 ? 'Today' : longDayText(nowMs + day * DAY, record.settings)}</td>
                  <td style={{ whiteSpace: 'normal' }}>
                    {adds.map(({ id, grams, rise, portions }) => (
                      <div key={id}>
                        {of(id).salt.label}: {number(grams)} g{portions > 1 ? ` in ${portions} portions` : ''}{' '}
                        <Quiet>
                          ({number(rise)} {of(id).correction.unit})
                        </Quiet>
                      </div>
                    ))}
                  </td>
                  <td>
                    {along.map(({ analyte, rise, unit }) => (
                      <div key={analyte}>
                        {analyte} +{number(rise)} {unit}
                      </div>
                    ))}
                  </td>
                  <td>{tests.join(', ')}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </Scroll>
        {set.days.length > LISTED && <Quiet>and {set.days.length - LISTED} more days</Quiet>}
        <Quiet>
          With what is used up put back on top. A test before each third step, and when it should be there; every test
          moves the plan.
        </Quiet>
      </Stack>
    </Tray>
  )
}

/** Pumps that pour the same, or what a salt brings along: to be paused, and told when they may come back. */
function Dosers({ vesselId, set }: { readonly vesselId: string; readonly set: CorrectionSet }) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const press = usePress()
  const [form, setForm] = useState<'new' | DeviceDocument | null>(null)
  const dosers = dosersOf(record, vesselId).map((device) => doserState(record, active, device, nowMs))
  const why = (id: string) =>
    set.items.flatMap(({ correction, delta, dosers: affected }) =>
      affected.flatMap((one) => (one.device.id === id && delta > 0 ? [{ correction, why: one.why }] : [])),
    )
  return (
    <Tray>
      <Stack $gap={8}>
        <h2 style={{ fontSize: 17 }}>Dosers here</h2>
        {dosers.length === 0 && <Quiet>None is registered. One that pours the same would add to what you add.</Quiet>}
        <ul style={{ display: 'grid', gap: 10 }}>
          {dosers.map(({ device, correction, risePerDay, pausedMs }) => {
            const reasons = why(device.id)
            const switchTo = (on: boolean) =>
              press(
                { kind: 'equipment', vesselId, item: 'doser', deviceId: device.id, on },
                on ? `${device.body.name} runs again.` : `${device.body.name} is paused.`,
              )
            return (
              <li key={device.id}>
                <strong>{device.body.name}</strong>{' '}
                <Quiet>
                  {correction?.analyte}
                  {risePerDay === null ? '' : `, ${number(risePerDay)} ${correction?.unit} a day`}
                  {pausedMs === null ? '' : `; paused since ${longDayText(pausedMs, record.settings)}`}
                </Quiet>
                {reasons.map(({ correction: one, why: how }) => (
                  <p key={one.id}>
                    {how === 'same'
                      ? pausedMs !== null
                        ? 'Paused: what it put back is in the portions here.'
                        : risePerDay === null
                          ? `Pours ${one.analyte} too: pause it while the deficit is made up, or say what it pours a day.`
                          : `Pours ${one.analyte} too: what it pours is counted in, and no portion puts it back again.`
                      : `The salt for ${one.analyte} brings ${correction?.analyte} along: pause it meanwhile.`}
                  </p>
                ))}
                {pausedMs !== null && reasons.length === 0 && (
                  <p>Nothing that is raised now speaks against it: let it run again.</p>
                )}
                <Row>
                  {pausedMs === null ? (
                    <Button
                      look={reasons.some(({ why: how }) => how === 'along' || risePerDay === null) ? 'main' : 'plain'}
                      onPress={() => void switchTo(false)}
                    >
                      Paused it
                    </Button>
                  ) : (
                    <Button look={reasons.length === 0 ? 'main' : 'plain'} onPress={() => void switchTo(true)}>
                      Runs again
                    </Button>
                  )}
                  <Button look="bare" aria-label={`Change ${device.body.name}`} onPress={() => setForm(device)}>
                    Change
                  </Button>
                </Row>
              </li>
            )
          })}
        </ul>
        <Row>
          <Button onPress={() => setForm('new')}>Register a doser</Button>
        </Row>
      </Stack>
      {form !== null && (
        <DoserForm vesselId={vesselId} device={form === 'new' ? null : form} onClose={() => setForm(null)} />
      )}
    </Tray>
  )
}

/** A stock solution: what to weigh, what a millilitre and a drop do here, and a label for the bottle. */
function StockMaker({
  vesselId,
  chosen,
  salts,
}: {
  readonly vesselId: string
  readonly chosen: readonly string[]
  readonly salts: Readonly<Record<string, string>>
}) {
  const { record } = useRecord()
  const { nowMs } = useThePlans()
  const vessel = record.vessels.get(vesselId)!
  const options = correctionsFor(vessel.body.water).flatMap((correction) =>
    correction.salts.map((salt) => ({ correction, salt })),
  )
  const first =
    options.find(({ correction, salt }) => correction.id === chosen[0] && (salts[correction.id] ?? '') === salt.id) ??
    options.find(({ correction, salt }) => correction.id === chosen[0] && salt.usual === true) ??
    options[0]!
  const [saltId, setSalt] = useState<string | null>(null)
  const { correction, salt } = options.find((one) => one.salt.id === saltId) ?? first
  const [typed, setStrength] = useState<string | null>(null)
  const [made, setMade] = useState('500')
  const [drops, setDrops] = useState('20')
  const read = (text: string, label: string, max: number) =>
    parseQuantity(text, { dimension: 'count', label, allowBound: false, max })
  const strength = typed ?? String(Math.min(50, salt.solubleGPerL ?? 50))
  const gPerL = read(strength, 'Grams in a litre', 2000)
  const mL = read(made, 'Made up to', 20_000)
  const perMl = read(drops, 'Drops in a millilitre', 60)
  const volumeL = vesselVolume(vessel)?.litres ?? null
  const recipe =
    gPerL.ok &&
    mL.ok &&
    perMl.ok &&
    gPerL.value.value > 0 &&
    mL.value.value > 0 &&
    perMl.value.value > 0 &&
    volumeL !== null
      ? stockRecipe(salt, gPerL.value.value, mL.value.value, volumeL, perMl.value.value)
      : null
  const wrong = [gPerL, mL, perMl].find((one) => !one.ok)
  return (
    <Tray>
      <Stack>
        <h2 style={{ fontSize: 17 }}>A stock solution</h2>
        <Select
          label="Salt of the stock"
          value={salt.id}
          onChange={setSalt}
          options={options.map((one) => ({
            value: one.salt.id,
            label: `${one.salt.label} (${one.correction.analyte})`,
          }))}
        />
        <Row $gap={10} style={{ alignItems: 'flex-start' }}>
          <div style={{ flex: '1 1 90px' }}>
            <Field label="Grams in a litre" unit="g/L" value={strength} onChange={setStrength} numeric />
          </div>
          <div style={{ flex: '1 1 90px' }}>
            <Field label="Made up to" unit="mL" value={made} onChange={setMade} numeric />
          </div>
          <div style={{ flex: '1 1 90px' }}>
            <Field label="Drops in a mL" value={drops} onChange={setDrops} numeric hint="count them once" />
          </div>
        </Row>
        {wrong && !wrong.ok && <p role="alert">{wrong.error.message}</p>}
        {recipe?.tooStrong === true && (
          <p role="alert">
            More than a litre readily takes up ({salt.solubleGPerL} g/L): what stays on the bottom is not dosed. Make it
            thinner.
          </p>
        )}
        {recipe && recipe.tooStrong === false && (
          <>
            <Label aria-label="Label of the stock">
              <strong>
                {salt.label}, {number(recipe.gramsPerL)} g/L
              </strong>
              {number(recipe.grams)} g made up to {recipe.madeUpToMl} mL with RO water, salt into water.
              <br />1 mL = {number(recipe.risePerMl)} {correction.unit} in {vessel.body.name}; 1 drop ={' '}
              {number(recipe.risePerDrop)} {correction.unit}
              <br />
              Made {dayOf(nowMs, record.settings.zone)}. Not a drink. Out of children’s reach.
            </Label>
            <Row>
              <Button onPress={() => window.print()}>Print the label</Button>
            </Row>
          </>
        )}
      </Stack>
    </Tray>
  )
}
