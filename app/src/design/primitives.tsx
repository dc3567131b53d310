// Trays, wells, buttons, figures: what every page needs. Fields and dialogs load with the pages that use them.
import type { ReactNode } from 'react'
import { Button as AriaButton, type ButtonProps } from 'react-aria-components'
import { Link as RouterLink } from 'react-router'
import { css, styled } from 'styled-components'
import { NARROW } from './theme.ts'

/** A tray: dark rim above, hairline elsewhere. */
export const Tray = styled.section<{ $tone?: 'plain' | 'danger' | 'caution' }>`
  background: var(--tray);
  border: 1px solid var(--hairline);
  border-top: 2px solid ${({ $tone }) => ($tone === 'danger' ? 'var(--danger)' : 'var(--rim)')};
  border-radius: 14px;
  padding: 16px 18px;
  ${({ $tone }) =>
    $tone === 'danger' &&
    css`
      background: var(--danger-tint);
    `}
  ${({ $tone }) =>
    $tone === 'caution' &&
    css`
      background: var(--caution-tint);
    `}
  ${NARROW} {
    padding: 14px;
  }
`
/** Inset ground inside a tray. */
export const Well = styled.div`
  background: var(--well);
  border-radius: 8px;
  padding: 10px 12px;
`
export const Stack = styled.div<{ $gap?: number }>`
  display: flex;
  flex-direction: column;
  gap: ${({ $gap = 12 }) => $gap}px;
`
export const Row = styled.div<{ $gap?: number; $between?: boolean }>`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: ${({ $gap = 10 }) => $gap}px;
  ${({ $between }) =>
    $between &&
    css`
      justify-content: space-between;
    `}
`
export const Quiet = styled.span`
  color: var(--quiet);
`
export const Rule = styled.hr`
  border: 0;
  border-top: 1px solid var(--hairline);
  margin: 4px 0;
  width: 100%;
`
/** The page's grid: the thing itself, and what stands beside it. */
export const Page = styled.div<{ $aside?: boolean }>`
  max-width: 1320px;
  margin: 0 auto;
  padding: 18px 28px calc(48px + var(--told, 0px));
  display: grid;
  gap: 18px 24px;
  grid-template-columns: minmax(0, 1fr) ${({ $aside }) => ($aside ? '344px' : '')};
  align-items: start;
  @media (max-width: 1000px) {
    grid-template-columns: minmax(0, 1fr);
  }
  ${NARROW} {
    padding: 14px 14px calc(120px + var(--told, 0px));
  }
`

const buttonLook = css<{ $look?: ButtonLook }>`
  display: inline-flex;
  align-items: center;
  justify-content: center;
  gap: 8px;
  min-height: 44px;
  padding: 8px 16px;
  border-radius: 10px;
  border: 1.5px solid var(--rim);
  background: var(--tray);
  color: var(--ink);
  font-weight: 650;
  text-decoration: none;
  cursor: pointer;
  transition: background 120ms;
  ${({ $look }) =>
    $look === 'main' &&
    css`
      background: var(--rim);
      color: var(--on-rim);
    `}
  ${({ $look }) =>
    $look === 'bare' &&
    css`
      border-color: transparent;
      background: transparent;
      padding: 8px 10px;
      text-decoration: underline;
      text-underline-offset: 3px;
    `}
  ${({ $look }) =>
    $look === 'danger' &&
    css`
      border-color: var(--danger);
      color: var(--danger);
    `}
  &[data-hovered], &:hover {
    filter: brightness(0.97);
  }
  &[data-pressed] {
    transform: translateY(1px);
  }
  &[data-disabled] {
    opacity: 0.55;
    cursor: not-allowed;
  }
`
export type ButtonLook = 'main' | 'plain' | 'bare' | 'danger'
const StyledButton = styled(AriaButton)<{ $look?: ButtonLook }>`
  ${buttonLook}
`
export const Button = ({ look = 'plain', ...props }: ButtonProps & { look?: ButtonLook }) => (
  <StyledButton $look={look} {...props} />
)
export const LinkButton = styled(RouterLink)<{ $look?: ButtonLook }>`
  ${buttonLook}
`

/** A number with its unit beneath a quiet label; the unit is smaller, never left out. */
export function Figure({
  label,
  value,
  unit,
  size = 28,
}: {
  label?: string
  value: ReactNode
  unit: string
  size?: 17 | 21 | 28 | 40 | 64
}) {
  return (
    <FigureBox>
      {label !== undefined && <Quiet>{label}</Quiet>}
      <strong style={{ fontSize: size, lineHeight: 1.05 }}>
        {value} <small style={{ fontSize: Math.max(13, size * 0.55) }}>{unit}</small>
      </strong>
    </FigureBox>
  )
}
const FigureBox = styled.span`
  display: inline-flex;
  flex-direction: column;
  strong {
    font-weight: 750;
    letter-spacing: -0.01em;
  }
  small {
    font-weight: 600;
  }
`

/** A short list of facts, label left, value right, each on its line. */
/** Rows read from left to right, one a day or an interval. */
export const DayTable = styled.table`
  width: 100%;
  border-collapse: collapse;
  th {
    text-align: left;
    font-weight: 600;
    color: var(--quiet);
    padding: 4px 8px 4px 0;
  }
  td {
    padding: 6px 8px 6px 0;
    border-top: 1px solid var(--hairline);
    vertical-align: top;
  }
`
export const Facts = styled.dl`
  display: grid;
  grid-template-columns: minmax(0, 1fr) fit-content(62%);
  gap: 4px 14px;
  dt {
    color: var(--quiet);
  }
  dd {
    text-align: right;
    font-weight: 650;
  }
`

export const Tag = styled.span<{ $tone?: 'due' | 'good' | 'danger' | 'plain' }>`
  display: inline-block;
  padding: 2px 8px;
  border-radius: 6px;
  font-size: 13px;
  font-weight: 650;
  white-space: nowrap;
  background: ${({ $tone }) => ($tone === 'due' ? 'var(--acriflavine)' : $tone === 'good' ? 'var(--malachite-tint)' : $tone === 'danger' ? 'var(--danger-tint)' : 'var(--well)')};
  color: ${({ $tone }) => ($tone === 'due' ? 'var(--on-acriflavine)' : $tone === 'good' ? 'var(--malachite-ink)' : $tone === 'danger' ? 'var(--danger)' : 'var(--ink)')};
`

/** Something to do when there is nothing to show. */
export function Empty({ title, children, action }: { title: string; children: ReactNode; action?: ReactNode }) {
  return (
    <Tray>
      <Stack>
        <h2>{title}</h2>
        <p>{children}</p>
        {action !== undefined && <Row>{action}</Row>}
      </Stack>
    </Tray>
  )
}

/** A link in words that is as tall as a press. */
export const TextLink = styled(RouterLink)`
  display: inline-flex;
  align-items: center;
  min-height: 44px;
  font-weight: 650;
  text-underline-offset: 3px;
`
