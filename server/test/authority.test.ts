// The authority of a house, held against what an independent reader of certificates (the platform's own) says of it.
import { X509Certificate } from 'node:crypto'
import { mkdtempSync, readdirSync, statSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { describe, expect, test } from '@jest/globals'
import { houseOf, isPrivate } from '../src/authority.ts'

const NOW = Date.parse('2026-11-29T10:00:00Z')
const DAY = 86_400_000
const folder = () => join(mkdtempSync(join(tmpdir(), 'brinvo-')), 'state')
const first = (pem: string) => new X509Certificate(pem)

describe('the authority of this house', () => {
  test('signs this house’s addresses, for 13 months at most, and is none of the server’s', async () => {
    const house = await houseOf(folder(), ['192.168.1.20', 'reef.local', '127.0.0.1'], NOW)
    const [authority, server] = [first(house.authority), first(house.cert)]
    expect(authority.ca).toBe(true)
    expect(server.ca).toBe(false)
    expect(server.checkIssued(authority)).toBe(true)
    expect(server.verify(authority.publicKey)).toBe(true)
    expect(server.checkIP('192.168.1.20')).toBe('192.168.1.20')
    expect(server.checkHost('reef.local')).toBe('reef.local')
    expect(server.checkIP('192.168.1.21')).toBeUndefined()
    const days = (Date.parse(server.validTo) - Date.parse(server.validFrom)) / DAY
    expect(days).toBeLessThanOrEqual(397)
    expect(authority.fingerprint256.replaceAll(':', ' ')).toBe(house.fingerprint)
  })
  test('vouches for no address of the internet: such names are not signed', async () => {
    const house = await houseOf(folder(), ['8.8.8.8', 'bank.example', '10.0.0.3'], NOW)
    expect(first(house.cert).subjectAltName).toBe('IP Address:10.0.0.3')
    expect(['10.1.2.3', '172.16.0.1', '172.31.9.9', '192.168.0.1', '100.64.0.1', '127.0.0.1'].every(isPrivate)).toBe(
      true,
    )
    expect(['11.0.0.1', '172.32.0.1', '192.169.0.1', '100.128.0.1', 'reef.local', '::1'].some(isPrivate)).toBe(false)
  })
  test('is the same after a restart; another address or a near end brings another certificate of it', async () => {
    const place = folder()
    const house = await houseOf(place, ['192.168.1.20'], NOW)
    expect(await houseOf(place, ['192.168.1.20'], NOW + DAY)).toEqual(house)
    const moved = await houseOf(place, ['192.168.1.77'], NOW + DAY)
    expect(moved.fingerprint).toBe(house.fingerprint)
    expect(first(moved.cert).checkIP('192.168.1.77')).toBe('192.168.1.77')
    const later = await houseOf(place, ['192.168.1.77'], NOW + 370 * DAY)
    expect(later.fingerprint).toBe(house.fingerprint)
    expect(Date.parse(first(later.cert).validTo)).toBeGreaterThan(NOW + 700 * DAY)
    const old = await houseOf(place, ['192.168.1.77'], NOW + 3640 * DAY)
    expect(old.fingerprint).not.toBe(house.fingerprint)
  })
  test('keeps its keys to its owner, and half-written files do not stop it', async () => {
    const place = folder()
    await houseOf(place, ['10.0.0.3'], NOW)
    for (const name of readdirSync(place).filter((one) => one.endsWith('.key')))
      expect((statSync(join(place, name)).mode & 0o777).toString(8)).toBe('600')
    writeFileSync(join(place, 'server.crt'), '-----BEGIN CERT')
    const again = await houseOf(place, ['10.0.0.3'], NOW)
    expect(first(again.cert).checkIP('10.0.0.3')).toBe('10.0.0.3')
  })
})
