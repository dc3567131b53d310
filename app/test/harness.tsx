// Renders a place inside the real providers, on a real (fake-indexeddb) repository, with the worker's code in line.
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { configure, render, screen, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { ReactNode } from 'react'
import { MemoryRouter, Route, Routes, useLocation } from 'react-router'
import { defaultSettings, recordOf, type KeeperRecord } from '@brinvo/core'
import { readTable } from '@brinvo/core/tables'
import { demoRecord } from '@brinvo/core/demo'
import { repositoryOf } from '../src/data/database.ts'
import { DatabaseProvider, RecordProvider, useRecordQuery } from '../src/data/queries.tsx'
import { LogProvider } from '../src/shell/LogContext.tsx'
import { NoticeProvider } from '../src/shell/Notices.tsx'
import { ConcernsProvider } from '../src/shell/ConcernsContext.tsx'
import { PlansProvider } from '../src/shell/PlansContext.tsx'
import { handle } from '../src/workers/handle.ts'
import { openFile } from '../src/workers/openFile.ts'
import type { Jobs, Reply, Request } from '../src/workers/protocol.ts'

// The worker's code runs in line here and holds the page up for a while: waiting may take longer than a second.
configure({ asyncUtilTimeout: 15_000, defaultHidden: true })

/** Answers that are held back: what a page shows while something is being worked out. */
const held: (() => void)[] = []
let holding = false
export function holdWorkers(): void {
  holding = true
}
export function releaseWorkers(): void {
  holding = false
  for (const answer of held.splice(0)) answer()
}

class InlineWorker {
  onmessage: ((event: { data: Reply }) => void) | null = null
  onerror = null
  postMessage(request: Request) {
    // Files have a worker of their own in the browser; both answer here.
    const answer = (): Reply => {
      if (request.name === 'table') {
        const { bytes, kind, zone, nowMs, answers } = request.input as Jobs['table']['input']
        return { kind: 'done', jobId: request.jobId, output: readTable(bytes, kind, zone, nowMs, answers) }
      }
      return request.name === 'open'
        ? { kind: 'done', jobId: request.jobId, output: openFile(request.input as Parameters<typeof openFile>[0]) }
        : handle(coarse(structuredClone(request)))
    }
    const give = () => this.onmessage?.({ data: answer() })
    if (holding) held.push(give)
    else setTimeout(give, 0)
  }
  terminate() {
    this.onmessage = null
  }
}
Object.assign(globalThis, { Worker: InlineWorker })
// jsdom's File cannot be read as text.
File.prototype.text ??= function text(this: File) {
  return new Promise((resolve) => {
    const reader = new FileReader()
    reader.onload = () => resolve(String(reader.result))
    reader.readAsText(this)
  })
}
Blob.prototype.arrayBuffer ??= function arrayBuffer(this: Blob) {
  return new Promise((resolve) => {
    const reader = new FileReader()
    reader.onload = () => resolve(reader.result as ArrayBuffer)
    reader.readAsArrayBuffer(this)
  })
}
Object.assign(URL, { createObjectURL: () => 'blob:test', revokeObjectURL: () => undefined })

export const ZONE = 'Europe/Berlin'
/** The same estimate on a coarse grid: these tests look at pages, not at the posterior. */
function coarse(request: Request): Request {
  if ('gridSize' in request.input) Object.assign(request.input, { gridSize: 12 })
  if (request.name === 'compare')
    Object.assign(request.input, { samples: Math.min(4, (request.input as { samples: number }).samples) })
  return request
}

/** The demonstration as of now. */
export const demo = (): KeeperRecord => demoRecord({ seed: 7, anchorMs: Date.now(), zone: ZONE })
/** A record with nothing in it but a keeper who has read the safety page. */
export const nothing = (): KeeperRecord =>
  recordOf({ ...defaultSettings(ZONE), safetyReadAt: '2026-01-01T00:00:00.000Z' }, [], [])

const repository = repositoryOf('keeper')
/** What is on disk now. */
export const stored = (): Promise<KeeperRecord> => repository.load()

function Loaded({ children }: { children: ReactNode }) {
  const { data } = useRecordQuery()
  if (!data) return null
  return (
    <RecordProvider record={data}>
      <NoticeProvider>
        <PlansProvider>
          <ConcernsProvider>
            <LogProvider>{children}</LogProvider>
          </ConcernsProvider>
        </PlansProvider>
      </NoticeProvider>
    </RecordProvider>
  )
}
function Where() {
  return <output aria-label="address">{useLocation().pathname}</output>
}

/** Puts a record on disk and opens a place on it; `route` is its pattern, `at` its address. */
export async function open(element: ReactNode, options: { record?: KeeperRecord; route?: string; at?: string } = {}) {
  await repository.replaceAll(options.record ?? demo())
  const { route = '/', at = route } = options
  render(
    <QueryClientProvider client={new QueryClient()}>
      <DatabaseProvider initial="keeper">
        <MemoryRouter initialEntries={[at]}>
          <Loaded>
            <Where />
            <Routes>
              <Route path={route} element={element} />
              <Route path="*" element={<p>elsewhere</p>} />
            </Routes>
          </Loaded>
        </MemoryRouter>
      </DatabaseProvider>
    </QueryClientProvider>,
  )
  await screen.findByLabelText('address')
  const user = userEvent.setup({ delay: null, pointerEventsCheck: 0 })
  // Words go in at once: a page drawn anew for every letter would be most of the time of these tests.
  const type: typeof user.type = async (field, words, how) => {
    if (/[{[]/.test(words)) return user.type(field, words, how)
    await user.click(field)
    await user.paste(words)
  }
  return { ...user, type }
}

const PARTS = ['year', 'month', 'day', 'hour', 'minute']
/** Types a day, or a day and a time, part by part, as a keeper does. */
export async function typeDate(
  user: ReturnType<typeof userEvent.setup>,
  scope: HTMLElement,
  label: string | RegExp,
  iso: string,
): Promise<void> {
  const group = within(scope).getByRole('group', { name: label })
  for (const [i, value] of iso.split(/\D/).entries()) {
    await user.click(within(group).getByRole('spinbutton', { name: new RegExp(`^${PARTS[i]!}`) }))
    await user.keyboard(value)
  }
}
