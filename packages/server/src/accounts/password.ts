import { randomBytes, type ScryptOptions, scrypt, timingSafeEqual } from 'node:crypto'

// OWASP's scrypt setting for interactive sign-in: N = 2^15, r = 8, p = 3.
const cost: ScryptOptions = { N: 2 ** 15, r: 8, p: 3, maxmem: 64 * 1024 * 1024 }
const keyBytes = 32

const derive = (password: string, salt: Buffer): Promise<Buffer> =>
  new Promise((resolve, reject) =>
    scrypt(password.normalize('NFKC'), salt, keyBytes, cost, (error, key) => (error ? reject(error) : resolve(key))),
  )

/** A salted hash with its own parameters in front, `scrypt$salt$key` in base64. */
export const hashPassword = async (password: string): Promise<string> => {
  const salt = randomBytes(16)
  const key = await derive(password, salt)
  return `scrypt$${salt.toString('base64')}$${key.toString('base64')}`
}

/** True if a password fits a hash, in constant time. A missing hash costs the same and never fits. */
export const passwordFits = async (password: string, hash: string | null): Promise<boolean> => {
  const [, salt, key] = (hash ?? `scrypt$${Buffer.alloc(16).toString('base64')}$${Buffer.alloc(keyBytes).toString('base64')}`).split('$')
  const derived = await derive(password, Buffer.from(salt, 'base64'))
  return timingSafeEqual(derived, Buffer.from(key, 'base64')) && hash !== null
}
