// A protocol's text held against its schema and against sense: every fault with its line, in words a keeper can act on.
import {
  applyEdits,
  findNodeAtLocation,
  modify,
  parseTree,
  printParseErrorCode,
  type JSONPath,
  type ParseError,
} from 'jsonc-parser'
import { agentForm } from '../knowledge/agents.ts'
import { protocolLibrary } from '../knowledge/library.ts'
import { partsOf, type Condition, type Protocol, type Rule, type Value } from '../knowledge/protocols.ts'
import { pestOf } from '../outbreak/pests.ts'
import { faultOfProtocol } from '../record/validate.ts'
import { checkRule } from './rules/registry.ts'
import { expressionFaults, rangeOf, unitOfAnalyte } from './expression.ts'
import { endsByItself } from './progress.ts'

export interface ProtocolFault {
  /** From 1. */
  readonly line: number
  readonly column: number
  /** Offset of the place in the text, and its length: what an editor selects. */
  readonly offset: number
  readonly length: number
  readonly level: 'fault' | 'doubt'
  readonly message: string
}
export interface ProtocolCheck {
  /** The protocol, where it may be started; null while it has a fault. */
  readonly protocol: Protocol | null
  readonly faults: readonly ProtocolFault[]
}

const PARSE_WORDS: Readonly<Record<string, string>> = {
  InvalidSymbol: 'Something here is neither text in quotes, nor a number, nor a bracket.',
  InvalidNumberFormat: 'This number cannot be read.',
  PropertyNameExpected: 'A name in quotes belongs here; perhaps a comma too many stands before it.',
  ValueExpected: 'A value is missing here.',
  ColonExpected: 'A colon belongs between name and value.',
  CommaExpected: 'A comma belongs here.',
  CloseBraceExpected: 'A closing } is missing.',
  CloseBracketExpected: 'A closing ] is missing.',
  EndOfFileExpected: 'The protocol ends before this; what follows does not belong to it.',
  UnexpectedEndOfString: 'A closing quotation mark is missing.',
}

/** Faults and doubts of a protocol's text. @param ownId id of the draft itself, when it is already in the library */
export function checkProtocolText(text: string): ProtocolCheck {
  const errors: ParseError[] = []
  const tree = parseTree(text, errors, { disallowComments: true, allowTrailingComma: false })
  const place = (offset: number, length: number) => {
    const before = text.slice(0, offset)
    const line = before.split('\n').length
    return { line, column: offset - before.lastIndexOf('\n'), offset, length }
  }
  if (!tree || errors.length > 0) {
    const faults = (errors.length > 0 ? errors : [{ error: 4, offset: 0, length: 0 } as ParseError]).map(
      ({ error, offset, length }): ProtocolFault => ({
        ...place(offset, length),
        level: 'fault',
        message: PARSE_WORDS[printParseErrorCode(error)] ?? 'This cannot be read.',
      }),
    )
    return { protocol: null, faults }
  }
  const at = (path: JSONPath) => {
    // The nearest thing that exists: a missing property is shown at what should hold it.
    for (let depth = path.length; depth >= 0; depth--) {
      const node = findNodeAtLocation(tree, path.slice(0, depth))
      if (node) return place(node.offset, Math.min(node.length, 400))
    }
    return place(0, 0)
  }
  const value = JSON.parse(text) as unknown
  const fault = faultOfProtocol(value)
  if (fault) {
    const path = fault.path
      .split('/')
      .slice(1)
      .map((part) => (/^\d+$/.test(part) ? Number(part) : part.replaceAll('~1', '/').replaceAll('~0', '~')))
    const where =
      path.length === 0 ? 'The protocol' : `"${path.filter((part) => typeof part === 'string').at(-1) ?? ''}"`
    return {
      protocol: null,
      faults: [{ ...at(path), level: 'fault', message: `${where} ${schemaWords(fault.message)}` }],
    }
  }
  const protocol = value as Protocol
  const faults: ProtocolFault[] = protocolProblems(protocol).map(({ path, level, message }) => ({
    ...at(path),
    level,
    message,
  }))
  return { protocol: faults.some(({ level }) => level === 'fault') ? null : protocol, faults }
}

