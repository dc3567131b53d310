// Entry fields and choices: behaviour from React Aria, look from one styled block each. The unit is part of the label.
import { useId, type ReactNode } from 'react'
import {
  Checkbox as AriaCheckbox,
  FieldError,
  Input,
  Label,
  Radio,
  RadioGroup,
  Text,
  TextArea,
  TextField,
} from 'react-aria-components'
import { css, styled } from 'styled-components'
import { Quiet } from './primitives.tsx'

const fieldLook = css`
  width: 100%;
  min-height: 44px;
  padding: 8px 12px;
  border: 1.5px solid var(--quiet);
  border-radius: 8px;
  background: var(--tray);
  &[data-invalid],
  &[aria-invalid='true'] {
    border-color: var(--danger);
  }
`
const StyledInput = styled(Input)`
  ${fieldLook}
`
const StyledTextArea = styled(TextArea)`
  ${fieldLook}
  min-height: 76px;
`
const StyledField = styled(TextField)`
  display: flex;
  flex-direction: column;
  gap: 4px;
  min-width: 0;
  label {
    font-weight: 600;
    font-size: 14px;
  }
  [slot='description'] {
    color: var(--quiet);
    font-size: 13px;
  }
`
const ErrorText = styled(FieldError)`
  color: var(--danger);
  font-size: 14px;
  font-weight: 600;
`

export interface FieldProps {
  label: string
  /** Printed beside the entry and read with the label. */
  unit?: string
  value: string
  onChange: (value: string) => void
  error?: string | null
  hint?: ReactNode
  autoFocus?: boolean
  numeric?: boolean
  multiline?: boolean
  placeholder?: string
  required?: boolean
  size?: number
  /** A day, chosen by the platform's own calendar; its value is YYYY-MM-DD. */
  day?: boolean
}
/** A text field; a numeric one shows its unit and asks a phone for digits. */
export function Field({
  label,
  unit,
  value,
  onChange,
  error,
  hint,
  autoFocus,
  numeric,
  multiline,
  placeholder,
  required,
  size,
  day,
}: FieldProps) {
  return (
    <StyledField
      value={value}
      onChange={onChange}
      isInvalid={Boolean(error)}
      autoFocus={autoFocus}
      isRequired={required}
      validationBehavior="aria"
    >
      <Label>
        {label}
        {unit !== undefined && unit !== label && <Quiet> ({unit})</Quiet>}
      </Label>
      {multiline ? (
        <StyledTextArea placeholder={placeholder} />
      ) : (
        <StyledInput
          type={day ? 'date' : 'text'}
          inputMode={numeric ? 'decimal' : undefined}
          placeholder={placeholder}
          autoComplete="off"
          size={size}
        />
      )}
      {hint !== undefined && <Text slot="description">{hint}</Text>}
      {error ? <ErrorText>{error}</ErrorText> : null}
    </StyledField>
  )
}

const SelectBox = styled.div`
  display: flex;
  flex-direction: column;
  gap: 4px;
  font-weight: 600;
  font-size: 14px;
  min-width: 0;
  select {
    ${fieldLook} font-size: 15px;
    font-weight: 400;
  }
  small {
    color: var(--quiet);
    font-weight: 400;
    font-size: 13px;
  }
`
/** The platform's own chooser: best with wet thumbs. */
export function Select({
  label,
  value,
  onChange,
  options,
  hint,
}: {
  label: string
  value: string
  onChange: (value: string) => void
  options: readonly { readonly value: string; readonly label: string; readonly disabled?: boolean }[]
  hint?: string
}) {
  const id = useId()
  return (
    <SelectBox>
      <label htmlFor={id}>{label}</label>
      <select
        id={id}
        value={value}
        onChange={(event) => onChange(event.target.value)}
        aria-describedby={hint === undefined ? undefined : `${id}-hint`}
      >
        {options.map((option) => (
          <option key={option.value} value={option.value} disabled={option.disabled}>
            {option.label}
          </option>
        ))}
      </select>
      {hint !== undefined && <small id={`${id}-hint`}>{hint}</small>}
    </SelectBox>
  )
}

const ChoiceGroup = styled(RadioGroup)`
  display: flex;
  flex-direction: column;
  gap: 6px;
  > span {
    font-weight: 600;
    font-size: 14px;
  }
  > div {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
  }
`
const ChoiceItem = styled(Radio)<{ $wide?: boolean }>`
  min-height: 44px;
  padding: 9px 14px;
  border: 1.5px solid var(--hairline);
  border-radius: 10px;
  background: var(--tray);
  cursor: pointer;
  display: flex;
  flex-direction: column;
  justify-content: center;
  ${({ $wide }) =>
    $wide &&
    css`
      flex: 1 1 200px;
    `}
  &[data-selected] {
    border-color: var(--rim);
    box-shadow: inset 0 0 0 1.5px var(--rim);
    font-weight: 650;
  }
  &[data-focus-visible] {
    outline: 3px solid var(--focus);
    outline-offset: 2px;
  }
  &[data-disabled] {
    opacity: 0.5;
    cursor: not-allowed;
  }
  small {
    color: var(--quiet);
    font-weight: 400;
  }
`
/** One of a few, all in sight. */
export function Choice<T extends string>({
  label,
  value,
  onChange,
  options,
  wide,
  hideLabel,
}: {
  label: string
  /** Null while nothing is chosen. */
  value: T | null
  onChange: (value: T) => void
  options: readonly { readonly value: T; readonly label: string; readonly note?: string; readonly disabled?: boolean }[]
  wide?: boolean
  hideLabel?: boolean
}) {
  return (
    <ChoiceGroup
      value={value}
      onChange={(next) => onChange(next as T)}
      aria-label={hideLabel ? label : undefined}
      orientation="horizontal"
    >
      {!hideLabel && <Label>{label}</Label>}
      <div>
        {options.map((option) => (
          <ChoiceItem key={option.value} value={option.value} $wide={wide} isDisabled={option.disabled}>
            {option.label}
            {option.note !== undefined && <small>{option.note}</small>}
          </ChoiceItem>
        ))}
      </div>
    </ChoiceGroup>
  )
}

const CheckBox = styled(AriaCheckbox)`
  display: flex;
  align-items: flex-start;
  gap: 10px;
  min-height: 44px;
  padding: 8px 0;
  cursor: pointer;
  > i {
    flex: none;
    width: 24px;
    height: 24px;
    border: 2px solid var(--rim);
    border-radius: 6px;
    display: grid;
    place-items: center;
    color: transparent;
    font-style: normal;
    font-weight: 800;
    line-height: 1;
  }
  &[data-selected] > i {
    background: var(--rim);
    color: var(--on-rim);
  }
  &[data-focus-visible] > i {
    outline: 3px solid var(--focus);
    outline-offset: 2px;
  }
`
export function Check({
  isSelected,
  onChange,
  children,
}: {
  isSelected: boolean
  onChange: (value: boolean) => void
  children: ReactNode
}) {
  return (
    <CheckBox isSelected={isSelected} onChange={onChange}>
      <i aria-hidden>✓</i>
      <span>{children}</span>
    </CheckBox>
  )
}

/** A day typed or picked, under its own words. */
export const DayLabel = styled.label`
  display: grid;
  gap: 4px;
  font-weight: 600;
  font-size: 14px;
  input {
    min-height: 44px;
    border: 1.5px solid var(--quiet);
    border-radius: 8px;
    padding: 8px 12px;
    background: var(--tray);
  }
`
