// Limits and presets that the work rests on: what each means, its number, and where it comes from.
import { sourceText } from '../../design/sources.ts'
import { limitTables } from '@brinvo/core'
import { styled } from 'styled-components'
import { Quiet, Stack, Tray } from '../../design/primitives.tsx'

type Limit = (typeof limitTables)[number]['limits'][number]

const Lines = styled.dl`
  margin: 0;
  > div {
    display: flex;
    flex-wrap: wrap;
    justify-content: space-between;
    gap: 2px 24px;
    padding: 7px 0;
    border-top: 1px solid var(--hairline);
  }
  > div:first-child {
    border-top: 0;
  }
  dt {
    flex: 1 1 300px;
  }
  dd {
    flex: 0 0 auto;
    margin: 0;
    font-family: 'Atkinson Hyperlegible Mono Variable', ui-monospace, monospace;
  }
`
export const limitText = ({ means, source, value, unit }: Limit): string => `${means} ${value} ${unit} ${source.text}`

/** A share is read as percent; anything else as it stands. */
const numberOf = ({ value, unit }: Limit): string =>
  unit === 'share' ? `${Number((100 * value).toPrecision(3))} %` : unit === 'times' ? String(value) : `${value} ${unit}`

export function LimitShelf({ hit }: { hit: (text: string) => boolean }) {
  return limitTables
    .map((table) => ({ ...table, limits: table.limits.filter((limit) => hit(`${table.title} ${limitText(limit)}`)) }))
    .filter(({ limits }) => limits.length > 0)
    .map(({ id, title, limits }) => (
      <Tray key={id}>
        <Stack $gap={6}>
          <h2>{title}</h2>
          <Lines>
            {limits.map((limit) => (
              <div key={limit.id}>
                <dt>
                  {limit.means}.{' '}
                  <Quiet>
                    {limit.source.text === 'Ours'
                      ? 'our own estimate'
                      : `${sourceText(limit.source.text)}${limit.source.grade === 'EST' ? ', our estimate' : ''}`}
                  </Quiet>
                </dt>
                <dd>{numberOf(limit)}</dd>
              </div>
            ))}
          </Lines>
        </Stack>
      </Tray>
    ))
}
