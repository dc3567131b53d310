// A day, or a day and a time, in the keeper's zone: the platform's own chooser, best with wet thumbs.
import { styled } from 'styled-components'
import { Button } from '../design/primitives.tsx'

const Box = styled.div`
  display: flex;
  flex-direction: column;
  gap: 4px;
  flex: 1 1 200px;
  min-width: 0;
  label {
    display: flex;
    flex-direction: column;
    gap: 4px;
    font-weight: 600;
    font-size: 14px;
  }
  input {
    min-height: 44px;
    padding: 8px 12px;
    border: 1.5px solid var(--quiet);
    border-radius: 8px;
    background: var(--tray);
    font-weight: 400;
    width: 100%;
    min-width: 0;
  }
  small {
    color: var(--quiet);
    font-size: 13px;
  }
`
export function DateTimeField({
  label,
  value,
  onChange,
  hint,
  day = false,
  now,
}: {
  label: string
  value: string
  onChange: (value: string) => void
  hint?: string
  day?: boolean
  /** Offers a press that fills in this instant. */
  now?: () => string
}) {
  return (
    <Box>
      <label>
        {label}
        <input
          type={day ? 'date' : 'datetime-local'}
          value={value}
          onChange={(event) => onChange(event.target.value)}
        />
      </label>
      {hint !== undefined && <small>{hint}</small>}
      {now && value === '' && (
        <Button look="bare" onPress={() => onChange(now())}>
          Just now
        </Button>
      )}
    </Box>
  )
}
