// An authority of this house: made on first use, kept in the user's own folder, and good for nothing but this network. What it
// signs lets a phone use the camera, work without a network and lock its record, which browsers grant over TLS alone.
import 'reflect-metadata'
import { createHash, webcrypto, X509Certificate as NodeCertificate } from 'node:crypto'
import { mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { isIPv4 } from 'node:net'
import { join } from 'node:path'
import { AsnConvert } from '@peculiar/asn1-schema'
import {
  GeneralName,
  GeneralSubtree,
  GeneralSubtrees,
  id_ce_nameConstraints,
  NameConstraints,
} from '@peculiar/asn1-x509'
import * as x509 from '@peculiar/x509'

x509.cryptoProvider.set(webcrypto)
const ALGORITHM = { name: 'ECDSA', namedCurve: 'P-256', hash: 'SHA-256' } as const
const DAY = 86_400_000
/** Phones refuse what is valid for longer than about 13 months. */
const SERVER_DAYS = 390
const AUTHORITY_DAYS = 3650
/** It is made anew so many days before it ends. */
const RENEW_DAYS = 30
/** Private networks, shared ones and the machine itself (RFC 1918, 3927, 6598): address and mask. */
const PERMITTED = [
  [10, 0, 0, 0, 255, 0, 0, 0],
  [172, 16, 0, 0, 255, 240, 0, 0],
  [192, 168, 0, 0, 255, 255, 0, 0],
  [100, 64, 0, 0, 255, 192, 0, 0],
  [169, 254, 0, 0, 255, 255, 0, 0],
  [127, 0, 0, 0, 255, 0, 0, 0],
]

export interface House {
  /** The authority's certificate, PEM: what a phone takes in. */
  readonly authority: string
  /** SHA-256 of that certificate, pairs of letters: what is compared by eye. */
  readonly fingerprint: string
  /** What the server shows: certificate and key, PEM. */
  readonly cert: string
  readonly key: string
}

/** Whether an address lies in a network that no other house can own; only such are signed. */
export const isPrivate = (address: string): boolean =>
  isIPv4(address) &&
  PERMITTED.some((range) => address.split('.').every((part, i) => (Number(part) & range[i + 4]!) === range[i]!))

const pem = (label: string, bytes: ArrayBuffer): string =>
  `-----BEGIN ${label}-----\n${(
    Buffer.from(bytes)
      .toString('base64')
      .match(/.{1,64}/g) ?? []
  ).join('\n')}\n-----END ${label}-----\n`
const keyPem = async (key: webcrypto.CryptoKey): Promise<string> =>
  pem('PRIVATE KEY', (await webcrypto.subtle.exportKey('pkcs8', key)) as ArrayBuffer)
const keyOf = (text: string): Promise<webcrypto.CryptoKey> =>
  webcrypto.subtle.importKey('pkcs8', Buffer.from(text.replace(/-----.*-----|\s/g, ''), 'base64'), ALGORITHM, false, [
    'sign',
  ])
const newKeys = () => webcrypto.subtle.generateKey(ALGORITHM, true, ['sign', 'verify'])

/** The extension that holds the authority to private addresses and to names under `.local`. */
function constraints(): x509.Extension {
  const subtree = (name: GeneralName) => new GeneralSubtree({ base: name })
  const value = new NameConstraints({
    permittedSubtrees: new GeneralSubtrees([
      subtree(new GeneralName({ dNSName: 'local' })),
      ...PERMITTED.map((range) => subtree(rangeName(range))),
    ]),
  })
  return new x509.Extension(id_ce_nameConstraints, true, AsnConvert.serialize(value))
}
/** An address range as a general name; the library's own reading knows single addresses only. */
function rangeName(range: readonly number[]): GeneralName {
  // Context tag 7, eight bytes: address and mask (RFC 5280, 4.2.1.10).
  return AsnConvert.parse(Uint8Array.from([0x87, range.length, ...range]), GeneralName)
}

async function makeAuthority(nowMs: number): Promise<{ cert: string; key: string }> {
  const keys = (await newKeys()) as webcrypto.CryptoKeyPair
  const mark = Buffer.from(webcrypto.getRandomValues(new Uint8Array(3))).toString('hex')
  const cert = await x509.X509CertificateGenerator.createSelfSigned({
    name: `CN=Brinvo of this house ${mark}, O=Brinvo`,
    notBefore: new Date(nowMs - DAY),
    notAfter: new Date(nowMs + AUTHORITY_DAYS * DAY),
    signingAlgorithm: ALGORITHM,
    keys: keys,
    extensions: [
      new x509.BasicConstraintsExtension(true, 0, true),
      new x509.KeyUsagesExtension(x509.KeyUsageFlags.keyCertSign | x509.KeyUsageFlags.cRLSign, true),
      await x509.SubjectKeyIdentifierExtension.create(keys.publicKey),
      constraints(),
    ],
  })
  return { cert: `${cert.toString('pem')}\n`, key: await keyPem(keys.privateKey) }
}

async function makeServer(
  authority: { cert: string; key: string },
  names: readonly string[],
  nowMs: number,
): Promise<{ cert: string; key: string }> {
  const issuer = new x509.X509Certificate(authority.cert)
  const keys = (await newKeys()) as webcrypto.CryptoKeyPair
  const cert = await x509.X509CertificateGenerator.create({
    subject: 'CN=Brinvo at home',
    issuer: issuer.subject,
    notBefore: new Date(nowMs - DAY),
    notAfter: new Date(nowMs + SERVER_DAYS * DAY),
    signingAlgorithm: ALGORITHM,
    publicKey: keys.publicKey,
    signingKey: await keyOf(authority.key),
    extensions: [
      new x509.BasicConstraintsExtension(false, undefined, true),
      new x509.KeyUsagesExtension(x509.KeyUsageFlags.digitalSignature, true),
      new x509.ExtendedKeyUsageExtension([x509.ExtendedKeyUsage.serverAuth]),
      new x509.SubjectAlternativeNameExtension(
        names.map((value) => ({ type: isIPv4(value) ? ('ip' as const) : ('dns' as const), value })),
      ),
      await x509.SubjectKeyIdentifierExtension.create(keys.publicKey),
      await x509.AuthorityKeyIdentifierExtension.create(issuer.publicKey),
    ],
  })
  return { cert: `${cert.toString('pem')}\n`, key: await keyPem(keys.privateKey) }
}

/** Two files of a pair; null where one is missing or cannot be read. */
function kept(folder: string, name: string): { cert: string; key: string } | null {
  try {
    const pair = {
      cert: readFileSync(join(folder, `${name}.crt`), 'utf8'),
      key: readFileSync(join(folder, `${name}.key`), 'utf8'),
    }
    new NodeCertificate(pair.cert)
    return pair
  } catch {
    return null
  }
}
/** Key first, certificate last: what is half written is made anew. */
function keep(folder: string, name: string, pair: { cert: string; key: string }): void {
  mkdirSync(folder, { recursive: true, mode: 0o700 })
  for (const [ending, text, mode] of [
    ['key', pair.key, 0o600],
    ['crt', pair.cert, 0o644],
  ] as const) {
    writeFileSync(join(folder, `${name}.${ending}.new`), text, { mode })
    renameSync(join(folder, `${name}.${ending}.new`), join(folder, `${name}.${ending}`))
  }
}
const endsAt = (cert: string): number => Date.parse(new NodeCertificate(cert).validTo)

/**
 * The house's authority and a certificate of it for these names: those that are kept, or new ones where there are none,
 * where they end soon, or where the machine has another address.
 * @param names private IPv4 addresses and names under `.local`; others are left out
 */
export async function houseOf(folder: string, names: readonly string[], nowMs: number): Promise<House> {
  const wanted = [...new Set(names)].filter((name) => isPrivate(name) || /^[a-z0-9-]+\.local$/i.test(name)).sort()
  let authority = kept(folder, 'authority')
  const fresh = authority === null || endsAt(authority.cert) - nowMs < RENEW_DAYS * DAY
  if (authority === null || fresh) {
    authority = await makeAuthority(nowMs)
    keep(folder, 'authority', authority)
  }
  let server = fresh ? null : kept(folder, 'server')
  if (server !== null) {
    const found = new NodeCertificate(server.cert)
    const fits =
      wanted.every((name) => (isIPv4(name) ? found.checkIP(name) : found.checkHost(name)) !== undefined) &&
      endsAt(server.cert) - nowMs >= RENEW_DAYS * DAY &&
      Date.parse(found.validFrom) <= nowMs &&
      found.checkIssued(new NodeCertificate(authority.cert))
    if (!fits) server = null
  }
  if (server === null) {
    server = await makeServer(authority, wanted, nowMs)
    keep(folder, 'server', server)
  }
  return {
    authority: authority.cert,
    fingerprint: createHash('sha256')
      .update(new NodeCertificate(authority.cert).raw)
      .digest('hex')
      .toUpperCase()
      .match(/../g)!
      .join(' '),
    cert: server.cert + authority.cert,
    key: server.key,
  }
}
