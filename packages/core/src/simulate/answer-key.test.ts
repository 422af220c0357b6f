import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../fixtures/load.ts'
import { markOf } from '../marks/mark.ts'
import type { LogCode } from '../mistakes/mistakes.ts'
import { shownIn, steadyLap, unexplained } from './answer-key.ts'
import { simulateDrive } from './drive.ts'
import { usualSize } from './habits.ts'

const straight = demoPlan({ pace: 0.7 })
const trail = demoPlan({ pace: 0.75, school: 'trail' }, 'coupe')

/** Codes with a corner in which they come out as meant. */
const cases: [LogCode, typeof straight, string][] = [
  ['brake-early', straight, 'T1'],
  ['brake-late', straight, 'T1'],
  ['brake-soft', straight, 'T4'],
  ['brake-slow-build', straight, 'T4'],
  ['brake-split', straight, 'T4'],
  ['brake-over', straight, 'T1'],
  ['brake-hold', straight, 'T1'],
  ['brake-dump', straight, 'T3'],
  ['brake-in-turn', straight, 'T3'],
  ['no-trail', trail, 'T1'],
  ['setup-narrow', straight, 'T1'],
  ['turn-in-early', straight, 'T1'],
  ['turn-in-late', straight, 'T1'],
  ['apex-missed', straight, 'T6'],
  ['exit-unused', straight, 'T6'],
  ['exit-wide', straight, 'T6'],
  ['limit-crossed', straight, 'T6'],
  ['steer-notched', straight, 'T4'],
  ['steer-pinched', straight, 'T1'],
  ['steer-caught', straight, 'T2'],
  ['throttle-early', straight, 'T1'],
  ['throttle-late', straight, 'T1'],
  ['throttle-dip', straight, 'T1'],
  ['throttle-jab', straight, 'T1'],
  ['wrong-gear', straight, 'T1'],
]

describe('the answer key', () => {
  it.each(cases)('reads %s off the lap on which it was made', (code, plan, cornerId) => {
    const speed_mps = markOf(plan.marks, cornerId, code.startsWith('brake') ? 'brake' : 'turn-in')?.speed_mps ?? 20
    const habit = { cornerId, code, probability: 1, size: usualSize[code](speed_mps) }
    const { driven, made } = simulateDrive(plan, { laps: 1, seed: 4, habits: [habit] })
    expect(made.map((one) => one.code)).toEqual([code])
    const shown = shownIn(plan, cornerId, driven[0], steadyLap(plan))
    expect(unexplained(shown).map((one) => one.code)).toContain(code)
    for (const one of shown) expect(one.value).toBeGreaterThan(one.threshold)
  })

  it('reads nothing off a lap as its plan wants it', () => {
    for (const plan of [straight, trail])
      for (const { id } of plan.corners) expect(shownIn(plan, id, steadyLap(plan), steadyLap(plan))).toEqual([])
  })

  it('reads next to nothing off laps that differ by a driver’s scatter alone', () => {
    const { driven } = simulateDrive(straight, { laps: 6, seed: 8 })
    const shown = driven.flatMap((lap) => straight.corners.flatMap(({ id }) => shownIn(straight, id, lap, driven[0])))
    expect(shown.length).toBeLessThanOrEqual(3)
  })
})
