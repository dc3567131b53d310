import '@testing-library/jest-dom/jest-globals'
import { afterEach, expect, jest, test } from '@jest/globals'
import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react'
import { useLocation, useNavigate } from 'react-router'
import { useNotice } from '../src/shell/Notices.tsx'
import { nothing, open } from './harness.tsx'

jest.setTimeout(60_000)
afterEach(cleanup)

function Press({ tone }: { readonly tone: 'done' | 'failed' }) {
  const notice = useNotice()
  const navigate = useNavigate()
  const { pathname } = useLocation()
  return (
    <>
      <button
        onClick={() => {
          notice({ text: 'Noted.', tone })
          void navigate('/there')
        }}
      >
        do it
      </button>
      <button onClick={() => void navigate(pathname === '/on' ? '/further' : '/on')}>go on</button>
    </>
  )
}

test('what was done is told on the page its press led to, and is out of the way on the next', async () => {
  await open(<Press tone="done" />, { record: nothing(), route: '/*', at: '/' })
  fireEvent.click(await screen.findByRole('button', { name: 'do it' }))
  await screen.findByText('/there')
  expect(screen.getByText('Noted.')).toBeVisible()
  let left = false
  for (let hop = 0; hop < 40 && !left; hop++) {
    await new Promise((next) => setTimeout(next, 50))
    fireEvent.click(screen.getByRole('button', { name: 'go on' }))
    left = screen.queryByText('Noted.') === null
  }
  expect(left).toBe(true)
})

test('a failure stays until it is dismissed', async () => {
  await open(<Press tone="failed" />, { record: nothing(), route: '/*', at: '/' })
  fireEvent.click(await screen.findByRole('button', { name: 'do it' }))
  await screen.findByText('/there')
  await waitFor(() => expect(document.documentElement.style.getPropertyValue('--told')).not.toBe(''))
  for (let hop = 0; hop < 8; hop++) {
    fireEvent.click(screen.getByRole('button', { name: 'go on' }))
    await new Promise((next) => setTimeout(next, 80))
  }
  expect(screen.getByText('Noted.')).toBeVisible()
  fireEvent.click(screen.getByRole('button', { name: 'Dismiss this message' }))
  await waitFor(() => expect(screen.queryByText('Noted.')).toBeNull())
  expect(document.documentElement.style.getPropertyValue('--told')).toBe('')
})
