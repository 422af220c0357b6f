import { lapKindOf, type MistakeCode, type RunEvent, runStateOf } from '@ochote/core'
import { describe, expect, it } from 'vitest'
import { adviceInWords, clockInWords, lapInWords, lapsLeft, runEventInWords } from './run-words.ts'
import { tallyAt } from './tally.ts'

const program = { sighting: 1, coached: 3, coolDown: 1 }

describe('laps of a run', () => {
  it('follow the programme: out, sighting, coached, cool-down, in', () => {
    const kinds = [0, 1, 2, 3, 4, 5, 6].map((lap) => lapKindOf(program, lap))
    expect(kinds).toEqual(['out', 'sighting', 'coached', 'coached', 'coached', 'cool-down', 'in'])
    expect(kinds.map((kind, lap) => lapInWords(program, lap, kind))).toEqual([
      'Out lap',
      'Sighting lap',
      'Lap 1 of 3',
      'Lap 2 of 3',
      'Lap 3 of 3',
      'Cool-down lap',
      'In lap',
    ])
    expect(kinds.map((kind, lap) => lapsLeft(program, lap, kind))).toEqual([3, 3, 2, 1, 0, 0, 0])
  })

  it('follow the hand from where it named them', () => {
    const named = [{ lap: 3, lapKind: 'cool-down' as const }]
    expect([2, 3, 4].map((lap) => lapKindOf(program, lap, named))).toEqual(['coached', 'cool-down', 'in'])
    expect(lapKindOf(program, 4, [{ lap: 3, lapKind: 'in' }])).toBe('in')
  })
})

describe('words of a run', () => {
  it('tell clock and advice', () => {
    expect(clockInWords(125.9)).toBe('2:05')
    expect(adviceInWords({ step: 'down', to: 0.45, reason: { kind: 'two-misses', lap: 2 } })).toBe(
      'Down to sighting: two marks missed on lap 2',
    )
    expect(adviceInWords({ step: 'stay', to: null, reason: null })).toBeNull()
    expect(adviceInWords({ step: 'down', to: 0.6, reason: { kind: 'same-safety-mistake', code: 'brake-late' } })).toBe(
      'Down to building: braked late twice',
    )
  })

  it('name the act and the place', () => {
    const event: RunEvent = { id: '1', runId: 'r', at: '', kind: 'traffic', lap: 2, way: 'let-by', cornerId: 'T3' }
    expect(runEventInWords(event, () => 'Long Heron')).toBe('Let a car by near Long Heron, lap 2')
  })
})

const seen = (id: string, code: MistakeCode, cornerId = 'T1'): RunEvent => ({
  id,
  runId: 'r',
  at: id,
  kind: 'observation',
  cornerId,
  code,
  lap: 1,
  via: 'corner-post',
})

describe('what a run’s events amount to', () => {
  it('leaves out what was taken back, and undoes the newest first', () => {
    const events: RunEvent[] = [
      { id: 's', runId: 'r', at: '0', kind: 'sent-out', program },
      seen('a', 'brake-late'),
      { id: 'h', runId: 'r', at: '2', kind: 'held-well', cornerId: 'T1', lap: 2 },
    ]
    expect(runStateOf(events).lastUndoable?.id).toBe('h')
    const undone = runStateOf([...events, { id: 'u', runId: 'r', at: '3', kind: 'undo', undoes: 'h' }])
    expect(undone.lastUndoable?.id).toBe('a')
    expect(undone.heldWell).toEqual([])
    expect(undone.kindOf(1)).toBe('sighting')
    // What began the run is not undone by the touch that takes back what was said of driving.
    expect(runStateOf(events.slice(0, 1)).lastUndoable).toBeNull()
  })
})

describe('the tally of a corner', () => {
  const run = (studentId: string, events: RunEvent[]) => ({ run: { studentId } as never, state: runStateOf(events), carNumber: null })

  it('says what most of them get wrong, counting students and not touches', () => {
    const runs = [
      run('a', [seen('1', 'turn-in-early'), seen('2', 'turn-in-early')]),
      run('b', [seen('3', 'turn-in-early'), seen('4', 'brake-late')]),
      run('c', [seen('5', 'turn-in-early', 'T1'), seen('6', 'tense', 'T9')]),
      run('d', [{ id: '7', runId: 'r', at: '', kind: 'held-well', cornerId: 'T1', lap: 1, via: 'corner-post' }]),
    ]
    const tally = tallyAt(runs, [], 'T1')
    expect(tally).toMatchObject({ passes: 6, held: 1, students: 4 })
    expect(tally.mistakes[0]).toEqual({ code: 'turn-in-early', count: 4, students: 3, most: true })
    expect(tally.mistakes[1]).toEqual({ code: 'brake-late', count: 1, students: 1, most: false })
  })

  it('counts the post’s own touches alone, and cars without a run by their number', () => {
    const fromCar = { ...seen('1', 'tense'), via: 'ride-along' } as RunEvent
    const car = { id: 'c', dayId: 'd', at: '', kind: 'car-seen', carNumber: '9', cornerId: 'T1', code: 'tense' } as const
    const tally = tallyAt([run('a', [fromCar]), run('b', [fromCar, seen('2', 'tense')])], [car], 'T1')
    expect(tally).toMatchObject({ passes: 2, students: 2 })
    expect(tally.mistakes[0]).toMatchObject({ code: 'tense', count: 2, students: 2 })
  })

  it('does not call two of two a group', () => {
    expect(tallyAt([run('a', [seen('1', 'tense')]), run('b', [seen('2', 'tense')])], [], 'T1').mistakes[0].most).toBe(false)
  })
})
