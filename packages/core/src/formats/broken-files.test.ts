import { describe, expect, it } from 'vitest'
import { demoPlan, fixtureText } from '../../fixtures/load.ts'
import { buildCircuit } from '../circuit/build-circuit.ts'
import { makeVenue } from '../circuit/venue.ts'
import { CoreError } from '../errors/errors.ts'
import { analyseLog } from '../findings/analyse.ts'
import { simulateDrive } from '../simulate/drive.ts'
import { type Random, seededRandom } from '../units/random.ts'
import { lapsAsCircuit } from './driven-path.ts'
import { readGround } from './ground-geojson.ts'
import { writeLogCsv } from './log-csv.ts'
import { readLog } from './log-file.ts'
import { readCircuit } from './read-circuit.ts'

const pieces = ['NaN', '1e999', '-', '<', '{', '"', ',,', '\n\n', ']', '0', '99999999', 'null', '\u0000', '<!DOCTYPE x>']

/** A text with a few things wrong: pieces lost, doubled, written over, cut off, digits taken for others. */
const broken = (text: string, random: Random): string => {
  let out = text
  const at = (most: number): number => Math.floor(random.uniform() * most)
  for (let times = 1 + at(3); times > 0; times--) {
    const from = at(out.length)
    const to = from + at(random.uniform() < 0.3 ? 20_000 : 30)
    const [before, part, after] = [out.slice(0, from), out.slice(from, to), out.slice(to)]
    out = [
      () => before + after,
      () => before + part + part + after,
      () => before + pieces[at(pieces.length)] + after,
      () => before,
      () => out.replaceAll(String(at(10)), String(at(10))),
    ][at(5)]()
  }
  return out
}

/** Nothing but an error with words may come of it. */
const expectWords = (work: () => void, what: string): void => {
  try {
    work()
  } catch (error) {
    expect(error, `${what}: ${error instanceof Error ? error.stack : ''}`).toBeInstanceOf(CoreError)
  }
}

describe('files with something wrong in them', { timeout: 180_000 }, () => {
  it('are read, or refused in words: circuits (seed 9)', () => {
    const random = seededRandom(9)
    const texts = ['ostrel-mere.csv', 'ostrel-mere.geojson', 'ostrel-mere.gpx', 'lobes.csv'].map(fixtureText)
    for (let k = 0; k < 160; k++) {
      const text = broken(texts[k % texts.length], random)
      expectWords(() => {
        const circuit = buildCircuit(readCircuit(text, 'x'))
        readGround(text, circuit)
        makeVenue(circuit)
      }, `circuit ${k}`)
      if (k % 4 === 0) expectWords(() => buildCircuit(lapsAsCircuit(text, 'x').survey), `laps ${k}`)
    }
  })

  it('are judged, or refused in words: logs (seed 10)', () => {
    const random = seededRandom(10)
    const plan = demoPlan()
    const text = writeLogCsv(simulateDrive(plan, { laps: 2, seed: 3, noise_m: 0.2, rate_hz: 5 }).log)
    for (let k = 0; k < 60; k++) {
      const changed = broken(text, random)
      expectWords(() => analyseLog(plan.circuit, plan.corners, readLog(changed), { kind: 'plan', plan }), `log ${k}`)
    }
  })

  it.each([
    ['tags that never end', `<?xml version="1.0"?><gpx>${'<trkpt '.repeat(400_000)}`, /tags does not end/],
    ['one endless tag', `<gpx a="${'x'.repeat(100_000)}">`, /tags does not end/],
    ['tags that nobody closes', `<?xml version="1.0"?><gpx>${'<trkpt lat="1" lon="2">'.repeat(50_000)}`, /XML is broken/],
    ['lists in lists', `{"type":"FeatureCollection","features":${'['.repeat(200_000)}`, /JSON is broken/],
    [
      'collections in collections',
      `${'{"type":"GeometryCollection","geometries":['.repeat(5000)}${']}'.repeat(5000)}`,
      /collections within collections/,
    ],
    [
      'a great many features without a shape',
      `{"type":"FeatureCollection","features":[${Array(20_000).fill('{"type":"Feature"}').join(',')}]}`,
      /no GeoJSON geometry/,
    ],
  ])('are refused in words where they are made to be slow: %s', (_, text, words) => {
    expect(() => readCircuit(text, 'x')).toThrow(CoreError)
    let error: unknown
    try {
      readCircuit(text, 'x')
    } catch (thrown) {
      error = thrown
    }
    expect(JSON.stringify((error as CoreError).data)).toMatch(words)
  })
})
