// One line under the places, for what concerns the whole record or program.
import { styled } from 'styled-components'
import { NARROW } from '../design/theme.ts'

export const TopLine = styled.div`
  background: var(--caution-tint);
  border-bottom: 1px solid var(--hairline);
  padding: 0 28px;
  display: flex;
  flex-wrap: wrap;
  button {
    min-height: 36px;
    padding: 4px 0;
  }
  align-items: center;
  justify-content: space-between;
  gap: 0 16px;
  font-size: 14px;
  i {
    font-style: normal;
  }
  /* One line of a phone: what matters of it. */
  ${NARROW} {
    padding: 0 14px;
    i {
      position: absolute;
      clip-path: inset(50%);
      width: 1px;
      height: 1px;
      overflow: hidden;
    }
  }
`
