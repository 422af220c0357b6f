import { demoPlan } from '../fixtures/load.ts'
import { buildCircuit, type Circuit, type GroundItem, intoSight, meshBytes, roadMesh } from '../src/index.ts'
import { ringRoad } from './ring-road.ts'

/** Times of the mesh seen from the seat, and of the sight of all marks, on the demo's circuit, 5 km and 20 km. Prints JSON. */
const measured = (name: string, circuit: Circuit, ground: readonly GroundItem[]) => {
  const times: number[] = []
  let mesh = roadMesh(circuit, ground)
  const first = performance.now()
  mesh = roadMesh({ ...circuit }, ground)
  const fresh_ms = performance.now() - first
  for (let k = 0; k < 5; k++) {
    const began = performance.now()
    // A copy: what the circuit keeps is computed again.
    mesh = roadMesh({ ...circuit }, ground)
    times.push(performance.now() - began)
  }
  times.sort((a, b) => a - b)
  const triangles = mesh.chunks.flatMap(({ near }) => near).reduce((sum, { index }) => sum + index.length / 3, 0)
  return {
    name,
    length_m: Math.round(circuit.length_m),
    fresh_ms: Math.round(fresh_ms),
    median_ms: Math.round(times[2]),
    triangles,
    megabytes: Math.round(meshBytes(mesh) / 1e5) / 10,
  }
}

/** A ring road with a kerb or a run-off every so often, on both sides. */
const ring = (length_km: number) => {
  const circuit = buildCircuit(ringRoad(length_km))
  const items = Array.from({ length: 300 }, (_, k): GroundItem => {
    const from_m = (k * circuit.length_m) / 300
    const common = { id: `item-${k}`, name: '', side: k % 2 ? 'left' : 'right', from_m, to_m: from_m + 12 } as const
    return k % 3 === 0 ? { ...common, kind: 'run-off', runOff: { surface: 'gravel', length_m: 18 } } : { ...common, kind: 'kerb' }
  })
  return measured(`${length_km} km, 300 items`, circuit, items)
}

const plan = demoPlan({ pace: 0.7 })
const began = performance.now()
intoSight(
  plan,
  plan.marks.map((mark) => mark.station_m),
)
const sight_ms = Math.round(performance.now() - began)
console.log(
  JSON.stringify(
    {
      mesh: [measured('demo', plan.circuit, plan.ground), ...[5, 20].map(ring)],
      sightOfMarks: { marks: plan.marks.length, ms: sight_ms },
    },
    null,
    1,
  ),
)
