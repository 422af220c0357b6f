import { describe, expect, it } from 'vitest'
import { demoVenuePlan } from '../../fixtures/load.ts'
import type { GroundItem } from '../circuit/ground.ts'
import { distanceAhead } from '../circuit/station.ts'
import { markOf } from '../marks/mark.ts'
import { planTimeAt } from '../plan/lap-time.ts'
import type { Plan } from '../plan/plan.ts'
import { gearboxes } from '../vehicle/gearbox.ts'
import { phraseBooks } from './books/index.ts'
import { type CalledLap, type Cue, cuesOf } from './cues.ts'
import { planCalls } from './plan-calls.ts'

const plan = demoVenuePlan({ pace: 0.75 })
const slow = demoVenuePlan({ pace: 0.35 })
const [plain] = phraseBooks
const kindsIn = (of: Plan, lap?: CalledLap): Set<string> => new Set(cuesOf(of, lap).map((c) => c.kind))
const item = (kind: GroundItem['kind'], from_m: number, more: Partial<GroundItem> = {}): GroundItem => ({
  id: `${kind} ${from_m}`,
  kind,
  name: kind,
  side: 'both',
  from_m,
  to_m: from_m + 20,
  ...more,
})
const withGround = (...ground: GroundItem[]): Plan => ({ ...plan, ground })

describe('gears on the lap', () => {
  const { circuit, profile, marks } = plan
  const before = (cue: Cue): number => profile.gear[(Math.round(cue.station_m / circuit.step_m) - 1 + circuit.count) % circuit.count]

  it('are called where the plan shifts, down within the braking and up before the next corner', () => {
    const cues = cuesOf(plan).filter((c) => c.kind === 'downshift' || c.kind === 'upshift')
    expect(cues.filter((c) => c.kind === 'downshift').length).toBeGreaterThan(3)
    expect(cues.filter((c) => c.kind === 'upshift').length).toBeGreaterThan(3)
    for (const cue of cues) {
      expect(profile.gear[Math.round(cue.station_m / circuit.step_m) % circuit.count]).toBe(cue.gear)
      if (cue.kind === 'upshift') expect(before(cue)).toBe((cue.gear ?? 0) - (cue.shifts ?? 0))
      else {
        const from = markOf(marks, cue.cornerId, 'brake') ?? markOf(marks, cue.cornerId, 'lift')
        const turnIn = markOf(marks, cue.cornerId, 'turn-in')
        expect(cue.gear).toBe(turnIn?.gear)
        expect((from?.gear ?? 0) - (turnIn?.gear ?? 0)).toBe(cue.shifts)
        const along = (m: number): number => distanceAhead(from?.station_m ?? 0, m, circuit.length_m)
        expect(along(cue.station_m)).toBeLessThanOrEqual(along(turnIn?.station_m ?? 0))
      }
    }
  })

  it('are left out where nobody changes them, and until the student is ready for it', () => {
    for (const gearbox of gearboxes) {
      const by = gearbox !== 'automatic' && gearbox !== 'none'
      expect(kindsIn(plan, { kind: 'coached', gearbox }).has('upshift'), gearbox).toBe(by)
      expect(kindsIn({ ...plan, vehicle: { ...plan.vehicle, gearbox } }).has('downshift'), gearbox).toBe(by)
      expect(kindsIn(plan, { kind: 'coached', gearbox, gears: false }).has('upshift')).toBe(false)
    }
    expect(kindsIn(demoVenuePlan({ pace: 0.75 }, 'kart')).has('upshift')).toBe(false)
    const automatic = planCalls(plan, plain, 'driven', { lap: { kind: 'coached', gearbox: 'automatic' } })
    for (const { phrase } of automatic.calls) expect(phrase).not.toMatch(/first|second|third|fourth|gear/)
  })

  it('are all called on a first day, where there is time at all', () => {
    const first = demoVenuePlan({ pace: 0.6 })
    const gearsIn = (everyGear: boolean): number =>
      planCalls(first, plain, 'driven', { everyGear }).calls.filter((c) => c.kind === 'upshift' || c.kind === 'downshift').length
    const sheet = planCalls(first, plain, 'driven', { everyGear: true })
    expect(gearsIn(true)).toBeGreaterThan(gearsIn(false))
    for (const d of sheet.dropped.filter((one) => one.kind === 'downshift' || one.kind === 'upshift')) {
      expect(d.reason).toBe('no-time')
      // Only a brake, or another gear, may stand in the way of a gear.
      expect(['brake', 'downshift', 'upshift']).toContain(d.against?.kind)
    }
  })

  it('are told by how many to change, where the day wants it so', () => {
    const steps = planCalls(plan, plain, 'driven', { gears: 'steps', everyGear: true }).calls.filter((c) => c.kind === 'downshift')
    expect(steps.some((c) => /down (one|two|three)/.test(c.phrase))).toBe(true)
    for (const { phrase } of steps) expect(phrase).not.toMatch(/first|second|third/)
  })
})

