import { css } from 'styled-components'

/** The paper a plate is drawn on, still or moving. */
export const sheet = css`
  display: block;
  flex: 0 0 auto;
  max-width: 100%;
  background: var(--paper);
  border-radius: 8px;
`
