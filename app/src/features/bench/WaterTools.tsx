// Instruments for water: salinity both ways, ammonia both ways, a drip line by its drops, salt for a batch.
import {
  AMMONIA_BANDS,
  ammoniaBand,
  ammoniaPka,
  conductivityFromSalinity,
  convertAmmonia,
  dropsPerSecond,
  freeAmmoniaShare,
  freeFromTotal,
  hydrometerReading,
  litresPerHourOfDrops,
  oxygenSaturation,
  parseNumber,
  salinityFromConductivity,
  salinityFromSpecificGravity,
  saltForBatch,
  seawaterDensity,
  totalFromFree,
  vesselVolume,
  waterForBatch,
  type Working,
} from '@brinvo/core'
import { useState, type ReactNode } from 'react'
import { useRecord } from '../../data/queries.tsx'
import { Choice, Field, Select } from '../../design/fields.tsx'
import { Facts, Quiet, Stack, Tag, Tray, Well } from '../../design/primitives.tsx'
import { WorkingButton } from '../../design/Working.tsx'
import { Big, Fields, Split } from './layout.tsx'
import { useUnits, type Shown, type Units } from '../../parts/useUnits.ts'

const round = (value: number, digits = 4): string => String(Number(value.toPrecision(digits)))

/** What the keeper has a unit for: read in it, answered as it is kept. */
function readIn(units: Units, of: Shown, text: string, label: string, low: number, high: number) {
  const bound = (value: number) => Number(units.plain(of, value, of === 'salinity' ? 5 : 3))
  const { value, error } = read(text, label, units.unit(of), bound(low), bound(high))
  return { value: units.kept(of, value), error }
}

/** A number in its limits, or the sentence that says what is wrong; an empty field says nothing yet. */
function read(
  text: string,
  label: string,
  unit: string,
  low: number,
  high: number,
): { value: number; error: string | null } {
  if (text.trim() === '') return { value: NaN, error: null }
  const parsed = parseNumber(text)
  if (!parsed.ok) return { value: NaN, error: parsed.error.message }
  return parsed.value >= low && parsed.value <= high
    ? { value: parsed.value, error: null }
    : { value: NaN, error: `${label} lies between ${low} and ${high} ${unit}.` }
}

function Tool({ fields, answer }: { fields: ReactNode; answer: ReactNode }) {
  return (
    <Tray>
      <Split>
        <Stack>{fields}</Stack>
        <Stack aria-live="polite">{answer}</Stack>
      </Split>
    </Tray>
  )
}
const Waiting = ({ children }: { children: ReactNode }) => <Quiet>{children}</Quiet>

