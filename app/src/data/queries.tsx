// The record for React: one query for the record, one per course estimate, mutations that write first and show then.
import {
  actContext,
  activeOf,
  createPlanner,
  courseInputs,
  instantOf,
  knownLevels,
  limitOf,
  revised,
  runningCourses,
  type ActAnswer,
  type ActiveLedger,
  type CourseEstimate,
  type CourseFault,
  type CoursePlan,
  type Draft,
  type Entry,
  type Intent,
  type KeeperRecord,
  type KnownLevel,
  type Override,
  type RegisterDocument,
  type Settings,
} from '@brinvo/core'
import { queryOptions, useQueries, useQuery, useQueryClient } from '@tanstack/react-query'
import { createContext, use, useCallback, useEffect, useMemo, useState, type ReactNode } from 'react'
import { keptEstimate } from './keptEstimates.ts'
import { v7 } from 'uuid'
import { compute } from '../workers/client.ts'
import { emptyAll, finishEmptying } from './wiping.ts'
import { clockMs, onClock, setPracticeClock } from './clock.ts'
import { openPractice } from './practice.ts'
import { prepareDemo, repositoryOf, storeMode, storedMode } from './database.ts'
import type { Mode } from './keyStore.ts'
import { CAME_IN, type CameIn, type Repository } from './repository.ts'

interface Database {
  readonly mode: Mode
  readonly repository: Repository
  readonly open: (mode: Mode) => void
}
const DatabaseContext = createContext<Database | null>(null)

/** Opens the chosen database and keeps this tab in step with the others. */
export function DatabaseProvider({ children, initial }: { children: ReactNode; initial?: Mode }) {
  const [mode, setMode] = useState<Mode>(() => initial ?? storedMode())
  const client = useQueryClient()
  const repository = repositoryOf(mode)
  const open = useCallback((next: Mode) => {
    storeMode(next)
    if (next !== 'practice') setPracticeClock(null)
    setMode(next)
  }, [])
  useEffect(
    () => repository.subscribe(() => void client.invalidateQueries({ queryKey: ['record', mode] })),
    [client, mode, repository],
  )
  const value = useMemo(() => ({ mode, repository, open }), [mode, repository, open])
  return <DatabaseContext value={value}>{children}</DatabaseContext>
}
export function useDatabase(): Database {
  const found = use(DatabaseContext)
  if (!found) throw new Error('useDatabase: outside its provider')
  return found
}

const recordQuery = (mode: Mode, repository: Repository) =>
  queryOptions({
    queryKey: ['record', mode],
    queryFn: async () => {
      await finishEmptying(repository, mode)
      if (mode === 'demo') await prepareDemo(repository, Date.now())
      if (mode === 'practice') await openPractice(repository)
      return repository.load()
    },
    networkMode: 'always', // the disk does not need a connection
    staleTime: Infinity, // only our own writes change it, and they say so
    retry: false, // a damaged record does not heal on the third read
  })

/** The record as loaded, or the reason why not. */
export function useRecordQuery() {
  const { mode, repository } = useDatabase()
  return useQuery(recordQuery(mode, repository))
}

const RecordContext = createContext<{ record: KeeperRecord; active: ActiveLedger; seenMs: number } | null>(null)
/** Hands the loaded record down; below it every component may take the record for granted. */
export function RecordProvider({ record, children }: { record: KeeperRecord; children: ReactNode }) {
  const value = useMemo(() => ({ record, active: activeOf(record.entries), seenMs: clockMs() }), [record])
  return <RecordContext value={value}>{children}</RecordContext>
}
export function useRecord() {
  const found = use(RecordContext)
  if (!found) throw new Error('useRecord: outside its provider')
  return found
}

/** A document that is not on record yet. */
export const newDocument = <R extends RegisterDocument['register']>(
  register: R,
  body: Extract<RegisterDocument, { register: R }>['body'],
  id: string = v7(),
) =>
  ({ register, id, revision: 1, savedAt: instantOf(clockMs()), body, history: [] }) as unknown as Extract<
    RegisterDocument,
    { register: R }
  >

/** The time, every half minute; enough for a plan and never a timer that must not die. */
export function useNow(everyMs = 30_000): number {
  const [now, setNow] = useState(() => clockMs())
  useEffect(() => {
    const tick = () => setNow(clockMs())
    const timer = setInterval(tick, everyMs)
    document.addEventListener('visibilitychange', tick)
    const off = onClock(tick)
    return () => {
      off()
      clearInterval(timer)
      document.removeEventListener('visibilitychange', tick)
    }
  }, [everyMs])
  return now
}

/** What a worker needs of one course; none of a course that cannot be worked out, which its plan says. */
function inputsOrNone(...of: Parameters<typeof courseInputs>) {
  try {
    return courseInputs(...of)
  } catch {
    return null
  }
}

