// Two devices meet at the local server: what travels is encrypted with a key that only the shown code carries, each part once
// and in its order. The server gets the meeting point, never the code.
import {
  inventoryOf,
  missingOf,
  recordOf,
  SCHEMA_VERSION,
  toFile,
  wholeOf,
  type Inventory,
  type KeeperRecord,
  type RecordFile,
} from '@brinvo/core'
import { files } from '../workers/client.ts'
import type { PhotoStore } from './photos.ts'

/** Letters and digits that cannot be taken for each other: no I, L, O, U (Crockford's base 32). */
const LETTERS = '0123456789ABCDEFGHJKMNPQRSTVWXYZ'
/** 16 of 32 letters: 80 bits, fresh for each hand-over. */
const LENGTH = 16
/** Rounds of PBKDF2 between code and key. */
const ROUNDS = 200_000
/** Pictures of about so many bytes go in one part. */
const PART_BYTES = 4 * 1024 * 1024
const BASE = '/handover/api'

export class HandoverError extends Error {
  override readonly name = 'HandoverError'
}

/** A fresh code as it is shown: four groups of four. */
export function newCode(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(LENGTH))
  return grouped([...bytes].map((byte) => LETTERS[byte & 31]!).join(''))
}
const grouped = (code: string): string => code.match(/.{1,4}/g)!.join(' ')

/**
 * The code in what was typed or read: an address that carries it, or its letters in any writing.
 * @returns null where it is no code: too short, too long, or with a letter that none has
 */
export function codeIn(text: string): string | null {
  const own = /#hand-over=([^&\s]+)/.exec(text)?.[1] ?? text
  const letters = own
    .toUpperCase()
    .replaceAll(/[\s\-–._]/g, '')
    .replaceAll('O', '0')
    .replaceAll(/[IL]/g, '1')
  return letters.length === LENGTH && [...letters].every((letter) => LETTERS.includes(letter)) ? grouped(letters) : null
}

interface Keys {
  readonly point: string
  readonly key: CryptoKey
}
/** Meeting point and key of a code. @throws HandoverError where the browser gives no cryptography to this page */
async function keysOf(code: string): Promise<Keys> {
  if (globalThis.crypto?.subtle === undefined)
    throw new HandoverError(
      'This page was opened over a connection that the browser does not trust, and it encrypts nothing there. Open the secure address, or use a file.',
    )
  const utf8 = new TextEncoder()
  const typed = await crypto.subtle.importKey('raw', utf8.encode(code.replaceAll(' ', '')), 'PBKDF2', false, [
    'deriveBits',
  ])
  const bits = await crypto.subtle.deriveBits(
    { name: 'PBKDF2', hash: 'SHA-256', salt: utf8.encode('brinvo hand-over 1'), iterations: ROUNDS },
    typed,
    384,
  )
  const hex = [...new Uint8Array(bits, 0, 16)].map((byte) => byte.toString(16).padStart(2, '0')).join('')
  const key = await crypto.subtle.importKey('raw', bits.slice(16), 'AES-GCM', false, ['encrypt', 'decrypt'])
  return { point: hex, key }
}

type Side = 'giver' | 'taker'
const OTHER = { giver: 'taker', taker: 'giver' } as const
/** Side and number of a part: its nonce, and what it is bound to. A part sent again, or as another, does not open. */
function nonceOf(side: Side, number: number): Uint8Array<ArrayBuffer> {
  const bytes = new Uint8Array(12)
  bytes[0] = side === 'giver' ? 1 : 2
  new DataView(bytes.buffer).setUint32(8, number)
  return bytes
}

/** One part: what it is, and the bytes that go with it. */
interface Part {
  readonly head: Readonly<Record<string, unknown>> & { readonly kind: string }
  readonly body: Uint8Array<ArrayBuffer>
}

/** A line to the other device through the server. */
class Line {
  private sent = 0
  private got = 0
  constructor(
    private readonly keys: Keys,
    private readonly side: Side,
    private readonly token: string,
    private readonly signal: AbortSignal,
  ) {}

  async send(head: Part['head'], body: Uint8Array<ArrayBuffer> = new Uint8Array()): Promise<void> {
    const text = new TextEncoder().encode(JSON.stringify(head))
    const plain = new Uint8Array(4 + text.length + body.length)
    new DataView(plain.buffer).setUint32(0, text.length)
    plain.set(text, 4)
    plain.set(body, 4 + text.length)
    const iv = nonceOf(this.side, this.sent)
    const closed = await crypto.subtle.encrypt({ name: 'AES-GCM', iv, additionalData: iv }, this.keys.key, plain)
    for (;;) {
      const answer = await this.ask(`left/${this.sent}`, {
        method: 'PUT',
        headers: { 'Content-Type': 'application/octet-stream' },
        body: closed,
      })
      // The other side has enough waiting: again.
      if (answer.status !== 503) break
    }
    this.sent++
  }

