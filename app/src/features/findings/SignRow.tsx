// One sign, or one line of the record, with what can be pressed beside it.
import { styled } from 'styled-components'

export const SignRow = styled.li`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 14px;
  padding: 8px 0;
  & + & {
    border-top: 1px solid var(--hairline);
  }
  > div:nth-last-child(2) {
    flex: 1 1 220px;
  }
`
