// The house over weeks: vessels as rows, weeks as columns. What ends together, what may still be moved, what slips.
import { clockMs } from '../../data/clock.ts'
import {
  addDays,
  atHourOfDay,
  dayOf,
  homecoming,
  houseCalendar,
  instantOf,
  protocolOf,
  type CalendarBar,
  type Homecoming,
  type PlannedDocument,
} from '@brinvo/core'
import { useCallback, useEffect, useMemo, useRef, useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import { styled } from 'styled-components'
import { useActions, useRecord } from '../../data/queries.tsx'
import { Choice } from '../../design/fields.tsx'
import { Button, LinkButton, Quiet, Row, Stack, Tray } from '../../design/primitives.tsx'
import { NARROW } from '../../design/theme.ts'
import { longDayText, plural, sentenceCase } from '../../design/words.ts'
import { useNotice } from '../../shell/Notices.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { CalendarBoard, DAY, type Window } from './CalendarBoard.tsx'
import { PlanDialog } from './PlanDialog.tsx'

const Wide = styled.div`
  padding: 18px 0 calc(48px + var(--told, 0px));
  display: grid;
  gap: 14px;
`
const Inset = styled.div`
  padding-inline: 28px;
  display: grid;
  gap: 14px;
  ${NARROW} {
    padding-inline: 14px;
  }
`
const Three = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(300px, 100%), 1fr));
  gap: 14px;
  align-items: start;
  h2 {
    font-size: 19px;
  }
