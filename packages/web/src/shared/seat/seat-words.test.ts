import { coneSchemes, eyeHeight, type GroundItem, intoSight, MIN_SIGHT_S, type Plan, placeCones, sighterOf } from '@ochote/core'
import { describe, expect, it } from 'vitest'
import { demoPlanOf } from '../demo-plan.test-data.ts'
import { labelsOf } from './seat-labels.ts'
import { cornerFromSeat, marksToSee, seenMarks, unknownFromSeat } from './seat-words.ts'

const seenOf = (plan: Plan) =>
  seenMarks(
    plan,
    intoSight(
      plan,
      plan.marks.map((mark) => mark.station_m),
      { eye_m: eyeHeight(plan.vehicle.kind) },
    ),
  )
const plan = demoPlanOf()
const { circuit } = plan
const seen = seenOf(plan)
const corner = (id: string) => plan.corners.find((c) => c.id === id) ?? plan.corners[0]

describe('what is told of a corner from the seat', () => {
  it('names what is hidden, and from where on it is seen, as the sight check finds it', () => {
    const apex = seen.find(({ mark }) => mark.cornerId === 'T3' && mark.kind === 'apex')
    expect(apex?.sight.throughout).toBe(false)
    expect(apex?.sight.before_m).toBeGreaterThan(20)
    expect(cornerFromSeat(plan, corner('T3'), seen)).toContain(`apex hidden until ${Math.round(apex?.sight.before_m ?? 0)} m before`)
  })

  it('says that all is in sight in good time only where every mark is', () => {
    let good = 0
    for (const { id } of plan.corners) {
      const own = seen.filter(({ mark }) => mark.cornerId === id)
      const inTime = own.every(({ sight }) => sight.throughout || sight.time_s >= 4)
      expect(cornerFromSeat(plan, corner(id), seen).includes('in sight in good time'), id).toBe(inTime)
      if (inTime) good++
    }
    expect(good).toBeGreaterThan(0)
    expect(good).toBeLessThan(plan.corners.length)
  })

  it('tells what a sighter does for a hidden mark: that it is in sight in time, or that it is not', () => {
    const apex = seen.find(({ mark }) => mark.cornerId === 'T3' && mark.kind === 'apex')
    if (!apex) throw new Error('no apex')
    const { cones } = placeCones(plan, coneSchemes[0])
    const sighterAt = (station_m: number) => ({
      ...cones[0],
      id: 's',
      groupId: 'T3-sighter-apex',
      cornerId: 'T3',
      kind: 'sighter' as const,
      station_m,
    })
    const seenFor = (station_m: number): number => sighterOf(plan, [sighterAt(station_m)], 'T3', 'apex')?.time_s ?? 0
    const told = (station_m: number): string => {
      const with_ = seen.map((one) => (one === apex ? { ...one, sighter: sighterOf(plan, [sighterAt(station_m)], 'T3', 'apex') } : one))
      return cornerFromSeat(plan, corner('T3'), with_)
    }
    const inTime = plan.circuit.s_m.find((s_m) => seenFor(s_m) >= MIN_SIGHT_S)
    expect(told(inTime ?? 0)).toMatch(
      /apex hidden until \d+ m before, announced by a sighter \d+ m before it, which is in sight \d s ahead/,
    )
    expect(seenFor(apex.mark.station_m)).toBeLessThan(MIN_SIGHT_S)
    expect(told(apex.mark.station_m)).toMatch(/; the sighter 0 m before it is in sight only \d\.\d s ahead/)
    expect(
      labelsOf(
        plan,
        seenMarks(
          plan,
          intoSight(
            plan,
            plan.marks.map((m) => m.station_m),
          ),
          [sighterAt(60)],
        ),
      ).map((l) => l.text),
    ).toContain('sighter for the apex')
  })

  it('says nothing of marks that nobody has looked at yet', () => {
    expect(cornerFromSeat(plan, corner('T3'), [])).toBe('3 Long Heron')
  })

  it('aims at what stands there for good, and at nothing that is farther than 15 m from the mark', () => {
    const brake = plan.marks.find((mark) => mark.cornerId === 'T1' && mark.kind === 'brake')
    const post = (away_m: number): GroundItem => {
      const at_m = (brake?.station_m ?? 0) - away_m
      return { id: 'p', kind: 'reference', reference: 'post', name: 'White post', side: 'left', from_m: at_m, to_m: at_m }
    }
    const told = (away_m: number): string => {
      const other = demoPlanOf({ ground: [post(away_m)] })
      return cornerFromSeat(other, other.corners[0], seenOf(other))
    }
    expect(told(9)).toContain('brake: aim at White post')
    expect(told(22)).not.toContain('White post')
  })

  it('looks for brake, turn-in, apex and exit, and for nothing else', () => {
    expect(new Set(marksToSee(plan).map((mark) => mark.kind))).toEqual(new Set(['brake', 'turn-in', 'apex', 'exit']))
    expect(seen.map(({ mark }) => mark)).toEqual(marksToSee(plan))
  })
})

describe('what the picture cannot show', () => {
  it('is told: land that nobody measured, heights and widths that are not known', () => {
    expect(unknownFromSeat(plan)).toEqual([expect.stringContaining('up to 30 m')])
    const bare = { ...plan, circuit: { ...circuit, z_m: circuit.z_m.map(() => 3), widthAssumed: true } }
    const told = unknownFromSeat(bare).join(' ')
    expect(told).toContain('No heights are known')
    expect(told).toContain('The width is assumed')
  })
})

describe('names in the picture', () => {
  const labels = labelsOf(plan, seen)

  it('stand on the line for marks, and beside the road for what stands there for good', () => {
    for (const { station_m, offset_m, id } of labels) {
      const i = Math.round(station_m / circuit.step_m) % circuit.count
      const isMark = seen.some(({ mark }) => `${mark.cornerId}-${mark.kind}` === id)
      const onRoad = offset_m < circuit.widthLeft_m[i] + 0.2 && -offset_m < circuit.widthRight_m[i] + 0.2
      expect(onRoad, id).toBe(isMark)
    }
    expect(labels.length).toBeGreaterThan(seen.length)
  })

  it('know until where they are hidden, but not where they are seen from afar', () => {
    for (const { mark, sight } of seen) {
      const label = labels.find((one) => one.id === `${mark.cornerId}-${mark.kind}`)
      expect(label?.hiddenUntil_m).toBe(sight.throughout ? undefined : sight.before_m)
    }
  })
})
