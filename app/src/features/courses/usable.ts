// What of the cupboard and the shelf a course's roles can take.
import { formAmong, type KeeperRecord, type Protocol, type VesselDocument } from '@brinvo/core'
import { shelvedVessels } from '../../data/shelf.ts'

/** Bottles that can serve a role: those registered for this very use come first; used-up ones are left out. */
export const bottlesAmong = (record: KeeperRecord, forms: readonly string[]) =>
  [...record.products.values()]
    .filter(({ body }) => body.usedUpAt === undefined && formAmong(body, forms) !== undefined)
    .sort((a, b) => Number(forms.includes(b.body.form)) - Number(forms.includes(a.body.form)))

/** Kits that measure what a role asks for; for a drug those that read the form of its bottle. */
export const kitsFor = (record: KeeperRecord, role: Protocol['instrumentRoles'][number], form: string | null) =>
  [...record.instruments.values()].filter(
    ({ body }) =>
      body.analyte === role.analyte &&
      (role.readsFormOf === undefined ||
        form === null ||
        body.readsForms === undefined ||
        body.readsForms.includes(form)),
  )

/** Other vessels of the same kind of water. */
export const vesselsBeside = (record: KeeperRecord, vessel: VesselDocument | undefined) =>
  shelvedVessels(record).filter(({ id, body }) => id !== vessel?.id && body.water === vessel?.body.water)