describe('places between corners', () => {
  it('send over to the outside of the next corner, across first where the brake comes before the way is done', () => {
    const cues = cuesOf(plan)
    for (const cue of cues.filter((c) => c.kind === 'side' || c.kind === 'diagonal')) {
      const k = plan.corners.findIndex((c) => c.id === cue.cornerId)
      const exit = markOf(plan.marks, plan.corners[(k - 1 + plan.corners.length) % plan.corners.length].id, 'exit')
      const turnIn = markOf(plan.marks, cue.cornerId, 'turn-in')
      expect(cue.to).toBe(plan.corners[k].side === 'left' ? 'right' : 'left')
      expect(Math.abs((turnIn?.offset_m ?? 0) - (exit?.offset_m ?? 0))).toBeGreaterThan(2.4)
    }
    expect(cues.some((c) => c.kind === 'diagonal')).toBe(true)
    expect(cues.some((c) => c.kind === 'stay')).toBe(true)
  })

  it('are called from the instructor’s seat where a book asks for it', () => {
    const phrases = planCalls(plan, { ...plain, seat: 'right' }, 'driven').calls.map((c) => c.phrase)
    expect(phrases.some((p) => p.includes('to my side'))).toBe(true)
    for (const phrase of phrases) expect(phrase).not.toMatch(/\b(left|right)\b/)
    // A corner to the right is on the side of whoever sits on the right.
    const turn = (seat: 'left' | 'right') =>
      planCalls(plan, { ...plain, seat }, 'driven', { lap: { kind: 'coached', gears: false } }).calls.find(
        (c) => c.kind === 'turn-in' && plan.corners.find((x) => x.id === c.cornerId)?.side === 'right',
      )
    expect(turn('right')?.phrase).toContain('my side')
    expect(turn('left')?.phrase).toContain('your side')
  })

  it('tell how far a mark lies from its landmark, and never “at” one that is somewhere else', () => {
    const brake = plan.marks.find((m) => m.kind === 'brake' && m.speed_mps > 40)
    if (!brake) throw new Error('no brake mark')
    const said = (past_m: number, lengths = false): string | undefined =>
      planCalls(
        { ...plan, ground: [item('reference', brake.station_m - past_m, { name: 'Grey seam' })] },
        { ...plain, lengths },
        'driven',
        {
          timing: { reaction_s: 0.8, rate_wps: 8, link_s: 0, gap_s: 0.1 },
        },
      ).calls.find((c) => c.cornerId === brake.cornerId && c.kind === 'brake')?.phrase
    expect(said(1)).toContain('at the grey seam')
    expect(said(19)).toContain('20 metres after the grey seam')
    expect(said(-11)).toContain('10 metres before the grey seam')
    expect(said(9, true)).toContain('2 lengths after the grey seam')
    expect(said(60)).not.toContain('seam')
  })
})

