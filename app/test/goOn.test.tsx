import '@testing-library/jest-dom/jest-globals'
import { afterEach, expect, test } from '@jest/globals'
import { act, cleanup, render, screen } from '@testing-library/react'
import { BrowserRouter, Route, Routes, useNavigate } from 'react-router'
import { useGoOn } from '../src/shell/useGoOn.ts'

afterEach(() => {
  cleanup()
  window.history.replaceState(null, '', '/')
})

/** A form whose writing takes as long as the test says. */
function open(written: Promise<void>) {
  function Form() {
    const goOn = useGoOn()
    const navigate = useNavigate()
    const save = async () => {
      await written
      goOn('/written')
    }
    return (
      <>
        <button onClick={() => void save()}>Save</button>
        <button onClick={() => void navigate('/elsewhere')}>Elsewhere</button>
      </>
    )
  }
  window.history.replaceState(null, '', '/form')
  render(
    <BrowserRouter>
      <Routes>
        <Route path="/form" element={<Form />} />
        <Route path="/written" element={<p>Written</p>} />
        <Route path="/elsewhere" element={<p>Another page</p>} />
      </Routes>
    </BrowserRouter>,
  )
}

test('what is written leads on; a keeper who went elsewhere meanwhile stays there', async () => {
  for (const leaves of [false, true]) {
    let done = () => {}
    open(new Promise((resolve) => (done = resolve)))
    act(() => screen.getByText('Save').click())
    if (leaves) act(() => screen.getByText('Elsewhere').click())
    await act(async () => done())
    expect(screen.getByText(leaves ? 'Another page' : 'Written')).toBeInTheDocument()
    cleanup()
  }
})
