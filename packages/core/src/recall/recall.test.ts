import { describe, expect, it } from 'vitest'
import { demoVenuePlan } from '../../fixtures/load.ts'
import { stationAtTime, wrapTime } from '../plan/index.ts'
import { seededRandom } from '../units/index.ts'
import {
  closedTargets,
  conesShown,
  cornersDue,
  isKnown,
  judgeTaps,
  lapPartOf,
  type RecallMark,
  type RecallRound,
  type RecallTap,
  recallGaps,
  recallTargets,
  wholeLapPart,
} from './recall.ts'

const plan = demoVenuePlan()
const lap_s = plan.profile.lapTime_s
const targets = recallTargets(plan)
const perfect = (): RecallTap[] => targets.map(({ action, time_s }) => ({ action, time_s }))
const round = (marks: RecallMark[], mode: RecallRound['mode'] = 'fading'): RecallRound => ({ id: '', at: '', mode, marks, lap_s: null })
const mark = (cornerId: string, off_s: number | null, action: RecallMark['action'] = 'brake'): RecallMark => ({
  cornerId,
  action,
  off_s,
  off_m: off_s,
})

describe('what is to be done on a lap', () => {
  it('is at the plan’s marks, in order, each corner with at least its turn-in', () => {
    for (const { cornerId, action, station_m, time_s } of targets) {
      expect(plan.marks.some((m) => m.cornerId === cornerId && m.kind === action && m.station_m === station_m)).toBe(true)
      expect(Math.abs(stationAtTime(plan, time_s) - station_m)).toBeLessThan(plan.circuit.step_m)
    }
    expect(targets.map((t) => t.time_s)).toEqual(targets.map((t) => t.time_s).sort((a, b) => a - b))
    expect(new Set(closedTargets(targets).map((t) => t.cornerId))).toEqual(new Set(plan.corners.map((c) => c.id)))
  })

  it('is driven corner by corner in a part that holds all of it, also over the line', () => {
    for (const { id } of plan.corners) {
      const part = lapPartOf(targets, id, lap_s)
      if (!part) throw new Error(`no part for ${id}`)
      expect(part.length_s).toBeLessThan(40)
      for (const t of targets.filter((one) => one.cornerId === id)) {
        const at_s = wrapTime(t.time_s - part.from_s, lap_s)
        expect(at_s).toBeGreaterThanOrEqual(5 - 1e-9)
        expect(at_s).toBeLessThanOrEqual(part.length_s - 1.5 + 1e-9)
      }
    }
    const overTheLine = [
      { cornerId: 'T1', action: 'brake' as const, station_m: 0, time_s: lap_s - 2 },
      { cornerId: 'T1', action: 'turn-in' as const, station_m: 0, time_s: 1 },
    ]
    expect(lapPartOf(overTheLine, 'T1', lap_s)).toEqual({ from_s: expect.closeTo(lap_s - 7, 6), length_s: expect.closeTo(9.5, 6) })
    expect(lapPartOf(targets, 'nowhere', lap_s)).toBeNull()
    const whole = wholeLapPart(plan, targets)
    expect(wrapTime(targets[0].time_s - whole.from_s, lap_s)).toBeCloseTo(5, 9)
    expect(whole.length_s).toBe(lap_s)
    expect(wholeLapPart({ ...plan, circuit: { ...plan.circuit, open: true } }, targets).from_s).toBe(0)
  })
})

