// The text of a file as its bytes lie: which encoding, and what is no text at all.
import { err, ok, type Result } from '../result.ts'

/** First bytes of what is often dropped in place of a table. */
const SIGNATURES: readonly (readonly [readonly number[], string])[] = [
  [
    [0x50, 0x4b, 3, 4],
    'This is a zipped workbook, not a table in text. Save the sheet as CSV in the program that made it, and choose that file.',
  ],
  [
    [0xd0, 0xcf, 0x11, 0xe0],
    'This is an old workbook, not a table in text. Save the sheet as CSV in the program that made it, and choose that file.',
  ],
  [[0x25, 0x50, 0x44, 0x46], 'This is a PDF. Copy its table and paste it, or ask the laboratory for a CSV file.'],
  [[0x89, 0x50, 0x4e, 0x47], 'This is a picture, not a table.'],
  [[0xff, 0xd8, 0xff], 'This is a picture, not a table.'],
  [[0x47, 0x49, 0x46, 0x38], 'This is a picture, not a table.'],
  [[0x1f, 0x8b], 'This is a packed file. Unpack it first and choose the table inside.'],
]
const NO_TEXT = 'These bytes are no text: nothing in it can be read as a table.'

/** UTF-16 without its mark: of Latin text every second byte is nothing. */
function wideEndian(bytes: Uint8Array): 'utf-16le' | 'utf-16be' | null {
  const count = Math.min(bytes.length, 4000) & ~1
  if (count < 4) return null
  let even = 0
  let odd = 0
  for (let i = 0; i < count; i += 2) {
    if (bytes[i] === 0) even++
    if (bytes[i + 1] === 0) odd++
  }
  const half = count / 2
  if (odd > half * 0.6 && even < half * 0.1) return 'utf-16le'
  if (even > half * 0.6 && odd < half * 0.1) return 'utf-16be'
  return null
}

/**
 * Text of a table's bytes: UTF-8 with or without a mark, UTF-16 either way round, else the Western code page that old
 * spreadsheets write. Line ends become LF; their number stays.
 *
 * @returns the text and its encoding, or one sentence on why these bytes are no text.
 */
export function textOf(bytes: Uint8Array): Result<{ readonly text: string; readonly encoding: string }, string> {
  if (bytes.length === 0) return err('The file is empty.')
  for (const [signature, said] of SIGNATURES) if (signature.every((byte, i) => bytes[i] === byte)) return err(said)
  let encoding =
    bytes[0] === 0xff && bytes[1] === 0xfe
      ? 'utf-16le'
      : bytes[0] === 0xfe && bytes[1] === 0xff
        ? 'utf-16be'
        : (wideEndian(bytes) ?? 'utf-8')
  let text: string
  try {
    text = new TextDecoder(encoding, { fatal: true }).decode(bytes)
  } catch {
    if (encoding !== 'utf-8') return err(NO_TEXT)
    encoding = 'windows-1252'
    text = new TextDecoder(encoding).decode(bytes)
  }
  text = text.replace(/^\ufeff/, '').replace(/\r\n?/g, '\n')
  // Control characters other than tab, line end and form feed stand in no table.
  // eslint-disable-next-line no-control-regex -- they are what is looked for
  const controls = text.slice(0, 20_000).match(/[\0-\x08\x0b\x0e-\x1f\ufffd]/g)?.length ?? 0
  if (controls > 0 && (text.includes('\0') || controls > text.length * 0.02)) return err(NO_TEXT)
  if (text.trim() === '') return err('There is nothing in this file.')
  if (/^\s*<(?:!doctype|html|head|body|table|\?xml|meta|div)\b/i.test(text))
    return err(
      'This is a web page under a table’s name. Open it in a browser, copy the table into a spreadsheet and save that as CSV.',
    )
  return ok({ text, encoding })
}
