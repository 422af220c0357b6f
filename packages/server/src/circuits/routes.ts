import { api, type StoredCircuit } from '@ochote/contract'
import { v7 as uuid } from 'uuid'
import { serverTime } from '../clock/clock.ts'
import type { Mount } from '../http/mount.ts'
import { changedMeanwhile, HttpProblem, notFound } from '../http/problems.ts'
import type { Jobs } from '../jobs/jobs.ts'
import type { CircuitStore } from './store.ts'

/** Circuits: list, read, look at a file, keep it, correct, name, put away, remove; note names and ground. Files are read in worker threads. */
export const circuitRoutes = (mount: Mount, circuits: CircuitStore, jobs: Jobs): void => {
  const existing = async (id: string): Promise<StoredCircuit> => {
    const circuit = await circuits.byId(id)
    if (!circuit) throw notFound('circuit')
    return circuit
  }
  mount(api.circuits, async () => circuits.all())
  mount(api.circuit, async ({ params }) => existing(params.circuitId))
  mount(api.lookAtCircuit, async ({ query, upload, identity }) =>
    jobs.lookAtCircuitFile({ path: upload.path, how: query }, { person: identity.key }),
  )
  mount(api.importCircuit, async ({ query: { id, keeps, ...how }, upload, identity }) => {
    const older = keeps === undefined ? null : await existing(keeps)
    const read = await jobs.readCircuitFile({ path: upload.path, how, keeps: older }, { person: identity.key })
    const kept = await circuits.keep(id ?? uuid(), how.name, read)
    const { origin, widthAssumed } = read.survey
    return {
      ...kept,
      ...(origin ? { place: origin } : {}),
      widthAssumed: widthAssumed === true,
      ...(read.startFound ? { startFound: read.startFound } : {}),
    }
  })
  mount(api.reviseCircuit, async ({ params, body }) => {
    const older = await existing(params.circuitId)
    if (body.start_m !== undefined && older.survey.open)
      throw new HttpProblem(
        409,
        'course-open',
        'An open course begins where it begins.',
        'Import it the other way round, or survey it from another place on.',
      )
    if (body.up_deg !== undefined && older.survey.origin)
      throw new HttpProblem(409, 'north-known', 'The survey has its place on Earth: north is known.', 'Nothing needs to be turned.')
    const revise = async (from: StoredCircuit, revision: typeof body) => {
      const added = await circuits.keep(uuid(), from.name, await jobs.reviseCircuit({ older: from, ...revision }))
      await circuits.replace(from.id, added.id)
      return added
    }
    // Layouts that share their road are turned together, else they would no longer share it.
    if (body.up_deg !== undefined)
      for (const other of await siblings(older.id))
        if (!other.survey.origin && !other.survey.northSet === !older.survey.northSet) await revise(other, { up_deg: body.up_deg })
    return revise(older, body)
  })
  /** Other layouts of a circuit's venue. */
  const siblings = async (id: string): Promise<StoredCircuit[]> => {
    const all = await circuits.all()
    const venueId = all.find((c) => c.id === id)?.venueId ?? null
    const ids = venueId === null ? [] : all.filter((c) => c.venueId === venueId && c.id !== id).map((c) => c.id)
    return Promise.all(ids.map(existing))
  }
  /** What lies on the ground is shared by the layouts of a venue where they share the road. */
  const share = async (
    changed: StoredCircuit,
    before: StoredCircuit['notes']['ground'],
    others: readonly StoredCircuit[],
  ): Promise<void> => {
    if (others.length === 0) return
    for (const { id, ground } of await jobs.shareGround({ before, changed, others })) {
      const other = await existing(id)
      await circuits.saveNotes(id, other.version, { ...other.notes, ground })
    }
  }
  mount(api.nameCircuit, async ({ params, body }) => {
    const { id } = await existing(params.circuitId)
    const before = (await circuits.all()).find((c) => c.id === id)?.venueId ?? null
    if (!(await circuits.rename(id, body.version, body.name, body.venueId))) throw changedMeanwhile('circuit')
    if (body.venueId !== null && body.venueId !== before) {
      // A layout that joins a venue gives what it has, and takes what the others have.
      const others = await siblings(id)
      for (const other of others) await share(other, [], [await existing(id)])
      await share(await existing(id), [], others)
    }
    return circuits.all()
  })
  mount(api.archiveCircuit, async ({ params, body }) => {
    await circuits.setArchived((await existing(params.circuitId)).id, body.archived ? serverTime() : null)
    return circuits.all()
  })
  mount(api.removeCircuit, async ({ params }) => {
    const { id } = await existing(params.circuitId)
    if (await circuits.isUsed(id))
      throw new HttpProblem(
        409,
        'in-use',
        'A day or a run uses this circuit.',
        'It stays for them; put it away instead, then nobody can choose it.',
      )
    await circuits.remove(id)
    return circuits.all()
  })
  mount(api.saveNotes, async ({ params, body }) => {
    const circuit = await existing(params.circuitId)
    if (!(await circuits.saveNotes(circuit.id, body.version, body.notes))) throw changedMeanwhile('circuit')
    const saved = await existing(circuit.id)
    if (JSON.stringify(saved.notes.ground) !== JSON.stringify(circuit.notes.ground))
      await share(saved, circuit.notes.ground, await siblings(saved.id))
    return saved
  })
}
