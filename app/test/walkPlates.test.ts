// Every picture the walk names is drawn, and the gravest thing of a coral is the one that is shown.
import { describe, expect, test } from '@jest/globals'
import { species, walkAspects } from '@brinvo/core'
import { plateOf } from '../src/plates/Plate.tsx'
import { LEVEL_PLATES, plateOfState } from '../src/plates/walk.ts'

const WELL = Object.fromEntries(walkAspects.map(({ id, well }) => [id, well]))

describe('pictures of the walk', () => {
  test('each level has a place for one, and each that is named is drawn', () => {
    for (const { id, levels, well } of walkAspects) {
      expect([id, LEVEL_PLATES[id]?.length]).toEqual([id, levels.length])
      expect([id, LEVEL_PLATES[id]![well]]).toEqual([id, null])
      for (const plate of LEVEL_PLATES[id]!)
        if (plate !== null) expect([plate, plateOf(plate)?.id]).toEqual([plate, plate])
    }
  })
  test('a coral that is well is drawn in its form; every coral of the list has one', () => {
    for (const { scientific, group } of species)
      if (group === 'hg-coral')
        expect([scientific, plateOf(plateOfState(WELL, scientific) ?? '')?.id]).toEqual([
          scientific,
          expect.stringMatching(/^healthy-/),
        ])
    expect(plateOfState(WELL, 'Sarcophyton glaucum')).toBe('healthy-leather')
    expect(plateOfState(WELL, undefined)).toBeNull()
    expect(plateOfState(WELL, 'Nobody knows')).toBeNull()
  })
  test('what is gravest is drawn, and what lies on the good side of its line is not', () => {
    expect(plateOfState({ ...WELL, colour: 1 }, 'Montipora digitata')).toBe('colour-pale')
    expect(plateOfState({ ...WELL, colour: 1, tissue: 3 }, 'Montipora digitata')).toBe('tissue-peeling-sheets')
    expect(plateOfState({ ...WELL, colour: 0, slime: 1 }, undefined)).toBe('slime-clear-strings')
    expect(plateOfState({ ...WELL, extension: 3 }, 'Montipora digitata')).toBe('healthy-branch')
  })
})