export interface Plans {
  readonly nowMs: number
  readonly plans: readonly CoursePlan[]
  /** Courses that cannot be worked out: each stands alone with its fault. */
  readonly faults: readonly CourseFault[]
  readonly estimates: ReadonlyMap<string, CourseEstimate>
  /** Levels that the estimates vouch for: every act is asked with them. */
  readonly known: readonly KnownLevel[]
  readonly pending: boolean
}

/** So many minutes an estimate speaks for now while the next one is worked out. */
const ESTIMATE_STANDS_MIN = limitOf('estimate-stands')

/** Estimates of all running courses, memoised by the entries they depend on, and the plan made from them. */
export function usePlans(): Plans {
  const { record, active, seenMs } = useRecord()
  // What was just written must never lie in this page's future.
  // To the half minute ahead: an entry written now changes the ledger, not also the time, so that the plans of other
  // vessels stand as they are.
  const nowMs = Math.ceil(Math.max(useNow(), seenMs) / 30_000) * 30_000
  const five = Math.floor(nowMs / 300_000)
  const wanted = useMemo(
    () =>
      runningCourses(record, nowMs).flatMap((course) => {
        const found = inputsOrNone(record, active, course, nowMs)
        if (!found) return []
        const { inputs } = found
        // Apart from the time, which passes without anything being written.
        const written = JSON.stringify({ ...inputs, nowH: 0, nextTestH: 0 })
        return [{ courseId: course.id, inputs, key: JSON.stringify(inputs), written }]
      }),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- inputs are rounded to five minutes
    [record, active, five],
  )
  const results = useQueries({
    queries: wanted.map(({ inputs, key, courseId }) => ({
      queryKey: ['estimate', courseId, key],
      queryFn: ({ signal }: { signal: AbortSignal }) =>
        keptEstimate(courseId, key, () => compute.run('estimate', inputs, signal)),
      staleTime: Infinity,
      gcTime: 300_000,
      retry: false,
      networkMode: 'always' as const,
    })),
  })
  const stamps = results.map(({ dataUpdatedAt }) => dataUpdatedAt).join()
  /** What each course was worked out to last, and from what was written then. */
  const [latest] = useState(() => new Map<string, { estimate: CourseEstimate; written: string; five: number }>())
  const estimates = useMemo(() => {
    const map = new Map<string, CourseEstimate>()
    wanted.forEach(({ courseId, written }, i) => {
      const data = results[i]?.data
      if (data) latest.set(courseId, { estimate: data, written, five })
      const known = latest.get(courseId)
      if (!known) return
      // Five minutes later the last answer stands until the next is there; after something was written, or after a
      // night, it is drawn, but an amount from before it is not offered: it would be poured.
      const stands = known.written === written && (five - known.five) * 5 <= ESTIMATE_STANDS_MIN
      map.set(courseId, stands ? known.estimate : { ...known.estimate, stale: true })
    })
    return map
    // eslint-disable-next-line react-hooks/exhaustive-deps -- results change identity on every render; their stamps do not
  }, [wanted, stamps, five])
  const [planner] = useState(createPlanner)
  const { plans, faults } = useMemo(
    () => planner({ record, active, estimates, nowMs }),
    [planner, record, active, estimates, nowMs],
  )
  const pending = results.some(({ isFetching }) => isFetching)
  const known = useMemo(() => knownLevels(record, active, estimates, nowMs), [record, active, estimates, nowMs])
  return useMemo(
    () => ({ nowMs, plans, faults, estimates, known, pending }),
    [nowMs, plans, faults, estimates, known, pending],
  )
}

export type { Draft } from '@brinvo/core'

/** An act as a dialog prepared it: its id is minted once, so that the same press twice is one act. */
export interface ActOptions {
  readonly actId: string
  readonly override: Override
  /** The answer the keeper was shown: what is graver now is told before anything is written. */
  readonly shown?: ActAnswer
  /** Levels that estimates vouched for when the act was prepared. */
  readonly known?: readonly KnownLevel[]
}
export type Acted =
  | { readonly ok: true; readonly entries: readonly Entry[]; readonly said: string; readonly undoable: boolean }
  | { readonly ok: false; readonly message: string; readonly answer: ActAnswer | null }

/** A refused act, thrown where the caller draws no refusals of its own. */
export class ActRefused extends Error {
  override readonly name = 'ActRefused'
}

let writing = 0
/** Writes, and shows on the page that something is being written: what shows nothing any more is on disk. */
async function written<T>(write: () => Promise<T>): Promise<T> {
  const { dataset } = document.documentElement
  dataset['writing'] = String(++writing)
  try {
    return await write()
  } finally {
    if (--writing === 0) delete dataset['writing']
    else dataset['writing'] = String(writing)
  }
}