  async next(): Promise<Part> {
    for (;;) {
      const answer = await this.ask(`parts/${this.got}`)
      if (answer.status === 204) continue
      const iv = nonceOf(OTHER[this.side], this.got)
      let plain: Uint8Array<ArrayBuffer>
      try {
        plain = new Uint8Array(
          await crypto.subtle.decrypt(
            { name: 'AES-GCM', iv, additionalData: iv },
            this.keys.key,
            await answer.arrayBuffer(),
          ),
        )
      } catch (cause) {
        throw new HandoverError('A part did not come from the device that shares this code. Nothing was taken.', {
          cause,
        })
      }
      this.got++
      const length = new DataView(plain.buffer).getUint32(0)
      const head = JSON.parse(new TextDecoder().decode(plain.subarray(4, 4 + length))) as Part['head']
      return { head, body: plain.slice(4 + length) }
    }
  }

  async met(): Promise<void> {
    for (;;) if (((await (await this.ask('met')).json()) as { met: boolean }).met) return
  }
  /** Leaves: with all of it, or because it broke; the other side then learns at once. */
  async end(broken: boolean): Promise<void> {
    // Also where the keeper stopped it: its own signal would stop this too.
    await fetch(`${BASE}/${this.keys.point}${broken ? '?broken' : ''}`, {
      method: 'DELETE',
      headers: { Authorization: `Bearer ${this.token}` },
      keepalive: true,
    }).catch(() => undefined)
  }

  private async ask(path: string, init: RequestInit = {}): Promise<Response> {
    const answer = await asked(`${this.keys.point}${path === '' ? '' : `/${path}`}`, {
      ...init,
      signal: this.signal,
      headers: { ...(init.headers as Record<string, string>), Authorization: `Bearer ${this.token}` },
    })
    return answer
  }
}

async function asked(path: string, init: RequestInit): Promise<Response> {
  let answer: Response
  try {
    // Past the cache: it lets a part wait that is left under the address at which another is waited for.
    answer = await fetch(`${BASE}/${path}`, { ...init, cache: 'no-store' })
  } catch (cause) {
    if ((cause as Error).name === 'AbortError') throw cause
    throw new HandoverError('The program on the laptop does not answer. It must run while two devices meet.', { cause })
  }
  if (answer.ok || answer.status === 503) return answer
  const { problem } = (await answer.json().catch(() => ({ problem: null }))) as { problem: string | null }
  throw new HandoverError(problem ?? `The server answered ${answer.status}.`)
}

export interface Came {
  /** The other device's record as a whole, as it would stand in a file. */
  readonly theirs: KeeperRecord
  readonly pictures: ReadonlyMap<string, Blob>
  /** What travelled, for the eye: entries and documents that came, bytes both ways. */
  readonly entries: number
  readonly documents: number
  readonly bytes: number
}
export interface HandoverOptions {
  readonly record: KeeperRecord
  readonly photos: Pick<PhotoStore, 'ids' | 'get'>
  readonly nowMs: number
  readonly signal: AbortSignal
  readonly told: (words: string) => void
}

/** Shows a code until the other device comes, then exchanges. @throws HandoverError with a sentence */
export async function giveBy(code: string, options: HandoverOptions): Promise<Came> {
  const keys = await keysOf(code)
  const { token } = (await (await asked(keys.point, { method: 'POST', signal: options.signal })).json()) as {
    token: string
  }
  return whole(new Line(keys, 'giver', token, options.signal), options, true)
}
/** Comes to a code that the other device shows. @throws HandoverError with a sentence */
export async function takeBy(code: string, options: HandoverOptions): Promise<Came> {
  const keys = await keysOf(code)
  const { token } = (await (await asked(`${keys.point}/taker`, { method: 'POST', signal: options.signal })).json()) as {
    token: string
  }
  return whole(new Line(keys, 'taker', token, options.signal), options, false)
}
async function whole(line: Line, options: HandoverOptions, waits: boolean): Promise<Came> {
  let broken = true
  try {
    if (waits) await line.met()
    const came = await exchange(line, options)
    broken = false
    return came
  } finally {
    await line.end(broken)
  }
}

