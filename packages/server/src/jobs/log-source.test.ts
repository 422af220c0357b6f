import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { gunzipSync, gzipSync } from 'node:zlib'
import { describe, expect, it } from 'vitest'
import { type LogSource, packSource, readSource } from './log-source.ts'

const ROWS = 60_000
const text = `time_s,lat_deg,lon_deg,Höhe\n${Array.from({ length: ROWS }, (_, i) => `${i / 100},47.0000${i},-21,ä`).join('\n')}\n`
const path = join(mkdtempSync(join(tmpdir(), 'ochote-source-')), 'log.csv')
writeFileSync(path, text)
const packed = gzipSync(text)

const sources: [string, LogSource][] = [
  ['a file', { path }],
  ['a packed log', { packed }],
  ['a text', { text }],
]

describe.each(sources)('%s as the source of a log', (_, source) => {
  it('is read in pieces, with the share that is read rising to all of it', async () => {
    const shares: number[] = []
    const file = await readSource(source, (share) => shares.push(share))
    expect(file.form === 'table' && file.table.rows).toBe(ROWS)
    expect(file.form === 'table' && file.table.columns[3].name).toBe('Höhe')
    expect(shares.length).toBeGreaterThan(4)
    expect(shares).toEqual(shares.toSorted((a, b) => a - b))
    expect(shares.at(-1)).toBe(1)
  })

  it('is packed without a change', async () => {
    expect(gunzipSync(await packSource(source)).toString('utf8')).toBe(text)
  })
})

describe('a log that turns out to be none half-way', () => {
  const broken = text.replace('\n30000', '\n"30000').replaceAll('\n300,', '\n"300,')
  const place = join(mkdtempSync(join(tmpdir(), 'ochote-source-')), 'broken.csv')
  writeFileSync(place, broken)
  it.each([
    ['a file', { path: place }],
    ['a packed log', { packed: gzipSync(broken) }],
    ['a text', { text: broken }],
  ] as [string, LogSource][])('is refused with its row, and nothing is left open: %s', async (_, source) => {
    await expect(readSource(source, () => {})).rejects.toMatchObject({ code: 'file-unreadable', place: 'row 30002' })
  })
})

describe('a source that cannot be read', () => {
  it('says so instead of waiting', async () => {
    await expect(readSource({ path: `${path}.gone` }, () => {})).rejects.toThrow('ENOENT')
    await expect(readSource({ packed: packed.subarray(0, 2000) }, () => {})).rejects.toThrow('unexpected end of file')
  })
})

describe('a file that is no log', () => {
  it.each([
    ['[{"id":"a","name":"A","mass_kg":1200,\n"power_W":1}]', 'vehicle'],
    ['{"form":"ochote-day-1",\n"day":{}}', 'day'],
    ['%PDF-1.7\n1 0 obj\n', 'document'],
  ])('is named by what it is: %j', async (body, is) => {
    await expect(readSource({ text: body }, () => {})).rejects.toMatchObject({ code: 'file-of-other-kind', data: { is, wanted: 'log' } })
  })

  it('keeps its own words where nobody can tell', async () => {
    await expect(readSource({ text: '' }, () => {})).rejects.toMatchObject({ code: 'file-empty' })
  })
})
