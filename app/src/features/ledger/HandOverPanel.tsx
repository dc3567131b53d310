// The record from one device to another over the local server: one shows a code, the other reads it; both end with the union.
import { joinRecords } from '@brinvo/core'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { lazy, Suspense, useEffect, useMemo, useRef, useState } from 'react'
import { codeIn, giveBy, newCode, takeBy, type Came } from '../../data/handover.ts'
import { photosOf } from '../../data/photos.ts'
import { useActions, useDatabase, useRecord } from '../../data/queries.tsx'
import { Dialog } from '../../design/Dialog.tsx'
import { Field } from '../../design/fields.tsx'
import { Button, Quiet, Row, Stack, Tray } from '../../design/primitives.tsx'
import { plural } from '../../design/words.ts'
import { useNotice } from '../../shell/Notices.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { useTakeIn } from './useTakeIn.ts'
import { WhatJoins } from './WhatJoins.tsx'

const Squares = lazy(() => import('./Squares.tsx').then(({ Squares: shown }) => ({ default: shown })))
const CodeCamera = lazy(() => import('./CodeCamera.tsx').then(({ CodeCamera: shown }) => ({ default: shown })))

const CARRIES = '#hand-over='

/** The code that this page was opened with, taken out of the address at once: it is worth something. */
function codeOfAddress(): string | null {
  if (!window.location.hash.startsWith(CARRIES)) return null
  const code = codeIn(window.location.hash)
  window.history.replaceState(window.history.state, '', window.location.pathname + window.location.search)
  return code
}

export function HandOverPanel() {
  const { mode } = useDatabase()
  const [opened] = useState(codeOfAddress)
  const [way, setWay] = useState<'show' | 'read' | null>(opened === null ? null : 'read')
  if (mode !== 'keeper') return null
  const close = () => setWay(null)
  return (
    <Tray role="region" aria-label="Hand over">
      <Stack $gap={8}>
        <h3>Phone and laptop</h3>
        <Quiet>
          Two devices with the same record bring it together here: one shows a code, the other reads it. It travels
          encrypted, through this house alone, and is kept nowhere else.
        </Quiet>
        <Row>
          <Button onPress={() => setWay('show')}>Show a code</Button>
          <Button onPress={() => setWay('read')}>Read a code</Button>
        </Row>
      </Stack>
      {way === 'show' && <Show onClose={close} />}
      {way === 'read' && <Read opened={opened} onClose={close} />}
    </Tray>
  )
}

/** Runs one hand-over; stopped when its dialog goes. */
function useMeeting() {
  const { record } = useRecord()
  const { mode } = useDatabase()
  const [words, setWords] = useState<string | null>(null)
  const [fault, setFault] = useState<string | null>(null)
  const [came, setCame] = useState<Came | null>(null)
  const stop = useRef<AbortController | null>(null)
  useEffect(() => () => stop.current?.abort(), [])
  const run = async (way: typeof giveBy, code: string, first: string) => {
    stop.current?.abort()
    const own = (stop.current = new AbortController())
    setFault(null)
    setWords(first)
    try {
      const found = await way(code, {
        record,
        photos: photosOf(mode),
        nowMs: Date.now(),
        signal: own.signal,
        told: (text) => {
          if (stop.current === own) setWords(text)
        },
      })
      if (stop.current === own) setCame(found)
    } catch (cause) {
      if (!own.signal.aborted) setFault((cause as Error).message)
    } finally {
      if (stop.current === own) setWords(null)
    }
  }
  return { words, fault, came, run }
}

