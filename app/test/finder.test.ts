import { describe, expect, test } from '@jest/globals'
import { conditions, protocolLibrary, signs } from '@brinvo/core'
import { finderOf, saidBy } from '../src/features/library/finder.ts'
import { signText } from '../src/features/library/SignShelf.tsx'

describe('the library is searched', () => {
  const texts = [
    'Marine white spot, grains on the skin',
    'Which of the two is it?',
    'Five dark days, lamps off',
    'Tank transfer, every 72 hours',
  ]
  const find = finderOf(texts)
  test.each([
    ['ich', [0]],
    ['blackout', [2]],
    ['ttm', [3]],
    ['white grains', [0]],
    ['transf', [3]],
    ['transfar', [3]],
    ['white lamps', []],
  ])('%s', (asked, found) => {
    expect([...find(asked)!].map((text) => texts.indexOf(text)).sort()).toEqual(found)
  })
  test('nothing asked is all of it', () => {
    expect(find('  ')).toBeNull()
  })
  test('words are what is said, not the names of parts', () => {
    expect(saidBy({ phases: ['raise'], inner: { title: 'Copper' }, days: 3 })).toBe('raise Copper')
  })
  test('the names keepers use lead to what ships', () => {
    const protocols = protocolLibrary.map(saidBy)
    const all = [...protocols, ...conditions.map(saidBy), ...signs.map(signText)]
    const findAll = finderOf(all)
    for (const word of [
      'blackout',
      'ich',
      'dinos',
      'cyano',
      'brook',
      'ttm',
      'hypo',
      'velvet',
      'prazi',
      'vermetid',
      'bba',
      'h2o2',
    ])
      expect([word, findAll(word)!.size > 0]).toEqual([word, true])
    expect([...findAll('blackout')!].some((text) => /dark/i.test(text))).toBe(true)
  })
})
