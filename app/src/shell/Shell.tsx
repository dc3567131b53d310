// The frame: shelf, places, the demo line, shortcuts, and the record's own state.
import { lazy, Suspense, useEffect, useState } from 'react'
import { Link, NavLink, Outlet, useLocation, useNavigate } from 'react-router'
import { styled } from 'styled-components'
import { endLook } from '../data/look.ts'
import { RecordProvider, useDatabase, useRecord, useRecordQuery } from '../data/queries.tsx'
import { Button, Page, Row, Stack, Tray } from '../design/primitives.tsx'
import { NARROW } from '../design/theme.ts'
import { ConcernsProvider } from './ConcernsContext.tsx'
import { FaultBoundary } from './FaultBoundary.tsx'
import { LogProvider, useLog } from './LogContext.tsx'
import { NoticeProvider } from './Notices.tsx'
import { PlansProvider, useThePlans } from './PlansContext.tsx'
import { Shelf } from './Shelf.tsx'
import { SafetyGate } from './SafetyGate.tsx'
import { ProgramLine } from './ProgramLine.tsx'
import { TopLine } from './TopLine.tsx'
import { useWayBack } from './wayBack.ts'

/** Only for a house with devices: it is fetched when the first view stands. */
const DailyCopy = lazy(async () => ({ default: (await import('./DailyCopy.tsx')).DailyCopy }))
const DeviceKeeper = lazy(async () => ({ default: (await import('./DeviceKeeper.tsx')).DeviceKeeper }))
/** Only where a tank is practised on. */
const PracticeBar = lazy(async () => ({ default: (await import('../features/practice/PracticeBar.tsx')).PracticeBar }))
const KeysDialog = lazy(async () => ({ default: (await import('./KeysDialog.tsx')).KeysDialog }))

const PLACES = [
  { to: '/', label: 'Rounds', key: 'r' },
  { to: '/calendar', label: 'Calendar', key: 'k' },
  { to: '/vessels', label: 'Vessels', key: 'v' },
  { to: '/arrivals', label: 'Arrivals', key: 'a' },
  { to: '/courses', label: 'Courses', key: 'c' },
  { to: '/findings', label: 'Findings', key: 'f' },
  { to: '/bench', label: 'Bench', key: 'b' },
  { to: '/cupboard', label: 'Cupboard', key: 'u' },
  { to: '/library', label: 'Library', key: 'i' },
  { to: '/practice', label: 'Practice', key: 'p' },
  { to: '/ledger', label: 'Ledger', key: 'g' },
  { to: '/settings', label: 'Settings', key: 's' },
] as const

/** Where a letter is text, not a command. A tick box takes no letters. */
const TYPING =
  'input:not([type="checkbox"], [type="radio"]), textarea, select, [role="dialog"], [contenteditable="true"]'

const Top = styled.header`
  background: var(--tray);
  border-bottom: 2px solid var(--rim);
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  align-items: center;
  gap: 8px 26px;
  padding: 8px 28px;
  ${NARROW} {
    padding: 8px 14px;
    grid-template-columns: minmax(0, 1fr) auto;
  }
`
const Brand = styled(NavLink)`
  font-weight: 800;
  font-size: 21px;
  letter-spacing: -0.03em;
  text-decoration: none;
  color: var(--rim);
  ${NARROW} {
    display: none;
  }
`
const Places = styled.nav`
  background: var(--tray);
  border-bottom: 1px solid var(--hairline);
  display: flex;
  gap: 4px;
  padding: 0 20px;
  overflow-x: auto;
  a {
    display: flex;
    align-items: center;
    min-height: 44px;
    padding: 0 10px;
    text-decoration: none;
    color: var(--quiet);
    border-bottom: 3px solid transparent;
    white-space: nowrap;
  }
  a[aria-current='page'] {
    color: var(--ink);
    font-weight: 700;
    border-color: var(--rim);
  }
  ${NARROW} {
    position: fixed;
    inset: auto 0 0;
    z-index: 40;
    border-top: 2px solid var(--rim);
    border-bottom: 0;
    padding: 0 6px max(4px, env(safe-area-inset-bottom));
    a {
      min-height: 52px;
    }
  }
`
/** The key of it, where there are keys. */
const Key = styled.kbd`
  @media (pointer: coarse), (max-width: 760px) {
    display: none;
  }
`
const Skip = styled.a`
  position: absolute;
  left: -9999px;
  &:focus {
    left: 8px;
    top: 8px;
    z-index: 99;
    background: var(--tray);
    padding: 10px;
  }
`

export function Shell() {
  const query = useRecordQuery()
  if (query.error) {
    return (
      <Page>
        <Tray $tone="danger" role="alert">
          <Stack>
            <h1>The record cannot be opened</h1>
            <p>{query.error.message}</p>
            <Row>
              <Button look="main" onPress={() => void query.refetch()}>
                Try again
              </Button>
              <Button onPress={() => window.location.assign('/rescue')}>Open the rescue page</Button>
            </Row>
          </Stack>
        </Tray>
      </Page>
    )
  }
  if (!query.data) return null
  return (
    <RecordProvider record={query.data}>
      <NoticeProvider>
        <PlansProvider>
          <ConcernsProvider>
            <LogProvider>
              <Frame />
            </LogProvider>
          </ConcernsProvider>
        </PlansProvider>
      </NoticeProvider>
    </RecordProvider>
  )
}

