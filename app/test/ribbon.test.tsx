import '@testing-library/jest-dom/jest-globals'
import { afterEach, expect, jest, test } from '@jest/globals'
import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react'
import { CoursePage } from '../src/features/courses/CoursePage.tsx'
import { demo, holdWorkers, open, releaseWorkers } from './harness.tsx'

jest.setTimeout(90_000)
afterEach(() => {
  releaseWorkers()
  cleanup()
})
const copper = { route: '/courses/:id', at: '/courses/copper-holding-a' }

test('the ribbon tells every day by the arrow keys, and its end with what it hangs on', async () => {
  const user = await open(<CoursePage />, copper)
  const ribbon = await screen.findByRole('slider', { name: /^Ribbon/ })
  await waitFor(() => expect(screen.getByText(/sooner if every hour is proven/)).toBeInTheDocument())
  expect(ribbon.getAttribute('aria-valuetext')).toMatch(/^Mon 23 Nov: Hold the level/)
  fireEvent.keyDown(ribbon, { key: 'ArrowLeft' })
  expect(ribbon.getAttribute('aria-valuetext')).toMatch(/^Sun 22 Nov: Hold the level.*credited/)
  fireEvent.keyDown(ribbon, { key: 'Home' })
  expect(ribbon.getAttribute('aria-valuetext')).toMatch(/^Sat 14 Nov/)
  const whole = Number(ribbon.getAttribute('aria-valuemax')) - Number(ribbon.getAttribute('aria-valuemin'))
  await user.click(screen.getByText('Week'))
  const week = Number(ribbon.getAttribute('aria-valuemax')) - Number(ribbon.getAttribute('aria-valuemin'))
  expect(week).toBe(7 * 86_400_000)
  expect(whole).toBeGreaterThan(week)
})

test('the place of the first act is held while the level is worked out, and nothing else stands in it', async () => {
  holdWorkers()
  await open(<CoursePage />, copper)
  expect(await screen.findByRole('heading', { name: 'The next act is being worked out.' })).toBeInTheDocument()
  // What can be done without the level stands below it.
  expect(screen.getByRole('button', { name: /^Enter reading: Test copper/ })).toBeInTheDocument()
  releaseWorkers()
  expect(await screen.findByText(/^Add [\d.]+ mL$/)).toBeInTheDocument()
  expect(screen.queryByText('The next act is being worked out.')).toBeNull()
})

test('a course that has run through asks first for its end, and what was never done stands below', async () => {
  const base = demo()
  const course = base.courses.get('fallow-longshore')!
  // A year and more ago: its days without fish are long over.
  const long = (days: number) => new Date(Date.now() - days * 86_400_000).toISOString()
  const body = { ...course.body, startedAt: long(400) }
  const record = {
    ...base,
    courses: new Map([[course.id, { ...course, body }]]),
    residents: new Map([...base.residents].filter(([, { body: one }]) => one.vesselId !== 'longshore')),
    entries: [],
  }
  const user = await open(<CoursePage />, { ...{ route: '/courses/:id', at: `/courses/${course.id}` }, record })
  expect(await screen.findByRole('heading', { name: 'It has run through.' })).toBeInTheDocument()
  expect(screen.getByText(/^Run through since/)).toBeInTheDocument()
  expect(screen.queryByRole('heading', { name: 'Also today' })).toBeNull()
  await user.click(screen.getByRole('button', { name: 'Say how it ended' }))
  expect(await screen.findByRole('dialog')).toBeInTheDocument()
})
