// At the tank: one thing to press, in reach of a thumb. Every clock is worked out from when things were pressed.
import {
  limitOf,
  METHOD_WORDS,
  TDS_PER_US,
  ammoniaBand,
  containerStage,
  handlingHazards,
  instantOf,
  liveInputsOf,
  liveRun,
  pressedStep,
  type ArrivalDocument,
  type Container,
  type LiveRun,
  type LiveStep,
} from '@brinvo/core'
import { useEffect, useMemo, useRef, useState } from 'react'
import { Link, useParams, useSearchParams } from 'react-router'
import { styled } from 'styled-components'
import { useNow, useRecord, type Draft } from '../../data/queries.tsx'
import { Check } from '../../design/fields.tsx'
import { Button, LinkButton, Quiet, Row, Stack } from '../../design/primitives.tsx'
import { temperatureText, timeText } from '../../design/words.ts'
import { HazardLine } from '../../parts/HazardCard.tsx'
import { useSave } from '../../parts/StepActions.tsx'
import { NotFound } from '../../shell/NotFound.tsx'
import { MeasureDialog } from './ContainerDialogs.tsx'
import { MiniCurve } from './MiniCurve.tsx'
import { ReleaseDialog } from './ReleaseDialog.tsx'
import { clockText, figure } from './words.ts'
import { useTold } from '../../parts/useTold.ts'
import { useUnits } from '../../parts/useUnits.ts'

const Screen = styled.div`
  position: fixed;
  inset: var(--over, 0px) 0 0;
  z-index: 45;
  background: var(--ground);
  overflow: auto;
  display: grid;
  grid-template-rows: auto minmax(82px, auto) 1fr auto;
`
const Bar = styled.header`
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 10px;
  padding: 8px 16px;
  background: var(--tray);
  border-bottom: 2px solid var(--rim);
  a {
    display: inline-flex;
    min-height: 44px;
    align-items: center;
    font-weight: 650;
  }
`
const Bags = styled.div`
  display: flex;
  gap: 8px;
  padding: 10px 16px;
  overflow-x: auto;
  max-width: 932px;
  width: 100%;
  margin: 0 auto;
  a {
    flex: 1 0 132px;
    max-width: 280px;
    padding: 6px 12px;
    font-size: 14px;
  }
  button {
    flex: 1 0 132px;
    max-width: 280px;
    min-height: 58px;
    text-align: left;
    padding: 6px 12px;
    border: 1.5px solid var(--hairline);
    border-radius: 12px;
    background: var(--tray);
    cursor: pointer;
    display: flex;
    flex-direction: column;
    gap: 0;
  }
  button[aria-pressed='true'] {
    border-color: var(--rim);
    box-shadow: inset 0 0 0 1.5px var(--rim);
  }
  b {
    font-size: 21px;
    line-height: 1.15;
  }
  b[data-late] {
    color: var(--acriflavine-ink);
  }
  span {
    font-size: 14px;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
`
const Body = styled.div`
  padding: 6px 16px 16px;
  max-width: 900px;
  width: 100%;
  margin: 0 auto;
  display: grid;
  gap: 14px;
  align-content: start;
`
const Countdown = styled.p`
  font-size: clamp(64px, 15vw, 120px);
  line-height: 1;
  font-weight: 800;
  letter-spacing: -0.03em;
  &[data-late] {
    color: var(--acriflavine-ink);
  }
`
const Title = styled.h1`
  font-size: clamp(28px, 5vw, 40px);
`
const Now = styled.dl`
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(150px, 1fr));
  gap: 10px 18px;
  padding: 12px 0;
  border-top: 1px solid var(--hairline);
  border-bottom: 1px solid var(--hairline);
  dt {
    color: var(--quiet);
    font-size: 14px;
  }
  dd {
    font-size: 28px;
    font-weight: 750;
    line-height: 1.15;
    small {
      font-size: 14px;
      font-weight: 500;
    }
  }
  dd > span {
    display: block;
    font-size: 13px;
    font-weight: 500;
    color: var(--quiet);
  }
`
const Warning = styled.p`
  padding: 10px 14px;
  border-radius: 10px;
  background: var(--caution-tint);
  border-left: 5px solid var(--acriflavine);
  font-size: 17px;
`
const Thumb = styled.footer`
  position: sticky;
  bottom: 0;
  background: var(--tray);
  border-top: 2px solid var(--rim);
  padding: 12px 16px max(12px, env(safe-area-inset-bottom));
  display: grid;
  gap: 10px;
  grid-template-columns: minmax(0, 900px);
  justify-content: center;
  > button:first-child {
    min-height: 72px;
    font-size: 21px;
  }
  > div {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 10px;
  }
  > div button {
    min-height: 56px;
  }
`
const BAND_WORDS = { calm: 'calm', watch: 'watch', today: 'act today', now: 'act now' } as const