type Basis = 'psu' | 'sg' | 'conductivity'
export function SalinityTool() {
  const [basis, setBasis] = useState<Basis>('sg')
  const [text, setText] = useState('')
  const units = useUnits()
  const [tempText, setTemp] = useState(units.plain('temperature', 25))
  const [referenceText, setReference] = useState(units.plain('temperature', 25))
  const limits = { psu: [0, 60, 'PSU'], sg: [0.99, 1.05, 'SG'], conductivity: [0, 90, 'mS/cm'] } as const
  const [low, high, unit] = limits[basis]
  const value = read(text, 'This', unit, low, high)
  const temp = readIn(units, 'temperature', tempText, 'The sample', 0, 40)
  const reference = readIn(units, 'temperature', referenceText, 'The calibration', 0, 40)
  let psu = NaN
  let fault: string | null = null
  try {
    psu =
      basis === 'psu'
        ? value.value
        : basis === 'sg'
          ? salinityFromSpecificGravity(value.value, temp.value, reference.value)
          : salinityFromConductivity(value.value, temp.value)
  } catch {
    fault = 'That gravity is beyond sea water. Is it 1.025, not 1025?'
  }
  const sound = [value.value, psu, temp.value, reference.value].every(Number.isFinite)
  const working: Working = {
    title: 'Salinity',
    formula:
      basis === 'conductivity'
        ? 'PSS-78 from the conductivity ratio C ÷ 42.914 mS/cm at the sample’s temperature'
        : 'EOS-80: the salinity whose density at the sample’s temperature over pure water at the calibration’s gives this gravity',
    inputs: [
      { label: basis, value: value.value, unit },
      { label: 'sample', value: temp.value, unit: '°C' },
      { label: 'calibration', value: reference.value, unit: '°C' },
    ],
    result: { label: 'salinity', value: psu, unit: 'PSU' },
    source:
      'EOS-80 (Millero & Poisson 1981), PSS-78 (UNESCO 1983); conductivity of meters that compensate is that at 25 °C',
  }
  return (
    <Tool
      fields={
        <>
          <Choice
            label="You have"
            value={basis}
            onChange={(next) => {
              setBasis(next)
              setText('')
            }}
            options={[
              { value: 'sg', label: 'Specific gravity' },
              { value: 'psu', label: 'PSU (ppt)' },
              { value: 'conductivity', label: 'Conductivity' },
            ]}
          />
          <Fields>
            <Field label="Reading" unit={unit} value={text} onChange={setText} error={value.error ?? fault} numeric />
            <Field
              label="Sample"
              unit={units.unit('temperature')}
              value={tempText}
              onChange={setTemp}
              error={temp.error}
              numeric
            />
            <Field
              label="Instrument calibrated at"
              unit={units.unit('temperature')}
              value={referenceText}
              onChange={setReference}
              error={reference.error}
              hint="20 or 25 for most glass hydrometers."
              numeric
            />
          </Fields>
        </>
      }
      answer={
        sound ? (
          <>
            <Big>
              {round(psu)} <small style={{ fontSize: 21 }}>PSU</small>
            </Big>
            <Facts>
              <dt>specific gravity 25/25</dt>
              <dd>{round(seawaterDensity(psu, 25) / seawaterDensity(0, 25), 5)}</dd>
              <dt>what this hydrometer reads</dt>
              <dd>{round(hydrometerReading(psu, temp.value, reference.value), 5)}</dd>
              <dt>conductivity at 25 °C</dt>
              <dd>{psu > 0 ? `${round(conductivityFromSalinity(psu, 25), 3)} mS/cm` : '–'}</dd>
              <dt>salt in a litre</dt>
              <dd>{round((psu * seawaterDensity(psu, temp.value)) / 1000, 4)} g</dd>
              <dt>oxygen it can hold</dt>
              <dd>{round(oxygenSaturation(temp.value, psu), 3)} mg/L</dd>
            </Facts>
            <WorkingButton working={working} />
          </>
        ) : (
          <Waiting>Type a reading with its temperature.</Waiting>
        )
      }
    />
  )
}

