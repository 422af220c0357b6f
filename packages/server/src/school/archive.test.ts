import { Writable } from 'node:stream'
import { gunzipSync } from 'node:zlib'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { startDemoServer, startTestServer, type TestServer } from '../test-server.test-data.ts'
import { writeArchive } from './archive.ts'

/** Bytes of a download. */
const bytes = (server: TestServer): Promise<Buffer> =>
  server.agent
    .get('/api/school/archive')
    .buffer(true)
    .parse((res, done) => {
      const pieces: Buffer[] = []
      res.on('data', (piece: Buffer) => pieces.push(piece))
      res.on('end', () => done(null, Buffer.concat(pieces)))
    })
    .then((answer) => answer.body as Buffer)
const put = (server: TestServer, body: Buffer) =>
  server.agent.put('/api/school/archive').set('Content-Type', 'application/octet-stream').send(body)
/** Lines without the first, which holds the moment. */
const linesOf = (archive: Buffer): string[] => gunzipSync(archive).toString('utf8').split('\n').slice(1)
/** All but the trail, which goes on where the archive is read. */
const withoutTrail = (lines: readonly string[]): string[] => lines.filter((line) => !line.startsWith('{"table":"trail"'))
const empty = async (): Promise<TestServer> => {
  const server = await startTestServer({ demo: true })
  await server.agent.post('/api/accounts/first').send({ name: 'Somebody else', password: 'reeds and water' })
  return server
}

describe('a whole school as one archive', () => {
  let school: TestServer
  let archive: Buffer
  beforeAll(async () => {
    school = await startDemoServer()
    archive = await bytes(school)
  })
  afterAll(() => school.close())

  it('read into an empty school gives the same school', async () => {
    const other = await empty()
    const answer = await put(other, archive)
    expect(answer.status).toBe(200)
    expect(answer.body.rows).toBe(linesOf(archive).filter(Boolean).length - 1)
    // The account that read it is not of this school: somebody of the school signs in.
    expect((await other.agent.get('/api/students')).status).toBe(401)
    await other.agent.post('/api/session/demo')
    expect(withoutTrail(linesOf(await bytes(other)))).toEqual(withoutTrail(linesOf(archive)))
    const [run] = await other.stores.runs.list({})
    expect((await other.agent.get(`/api/runs/${run.id}/debrief`)).body).toEqual(
      (await school.agent.get(`/api/runs/${run.id}/debrief`)).body,
    )
    await other.close()
  })

  it('keeps to itself what belongs to this machine alone', () => {
    const tables = new Set(linesOf(archive).flatMap((line) => /^\{"table":"(\w+)"/.exec(line)?.[1] ?? []))
    for (const own of ['sessions', 'tries', 'pairings', 'settings', 'receivers']) expect(tables.has(own)).toBe(false)
    expect(tables.has('accounts')).toBe(true)
  })

  it('is one moment’s whole, whatever is changed while it is written', async () => {
    const { db, file } = school.opened
    const [student] = (await db('students').select('id', 'name')) as { id: string; name: string }[]
    const pieces: string[] = []
    let changed: Promise<unknown> | null = null
    const out = new Writable({
      write: (piece, _encoding, done) => {
        pieces.push(String(piece))
        changed ??= Promise.resolve(db('students').where({ id: student.id }).update({ name: 'Changed' }))
        changed.then(() => done(), done)
      },
    })
    await writeArchive({ db, file }, out)
    const kept = pieces.filter((line) => line.startsWith('{"table":"students"')).map((line) => JSON.parse(line).row.name)
    expect(kept).toContain(student.name)
    expect(kept).not.toContain('Changed')
    await db('students').where({ id: student.id }).update({ name: student.name })
  })

  it('is refused where there is something already, cut off, of another version, or no archive; nothing is kept', async () => {
    expect((await put(school, archive)).body.code).toBe('school-not-empty')
    const other = await empty()
    const text = gunzipSync(archive).toString('utf8')
    const cut = Buffer.from(text.slice(0, Math.floor(text.length / 2)))
    expect((await put(other, cut)).body).toMatchObject({ code: 'archive-broken', place: expect.stringMatching(/^line \d+$/) })
    expect((await put(other, Buffer.from(text.trimEnd().split('\n').slice(0, -1).join('\n')))).body.code).toBe('archive-broken')
    const older = text.replace(/"migrations":\[[^\]]*\]/, '"migrations":["001-first"]')
    expect((await put(other, Buffer.from(older))).body).toMatchObject({
      code: 'archive-version',
      remedy: expect.stringContaining('same version'),
    })
    expect((await put(other, Buffer.from('[{"mass_kg":1200}]'))).body.code).toBe('file-of-other-kind')
    expect((await other.agent.get('/api/students')).body).toEqual([])
    expect((await other.agent.get('/api/session')).body.account.name).toBe('Somebody else')
    await other.close()
  })
})