describe('taps', () => {
  it('on the moment are on the moment, to a hundredth of a second and a metre', () => {
    const { marks, extra } = judgeTaps(plan, targets, perfect(), 'cones')
    expect(extra).toBe(0)
    for (const m of marks) expect([Math.abs(m.off_s ?? 9), Math.abs(m.off_m ?? 9)]).toEqual([expect.closeTo(0, 2), expect.closeTo(0, 0)])
  })

  it('that come early or late are so by as much, in seconds and in metres by the speed there', () => {
    const random = seededRandom(7)
    const off = targets.map(() => (random.uniform() - 0.5) * 0.5)
    const taps = targets.map(({ action, time_s }, k) => ({ action, time_s: wrapTime(time_s + off[k], lap_s) }))
    const { marks } = judgeTaps(plan, targets, taps, 'none')
    marks.forEach((m, k) => {
      expect(m.off_s).toBeCloseTo(off[k], 6)
      const speed = plan.profile.speed_mps[Math.floor(targets[k].station_m / plan.circuit.step_m)]
      expect(Math.abs((m.off_m ?? 99) - off[k] * speed)).toBeLessThan(2.5)
    })
  })

  it('that are missing or too many are told, and belong to the nearest of their kind alone', () => {
    const [first] = targets
    const taps = [
      { action: first.action, time_s: first.time_s + 0.1 },
      { action: first.action, time_s: first.time_s + 0.4 },
    ]
    const { marks, extra } = judgeTaps(plan, targets, taps, 'none')
    expect(marks[0].off_s).toBeCloseTo(0.1, 6)
    expect(marks.slice(1).every((m) => m.off_s === null && m.off_m === null)).toBe(true)
    expect(extra).toBe(1)
    const other = judgeTaps(plan, [first], [{ action: 'throttle', time_s: first.time_s }], 'none')
    expect([other.marks[0].off_s, other.extra]).toEqual([null, 1])
  })

  it('just before the line belong to what lies just behind it', () => {
    const onTheLine = [{ cornerId: 'T1', action: 'turn-in' as const, station_m: 5, time_s: 0.1 }]
    const [m] = judgeTaps(plan, onTheLine, [{ action: 'turn-in', time_s: lap_s - 0.2 }], 'none').marks
    expect(m.off_s).toBeCloseTo(-0.3, 6)
    expect(m.off_m).toBeLessThan(0)
  })

  it('count as known less far on the side on which a car leaves the road', () => {
    expect(isKnown({ action: 'brake', off_s: -0.45 }, 'none')).toBe(true)
    expect(isKnown({ action: 'brake', off_s: 0.45 }, 'none')).toBe(false)
    expect(isKnown({ action: 'throttle', off_s: -0.45 }, 'none')).toBe(false)
    expect(isKnown({ action: 'throttle', off_s: 0.45 }, 'none')).toBe(true)
    expect(isKnown({ action: 'turn-in', off_s: null }, 'none')).toBe(false)
    expect(isKnown({ action: 'turn-in', off_s: 0.9 }, 'closed')).toBe(true)
  })
})

describe('what comes back', () => {
  it('is every corner at first, then those that were missed, and those that were known only after a while', () => {
    const ids = [...new Set(targets.map((t) => t.cornerId))]
    expect(cornersDue(targets, [])).toEqual(ids)
    const all = round(ids.map((id) => mark(id, id === 'T3' ? 0.9 : 0)))
    const due = cornersDue(targets, [all])
    expect(due).toContain('T3')
    // The corner that was driven last is not due: too few others came after it.
    expect(due).not.toContain(ids.at(-1))
    expect(cornersDue(targets, [all, round([mark('T3', 0)])])).not.toContain('T3')
  })

  it('is what was not known when it was asked last, by corner', () => {
    const gaps = recallGaps([round([mark('T1', 0.6), mark('T2', null), mark('T3', 0)]), round([mark('T1', 0.1)])])
    expect(gaps).toEqual([{ cornerId: 'T2', marks: [mark('T2', null)] }])
    expect(recallGaps([round([mark('T1', 3, 'turn-in')], 'closed')])).toEqual([])
  })
})

describe('cones', () => {
  const cones = [
    { cornerId: 'T1', kind: 'brake' },
    { cornerId: 'T1', kind: 'turn-in' },
    { cornerId: 'T1', kind: 'apex' },
    { cornerId: 'T2', kind: 'brake' },
  ]

  it('go one by one as their marks are known, and come back when they are forgotten', () => {
    expect(conesShown(cones, 'fading', [])).toEqual(cones)
    const known = round([mark('T1', 0), mark('T1', 0.9, 'turn-in')])
    expect(conesShown(cones, 'fading', [known])).toEqual(cones.slice(1))
    expect(conesShown(cones, 'fading', [known, round([mark('T1', null)])])).toEqual(cones)
    expect(conesShown(cones, 'cones', [known])).toEqual(cones)
    expect(conesShown(cones, 'none', [])).toEqual([])
    expect(conesShown(cones, 'closed', [])).toEqual([])
  })
})
