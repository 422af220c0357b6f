import { describe, expect, it } from 'vitest'
import { defaultSizes } from '../drills/drill.ts'
import { layExercise } from '../drills/exercise.ts'
import { padConesNeeded, padShortages } from './pad-cones.ts'

const laid = [
  layExercise(
    { id: 'box', kind: 'braking-box', name: 'Box', x_m: 40, y_m: 30, turn_deg: 0, sizes: defaultSizes, surface: 'dry' },
    { muX: 1, muY: 1, maxBrake_mps2: 10 },
  ),
]

describe('cones of a pad', () => {
  it('are counted by colour against what is in the shed', () => {
    expect(padConesNeeded(laid)).toEqual({ green: 2, pink: 6 })
    expect(padShortages(laid, { pink: 4 })).toEqual([{ colour: 'pink', needed: 6, there: 4 }])
    expect(padShortages(laid, { pink: 6 })).toEqual([])
    expect(padShortages(laid, {})).toEqual([])
  })
})
