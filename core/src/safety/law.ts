// Whether the keeper may lawfully hold an active: asked once per country, kept in the settings.
import { agentForm, type AgentForm } from '../knowledge/agents.ts'
import type { Settings } from '../record/types.ts'
import type { Refusal } from './refusal.ts'

/** `open`: nothing is asked. `ask`: nobody has answered for this country. */
export type LawAnswer = 'open' | 'ask' | 'lawful' | 'not-lawful'

/** What the settings say of an active. @source handbook 31 safe-law */
export function lawOf(settings: Settings, form: AgentForm): LawAnswer {
  if (form.legal !== 'asked') return 'open'
  return settings.law?.answers[form.agent] ?? 'ask'
}

/**
 * What the law says against giving a form. Unanswered: a course does not start, a dose needs worded reasons, because one
 * in the middle of a course may not wait. Answered no: nothing is given.
 */
export function checkLaw(settings: Settings, formId: string, of: 'course' | 'dose'): Refusal[] {
  const form = agentForm(formId)
  if (!form) return []
  const answer = lawOf(settings, form)
  const where = settings.law?.country ?? ''
  if (answer === 'not-lawful')
    return [
      {
        rule: 'safe-law',
        level: 'forbid',
        message: `${form.label}: you have no lawful source${where === '' ? '' : ` in ${where}`}. What is known of it stands in the library, without a dose; ask an aquatic veterinarian.`,
      },
    ]
  if (answer === 'ask')
    return [
      {
        rule: 'safe-law',
        level: of === 'course' ? 'forbid' : 'block',
        message: `${form.label} is on prescription, restricted or banned in many countries. Say first whether you may lawfully hold it where you live.`,
      },
    ]
  return []
}
