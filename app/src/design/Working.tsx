// The working behind a number: a button that opens formula, inputs and result.
import { sourceText } from './sources.ts'
import type { Working as WorkingData, WorkingLine } from '@brinvo/core'
import { useState } from 'react'
import { styled } from 'styled-components'
import { Dialog } from './Dialog.tsx'
import { Button, Quiet, Stack, Well, type ButtonLook } from './primitives.tsx'

const Table = styled.table`
  width: 100%;
  border-collapse: collapse;
  td {
    padding: 5px 0;
    border-top: 1px solid var(--hairline);
    vertical-align: top;
  }
  td:last-child {
    text-align: right;
    white-space: nowrap;
    padding-left: 12px;
  }
  tr[data-result] td {
    font-weight: 750;
    border-top: 2px solid var(--rim);
  }
`
const number = (value: number | string): string =>
  typeof value === 'string'
    ? value
    : value === 0
      ? '0'
      : String(Number(value.toPrecision(Math.abs(value) >= 1000 ? 6 : 4)))
const doubt = (line: WorkingLine) =>
  line.sd !== undefined && line.sd > 0 && typeof line.value === 'number'
    ? ` ± ${number(Number(line.sd.toPrecision(2)))}`
    : ''

function Lines({ working }: { working: WorkingData }) {
  return (
    <Stack $gap={8}>
      <Well>
        <strong>{working.title}</strong> = {working.formula}
      </Well>
      {(working.parts ?? []).map((part) => (
        <p key={part.title}>
          <Quiet>{part.title}:</Quiet> {part.formula} ={' '}
          <strong>
            {number(part.result.value)} {part.result.unit}
          </strong>
        </p>
      ))}
      <Table>
        <tbody>
          {working.inputs.map((line) => (
            <tr key={line.label}>
              <td>
                {line.label}
                {line.from !== undefined && <Quiet> · {line.from}</Quiet>}
              </td>
              <td>
                {number(line.value)}
                {doubt(line)} {line.unit}
              </td>
            </tr>
          ))}
          <tr data-result="">
            <td>{working.result.label}</td>
            <td>
              {number(working.result.value)}
              {doubt(working.result)} {working.result.unit}
            </td>
          </tr>
        </tbody>
      </Table>
      {working.notes?.map((note) => (
        <p key={note}>{note}</p>
      ))}
      {working.source !== undefined && <Quiet>Source: {sourceText(working.source)}</Quiet>}
    </Stack>
  )
}

/** Opens the arithmetic behind a number. */
export function WorkingButton({
  working,
  label = 'Working',
  look = 'plain',
}: {
  working: WorkingData
  label?: string
  look?: ButtonLook
}) {
  const [open, setOpen] = useState(false)
  return (
    <>
      <Button look={look} onPress={() => setOpen(true)}>
        {label}
      </Button>
      <Dialog title={working.title} isOpen={open} onClose={() => setOpen(false)} wide>
        <Lines working={working} />
      </Dialog>
    </>
  )
}
