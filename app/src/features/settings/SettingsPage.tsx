import { typedNumber } from '@brinvo/core'
import type { Settings } from '@brinvo/core'
import { useActions, useDatabase, useRecord } from '../../data/queries.tsx'
import { browserZone } from '../../data/database.ts'
import { Check, Choice, Field, Select } from '../../design/fields.tsx'
import { Button, LinkButton, Page, Quiet, Row, Stack, Tray } from '../../design/primitives.tsx'
import { useNotice } from '../../shell/Notices.tsx'
import { installProgram, missingHere, onProgram, programNow } from '../../data/program.ts'
import { useState, useSyncExternalStore } from 'react'

const zones = (): string[] => {
  const supported =
    (Intl as unknown as { supportedValuesOf?: (key: string) => string[] }).supportedValuesOf?.('timeZone') ?? []
  return [...new Set([browserZone(), 'UTC', ...supported])]
}

/** Units, zone, theme, syringes, keys. Saved as they are chosen. */
export function SettingsPage() {
  const { record } = useRecord()
  const { saveSettings } = useActions()
  const { mode, open } = useDatabase()
  const notice = useNotice()
  const { settings } = record
  const [syringe, setSyringe] = useState('')
  const set = (change: Partial<Settings>) => {
    saveSettings({ ...settings, ...change }).catch((cause: unknown) =>
      notice({ text: (cause as Error).message, tone: 'failed' }),
    )
  }
  const same = <T extends string>(...values: T[]) => values.map((value) => ({ value, label: value }))
  const forget = (agent: string) => {
    const { law } = settings
    if (law)
      set({ law: { ...law, answers: Object.fromEntries(Object.entries(law.answers).filter(([id]) => id !== agent)) } })
  }
  const addSyringe = () => {
    const match = /^\s*(\d+(?:[.,]\d+)?)\s*(?:mL)?\s*(?:in|by|\/|steps of)?\s*(\d+(?:[.,]\d+)?)\s*(?:mL)?\s*$/i.exec(
      syringe,
    )
    const [capacity, step] = match ? [typedNumber(match[1]!), typedNumber(match[2]!)] : [0, 0]
    if (!(capacity > 0 && step > 0 && step <= capacity / 2))
      return notice({ text: 'Write capacity and graduation, for example: 10 by 0.5', tone: 'failed' })
    set({
      syringesMl: [...settings.syringesMl.filter((owned) => owned.capacity !== capacity), { capacity, step }].sort(
        (a, b) => a.capacity - b.capacity,
      ),
    })
    setSyringe('')
  }
  return (
    <Page>
      <h1>Settings</h1>
      <Tray>
        <Stack $gap={18}>
          <h2>How it looks</h2>
          <Choice
            label="Theme"
            value={settings.theme}
            onChange={(theme) => set({ theme })}
            options={[
              { value: 'day', label: 'Day' },
              { value: 'lights-out', label: 'Lights-out', note: 'warm and dim, for a dark fish room' },
              { value: 'system', label: 'As the machine has it' },
            ]}
          />
          <Check isSelected={settings.shortcuts} onChange={(shortcuts) => set({ shortcuts })}>
            Single-key shortcuts (press ? to see them)
          </Check>
        </Stack>
      </Tray>
      <Tray>
        <Stack $gap={18}>
          <h2>Units</h2>
          <Row $gap={28}>
            <Choice
              label="Water"
              value={settings.volume}
              onChange={(volume) => set({ volume })}
              options={same('L', 'US gal')}
            />
            <Choice
              label="Temperature"
              value={settings.temperature}
              onChange={(temperature) => set({ temperature })}
              options={same('°C', '°F')}
            />
            <Choice
              label="Salinity"
              value={settings.salinity}
              onChange={(salinity) => set({ salinity })}
              options={same('ppt', 'SG')}
            />
            <Choice
              label="Alkalinity"
              value={settings.alkalinity}
              onChange={(alkalinity) => set({ alkalinity })}
              options={same('dKH', 'meq/L', 'ppm CaCO₃')}
            />
            <Choice
              label="Length"
              value={settings.length}
              onChange={(length) => set({ length })}
              options={same('cm', 'in')}
            />
          </Row>
          <Quiet>
            The record is kept in litres, °C, ppt and mg/L whatever is shown; what you typed is kept beside it.
          </Quiet>
        </Stack>
      </Tray>
      <Tray>
        <Stack>
          <h2>Time</h2>
          <div style={{ maxWidth: 360 }}>
            <Select
              label="Time zone of the tanks"
              value={settings.zone}
              onChange={(zone) => set({ zone })}
              options={zones().map((zone) => ({ value: zone, label: zone }))}
              hint="Days belong to this zone; elapsed hours to the clock, also across summer time."
            />
          </div>
        </Stack>
      </Tray>
      <Tray>
        <Stack>
          <h2>Syringes</h2>
          <Quiet>Amounts are rounded to the finest one that takes them.</Quiet>
          <Row>
            {settings.syringesMl.map(({ capacity, step }) => (
              <Button
                key={capacity}
                onPress={() => set({ syringesMl: settings.syringesMl.filter((owned) => owned.capacity !== capacity) })}
              >
                {capacity} mL by {step} mL: remove
              </Button>
            ))}
          </Row>
          <Row style={{ alignItems: 'flex-end' }}>
            <Field
              label="Another one"
              unit="capacity by graduation, mL"
              value={syringe}
              onChange={setSyringe}
              placeholder="10 by 0.5"
            />
            <Button onPress={addSyringe}>Add</Button>
          </Row>
        </Stack>
      </Tray>
      <Tray>
        <Stack>
          <h2>The law where you live</h2>
          {settings.law === undefined ? (
            <Quiet>
              Nothing asked yet. It is asked when a course with a prescription or restricted drug is about to start.
            </Quiet>
          ) : (
            <>
              <p>
                Answers for <strong>{settings.law.country}</strong>
              </p>
              <Row>
                {Object.entries(settings.law.answers).map(([agent, answer]) => (
                  <Button key={agent} onPress={() => forget(agent)}>
                    {agent.replaceAll('-', ' ')}: {answer === 'lawful' ? 'lawful' : 'no lawful source'}, ask again
                  </Button>
                ))}
              </Row>
            </>
          )}
        </Stack>
      </Tray>
      <OnThisDevice />
      <Tray>
        <Stack>
          <h2>Safety and record</h2>
          <Row>
            <LinkButton to="/safety">The safety page</LinkButton>
            <LinkButton to="/trust">How far it can be trusted</LinkButton>
            <LinkButton to="/ledger">Export, import, empty</LinkButton>
            {mode === 'demo' ? (
              <Button onPress={() => open('keeper')}>Open my own record</Button>
            ) : (
              <LinkButton to="/demo">Open the demonstration</LinkButton>
            )}
          </Row>
        </Stack>
      </Tray>
    </Page>
  )
}