/** Both sides do the same: say what they have, send what the other lacks, read what comes. */
async function exchange(line: Line, { record, photos, nowMs, signal, told }: HandoverOptions): Promise<Came> {
  const { gzipSync, gunzipSync, strToU8, strFromU8 } = await import('fflate')
  const own = (await photos.ids()).sort()
  const mine = inventoryOf(record, own)
  told('Comparing what each has…')
  const packed = (value: unknown) => gzipSync(strToU8(JSON.stringify(value)), { level: 3 }) as Uint8Array<ArrayBuffer>
  const [, hello] = await Promise.all([line.send({ kind: 'has' }, packed(mine)), line.next()])
  const there = expect(hello, 'has', (body) => JSON.parse(strFromU8(gunzipSync(body))) as Inventory)
  const lacks = missingOf(record, own, there)
  let bytes = hello.body.length
  const sending = async () => {
    const file = toFile(recordOf(record.settings, lacks.documents, lacks.entries), new Date(nowMs).toISOString())
    const text = packed(file)
    // A record in pieces of one part each.
    const pieces = Math.max(1, Math.ceil(text.length / PART_BYTES))
    for (let i = 0; i < pieces; i++)
      await line.send(
        { kind: 'record', of: pieces, pictures: lacks.pictures.length },
        text.slice(i * PART_BYTES, (i + 1) * PART_BYTES),
      )
    for (const id of lacks.pictures) {
      const picture = await photos.get(id)
      const whole = new Uint8Array((await picture?.arrayBuffer()) ?? new ArrayBuffer(0))
      const parts = Math.max(1, Math.ceil(whole.length / PART_BYTES))
      for (let i = 0; i < parts; i++)
        await line.send(
          { kind: 'picture', id, type: picture?.type ?? '', of: parts },
          whole.slice(i * PART_BYTES, (i + 1) * PART_BYTES),
        )
    }
  }
  const reading = async () => {
    const pieces: Uint8Array<ArrayBuffer>[] = []
    let waiting = 0
    for (let of = 1; pieces.length < of;) {
      const part = await line.next()
      of = Number(expect(part, 'record', () => part.head['of']))
      waiting = Number(part.head['pictures'])
      bytes += part.body.length
      pieces.push(part.body)
    }
    const text = strFromU8(gunzipSync(joined(pieces)))
    const pictures = new Map<string, Blob>()
    for (let got = 0; got < waiting; got++) {
      told(`Pictures: ${got + 1} of ${waiting}…`)
      const of: Uint8Array<ArrayBuffer>[] = []
      let head: Part['head']
      do {
        const part = await line.next()
        head = expect(part, 'picture', () => part.head)
        bytes += part.body.length
        of.push(part.body)
      } while (of.length < Number(head['of']))
      const whole = joined(of)
      if (whole.length > 0) pictures.set(String(head['id']), new Blob([whole], { type: String(head['type']) }))
    }
    return { text, pictures }
  }
  const [, { text, pictures }] = await Promise.all([sending(), reading()])
  // Nobody leaves before the other has all of it.
  told('Checking what came…')
  await Promise.all([line.send({ kind: 'end' }), line.next().then((part) => expect(part, 'end', () => null))])
  signal.throwIfAborted()
  const sent = JSON.parse(text) as RecordFile
  if (sent.schemaVersion !== SCHEMA_VERSION)
    throw new HandoverError(
      `The other device runs ${sent.schemaVersion > SCHEMA_VERSION ? 'a newer' : 'an older'} version. Take the newer one on both (a line at the top offers it), then hand over again.`,
    )
  // It is read as a file would be: whole, each line held against the schema, away from the page.
  const whole = wholeOf(record, there, { entries: sent.entries, documents: sent.registers })
  const { report } = await files.run(
    'open',
    {
      text: JSON.stringify(toFile({ ...whole, settings: sent.settings }, new Date(nowMs).toISOString())),
      leaveOut: false,
      nowMs,
    },
    signal,
  )
  if (!report.file)
    throw new HandoverError(
      `What the other device sent cannot be read: ${report.problems[0]?.message ?? 'it is no record'} Nothing was taken.`,
    )
  const { settings, registers, entries } = report.file
  return {
    theirs: recordOf(settings, registers, entries),
    pictures,
    entries: sent.entries.length,
    documents: sent.registers.length,
    bytes,
  }
}

function expect<T>(part: Part, kind: string, read: (body: Uint8Array<ArrayBuffer>) => T): T {
  if (part.head.kind !== kind)
    throw new HandoverError('The other device speaks another language: it may run an older or newer version.')
  return read(part.body)
}
function joined(pieces: readonly Uint8Array<ArrayBuffer>[]): Uint8Array<ArrayBuffer> {
  const whole = new Uint8Array(pieces.reduce((sum, { length }) => sum + length, 0))
  let at = 0
  for (const piece of pieces) {
    whole.set(piece, at)
    at += piece.length
  }
  return whole
}
