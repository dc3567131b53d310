// A meeting of two devices: once, minutes long, in memory, for its own page alone; guesses are slowed.
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { describe, expect, test } from '@jest/globals'
import request from 'supertest'
import { createApp } from '../src/app.ts'
import { Handover, handoverRoutes, MEETING_MS } from '../src/handover.ts'

const POINT = '00112233445566778899aabbccddeeff'
function opened(now: () => number = Date.now) {
  const folder = mkdtempSync(join(tmpdir(), 'brinvo-'))
  writeFileSync(join(folder, 'index.html'), '<html></html>')
  const handover = new Handover(now)
  const app = createApp({ folder, handover: handoverRoutes(handover) })
  const ask = (method: 'get' | 'post' | 'put' | 'delete', path: string, token?: string) => {
    const made = request(app)[method](`/handover/api/${path}`).set('Host', '127.0.0.1:4174')
    return token === undefined ? made : made.set('Authorization', `Bearer ${token}`)
  }
  const leave = (token: string, number: number, bytes: Buffer) =>
    ask('put', `${POINT}/left/${number}`, token).set('Content-Type', 'application/octet-stream').send(bytes)
  const meet = async () => ({
    giver: ((await ask('post', POINT)).body as { token: string }).token,
    taker: ((await ask('post', `${POINT}/taker`)).body as { token: string }).token,
  })
  return { handover, ask, leave, meet }
}

describe('a hand-over through the server', () => {
  test('passes parts both ways, in order, and holds nothing once both are done', async () => {
    const { handover, ask, leave, meet } = opened()
    const { giver, taker } = await meet()
    expect((await leave(giver, 0, Buffer.from('from the laptop'))).status).toBe(204)
    expect((await leave(taker, 0, Buffer.from('from the phone'))).status).toBe(204)
    expect((await ask('get', `${POINT}/parts/0`, taker)).body.toString()).toBe('from the laptop')
    // Asked again before the next was asked for, it is still there: an answer may be lost on its way.
    expect((await ask('get', `${POINT}/parts/0`, taker)).body.toString()).toBe('from the laptop')
    expect((await ask('get', `${POINT}/parts/0`, giver)).body.toString()).toBe('from the phone')
    expect((await leave(giver, 0, Buffer.from('again'))).status).toBe(409)
    await ask('delete', POINT, giver)
    // The other may fetch the last of it.
    expect(handover.held.meetings).toBe(1)
    await ask('delete', POINT, taker)
    expect(handover.held).toEqual({ meetings: 0, bytes: 0 })
  })
  test('whoever waits is told as soon as something comes', async () => {
    const { ask, leave, meet } = opened()
    const { giver, taker } = await meet()
    const waiting = ask('get', `${POINT}/parts/0`, taker).then(({ body }: { body: Buffer }) => body.toString())
    await leave(giver, 0, Buffer.from('late'))
    expect(await waiting).toBe('late')
  })
  test('one who comes second, or again when it is over, is told that the code was used', async () => {
    const { ask, meet } = opened()
    const { giver } = await meet()
    const again = await ask('post', `${POINT}/taker`)
    expect([again.status, again.body.problem]).toEqual([410, expect.stringMatching(/was used/)])
    await ask('delete', `${POINT}?broken`, giver)
    expect((await ask('post', `${POINT}/taker`)).status).toBe(410)
    expect((await ask('post', POINT)).status).toBe(409)
  })
  test('a code that nobody read is over after its minutes, and what broke is told to the other side at once', async () => {
    let nowMs = 1_000_000
    const { handover, ask, meet } = opened(() => nowMs)
    const { giver, taker } = await meet()
    await ask('delete', `${POINT}?broken`, taker)
    expect((await ask('get', `${POINT}/parts/0`, giver)).status).toBe(410)
    await ask('post', POINT.replace('00', '11'))
    nowMs += MEETING_MS + 1
    handover.tick()
    expect(handover.held.meetings).toBe(0)
    expect((await ask('post', `${POINT.replace('00', '11')}/taker`)).status).toBe(410)
  })
  test('of 1,000 guesses in a minute ten are answered and the rest are not', async () => {
    const { ask } = opened()
    const statuses = new Map<number, number>()
    for (let i = 0; i < 1000; i += 20)
      for (const { status } of await Promise.all(
        Array.from({ length: 20 }, (_, one) => ask('post', `${(i + one).toString(16).padStart(32, '0')}/taker`)),
      ))
        statuses.set(status, (statuses.get(status) ?? 0) + 1)
    expect(Object.fromEntries(statuses)).toEqual({ 404: 10, 429: 990 })
  }, 60_000)
  test('another page, another token and another address get nothing', async () => {
    const { ask, meet } = opened()
    const { giver } = await meet()
    expect((await ask('get', `${POINT}/parts/0`, giver).set('Origin', 'https://evil.example')).status).toBe(403)
    expect((await ask('get', `${POINT}/parts/0`, giver).set('Sec-Fetch-Site', 'cross-site')).status).toBe(403)
    expect((await ask('get', `${POINT}/parts/0`, `${giver.slice(0, -1)}-`)).status).toBe(401)
    expect((await ask('get', `${POINT}/parts/0`)).status).toBe(401)
    expect((await ask('post', 'not-a-point')).status).toBe(400)
    expect((await ask('get', `${POINT}/parts/x`, giver)).status).toBe(400)
  })
  test('a part of nine megabytes is refused', async () => {
    const { leave, meet } = opened()
    const { giver } = await meet()
    expect((await leave(giver, 0, Buffer.alloc(9 * 1024 * 1024))).status).toBe(413)
  })
  test('more than a few parts that wait are held back', () => {
    const handover = new Handover()
    handover.open(POINT)
    handover.come(POINT)
    for (let number = 0; number < 4; number++) expect(handover.put(POINT, 'giver', number, Buffer.from('x'))).toBe(true)
    expect(handover.put(POINT, 'giver', 4, Buffer.from('x'))).toBe(false)
    handover.take(POINT, 'taker', 1)
    expect(handover.put(POINT, 'giver', 4, Buffer.from('x'))).toBe(true)
  })
})
