import { describe, expect, it } from 'vitest'
import { readySteps, stepProgrammes } from './lap-steps.ts'
import type { RunEvent } from './run-events.ts'
import { runStateOf } from './run-state.ts'

let count = 0
const event = (e: object): RunEvent => ({ id: `e${count++}`, runId: 'r', at: '2027-05-15T09:00:00.000Z', ...e }) as RunEvent
const steps = [
  { pace: 0.6, talk: 'driven' as const },
  { pace: 0.6, talk: 'driven' as const },
  { pace: null, talk: 'guided' as const },
  { pace: null, talk: 'guided' as const },
  { pace: null, talk: 'quiet' as const },
]
const sent = event({ kind: 'sent-out', program: { sighting: 1, coached: 5, coolDown: 1, steps } })
const paces = (events: RunEvent[], laps = [1, 2, 3, 4, 5, 6]) => laps.map((lap) => runStateOf(events).paceOf(lap, 0.75))
const talks = (events: RunEvent[]) => [2, 3, 4, 5, 6].map((lap) => runStateOf(events).talkOf(lap, 'guided'))

describe('a programme over the laps', () => {
  it('gives each coached lap its pace and talk, sighting laps not counted', () => {
    expect(paces([sent])).toEqual([0.6, 0.6, 0.6, 0.75, 0.75, 0.75])
    expect(talks([sent])).toEqual(['driven', 'driven', 'guided', 'guided', 'quiet'])
    expect(runStateOf([sent]).stepOf(3)?.number).toBe(1)
    expect(runStateOf([event({ kind: 'sent-out', program: { sighting: 1, coached: 5, coolDown: 1 } })]).stepOf(3)).toBeNull()
  })

  it('is held or moved on by one touch, and undone by another', () => {
    const again = event({ kind: 'step', lap: 4, step: 1 })
    expect(paces([sent, again])).toEqual([0.6, 0.6, 0.6, 0.6, 0.75, 0.75])
    expect(talks([sent, again])).toEqual(['driven', 'driven', 'driven', 'guided', 'guided'])
    const on = event({ kind: 'step', lap: 2, step: 2 })
    expect(talks([sent, on])).toEqual(['guided', 'guided', 'quiet', 'quiet', 'quiet'])
    expect(talks([sent, on, event({ kind: 'undo', undoes: on.id })])).toEqual(talks([sent]))
  })

  it('goes on rising from a pace that was agreed on the way, never above the ceiling', () => {
    const slower = event({ kind: 'pace', lap: 3, pace: 0.45, why: '' })
    expect(paces([sent, slower]).map((p) => Math.round(100 * p))).toEqual([60, 60, 60, 60, 60, 60])
    const faster = event({ kind: 'pace', lap: 3, pace: 0.85, why: '' })
    expect(Math.max(...paces([sent, faster]))).toBeLessThanOrEqual(0.92)
    const plain = event({ kind: 'sent-out', program: { sighting: 0, coached: 5, coolDown: 0 } })
    expect(paces([plain, slower], [3, 4])).toEqual([0.75, 0.45])
  })

  it('has so much more or less talk as was wished on a lap', () => {
    expect(talks([sent, event({ kind: 'intensity', intensity: 'guided', lap: 2 })])).toEqual([
      'guided',
      'guided',
      'quiet',
      'quiet',
      'quiet',
    ])
    // Said before laps were told along with it: from then on.
    expect(talks([sent, event({ kind: 'intensity', intensity: 'quiet' })])).toEqual(Array(5).fill('quiet'))
  })
})

describe('ready-made programmes', () => {
  it('push a gift drive harder each lap, leave a first-timer ever more alone, and a regular after half of the laps', () => {
    for (let laps = 1; laps <= 12; laps++)
      for (const kind of stepProgrammes) {
        const made = readySteps(kind, laps, 0.75)
        expect(made).toHaveLength(laps)
        for (const { pace } of made) expect(pace ?? 0.75).toBeLessThanOrEqual(0.75)
        const own = made.map((s) => s.pace ?? 0.75)
        expect(own).toEqual([...own].sort((a, b) => a - b))
        const words = made.map((s) => ['quiet', 'guided', 'driven'].indexOf(s.talk))
        if (kind !== 'gift') expect(words).toEqual([...words].sort((a, b) => b - a))
      }
    expect(readySteps('gift', 4, 0.75).map((s) => s.pace)).toEqual([0.6, 0.65, 0.7, null])
    expect(readySteps('first-timer', 5, 0.75).map(({ pace, talk }) => `${talk} ${pace}`)).toEqual([
      'driven 0.6',
      'driven 0.6',
      'guided null',
      'guided null',
      'quiet null',
    ])
    // A plan that is slow already begins no faster.
    expect(readySteps('first-timer', 5, 0.45)[0].pace).toBeNull()
  })
})
