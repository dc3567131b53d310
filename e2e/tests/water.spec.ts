// Water understood: a logbook in and out of the record, a report to its correction and the test that ends it, a doser
// paused meanwhile, and a heater that does not switch off.
import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { expect, test } from '@playwright/test'
import { EMPTY, firstRun, visit } from './helpers.ts'
import { Keeper } from './house.ts'

test.use({ storageState: EMPTY })

test('a logbook is taken and undone, a report leads to potassium, its doser pauses, a test ends it', async ({
  page,
}) => {
  const keeper = new Keeper(page, '2027-02-01T18:00:00Z')
  await keeper.begin()
  const tank = await keeper.vessel('Shoal', { cm: [90, 45, 50], water: 'Marine', use: /Display/, since: '2026-06-01' })
  const id = tank.split('/').pop()!
  // Four weeks of a spreadsheet.
  await keeper.go(`/tests/${id}/table`)
  const rows = [28, 21, 14, 7].map((ago, i) => {
    const day = new Date(Date.parse('2027-02-01T09:00:00Z') - ago * 86_400_000).toISOString().slice(0, 10)
    return `${day};09:00;${['8,3', '8,0', '7,7', '7,4'][i]};425;1320`
  })
  await keeper.fill('Or paste the table', ['Date;Time;KH (dKH);Ca (mg/L);Mg (mg/L)', ...rows].join('\n'))
  await keeper.press('Read what is pasted')
  await keeper.press('Take 12 readings')
  await expect(page.getByText('12 readings taken from a pasted table.')).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await keeper.go(`/water/${id}`)
  await expect(page.getByText('Nothing was tested here yet')).toBeVisible()
  await keeper.go(`/tests/${id}/table`)
  await keeper.fill('Or paste the table', ['Date;Time;KH (dKH);Ca (mg/L);Mg (mg/L)', ...rows].join('\n'))
  await keeper.press('Read what is pasted')
  await keeper.press('Take 12 readings')
  await keeper.go(`/water/${id}`)
  await expect(page.getByRole('article', { name: 'Alkalinity' })).toContainText(/Falls by 0\.043 dKH a day/)
  // A doser of alkalinity stands there.
  await keeper.go(`/water/${id}/corrections`)
  await keeper.press('Register a doser')
  const doser = page.getByRole('dialog')
  await doser.getByRole('textbox', { name: 'Name' }).fill('Blue pump')
  await doser.getByRole('textbox', { name: 'Grams in a litre' }).fill('50')
  await doser.getByRole('textbox', { name: 'It pours a day' }).fill('10')
  await doser.getByRole('button', { name: 'Save' }).click()
  await expect(doser).toHaveCount(0)
  // A vial, drawn and sent.
  await keeper.go(`/laboratory?vessel=${id}`)
  await keeper.fill('Laboratory', 'North bench')
  await keeper.press('I have the vial')
  await keeper.fill('Salinity of the sample', '35')
  await keeper.press('Drawn now')
  await keeper.press('It is on its way')
  await keeper.wait(24 * 9)
  await keeper.fill(
    'Or paste the table',
    'Sampled;01.02.2027\n\nElement;Result;Unit\nCa;424;mg/L\nMg;1315;mg/L\nK;352;mg/L\nSr;7,9;mg/L\nZn;<1;µg/L\nFe;<0,5;µg/L',
  )
  await keeper.press('Read what is pasted')
  await page.getByRole('textbox', { name: /salinity/i }).fill('35')
  await keeper.press('Take the report')
  await expect(page.getByText('1 of 6 out of their lines')).toBeVisible()
  await expect(page.getByText(/This week: potassium, tested with your kit first, at most 5 mg\/L a day/)).toBeVisible()
  await page.getByRole('link', { name: 'Correct potassium' }).click()
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Corrections in Shoal')
  await keeper.choose('Salt for potassium', 'Potassium bicarbonate')
  await expect(page.getByText(/The salt for potassium brings alkalinity along: pause it meanwhile/)).toBeVisible()
  await keeper.press('Paused it')
  await expect(page.getByText(/paused since/)).toBeVisible()
  // Days old: nothing is added before the kit was asked.
  await expect(page.getByText('The last test is more than four days old: test before anything is added.')).toBeVisible()
  await keeper.read(tank, { Potassium: '355' })
  await keeper.go(`/water/${id}/corrections?add=potassium&half=yes`)
  await expect(page.getByText(/Raise by 5 mg\/L today/)).toBeVisible()
  await keeper.press('Added, log it: potassium')
  await expect(page.getByText(/Portion 2 of 6 from/)).toBeVisible()
  // Nine days on, the test that ends it; what was paused comes back.
  await keeper.wait(24 * 9, tank)
  await keeper.read(tank, { Potassium: '402' })
  await keeper.go(`/water/${id}/corrections?add=potassium`)
  await expect(page.getByText('at its target already')).toBeVisible()
  await expect(page.getByText(/Nothing that is raised now speaks against it: let it run again/)).toBeVisible()
  await keeper.press('Runs again')
  await expect(page.getByText(/paused since/)).toHaveCount(0)
})

test('a heater that does not switch off is on the round within minutes; another page may tell the devices nothing', async ({
  page,
  request,
  baseURL,
}) => {
  await firstRun(page)
  const keeper = new Keeper(page, new Date().toISOString())
  await keeper.vessel('Shoal', { cm: [60, 36, 40], water: 'Marine', use: /Quarantine/ })
  const code = () => readFileSync(fileURLToPath(new URL('../../.stamps/e2e-code', import.meta.url)), 'utf8').trim()
  await visit(page, '/devices')
  await page.getByRole('textbox', { name: 'Code' }).fill(code())
  await page.getByRole('button', { name: 'Pair', exact: true }).click()
  await expect(page.getByText('Paired, and no device has said hello yet.')).toBeVisible()
  const hello = await request.post('/devices/api/hello', {
    data: { id: 'head-of-the-test', sort: 'probe-head', name: 'Head', code: code() },
  })
  const { token } = (await hello.json()) as { token: string }
  const head = { authorization: `Bearer ${token}` }
  const warm = Array.from({ length: 6 }, (_, i) => ({
    at: Date.now() - (4.8 - i * 0.95) * 60_000,
    quantity: 'temperature',
    value: 29.4 + i * 0.2,
  }))
  for (const sample of warm)
    await request.post('/devices/api/head-of-the-test/samples', { headers: head, data: { samples: [sample] } })
  await page.getByRole('button', { name: 'Register it' }).click()
  await expect(page.getByText(/is registered for Shoal/)).toBeVisible()
  const foreign = await request.post(`${baseURL}/devices/api/head-of-the-test/samples`, {
    headers: { ...head, origin: 'http://elsewhere.example' },
    data: { samples: [] },
  })
  expect(foreign.status()).toBe(403)
  await visit(page, '/')
  await expect(page.getByText(/Temperature in Shoal is (29|30)/)).toBeVisible()
  await expect(page.getByText(/Pull the heater’s plug/)).toBeVisible()
})
