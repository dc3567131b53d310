import type { PatchArm } from '@brinvo/core'

/** What is done at a patch, as keepers say it. */
export const ARM_WORDS: Readonly<Record<PatchArm, string>> = {
  treated: 'treated',
  'other-way': 'treated the other way',
  untreated: 'untreated',
}