interface Lane {
  readonly container: Container
  readonly run: LiveRun
  readonly method: string
}

export function LiveRunPage() {
  const { id = '' } = useParams()
  const { record } = useRecord()
  const arrival = record.arrivals.get(id)
  return arrival ? <LiveScreen arrival={arrival} /> : <NotFound />
}

/** Half-second ticks for the digits; the machine's clock may have been set back, what was pressed was not. */
function useClock(): { nowMs: number; setBackMin: number } {
  const { active } = useRecord()
  const machine = useNow(500)
  const latest = useMemo(
    () => active.reduce((max, entry) => (entry.kind === 'container' ? Math.max(max, Date.parse(entry.at)) : max), 0),
    [active],
  )
  const back = latest - machine
  return { nowMs: Math.max(machine, latest), setBackMin: back > 60_000 ? Math.round(back / 60_000) : 0 }
}

function LiveScreen({ arrival }: { arrival: ArrivalDocument }) {
  const { record, active } = useRecord()
  const { nowMs, setBackMin } = useClock()
  const save = useSave()
  const [search, setSearch] = useSearchParams()
  // A dialog keeps the bag it was opened for, whichever comes next on the clock meanwhile.
  const [dialog, setDialog] = useState<{ readonly kind: 'measure' | 'release'; readonly bagId: string } | null>(null)
  // The curves move slowly: they are worked out every five seconds, the digits every half.
  const five = Math.floor(nowMs / 5000) * 5000 + 4999
  const lanes = useMemo(
    () =>
      arrival.body.containers.flatMap((container): Lane[] => {
        const inputs = liveInputsOf({ record, active, arrival, container, nowMs: five })
        if (!inputs || containerStage(inputs.entries) === 'refused') return []
        return [{ container, run: liveRun(inputs), method: METHOD_WORDS[inputs.method] }]
      }),
    [arrival, record, active, five],
  )
  const open = lanes.filter(({ run }) => run.phase !== 'moved' && run.phase !== 'stopped')
  const ordered = [...open].sort(
    (a, b) =>
      (a.run.phase === 'ready' ? 1 : 0) - (b.run.phase === 'ready' ? 1 : 0) ||
      (a.run.next?.dueMs ?? Infinity) - (b.run.next?.dueMs ?? Infinity),
  )
  const done = lanes.filter(({ run }) => run.phase === 'moved' || run.phase === 'stopped')
  const lane = lanes.find(({ container }) => container.id === search.get('bag')) ?? ordered[0] ?? done[0] ?? null
  const asked = lanes.find(({ container }) => container.id === dialog?.bagId)
  useBell(ordered, nowMs)
  // What was just noted is said above the thumb's buttons, never over them.
  useEffect(() => {
    document.documentElement.style.setProperty('--thumb', '176px')
    return () => void document.documentElement.style.removeProperty('--thumb')
  }, [])

  const base = (container: Container) => ({ arrivalId: arrival.id, containerId: container.id })
  const press = async (container: Container, step: LiveStep) => {
    if (step.act === 'move') return setDialog({ kind: 'release', bagId: container.id })
    await save(
      [
        {
          kind: 'container',
          ...base(container),
          ...pressedStep(step),
        } as Draft,
      ],
      `${container.label}: ${step.title.toLowerCase()}.`,
    )
  }
  return (
    <Screen>
      <Bar>
        <Link to={`/arrivals/${arrival.id}`}>← {arrival.body.name}</Link>
        <strong>{timeText(nowMs, record.settings)}</strong>
      </Bar>
      <Bags role="group" aria-label="Containers, next one first">
        {[...ordered, ...done].map(({ container, run }) => {
          const seconds = run.next ? (run.next.dueMs - nowMs) / 1000 : 0
          return (
            <button
              key={container.id}
              aria-pressed={lane?.container.id === container.id}
              onClick={() => setSearch({ bag: container.id }, { replace: true })}
            >
              <span>
                {container.label} <Quiet>{container.commonName}</Quiet>
              </span>
              <b data-late={run.next && run.phase !== 'ready' && seconds < 0 ? '' : undefined}>
                {run.phase === 'moved'
                  ? 'moved'
                  : run.phase === 'stopped'
                    ? 'stopped'
                    : run.phase === 'ready'
                      ? 'ready'
                      : `${seconds < 0 ? '+' : ''}${clockText(seconds)}`}
              </b>
            </button>
          )
        })}
        {arrival.body.containers
          .filter(({ id }) => !lanes.some(({ container }) => container.id === id))
          .map((container) => (
            <Link key={container.id} to={`/arrivals/${arrival.id}/${container.id}`}>
              {container.label} {container.commonName}: choose a method
            </Link>
          ))}
      </Bags>
      <Body>
        {setBackMin > 0 && (
          <Warning role="alert">
            This machine’s clock was set back by about {setBackMin} min. What was pressed keeps its time; the countdown
            goes on when the clock has caught up. Watch the tub, not the digits.
          </Warning>
        )}
        {lane ? (
          <LaneView lane={lane} nowMs={nowMs} />
        ) : (
          <Stack>
            <Title>No method is chosen yet</Title>
            <p>Compare the methods for a bag first; its clock then stands here.</p>
            <Row>
              <LinkButton to={`/arrivals/${arrival.id}`} $look="main">
                Back to the bags
              </LinkButton>
            </Row>
          </Stack>
        )}
        <Options />
      </Body>
      {lane && lane.run.phase !== 'moved' && (
        <Thumb>
          {lane.run.next ? (
            <Button look="main" onPress={() => void press(lane.container, lane.run.next!)}>
              {doneWord(lane.run.next)}
            </Button>
          ) : (
            <Button look="main" onPress={() => setDialog({ kind: 'release', bagId: lane.container.id })}>
              {lane.run.phase === 'stopped' ? 'Move it after all' : 'Move now'}
            </Button>
          )}
          {lane.run.phase !== 'ready' && (
            <div>
              <Button onPress={() => setDialog({ kind: 'measure', bagId: lane.container.id })}>Measured</Button>
              <Button look="danger" onPress={() => setDialog({ kind: 'release', bagId: lane.container.id })}>
                Stop and move now
              </Button>
            </div>
          )}
        </Thumb>
      )}
      {asked && dialog?.kind === 'measure' && (
        <MeasureDialog
          key={asked.container.id}
          arrival={arrival}
          container={asked.container}
          entries={[]}
          live
          onClose={() => setDialog(null)}
        />
      )}
      {asked && dialog?.kind === 'release' && (
        <ReleaseDialog
          key={asked.container.id}
          arrival={arrival}
          container={asked.container}
          run={asked.run}
          onClose={() => setDialog(null)}
        />
      )}
    </Screen>
  )
}

