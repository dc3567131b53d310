// The house in somebody else's hands for some days: what they do, on paper and as a calendar, and whom they call.
import { addDays, dayOf, sitterPlan, type Step, type VesselDocument } from '@brinvo/core'
import { useMemo, useState } from 'react'
import { Link } from 'react-router'
import { v7 } from 'uuid'
import { sitterCalendar } from '../../data/calendar.ts'
import { useActions, useRecord } from '../../data/queries.tsx'
import { shelvedVessels } from '../../data/shelf.ts'
import { Paper, PaperLine } from '../../design/Paper.tsx'
import { Check, Field } from '../../design/fields.tsx'
import { Button, Page, Quiet, Row, Stack, Tray, Well } from '../../design/primitives.tsx'
import { longDayText, plural, whenText, sentenceCase } from '../../design/words.ts'
import { saveFile } from '../../parts/saveFile.ts'
import { useNotice } from '../../shell/Notices.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'

const CARE = [
  { id: 'food', label: 'Food', hint: 'What, how much, how often; what is left comes out.' },
  { id: 'topUp', label: 'Topping up', hint: 'From which can, up to which mark.' },
  { id: 'also', label: 'Also', hint: 'Light, a lid, a pump that stops.' },
] as const
/** Hour of the sitter's entry in the calendar. */
const HOUR = 18
const noonOf = (day: string) => Date.parse(`${day}T12:00:00Z`)

/** Steps of one rule told once, with how often. */
function byRule(steps: readonly Step[]) {
  const found = new Map<string, { step: Step; times: number }>()
  for (const step of [...steps].sort((a, b) => a.dueMs - b.dueMs)) {
    const key = `${step.courseId}/${step.ruleId}`
    const known = found.get(key)
    found.set(key, { step: known?.step ?? step, times: (known?.times ?? 0) + 1 })
  }
  return [...found.values()]
}

