// Sentences of the core in the keeper's units, wherever one is shown.
import { inKeepersUnits } from '@brinvo/core'
import { useCallback } from 'react'
import { useRecord } from '../data/queries.tsx'
import { preferencesOf } from '../design/words.ts'

export function useTold(): (text: string) => string {
  const { settings } = useRecord().record
  return useCallback((text) => inKeepersUnits(text, preferencesOf(settings)), [settings])
}