const doneWord = (step: LiveStep): string =>
  ({
    float: 'It floats',
    open: 'Bag is open',
    add: 'Cup is in',
    pour: 'Poured out',
    drip: 'The drip runs',
    air: 'Air stone is in',
    bind: 'Binder is in',
    move: 'It is in the water',
    look: 'Looked',
  })[step.act]

function LaneView({ lane, nowMs }: { lane: Lane; nowMs: number }) {
  const units = useUnits()
  const told = useTold()
  const { run, container, method } = lane
  const { record } = useRecord()
  const fresh = record.vessels.get(container.vesselId)?.body.water === 'fresh'
  const { next, now } = run
  const seconds = next ? (next.dueMs - nowMs) / 1000 : 0
  const late = next !== null && run.phase !== 'ready' && seconds < 0
  const band = ammoniaBand(now.freeMgN)
  return (
    <>
      <div aria-live="off">
        <Quiet>
          {container.label} · {method}
          {run.startedMs !== null &&
            ` · since ${timeText(run.startedMs, record.settings)}, ${clockText((nowMs - run.startedMs) / 1000)}`}
        </Quiet>
        {next && run.phase !== 'ready' && (
          <Countdown data-late={late ? '' : undefined} aria-label={late ? 'late by' : 'in'}>
            {late ? '+' : ''}
            {clockText(seconds)}
          </Countdown>
        )}
        <Title>
          {run.phase === 'moved'
            ? 'In the water'
            : run.phase === 'stopped'
              ? 'Stopped'
              : (next?.title ?? 'Look at the tub')}
        </Title>
        {next && <p style={{ fontSize: 17 }}>{told(next.detail)}</p>}
        {(next?.act === 'move' || next?.act === 'open') && (
          <HazardLine hazardIds={handlingHazards([container.group])} />
        )}
        {run.phase === 'moved' && run.movedMs !== null && (
          <p style={{ fontSize: 17 }}>
            Moved at {timeText(run.movedMs, record.settings)}. The first looks stand on <Link to="/">Rounds</Link>.
          </p>
        )}
      </div>
      {run.warnings.map((warning) => (
        <Warning key={warning} role="alert">
          {warning}
        </Warning>
      ))}
      {run.phase !== 'ready' && run.phase !== 'moved' && (
        <>
          <Now>
            <div>
              <dt>Free ammonia</dt>
              <dd style={band === 'calm' || band === 'watch' ? undefined : { color: 'var(--danger)' }}>
                {now.freeMgN < 0.005 ? '< 0.005' : figure(now.freeMgN, 2)} <small>mg/L N</small>
                <span>
                  {BAND_WORDS[band]}; limit {limitOf('free-ammonia-today')}
                </span>
              </dd>
            </div>
            <div>
              <dt>{fresh ? 'Conductivity' : 'Salinity'}</dt>
              <dd>
                {fresh ? Math.round(now.salinityPsu * (1000 / TDS_PER_US)) : units.plain('salinity', now.salinityPsu)}{' '}
                <small>{fresh ? 'µS/cm' : units.unit('salinity')}</small>
                <span>
                  {fresh
                    ? 'worked out'
                    : `${run.lastHourPsu >= 0 ? '+' : '−'}${Math.abs(run.lastHourPsu).toFixed(1)} in the last hour${run.asLaidOut ? ', as laid out' : ''}`}
                </span>
              </dd>
            </div>
            <div>
              <dt>Water</dt>
              <dd>
                {units.plain('volume', now.volumeL)} <small>{units.unit('volume')}</small>
                <span>{Math.round(now.tankShare * 100)} % from the tank</span>
              </dd>
            </div>
            <div>
              <dt>Temperature</dt>
              <dd>
                {temperatureText(now.tempC, record.settings)}
                <span>pH {now.phNbs.toFixed(2)}</span>
              </dd>
            </div>
          </Now>
          <MiniCurve run={run} fresh={fresh} />
        </>
      )}
      {run.later.length > 0 && (
        <p>
          <Quiet>Then: </Quiet>
          {run.later.slice(0, 3).map((step, i) => (
            <span key={i}>
              {i > 0 && ', '}
              {timeText(step.dueMs, record.settings)} {step.title.toLowerCase()}
            </span>
          ))}
          {run.later.length > 3 && <Quiet> and {run.later.length - 3} more</Quiet>}
        </p>
      )}
    </>
  )
}

