// The bench: quick instruments that need no record. Each answers as you type and can be filed.
import {
  actContext,
  answer,
  limitIn,
  spoken,
  formInWater,
  activeContent,
  agentForm,
  checkProduct,
  afterChanges,
  dilution,
  doseFor,
  equivalentMl,
  formatDose,
  fractionForResidual,
  levelsIn,
  litres,
  mgPerL,
  parseQuantity,
  preferredUnit,
  residualFraction,
  resultOverVolumeDoubt,
  suggestedDilution,
  vesselVolume,
  type Dimension,
  type Strength,
  type ActiveLedger,
  type AgentForm,
  type KeeperRecord,
} from '@brinvo/core'
import { useSearchParams } from 'react-router'
import { useState, type ReactNode } from 'react'
import { useRecord } from '../../data/queries.tsx'
import { Choice, Field, Select } from '../../design/fields.tsx'
import { Button, Facts, LinkButton, Page, Quiet, Row, Stack, Tray, Well } from '../../design/primitives.tsx'
import { WorkingButton } from '../../design/Working.tsx'
import { levelText, percentText, preferencesOf, volumeText } from '../../design/words.ts'
import { HazardCard } from '../../parts/HazardCard.tsx'
import { useLog } from '../../shell/LogContext.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { Big, Fields, Split } from './layout.tsx'
import { ChangesTool } from './ChangesTool.tsx'
import { TogetherTool } from './TogetherTool.tsx'
import { PestTool, UltravioletTool } from './OutbreakTools.tsx'
import { AmmoniaTool, DripTool, SalinityTool, SaltTool } from './WaterTools.tsx'

type Tool =
  | 'dose'
  | 'strength'
  | 'dilution'
  | 'change'
  | 'changes'
  | 'volume'
  | 'salinity'
  | 'ammonia'
  | 'drip'
  | 'salt'
  | 'uv'
  | 'pest'
  | 'together'

export function BenchPage() {
  const [params, setParams] = useSearchParams()
  // A tool has an address, so that a campaign can open the one it needs with its vessel.
  const tool = (params.get('tool') ?? 'dose') as Tool
  const setTool = (next: Tool) => setParams({ tool: next }, { replace: true })
  return (
    <Page>
      <h1>Bench</h1>
      <Choice
        label="Instrument"
        hideLabel
        value={tool}
        onChange={setTool}
        options={[
          { value: 'dose', label: 'Dose' },
          { value: 'strength', label: 'Strength' },
          { value: 'dilution', label: 'Dilution' },
          { value: 'change', label: 'Water change' },
          { value: 'changes', label: 'Changes to a target' },
          { value: 'volume', label: 'Net volume' },
          { value: 'salinity', label: 'Salinity' },
          { value: 'ammonia', label: 'Free ammonia' },
          { value: 'drip', label: 'Drip' },
          { value: 'salt', label: 'Salt water' },
          { value: 'uv', label: 'Ultraviolet' },
          { value: 'pest', label: 'Pest rounds' },
          { value: 'together', label: 'Over together' },
        ]}
      />
      {tool === 'dose' && <DoseTool />}
      {tool === 'strength' && <StrengthTool />}
      {tool === 'dilution' && <DilutionTool />}
      {tool === 'change' && <ChangeTool />}
      {tool === 'volume' && <VolumeTool />}
      {tool === 'salinity' && <SalinityTool />}
      {tool === 'ammonia' && <AmmoniaTool />}
      {tool === 'drip' && <DripTool />}
      {tool === 'salt' && <SaltTool />}
      {tool === 'changes' && <ChangesTool />}
      {tool === 'uv' && <UltravioletTool />}
      {tool === 'pest' && <PestTool />}
      {tool === 'together' && <TogetherTool />}
    </Page>
  )
}

/** A typed number that explains itself: its value, or why there is none. */
function useNumber(
  initial: string,
  dimension: Dimension,
  unit: string,
  label: string,
  max?: number,
  /** Stands in while nothing is typed, and is shown in the field. */
  known?: number,
) {
  const [text, setText] = useState(initial)
  const parsed = parseQuantity(text, {
    dimension,
    fieldUnit: unit,
    label,
    allowBound: false,
    ...(max === undefined ? {} : { max }),
  })
  const value = parsed.ok ? parsed.value.value : text.trim() === '' && known !== undefined ? known : null
  const error = parsed.ok || text.trim() === '' ? null : parsed.error.message
  const field = (
    <Field
      label={label}
      unit={unit}
      value={text}
      onChange={setText}
      numeric
      error={error}
      placeholder={known === undefined ? undefined : String(Number(known.toPrecision(3)))}
    />
  )
  return { value, field, setText, text }
}

