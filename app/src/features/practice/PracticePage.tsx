// Practice: tanks to live, looks to take, drops to count, sums to do. Nothing of it is any part of the keeper's record.
import { practiceTanks, type PracticeTank } from '@brinvo/core/practice'
import { useRef, useState } from 'react'
import { useNavigate, useSearchParams } from 'react-router'
import { beginPractice, practised } from '../../data/practice.ts'
import { useDatabase, useRecord } from '../../data/queries.tsx'
import { repositoryOf } from '../../data/database.ts'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { practiceState } from '../../data/practice.ts'
import { Button, LinkButton, Page, Quiet, Row, Stack, Tray } from '../../design/primitives.tsx'
import { plural } from '../../design/words.ts'
import { useNotice } from '../../shell/Notices.tsx'
import { Progress } from './Progress.tsx'
import { readPracticeFile } from './ownTank.ts'

const DAY = 86_400_000

export function PracticePage() {
  const { open, mode } = useDatabase()
  const { record } = useRecord()
  const client = useQueryClient()
  const navigate = useNavigate()
  const notice = useNotice()
  const [params] = useSearchParams()
  const input = useRef<HTMLInputElement>(null)
  const [busy, setBusy] = useState(false)
  const { data: going = null } = useQuery({
    queryKey: ['practice-going'],
    queryFn: () => practiceState(repositoryOf('practice')),
    networkMode: 'always',
    staleTime: 0,
    retry: false,
  })
  const begin = async (definition: PracticeTank) => {
    setBusy(true)
    try {
      // It begins this afternoon, at an hour at which a keeper is home.
      const now = new Date()
      now.setMinutes(0, 0, 0)
      await beginPractice(definition, Math.floor(Math.random() * 1e6), now.getTime(), record.settings.zone)
      open('practice')
      // The pages may stand in the tank before this one: it is read anew, not only forgotten.
      await client.resetQueries({ queryKey: ['record', 'practice'] })
      await client.resetQueries({ queryKey: ['practice'] })
      await navigate('/')
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    } finally {
      setBusy(false)
    }
  }
  const goOn = async () => {
    open('practice')
    await navigate('/')
  }
  const take = async (file: File) => {
    try {
      await begin(readPracticeFile(await file.text()))
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  const wanted = params.get('for')
  const fits = (tank: PracticeTank) => tank.course?.protocol === wanted || tank.fits?.includes(wanted ?? '') === true
  const tanks = [...practiceTanks].sort((a, b) => Number(fits(b)) - Number(fits(a)))
  const lived = new Map<string, number>()
  for (const { what, id } of practised()) if (what === 'tank') lived.set(id, (lived.get(id) ?? 0) + 1)
  return (
    <Page>
      <Row $between style={{ alignItems: 'flex-end' }}>
        <h1>Practice</h1>
        <Row>
          <LinkButton to="/practice/looks">Looks</LinkButton>
          <LinkButton to="/library/eyepiece">Eyepiece</LinkButton>
          <LinkButton to="/practice/drops">Drops to count</LinkButton>
          <LinkButton to="/practice/drills">Sums</LinkButton>
        </Row>
      </Row>
      <p style={{ maxWidth: '70ch' }}>
        Tanks that nobody owns, with the screens of your own. Time goes when you say so; a month passes in minutes. What
        you do here stands in a record of its own, which your record never sees.
      </p>
      {going && (
        <Tray>
          <Row $between>
            <span>
              <strong>{going.begun.definition.title}</strong> stands at day{' '}
              {Math.floor((going.nowMs - going.begun.startMs) / DAY) + 1} of {going.begun.definition.days}.
            </span>
            <Row>
              <Button look="main" onPress={() => void goOn()}>
                {mode === 'practice' ? 'To its round' : 'Go on with it'}
              </Button>
            </Row>
          </Row>
        </Tray>
      )}
      <Progress />
      <Tray>
        <ul>
          {tanks.map((tank) => (
            <li key={tank.id} style={{ padding: '12px 0', borderTop: '1px solid var(--hairline)' }}>
              <Row $between>
                <Stack $gap={2} style={{ flex: '1 1 320px' }}>
                  <h2 style={{ fontSize: 18 }}>
                    {tank.title} {wanted !== null && fits(tank) && <Quiet>fits what you are about to do</Quiet>}
                  </h2>
                  <span>{tank.teaches}</span>
                  <Quiet>
                    {tank.story} {plural(tank.days, 'day')} at most.
                    {lived.has(tank.id)
                      ? ` Lived ${lived.get(tank.id) === 1 ? 'once' : `${lived.get(tank.id)} times`}.`
                      : ''}
                  </Quiet>
                </Stack>
                <Button isDisabled={busy} onPress={() => void begin(tank)} aria-label={`Begin: ${tank.title}`}>
                  Begin
                </Button>
              </Row>
            </li>
          ))}
        </ul>
      </Tray>
      <Tray>
        <Stack $gap={8}>
          <h2>One of your own</h2>
          <Quiet>
            A practice tank is a file: what is told, what is true, what happens. Take a shipped one as it is, change it,
            and open it here; or give it to somebody.
          </Quiet>
          <Row>
            <LinkButton to="/practice/write">Write one</LinkButton>
            <Button onPress={() => input.current?.click()}>Open a file</Button>
          </Row>
          <input
            ref={input}
            type="file"
            accept=".json,application/json"
            hidden
            aria-label="Practice tank file"
            onChange={(event) => {
              const file = event.target.files?.[0]
              event.target.value = ''
              if (file) void take(file)
            }}
          />
        </Stack>
      </Tray>
    </Page>
  )
}