const SOUND_KEY = 'brinvo-run-sound'
const AWAKE_KEY = 'brinvo-run-awake'
const stored = (key: string): boolean => {
  try {
    return localStorage.getItem(key) === 'on'
  } catch {
    return false
  }
}
const store = (key: string, on: boolean) => {
  try {
    localStorage.setItem(key, on ? 'on' : 'off')
  } catch {
    // Kept for this page only.
  }
}

/** A short tone when a step falls due; only where the keeper asked for it. */
function useBell(lanes: readonly Lane[], nowMs: number): void {
  const rung = useRef(new Set<string>())
  useEffect(() => {
    if (!stored(SOUND_KEY)) return
    for (const { container, run } of lanes) {
      if (!run.next || run.phase === 'ready' || run.next.dueMs > nowMs) continue
      const key = `${container.id}/${run.next.act}/${run.cups}/${instantOf(Math.floor(run.next.dueMs / 1000) * 1000)}`
      if (rung.current.has(key)) continue
      rung.current.add(key)
      try {
        const audio = new AudioContext()
        const tone = audio.createOscillator()
        const gain = audio.createGain()
        tone.frequency.value = 660
        gain.gain.setValueAtTime(0.15, audio.currentTime)
        gain.gain.exponentialRampToValueAtTime(0.001, audio.currentTime + 0.7)
        tone.connect(gain).connect(audio.destination)
        tone.start()
        tone.stop(audio.currentTime + 0.7)
        tone.onended = () => void audio.close()
      } catch {
        // No sound here; the digits say it too.
      }
    }
  }, [lanes, nowMs])
}

function Options() {
  const [sound, setSound] = useState(() => stored(SOUND_KEY))
  const [awake, setAwake] = useState(() => stored(AWAKE_KEY))
  const [fault, setFault] = useState<string | null>(null)
  useEffect(() => {
    if (!awake) return
    let lock: WakeLockSentinel | null = null
    let gone = false
    const hold = async () => {
      if (!('wakeLock' in navigator)) return setFault('This browser cannot keep the screen on.')
      try {
        lock = await navigator.wakeLock.request('screen')
        if (gone) void lock.release()
      } catch {
        setFault('The screen cannot be kept on now (low battery, perhaps). The clock runs on all the same.')
      }
    }
    void hold()
    const again = () => document.visibilityState === 'visible' && void hold()
    document.addEventListener('visibilitychange', again)
    return () => {
      gone = true
      document.removeEventListener('visibilitychange', again)
      void lock?.release()
    }
  }, [awake])
  return (
    <Row $gap={20}>
      <Check
        isSelected={sound}
        onChange={(on) => {
          store(SOUND_KEY, on)
          setSound(on)
        }}
      >
        A tone when something is due
      </Check>
      <Check
        isSelected={awake}
        onChange={(on) => {
          store(AWAKE_KEY, on)
          setFault(null)
          setAwake(on)
        }}
      >
        Keep the screen on
      </Check>
      {fault !== null && <Quiet role="status">{fault}</Quiet>}
    </Row>
  )
}
