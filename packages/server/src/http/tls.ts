import { generateKeyPairSync, randomBytes, X509Certificate } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { isIP } from 'node:net'
import { hostname, networkInterfaces } from 'node:os'
import { join } from 'node:path'
import forge from 'node-forge'

/** Key and certificate of a server as PEM; `authority`: the certificate that devices have to trust, where it is our own. */
export type TlsFiles = { key: string; cert: string; authority: string | null }

const AUTHORITY_DAYS = 3650
/** Browsers refuse certificates that are valid for longer. */
const SERVER_DAYS = 397
/** A certificate is made anew this long before it ends. */
const RENEW_DAYS = 30
const DAY_MS = 86_400_000

/** IPv4 addresses of this machine in its networks, the loopback left out. */
export const networkAddresses = (): string[] =>
  Object.values(networkInterfaces()).flatMap((list) =>
    (list ?? []).flatMap((one) => (one.family === 'IPv4' && !one.internal ? [one.address] : [])),
  )

/** Names and addresses under which devices may open this server. */
const serverNames = (): string[] => {
  const own = hostname().toLowerCase()
  return [...new Set(['localhost', '127.0.0.1', own, `${own.replace(/\.local$/, '')}.local`, ...networkAddresses()])]
}

const newKey = (): { pem: string; key: forge.pki.rsa.PrivateKey; publicKey: forge.pki.rsa.PublicKey } => {
  const { privateKey } = generateKeyPairSync('rsa', { modulusLength: 2048 })
  const pem = privateKey.export({ type: 'pkcs1', format: 'pem' }).toString()
  const key = forge.pki.privateKeyFromPem(pem)
  return { pem, key, publicKey: forge.pki.setRsaPublicKey(key.n, key.e) }
}

const blank = (publicKey: forge.pki.rsa.PublicKey, days: number, now: Date): forge.pki.Certificate => {
  const cert = forge.pki.createCertificate()
  cert.publicKey = publicKey
  // Positive, and never the same twice: browsers compare numbers under one authority.
  cert.serialNumber = `00${randomBytes(16).toString('hex')}`
  // A device whose clock is a little behind trusts it too.
  cert.validity.notBefore = new Date(now.getTime() - DAY_MS)
  cert.validity.notAfter = new Date(now.getTime() + days * DAY_MS)
  return cert
}

/** A certificate authority of this server alone. */
const newAuthority = (now: Date): { key: string; cert: string } => {
  const { pem, key, publicKey } = newKey()
  const cert = blank(publicKey, AUTHORITY_DAYS, now)
  const subject = [{ name: 'commonName', value: `Ochote on ${hostname()}` }]
  cert.setSubject(subject)
  cert.setIssuer(subject)
  cert.setExtensions([
    { name: 'basicConstraints', cA: true, pathLenConstraint: 0, critical: true },
    { name: 'keyUsage', keyCertSign: true, cRLSign: true, critical: true },
    { name: 'subjectKeyIdentifier' },
  ])
  cert.sign(key, forge.md.sha256.create())
  return { key: pem, cert: forge.pki.certificateToPem(cert) }
}

/** A certificate for names and addresses, signed by an authority. */
const newServer = (authority: { key: string; cert: string }, names: readonly string[], now: Date): { key: string; cert: string } => {
  const { pem, publicKey } = newKey()
  const issuer = forge.pki.certificateFromPem(authority.cert)
  const cert = blank(publicKey, SERVER_DAYS, now)
  cert.setSubject([{ name: 'commonName', value: names[0] }])
  cert.setIssuer(issuer.subject.attributes)
  cert.setExtensions([
    { name: 'basicConstraints', cA: false },
    { name: 'keyUsage', digitalSignature: true, keyEncipherment: true, critical: true },
    { name: 'extKeyUsage', serverAuth: true },
    { name: 'subjectAltName', altNames: names.map((name) => (isIP(name) ? { type: 7, ip: name } : { type: 2, value: name })) },
  ])
  cert.sign(forge.pki.privateKeyFromPem(authority.key), forge.md.sha256.create())
  return { key: pem, cert: forge.pki.certificateToPem(cert) }
}

/** True if a certificate is for all of these names, and valid for a while. */
const stillFits = (pem: string, names: readonly string[], now: Date): boolean => {
  const cert = new X509Certificate(pem)
  const left_ms = Date.parse(cert.validTo) - now.getTime()
  return left_ms > RENEW_DAYS * DAY_MS && names.every((name) => (isIP(name) ? cert.checkIP(name) : cert.checkHost(name)) !== undefined)
}

/** Writes a secret whole or not at all, readable by its owner alone. */
const writeSecret = (file: string, text: string): void => {
  writeFileSync(`${file}.new`, text, { mode: 0o600 })
  renameSync(`${file}.new`, file)
}

/**
 * The server's own authority and certificate, made at the first start and kept in the data folder. The authority stays, so that
 * devices trust it once; the certificate is made anew when the machine has another address or the old one ends.
 */
export const ownTls = (dataDir: string, names = serverNames(), now = new Date()): TlsFiles => {
  const folder = join(dataDir, 'tls')
  mkdirSync(folder, { recursive: true, mode: 0o700 })
  const at = (name: string): string => join(folder, name)
  if (!existsSync(at('authority.crt')) || !existsSync(at('authority.key'))) {
    const made = newAuthority(now)
    writeSecret(at('authority.key'), made.key)
    writeSecret(at('authority.crt'), made.cert)
  }
  const authority = { key: readFileSync(at('authority.key'), 'utf8'), cert: readFileSync(at('authority.crt'), 'utf8') }
  const usable =
    existsSync(at('server.key')) && existsSync(at('server.crt')) && stillFits(readFileSync(at('server.crt'), 'utf8'), names, now)
  if (!usable) {
    const made = newServer(authority, names, now)
    writeSecret(at('server.key'), made.key)
    writeSecret(at('server.crt'), made.cert)
  }
  return { key: readFileSync(at('server.key'), 'utf8'), cert: readFileSync(at('server.crt'), 'utf8'), authority: authority.cert }
}

/** Key and certificate out of two files. @throws Error with a sentence for files that cannot be used */
export const tlsFromFiles = (certFile: string, keyFile: string): TlsFiles => {
  const read = (file: string): string => {
    if (!existsSync(file)) throw new Error(`--tls: there is no file ${file}. Give the certificate and its key as CERT,KEY.`)
    return readFileSync(file, 'utf8')
  }
  const cert = read(certFile)
  const key = read(keyFile)
  try {
    new X509Certificate(cert)
  } catch {
    throw new Error(`--tls: ${certFile} holds no certificate in PEM form.`)
  }
  return { key, cert, authority: null }
}