const Known = ({ label, children }: { label: string; children: ReactNode }) => (
  <div style={{ display: 'grid', gap: 4 }}>
    <span style={{ fontWeight: 600, fontSize: 14 }}>{label}</span>
    <Well>{children}</Well>
  </div>
)

function Result({ children, missing }: { children: ReactNode; missing?: string }) {
  return (
    <Tray aria-live="polite" aria-label="Result">
      {missing === undefined ? <Stack>{children}</Stack> : <Quiet>{missing}</Quiet>}
    </Tray>
  )
}

/** What is aimed at in this water: the target, or less where an animal, the warmth or the use asks for less. */
function benchTarget(
  record: KeeperRecord,
  active: ActiveLedger,
  own: AgentForm,
  vesselId: string,
  nowMs: number,
): number {
  const form = formInWater({ form: own.id }, record.vessels.get(vesselId)!.body) ?? own
  return Math.min(form.target, limitIn({ record, active }, form, vesselId, nowMs).ceilingMgPerL)
}

function DoseTool() {
  const { record, active } = useRecord()
  const log = useLog()
  const { settings } = record
  const volumeUnit = preferredUnit('volume', preferencesOf(settings))
  const vessels = [...record.vessels.values()]
  const products = [...record.products.values()]
  const { nowMs, plans, estimates, known: known_ } = useThePlans()
  const [vesselId, setVesselId] = useState(
    vessels.find(({ body }) => body.purpose === 'quarantine')?.id ?? vessels[0]?.id ?? '',
  )
  const [productId, setProductId] = useState(
    products.find(({ body }) => body.confirmedAt !== undefined)?.id ?? products[0]?.id ?? '',
  )
  const typedVolume = useNumber('', 'volume', volumeUnit, 'Net water')
  const typedStrength = useNumber('', 'strength', 'mg/mL', 'Strength')
  const first = agentForm(record.products.get(productId)?.body.form ?? '')
  // What the record knows of this agent in this water stands in until another level is typed; nothing known is asked.
  const plan = plans.find((one) => one.vesselId === vesselId && first && one.band?.form.agent === first.agent)
  const awaited = plan !== undefined && estimates.get(plan.courseId) === undefined
  const recorded =
    first && !awaited ? levelsIn({ record, active }, vesselId, nowMs, known_)?.get(first.agent) : undefined
  const from = useNumber('', 'concentration', 'mg/L', 'Level now', undefined, recorded?.mgPerL)
  const aim =
    first && record.vessels.has(vesselId) ? benchTarget(record, active, first, vesselId, nowMs) : first?.target
  const to = useNumber('', 'concentration', 'mg/L', 'Target', undefined, aim)
  const vessel = record.vessels.get(vesselId)
  const volume = vessel ? vesselVolume(vessel) : null
  const product = record.products.get(productId)
  const content = product
    ? activeContent(product.body.strength)
    : typedStrength.value !== null && typedStrength.value > 0
      ? activeContent({ basis: 'mg-per-mL', mgPerMl: typedStrength.value })
      : null
  const form = product ? agentForm(product.body.form) : undefined
  const water = volume?.litres ?? typedVolume.value
  const known = content?.ok === true ? content.value : null
  const ready = known !== null && water !== null && water > 0 && from.value !== null && to.value !== null
  const dose = ready
    ? doseFor({
        volumeL: litres(water),
        currentMgPerL: mgPerL(from.value!),
        targetMgPerL: mgPerL(to.value!),
        content: known,
        measures: settings.syringesMl,
      })
    : null
  const typedLevel = from.text.trim() !== ''
  // The bench asks the gate with the vessel's own animals while it is typed, not when it is filed.
  const asked =
    vessel && product && dose?.ok
      ? answer(
          actContext(record, nowMs, [
            ...known_.filter((one) => !typedLevel || one.vesselId !== vesselId || one.agent !== form?.agent),
            ...(from.value !== null && form && typedLevel
              ? [
                  {
                    vesselId,
                    agent: form.agent,
                    atMs: nowMs,
                    mgPerL: from.value,
                    highMgPerL: from.value,
                    volume: volume!,
                  },
                ]
              : []),
          ]),
          { kind: 'dose', vesselId, productId, amounts: [`${dose.value.amount} ${dose.value.unit}`] },
        )
      : null
  const refused = asked
    ? [
        ...(asked.problem === null ? [] : [{ rule: 'problem', level: 'forbid' as const, message: asked.problem }]),
        ...spoken(asked).filter(({ level }) => level !== 'warn'),
      ]
    : product
      ? checkProduct(product.body, nowMs, settings.zone).filter(({ level }) => level === 'forbid' || level === 'block')
      : []
  const most = asked?.preview.level?.most ?? null
  const over = dose?.ok && form && dose.value.resultMgPerL > form.hardMax
  return (
    <Split>
      <Tray>
        <Stack>
          <Fields $two>
            <Select
              label="Vessel"
              value={vesselId}
              onChange={setVesselId}
              options={[
                { value: '', label: 'type the litres' },
                ...vessels.map(({ id, body }) => ({ value: id, label: body.name })),
              ]}
            />
            {vesselId === '' ? (
              typedVolume.field
            ) : (
              <Known label="Net water">{volume ? `${volumeText(volume, settings)} net` : 'volume unclear'}</Known>
            )}
            <Select
              label="Bottle"
              value={productId}
              onChange={setProductId}
              options={[
                { value: '', label: 'type the strength' },
                ...products.map(({ id, body }) => ({ value: id, label: body.name })),
              ]}
            />
            {productId === '' ? (
              typedStrength.field
            ) : (
              <Known label="Strength">
                {content?.ok
                  ? `${Number(content.value.mg.toPrecision(4))} mg/${content.value.per}`
                  : 'strength unclear'}
              </Known>
            )}
            {from.field}
            {to.field}
          </Fields>
          <Quiet>
            {plan
              ? 'A course runs here: the level its readings support stands in until you type another.'
              : recorded
                ? 'What was dosed, changed and read here stands in as the level until you type another.'
                : first
                  ? 'The record knows of none of it in this water. Type the level, 0 only where none was ever given.'
                  : 'Type the level: what a bottle without a name brings is on no record.'}
          </Quiet>
        </Stack>
      </Tray>
      <Result missing={ready ? undefined : 'Water, strength, level now and target: then the amount stands here.'}>
        {dose && !dose.ok && (
          <>
            <p>{dose.error.message}</p>
            {refused.map(({ message }) => (
              <p key={message} style={{ color: 'var(--danger)', fontWeight: 650 }}>
                {message}
              </p>
            ))}
          </>
        )}
        {dose?.ok && (
          <>
            {form && <HazardCard hazardIds={form.hazards} short />}
            {refused.length > 0 ? (
              <>
                {refused.map(({ message }) => (
                  <p key={message} style={{ color: 'var(--danger)', fontWeight: 650 }}>
                    {message}
                  </p>
                ))}
                {most && most.amount > 0 && (
                  <p>
                    At most{' '}
                    <strong>
                      {most.amount} {dose.value.unit}
                    </strong>{' '}
                    may go in now.
                  </p>
                )}
                {refused.some(({ rule }) => rule === 'safe-strength' || rule === 'cu-band-of-the-bottle') && (
                  <LinkButton to="/cupboard">Read its label into the cupboard</LinkButton>
                )}
              </>
            ) : over ? (
              <p style={{ color: 'var(--danger)', fontWeight: 650 }}>
                {levelText(dose.value.resultMgPerL)} mg/L is over the hard maximum of {form.hardMax} mg/L for{' '}
                {form.label}. No amount is shown.
              </p>
            ) : (
              <>
                <Big>
                  {
                    formatDose(
                      dose.value.amount,
                      dose.value.unit === 'drop' ? 'drops' : dose.value.unit === 'tablet' ? 'tablets' : dose.value.unit,
                      settings.locale,
                    ).text
                  }
                </Big>
                <Facts>
                  <dt>leads to</dt>
                  <dd>{levelText(dose.value.resultMgPerL)} mg/L</dd>
                  {volume && (
                    <>
                      <dt>over the doubt of the volume</dt>
                      <dd>
                        {(() => {
                          const range = resultOverVolumeDoubt(from.value!, dose.value.amount, known?.mg ?? 0, {
                            value: volume.litres,
                            sd: volume.sdLitres,
                          })
                          return `${levelText(range.lowMgPerL)}–${levelText(range.highMgPerL)} mg/L`
                        })()}
                      </dd>
                    </>
                  )}
                  <dt>graduation of the measure</dt>
                  <dd>
                    {dose.value.step} {dose.value.unit}
                  </dd>
                </Facts>
                {form && dose.value.resultMgPerL > form.band.max && (
                  <Well>
                    Above the band of {form.band.min}–{form.band.max} mg/L: no plan aims there.
                  </Well>
                )}
                {suggestedDilution(dose.value) > 1 && (
                  <Well>
                    Rounding moves this by {percentText(Math.abs(dose.value.roundingError))}. Dilute the stock{' '}
                    {suggestedDilution(dose.value)} times for a truer dose.
                  </Well>
                )}
                <Row>
                  {vessel && product && (
                    <Button
                      look="main"
                      onPress={() =>
                        log({ kind: 'dose', vesselId: vessel.id, productId: product.id, amount: dose.value.amount })
                      }
                    >
                      Poured: file it
                    </Button>
                  )}
                  <WorkingButton working={dose.value.working} />
                </Row>
              </>
            )}
          </>
        )}
      </Result>
    </Split>
  )
}

