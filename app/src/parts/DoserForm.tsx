// A dosing pump as its keeper describes it: what stock it holds, what it pours a day, and the most it ever may.
import { clockMs } from '../data/clock.ts'
import {
  correctionsFor,
  instantMs,
  instantOf,
  parseQuantity,
  steerState,
  stockRecipe,
  vesselVolume,
  type DeviceBody,
  type DeviceDocument,
} from '@brinvo/core'
import { useState } from 'react'
import { useActions, useRecord } from '../data/queries.tsx'
import { Dialog } from '../design/Dialog.tsx'
import { Check, Field, Select } from '../design/fields.tsx'
import { Button, Quiet, Row } from '../design/primitives.tsx'
import { localInput, localMs } from '../design/words.ts'
import { useNotice } from '../shell/Notices.tsx'
import { useThePlans } from '../shell/PlansContext.tsx'
import { DateTimeField } from './DateTimeField.tsx'

const number = (value: number): string => String(Number(value.toPrecision(2)))

export function DoserForm({
  vesselId,
  device = null,
  address,
  onClose,
}: {
  readonly vesselId: string
  readonly device?: DeviceDocument | null
  /** Its id at the local interface, where it has a wire. */
  readonly address?: string
  readonly onClose: () => void
}) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const { create, revise } = useActions()
  const notice = useNotice()
  const vessel = record.vessels.get(vesselId)!
  const before = device?.body.doser
  const options = correctionsFor(vessel.body.water).flatMap((correction) =>
    correction.salts.map((salt) => ({ correction, salt })),
  )
  const [name, setName] = useState(device?.body.name ?? '')
  const [saltId, setSalt] = useState(before?.salt ?? 'sodium-bicarbonate')
  const [strength, setStrength] = useState(before === undefined ? '' : String(before.gramsPerL))
  const [perDay, setPerDay] = useState(before?.mlPerDay === undefined ? '' : String(before.mlPerDay))
  const [portions, setPortions] = useState(String(before?.portions ?? 12))
  const [most, setMost] = useState(before?.mostPerPortionMl === undefined ? '' : String(before.mostPerPortionMl))
  const [mostDay, setMostDay] = useState(before?.mostPerDayMl === undefined ? '' : String(before.mostPerDayMl))
  const [confirmed, setConfirmed] = useState(before?.confirmedAt !== undefined)
  const { zone } = record.settings
  const saidSince = before?.sinceAt ?? device?.savedAt
  const sinceText = saidSince === undefined ? localInput(nowMs, zone) : localInput(instantMs(saidSince), zone)
  const [since, setSince] = useState<string | null>(null)
  const [error, setError] = useState<string | null>(null)
  const { correction, salt } = options.find((one) => one.salt.id === saltId) ?? options[0]!
  const read = (text: string, label: string, max: number) =>
    parseQuantity(text, { dimension: 'count', label, allowBound: false, max })
  const changed =
    before !== undefined &&
    (perDay !== String(before.mlPerDay ?? '') || strength !== String(before.gramsPerL) || saltId !== before.salt)
  const volumeL = vesselVolume(vessel)?.litres ?? null
  const gPerL = read(strength, 'Grams in a litre', 2000)
  const risePerMl =
    gPerL.ok && gPerL.value.value > 0 && volumeL !== null
      ? stockRecipe(salt, gPerL.value.value, 1000, volumeL).risePerMl
      : null
  // What is used up a day is only put back: the net change has the limit.
  const used = Math.max(0, steerState(record, active, vesselId, correction.id, nowMs)?.use?.perDay ?? 0)
  const dayMost = correction.perDayMax + used
  const dayLimitMl = risePerMl === null ? null : dayMost / risePerMl
  const save = async () => {
    if (name.trim() === '') return setError('Give it a name: what it pours, where it stands.')
    if (!gPerL.ok) return setError(gPerL.error.message)
    if (gPerL.value.value <= 0) return setError('How many grams are in a litre of its stock? Above zero.')
    const asked = [
      [perDay, 'What it pours a day', 10_000],
      [portions, 'Portions a day', 96],
      [most, 'The most in one portion', 1000],
      [mostDay, 'The most in a day', 10_000],
    ] as const
    const values: (number | undefined)[] = []
    for (const [text, label, max] of asked) {
      if (text.trim() === '') {
        values.push(undefined)
        continue
      }
      const value = read(text, label, max)
      if (!value.ok) return setError(value.error.message)
      values.push(value.value.value)
    }
    const [mlPerDay, count, portionMl, dayMl] = values
    if (count !== undefined && (!Number.isInteger(count) || count < 1))
      return setError('Portions a day: a whole number, at least 1.')
    if (confirmed && (portionMl === undefined || dayMl === undefined || portionMl <= 0 || dayMl <= 0))
      return setError('Before it may be told to pour, it needs the most in one portion and the most in a day.')
    if (confirmed && portionMl! > dayMl!) return setError('The most in one portion is more than the most in a day.')
    if (confirmed && dayLimitMl !== null && dayMl! > dayLimitMl * 1.0001)
      return setError(
        `${number(dayMl!)} mL a day would raise ${correction.analyte} by ${number(dayMl! * risePerMl!)} ${correction.unit}; the most a day is ${number(dayMost)}${used > 0 ? `, ${number(used)} of it used up,` : ''} which is ${number(dayLimitMl)} mL.`,
      )
    if (mlPerDay !== undefined && dayMl !== undefined && mlPerDay > dayMl)
      return setError('It is set to more a day than the most that it may.')
    const sameSetting =
      before !== undefined &&
      before.mlPerDay === mlPerDay &&
      before.salt === salt.id &&
      before.gramsPerL === gPerL.value.value
    // Another setting counts from now, where nothing else is said; the one before it stands until then.
    const sinceAt =
      since === null
        ? sameSetting
          ? before.sinceAt
          : instantOf(nowMs)
        : since === ''
          ? undefined
          : instantOf(localMs(since, zone))
    if (since === '') return setError('Since when has it poured so? The day and the hour, as near as you know.')
    if (sinceAt !== undefined && instantMs(sinceAt) > nowMs + 60_000)
      return setError('It has poured so since a time that is still to come: set it when it does.')
    const sameLimits =
      before?.confirmedAt !== undefined &&
      before.mostPerPortionMl === portionMl &&
      before.mostPerDayMl === dayMl &&
      before.salt === salt.id &&
      before.gramsPerL === gPerL.value.value
    const body: DeviceBody = {
      ...(device?.body ?? {}),
      name: name.trim().slice(0, 80),
      sort: 'doser',
      vesselId,
      ...(address === undefined ? {} : { address }),
      doser: {
        ...(before?.mlPerMinute === undefined ? {} : { mlPerMinute: before.mlPerMinute }),
        ...(before?.calibratedAt === undefined ? {} : { calibratedAt: before.calibratedAt }),
        correction: correction.id,
        salt: salt.id,
        gramsPerL: gPerL.value.value,
        ...(mlPerDay === undefined ? {} : { mlPerDay }),
        ...(sinceAt === undefined || mlPerDay === undefined ? {} : { sinceAt }),
        ...(count === undefined ? {} : { portions: count }),
        ...(portionMl === undefined ? {} : { mostPerPortionMl: portionMl }),
        ...(dayMl === undefined ? {} : { mostPerDayMl: dayMl }),
        ...(confirmed ? { confirmedAt: sameLimits ? before.confirmedAt! : instantOf(clockMs()) } : {}),
      },
    }
    try {
      if (device) await revise(device, body)
      else await create('device', body)
      notice({ text: `${body.name} is registered.`, tone: 'done' })
      onClose()
    } catch (cause) {
      setError((cause as Error).message)
    }
  }
  const putAway = async () => {
    try {
      await revise(device!, { ...device!.body, retiredAt: instantOf(nowMs) })
      notice({ text: `${device!.body.name} is put away: what it poured stays counted.`, tone: 'done' })
      onClose()
    } catch (cause) {
      setError((cause as Error).message)
    }
  }
  return (
    <Dialog title={device ? device.body.name : 'Register a doser'} isOpen onClose={onClose}>
      <Field label="Name" value={name} onChange={setName} autoFocus />
      <Select
        label="Its stock is of"
        value={salt.id}
        onChange={setSalt}
        options={options.map((one) => ({ value: one.salt.id, label: `${one.salt.label} (${one.correction.analyte})` }))}
      />
      <Row $gap={12} style={{ alignItems: 'flex-start' }}>
        <div style={{ flex: '1 1 120px' }}>
          <Field label="Grams in a litre" unit="g/L" value={strength} onChange={setStrength} numeric />
        </div>
        <div style={{ flex: '1 1 120px' }}>
          <Field label="It pours a day" unit="mL" value={perDay} onChange={setPerDay} numeric hint="as it is set now" />
        </div>
        <div style={{ flex: '1 1 120px' }}>
          <Field label="In portions" value={portions} onChange={setPortions} numeric />
        </div>
      </Row>
      {perDay.trim() !== '' && address === undefined && device?.body.address === undefined && (
        <div>
          <DateTimeField
            label="It has poured so since"
            value={since ?? (changed ? localInput(nowMs, zone) : sinceText)}
            onChange={setSince}
            max={localInput(nowMs, zone)}
            now={() => localInput(nowMs, zone)}
            hint="From then on what it pours is counted in."
          />
        </div>
      )}
      {risePerMl !== null && (
        <Quiet>
          1 mL raises {correction.analyte} by {number(risePerMl)} {correction.unit}; {number(dayLimitMl!)} mL are the
          most of a day.
        </Quiet>
      )}
      <Row $gap={12} style={{ alignItems: 'flex-start' }}>
        <div style={{ flex: '1 1 150px' }}>
          <Field label="Most in one portion" unit="mL" value={most} onChange={setMost} numeric />
        </div>
        <div style={{ flex: '1 1 150px' }}>
          <Field label="Most in a day" unit="mL" value={mostDay} onChange={setMostDay} numeric />
        </div>
      </Row>
      <Check isSelected={confirmed} onChange={setConfirmed}>
        I hold these two limits to be right: over them nothing is poured, whatever anybody presses.
      </Check>
      {error !== null && (
        <p role="alert" style={{ color: 'var(--danger)', fontWeight: 650 }}>
          {error}
        </p>
      )}
      <Row>
        <Button look="main" onPress={() => void save()}>
          Save
        </Button>
        {device !== null && (
          <Button look="bare" onPress={() => void putAway()}>
            Put it away
          </Button>
        )}
      </Row>
    </Dialog>
  )
}
