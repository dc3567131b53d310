// A sheet that is printed: ink on white, whatever the lights are, with boxes to tick by hand.
import type { ReactNode } from 'react'
import { styled } from 'styled-components'

export const Paper = styled.article`
  background: #fff;
  color: #10262b;
  border: 1px solid var(--hairline);
  border-radius: 4px;
  padding: 26px 30px;
  max-width: 820px;
  display: grid;
  gap: 14px;
  table {
    width: 100%;
    border-collapse: collapse;
  }
  td {
    padding: 6px 10px 6px 0;
    border-top: 1px solid #c8d5d2;
    vertical-align: top;
  }
  td:first-child {
    white-space: nowrap;
    width: 1%;
    font-weight: 650;
  }
  td:last-child {
    width: 34px;
  }
  i {
    display: inline-block;
    width: 18px;
    height: 18px;
    border: 1.6px solid #10262b;
    border-radius: 4px;
  }
  @media print {
    border: 0;
    padding: 0;
    max-width: none;
  }
`

/** One line of a sheet: when or where, what to do, a box to tick. */
export function PaperLine({ when, children }: { readonly when: string; readonly children: ReactNode }) {
  return (
    <tr>
      <td>{when}</td>
      <td>{children}</td>
      <td>
        <i />
      </td>
    </tr>
  )
}
