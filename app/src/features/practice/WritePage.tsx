// A practice tank of one's own: the text of one, checked while it is written, begun or handed on as a file.
import { practiceTanks } from '@brinvo/core/practice'
import { useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import { styled } from 'styled-components'
import { beginPractice } from '../../data/practice.ts'
import { useDatabase, useRecord } from '../../data/queries.tsx'
import { Field, Select } from '../../design/fields.tsx'
import { Button, LinkButton, Page, Quiet, Row, Stack, Tray } from '../../design/primitives.tsx'
import { saveFile } from '../../parts/saveFile.ts'
import { useNotice } from '../../shell/Notices.tsx'
import { readPracticeFile } from './ownTank.ts'

const KEPT = 'brinvo-practice-draft'
const textOf = (id: string): string => {
  const tank = practiceTanks.find((one) => one.id === id) ?? practiceTanks[0]!
  return JSON.stringify({ ...tank, id: `my-${tank.id}`, title: `My ${tank.title.toLowerCase()}` }, null, 2)
}
function draft(): string {
  try {
    return localStorage.getItem(KEPT) ?? textOf(practiceTanks[0]!.id)
  } catch {
    return textOf(practiceTanks[0]!.id)
  }
}

const Tall = styled.div`
  textarea {
    min-height: 420px;
    font-family: 'Atkinson Hyperlegible Mono Variable', monospace;
    font-size: 14px;
  }
`

export function WritePage() {
  const { record } = useRecord()
  const { open } = useDatabase()
  const navigate = useNavigate()
  const notice = useNotice()
  const [text, setText] = useState(draft)
  const [from, setFrom] = useState('')
  const found = useMemo(() => {
    try {
      return { tank: readPracticeFile(text), problem: null }
    } catch (cause) {
      return { tank: null, problem: (cause as Error).message }
    }
  }, [text])
  const write = (next: string) => {
    setText(next)
    try {
      localStorage.setItem(KEPT, next)
    } catch {
      // What is typed stands on the page.
    }
  }
  const begin = async () => {
    if (!found.tank) return
    try {
      const now = new Date()
      now.setMinutes(0, 0, 0)
      await beginPractice(found.tank, Math.floor(Math.random() * 1e6), now.getTime(), record.settings.zone)
      open('practice')
      await navigate('/')
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  return (
    <Page>
      <Row $between>
        <h1>A practice tank of your own</h1>
        <LinkButton to="/practice" $look="bare">
          Back to practice
        </LinkButton>
      </Row>
      <Tray>
        <Stack $gap={10}>
          <Row style={{ alignItems: 'flex-end' }}>
            <div style={{ flex: '1 1 240px' }}>
              <Select
                label="Begin from"
                value={from}
                onChange={setFrom}
                options={[
                  { value: '', label: 'what stands here' },
                  ...practiceTanks.map(({ id, title }) => ({ value: id, label: title })),
                ]}
              />
            </div>
            <Button isDisabled={from === ''} onPress={() => write(textOf(from))}>
              Take its text
            </Button>
          </Row>
          <Tall>
            <Field label="The tank, as JSON" value={text} onChange={write} multiline error={found.problem} />
          </Tall>
          <Quiet>
            “truth” is what the keeper does not see: true volume, what rock binds, what a kit shows for what is there
            (1.2 reads a fifth too high), what lives unseen. “calendar” is what a keeper without tests would do.
          </Quiet>
          <Row>
            <Button look="main" isDisabled={!found.tank} onPress={() => void begin()}>
              Begin it
            </Button>
            <Button
              isDisabled={!found.tank}
              onPress={() =>
                saveFile(
                  `${found.tank!.id}.json`,
                  new Blob([`${JSON.stringify(found.tank, null, 2)}\n`], { type: 'application/json' }),
                )
              }
            >
              Save as a file
            </Button>
          </Row>
        </Stack>
      </Tray>
    </Page>
  )
}
