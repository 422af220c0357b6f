import { chmodSync, existsSync, mkdirSync, mkdtempSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { closeToOthers, hashOfToken, openSecrets } from './secrets.ts'

const folder = (): string => mkdtempSync(join(tmpdir(), 'ochote-secrets-'))

describe('the secret of a data folder', () => {
  it('is made once, for its owner alone, and gives the same tokens again', () => {
    const data = folder()
    const first = openSecrets(data)
    expect(statSync(join(data, 'secret.key')).mode & 0o777).toBe(0o600)
    const again = openSecrets(data)
    expect(again.token('student-link', 'a')).toBe(first.token('student-link', 'a'))
    expect(again.keyText('sessions')).toBe(first.keyText('sessions'))
    expect(openSecrets(folder()).token('student-link', 'a')).not.toBe(first.token('student-link', 'a'))
  })

  it('gives each purpose and each id another token, long enough not to be guessed', () => {
    const secrets = openSecrets(folder())
    const tokens = (['student-link', 'sheet-link'] as const).flatMap((purpose) => ['a', 'b'].map((id) => secrets.token(purpose, id)))
    expect(new Set(tokens).size).toBe(4)
    for (const token of tokens) expect(Buffer.from(token, 'base64url')).toHaveLength(24)
    expect(hashOfToken(tokens[0])).not.toContain(tokens[0])
  })

  it('opens what it sealed, and nothing that was changed or sealed by another', () => {
    const secrets = openSecrets(folder())
    const sealed = secrets.seal('codes', 'JBSWY3DPEHPK3PXP')
    expect(secrets.seal('codes', 'JBSWY3DPEHPK3PXP')).not.toBe(sealed)
    expect(secrets.unseal('codes', sealed)).toBe('JBSWY3DPEHPK3PXP')
    expect(secrets.unseal('sessions', sealed)).toBeNull()
    expect(openSecrets(folder()).unseal('codes', sealed)).toBeNull()
    const bytes = Buffer.from(sealed, 'base64')
    bytes[bytes.length - 1] ^= 1
    expect(secrets.unseal('codes', bytes.toString('base64'))).toBeNull()
  })

  it('is not made anew where the file holds something else', () => {
    const data = folder()
    writeFileSync(join(data, 'secret.key'), 'not a key')
    expect(() => openSecrets(data)).toThrow(/holds no key/)
    expect(readFileSync(join(data, 'secret.key'), 'utf8')).toBe('not a key')
  })
})

describe('a data folder', () => {
  it('is closed to others with all that lies in it', () => {
    const data = folder()
    mkdirSync(join(data, 'backups'))
    const file = join(data, 'backups', 'one.sqlite')
    writeFileSync(file, '')
    for (const path of [data, join(data, 'backups'), file]) chmodSync(path, 0o777)
    closeToOthers(data)
    expect(statSync(data).mode & 0o777).toBe(0o700)
    expect(statSync(join(data, 'backups')).mode & 0o777).toBe(0o700)
    expect(statSync(file).mode & 0o777).toBe(0o600)
    expect(existsSync(file)).toBe(true)
  })
})
