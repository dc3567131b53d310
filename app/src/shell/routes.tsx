// The places. Each loads when it is first visited.
import { lazy, Suspense, type ComponentType } from 'react'
import { BrowserRouter, Route, Routes } from 'react-router'
import { FaultBoundary } from './FaultBoundary.tsx'
import { NotFound } from './NotFound.tsx'
import { OpenDemo } from './OpenDemo.tsx'
import { Shell } from './Shell.tsx'

const place = (load: () => Promise<ComponentType>) => {
  const Place = lazy(async () => ({ default: await load() }))
  return (
    <Suspense fallback={null}>
      <Place />
    </Suspense>
  )
}

const PLACES = {
  vessels: place(async () => (await import('../features/vessels/VesselsPage.tsx')).VesselsPage),
  'vessels/new': place(async () => (await import('../features/vessels/VesselForm.tsx')).NewVesselPage),
  'vessels/:id': place(async () => (await import('../features/vessels/VesselPage.tsx')).VesselPage),
  'vessels/:id/edit': place(async () => (await import('../features/vessels/VesselForm.tsx')).EditVesselPage),
  'residents/:id': place(async () => (await import('../features/vessels/ResidentPage.tsx')).ResidentPage),
  'walk/:vesselId': place(async () => (await import('../features/rounds/WalkPage.tsx')).WalkPage),
  'watch/:vesselId': place(async () => (await import('../features/rounds/WatchPage.tsx')).WatchPage),
  calendar: place(async () => (await import('../features/calendar/CalendarPage.tsx')).CalendarPage),
  arrivals: place(async () => (await import('../features/arrivals/ArrivalsPage.tsx')).ArrivalsPage),
  'arrivals/new': place(async () => (await import('../features/arrivals/ArrivalForm.tsx')).NewArrivalPage),
  'arrivals/introduce': place(async () => (await import('../features/arrivals/IntroducePage.tsx')).IntroducePage),
  'arrivals/:id': place(async () => (await import('../features/arrivals/ArrivalPage.tsx')).ArrivalPage),
  'arrivals/:id/edit': place(async () => (await import('../features/arrivals/ArrivalForm.tsx')).EditArrivalPage),
  'arrivals/:id/run': place(async () => (await import('../features/arrivals/LiveRunPage.tsx')).LiveRunPage),
  'arrivals/:id/:containerId': place(async () => (await import('../features/arrivals/ComparePage.tsx')).ComparePage),
  courses: place(async () => (await import('../features/courses/CoursesPage.tsx')).CoursesPage),
  'courses/new': place(async () => (await import('../features/courses/NewCoursePage.tsx')).NewCoursePage),
  'courses/compare': place(async () => (await import('../features/courses/SchoolsPage.tsx')).SchoolsPage),
  'courses/:id/bath/:ruleId': place(async () => (await import('../features/courses/BathPage.tsx')).BathPage),
  'courses/:id/transfer': place(async () => (await import('../features/courses/TransferPage.tsx')).TransferPage),
  'courses/:id/tally/:measureId': place(async () => (await import('../features/courses/TallyPage.tsx')).TallyPage),
  'courses/:id/round/:ruleId': place(async () => (await import('../features/courses/RoundPage.tsx')).RoundPage),
  'courses/:id/spot/:ruleId': place(async () => (await import('../features/courses/SpotPage.tsx')).SpotPage),
  'courses/:id/bench/:ruleId': place(async () => (await import('../features/courses/BenchRunPage.tsx')).BenchRunPage),
  'courses/:id/run/:ruleId': place(async () => (await import('../features/courses/RunPage.tsx')).RunPage),
  'courses/:id/causes': place(async () => (await import('../features/courses/CausesPage.tsx')).CausesPage),
  'courses/:id/sheet': place(async () => (await import('../features/courses/SheetPage.tsx')).SheetPage),
  'courses/:id': place(async () => (await import('../features/courses/CoursePage.tsx')).CoursePage),
  'paper/month/:id': place(async () => (await import('../features/papers/PapersPage.tsx')).MonthPaper),
  'paper/cupboard': place(async () => (await import('../features/papers/PapersPage.tsx')).CupboardPaper),
  'paper/emergency': place(async () => (await import('../features/papers/PapersPage.tsx')).EmergencyPaper),
  sitter: place(async () => (await import('../features/vessels/SitterPage.tsx')).SitterPage),
  'water/:vesselId': place(async () => (await import('../features/log/WaterPage.tsx')).WaterPage),
  'water/:vesselId/corrections': place(
    async () => (await import('../features/courses/CorrectionsPage.tsx')).CorrectionsPage,
  ),
  'tests/:vesselId': place(async () => (await import('../features/log/TestsPage.tsx')).TestsPage),
  'tests/:vesselId/table': place(async () => (await import('../features/log/TablePage.tsx')).TablePage),
  'slide/:vesselId': place(async () => (await import('../features/eyes/SlideBenchPage.tsx')).SlideBenchPage),
  'patch/:vesselId': place(async () => (await import('../features/eyes/PatchPage.tsx')).PatchPage),
  'marks/:vesselId': place(async () => (await import('../features/eyes/MarksPage.tsx')).MarksPage),
  devices: place(async () => (await import('../features/devices/DevicesPage.tsx')).DevicesPage),
  laboratory: place(async () => (await import('../features/laboratory/LaboratoryPage.tsx')).LaboratoryPage),
  'laboratory/:id': place(async () => (await import('../features/laboratory/SamplePage.tsx')).SamplePage),
  findings: place(async () => (await import('../features/findings/FindingsPage.tsx')).FindingsPage),
  'findings/:id': place(async () => (await import('../features/findings/FindingPage.tsx')).FindingPage),
  bench: place(async () => (await import('../features/bench/BenchPage.tsx')).BenchPage),
  cupboard: place(async () => (await import('../features/cupboard/CupboardPage.tsx')).CupboardPage),
  library: place(async () => (await import('../features/library/LibraryPage.tsx')).LibraryPage),
  'library/eyepiece': place(async () => (await import('../features/eyes/practicePlates.tsx')).EyepiecePage),
  'library/plates': place(async () => (await import('../features/library/PlatesPage.tsx')).PlatesPage),
  'library/write/:id': place(async () => (await import('../features/library/WriteProtocolPage.tsx')).WriteProtocolPage),
  practice: place(async () => (await import('../features/practice/PracticePage.tsx')).PracticePage),
  'practice/debrief': place(async () => (await import('../features/practice/DebriefPage.tsx')).DebriefPage),
  'practice/looks': place(async () => (await import('../features/practice/LooksPage.tsx')).LooksPage),
  'practice/drills': place(async () => (await import('../features/practice/DrillsPage.tsx')).DrillsPage),
  'practice/drops': place(async () => (await import('../features/eyes/DropsPage.tsx')).DropsPage),
  'practice/write': place(async () => (await import('../features/practice/WritePage.tsx')).WritePage),
  ledger: place(async () => (await import('../features/ledger/LedgerPage.tsx')).LedgerPage),
  settings: place(async () => (await import('../features/settings/SettingsPage.tsx')).SettingsPage),
  trust: place(async () => (await import('../features/trust/TrustPage.tsx')).TrustPage),
  safety: place(async () => (await import('../features/settings/SafetyPage.tsx')).SafetyPage),
}
const rounds = place(async () => (await import('../features/rounds/RoundsPage.tsx')).RoundsPage)

export function App() {
  return (
    <BrowserRouter>
      <FaultBoundary>
        <Routes>
          <Route path="/demo" element={<OpenDemo />} />
          <Route path="/" element={<Shell />}>
            <Route index element={rounds} />
            {Object.entries(PLACES).map(([path, element]) => (
              <Route key={path} path={path} element={element} />
            ))}
            <Route path="*" element={<NotFound />} />
          </Route>
        </Routes>
      </FaultBoundary>
    </BrowserRouter>
  )
}
