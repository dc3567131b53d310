import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { describe, expect, test } from '@jest/globals'
import request from 'supertest'
import { createApp, hostName } from '../src/app.ts'

function built(): string {
  const folder = mkdtempSync(join(tmpdir(), 'brinvo-'))
  mkdirSync(join(folder, 'assets'))
  writeFileSync(
    join(folder, 'index.html'),
    '<html><head><meta property="csp-nonce" nonce="__CSP_NONCE__"></head></html>',
  )
  writeFileSync(join(folder, 'assets', 'main-abc.js'), 'export const x = 1\n'.repeat(200))
  return folder
}
const host = (name: string) => ({ Host: name })

describe('the server', () => {
  test('hands out the page for any path, with its own nonce each time', async () => {
    const app = createApp({ folder: built() })
    const first = await request(app).get('/vessels/holding-a').set(host('127.0.0.1:4174'))
    const second = await request(app).get('/').set(host('localhost'))
    expect(first.status).toBe(200)
    const nonce = /nonce="([^"]+)"/.exec(first.text)?.[1] ?? ''
    expect(nonce.length).toBeGreaterThan(20)
    expect(first.headers['content-security-policy']).toContain(`'nonce-${nonce}'`)
    expect(/nonce="([^"]+)"/.exec(second.text)?.[1]).not.toBe(nonce)
  })

  test('allows no evaluation, no framing and no foreign address', async () => {
    const { headers } = await request(createApp({ folder: built() }))
      .get('/')
      .set(host('localhost'))
    const policy = headers['content-security-policy'] ?? ''
    expect(policy).not.toMatch(/unsafe/)
    expect(policy).toMatch(/connect-src 'self'(;|$)/)
    expect(policy).toContain("frame-ancestors 'none'")
    expect(policy).not.toMatch(/https?:/)
    expect(headers['x-content-type-options']).toBe('nosniff')
    expect(headers['x-powered-by']).toBeUndefined()
  })

  test('a bad address is the asker’s fault: one line, no stack, no path of ours', async () => {
    for (const path of ['/%', '/%E0%A4%A', '/vessels/%zz']) {
      const answer = await request(createApp({ folder: built() }))
        .get(path)
        .set(host('localhost'))
      expect(answer.status).toBe(400)
      expect(answer.text).not.toMatch(/ at |node_modules|\.ts|\.js|\//)
      expect(answer.text.trim().split('\n')).toHaveLength(1)
    }
  })

  test('the page is never sent raw, and the rescue page by its own route with its own nonce', async () => {
    const folder = built()
    writeFileSync(join(folder, 'rescue.html'), '<html><meta nonce="__CSP_NONCE__">rescue</html>')
    writeFileSync(join(folder, 'notices.txt'), 'Name: a package')
    const ask = (path: string) => request(createApp({ folder })).get(path).set(host('localhost'))
    const raw = await ask('/index.html')
    expect(raw.status).toBe(308)
    expect(raw.headers['location']).toBe('/')
    expect((await ask('/rescue.html')).headers['location']).toBe('/rescue')
    const rescue = await ask('/rescue')
    expect(rescue.text).toContain('rescue')
    expect(rescue.text).not.toContain('__CSP_NONCE__')
    expect((await ask('/notices.txt')).text).toBe('Name: a package')
  })

  test('refuses a foreign Host header', async () => {
    const app = createApp({ folder: built() })
    const answer = await request(app).get('/').set(host('tank.example:4174'))
    expect(answer.status).toBe(421)
    expect(answer.text).toMatch(/only under the address/)
    expect(
      (
        await request(createApp({ folder: built(), allowedHosts: ['192.168.1.20'] }))
          .get('/health')
          .set(host('192.168.1.20:80'))
      ).status,
    ).toBe(200)
  })

  test('compresses assets, keeps them a year, and answers a missing one with 404', async () => {
    const app = createApp({ folder: built() })
    const asset = await request(app).get('/assets/main-abc.js').set(host('localhost')).set('Accept-Encoding', 'gzip')
    expect(asset.headers['content-encoding']).toBe('gzip')
    const plain = await request(createApp({ folder: built(), compressed: false }))
      .get('/assets/main-abc.js')
      .set(host('localhost'))
      .set('Accept-Encoding', 'gzip')
    expect(plain.headers['content-encoding']).toBeUndefined()
    expect(asset.headers['cache-control']).toMatch(/immutable/)
    expect((await request(app).get('/assets/gone.js').set(host('localhost'))).status).toBe(404)
  })

  test('says in words when nothing is built', async () => {
    const empty = mkdtempSync(join(tmpdir(), 'brinvo-'))
    const answer = await request(createApp({ folder: empty }))
      .get('/')
      .set(host('localhost'))
    expect(answer.status).toBe(503)
    expect(answer.text).toMatch(/npm run build/)
    expect(
      (
        await request(createApp({ folder: empty }))
          .get('/health')
          .set(host('localhost'))
      ).body,
    ).toEqual({ ok: true, built: false })
  })

  test.each([
    ['localhost:80', 'localhost'],
    ['[::1]:4174', '[::1]'],
    ['127.0.0.1', '127.0.0.1'],
    [undefined, ''],
  ])('reads the host name out of %s', (header, name) => expect(hostName(header)).toBe(name))
})