`
const VIEWS = { days: 'Days', weeks: 'Weeks', year: 'Year' } as const
/** Days that are in sight, and those of them that have gone by. */
const SPANS: Readonly<Record<keyof typeof VIEWS, { readonly days: number; readonly before: number }>> = {
  days: { days: 21, before: 4 },
  weeks: { days: 98, before: 21 },
  year: { days: 392, before: 56 },
}

export function CalendarPage() {
  const { record, active } = useRecord()
  const { plans, estimates, nowMs } = useThePlans()
  const { revise } = useActions()
  const notice = useNotice()
  const { settings } = record
  const { zone } = settings
  const [view, setView] = useState<keyof typeof VIEWS>('weeks')
  const [shiftDays, setShiftDays] = useState(0)
  const [asked, setAsked] = useState<PlannedDocument | 'new' | null>(null)
  const { held, hold, letGo } = useHeldStart()
  const calendar = useMemo(
    () => houseCalendar(record, active, plans, estimates, nowMs),
    [record, active, plans, estimates, nowMs],
  )
  const bars = calendar.bars.map((bar) => (held?.id === bar.id ? begunOn(bar, held.day, zone) : bar))
  const home = held === null ? calendar.home : homecoming(bars)
  const today = dayOf(nowMs, zone)
  const { days, before } = SPANS[view]
  const firstDay = addDays(today, shiftDays - before)
  const window: Window = { fromMs: atHourOfDay(firstDay, 0, zone), toMs: atHourOfDay(addDays(firstDay, days), 0, zone) }
  const drop = async (document: PlannedDocument) => {
    setAsked(null)
    try {
      await revise(document, { ...document.body, endedAt: instantOf(clockMs()) })
      notice({ text: 'The planned start is let go.', tone: 'done' })
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  return (
    <Wide>
      <Inset>
        <Row $between>
          <h1>Calendar</h1>
          <Row className="no-print">
            <Button look="bare" onPress={() => setShiftDays(shiftDays - Math.round(days / 2))}>
              Earlier
            </Button>
            {shiftDays !== 0 && (
              <Button look="bare" onPress={() => setShiftDays(0)}>
                Today
              </Button>
            )}
            <Button look="bare" onPress={() => setShiftDays(shiftDays + Math.round(days / 2))}>
              Later
            </Button>
            <Choice
              label="How much is in sight"
              hideLabel
              value={view}
              onChange={(next) => {
                setView(next)
                setShiftDays(0)
              }}
              options={Object.entries(VIEWS).map(([value, label]) => ({ value: value as keyof typeof VIEWS, label }))}
            />
            <Button onPress={() => print()}>Print it</Button>
            <Button look="main" onPress={() => setAsked('new')}>
              Plan a start
            </Button>
          </Row>
        </Row>
        <HomeLine home={home} bars={bars} moving={held !== null} />
      </Inset>
      <CalendarBoard
        calendar={{ ...calendar, bars, home }}
        window={window}
        onHold={hold}
        onLetGo={letGo}
        onOpen={(bar) => setAsked(record.planned.get(bar.id) ?? null)}
      />
      <Inset>
        <What home={home} bars={bars} />
      </Inset>
      {asked !== null && (
        <PlanDialog
          planned={asked === 'new' ? null : asked}
          onClose={() => setAsked(null)}
          onDrop={(document) => void drop(document)}
        />
      )}
    </Wide>
  )
}

/** A bar begun on another day. */
function begunOn(bar: CalendarBar, day: string, zone: string): CalendarBar {
  const fromMs = atHourOfDay(day, 0, zone)
  const shift = fromMs - bar.fromMs
  return { ...bar, fromMs, endMs: bar.endMs + shift, latestMs: bar.latestMs + shift, releaseMs: bar.releaseMs + shift }
}

/** So long a start lies still before it is written: keys come one after another. */
const STILL_MS = 350
/** A planned start while it is being moved: nothing is written before it is let go and lies still. */
function useHeldStart() {
  const { record } = useRecord()
  const { revise } = useActions()
  const notice = useNotice()
  const [held, setHeld] = useState<{ readonly id: string; readonly day: string } | null>(null)
  const latest = useRef({ record, held, revise })
  useEffect(() => {
    latest.current = { record, held, revise }
  })
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined)
  const write = useCallback(async () => {
    const { held: moved, record: now, revise: change } = latest.current
    const document = now.planned.get(moved?.id ?? '')
    try {
      if (!moved || !document || document.body.startsOn === moved.day) return
      await change(document, { ...document.body, startsOn: moved.day })
      const { settings } = now
      const words = longDayText(atHourOfDay(moved.day, 12, settings.zone), settings)
      notice({ text: `${protocolOf(document.body.protocolId)?.title ?? 'It'} is planned for ${words}.`, tone: 'done' })
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    } finally {
      // What was moved on meanwhile stays where it is held.
      setHeld((one) => (one === moved ? null : one))
    }
  }, [notice])
  // A page that is left writes what lies still on it.
  useEffect(
    () => () => {
      if (timer.current === undefined) return
      clearTimeout(timer.current)
      void write()
    },
    [write],
  )
  return {
    held,
    hold: (id: string, day: string) => {
      clearTimeout(timer.current)
      const today = dayOf(clockMs(), record.settings.zone)
      setHeld({ id, day: day < today ? today : day })
    },
    letGo: () => {
      clearTimeout(timer.current)
      timer.current = setTimeout(() => {
        timer.current = undefined
        void write()
      }, STILL_MS)
    },
  }
}

/** The one day that matters, large. */
function HomeLine({ home, bars, moving }: { home: Homecoming | null; bars: readonly CalendarBar[]; moving: boolean }) {
  const { record } = useRecord()
  if (!home)
    return (
      <p>
        <Quiet>
          {bars.length === 0
            ? 'Nothing runs and nothing is planned. What begins stands here with its end.'
            : 'Nothing waits for anything else here.'}
        </Quiet>
      </p>
    )
  const late = home.lines.filter(({ slipDays }) => slipDays > 0)
  return (
    <p aria-live={moving ? 'polite' : 'off'} style={{ fontSize: 19 }}>
      All home <strong style={{ fontSize: 30 }}>{longDayText(home.endMs, record.settings)}</strong>{' '}
      <Quiet>
        {late.length > 0
          ? `${late.map(({ title, slipDays }) => `${title} holds it up by ${plural(slipDays, 'day')}`).join('; ')}.`
          : 'if nothing slips.'}
      </Quiet>
    </p>
  )
}

/** What follows from how it lies, three things at most to a card. */
function What({ home, bars }: { home: Homecoming | null; bars: readonly CalendarBar[] }) {
  const { record } = useRecord()
  const { settings } = record
  const { plans, nowMs } = useThePlans()
  const vessel = (id: string | null) => (id === null ? 'no vessel yet' : (record.vessels.get(id)?.body.name ?? ''))
  const barOf = (id: string) => bars.find((bar) => bar.id === id)
  const cards: { key: string; title: string; words: ReactNode }[] = []
  for (const line of home?.lines ?? []) {
    const bar = barOf(line.id)
    if (!bar) continue
    if (line.planned) {
      const clash = bar.clashes.flatMap((id) => barOf(id) ?? [])
      const inTime = line.latestMs !== null && line.latestMs > nowMs
      cards.push({
        key: line.id,
        title:
          line.slipDays > 0
            ? inTime
              ? `Begin ${line.title} by ${longDayText(line.latestMs!, settings)}`
              : `${line.title} cannot be over in time any more`
            : `Latest start of ${line.title}: ${longDayText(line.latestMs!, settings)}`,
        words: (
          <>
            {sentenceCase(plural(line.days, 'day'))} with watching, in {vessel(bar.vesselId)}.{' '}
            {line.slipDays > 0 ? `As it lies, everything waits ${plural(line.slipDays, 'day')} for it. ` : ''}
            {bar.wasMs === null ? '' : `It was meant for ${longDayText(bar.wasMs, settings)} and has not begun. `}
            {clash.length > 0 &&
              `The vessel is wanted by ${clash.map((one) => `${one.title} until ${longDayText(one.releaseMs, settings)}`).join(' and ')}. `}
          </>
        ),
      })
    } else if (line.waitDays > 0)
      cards.push({
        key: line.id,
        title: `${vessel(bar.vesselId)} is ready ${plural(line.waitDays, 'day')} early`,
        words: `${line.title} is over ${longDayText(bar.releaseMs, settings)} and waits in clean water.`,
      })
  }
  for (const plan of plans) {
    const { fallow } = plan
    if (!fallow || fallow.endMs === null || fallow.sinceMs === null || !barOf(plan.courseId)) continue
    const days = Math.round((fallow.endMs - fallow.sinceMs) / DAY)
    cards.push({
      key: `again-${plan.courseId}`,
      title: `If a fish or wet gear goes into ${vessel(plan.vesselId)}`,
      words: `its ${days} days begin again: ${longDayText(nowMs + days * DAY, settings)} at the earliest.`,
    })
  }
  for (const bar of bars)
    if (bar.state === 'planned' && !bar.together)
      cards.push({
        key: bar.id,
        title: `${bar.title} is planned`,
        words: `${longDayText(bar.fromMs, settings)}, in ${vessel(bar.vesselId)}. Nothing waits for it.`,
      })
  return (
    <Stack>
      {cards.length > 0 && (
        <Three>
          {cards.map(({ key, title, words }) => (
            <Tray key={key}>
              <h2>{title}</h2>
              <p>{words}</p>
            </Tray>
          ))}
        </Three>
      )}
      <Row className="no-print">
        <LinkButton to="/courses/new">Start a course today</LinkButton>
        <LinkButton to="/sitter">Days in somebody else’s hands</LinkButton>
        <Quiet>
          Ends are the earliest ones; what goes wrong comes on top. The <Link to="/courses">courses</Link> say what each
          hangs on.
        </Quiet>
      </Row>
    </Stack>
  )
}