function Frame() {
  const { mode, open } = useDatabase()
  const { record } = useRecord()
  const { nowMs } = useThePlans()
  const log = useLog()
  const navigate = useNavigate()
  const back = useWayBack()
  const location = useLocation()
  const [help, setHelp] = useState(false)
  const { theme, shortcuts } = record.settings

  useEffect(() => {
    const dark = window.matchMedia('(prefers-color-scheme: dark)')
    const apply = () => {
      document.documentElement.dataset.theme = theme === 'system' ? (dark.matches ? 'lights-out' : 'day') : theme
    }
    apply()
    dark.addEventListener('change', apply)
    return () => dark.removeEventListener('change', apply)
  }, [theme])

  useEffect(() => {
    if (!shortcuts) return
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement | null
      if (event.ctrlKey || event.metaKey || event.altKey || target?.closest(TYPING)) return
      const key = event.key.toLowerCase()
      // What a key opens gives the focus back to where it was: to the page, where nothing of it had it.
      if (document.activeElement === document.body) document.getElementById('place')?.focus({ preventScroll: true })
      if (key === 'l' || key === '/') log()
      else if (key === 'd') log({ kind: 'dose' })
      else if (event.key === '?') setHelp(true)
      else {
        const place = PLACES.find((candidate) => candidate.key === key)
        if (!place) return
        void navigate(place.to)
      }
      event.preventDefault()
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [log, navigate, shortcuts])

  // The acts are fetched as soon as the first view stands, so that the first press does not wait for them.
  useEffect(() => void import('../data/house.ts').catch(() => undefined), [])

  // Braces matter: scrollTo answers with a promise, which React would take for a clean-up.
  useEffect(() => {
    window.scrollTo(0, 0)
  }, [location.pathname])

  return (
    <>
      <Skip href="#place">Skip to the content</Skip>
      <Top>
        <Brand to="/" aria-label="Brinvo, today's round">
          brinvo
        </Brand>
        <Shelf />
        <Button look="main" onPress={() => log()}>
          Log <Key aria-hidden>L</Key>
        </Button>
      </Top>
      <Places aria-label="Places">
        {PLACES.map(({ to, label }) => (
          <NavLink key={to} to={to} end={to === '/'}>
            {label}
          </NavLink>
        ))}
      </Places>
      <ProgramLine />
      {mode === 'demo' && (
        <TopLine>
          <span>
            <strong>Demonstration.</strong> <i>Invented tanks, real computation. </i>Nothing here is yours.
          </span>
          <Button
            look="bare"
            onPress={() => {
              open('keeper')
              void navigate('/')
            }}
          >
            <span>
              <i>Leave it and open </i>my own record
            </span>
          </Button>
        </TopLine>
      )}
      {mode === 'practice' && !/^\/practice($|\/(looks|drills|drops|write))/.test(location.pathname) && (
        <Suspense fallback={null}>
          <PracticeBar />
        </Suspense>
      )}
      {mode === 'look' && (
        <TopLine>
          <span>
            <strong>A backup, looked into.</strong> <i>Whatever you press here changes this copy alone. </i>Your record
            is as it was.
          </span>
          <Button
            look="bare"
            onPress={() => {
              open('keeper')
              void navigate('/ledger')
              void endLook()
            }}
          >
            <span>Back to my record</span>
          </Button>
        </TopLine>
      )}
      {/* Whoever was sent here for one thing finds the way back to what needed it. */}
      {back !== null && !/\/(new|edit)$/.test(location.pathname) && (
        <TopLine>
          <Link to={back} style={{ minHeight: 44, display: 'flex', alignItems: 'center', fontWeight: 650 }}>
            Back to what brought you here
          </Link>
        </TopLine>
      )}
      {/* Which page this is, and the time that everything on it is told for. */}
      <main id="place" tabIndex={-1} style={{ outline: 'none' }} data-path={location.pathname} data-as-of={nowMs}>
        <SafetyGate>
          {/* A page that stops working stops alone: the next one opens. */}
          <FaultBoundary key={location.pathname}>
            <Outlet />
          </FaultBoundary>
        </SafetyGate>
      </main>
      {record.devices.size > 0 && mode === 'keeper' && (
        <Suspense fallback={null}>
          <DeviceKeeper />
        </Suspense>
      )}
      {mode === 'keeper' && record.entries.length > 0 && (
        <Suspense fallback={null}>
          <DailyCopy />
        </Suspense>
      )}
      {help && (
        <Suspense fallback={null}>
          <KeysDialog places={PLACES} onClose={() => setHelp(false)} />
        </Suspense>
      )}
    </>
  )
}
