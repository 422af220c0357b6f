import { describe, expect, it } from 'vitest'
import { demoPlan, demoVenuePlan, vehicles } from '../../fixtures/load.ts'
import { phraseBooks } from '../calls/books/index.ts'
import { planCalls } from '../calls/plan-calls.ts'
import { atStation, distanceAhead, isWithin, placeAt, signedDistance } from '../circuit/station.ts'
import { cornerMetrics } from '../corner-numbers/corner-metrics.ts'
import { neededRunOffs } from '../corner-numbers/safety.ts'
import { MIN_SIGHT_S, sightTime } from '../corner-numbers/sight.ts'
import { markOf } from '../marks/mark.ts'
import { hiddenMarks, sighterOf } from './hidden.ts'
import {
  CLEARANCE_M,
  type ConeEdits,
  editDifference,
  GROUP_SPACING_M,
  lineInUse,
  nudgeTo,
  placeCones,
  withGroupNudged,
} from './placement.ts'
import { type ConeScheme, coneSchemes } from './scheme.ts'

const scheme = coneSchemes[0]

describe('cones', () => {
  it('never stand in a wheel path of any line in use, on the road, or in a run-off that is needed (every vehicle, surface, level)', () => {
    for (const { id } of vehicles)
      for (const surface of ['dry', 'wet'] as const) {
        const plan = demoVenuePlan({ surface, pace: 0.6 }, id)
        const others = vehicles.map((v) => lineInUse(demoVenuePlan({ surface: 'dry', pace: 0.75 }, v.id)))
        const runOffs = neededRunOffs(plan)
        const { cones } = placeCones(plan, scheme, { lines: others, reaction_s: 0.5 })
        expect(cones.length).toBeGreaterThan(30)
        for (const cone of cones) {
          const { circuit } = plan
          const edge = atStation(circuit, cone.roadSide === 'left' ? circuit.widthLeft_m : circuit.widthRight_m, cone.station_m)
          expect(Math.abs(cone.offset_m)).toBeGreaterThan(edge)
          for (const line of [lineInUse(plan), ...others]) {
            const away = Math.abs(cone.offset_m - atStation(circuit, line.offset_m, cone.station_m))
            expect(away).toBeGreaterThanOrEqual(line.halfWidth_m + CLEARANCE_M - 1e-6)
          }
          if (cone.kind !== 'no-go' && cone.kind !== 'pit-lane')
            for (const r of runOffs)
              expect(r.side === cone.roadSide && isWithin(cone.station_m, r.from_m, r.to_m, circuit.length_m), cone.id).toBe(false)
          const place = placeAt(circuit, cone.station_m, cone.offset_m)
          expect(Math.hypot(place.x_m - cone.x_m, place.y_m - cone.y_m)).toBeLessThan(1e-9)
        }
      }
  })

  it('stand at their marks; of a pair the second does, the first a little before', () => {
    const plan = demoPlan()
    const { cones } = placeCones(plan, scheme)
    const brake = markOf(plan.marks, 'T1', 'brake')
    const pair = cones.filter((c) => c.groupId === 'T1-brake')
    expect(pair.map((c) => c.station_m)).toEqual([(brake?.station_m ?? 0) - GROUP_SPACING_M, brake?.station_m])
    // T1 turns right: its outside is the left.
    expect(pair.every((c) => c.roadSide === 'left')).toBe(true)
    expect(cones.find((c) => c.cornerId === 'T1' && c.kind === 'apex')?.roadSide).toBe('right')
  })

  it('are moved up the road by the reaction distance at that speed, those only that are acted on', () => {
    const plan = demoPlan()
    const [usual, slow] = [placeCones(plan, scheme).cones, placeCones(plan, scheme, { reaction_s: 0.5 }).cones]
    const at = (list: typeof usual, id: string): number => list.find((c) => c.id === id)?.station_m ?? Number.NaN
    const speed = markOf(plan.marks, 'T1', 'brake')?.speed_mps ?? 0
    expect(at(usual, 'T1-brake-2') - at(slow, 'T1-brake-2')).toBeCloseTo(0.5 * speed, 6)
    expect(at(usual, 'T1-apex')).toBe(at(slow, 'T1-apex'))
  })

  it('leave a needed run-off along the road or across it, with the reason, or are left out with a word', () => {
    const plan = demoVenuePlan()
    const { cones } = placeCones(plan, scheme)
    const exits = cones.filter((c) => c.kind === 'exit' && (c.moved.includes('across') || c.moved.includes('run-off')))
    expect(exits.length).toBeGreaterThan(0)
    // Run-off on both sides of the whole lap: no place is left for anything but what marks bad ground.
    const all = (side: 'left' | 'right') =>
      ({
        id: `all-${side}`,
        kind: 'run-off',
        name: '',
        side,
        from_m: 0,
        to_m: plan.circuit.length_m - 3,
        runOff: { surface: 'grass', length_m: 9 },
      }) as const
    const closed = placeCones({ ...plan, ground: [all('left'), all('right')] }, scheme)
    expect(closed.unplaced.length + closed.cones.length).toBeGreaterThan(30)
    expect(closed.unplaced.every((u) => u.reason === 'run-off')).toBe(true)
  })

  it('show pit lane and no-go ground by their own cones, and sighters where a mark is hidden', () => {
    const plan = demoVenuePlan()
    const { cones } = placeCones(plan, scheme, { sight: cornerMetrics(plan).flatMap((n) => n.sight) })
    expect(cones.filter((c) => c.kind === 'pit-lane').length).toBeGreaterThanOrEqual(4)
    const sighter = cones.find((c) => c.kind === 'sighter')
    expect(sighter).toBeDefined()
    const hidden = cornerMetrics(plan)
      .find((n) => n.cornerId === sighter?.cornerId)
      ?.sight.find((s) => !s.enough)
    const mark = markOf(plan.marks, sighter?.cornerId ?? '', hidden?.kind ?? 'apex')
    expect(distanceAhead(sighter?.station_m ?? 0, mark?.station_m ?? 0, plan.circuit.length_m)).toBeGreaterThan(20)
  })

  it('follow a nudge from the computed place, and stay where they are locked whatever the plan says', () => {
    const nudges = { 'T1-brake': { along_m: -6, across_m: 0.5 } }
    const plan = demoPlan()
    const wet = demoPlan({ surface: 'wet' })
    const brake = (p: typeof plan, edits: Partial<ConeEdits>) =>
      placeCones(p, scheme, { edits: { nudges: {}, locks: {}, ...edits } }).cones.find((c) => c.id === 'T1-brake-2') ?? null
    const nudged = brake(plan, { nudges })
    const speed = markOf(plan.marks, 'T1', 'brake')?.speed_mps ?? 1
    if (!nudged) throw new Error('no cone')
    const difference = editDifference(nudged, speed, plan.circuit.length_m)
    expect(difference.along_m).toBeCloseTo(-6, 6)
    expect(difference.across_m).toBeCloseTo(0.5, 1)
    expect(difference.grace_s).toBeCloseTo(6 / speed, 6)
    const locks = { 'T1-brake': { station_m: 200, offset_m: 8 } }
    for (const p of [plan, wet]) expect(brake(p, { locks })?.station_m).toBe(200)
    expect(brake(wet, { locks })?.computed.station_m).toBeCloseTo(markOf(wet.marks, 'T1', 'brake')?.station_m ?? 0, 6)
    expect(signedDistance(brake(plan, {})?.station_m ?? 0, brake(wet, {})?.station_m ?? 0, plan.circuit.length_m)).toBeLessThan(0)
  })

  it('are brought to a place by the nudge that stands for it, as a group, and never nearer to the road than computed', () => {
    const plan = demoPlan()
    const { circuit } = plan
    const { cones } = placeCones(plan, scheme, { edits: { nudges: {}, locks: {} } })
    const atMark = cones.findLast((c) => c.groupId === 'T1-brake')
    if (!atMark) throw new Error('no cone')
    for (const [along_m, out_m] of [
      [-7.3, 0.8],
      [4, 0],
      [-20, 2.5],
    ]) {
      const station_m = atMark.station_m + along_m
      const edge = (s_m: number): number => atStation(circuit, atMark.offset_m > 0 ? circuit.widthLeft_m : circuit.widthRight_m, s_m)
      const to = {
        station_m,
        offset_m: Math.sign(atMark.offset_m) * (Math.abs(atMark.offset_m) - edge(atMark.station_m) + edge(station_m) + out_m),
      }
      const nudge = nudgeTo(circuit, atMark, to)
      expect(nudge.along_m).toBeCloseTo(along_m, 6)
      expect(nudge.across_m).toBeCloseTo(out_m, 6)
      // Held, the group stands where it will stand once it is let go.
      const held = withGroupNudged(circuit, cones, 'T1-brake', nudge)
      const laid = placeCones(plan, scheme, { edits: { nudges: { 'T1-brake': nudge }, locks: {} } }).cones
      for (const cone of held.filter((c) => c.groupId === 'T1-brake')) {
        const same = laid.find((c) => c.id === cone.id)
        expect(Math.hypot(cone.x_m - (same?.x_m ?? 0), cone.y_m - (same?.y_m ?? 0))).toBeLessThan(1e-6)
      }
      expect(held.filter((c) => c.groupId !== 'T1-brake')).toEqual(cones.filter((c) => c.groupId !== 'T1-brake'))
    }
    expect(nudgeTo(circuit, atMark, { station_m: atMark.station_m, offset_m: 0 }).across_m).toBe(0)
    expect(nudgeTo(circuit, atMark, { station_m: atMark.station_m, offset_m: -3 * atMark.offset_m }).across_m).toBe(0)
    expect(withGroupNudged(circuit, cones, 'nobody', { along_m: 5, across_m: 0 })).toEqual(cones)
  })

  it('help a hidden mark by a sighter that is seen, else by a call, else not', () => {
    const plan = demoVenuePlan()
    const sight = cornerMetrics(plan).flatMap((n) => n.sight)
    const { cones } = placeCones(plan, scheme, { sight })
    const said = [planCalls(plan, phraseBooks[0], 'driven')]
    const hidden = hiddenMarks(plan, sight, cones, said)
    expect(hidden.length).toBeGreaterThan(0)
    for (const mark of hidden.filter((h) => h.helps === 'sighter')) {
      const sighter = cones.find((c) => c.groupId === `${mark.cornerId}-sighter-${mark.kind}`)
      expect(sightTime(plan, sighter?.station_m ?? 0)).toBeGreaterThanOrEqual(MIN_SIGHT_S)
      expect(sighterOf(plan, cones, mark.cornerId, mark.kind)).toEqual({ cone: sighter, time_s: sightTime(plan, sighter?.station_m ?? 0) })
    }
    const without = hiddenMarks(plan, sight, [], said)
    expect(without.every((h) => h.helps !== 'sighter')).toBe(true)
    expect(hiddenMarks(plan, sight, [], [{ calls: [], dropped: [] }]).every((h) => h.helps === 'neither')).toBe(true)
  })

  it('exist only for kinds that the scheme shows', () => {
    const plan = demoPlan()
    const bare: ConeScheme = {
      id: 'x',
      name: 'x',
      rules: { apex: { colour: 'white', shape: 'disc', count: 1, side: 'inside', beyondEdge_m: 0.3 } },
    }
    expect(placeCones(plan, bare).cones).toHaveLength(plan.marks.filter((m) => m.kind === 'apex').length)
  })
})