function StrengthTool() {
  const [basis, setBasis] = useState<'w/v' | 'w/w' | 'salt-stock'>('w/v')
  const percent = useNumber('3', 'count', 'count', 'Percent', 150)
  const density = useNumber('1.09', 'count', 'count', 'Density, g/mL', 5)
  const grams = useNumber('3.929', 'count', 'count', 'Salt, g')
  const madeUp = useNumber('1000', 'count', 'count', 'Made up to, mL')
  const [salt, setSalt] = useState('CuSO4.5H2O')
  const [species, setSpecies] = useState('Cu')
  const strength: Strength | null =
    basis === 'salt-stock'
      ? grams.value !== null && madeUp.value !== null
        ? { basis, salt, species, saltGrams: grams.value, madeUpToMl: madeUp.value }
        : null
      : percent.value === null
        ? null
        : basis === 'w/v'
          ? { basis, percent: percent.value }
          : density.value === null
            ? null
            : { basis, percent: percent.value, densityGPerMl: density.value }
  const content = strength ? activeContent(strength) : null
  return (
    <Split>
      <Tray>
        <Stack>
          <Choice
            label="The label says"
            value={basis}
            onChange={setBasis}
            options={[
              { value: 'w/v', label: '% (g in 100 mL)' },
              { value: 'w/w', label: '% by weight' },
              { value: 'salt-stock', label: 'I weigh a salt' },
            ]}
          />
          <Fields>
            {basis !== 'salt-stock' && percent.field}
            {basis === 'w/w' && density.field}
            {basis === 'salt-stock' && (
              <>
                <Field label="Salt" value={salt} onChange={setSalt} hint="formula, hydrate water after a point" />
                <Field label="Counted as" value={species} onChange={setSpecies} hint="Cu, NO3, PO4, Mg …" />
                {grams.field}
                {madeUp.field}
              </>
            )}
          </Fields>
        </Stack>
      </Tray>
      <Result missing={content ? undefined : 'The strength stands here.'}>
        {content && !content.ok && <p>{content.error.message}</p>}
        {content?.ok && (
          <>
            <Big>
              {Number(content.value.mg.toPrecision(4))} <small style={{ fontSize: 21 }}>mg/{content.value.per}</small>
            </Big>
            <Facts>
              <dt>1 mL in 100 L raises by</dt>
              <dd>{Number((content.value.mg / 100).toPrecision(3))} mg/L</dd>
            </Facts>
            <WorkingButton working={content.value.working} />
          </>
        )}
      </Result>
    </Split>
  )
}