/** What came in by the last joining and was not seen yet; null where there is nothing. */
export function useCameIn(): { readonly came: CameIn | null; readonly seen: () => Promise<void> } {
  const { mode, repository } = useDatabase()
  const client = useQueryClient()
  const queryKey = ['came-in', mode]
  const { data = null } = useQuery({
    queryKey,
    queryFn: async () => {
      const text = (await repository.facts())[CAME_IN]
      return text ? (JSON.parse(text) as CameIn) : null
    },
    networkMode: 'always',
    staleTime: Infinity,
    retry: false,
  })
  return {
    came: data,
    async seen() {
      await repository.setFact(CAME_IN, '')
      await client.invalidateQueries({ queryKey })
    },
  }
}

/** Everything that changes the record. Each resolves when the change is written. */
export function useActions() {
  const { mode, repository } = useDatabase()
  const client = useQueryClient()
  const { record } = useRecord()
  return useMemo(() => {
    const key = ['record', mode]
    const touch = async () => {
      if (mode === 'demo') await repository.setFact('touched', 'yes')
    }
    /** Answers an intent by the record of this moment and, where it may pass, writes it: the one way to the ledger. */
    const act = async (intent: Intent, { actId, override, shown, known = [] }: ActOptions): Promise<Acted> => {
      // It happened when it was pressed, however long the writing takes.
      const nowMs = clockMs()
      const done = await written(async () => {
        // The acts come with the first press, not with the first view.
        const { commitAct } = await import('./house.ts')
        return repository.commit((now) =>
          // An estimate made from another record vouches for nothing.
          commitAct(actContext(now, nowMs, now === client.getQueryData(key) ? known : []), intent, {
            actId,
            override,
            ...(shown ? { shown } : {}),
          }),
        )
      })
      if (!done.ok) return { ok: false, message: done.problem.message, answer: done.problem.answer }
      await touch()
      client.setQueryData(key, done.record)
      return { ok: true, entries: done.entries, said: done.said, undoable: done.undoable }
    }
    /** Notes, ticks and register documents: told what speaks against them by a thrown sentence. */
    const note = async (
      documents: readonly RegisterDocument[],
      drafts: readonly Draft[],
      override: Override = { words: '', confirmed: true },
    ): Promise<readonly Entry[]> => {
      const done = await act({ kind: 'note', drafts, documents, said: '' }, { actId: v7(), override })
      if (!done.ok) throw new ActRefused(done.message)
      return done.entries
    }
    return {
      act,
      /** Adds entries that leave no dose behind; `atMs` defaults to now. Returns them as stored. */
      append: (drafts: readonly Draft[], override?: Override) => note([], drafts, override),
      /** Documents and entries that belong together: all of them are on record afterwards, or none. */
      commit: note,
      /** A new document. */
      async create<R extends RegisterDocument['register']>(
        register: R,
        body: Extract<RegisterDocument, { register: R }>['body'],
        id: string = v7(),
      ) {
        const document = newDocument(register, body as never, id) as unknown as Extract<
          RegisterDocument,
          { register: R }
        >
        await note([document], [])
        return document
      },
      /** A document's next revision. */
      async revise<D extends RegisterDocument>(document: D, body: D['body']): Promise<D> {
        const next = revised(document, body, instantOf(clockMs()))
        await note([next], [])
        return next
      },
      async saveSettings(settings: Settings) {
        await repository.saveSettings(settings)
        const before = client.getQueryData<KeeperRecord>(key) ?? record
        client.setQueryData(key, { ...before, settings })
      },
      /** Takes an entry out of the account. */
      async voidEntry(entry: Entry, reason: string) {
        return note([], [{ kind: 'void', voids: entry.id, reason } as Draft])
      },
      async replaceAll(next: KeeperRecord, options: { readonly inPlace?: boolean } = {}) {
        await repository.replaceAll(next, undefined, { keep: true, ...options })
        await touch()
        client.setQueryData(key, next)
      },
      /** Another record of this house joins this one. */
      async join(theirs: KeeperRecord) {
        const joined = await written(() => repository.join(theirs, clockMs()))
        await touch()
        client.setQueryData(key, joined.record)
        await client.invalidateQueries({ queryKey: ['came-in', mode] })
        return joined
      },
      /** The newest entries of a record that was lost join this one. */
      async putLostBack() {
        const joined = await written(() => repository.putLostBack(clockMs()))
        client.setQueryData(key, joined.record)
        await client.invalidateQueries({ queryKey: ['came-in', mode] })
      },
      async undoReplace() {
        await repository.undoReplace()
        await repository.setFact(CAME_IN, '')
        await client.invalidateQueries({ queryKey: ['came-in', mode] })
        await client.invalidateQueries({ queryKey: key })
      },
      async wipe(settings: Settings) {
        await emptyAll(repository, mode, settings)
        // An emptied demonstration stays empty until somebody opens it anew.
        await touch()
        await client.invalidateQueries({ queryKey: key })
      },
    }
  }, [client, mode, record, repository])
}
export type Actions = ReturnType<typeof useActions>