export function SitterPage() {
  const { record, active } = useRecord()
  const { plans, nowMs } = useThePlans()
  const { saveSettings } = useActions()
  const notice = useNotice()
  const { settings } = record
  const today = dayOf(nowMs, settings.zone)
  const [fromDay, setFromDay] = useState(addDays(today, 1))
  const [toDay, setToDay] = useState(addDays(today, 7))
  const [tests, setTests] = useState(false)
  const [call, setCall] = useState(settings.sitterCall ?? '')
  const wrong =
    !/^\d{4}-\d\d-\d\d$/.test(fromDay) || !/^\d{4}-\d\d-\d\d$/.test(toDay)
      ? 'Both days are needed.'
      : toDay < fromDay
        ? 'The last day lies before the first.'
        : toDay > addDays(fromDay, 60)
          ? 'Sixty days at most: longer away, somebody has to take the house over.'
          : null
  const plan = useMemo(
    () => (wrong === null ? sitterPlan(record, active, plans, { fromDay, toDay, tests, nowMs }) : null),
    [wrong, record, active, plans, fromDay, toDay, tests, nowMs],
  )
  const mine = byRule(plan?.keepers ?? [])
  const keepCall = () => {
    if (call.trim() === (settings.sitterCall ?? '')) return
    const { sitterCall: _, ...rest } = settings
    saveSettings(call.trim() === '' ? rest : { ...rest, sitterCall: call.trim() }).catch((cause: unknown) =>
      notice({ text: (cause as Error).message, tone: 'failed' }),
    )
  }
  const download = async () => {
    if (!plan) return
    try {
      saveFile(
        'sitter.ics',
        new Blob([await sitterCalendar(plan, HOUR, settings.zone, call.trim())], { type: 'text/calendar' }),
      )
      notice({ text: 'The calendar file is in your downloads.', tone: 'done' })
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  const page = async () => {
    if (!plan) return
    // It comes with the press: nobody else needs it.
    const { sheetOf, sitterHtml } = await import('./sitterPage.ts')
    const label = (day: string) => longDayText(noonOf(day), settings)
    const html = sitterHtml(
      sheetOf(plan, settings, {
        sheetId: v7(),
        title: `${label(fromDay)} to ${label(toDay)}`,
        call: call.trim(),
        label,
      }),
    )
    saveFile('for-the-sitter.html', new Blob([html], { type: 'text/html' }))
    notice({
      text: 'The page is in your downloads: send it to them. What they send back you import beside the ledger.',
      tone: 'done',
    })
  }
  return (
    <Page $aside>
      <Stack $gap={14}>
        <Stack $gap={12} className="no-print">
          <h1>For a sitter</h1>
          <Row $gap={16} style={{ alignItems: 'flex-end' }}>
            <div style={{ width: 170 }}>
              <Field label="First day" day value={fromDay} onChange={setFromDay} />
            </div>
            <div style={{ width: 170 }}>
              <Field label="Last day" day value={toDay} onChange={setToDay} error={wrong} />
            </div>
            <div style={{ flex: '1 1 220px' }} onBlur={keepCall}>
              <Field label="Whom to call" value={call} onChange={setCall} hint="Kept on this device." />
            </div>
          </Row>
          <Check isSelected={tests} onChange={setTests}>
            They can test water (never a drug’s level)
          </Check>
          {plan && plan.keepers.length > 0 && (
            <Tray $tone="caution" role="region" aria-label="Before you leave">
              <Stack $gap={6}>
                <h2>Before you leave</h2>
                <p>
                  {sentenceCase(plural(plan.keepers.length, 'step'))} of your courses{' '}
                  {plan.keepers.length === 1 ? 'falls' : 'fall'} into these days and{' '}
                  {plan.keepers.length === 1 ? 'is' : 'are'} nobody’s but yours. What is held by doses earns no hours
                  while you are away: end it, put it off, or have somebody who has done it before.
                </p>
                <ul>
                  {mine.slice(0, 8).map(({ step, times }) => (
                    <li key={step.key}>
                      <Link to={`/courses/${step.courseId}`}>{step.title}</Link>{' '}
                      <Quiet>
                        {record.vessels.get(step.vesselId)?.body.name}, {times > 1 ? `${times} times from ` : ''}
                        {whenText(step.dueMs, nowMs, settings)}
                      </Quiet>
                    </li>
                  ))}
                </ul>
              </Stack>
            </Tray>
          )}
          <Row>
            <Button look="main" isDisabled={plan === null} onPress={() => window.print()}>
              Print
            </Button>
            <Button isDisabled={plan === null} onPress={() => void page()}>
              A page for their phone
            </Button>
            <Button isDisabled={plan === null} onPress={() => void download()}>
              Calendar file
            </Button>
          </Row>
        </Stack>
        {plan && (
          <Paper aria-label="Sheet for the sitter">
            <h2>
              {longDayText(noonOf(fromDay), settings)} to {longDayText(noonOf(toDay), settings)}
            </h2>
            <p>
              <strong>You feed, look, top up and write down. You dose nothing, mix nothing and move nothing.</strong> A
              net, bucket and towel stay with their own tank; wash your hands before the next one. Gasping fish, a cloud
              in the water, a fish on its side, water on the floor: more air, no food, and call{' '}
              <strong>{call.trim() === '' ? '(nobody is written here yet)' : call.trim()}</strong> at once.
            </p>
            {plan.days
              .filter(({ vessels }) => vessels.length > 0)
              .map(({ day, vessels }) => (
                <section key={day}>
                  <h3>{longDayText(noonOf(day), settings)}</h3>
                  <table>
                    <tbody>
                      {vessels.flatMap(({ vessel, lines }) =>
                        lines.map(({ kind, title, detail }, i) => (
                          <PaperLine key={`${vessel.id}-${kind}-${title}`} when={i === 0 ? vessel.body.name : ''}>
                            <strong>{title}</strong>
                            {detail !== '' && <div>{detail}</div>}
                          </PaperLine>
                        )),
                      )}
                    </tbody>
                  </table>
                </section>
              ))}
            {plan.days.every(({ vessels }) => vessels.length === 0) && (
              <p>Nobody lives in any vessel of the record yet.</p>
            )}
          </Paper>
        )}
      </Stack>
      <Stack $gap={14} className="no-print">
        <h2>What they are told</h2>
        {plan && plan.unfed.length > 0 && (
          <Well>
            Not written yet, what they eat: {plan.unfed.map(({ body }) => body.name).join(', ')}. Weigh it out in bags
            by the day: a sitter who guesses feeds too much.
          </Well>
        )}
        {shelvedVessels(record).length === 0 && (
          <Well>
            No vessel is on the shelf yet. <Link to="/vessels/new">Describe one</Link>, and who lives in it.
          </Well>
        )}
        {shelvedVessels(record).map((vessel) => (
          <Care key={vessel.id} vessel={vessel} />
        ))}
      </Stack>
    </Page>
  )
}

/** Words of the keeper for one vessel; kept when a field is left. */
function Care({ vessel }: { readonly vessel: VesselDocument }) {
  const { revise } = useActions()
  const notice = useNotice()
  const kept = vessel.body.sitter ?? {}
  const [typed, setTyped] = useState<Readonly<Record<string, string>>>({})
  const keep = (id: (typeof CARE)[number]['id']) => {
    const text = typed[id]?.trim()
    if (text === undefined || text === (kept[id] ?? '')) return
    const { [id]: _, ...rest } = kept
    const sitter = text === '' ? rest : { ...rest, [id]: text }
    revise(vessel, { ...vessel.body, sitter }).catch((cause: unknown) =>
      notice({ text: (cause as Error).message, tone: 'failed' }),
    )
  }
  return (
    <Tray role="region" aria-label={vessel.body.name}>
      <Stack $gap={8}>
        <h3>{vessel.body.name}</h3>
        {CARE.map(({ id, label, hint }) => (
          <div key={id} onBlur={() => keep(id)}>
            <Field
              label={label}
              value={typed[id] ?? kept[id] ?? ''}
              onChange={(text) => setTyped((now) => ({ ...now, [id]: text }))}
              hint={hint}
            />
          </div>
        ))}
      </Stack>
    </Tray>
  )
}
