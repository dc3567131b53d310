import { readdirSync, readFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { describe, expect, test } from '@jest/globals'
import { checkVector, differs, runFolder, type VectorFile } from './vectors/runVectors.ts'

const folder = join(dirname(fileURLToPath(import.meta.url)), 'vectors')

for (const name of readdirSync(folder).filter((file) => file.endsWith('.json'))) {
  const file = JSON.parse(readFileSync(join(folder, name), 'utf8')) as VectorFile
  describe(`reference vectors: ${file.topic}`, () => {
    test.each(file.vectors.map((vector) => [vector.id, vector] as const))('%s', (_id, vector) => {
      expect(checkVector(file.topic, vector)).toBeNull()
    })
  })
}

describe('the vector runner', () => {
  test('fails an unknown topic and an unknown kind', () => {
    const vector = { id: 'x', kind: 'nonsense', inputs: {}, expected: {}, tolerance: {} }
    expect(checkVector('volume', vector)).toMatch(/unknown kind/)
    expect(checkVector('weather', vector)).toMatch(/unknown kind/)
  })
  test('refuses an empty folder', () => {
    expect(() => runFolder(join(folder, '..', 'files', 'nothing'))).toThrow()
  })
  test('compares by tolerance, element by element', () => {
    expect(differs(1.0005, 1, { rel: 1e-3 }, 'a')).toBeNull()
    expect(differs(1.002, 1, { rel: 1e-3 }, 'a')).toMatch(/a: got/)
    expect(differs([1, 2], [1, 2, 3], {}, 'a')).toMatch(/length/)
    expect(differs({ x: 5 }, { x: 4 }, { by_key: { x: { abs: 2 } } }, 'a')).toBeNull()
    expect(differs(NaN, 1, { abs: 10 }, 'a')).toMatch(/NaN/)
  })
})
