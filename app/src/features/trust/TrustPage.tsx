// How far it can be trusted: what the estimates said, held against made-up tanks whose truth they could not see.
import { styled } from 'styled-components'
import { Page, Quiet, Stack, Tag, Tray } from '../../design/primitives.tsx'
import type { TrustPart } from '../../parts/TrustLink.tsx'
import { trust } from './figures.ts'

const Table = styled.table`
  width: 100%;
  border-collapse: collapse;
  th,
  td {
    text-align: left;
    vertical-align: top;
    padding: 9px 12px 9px 0;
    border-top: 1px solid var(--hairline);
  }
  thead th {
    border-top: 0;
    color: var(--quiet);
    font-weight: 500;
    font-size: 13px;
  }
  tbody th {
    font-weight: 500;
  }
  td[data-number] {
    white-space: nowrap;
  }
  small {
    display: block;
    color: var(--quiet);
    font-size: 13px;
  }
  @media (max-width: 640px) {
    thead {
      display: none;
    }
    tr {
      display: block;
      border-top: 1px solid var(--hairline);
      padding: 8px 0;
    }
    th,
    td {
      display: block;
      border: 0;
      padding: 2px 0;
    }
  }
`
const PARTS: readonly { readonly id: TrustPart; readonly title: string; readonly words: string }[] = [
  {
    id: 'level',
    title: 'Levels and the clock that counts them',
    words:
      'Copper in one tank, from the first dose to the last credited hour, lived hour by hour by a keeper who does exactly what the screens say.',
  },
  { id: 'use', title: 'Use per day', words: 'What corals and rock take out of the water between two tests.' },
  { id: 'dark', title: 'Dark days', words: 'The forecast that calls a dark spell off before the water turns.' },
  { id: 'over', title: 'Whether a pest is gone', words: 'The chance that nothing is left, asked after every round.' },
  {
    id: 'diagnosis',
    title: 'Names for what was seen',
    words: 'Made-up findings, answered as keepers answer: some wrong, some not at all.',
  },
]
const NOT_SIMULATED = [
  'Rock and sand that take up a drug in bursts, films on glass that eat it, and light that breaks it down faster than its half-life says.',
  'Kits that drift within a course, reagents that spoil, two people who read one colour differently.',
  'Strains that a drug does not kill, and parasites whose pace differs from the published one by more than warmth explains.',
  'Anything that nobody has described yet.',
]

export function TrustPage() {
  return (
    <Page>
      <Stack $gap={16}>
        <h1>How far it can be trusted</h1>
        <p style={{ maxWidth: 720 }}>
          Every figure here comes from made-up tanks that run by their own laws. What Brinvo said of them was held
          against what was truly in them. Run on {trust.date}; the range behind a figure is where the true figure lies
          with 95 %, given how many were run. A real tank may still be stranger than all of them.
        </p>
        {PARTS.map(({ id, title, words }) => {
          const rows = trust.figures.filter((figure) => figure.id.startsWith(`${id}-`))
          if (rows.length === 0) return null
          return (
            <Tray key={id} id={id} as="section" aria-label={title}>
              <Stack $gap={8}>
                <h2>{title}</h2>
                <p>{words}</p>
                <Table>
                  <thead>
                    <tr>
                      <th scope="col">what</th>
                      <th scope="col">found</th>
                      <th scope="col">wanted</th>
                    </tr>
                  </thead>
                  <tbody>
                    {rows.map((row, i) => (
                      <tr key={row.id}>
                        <th scope="row">
                          {row.title}
                          {row.from !== rows[i - 1]?.from && <small>{row.from}</small>}
                        </th>
                        <td data-number>
                          <strong>
                            {row.value} {row.unit}
                          </strong>
                          <small>
                            {row.low} to {row.high} {row.unit}, {row.n} {row.n === 1 ? 'case' : 'cases'}
                          </small>
                        </td>
                        <td>
                          {row.wanted}{' '}
                          {row.wanted !== 'the yardstick' && (
                            <Tag $tone={row.reached ? 'good' : 'due'}>{row.reached ? 'reached' : 'not reached'}</Tag>
                          )}
                        </td>
                      </tr>
                    ))}
                  </tbody>
                </Table>
              </Stack>
            </Tray>
          )
        })}
        <Tray as="section" aria-label="What was not simulated">
          <Stack $gap={6}>
            <h2>What was not simulated</h2>
            <ul>
              {NOT_SIMULATED.map((line) => (
                <li key={line}>{line}</li>
              ))}
            </ul>
            <Quiet>Where a figure misses what was wanted it says so, and stands here until it does not.</Quiet>
          </Stack>
        </Tray>
      </Stack>
    </Page>
  )
}