type AmmoniaBasis = 'total' | 'free'
export function AmmoniaTool() {
  const [basis, setBasis] = useState<AmmoniaBasis>('total')
  const [form, setForm] = useState<'nh3_n' | 'nh3' | 'nh4'>('nh3_n')
  const [text, setText] = useState('')
  const [phText, setPh] = useState('')
  const units = useUnits()
  const [tempText, setTemp] = useState(units.plain('temperature', 25))
  const [saltText, setSalt] = useState(units.plain('salinity', 35))
  const value = read(text, 'Ammonia', 'mg/L', 0, 60)
  const ph = read(phText, 'pH', '', 4, 11)
  const temp = readIn(units, 'temperature', tempText, 'Temperature', 0, 40)
  const salt = readIn(units, 'salinity', saltText, 'Salinity', 0, 45)
  const water = { phNbs: ph.value, tempC: temp.value, salinityPsu: salt.value }
  const asN = convertAmmonia(value.value, form, 'nh3_n')
  const free = basis === 'total' ? freeFromTotal(asN, water) : asN
  const total = basis === 'total' ? asN : totalFromFree(asN, water)
  const sound = Number.isFinite(free) && Number.isFinite(total)
  const band = ammoniaBand(free)
  const words = { calm: 'calm', watch: 'watch: test again in 6 to 12 h', today: 'act today', now: 'act now' }[band]
  const pka = ammoniaPka(temp.value, salt.value)
  return (
    <Tool
      fields={
        <>
          <Choice
            label="The test tells"
            value={basis}
            onChange={setBasis}
            options={[
              { value: 'total', label: 'Total (drop test)' },
              { value: 'free', label: 'Free (badge)' },
            ]}
          />
          <Fields>
            <Field label="Reading" unit="mg/L" value={text} onChange={setText} error={value.error} numeric />
            <Select
              label="Told as"
              value={form}
              onChange={(next) => setForm(next as typeof form)}
              options={[
                { value: 'nh3_n', label: 'nitrogen (N)' },
                { value: 'nh3', label: 'NH₃' },
                { value: 'nh4', label: 'NH₄⁺' },
              ]}
            />
            <Field label="pH" value={phText} onChange={setPh} error={ph.error} numeric />
            <Field
              label="Temperature"
              unit={units.unit('temperature')}
              value={tempText}
              onChange={setTemp}
              error={temp.error}
              numeric
            />
            <Field
              label="Salinity"
              unit={units.unit('salinity')}
              value={saltText}
              onChange={setSalt}
              error={salt.error}
              hint="0 for fresh water."
              numeric
            />
          </Fields>
        </>
      }
      answer={
        sound ? (
          <>
            <Quiet>Free ammonia, as nitrogen</Quiet>
            <Big>
              {round(free, 3)} <small style={{ fontSize: 21 }}>mg/L</small>{' '}
              <Tag $tone={band === 'calm' ? 'good' : band === 'watch' ? 'due' : 'danger'}>{words}</Tag>
            </Big>
            <Facts>
              <dt>total ammonia, as N</dt>
              <dd>{round(total, 3)} mg/L</dd>
              <dt>free share</dt>
              <dd>{round(100 * freeAmmoniaShare(pka, ph.value), 3)} %</dd>
              {AMMONIA_BANDS.slice(1).map(({ band: one, fromMgN }) => (
                <div key={one} style={{ display: 'contents' }}>
                  <dt>total at which free reaches {fromMgN}</dt>
                  <dd>{round(totalFromFree(fromMgN, water), 3)} mg/L</dd>
                </div>
              ))}
            </Facts>
            <Well>
              A badge senses the free part, a drop test the total: convert one into the other before you call them in
              conflict. For 48 h after a binder the total stays high while the free part is low.
            </Well>
            <WorkingButton
              working={{
                title: 'Free ammonia',
                formula: 'total × 1 ÷ (1 + 10^(pKa − pH)), pH on the scale of your meter (NBS)',
                inputs: [
                  { label: 'total as N', value: total, unit: 'mg/L' },
                  {
                    label: 'pKa',
                    value: pka,
                    unit: '',
                    from: salt.value < 1 ? 'Emerson et al. 1975' : 'Bell et al. 2007/2008',
                  },
                  { label: 'pH', value: ph.value, unit: 'NBS' },
                ],
                result: { label: 'free as N', value: free, unit: 'mg/L' },
                source: 'Emerson et al. 1975 (fresh water); Bell et al. 2007, corrigendum 2008 (sea water)',
              }}
            />
          </>
        ) : (
          <Waiting>A reading needs pH, temperature and salinity of the same quarter of an hour.</Waiting>
        )
      }
    />
  )
}

export function DripTool() {
  const units = useUnits()
  const [rateText, setRate] = useState(units.plain('flow', 1))
  const [perMlText, setPerMl] = useState('20')
  const [countText, setCount] = useState('')
  const perMl = read(perMlText, 'Drops in a millilitre', '', 5, 60)
  const wanted = readIn(units, 'flow', rateText, 'The rate', 0.01, 100)
  const counted = read(countText, 'Drops', 'in a minute', 1, 2000)
  const measured = litresPerHourOfDrops(counted.value / 60, perMl.value)
  const perSecond = dropsPerSecond(wanted.value, perMl.value)
  return (
    <Tool
      fields={
        <Fields>
          <Field
            label="Wanted"
            unit={units.unit('flow')}
            value={rateText}
            onChange={setRate}
            error={wanted.error}
            numeric
          />
          <Field
            label="Drops in a millilitre"
            value={perMlText}
            onChange={setPerMl}
            error={perMl.error}
            hint="Twenty by convention; count yours into a syringe once."
            numeric
          />
          <Field
            label="Or: counted in a minute"
            unit="drops"
            value={countText}
            onChange={setCount}
            error={counted.error}
            numeric
          />
        </Fields>
      }
      answer={
        Number.isFinite(measured) ? (
          <>
            <Quiet>{countText} drops a minute are</Quiet>
            <Big>
              {units.plain('flow', measured)} <small style={{ fontSize: 21 }}>{units.unit('flow')}</small>
            </Big>
            <Quiet>{round((measured * 1000) / 60, 3)} mL in a minute.</Quiet>
          </>
        ) : Number.isFinite(perSecond) ? (
          <>
            <Quiet>
              {rateText} {units.unit('flow')} is
            </Quiet>
            <Big>
              {perSecond >= 1 ? round(perSecond, 2) : `one in ${round(1 / perSecond, 2)}`}{' '}
              <small style={{ fontSize: 21 }}>{perSecond >= 1 ? 'drops a second' : 's'}</small>
            </Big>
            <Quiet>
              Check it with a cup: {round((wanted.value * 1000) / 60, 3)} mL in a minute. Above three drops a second it
              is a thread: use the cup.
            </Quiet>
          </>
        ) : (
          <Waiting>A rate, or drops counted in a minute.</Waiting>
        )
      }
    />
  )
}

