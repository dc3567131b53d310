// Kit, water and product for the whole course before it starts, against what stands on the shelf; printable.
import { courseNeeds, type CourseNeedsOptions, type ProductNeed } from '@brinvo/core'
import { useMemo } from 'react'
import { styled } from 'styled-components'
import { useRecord } from '../../data/queries.tsx'
import { Button, Quiet, Row, Stack, Tag, Tray } from '../../design/primitives.tsx'
import { WorkingButton } from '../../design/Working.tsx'
import { litresText, plural } from '../../design/words.ts'

const List = styled.ul`
  display: grid;
  gap: 10px;
  @media print {
    li::before {
      content: '☐ ';
    }
  }
`

/** Prints this list and nothing of the page around it. */
function printAlone(): void {
  document.documentElement.dataset.printAlone = ''
  window.print()
  delete document.documentElement.dataset.printAlone
}

export function NeedsPanel(options: Omit<CourseNeedsOptions, 'record' | 'active'>) {
  const { record, active } = useRecord()
  const { protocol, variantId, vesselId, products, parameters, nowMs } = options
  const needs = useMemo(
    () => courseNeeds({ record, active, protocol, variantId, vesselId, products, parameters, nowMs }),
    [record, active, protocol, variantId, vesselId, products, parameters, nowMs],
  )
  const { settings } = record
  if (needs.products.length + needs.tests.length + needs.kit.length === 0 && !(needs.waterL! > 0)) return null
  const short = needs.products.some(({ short: runsOut, expires }) => runsOut || expires)
  return (
    <Tray $tone={short ? 'caution' : 'plain'} className="print-alone">
      <Stack $gap={10}>
        <Row $between>
          <h3>Have this first</h3>
          <Button look="bare" onPress={printAlone}>
            Print
          </Button>
        </Row>
        <Quiet>
          {protocol.title}: {needs.days === 0 ? 'done today' : plural(needs.days, 'day')}. A quarter more of a product,
          a fifth more water.
        </Quiet>
        <List>
          {needs.products.map((need) => (
            <ProductLine key={need.roleId} need={need} />
          ))}
          {needs.waterL !== null && needs.waterL > 0 && (
            <li>
              <strong>{litresText(needs.waterWithMarginL!, settings)}</strong> of prepared water over the whole course{' '}
              <Quiet>({litresText(needs.waterL, settings)} and a fifth)</Quiet>
            </li>
          )}
          {needs.tests.map(({ role, label, times }) => (
            <li key={role}>
              {label}: enough for <strong>{times}</strong> {times === 1 ? 'test' : 'tests'} and a few doubtful ones
            </li>
          ))}
          {needs.kit.map((item) => (
            <li key={item}>{item}</li>
          ))}
        </List>
      </Stack>
    </Tray>
  )
}

function ProductLine({ need }: { need: ProductNeed }) {
  const { record } = useRecord()
  const bottle = need.productId === null ? undefined : record.products.get(need.productId)
  const round = (value: number) => (value < 10 ? value.toFixed(1) : String(Math.ceil(value)))
  return (
    <li>
      {need.withMargin === null || need.unit === null ? (
        <>
          {bottle?.body.name ?? need.label}{' '}
          <Quiet>
            {bottle
              ? 'by the piece or the round: each step says how much'
              : 'register the bottle, then its amount stands here'}
          </Quiet>
        </>
      ) : (
        <>
          <strong>
            {round(need.withMargin)} {need.unit}
          </strong>{' '}
          of {bottle?.body.name}{' '}
          <Quiet>
            ({round(need.amount!)} {need.unit} and a quarter)
          </Quiet>{' '}
          {need.working && <WorkingButton working={need.working} look="bare" />}
          {need.short && (
            <>
              {' '}
              <Tag $tone="due">
                the bottle holds {round(need.left!)} {need.unit}
              </Tag>
            </>
          )}
          {need.expires && (
            <>
              {' '}
              <Tag $tone="due">expires on {bottle?.body.expiresOn}</Tag>
            </>
          )}
        </>
      )}
    </li>
  )
}
