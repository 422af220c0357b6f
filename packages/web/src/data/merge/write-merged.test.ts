import { describe, expect, it } from 'vitest'
import { ApiProblem } from '../api/api-client.ts'
import { writeMerged } from './write-merged.ts'

const refused = (code: string): ApiProblem => new ApiProblem({ type: 'urn:x', title: 'No', status: 409, code })
type Doc = { name: string; level: string }

/** A server with one document. */
const serverWith = (doc: Doc, version: number) => {
  const stored = { doc, version }
  return {
    stored,
    read: async () => ({ ...stored }),
    write: async (next: Doc, from: number): Promise<Doc> => {
      if (from !== stored.version) throw refused('changed-meanwhile')
      stored.doc = next
      stored.version++
      return next
    },
  }
}

describe('a write over a newer version', () => {
  const base = { name: 'Imke', level: 'first-day' }

  it('keeps both changes and tells nothing lost where they are of different fields', async () => {
    const server = serverWith({ ...base, name: 'Imke Valderan' }, 5)
    const answer = await writeMerged({ base, mine: { ...base, level: 'steady' }, version: 4, ...server })
    expect(answer).toEqual({ written: { name: 'Imke Valderan', level: 'steady' }, lost: [] })
    expect(server.stored.version).toBe(6)
  })

  it('tells the field that was not kept', async () => {
    const server = serverWith({ ...base, level: 'building' }, 5)
    const { written, lost } = await writeMerged({ base, mine: { ...base, level: 'steady' }, version: 4, ...server })
    expect(written.level).toBe('building')
    expect(lost).toEqual([{ path: ['level'], mine: 'steady', theirs: 'building' }])
  })

  it('passes other problems on, and gives up where the document never stands still', async () => {
    const write = async (): Promise<never> => {
      throw refused('name-taken')
    }
    await expect(writeMerged({ base, mine: base, version: 1, write, read: async () => ({ doc: base, version: 1 }) })).rejects.toMatchObject(
      {
        problem: { code: 'name-taken' },
      },
    )
    let reads = 0
    const never = async (): Promise<never> => {
      throw refused('changed-meanwhile')
    }
    const read = async () => ({ doc: base, version: ++reads })
    await expect(writeMerged({ base, mine: base, version: 0, write: never, read })).rejects.toMatchObject({
      problem: { code: 'changed-meanwhile' },
    })
    expect(reads).toBe(3)
  })
})