export function SaltTool() {
  const { record } = useRecord()
  const vessels = [...record.vessels.values()].filter(
    ({ body }) => body.archivedAt === undefined && body.water === 'marine',
  )
  const units = useUnits()
  const [vesselId, setVessel] = useState('')
  const [litresText, setLitres] = useState(units.plain('volume', 20))
  const [psuText, setPsu] = useState(units.plain('salinity', 35))
  const [tempText, setTemp] = useState(units.plain('temperature', 25))
  const [yieldText, setYield] = useState('0.9')
  const volume = readIn(units, 'volume', litresText, 'The batch', 0.1, 5000)
  const psu = readIn(units, 'salinity', psuText, 'Salinity', 0, 60)
  const temp = readIn(units, 'temperature', tempText, 'Temperature', 0, 40)
  const share = read(yieldText, 'The yield', '', 0.5, 1)
  const grams = saltForBatch(volume.value, psu.value, temp.value, share.value)
  return (
    <Tool
      fields={
        <Fields>
          <Select
            label="For"
            value={vesselId}
            onChange={(id) => {
              setVessel(id)
              const vessel = record.vessels.get(id)
              const net = vessel ? vesselVolume(vessel) : null
              if (net) setLitres(units.plain('volume', net.litres / 2))
            }}
            options={[
              { value: '', label: 'a batch' },
              ...vessels.map(({ id, body }) => ({ value: id, label: `half of ${body.name}` })),
            ]}
          />
          <Field
            label="Batch"
            unit={units.unit('volume')}
            value={litresText}
            onChange={setLitres}
            error={volume.error}
            numeric
          />
          <Field
            label="Salinity"
            unit={units.unit('salinity')}
            value={psuText}
            onChange={setPsu}
            error={psu.error}
            numeric
          />
          <Field
            label="Temperature"
            unit={units.unit('temperature')}
            value={tempText}
            onChange={setTemp}
            error={temp.error}
            numeric
          />
          <Field
            label="Salt in the mix"
            unit="share"
            value={yieldText}
            onChange={setYield}
            error={share.error}
            hint="Mixes carry water: 0.85 to 0.95. Measure your first batch and correct it."
            numeric
          />
        </Fields>
      }
      answer={
        Number.isFinite(grams) ? (
          <>
            <Big>
              {grams >= 1000 ? round(grams / 1000, 3) : round(grams, 3)}{' '}
              <small style={{ fontSize: 21 }}>{grams >= 1000 ? 'kg' : 'g'} of mix</small>
            </Big>
            <p>
              in {units.text('volume', waterForBatch(volume.value, psu.value, temp.value, grams))} of fresh water, made
              up to {units.text('volume', volume.value)}. Let it stir for a day, then read the salinity before use.
            </p>
            <WorkingButton
              working={{
                title: 'Salt for a batch',
                formula: 'litres × salinity ÷ 1000 × density ÷ yield',
                inputs: [
                  { label: 'batch', value: volume.value, unit: 'L' },
                  { label: 'salinity', value: psu.value, unit: 'g/kg' },
                  {
                    label: 'density',
                    value: seawaterDensity(psu.value, temp.value) / 1000,
                    unit: 'kg/L',
                    from: 'EOS-80',
                  },
                  { label: 'yield', value: share.value, unit: '', from: 'property of the mix' },
                ],
                result: { label: 'sea-salt mix', value: grams, unit: 'g' },
                source: 'Handbook 10',
              }}
            />
          </>
        ) : (
          <Waiting>Litres, salinity, temperature.</Waiting>
        )
      }
    />
  )
}
