import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Readable } from 'node:stream'
import { gzipSync } from 'node:zlib'
import type { Request } from 'express'
import { beforeEach, describe, expect, it } from 'vitest'
import { readConfig } from '../config.ts'
import { forgetUploads, withUpload } from './upload.ts'

const LIMIT = 50_000
let config = readConfig([], tmpdir())
beforeEach(() => {
  config = { ...readConfig([], tmpdir()), dataDir: mkdtempSync(join(tmpdir(), 'ochote-upload-')), uploadLimit: LIMIT }
})
const folder = (): string => join(config.dataDir, 'uploads')
const left = (): string[] => (existsSync(folder()) ? readdirSync(folder()) : [])

/** A request that sends these pieces; `says`: the length that it announces. */
const request = (pieces: Iterable<Buffer>, says?: number): Request =>
  Object.assign(Readable.from(pieces), {
    headers: says === undefined ? {} : { 'content-length': String(says) },
  }) as unknown as Request

describe('a file that is sent', () => {
  it('lies on the disk as it was sent while it is worked on, and is gone afterwards', async () => {
    const pieces = [Buffer.from('time_s,'), Buffer.from('lat\n'), Buffer.from('0,1\n')]
    const seen = await withUpload(request(pieces), config, async ({ path }) => {
      expect(left()).toHaveLength(1)
      return readFileSync(path, 'utf8')
    })
    expect(seen).toBe('time_s,lat\n0,1\n')
    expect(left()).toEqual([])
  })

  it('is unpacked where it is packed, by what it holds and not by its name', async () => {
    const long = 'row\n'.repeat(9000)
    const text = await withUpload(request([gzipSync(long)]), config, async ({ path }) => readFileSync(path, 'utf8'))
    expect(text).toBe(long)
    expect(left()).toEqual([])
  })

  it('may be empty', async () => {
    expect(await withUpload(request([]), config, async ({ path }) => readFileSync(path, 'utf8'))).toBe('')
  })

  it('is gone too where the work fails', async () => {
    const work = withUpload(request([Buffer.from('x')]), config, () => Promise.reject(new Error('no log')))
    await expect(work).rejects.toThrow('no log')
    expect(left()).toEqual([])
  })
})

describe('a file that cannot be taken', () => {
  const never = (): Promise<never> => Promise.reject(new Error('worked on'))
  const pieces = function* (): Generator<Buffer> {
    for (let k = 0; k < 100; k++) yield Buffer.alloc(1000, 65)
  }

  it.each([
    ['one that says it is too large', () => request([], LIMIT + 1), 413, 'too-large'],
    ['one that turns out too large', () => request(pieces()), 413, 'too-large'],
    ['one that unpacks to far more', () => request([gzipSync(Buffer.alloc(5 * LIMIT))]), 413, 'too-large'],
    ['one that is damaged', () => request([gzipSync('row\n'.repeat(900)).subarray(0, 40)]), 422, 'file-unreadable'],
  ])('%s leaves nothing behind and says what to do', async (_, of, status, code) => {
    const refused = withUpload(of(), config, never)
    await expect(refused).rejects.toMatchObject({ status, code, remedy: expect.stringContaining('nothing was stored') })
    expect(left()).toEqual([])
  })

  it('one whose sender goes away leaves nothing behind', async () => {
    const broken = function* (): Generator<Buffer> {
      yield Buffer.from('time_s,lat\n')
      throw new Error('gone')
    }
    await expect(withUpload(request(broken()), config, never)).rejects.toThrow('gone')
    expect(left()).toEqual([])
  })

  it('what a killed server had received in part is taken away at the next start', async () => {
    mkdirSync(folder())
    writeFileSync(join(folder(), 'part'), 'half a l')
    await forgetUploads(config)
    expect(left()).toEqual([])
    await forgetUploads(config)
  })
})