function Show({ onClose }: { readonly onClose: () => void }) {
  const { words, fault, came, run } = useMeeting()
  const [code, setCode] = useState(newCode)
  const { data: addresses } = useQuery({
    queryKey: ['addresses'],
    queryFn: async ({ signal }) =>
      ((await (await fetch('/addresses', { signal })).json()) as { addresses: readonly string[] }).addresses,
    networkMode: 'always',
    retry: false,
    staleTime: 0,
  })
  useEffect(() => {
    void run(giveBy, code, 'Waiting for the other device…')
    // eslint-disable-next-line react-hooks/exhaustive-deps -- one meeting for each code
  }, [code])
  if (came) return <Arrived came={came} onClose={onClose} />
  const here = /^(localhost|127\.|\[)/.test(window.location.hostname) ? addresses?.[0] : window.location.origin
  return (
    <Dialog title="Let the other device read this" isOpen onClose={onClose}>
      <Row $gap={18} style={{ alignItems: 'center' }}>
        <Suspense fallback={null}>
          <Squares text={here === undefined ? code : `${here}/ledger${CARRIES}${code.replaceAll(' ', '')}`} />
        </Suspense>
        <Stack $gap={6} style={{ flex: '1 1 200px' }}>
          <strong className="mono" style={{ fontSize: 24, lineHeight: 1.5, letterSpacing: '0.04em' }} data-code="">
            {code}
          </strong>
          <Quiet>
            On the other device: Ledger, “Read a code”. With the camera, or typed. It stands for ten minutes and works
            once.
          </Quiet>
          {here !== undefined && <Quiet>Its address there: {here}</Quiet>}
        </Stack>
      </Row>
      {addresses?.length === 0 && /^(localhost|127\.)/.test(window.location.hostname) && (
        <p>
          Only this machine can reach it now. For a phone, start Brinvo with <code>npm run demo -- --lan</code>; what it
          prints leads the phone here.
        </p>
      )}
      {words !== null && <p role="status">{words}</p>}
      {fault !== null && (
        <>
          <p role="alert">{fault}</p>
          <Row>
            <Button look="main" onPress={() => setCode(newCode())}>
              Show a new code
            </Button>
          </Row>
        </>
      )}
    </Dialog>
  )
}

function Read({ opened, onClose }: { readonly opened: string | null; readonly onClose: () => void }) {
  const { words, fault, came, run } = useMeeting()
  const [typed, setTyped] = useState(opened ?? '')
  const [camera, setCamera] = useState(false)
  const code = codeIn(typed)
  const go = (found: string) => {
    setCamera(false)
    setTyped(found)
    void run(takeBy, found, 'Meeting the other device…')
  }
  if (came) return <Arrived came={came} onClose={onClose} />
  return (
    <Dialog title="Read the code of the other device" isOpen onClose={onClose}>
      {camera ? (
        <Suspense fallback={null}>
          <CodeCamera onCode={go} onClose={() => setCamera(false)} />
        </Suspense>
      ) : (
        <>
          <Field
            label="Code"
            value={typed}
            onChange={setTyped}
            hint="Sixteen letters and digits; small or large, with or without spaces."
            error={
              typed.replaceAll(/\s/g, '').length >= 16 && code === null
                ? 'This is no code: count its letters.'
                : undefined
            }
            autoFocus
          />
          <Row>
            <Button
              look="main"
              isDisabled={code === null || words !== null}
              onPress={() => {
                if (code !== null) go(code)
              }}
            >
              Meet the other device
            </Button>
            <Button isDisabled={words !== null} onPress={() => setCamera(true)}>
              Read it with the camera
            </Button>
          </Row>
        </>
      )}
      {words !== null && <p role="status">{words}</p>}
      {fault !== null && <p role="alert">{fault}</p>}
    </Dialog>
  )
}

/** What the other device had: joined by a press, or taken whole where nothing stands here. */
function Arrived({ came, onClose }: { readonly came: Came; readonly onClose: () => void }) {
  const { record } = useRecord()
  const { mode } = useDatabase()
  const { replaceAll } = useActions()
  const { nowMs } = useThePlans()
  const takeIn = useTakeIn()
  const notice = useNotice()
  const client = useQueryClient()
  const here = record.entries.length + record.vessels.size > 0
  const there = came.theirs.entries.length + came.theirs.vessels.size > 0
  const rehearsed = useMemo(() => joinRecords(record, came.theirs, nowMs), [record, came, nowMs])
  const nothing = rehearsed.cameEntries.length + rehearsed.cameDocuments.length === 0 && came.pictures.size === 0
  const takeWhole = async () => {
    try {
      for (const [id, picture] of came.pictures) await photosOf(mode).put(id, picture)
      await replaceAll(came.theirs)
      await client.invalidateQueries({ queryKey: ['photo-ids', mode] })
      onClose()
      notice({
        text: `The record is here now: ${plural(came.theirs.entries.length, 'entry', 'entries')}.`,
        tone: 'done',
      })
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  return (
    <Dialog
      title={!there ? 'The two have met' : nothing ? 'Both have the same' : 'Join what came?'}
      isOpen
      onClose={onClose}
    >
      {!there ? (
        <p>
          {here
            ? 'The other device has no record yet. What stands here went over to it; accept it there.'
            : 'Neither of the two has a record yet.'}
        </p>
      ) : !here ? (
        <p>
          Nothing stands on this device yet. The other one’s record comes whole, with its settings:{' '}
          {plural(came.theirs.vessels.size, 'vessel')}, {plural(came.theirs.entries.length, 'entry', 'entries')}
          {came.pictures.size > 0 ? `, ${plural(came.pictures.size, 'picture')}` : ''}.
        </p>
      ) : (
        <>
          {rehearsed.strange && (
            <p>
              <strong>Nothing of it is known here:</strong> it may be another keeper’s. Joined, both houses would stand
              on one shelf.
            </p>
          )}
          <WhatJoins joined={rehearsed} />
          {came.pictures.size > 0 && <p>{plural(came.pictures.size, 'picture')} with it.</p>}
        </>
      )}
      <Row>
        {there && !nothing && (
          <Button
            look="main"
            onPress={() =>
              void (here
                ? takeIn(came.theirs, came.pictures).then((done) => {
                    if (done) onClose()
                  })
                : takeWhole())
            }
          >
            {here ? 'Join the records' : 'Take it'}
          </Button>
        )}
        <Button look={nothing || !there ? 'main' : 'bare'} onPress={onClose}>
          {nothing || !there ? 'Good' : 'Leave it'}
        </Button>
      </Row>
    </Dialog>
  )
}
