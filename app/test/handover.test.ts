// The code of a hand-over: read in any writing, refused where it is none, and found by a camera in the squares that are shown.
import { describe, expect, test } from '@jest/globals'
import jsQR from 'jsqr'
import { create } from 'qrcode'
import { codeIn, newCode } from '../src/data/handover.ts'

describe('the code', () => {
  test('is sixteen letters that cannot be taken for each other, new each time', () => {
    const codes = Array.from({ length: 200 }, newCode)
    expect(new Set(codes).size).toBe(200)
    for (const code of codes) expect(code).toMatch(/^(?:[0-9A-HJKMNP-TV-Z]{4} ){3}[0-9A-HJKMNP-TV-Z]{4}$/)
    // Each of the 32 letters comes: none is left out by a slip of the mask.
    expect(new Set(codes.join('').replaceAll(' ', '')).size).toBe(32)
  })
  test.each([
    ['abcd efgh jkmn pqrs', 'ABCD EFGH JKMN PQRS'],
    ['abcdefghjkmnpqrs', 'ABCD EFGH JKMN PQRS'],
    ['ABCD-EFGH-JKMN-PQRS', 'ABCD EFGH JKMN PQRS'],
    ['oooo iiii llll 1111', '0000 1111 1111 1111'],
    ['https://192.168.1.20:4175/ledger#hand-over=ABCDEFGHJKMNPQRS', 'ABCD EFGH JKMN PQRS'],
    ['ABCD EFGH JKMN PQR', null],
    ['ABCD EFGH JKMN PQRST', null],
    ['ABCD EFGH JKMN PQRU', null],
    ['https://elsewhere.example/ledger', null],
    ['', null],
  ])('“%s” is read as %s', (text, code) => {
    expect(codeIn(text)).toBe(code)
  })
  test('the squares are read back by another reader, small and turned', () => {
    const text = `https://192.168.77.1:4301/ledger#hand-over=${newCode().replaceAll(' ', '')}`
    const { modules } = create(text, { errorCorrectionLevel: 'M' })
    const [scale, quiet] = [3, 4]
    const side = (modules.size + 2 * quiet) * scale
    const picture = new Uint8ClampedArray(side * side * 4).fill(255)
    for (let y = 0; y < side; y++)
      for (let x = 0; x < side; x++) {
        // A quarter turn, as a phone is held.
        const [row, column] = [Math.floor(x / scale) - quiet, modules.size - 1 - (Math.floor(y / scale) - quiet)]
        const dark =
          row >= 0 && column >= 0 && row < modules.size && column < modules.size && Boolean(modules.get(row, column))
        if (dark) picture.set([0, 0, 0], (y * side + x) * 4)
      }
    expect(jsQR(picture, side, side)?.data).toBe(text)
    expect(codeIn(jsQR(picture, side, side)!.data)).not.toBeNull()
  })
})
