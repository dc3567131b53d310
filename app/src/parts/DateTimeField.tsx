// A day, or a day and a time, in the keeper's zone and order: typed part by part, or chosen from a month.
import { parseDate, parseDateTime, type CalendarDate, type CalendarDateTime } from '@internationalized/date'
import {
  Button as AriaButton,
  Calendar,
  CalendarCell,
  CalendarGrid,
  DateInput,
  DatePicker,
  DateSegment,
  Dialog,
  FieldError,
  Group,
  Heading,
  I18nProvider,
  Label,
  Popover,
  Text,
} from 'react-aria-components'
import { styled } from 'styled-components'
import { useRecord } from '../data/queries.tsx'
import { Button } from '../design/primitives.tsx'

const Box = styled.div`
  flex: 1 1 200px;
  min-width: 0;
  display: flex;
  flex-direction: column;
  gap: 4px;
`
const Picker = styled(DatePicker)`
  display: flex;
  flex-direction: column;
  gap: 4px;
`
const Name = styled(Label)`
  font-weight: 600;
  font-size: 14px;
`
const Frame = styled(Group)`
  display: flex;
  align-items: center;
  min-height: 44px;
  border: 1.5px solid var(--quiet);
  border-radius: 8px;
  background: var(--tray);
  &[data-focus-within] {
    border-color: var(--rim);
    outline: 2px solid var(--rim);
    outline-offset: 1px;
  }
  &[data-invalid] {
    border-color: var(--danger);
  }
`
const Parts = styled(DateInput)`
  display: flex;
  flex: 1 1 auto;
  padding: 6px 0 6px 6px;
  white-space: pre;
  overflow: hidden;
  font-variant-numeric: tabular-nums;
`
const Part = styled(DateSegment)`
  padding: 4px 0;
  /* Wide enough for a thumb, whatever stands in it. */
  &:not([data-type='literal']) {
    min-width: 24px;
    text-align: center;
  }
  border-radius: 4px;
  outline: none;
  &[data-placeholder] {
    color: var(--quiet);
  }
  &[data-focused] {
    background: var(--rim);
    color: var(--tray);
  }
`
const Opener = styled(AriaButton)`
  flex: 0 0 auto;
  min-width: 36px;
  min-height: 42px;
  padding: 0;
  border: 0;
  background: none;
  color: inherit;
  display: grid;
  place-items: center;
  cursor: pointer;
`
const Month = styled(Popover)`
  z-index: 60;
  background: var(--tray);
  border: 1px solid var(--hairline);
  border-radius: 12px;
  box-shadow: 0 12px 36px rgb(0 0 0 / 24%);
  padding: 12px;
  header {
    display: flex;
    align-items: center;
    justify-content: space-between;
  }
  header h2 {
    font-size: 16px;
  }
  header button {
    min-width: 44px;
    min-height: 44px;
    border: 0;
    background: none;
    color: inherit;
    font-size: 20px;
  }
  table {
    border-collapse: collapse;
  }
  th {
    font-size: 12px;
    color: var(--quiet);
    font-weight: 400;
  }
  td {
    padding: 0;
  }
`
const Day = styled(CalendarCell)`
  width: 44px;
  height: 40px;
  display: grid;
  place-items: center;
  border-radius: 8px;
  cursor: pointer;
  font-variant-numeric: tabular-nums;
  &[data-outside-month] {
    visibility: hidden;
  }
  &[data-hovered] {
    background: var(--paper, var(--hairline));
  }
  &[data-selected] {
    background: var(--rim);
    color: var(--tray);
  }
  &[data-disabled],
  &[data-unavailable] {
    color: var(--quiet);
    text-decoration: line-through;
  }
  &[data-focus-visible] {
    outline: 2px solid var(--rim);
    outline-offset: 1px;
  }
`
const Small = styled(Text)`
  color: var(--quiet);
  font-size: 13px;
`

/** What stands in a field's text, or null where it is none. */
const dateOf = (text: string | undefined, day: boolean): CalendarDate | CalendarDateTime | null => {
  if (text === undefined || text === '') return null
  try {
    return day ? parseDate(text.slice(0, 10)) : parseDateTime(text.length === 10 ? `${text}T00:00` : text)
  } catch {
    return null
  }
}

/** `value` is "2026-11-28", or "2026-11-28T18:30" with a time; '' while it is not whole. */
export function DateTimeField({
  label,
  value,
  onChange,
  hint,
  day = false,
  max,
  min,
  now,
}: {
  label: string
  value: string
  onChange: (value: string) => void
  hint?: string
  day?: boolean
  /** Last and first day or instant that can be meant. */
  max?: string
  min?: string
  /** Offers a press that fills in this instant. */
  now?: () => string
}) {
  const { settings } = useRecord().record
  return (
    <Box>
      <I18nProvider locale={settings.locale}>
        <Picker
          value={dateOf(value, day)}
          onChange={(next) => onChange(next === null ? '' : next.toString().slice(0, day ? 10 : 16))}
          granularity={day ? 'day' : 'minute'}
          hourCycle={24}
          shouldForceLeadingZeros
          maxValue={dateOf(max, day)}
          minValue={dateOf(min, day)}
        >
          <Name>{label}</Name>
          <Frame>
            <Parts>{(segment) => <Part segment={segment} />}</Parts>
            <Opener aria-label="Choose from a month">
              <svg width="20" height="20" viewBox="0 0 20 20" aria-hidden fill="none" stroke="currentColor">
                <path d="M3 5H17V17H3ZM3 8.500H17M7 2.500V6M13 2.500V6" strokeWidth="1.6" />
              </svg>
            </Opener>
          </Frame>
          {hint !== undefined && <Small slot="description">{hint}</Small>}
          <FieldError style={{ color: 'var(--danger)', fontSize: 13, fontWeight: 650 }} />
          <Month>
            <Dialog aria-label={`${label}: a month`}>
              <Calendar>
                <header>
                  <AriaButton slot="previous">‹</AriaButton>
                  <Heading />
                  <AriaButton slot="next">›</AriaButton>
                </header>
                <CalendarGrid>{(date) => <Day date={date} />}</CalendarGrid>
              </Calendar>
            </Dialog>
          </Month>
        </Picker>
      </I18nProvider>
      {now && value === '' && (
        <Button look="bare" onPress={() => onChange(now())}>
          Just now
        </Button>
      )}
    </Box>
  )
}
