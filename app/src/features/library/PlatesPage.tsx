// Every plate there is, to leaf through: what a sign, a pest, a growth or a cell looks like, by its name.
import { signOf } from '@brinvo/core'
import { styled } from 'styled-components'
import { LinkButton, Page, Quiet, Row, Stack } from '../../design/primitives.tsx'
import { sentenceCase } from '../../design/words.ts'
import { MovingPlate } from '../../plates/MovingPlate.tsx'
import { PlateView, SHELVES } from '../../plates/Plate.tsx'
import { ORGANISMS } from '../../plates/swim.ts'

const Sheet = styled.ul`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(196px, 46%), 1fr));
  gap: 16px 14px;
  li {
    display: grid;
    gap: 4px;
    justify-items: start;
    font-size: 14px;
  }
  svg,
  canvas {
    border: 1px solid var(--hairline);
    width: 100% !important;
    height: auto !important;
  }
`
const TITLES = {
  fish: 'On a fish',
  coral: 'On a coral',
  pests: 'Pests, and what is taken for them',
  growths: 'What grows',
} as const
/** Forms that stand for health, and what no sign names. */
const NAMES: Readonly<Record<string, string>> = {
  'healthy-branch': 'Branching coral, well',
  'healthy-plate': 'Plating coral, well',
  'healthy-fleshy': 'Fleshy coral, well',
  'healthy-leather': 'Leather coral, well',
  'healthy-mat': 'Polyps on a mat, well',
  ciliate: 'Ciliate: clear and very fast',
}
const nameOf = (id: string): string => NAMES[id] ?? signOf(id)?.label ?? sentenceCase(id.replaceAll('-', ' '))

export function PlatesPage() {
  return (
    <Page>
      <Stack $gap={22}>
        <Row $between>
          <h1>Plates</h1>
          <LinkButton to="/library">The library</LinkButton>
        </Row>
        <p>
          <Quiet>Drawn to be told apart, not to be measured; a bar stands where size tells. A wash is a state.</Quiet>
        </p>
        {Object.entries(SHELVES).map(([shelf, plates]) => (
          <Stack key={shelf}>
            <h2>{TITLES[shelf as keyof typeof TITLES]}</h2>
            <Sheet>
              {plates.map(({ id }) => (
                <li key={id}>
                  <PlateView id={id} width={220} />
                  {nameOf(id)}
                </li>
              ))}
            </Sheet>
          </Stack>
        ))}
        <Stack>
          <Row $between>
            <h2>Under the microscope, at 400×</h2>
            <LinkButton to="/library/eyepiece">Whole drops, moving</LinkButton>
          </Row>
          <Sheet>
            {ORGANISMS.map(({ id, signs }) => (
              <li key={id}>
                <MovingPlate id={id} />
                {NAMES[id] ?? nameOf(signs[0] ?? id)}
              </li>
            ))}
          </Sheet>
        </Stack>
      </Stack>
    </Page>
  )
}
