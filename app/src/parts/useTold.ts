// Sentences of the core in the keeper's units and with days as the keeper writes them, wherever one is shown.
import { atHourOfDay, inKeepersUnits, type Settings } from '@brinvo/core'
import { useCallback } from 'react'
import { useRecord } from '../data/queries.tsx'
import { longDayText, preferencesOf } from '../design/words.ts'

/** A day as the core writes it, with no hour behind it. */
const DAY = /\b\d{4}-\d{2}-\d{2}\b(?!T)/g

function dayWords(day: string, settings: Settings): string {
  try {
    return longDayText(atHourOfDay(day, 12, settings.zone), settings)
  } catch {
    return day
  }
}

export function useTold(): (text: string) => string {
  const { settings } = useRecord().record
  return useCallback(
    (text) => inKeepersUnits(text, preferencesOf(settings)).replace(DAY, (day) => dayWords(day, settings)),
    [settings],
  )
}