/** What this browser gives to the program, and what it does not. */
function OnThisDevice() {
  const program = useSyncExternalStore(onProgram, programNow)
  const missing = missingHere(program)
  return (
    <Tray id="missing">
      <Stack $gap={8}>
        <h2>On this device</h2>
        {missing.length === 0 ? (
          <Quiet>
            {program.kept
              ? 'It opens without a network, from this browser’s own keep.'
              : 'It is being kept in this browser, so that it opens without a network.'}
          </Quiet>
        ) : (
          <>
            <p>
              {window.isSecureContext
                ? 'This browser does not give everything:'
                : 'This page came over a connection that the browser does not trust. So these are missing:'}
            </p>
            <ul style={{ display: 'grid', gap: 4, listStyle: 'disc', paddingLeft: 20 }}>
              {missing.map((words) => (
                <li key={words}>{words}</li>
              ))}
            </ul>
            {!window.isSecureContext && (
              <Quiet>
                The laptop, started with <code>npm run demo -- --lan</code>, prints an address that tells this phone how
                to trust it.
              </Quiet>
            )}
          </>
        )}
        {program.offered && (
          <Row>
            <Button onPress={() => void installProgram()}>Put it among the programs of this device</Button>
          </Row>
        )}
      </Stack>
    </Tray>
  )
}
