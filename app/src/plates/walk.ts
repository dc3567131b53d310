// What the walk shows: a coral's form while it is well, the picture of a level where there is one.
import { isPast, walkAspects, type CoralState } from '@brinvo/core'

/** Plates of the levels of each aspect, in the order of its levels; null where words say it better. */
export const LEVEL_PLATES: Readonly<Record<string, readonly (string | null)[]>> = {
  colour: ['bleached-white-tissue', 'colour-pale', null, null, 'colour-brown-out'],
  tissue: [null, 'pastel-thin-tissue', 'recession-patch', 'tissue-peeling-sheets'],
  bare: [null, 'recession-edge', 'recession-base', 'recession-fast', 'skeleton-bare-white'],
  extension: ['polyp-extension-drop', 'polyp-shrunken', null, null, null],
  slime: [null, 'slime-clear-strings', 'white-film-on-tissue'],
}

/** Forms by genus: how it grows, not what it is. */
const FORMS: Readonly<Record<string, string>> = {
  montipora: 'healthy-branch',
  acropora: 'healthy-branch',
  seriatopora: 'healthy-branch',
  stylophora: 'healthy-branch',
  pocillopora: 'healthy-branch',
  pavona: 'healthy-plate',
  turbinaria: 'healthy-plate',
  euphyllia: 'healthy-fleshy',
  goniopora: 'healthy-fleshy',
  lobophyllia: 'healthy-fleshy',
  trachyphyllia: 'healthy-fleshy',
  sarcophyton: 'healthy-leather',
  sinularia: 'healthy-leather',
  lobophytum: 'healthy-leather',
  zoanthus: 'healthy-mat',
  palythoa: 'healthy-mat',
  discosoma: 'healthy-mat',
  ricordea: 'healthy-mat',
}

/** Gravest first: of what is past its line, this is drawn. */
const GRAVEST = ['tissue', 'slime', 'bare', 'colour', 'extension']

/** The picture of how a coral stands: of what is gravest, else of its form; null where neither is drawn. */
export function plateOfState(state: CoralState, scientificName: string | undefined): string | null {
  for (const id of GRAVEST) {
    const aspect = walkAspects.find((one) => one.id === id)
    const level = state[id]
    if (!aspect || level === undefined || !isPast(aspect, level)) continue
    const plate = LEVEL_PLATES[id]?.[level]
    if (plate) return plate
  }
  return FORMS[(scientificName ?? '').split(' ')[0]!.toLowerCase()] ?? null
}
