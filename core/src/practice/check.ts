// Whether a practice tank can be: its shape by the schema, its names by the tables, its water by being filled once.
import { validatePractice } from '../generated/validators.js'
import type { PracticeTank } from '../generated/practiceTypes.ts'
import { agentForm, ANALYTES, groupOf, protocolOf, vesselVolume } from '../index.ts'
import { practiceRecord, TANK_ID } from './house.ts'
import { passHour, practiceWorld } from './tank.ts'

interface AjvFault {
  readonly instancePath: string
  readonly message?: string
  readonly params?: Readonly<Record<string, unknown>>
}

/** What is wrong with it, as a sentence that says where; null where it can be lived. */
export function practiceFault(value: unknown): string | null {
  if (!validatePractice(value)) {
    const [fault] = ((validatePractice as unknown as { errors?: readonly AjvFault[] }).errors ??
      []) as readonly AjvFault[]
    const where =
      fault?.instancePath === undefined || fault.instancePath === ''
        ? 'the whole'
        : fault.instancePath.slice(1).replaceAll('/', ', ')
    const extra = fault?.params?.['additionalProperty']
    return `${where}: ${extra === undefined ? (fault?.message ?? 'it does not fit') : `“${String(extra)}” is not known here`}.`
  }
  const tank = value as PracticeTank
  for (const { group, name } of tank.animals)
    if (!groupOf(group)) return `animals, ${name}: there is no group “${group}”.`
  for (const { group, name, kind } of tank.bags ?? []) {
    const known = groupOf(group)
    if (!known) return `bags, ${name}: there is no group “${group}”.`
    if ((known.kind === 'fish') !== (kind === 'fish'))
      return `bags, ${name}: “${known.label}” is ${known.kind === 'fish' ? 'a fish' : 'no fish'}, and the bag says ${kind}.`
  }
  for (const { form } of tank.bottles) if (!agentForm(form)) return `bottles: there is no form “${form}”.`
  for (const kit of tank.kits) if (!(kit in ANALYTES)) return `kits: “${kit}” is nothing that is read.`
  if (tank.course) {
    const protocol = protocolOf(tank.course.protocol)
    if (!protocol) return `course: there is no protocol “${tank.course.protocol}”.`
    if (protocol.water !== 'both' && protocol.water !== tank.water)
      return `course: “${protocol.title}” is for ${protocol.water} water, and this tank is ${tank.water}.`
    if (tank.course.variant !== undefined && !protocol.variants?.some(({ id }) => id === tank.course!.variant))
      return `course: it has no variant “${tank.course.variant}”.`
  }
  for (const event of tank.events)
    if (event.day >= tank.days) return `events: day ${event.day} comes after the end, day ${tank.days}.`
  for (const step of tank.calendar)
    if (step.does === 'dose' && !agentForm(step.form ?? ''))
      return `calendar, day ${step.day}: a dose needs the form of a bottle.`
  try {
    const begun = { definition: tank, seed: 1, startMs: 0, zone: 'UTC' }
    const record = practiceRecord(begun)
    const litres = vesselVolume(record.vessels.get(TANK_ID)!)?.litres ?? 0
    if (!(litres > 0.5)) return 'boxCm, sandCm, rockKg: no water is left between sand and rock.'
    const world = practiceWorld(begun, record)
    for (let h = 0; h < 24; h++) passHour(world)
  } catch (cause) {
    return `it cannot be filled: ${(cause as Error).message}.`
  }
  return null
}
