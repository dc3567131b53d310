// Look-ups over the shipped knowledge. The JSON under core/knowledge is the source; nothing here holds a figure.
import { agents as AGENTS } from '../generated/knowledge/agents.ts'
import { groups as GROUPS } from '../generated/knowledge/groups.ts'
import type { AgentForm } from '../generated/agentTypes.ts'
import type { GroupTable } from '../generated/groupTypes.ts'

export type { AgentForm, GroupTable }
export type Group = GroupTable['groups'][number]
export type Species = GroupTable['species'][number]
/** O normal; C caution; X do not; ? no data, treated as C; – not relevant. */
export type SensitivityCode = 'O' | 'C' | 'X' | '?' | '–'

export const agentForms: readonly AgentForm[] = AGENTS
export const groups: readonly Group[] = GROUPS.flatMap((table) => table.groups)
export const species: readonly Species[] = GROUPS.flatMap((table) => table.species)

/** The form's record, or undefined for a form we do not know. */
export const agentForm = (id: string): AgentForm | undefined => agentForms.find((form) => form.id === id)
export const groupOf = (id: string): Group | undefined => groups.find((group) => group.id === id)

const RANK: Readonly<Record<SensitivityCode, number>> = { '–': 0, O: 1, C: 2, '?': 2, X: 3 }
const FISH_COLUMNS: Readonly<Record<string, readonly string[]>> = {
  marine: ['WR', 'AN', 'BF', 'DR', 'PU', 'EL', 'SR', 'SY', 'TA', 'LF'],
  fresh: ['SC', 'MO', 'TE', 'LB', 'GF'],
}

/**
 * How a group stands a form. An unknown group takes the strictest code of all fish columns of that water
 * (and of every column when even its kind is unknown). @source handbook 31 T6, 70
 */
export function sensitivity(
  form: Pick<AgentForm, 'sensitivity'> & { readonly agent?: string },
  groupId: string,
  water: 'marine' | 'fresh',
): SensitivityCode {
  const group = groupOf(groupId)
  const column = group?.columnFor?.[form.agent ?? ''] ?? group?.column
  if (column && column !== '**') return (form.sensitivity[column] as SensitivityCode | undefined) ?? '?'
  const columns = group ? FISH_COLUMNS[water]! : Object.keys(form.sensitivity)
  return columns
    .map((key) => (form.sensitivity[key] ?? '?') as SensitivityCode)
    .reduce((worst, code) => (RANK[code] > RANK[worst] ? code : worst), '–' as SensitivityCode)
}
