// The parts of every chart: a place told in words, the numbers as a table, a sentence for who cannot see it.
import { describe, expect, test } from '@jest/globals'
import '@testing-library/jest-dom/jest-globals'
import { render, screen, within } from '@testing-library/react'
import { CampaignChart } from '../src/features/courses/CampaignChart.tsx'
import { ChartTable } from '../src/parts/chart.tsx'

describe('a chart', () => {
  test('says what it is of, from where to where, and holds its numbers, the last first', () => {
    render(
      <CampaignChart
        title="Worms in a trap"
        unit="worms"
        rows={[
          { day: 0, value: 9 },
          { day: 3.25, value: 1, low: 0, high: 4, middle: 2 },
        ]}
        nowDay={4}
        lastDay={7}
        done={{ atMost: 0 }}
        bandWords="what eight in ten counts would find."
      />,
    )
    const figure = screen.getByRole('figure', { name: /^Worms in a trap: 2 values, from 9 to 1 worms? on day 3/ })
    expect(within(figure).getByText(/Green ground: done, none\./)).toBeInTheDocument()
    const rows = within(figure)
      .getAllByRole('row', { hidden: true })
      .map(({ textContent }) => textContent)
    expect(rows).toEqual(['dayworms' + 'expected', '3.3' + '1' + '0 to 4', '0' + '9'])
  })
  test('of arms each has its column, and what was not counted is left empty', () => {
    render(
      <CampaignChart
        title="Patch score"
        unit="steps"
        rows={[
          { day: 1, 'line-in-water': 2 },
          { day: 2, 'line-in-water': 4, 'line-control': 0 },
        ]}
        nowDay={2}
        lastDay={7}
        lines={[
          { id: 'in-water', label: 'Treated in the water' },
          { id: 'control', label: 'Left alone' },
        ]}
      />,
    )
    const cells = screen.getAllByRole('row', { hidden: true }).map((row) =>
      within(row)
        .queryAllByRole('cell', { hidden: true })
        .map(({ textContent }) => textContent),
    )
    expect(cells).toEqual([[], ['2', '4', '0'], ['1', '2', '']])
  })
  test('without numbers there is no table', () => {
    const { container } = render(<ChartTable of="nothing" heads={['day']} rows={[]} />)
    expect(container).toBeEmptyDOMElement()
  })
})
