import { Secret, TOTP } from 'otpauth'
import { serverNow } from '../clock/clock.ts'

/** Neighbouring codes that count too: clocks of phones are off by some seconds. */
const WINDOW = 1

const totpOf = (secret: string, name: string): TOTP =>
  new TOTP({ issuer: 'Ochote', label: name, secret: Secret.fromBase32(secret), digits: 6, period: 30 })

/** A new secret for an authenticator, as text to type and as an address for a QR code. */
export const newCodesSecret = (name: string): { secret: string; uri: string } => {
  const secret = new Secret({ size: 20 }).base32
  return { secret, uri: totpOf(secret, name).toString() }
}

/** The number of the half minute whose code this is (RFC 6238); null for a wrong one. */
export const codeStep = (secret: string, code: string, now_ms = serverNow()): number | null => {
  const delta = totpOf(secret, '').validate({ token: code.replace(/\s/g, ''), window: WINDOW, timestamp: now_ms })
  return delta === null ? null : Math.floor(now_ms / 30_000) + delta
}