function DilutionTool() {
  const stock = useNumber('12', 'count', 'count', 'Bottle, %', 150)
  const target = useNumber('3', 'count', 'count', 'Wanted, %', 150)
  const volume = useNumber('100', 'dose-volume', 'mL', 'Amount wanted')
  const ready = stock.value !== null && target.value !== null && volume.value !== null && stock.value > 0
  const result = ready ? dilution(stock.value!, target.value!, volume.value!) : null
  return (
    <Split>
      <Tray>
        <Fields>
          {stock.field}
          {target.field}
          {volume.field}
        </Fields>
      </Tray>
      <Result missing={result ? undefined : 'Two strengths and an amount.'}>
        {result && !result.ok && <p>The bottle is weaker than what you want: nothing can be diluted upwards.</p>}
        {result?.ok && (
          <>
            <Well>
              <strong>Goggles and gloves.</strong> Add the strong solution to the water, never the other way round, and
              label the mix with agent, strength and date.
            </Well>
            <Big>
              {Number(result.value.stockMl.toPrecision(4))} <small style={{ fontSize: 21 }}>mL of the bottle</small>
            </Big>
            <p>
              into <strong>{Number(result.value.diluentMl.toPrecision(4))} mL</strong> of clean water gives{' '}
              {volume.value} mL at {target.value} %.
            </p>
            <Facts>
              <dt>1 mL of the bottle equals</dt>
              <dd>
                {Number(equivalentMl(1, stock.value!, target.value!).toPrecision(3))} mL at {target.value} %
              </dd>
            </Facts>
            <WorkingButton
              working={{
                title: 'Dilution',
                formula: 'C₁ × V₁ = C₂ × V₂',
                inputs: [
                  { label: 'bottle', value: stock.value!, unit: '%' },
                  { label: 'wanted', value: target.value!, unit: '%' },
                  { label: 'amount', value: volume.value!, unit: 'mL' },
                ],
                result: { label: 'of the bottle', value: result.value.stockMl, unit: 'mL' },
                notes: ['Volumes are taken as additive.'],
              }}
            />
          </>
        )}
      </Result>
    </Split>
  )
}

