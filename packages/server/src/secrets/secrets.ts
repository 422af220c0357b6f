import { createCipheriv, createDecipheriv, createHash, createHmac, randomBytes } from 'node:crypto'
import { chmodSync, existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'

/** What a server's own secret is used for: each purpose has a key of its own. */
type Purpose = 'sessions' | 'student-link' | 'sheet-link' | 'board-link' | 'codes' | 'seal'

const KEY_BYTES = 32
const IV_BYTES = 12
const TAG_BYTES = 16

/** Secrets made from one key, which never stands in the database: a stolen copy of that opens no session and no link. */
const secretsOf = (key: Buffer) => {
  const keyOf = (purpose: Purpose): Buffer => createHmac('sha256', key).update(purpose).digest()
  return {
    /** The key of a purpose as text. */
    keyText: (purpose: Purpose): string => keyOf(purpose).toString('base64'),
    /** 192 bits that follow from an id, as they stand in an address. */
    token: (purpose: Purpose, id: string): string =>
      createHmac('sha256', keyOf(purpose)).update(id).digest().subarray(0, 24).toString('base64url'),
    /** A key of 256 bits that follows from an id (base64). */
    keyFor: (purpose: Purpose, id: string): string => createHmac('sha256', keyOf(purpose)).update(id).digest('base64'),
    /** A text that only this server can open again (AES-256-GCM). */
    seal: (purpose: Purpose, text: string): string => {
      const iv = randomBytes(IV_BYTES)
      const cipher = createCipheriv('aes-256-gcm', keyOf(purpose), iv)
      const sealed = Buffer.concat([cipher.update(text, 'utf8'), cipher.final()])
      return Buffer.concat([iv, cipher.getAuthTag(), sealed]).toString('base64')
    },
    /** What was sealed; null where another key did it, or somebody changed it. */
    unseal: (purpose: Purpose, sealed: string): string | null => {
      const bytes = Buffer.from(sealed, 'base64')
      try {
        const decipher = createDecipheriv('aes-256-gcm', keyOf(purpose), bytes.subarray(0, IV_BYTES))
        decipher.setAuthTag(bytes.subarray(IV_BYTES, IV_BYTES + TAG_BYTES))
        return decipher.update(bytes.subarray(IV_BYTES + TAG_BYTES), undefined, 'utf8') + decipher.final('utf8')
      } catch {
        return null
      }
    },
  }
}
export type Secrets = ReturnType<typeof secretsOf>

/** How a token or a session's id is kept: who reads the database learns none of them. */
export const hashOfToken = (token: string): string => createHash('sha256').update(token).digest('base64url')

/** The secret of a data folder: read, or made once. @throws Error where the file is there but holds no key */
export const openSecrets = (dataDir: string): Secrets => {
  const file = join(dataDir, 'secret.key')
  if (!existsSync(file)) writeFileSync(file, `${randomBytes(KEY_BYTES).toString('base64')}\n`, { mode: 0o600, flag: 'wx' })
  const key = Buffer.from(readFileSync(file, 'utf8').trim(), 'base64')
  if (key.length !== KEY_BYTES)
    throw new Error(`${file} holds no key. Put the right one back, or delete it: everybody signs in again then, and links are given anew.`)
  return secretsOf(key)
}

/** Lets nobody but the owner read what a data folder holds; a file system without such rights stays as it is. */
export const closeToOthers = (folder: string): void => {
  try {
    chmodSync(folder, 0o700)
    for (const entry of readdirSync(folder, { withFileTypes: true })) {
      const path = join(folder, entry.name)
      if (entry.isDirectory()) closeToOthers(path)
      else if (entry.isFile()) chmodSync(path, 0o600)
    }
  } catch {
    // Rights are a second fence; the server runs without it where the disk has none.
  }
}