const schemaWords = (message: string): string =>
  message
    .replace(/^must have required property '([^']+)'.*$/, 'lacks “$1”.')
    .replace(/^must NOT have additional properties \((.+)\)$/, 'knows nothing called “$1”.')
    .replace(/^must be equal to one of the allowed values \((.+)\)$/, 'must be one of: $1.')
    .replace(/^must match pattern.*$/, 'must be small letters, digits and hyphens.')
    .replace(/^must NOT have fewer than (\d+) (items|characters).*$/, 'needs at least $1 $2.')
    .replace(/^must NOT have more than (\d+) (items|characters).*$/, 'may have at most $1 $2.')
    .replace(/^must be (>=|<=|>|<) ([\d.-]+).*$/, 'must be $1 $2.')
    .replace(/^must be (string|number|integer|array|object|boolean)$/, 'must be a $1.')
    .replace(/^value of tag "kind" must be in oneOf.*$/, 'has a kind that does not exist.')

interface Problem {
  readonly path: JSONPath
  readonly level: 'fault' | 'doubt'
  readonly message: string
}

/** Whether what is open of a rule does not outlast its phase; a task does, where its hour came before the phase was over. */
const goneWithThePhase = (rule: Rule, exit: Condition): boolean =>
  endsByItself(rule) &&
  (['change', 'dose', 'setting'].includes(rule.kind) ||
    (rule.kind === 'task' && (rule.atHours ?? 0) > 0 && !partsOf(exit).some(({ kind }) => kind === 'elapsed')))
/** Whether a way out hangs on hours and on work, and on nothing that is looked at, read or asked. */
const byTimeOrWork = (exit: Condition): boolean =>
  partsOf(exit).every(({ kind }) => kind === 'elapsed' || kind === 'rules-done')
/** Whether a way out may open by nothing but hours. */
const byTimeAlone = (exit: Condition): boolean =>
  exit.kind === 'elapsed' ||
  (exit.kind === 'all' && exit.of.every(byTimeAlone)) ||
  (exit.kind === 'any' && exit.of.some(byTimeAlone))

