// The rescue page: plain elements and no part of the application, so that a fault of ours cannot reach it.
import { forgetProgram } from '../data/program.ts'
import { emptyAll } from '../data/wiping.ts'
import { dayOf, defaultSettings } from '@brinvo/core'
import { DATABASES, openKeyStore } from '../data/keyStore.ts'
import { browserChannel, browserLock, createRepository } from '../data/repository.ts'
import { saveFile } from '../parts/saveFile.ts'
import { rawExport, storedOf } from './rescue.ts'
import './rescue.css'

const zone = Intl.DateTimeFormat().resolvedOptions().timeZone || 'UTC'
const freshSettings = () => defaultSettings(zone, navigator.language)
const store = openKeyStore(DATABASES.keeper)
const repository = createRepository({
  store,
  lock: browserLock(),
  channel: browserChannel(DATABASES.keeper),
  freshSettings,
})

const element = <K extends keyof HTMLElementTagNameMap>(tag: K, text = ''): HTMLElementTagNameMap[K] => {
  const made = document.createElement(tag)
  made.textContent = text
  return made
}
const main = document.getElementById('rescue')!
const said = element('p')
said.id = 'said'
said.setAttribute('role', 'status')

let exported = false
function section(title: string, words: string, buttons: readonly HTMLButtonElement[]) {
  const made = element('section')
  made.append(element('h2', title), element('p', words), ...buttons)
  main.append(made)
}
function button(label: string, job: () => Promise<string>, needsExport = false): HTMLButtonElement {
  const made = element('button', label)
  made.disabled = needsExport
  if (needsExport) made.dataset.needsExport = ''
  made.addEventListener('click', () => {
    made.disabled = true
    said.textContent = 'Working…'
    job()
      .then((words) => (said.textContent = words))
      .catch((cause: unknown) => (said.textContent = `It did not work: ${(cause as Error).message}`))
      .finally(() => {
        made.disabled = needsExport && !exported
      })
  })
  return made
}

async function draw() {
  const { keys, entries, aside, previous } = await storedOf(store, repository)
  main.append(
    element(
      'p',
      `Stored in this browser: about ${entries} entries in ${keys} values${aside > 0 ? `, ${aside} of them set aside because they could not be read` : ''}. Nothing on this page leaves the browser.`,
    ),
    said,
  )
  section(
    '1. Export what is stored, as it lies there',
    'One file with every value, readable by eye. Do this first; the presses below wait for it.',
    [
      button('Export the raw values', async () => {
        const nowMs = Date.now()
        const text = await rawExport(store, new Date(nowMs).toISOString())
        saveFile(`brinvo-raw-${dayOf(nowMs, zone)}.json`, new Blob([text], { type: 'application/json' }))
        exported = true
        for (const waiting of document.querySelectorAll<HTMLButtonElement>('[data-needs-export]'))
          waiting.disabled = false
        return 'Exported. Look whether the file is where you expect it.'
      }),
    ],
  )
  section(
    '2. Look through the record',
    'Every value is held against what this version can read. What cannot be read is set aside and named, and stands in no one’s way.',
    [
      button('Look through it', async () => {
        const apart = await repository.inspect()
        return apart === 0
          ? 'Every value can be read.'
          : `${apart} could not be read and were set aside. Open the application now; the ledger page lists them.`
      }),
    ],
  )
  section(
    '3. Take the record before the last import back',
    previous
      ? `It was kept on ${dayOf(Date.parse(previous.keptAt), zone)}${previous.entries > 0 ? ` with ${previous.entries} entries` : ''}. The one that is open now is kept in its stead.`
      : 'None is kept: there was no import, or it was let go.',
    previous
      ? [
          button(
            'Take it back',
            async () => {
              await repository.undoReplace()
              return 'The record before the import is back. Open the application.'
            },
            true,
          ),
        ]
      : [],
  )
  section('4. Start anew', 'Empties the record in this browser. Only after an export; there is no way back here.', [
    button(
      'Empty the record',
      async () => {
        await emptyAll(repository, 'keeper', freshSettings())
        return 'The record is empty. Open the application and import a file, or begin anew.'
      },
      true,
    ),
  ])
  section(
    '5. Fetch the program anew',
    'For the day on which the application itself does not open. It is forgotten here and fetched from the laptop again; the record is not touched. The laptop must answer.',
    [
      button('Forget the kept program', async () => {
        await forgetProgram()
        return 'It is forgotten. Open the application: it is fetched anew.'
      }),
    ],
  )
  const back = element('a', 'Open the application')
  back.href = '/'
  main.append(back)
}
draw().catch((cause: unknown) => {
  main.append(element('p', `What is stored cannot even be counted: ${(cause as Error).message}`), said)
})