function ChangeTool() {
  const level = useNumber('', 'concentration', 'mg/L', 'Level now')
  const fresh = useNumber('0', 'concentration', 'mg/L', 'New water')
  const share = useNumber('50', 'share', '%', 'Each change', 100)
  const [times, setTimes] = useState('2')
  const count = Math.round(Number(times))
  const ready = level.value !== null && fresh.value !== null && share.value !== null && count >= 1 && count <= 100
  const f = (share.value ?? 0) / 100
  return (
    <Split>
      <Tray>
        <Fields>
          {level.field}
          {fresh.field}
          {share.field}
          <Field
            label="How often"
            unit="times"
            value={times}
            onChange={setTimes}
            numeric
            error={ready || times === '' ? null : 'A whole number from 1 to 100.'}
          />
        </Fields>
      </Tray>
      <Result missing={ready ? undefined : 'Level, share and count.'}>
        {ready && (
          <>
            <Big>
              {Number(afterChanges(level.value!, f, fresh.value!, count).toPrecision(3))}{' '}
              <small style={{ fontSize: 21 }}>mg/L left</small>
            </Big>
            <p>
              {percentText(residualFraction(f, count))} of the old water is still there.{' '}
              {count === 2 && f === 0.5 ? 'Two halves leave a quarter, not nothing.' : ''}
            </p>
            <Facts>
              <dt>to leave a tenth in {count}</dt>
              <dd>{percentText(fractionForResidual(0.1, count))} each</dd>
            </Facts>
            <WorkingButton
              working={{
                title: 'Water changes',
                formula: 'new water + (level − new water) × (1 − share) to the power of the count',
                inputs: [
                  { label: 'level now', value: level.value!, unit: 'mg/L' },
                  { label: 'new water', value: fresh.value!, unit: 'mg/L' },
                  { label: 'share each time', value: f, unit: 'of 1' },
                  { label: 'changes', value: count, unit: '' },
                ],
                result: { label: 'left', value: afterChanges(level.value!, f, fresh.value!, count), unit: 'mg/L' },
              }}
            />
          </>
        )}
      </Result>
    </Split>
  )
}

function VolumeTool() {
  const { record } = useRecord()
  return (
    <Tray>
      <Stack>
        <p>
          The net volume is worked out where a vessel is described: it answers every keystroke with its doubt, and
          putting it on the shelf is optional.
        </p>
        <Row>
          <LinkButton to="/vessels/new" $look="main">
            Work out a net volume
          </LinkButton>
        </Row>
        {record.vessels.size > 0 && (
          <Facts style={{ maxWidth: 420 }}>
            {[...record.vessels.values()].map((vessel) => {
              const volume = vesselVolume(vessel)
              return (
                <div key={vessel.id} style={{ display: 'contents' }}>
                  <dt>{vessel.body.name}</dt>
                  <dd>{volume ? volumeText(volume, record.settings) : 'unclear'}</dd>
                </div>
              )
            })}
          </Facts>
        )}
      </Stack>
    </Tray>
  )
}
