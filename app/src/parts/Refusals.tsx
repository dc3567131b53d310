// What speaks against an entry, and the worded override where one exists.
import { gravest, type Refusal } from '@brinvo/core'
import { styled } from 'styled-components'
import type { Draft } from '../data/queries.tsx'
import { Check, Field } from '../design/fields.tsx'
import { Stack } from '../design/primitives.tsx'

const Item = styled.li<{ $level: Refusal['level'] }>`
  padding: 8px 12px;
  border-radius: 8px;
  border-left: 5px solid
    ${({ $level }) => ($level === 'refuse' || $level === 'block' ? 'var(--danger)' : 'var(--acriflavine)')};
  background: ${({ $level }) => ($level === 'refuse' || $level === 'block' ? 'var(--danger-tint)' : 'var(--caution-tint)')};
  b {
    display: block;
  }
`
const TITLES = {
  refuse: 'Refused. There is no override.',
  block: 'Blocked.',
  ask: 'Please look again.',
  warn: 'Know this.',
} as const

export interface OverrideState {
  readonly words: string
  readonly confirmed: boolean
}
export const NO_OVERRIDE: OverrideState = { words: '', confirmed: false }

/** Whether an entry may be saved: nothing refused, blocks worded, questions answered. */
export function mayPass(refusals: readonly Refusal[], override: OverrideState): boolean {
  switch (gravest(refusals)) {
    case 'refuse':
      return false
    case 'block':
      return override.words.trim().length >= 8
    case 'ask':
      return override.confirmed
    default:
      return true
  }
}

/** The blocks that were passed, each as the entry that records it. */
export const overrideDrafts = (
  refusals: readonly Refusal[],
  override: OverrideState,
  base: { readonly vesselId: string; readonly courseId?: string },
): Draft[] =>
  refusals
    .filter(({ level }) => level === 'block')
    .map(
      ({ rule, message }) =>
        ({
          kind: 'override',
          ...base,
          rule,
          words: override.words.trim(),
          about: message.slice(0, 400),
        }) as unknown as Draft,
    )

export function Refusals({
  refusals,
  override,
  onOverride,
}: {
  refusals: readonly Refusal[]
  override: OverrideState
  onOverride: (next: OverrideState) => void
}) {
  if (refusals.length === 0) return null
  const level = gravest(refusals)
  return (
    <Stack $gap={8} role="group" aria-label="What speaks against this">
      <ul style={{ display: 'grid', gap: 6 }} aria-live="polite">
        {refusals.map((refusal) => (
          <Item key={refusal.rule + refusal.message} $level={refusal.level}>
            <b>{TITLES[refusal.level]}</b>
            {refusal.message}
          </Item>
        ))}
      </ul>
      {level === 'block' && (
        <Field
          label="To go on all the same, write why"
          value={override.words}
          onChange={(words) => onOverride({ ...override, words })}
          hint="At least a few words. They are recorded on the ledger with the entry."
          multiline
        />
      )}
      {level === 'ask' && (
        <Check isSelected={override.confirmed} onChange={(confirmed) => onOverride({ ...override, confirmed })}>
          Yes, it is really so.
        </Check>
      )}
    </Stack>
  )
}
