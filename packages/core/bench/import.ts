import { buildCircuit, readCircuit, seededRandom, writeCircuitCsv } from '../src/index.ts'
import { ringRoad } from './ring-road.ts'

/** Reading and building a circuit file of 200 000 points, clean and with 0.3 m of noise. */
const POINTS = 200_000
const clean = buildCircuit(ringRoad(4), { step_m: (4000 / POINTS) * 0.95 })

const measure = (noise_m: number) => {
  const random = seededRandom(3)
  const shaken = (column: Float64Array): Float64Array => column.map((v) => v + noise_m * random.normal())
  const { x_m, y_m, z_m, widthLeft_m, widthRight_m, bank_rad, count } = clean
  const text = writeCircuitCsv({ name: 'big', x_m: shaken(x_m), y_m: shaken(y_m), z_m, widthLeft_m, widthRight_m, bank_rad })
  const began = performance.now()
  const survey = readCircuit(text, 'big')
  const read = performance.now()
  const circuit = buildCircuit(survey)
  const built = performance.now()
  return {
    noise_m,
    points: count,
    file_MB: Math.round(text.length / 1e5) / 10,
    read_ms: Math.round(read - began),
    build_ms: Math.round(built - read),
    total_ms: Math.round(built - began),
    length_m: Math.round(circuit.length_m),
  }
}

process.stdout.write(JSON.stringify([measure(0), measure(0.3)]))
