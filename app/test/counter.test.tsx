// Numbers counted with a wet thumb, and a record with pictures large enough to matter.
import '@testing-library/jest-dom/jest-globals'
import { afterEach, describe, expect, test } from '@jest/globals'
import { cleanup, render, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useState } from 'react'
import { bundle, unbundle } from '../src/data/bundle.ts'
import { Counter, countError, countOf } from '../src/features/courses/Counter.tsx'
import './harness.tsx'

afterEach(cleanup)

function Held({ field }: { field: Parameters<typeof Counter>[0]['field'] }) {
  const [value, setValue] = useState('')
  return (
    <>
      <Counter field={field} of="arch" value={value} onChange={setValue} />
      <output aria-label="held">{value}</output>
    </>
  )
}
const held = () => screen.getByRole('status', { name: 'held' })

describe('a counter', () => {
  test('whole numbers, commas where decimals are allowed, nothing below zero or over the most', () => {
    expect(countOf('3', {})).toBe(3)
    expect(countOf('3,5', { decimal: true })).toBe(3.5)
    expect(countOf('3,5', {})).toBeNull()
    expect(countOf('-1', {})).toBeNull()
    expect(countOf('101', { max: 100 })).toBeNull()
    expect(countOf('', {})).toBeNull()
    expect(countError('101', { id: 'points', label: 'Points', max: 100 })).toBe('Points: a whole number from 0 to 100.')
    expect(countError('', { id: 'points', label: 'Points' })).toBeNull()
  })
  test('buttons count up and down and stop at the ends; they say whose count it is', async () => {
    const user = userEvent.setup()
    render(<Held field={{ id: 'score', label: 'Stars', max: 2 }} />)
    const more = screen.getByRole('button', { name: 'One more: Stars, arch' })
    for (let i = 0; i < 4; i++) await user.click(more)
    expect(held()).toHaveTextContent('2')
    const less = screen.getByRole('button', { name: 'One less: Stars, arch' })
    for (let i = 0; i < 4; i++) await user.click(less)
    expect(held()).toHaveTextContent('0')
  })
  test('where each number has its word, the word is chosen', async () => {
    const user = userEvent.setup()
    render(<Held field={{ id: 'score', label: 'Look', max: 2, levels: ['as before', 'pink', 'gone'] }} />)
    await user.click(screen.getByText('pink'))
    expect(held()).toHaveTextContent('1')
  })
})

describe('a large record with pictures', () => {
  test('half a megabyte of text and a picture come back byte for byte', async () => {
    const text = JSON.stringify({ words: Array.from({ length: 40_000 }, (_, i) => `entry ${i * 7919}`) })
    expect(text.length).toBeGreaterThan(500_000)
    const picture = new Blob([new Uint8Array([1, 2, 3, 250])], { type: 'image/png' })
    const zip = await bundle(text, { ids: () => Promise.resolve(['one']), get: () => Promise.resolve(picture) })
    expect(zip.size).toBeLessThan(text.length)
    const back = await unbundle(new File([await zip.arrayBuffer()], 'record.zip'))
    expect(back.text).toBe(text)
    expect(new Uint8Array(await back.photos.get('one')!.arrayBuffer())).toEqual(new Uint8Array([1, 2, 3, 250]))
    await expect(unbundle(new File([(await zip.arrayBuffer()).slice(0, 2000)], 'cut.zip'))).rejects.toThrow(
      /cannot be opened: it seems broken or cut off/,
    )
  })
})