describe('things on the road', () => {
  it('are named before they come, once for each corner, if the line meets them', () => {
    const { circuit } = plan
    const at_m = 300
    const i = Math.round(at_m / circuit.step_m)
    const [left, right] = [circuit.widthLeft_m[i] - plan.line.offset_m[i], circuit.widthRight_m[i] + plan.line.offset_m[i]]
    const far = left > right ? 'left' : 'right'
    const near = far === 'left' ? 'right' : 'left'
    const band = { near_m: 0, far_m: Math.max(0, Math.min(left, right) - 0.5) }
    const cues = cuesOf(withGround(item('bump', at_m, { side: near, ...band }), item('bump', at_m + 30, { side: near, ...band })))
    const bumps = cues.filter((c) => c.kind === 'bump')
    expect(bumps.map((c) => c.station_m)).toEqual([at_m])
    expect(bumps[0].time_s).toBeCloseTo(planTimeAt(plan, at_m), 9)
    expect(cuesOf(withGround(item('bump', at_m, { side: far, near_m: 0, far_m: 0.2 }))).some((c) => c.kind === 'bump')).toBe(false)
  })

  it('and lanes are told by their side, each that leads to a corner', () => {
    const lanes = cuesOf(withGround(item('lane', 300, { side: 'left' }), item('lane', 320, { side: 'right' }))).filter(
      (c) => c.kind === 'lane',
    )
    expect(lanes.map((c) => [c.to, c.nth ?? 0])).toEqual([
      ['left', 0],
      ['right', 1],
    ])
  })

  it('like paint weigh more in the wet than in the dry', () => {
    const worth = (surface: 'dry' | 'wet'): number =>
      planCalls(demoVenuePlan({ pace: 0.6, surface }), plain, 'driven').calls.find((c) => c.kind === 'paint')?.worth ?? 0
    expect(worth('wet')).toBeGreaterThan(worth('dry'))
  })
})

describe('the lap that is called', () => {
  it('names on a sighting lap where the cones of the coached plan stand, and commands nothing', () => {
    const sheet = planCalls(slow, plain, 'driven', { lap: { kind: 'sighting', cones: plan } })
    const brakes = sheet.calls.filter((c) => c.kind === 'brake')
    expect(brakes.length).toBeGreaterThan(5)
    for (const call of brakes) expect(call.markStation_m).toBe(markOf(plan.marks, call.cornerId, 'brake')?.station_m)
    for (const { phrase } of sheet.calls) expect(phrase).not.toMatch(/firmly|on the brake|off the brake|squeeze|unwind|down to|up to/)
    expect(sheet.calls.every((c) => c.end_s < c.mark_s)).toBe(true)
  })

  it('leaves the brake alone on a cool-down lap', () => {
    const phrases = planCalls(slow, plain, 'guided', { lap: { kind: 'cool-down' } }).calls.map((c) => c.phrase)
    expect(phrases.some((p) => p.includes('roll'))).toBe(true)
    for (const phrase of phrases) expect(phrase.replace('no brake', '')).not.toMatch(/brak|squeeze|turn/)
  })

  it('warms the brakes on the warm-up lap, and tells the last lap', () => {
    const warm = planCalls(plan, plain, 'driven', { lap: { kind: 'warm-up' } }).calls
    expect(warm.some((c) => c.kind === 'brake' && c.phrase.includes('warm'))).toBe(true)
    expect(planCalls(plan, plain, 'driven', { lap: { kind: 'timed', last: true } }).calls.some((c) => c.phrase.includes('last lap'))).toBe(
      true,
    )
    expect(planCalls(plan, plain, 'driven').calls.some((c) => c.kind === 'last-lap')).toBe(false)
  })

  it('leads into the pits on the way in, by the side of their entry, and no further', () => {
    const entry_m = plan.circuit.length_m - 120
    const ground = [item('pit-entry', entry_m, { side: 'right', to_m: plan.circuit.length_m - 40 })]
    const { calls } = planCalls({ ...slow, ground }, plain, 'guided', { lap: { kind: 'in' } })
    const pits = calls.find((c) => c.kind === 'pit-in')
    expect(pits?.phrase).toContain('on the right')
    expect(calls.find((c) => c.kind === 'parking')).toBeDefined()
    for (const call of calls) if (call.kind !== 'parking') expect(call.markStation_m).toBeLessThanOrEqual(entry_m)
    expect(planCalls({ ...slow, ground: [] }, plain, 'guided', { lap: { kind: 'in' } }).calls.some((c) => c.kind === 'pit-in')).toBe(false)
  })

  it('tells where nobody passes yet, before a passing place', () => {
    const cues = cuesOf(withGround(item('passing', plan.corners[1].end_m + 50)))
    expect(cues.find((c) => c.kind === 'pass')).toMatchObject({ cornerId: plan.corners[1].id, after: plan.corners[1].name })
    expect(cuesOf(withGround(item('passing', plan.corners[1].end_m + 50, { side: 'left' }))).find((c) => c.kind === 'go-by')).toMatchObject(
      { to: 'left' },
    )
  })
})
