// How an instrument of the bench is laid out: what is put in beside what comes out, large.
import { styled } from 'styled-components'

export const Split = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(280px, 0.9fr);
  gap: 18px 28px;
  align-items: start;
  @media (max-width: 760px) {
    grid-template-columns: minmax(0, 1fr);
  }
`
export const Fields = styled.div<{ $two?: boolean }>`
  display: grid;
  grid-template-columns: ${({ $two }) => ($two ? 'repeat(2, minmax(0, 1fr))' : 'repeat(auto-fill, minmax(160px, 1fr))')};
  gap: 12px 16px;
  align-items: start;
`
export const Big = styled.p`
  font-size: 40px;
  font-weight: 800;
  line-height: 1.1;
`