/** What a schema cannot say of a protocol. Pure; the shipped library has none of these. */
export function protocolProblems(protocol: Protocol): Problem[] {
  const found: Problem[] = []
  const say = (path: JSONPath, message: string, level: Problem['level'] = 'fault') =>
    found.push({ path, level, message })
  const roles = new Map(protocol.productRoles.map((role) => [role.id, role]))
  const instruments = new Set(protocol.instrumentRoles.map(({ id }) => id))
  const parameters = new Map((protocol.parameters ?? []).map((parameter) => [parameter.id, parameter]))
  const measures = new Map((protocol.campaign?.measures ?? []).map((measure) => [measure.id, measure]))
  const placed = protocol.phases.flatMap((phase, phaseIndex) =>
    phase.rules.map((rule, ruleIndex) => ({ rule, phaseIndex, path: ['phases', phaseIndex, 'rules', ruleIndex] })),
  )
  const byId = new Map<string, (typeof placed)[number]>()

  protocol.productRoles.forEach(({ forms, label }, i) =>
    forms.forEach((form, j) => {
      if (!agentForm(form))
        say(
          ['productRoles', i, 'forms', j],
          `No agent form is called “${form}”, so no ceiling is known for ${label}. A dose without a ceiling cannot be planned.`,
        )
    }),
  )
  ;(protocol.parameters ?? []).forEach(({ label, min, max, default: usual }, i) => {
    if (min > max) say(['parameters', i, 'min'], `${label}: its least value is above its greatest.`)
    if (usual !== undefined && (usual < min || usual > max))
      say(['parameters', i, 'default'], `${label}: the usual value ${usual} lies outside ${min} to ${max}.`)
  })
  if (protocol.variants.filter((variant) => variant.default).length !== 1)
    say(['variants'], 'Exactly one variant must be the default.')
  const phaseIds = new Set<string>()
  protocol.phases.forEach(({ id }, i) => {
    if (phaseIds.has(id)) say(['phases', i, 'id'], `Two phases are called “${id}”.`)
    phaseIds.add(id)
  })
  for (const one of placed) {
    const { id } = one.rule
    if (byId.has(id)) say([...one.path, 'id'], `Two rules are called “${id}”: what is done could not be told apart.`)
    else byId.set(id, one)
  }

  const known = {
    parameters: new Map((protocol.parameters ?? []).map(({ id, unit }) => [id, unit])),
    rules: new Set(byId.keys()),
  }
  /** Holds a value against its place, and answers what it may come to where that does not hang on the record. */
  const limits = (value: Value | number | undefined, path: JSONPath, unit: string, most = 1): readonly number[] => {
    if (value === undefined) return []
    for (const fault of expressionFaults(value, known, unit)) say([...path, ...fault.path], fault.message)
    return [...new Set(rangeOf(value, parameters, unit, most))]
  }
  for (const { rule, path } of placed) ruleProblems(rule, path)
  for (const [i, measure] of (protocol.campaign?.measures ?? []).entries()) {
    const fields = new Set(measure.fields.map(({ id }) => id))
    for (const field of measure.fields)
      if (field.partOf !== undefined && (field.partOf === field.id || !fields.has(field.partOf)))
        say(['campaign', 'measures', i, 'fields'], `${measure.title} has no other field called “${field.partOf}”.`)
    for (const field of measure.value.fields)
      if (!fields.has(field))
        say(['campaign', 'measures', i, 'value', 'fields'], `${measure.title} has no field called “${field}”.`)
  }
  for (const [i, id] of (protocol.campaign?.guardedPhases ?? []).entries())
    if (!protocol.phases.some((phase) => phase.id === id))
      say(['campaign', 'guardedPhases', i], `No phase is called “${id}”: what would be guarded never comes.`)
  if (protocol.campaign?.pest !== undefined && !pestOf(protocol.campaign.pest))
    say(['campaign', 'pest'], `No life stages are written for “${protocol.campaign.pest}”.`)
  if (protocol.purpose === 'campaign' && !protocol.campaign)
    say(['purpose'], 'A campaign needs its “campaign” part: what it counts and what it is held against.')
  protocol.phases.forEach((phase, i) => {
    exitProblems(phase.exit, ['phases', i, 'exit'], i)
    if (!byTimeOrWork(phase.exit)) return
    const asked = rulesIn(phase.exit)
    for (const rule of phase.rules)
      if (goneWithThePhase(rule, phase.exit) && (byTimeAlone(phase.exit) || !asked.includes(rule.id)))
        say(
          ['phases', i, 'exit'],
          `“${rule.title}” is gone when the phase is over, done or not: ask for it too, with “rules-done”.`,
          'doubt',
        )
  })
  ;(protocol.abort ?? []).forEach(({ when }, i) => exitProblems(when, ['abort', i, 'when'], protocol.phases.length))
  if (protocol.clock && !roles.has(protocol.clock.role))
    say(['clock', 'role'], `The clock counts “${protocol.clock.role}”, which is no bottle of this protocol.`)
  return found

  function ruleProblems(rule: Rule, path: JSONPath): void {
    const formsOf = (role: string | undefined) =>
      (role === undefined ? [] : (roles.get(role)?.forms ?? [])).flatMap((id) => agentForm(id) ?? [])
    const bottle = (role: string, at: JSONPath) => {
      if (!roles.has(role)) say(at, `No bottle is called “${role}”.`)
    }
    const instrument = (role: string, at: JSONPath) => {
      if (!instruments.has(role)) say(at, `No kit is called “${role}”.`)
    }
    if (rule.kind !== 'test' && 'role' in rule && rule.role !== undefined) bottle(rule.role, [...path, 'role'])
    if ('afterDose' in rule && rule.afterDose !== undefined) {
      const { afterDose } = rule
      const beside = protocol.phases.find(({ rules }) => rules.includes(rule))?.rules ?? []
      if (afterDose === rule.id || !beside.some((one) => one.kind === 'dose' && one.id === afterDose))
        say([...path, 'afterDose'], `“${afterDose}” is no dose of this phase: its clock would never begin.`)
    }
    for (const variant of rule.onlyFor ?? [])
      if (!protocol.variants.some(({ id }) => id === variant))
        say([...path, 'onlyFor'], `No way is called “${variant}”.`)
    if ('confirmRole' in rule) instrument(rule.confirmRole, [...path, 'confirmRole'])
    checkRule(rule, {
      protocol,
      say: (at, message, weight) => say([...path, ...at], message, weight),
      limits: (value, at, unit, most) => limits(value, [...path, ...at], unit, most),
      bottle: (role, at) => bottle(role, [...path, ...at]),
      instrument: (role, at) => instrument(role, [...path, ...at]),
      measure: (id) => {
        if (!measures.has(id)) say([...path, 'measure'], `No measure is called “${id}”.`)
      },
      place: (id, at) => place(id, [...path, ...at]),
      formsOf,
      aim: (value, role, times) => {
        for (const aim of limits(value, [...path, 'aim'], 'mg/L', times)) {
          if (aim <= 0) say([...path, 'aim'], 'The level aimed at must be above zero.')
          for (const form of formsOf(role)) {
            if (aim > form.hardMax)
              say([...path, 'aim'], `${aim} mg/L is over the ceiling of ${form.hardMax} mg/L for ${form.label}.`)
            else if (aim > form.band.max)
              say(
                [...path, 'aim'],
                `${aim} mg/L is above the band of ${form.label} (to ${form.band.max} mg/L): between band and ceiling is alarm, not target.`,
              )
          }
        }
      },
      until: (condition) => {
        exitProblems(condition, [...path, 'until'], phaseOf(path))
        if (rulesIn(condition).includes(rule.id))
          say([...path, 'until'], `“${rule.id}” is repeated until it is done itself: a circle.`)
      },
    })
  }

  function place(id: string, path: JSONPath): void {
    if (id !== 'own' && !protocol.vesselRoles?.some((role) => role.id === id))
      say(path, `No vessel is called “${id}”: name it under “vesselRoles”, or say “own”.`)
  }

  /** What nobody is asked to read is never read: there is no end. */
  function reads(role: string, path: JSONPath): void {
    if (
      !placed.some(
        ({ rule }) =>
          (rule.kind === 'test' && rule.role === role) || ('confirmRole' in rule && rule.confirmRole === role),
      )
    )
      say([...path, 'role'], `No test reads “${role}”: this can never be fulfilled, and what follows is never reached.`)
  }

  /** A way out that can never open is a dead end; one that waits for a later phase is a circle. */
  function exitProblems(condition: Condition, path: JSONPath, phaseIndex: number): void {
    const named = (id: string, where: JSONPath) => {
      const rule = byId.get(id)
      if (!rule)
        say(where, `No rule is called “${id}”: this can never be fulfilled, and what follows is never reached.`)
      else if (rule.phaseIndex > phaseIndex)
        say(where, `Waits for “${id}”, which belongs to a later phase: a circle, and neither is ever reached.`)
      return rule
    }
    switch (condition.kind) {
      case 'all':
      case 'any':
        condition.of.forEach((part, i) => exitProblems(part, [...path, 'of', i], phaseIndex))
        return
      case 'not':
        exitProblems(condition.of, [...path, 'of'], phaseIndex)
        return
      case 'gates-passed':
        condition.gates.forEach((gate, i) => {
          const rule = named(gate, [...path, 'gates', i])
          if (rule && rule.rule.kind !== 'gate') say([...path, 'gates', i], `“${gate}” is not a question.`)
        })
        return
      case 'ramp-done': {
        const rule = named(condition.rule, [...path, 'rule'])
        if (rule && rule.rule.kind !== 'ramp') say([...path, 'rule'], `“${condition.rule}” does not raise a level.`)
        return
      }
      case 'rules-done':
        condition.rules.forEach((id, i) => {
          const rule = named(id, [...path, 'rules', i])
          if (rule && !endsByItself(rule.rule))
            say(
              [...path, 'rules', i],
              `“${id}” never ends by itself, so this can never be fulfilled. Use elapsed hours.`,
            )
        })
        return
      case 'rounds-enough': {
        const rule = named(condition.rule, [...path, 'rule'])
        if (rule && rule.rule.kind !== 'round') say([...path, 'rule'], `“${condition.rule}” is no round.`)
        return
      }
      case 'tally-clean':
      case 'tally-done':
      case 'jar-clear':
        if (!measures.has(condition.measure)) say([...path, 'measure'], `No measure is called “${condition.measure}”.`)
        if (condition.kind === 'tally-done' && measures.get(condition.measure)?.done === undefined)
          say([...path, 'measure'], `“${condition.measure}” has no band “done”, so this can never be fulfilled.`)
        if (condition.kind === 'jar-clear' && condition.noneCaught) {
          const rule = named(condition.noneCaught.gate, [...path, 'noneCaught', 'gate'])
          if (rule && rule.rule.kind !== 'gate')
            say([...path, 'noneCaught', 'gate'], `“${condition.noneCaught.gate}” is not a question.`)
        }
        return
      case 'clock-credited':
        limits(condition.hours, [...path, 'hours'], 'h')
        if (!protocol.clock) say(path, 'Hours are credited by a clock, and this protocol has none.')
        return
      case 'elapsed':
        limits(condition.hours, [...path, 'hours'], 'h')
        return
      case 'warm-days':
        if (condition.times !== undefined) limits(condition.times, [...path, 'times'], '')
        if (!instruments.has(condition.role)) say([...path, 'role'], `No kit is called “${condition.role}”.`)
        return
      case 'residents-in':
        limits(condition.hours, [...path, 'hours'], 'h')
        place(condition.place, [...path, 'place'])
        return
      case 'signs-absent':
        limits(condition.days, [...path, 'days'], 'd')
        return
      case 'pieces-clean': {
        const found = protocol.phases.flatMap(({ rules }) => rules).find(({ id }) => id === condition.rule)
        if (found?.kind !== 'bench' || !found.stages.some(({ finds }) => finds))
          say([...path, 'rule'], `No bench called “${condition.rule}” counts what is found.`)
        return
      }
      case 'held':
        reads(condition.role, path)
        limits(condition.hours, [...path, 'hours'], 'h')
        if (condition.atLeast === undefined && condition.atMost === undefined)
          say(path, 'Held inside what? It names neither atLeast nor atMost.')
        for (const [side, line] of [
          ['notBelow', condition.atMost],
          ['notAbove', condition.atLeast],
        ] as const)
          if (typeof condition[side] === 'number' && typeof line === 'number')
            if (side === 'notBelow' ? condition[side] >= line : condition[side] <= line)
              say(
                [...path, side],
                `Nothing is left between ${condition[side]} and ${line}: it would be turned for ever.`,
              )
        if (!instruments.has(condition.role)) say([...path, 'role'], `No kit is called “${condition.role}”.`)
        return
      case 'reading':
        if (!instruments.has(condition.role)) say([...path, 'role'], `No kit is called “${condition.role}”.`)
        else {
          reads(condition.role, path)
          const unit = unitOfAnalyte(protocol.instrumentRoles.find(({ id }) => id === condition.role)?.analyte ?? '')
          limits(condition.atLeast, [...path, 'atLeast'], unit)
          limits(condition.atMost, [...path, 'atMost'], unit)
        }
        return
      default:
        return
    }
  }
}

/** Rules a condition waits for. */
const rulesIn = (condition: Condition): readonly string[] =>
  condition.kind === 'all' || condition.kind === 'any'
    ? condition.of.flatMap(rulesIn)
    : condition.kind === 'not'
      ? rulesIn(condition.of)
      : condition.kind === 'rules-done'
        ? condition.rules
        : []
const phaseOf = (path: JSONPath): number => (typeof path[1] === 'number' ? path[1] : 0)

/** Whether an id belongs to the shipped library: a copy needs one of its own. */
export const isShippedId = (id: string): boolean => protocolLibrary.some((protocol) => protocol.id === id)

/** The text with one value changed at its place; everything else stays as it was typed. @throws for a text that cannot be read */
export const editProtocolText = (text: string, path: (string | number)[], value: unknown): string =>
  applyEdits(text, modify(text, path, value, { formattingOptions: { insertSpaces: true, tabSize: 2, eol: '\n' } }))
